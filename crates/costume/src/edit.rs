//! Every change a designer can make, as one value each. Points of corners and handles are in the piece's own frame.

use crate::{BodyChoice, CornerId, EdgeFinish, FabricId, Fineness, FreeTape, KeptPose, PieceId, Placement, Point, Print, SeamId, TapeId};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// An edge: the one that leaves `edge` on `piece`.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct EdgeRef {
    pub piece: PieceId,
    pub edge: CornerId,
}

/// Which handle of a curved edge.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Handle {
    Leave,
    Arrive,
}

/// One step of the designer; [`crate::apply`] is the only way to carry it out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edit {
    RenameCostume {
        name: String,
    },
    ChooseBody {
        body: BodyChoice,
    },
    /// Keeps a pose under its name; one of the same name is replaced.
    KeepPose {
        pose: KeptPose,
    },
    ForgetPose {
        name: String,
    },
    /// Lays a tape over the body; its id is given anew.
    LayTape {
        tape: FreeTape,
    },
    ChangeTape {
        tape: FreeTape,
    },
    TakeTapeOff {
        tape: TapeId,
    },
    ChooseFineness {
        fineness: Fineness,
    },
    /// A new piece through the given points (either way round), straight edges.
    AddPiece {
        name: String,
        at: Point,
        points: Vec<Point>,
    },
    RemovePiece {
        piece: PieceId,
    },
    CopyPiece {
        piece: PieceId,
        at: Point,
    },
    RenamePiece {
        piece: PieceId,
        name: String,
    },
    MovePiece {
        piece: PieceId,
        at: Point,
    },
    MoveCorner {
        piece: PieceId,
        corner: CornerId,
        to: Point,
    },
    MoveHandle {
        piece: PieceId,
        edge: CornerId,
        handle: Handle,
        to: Point,
    },
    /// Adds a corner at the fraction (of the curve parameter, or of the length) of an edge without changing its shape.
    AddCorner {
        piece: PieceId,
        edge: CornerId,
        fraction: f64,
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        #[ts(as = "Option<bool>", optional)]
        by_length: bool,
    },
    RemoveCorner {
        piece: PieceId,
        corner: CornerId,
    },
    CurveEdge {
        piece: PieceId,
        edge: CornerId,
    },
    StraightenEdge {
        piece: PieceId,
        edge: CornerId,
    },
    SetGrain {
        piece: PieceId,
        degrees: f64,
    },
    SetFabric {
        piece: PieceId,
        fabric: FabricId,
    },
    AddFabric {
        name: String,
        swatch: String,
        colour: String,
    },
    ChangeFabric {
        fabric: FabricId,
        name: String,
        swatch: String,
        colour: String,
        print: Option<Print>,
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
        own: BTreeMap<String, f64>,
    },
    /// Sews two whole edges; the direction is chosen so that the seam does not twist.
    Join {
        a: EdgeRef,
        b: EdgeRef,
    },
    FlipSeam {
        seam: SeamId,
    },
    Unpick {
        seam: SeamId,
    },
    /// Presses a seam to an angle, or leaves it soft.
    FoldSeam {
        seam: SeamId,
        fold: Option<f64>,
    },
    /// Sews a tape, an elastic or a stay to an edge, or takes it off.
    FinishEdge {
        piece: PieceId,
        edge: CornerId,
        finish: Option<EdgeFinish>,
    },
    /// Presses a piece along the line between two corners to an angle in degrees, or takes the fold out.
    FoldPiece {
        piece: PieceId,
        from: CornerId,
        to: CornerId,
        angle: Option<f64>,
    },
    SetWear {
        piece: PieceId,
        wear: u8,
    },
    Place {
        piece: PieceId,
        placement: Option<Placement>,
    },
    Park {
        piece: PieceId,
        parked: bool,
    },
}
