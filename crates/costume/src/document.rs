//! The values a costume consists of, as they stand in the file and in the database.

use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// Version of the document format that this build reads and writes.
pub const FORMAT: u32 = 1;

/// Explicit limits, so that no document can exhaust the machine.
pub mod limits {
    /// Largest costume file in bytes.
    pub const FILE_BYTES: usize = 16 << 20;
    /// Most pieces in a costume.
    pub const PIECES: usize = 200;
    /// Most corners on one piece.
    pub const CORNERS: usize = 400;
    /// Most own measures of a body.
    pub const MEASURES: usize = 64;
    /// Most kept poses and laid tapes of a costume.
    pub const POSES: usize = 100;
    pub const TAPES: usize = 100;
    /// Most points of a tape.
    pub const TAPE_POINTS: usize = 64;
    /// Most bones that a pose names, and stand-ins of a body.
    pub const BONES: usize = 400;
    pub const SHAPES: usize = 40;
    /// Most seams in a costume, and most edges on one side of a seam.
    pub const SEAMS: usize = 1000;
    pub const RUNS: usize = 100;
    /// Most fabrics in a costume.
    pub const FABRICS: usize = 200;
    /// Largest id; far more than a lifetime of edits uses.
    pub const IDS: u32 = 1 << 30;
    /// Angles of grain and placement, degrees.
    pub const ANGLE: std::ops::RangeInclusive<f64> = -3600.0..=3600.0;
    /// Longest name in characters.
    pub const NAME: usize = 80;
    /// Table coordinates stay within this distance of the origin (mm).
    pub const TABLE: f64 = 20_000.0;
    /// Shortest edge (mm).
    pub const EDGE: f64 = 1.0;
    /// Wear order of a piece.
    pub const WEAR: std::ops::RangeInclusive<u8> = 1..=9;
    /// Length of an elastic over its edge, percent.
    pub const ELASTIC: std::ops::RangeInclusive<f64> = 20.0..=100.0;
    /// Most fold lines on one piece.
    pub const FOLD_LINES: usize = 60;
    /// Pressed angle of a seam or a fold line, degrees.
    pub const FOLD: std::ops::RangeInclusive<f64> = -170.0..=170.0;
    /// Mesh edge lengths that may be asked for (mm).
    pub const FINENESS: std::ops::RangeInclusive<f64> = 4.0..=60.0;
}

/// A point in mm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct Point {
    pub x: f64,
    pub y: f64,
}

impl Point {
    pub const fn new(x: f64, y: f64) -> Self {
        Self { x, y }
    }
    pub fn distance(self, other: Self) -> f64 {
        (self.x - other.x).hypot(self.y - other.y)
    }
    pub fn lerp(self, other: Self, t: f64) -> Self {
        Self::new(self.x + (other.x - self.x) * t, self.y + (other.y - self.y) * t)
    }
}

macro_rules! id {
    ($(#[$doc:meta])* $name:ident) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, TS)]
        #[serde(transparent)]
        pub struct $name(pub u32);
    };
}
id!(
    /// A piece, stable for the life of the costume.
    PieceId
);
id!(
    /// A corner; it also names the edge that leaves it.
    CornerId
);
id!(
    /// A seam.
    SeamId
);
id!(
    /// A tape laid over the body.
    TapeId
);
id!(
    /// A fabric of this costume.
    FabricId
);

/// The whole document.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Costume {
    pub format: u32,
    pub name: String,
    pub body: BodyChoice,
    pub fineness: Fineness,
    pub fabrics: Vec<Fabric>,
    pub pieces: Vec<Piece>,
    pub seams: Vec<Seam>,
    /// Poses kept by name.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<KeptPose>>", optional)]
    pub poses: Vec<KeptPose>,
    /// Tapes laid over the body by hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<FreeTape>>", optional)]
    pub tapes: Vec<FreeTape>,
    /// The next unused id; ids are never used twice.
    pub next_id: u32,
}

