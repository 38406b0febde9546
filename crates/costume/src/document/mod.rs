//! The values a costume consists of, as they stand in the file and in the database: format 2.

mod block;
mod body;
mod drawing;
mod fabric;
mod ids;
pub mod limits;
mod note;
mod paint;
mod piece;
mod point;
mod seam;
mod underlay;

pub use block::BlockUse;
pub use body::{BodyChoice, Contact, FreeTape, KeptPose, PartContact, RoughSpot, StandIn, StandInShape};
pub use drawing::{AllowanceCorner, Along, BandLevel, Drawing, Finish, InsidePath, Line, Mark, Node, NodeKind, Purpose};
pub use fabric::{Fabric, Print, PrintPlace};
pub use ids::{AlongId, BlockId, FabricId, LineId, MarkId, NodeId, NoteId, PathId, PieceId, SeamId, TapeId, UnderlayId};
pub use note::Note;
pub use paint::{Paint, PaintKind, PaintUse, Raster, SIDE, SkinHold};
pub use piece::{CutPlan, Piece, Placement, Shape};
pub use point::Point;
pub use seam::{Closure, ClosureKind, Ease, Lacing, Run, Seam, SeamMake, SeamTape, TopStitch};
pub use underlay::Underlay;

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// Version of the document format that this build writes; older ones are read and migrated.
pub const FORMAT: u32 = 2;

/// The whole document.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Costume {
    /// [`FORMAT`] in every document of this build.
    pub format: u32,
    /// As it hangs on the rail.
    pub name: String,
    /// Whom it is made for, and in which pose.
    pub body: BodyChoice,
    /// How fine the cloth is meshed.
    pub fineness: Fineness,
    /// What its pieces are cut from.
    pub fabrics: Vec<Fabric>,
    /// In the order in which they lie on the table, the uppermost last.
    pub pieces: Vec<Piece>,
    /// What is sewn to what.
    pub seams: Vec<Seam>,
    /// Pieces drafted from body measures, as long as they follow them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<BlockUse>>", optional)]
    pub blocks: Vec<BlockUse>,
    /// Poses kept by name.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<KeptPose>>", optional)]
    pub poses: Vec<KeptPose>,
    /// Tapes laid over the body by hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<FreeTape>>", optional)]
    pub tapes: Vec<FreeTape>,
    /// Room that the garment should have at a girth, from and to in mm, by the key of the measure.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, [f64; 2]>>", optional)]
    pub wanted_ease: BTreeMap<String, [f64; 2]>,
    /// What a fitting left to do, pinned to pieces.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Note>>", optional)]
    pub notes: Vec<Note>,
    /// Pictures of patterns under the paper, to be traced; never delivered.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Underlay>>", optional)]
    pub underlays: Vec<Underlay>,
    /// The next unused id; ids are never used twice.
    pub next_id: u32,
}

/// Mesh fineness of the drape.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Fineness {
    Toile,
    Sample,
    Final,
    /// An edge length in mm.
    Custom(f64),
}

impl Fineness {
    /// Target edge length of the triangles in mm.
    pub fn edge_mm(self) -> f64 {
        match self {
            Self::Toile => 20.0,
            Self::Sample => 10.0,
            Self::Final => 5.0,
            Self::Custom(mm) => mm,
        }
    }
}

impl Costume {
    /// An empty costume on Woman 38 with one calico.
    pub fn new(name: &str) -> Self {
        Self {
            format: FORMAT,
            name: name.to_owned(),
            body: BodyChoice::size("woman-38"),
            fineness: Fineness::Toile,
            fabrics: vec![Fabric {
                id: FabricId(1),
                name: "Calico".into(),
                swatch: "calico".into(),
                overrides: BTreeMap::new(),
                colour: "#e9dfc8".into(),
                print: None,
            }],
            pieces: Vec::new(),
            seams: Vec::new(),
            blocks: Vec::new(),
            poses: Vec::new(),
            tapes: Vec::new(),
            wanted_ease: BTreeMap::new(),
            notes: Vec::new(),
            underlays: Vec::new(),
            next_id: 2,
        }
    }
    /// The piece with this id, if there is one.
    pub fn piece(&self, id: PieceId) -> Option<&Piece> {
        self.pieces.iter().find(|p| p.id == id)
    }
    /// The seam with this id, if there is one.
    pub fn seam(&self, id: SeamId) -> Option<&Seam> {
        self.seams.iter().find(|s| s.id == id)
    }
    /// The fabric with this id, if there is one.
    pub fn fabric(&self, id: FabricId) -> Option<&Fabric> {
        self.fabrics.iter().find(|f| f.id == id)
    }
    /// The name of a piece, for messages.
    pub fn piece_name(&self, id: PieceId) -> String {
        self.piece(id).map_or_else(|| format!("piece {}", id.0), |p| p.name.clone())
    }
    /// The piece whose drawing this one shows: itself, or its partner.
    pub fn owner(&self, id: PieceId) -> PieceId {
        self.piece(id).and_then(Piece::twin_of).unwrap_or(id)
    }
    /// The drawing that a piece shows: its own, or that of the piece whose twin it is; and whether it is mirrored.
    pub fn drawing(&self, id: PieceId) -> Option<(&Drawing, bool)> {
        let piece = self.piece(id)?;
        match piece.shape {
            Shape::Drawn(ref drawing) => Some((drawing, false)),
            Shape::Twin { of } => Some((self.piece(of)?.drawing()?, true)),
        }
    }
    /// "Front panel, edge 3".
    pub fn line_name(&self, piece: PieceId, line: LineId) -> String {
        let line = self.drawing(piece).map_or_else(|| "missing edge".into(), |(drawing, _)| drawing.line_name(line));
        format!("{}, {line}", self.piece_name(piece))
    }
}