/// Which body the costume hangs on: a size, such as `woman-38`, with the measures that differ from it, or an imported
/// figure; in which pose, and what of it the cloth meets.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct BodyChoice {
    pub preset: String,
    /// mm by the key of a measure, such as `waist`.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub set: BTreeMap<String, f64>,
    /// Content hash of an imported figure, which then stands in place of the size.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub figure: Option<String>,
    /// Bend, side and turn of the joints that leave the neutral pose, degrees by bone.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, [f64; 3]>>", optional)]
    pub pose: BTreeMap<String, [f64; 3]>,
    #[serde(default, skip_serializing_if = "Contact::is_plain")]
    #[ts(as = "Option<Contact>", optional)]
    pub contact: Contact,
}

/// A named pose, degrees by bone.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct KeptPose {
    pub name: String,
    pub bones: BTreeMap<String, [f64; 3]>,
}

/// A tape over the body: points in mm on the neutral pose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct FreeTape {
    pub id: TapeId,
    pub name: String,
    pub points: Vec<[f64; 3]>,
    /// Lies on the surface; otherwise it runs straight from point to point.
    pub follows: bool,
    /// Returns to its first point.
    #[serde(default)]
    pub closed: bool,
}

/// What of the body the cloth meets.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Contact {
    /// By part, such as `hand-left`; parts that are not named meet the cloth as usual.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, PartContact>>", optional)]
    pub parts: BTreeMap<String, PartContact>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<StandIn>>", optional)]
    pub shapes: Vec<StandIn>,
}

impl Contact {
    pub fn is_plain(&self) -> bool {
        self.parts.is_empty() && self.shapes.is_empty()
    }
}

/// How one part of the body meets the cloth.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct PartContact {
    /// Left out: the cloth passes through.
    pub left_out: bool,
    /// Added distance between skin and cloth, mm.
    pub offset: f64,
    /// Scales the fabric's friction.
    pub friction: f64,
}

/// Shape of a stand-in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum StandInShape {
    Capsule,
    Ellipsoid,
    Box,
}

/// A simple shape that the cloth meets, carried by a bone.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct StandIn {
    pub shape: StandInShape,
    /// Empty: it stands still.
    pub bone: String,
    /// Middle in the neutral pose, mm.
    pub at: [f64; 3],
    /// Degrees about x, y and z, in this order.
    #[serde(default)]
    pub turn: [f64; 3],
    /// Half sizes along its own x, y and z, mm; a capsule lies along y and its ends are round.
    pub size: [f64; 3],
}

impl BodyChoice {
    /// A size as it is.
    pub fn size(preset: &str) -> Self {
        Self { preset: preset.to_owned(), set: BTreeMap::new(), figure: None, pose: BTreeMap::new(), contact: Contact::default() }
    }

    /// What the shape of the figure depends on: the choice in the neutral pose with plain contact.
    pub fn shape(&self) -> Self {
        Self { pose: BTreeMap::new(), contact: Contact::default(), ..self.clone() }
    }
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

/// A cloth of the costume: a swatch of the swatch book with a colour and an optional print.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Fabric {
    pub id: FabricId,
    pub name: String,
    /// Key in the swatch book, see [`crate::swatch`].
    pub swatch: String,
    /// `#rrggbb`.
    pub colour: String,
    #[serde(default)]
    pub print: Option<Print>,
    /// Values that differ from the swatch, by key such as `bend-warp`, in the swatch book's units.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub own: BTreeMap<String, f64>,
}

/// A repeating print that lies along the grain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Print {
    /// Key of the motif, such as `salt-crystals`.
    pub motif: String,
    /// Side of the square repeat in mm.
    pub repeat: f64,
    /// `#rrggbb` of the motif.
    pub colour: String,
}

/// A flat pattern piece. Corner coordinates are in the piece's own frame; `at` is where that frame lies on the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Piece {
    pub id: PieceId,
    pub name: String,
    pub at: Point,
    /// Counter-clockwise, closed; each corner carries the edge to the next one.
    pub corners: Vec<Corner>,
    pub fabric: FabricId,
    /// Direction of the warp, degrees counter-clockwise from the table's x axis (90 = upwards).
    pub grain: f64,
    #[serde(default)]
    pub placement: Option<Placement>,
    /// Left out of the drape for now.
    #[serde(default)]
    pub parked: bool,
    /// Wear order: 1 lies next to the skin, higher ones over it.
    #[serde(default = "next_to_the_skin", skip_serializing_if = "is_next_to_the_skin")]
    #[ts(as = "Option<u8>", optional)]
    pub wear: u8,
    /// Lines along which it is pressed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<FoldLine>>", optional)]
    pub folds: Vec<FoldLine>,
}

/// A straight line from corner to corner along which a piece is pressed to an angle.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct FoldLine {
    pub from: CornerId,
    pub to: CornerId,
    /// Degrees from flat; positive brings the right sides together.
    pub angle: f64,
}

impl FoldLine {
    /// Whether it joins these corners, either way round.
    pub fn joins(&self, a: CornerId, b: CornerId) -> bool {
        (self.from, self.to) == (a, b) || (self.from, self.to) == (b, a)
    }
}

/// A corner and the edge that leaves it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Corner {
    pub id: CornerId,
    pub at: Point,
    /// `None` is a straight edge.
    #[serde(default)]
    pub bow: Option<Bow>,
    /// What is sewn to the edge, if anything.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub finish: Option<EdgeFinish>,
}

/// What holds an edge beside its seam.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum EdgeFinish {
    /// A tape that keeps the edge at its drafted length.
    StayTape,
    /// An elastic of this share of the edge's length, percent.
    Elastic { length: f64 },
    /// Held at its level on the body, as by a waist stay.
    Stay,
}

fn next_to_the_skin() -> u8 {
    1
}

fn is_next_to_the_skin(wear: &u8) -> bool {
    *wear == 1
}

/// The two handles of a cubic edge, in the piece's frame.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Bow {
    pub leave: Point,
    pub arrive: Point,
}

/// Where a piece hangs: a station of the body, and how it sits there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Placement {
    /// Key of the station, such as `chest-front`.
    pub station: String,
    /// Shift of the piece's middle along the wrap (x) and up (y), mm.
    pub shift: Point,
    /// Turn within the surface, degrees counter-clockwise.
    #[serde(default)]
    pub turn: f64,
}

/// Two sides sewn together.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Seam {
    pub id: SeamId,
    /// Letter tag, the same on both sides.
    pub tag: String,
    pub a: Vec<Run>,
    pub b: Vec<Run>,
    /// Pressed to this angle from flat, degrees; positive brings the right sides together. `None` is left soft.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub fold: Option<f64>,
}

/// A stretch of one edge, walked forwards or backwards.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Run {
    pub piece: PieceId,
    pub edge: CornerId,
    #[serde(default)]
    pub backwards: bool,
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
                own: BTreeMap::new(),
                colour: "#e9dfc8".into(),
                print: None,
            }],
            pieces: Vec::new(),
            seams: Vec::new(),
            poses: Vec::new(),
            tapes: Vec::new(),
            next_id: 2,
        }
    }
    pub fn piece(&self, id: PieceId) -> Option<&Piece> {
        self.pieces.iter().find(|p| p.id == id)
    }
    pub fn seam(&self, id: SeamId) -> Option<&Seam> {
        self.seams.iter().find(|s| s.id == id)
    }
    pub fn fabric(&self, id: FabricId) -> Option<&Fabric> {
        self.fabrics.iter().find(|f| f.id == id)
    }
    /// The cloth a piece is cut from, with the fabric's own values; none when it has no such fabric.
    pub fn cloth(&self, piece: &Piece) -> Option<crate::Swatch> {
        self.fabric(piece.fabric)?.cloth()
    }
    /// The name of a piece, for messages.
    pub fn piece_name(&self, id: PieceId) -> String {
        self.piece(id).map_or_else(|| format!("piece {}", id.0), |p| p.name.clone())
    }
}

impl Piece {
    pub fn index(&self, corner: CornerId) -> Option<usize> {
        self.corners.iter().position(|c| c.id == corner)
    }
    /// The corner at the far end of the edge that leaves corner `i`.
    pub fn next(&self, i: usize) -> &Corner {
        &self.corners[(i + 1) % self.corners.len()]
    }
    pub fn previous_index(&self, i: usize) -> usize {
        (i + self.corners.len() - 1) % self.corners.len()
    }
}

impl Seam {
    pub fn runs(&self) -> impl Iterator<Item = &Run> {
        self.a.iter().chain(&self.b)
    }
}
