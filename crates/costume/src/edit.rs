//! Every change a designer can make, as one value each. Points are in the piece's own frame; on a twin they are in the
//! twin's frame, and change the one drawing of both.

use crate::{
    BodyChoice, Closure, CutPlan, Ease, FabricId, Fineness, Finish, FreeTape, KeptPose, LineId, Mark, MarkId, NodeId, NodeKind, PathId,
    PieceId, Placement, Point, Print, Purpose, Run, SeamId, TapeId,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A line of a piece.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct LineRef {
    /// The piece it is on.
    pub piece: PieceId,
    /// A line of that piece.
    pub line: LineId,
}

/// Which control point of a curved line: that beside its beginning, or that beside its end.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum LineEnd {
    From,
    To,
}

/// A point of a new loop, with the control points of the line to the next one unless it is straight.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct LoopPoint {
    /// mm in the frame of the piece.
    pub x: f64,
    /// mm in the frame of the piece.
    pub y: f64,
    /// Control points of the line that follows; none for a straight one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub handles: Option<[Point; 2]>,
}

impl LoopPoint {
    /// Where it is.
    pub fn at(&self) -> Point {
        Point::new(self.x, self.y)
    }
}

impl From<Point> for LoopPoint {
    fn from(p: Point) -> Self {
        Self { x: p.x, y: p.y, handles: None }
    }
}

/// A point of a new path inside: a node that is there, or a new one.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Anchor {
    Node(NodeId),
    At(Point),
}

/// One step of the designer; [`crate::apply`] is the only way to carry it out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edit {
    /// Several edits as one step: all of them are done, or none.
    Batch {
        edits: Vec<Edit>,
    },
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
    /// A new piece around the given points (either way round).
    AddPiece {
        name: String,
        at: Point,
        points: Vec<LoopPoint>,
    },
    RemovePiece {
        piece: PieceId,
    },
    CopyPiece {
        piece: PieceId,
        at: Point,
    },
    /// A mirror image that follows every edit of its partner.
    AddTwin {
        piece: PieceId,
        at: Point,
    },
    /// Gives a twin a drawing of its own.
    SeparateTwin {
        piece: PieceId,
    },
    RenamePiece {
        piece: PieceId,
        name: String,
    },
    MovePiece {
        piece: PieceId,
        at: Point,
    },
    TurnPiece {
        piece: PieceId,
        angle: f64,
    },
    /// The control points beside the node go along.
    MoveNode {
        piece: PieceId,
        node: NodeId,
        to: Point,
    },
    SetNodeKind {
        piece: PieceId,
        node: NodeId,
        kind: NodeKind,
    },
    MoveHandle {
        piece: PieceId,
        line: LineId,
        end: LineEnd,
        to: Point,
    },
    /// A new node at the fraction (of the curve parameter, or of the length) of a line, without changing its shape.
    SplitLine {
        piece: PieceId,
        line: LineId,
        fraction: f64,
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        #[ts(as = "Option<bool>", optional)]
        by_length: bool,
    },
    /// Joins the two lines at a node into one.
    RemoveNode {
        piece: PieceId,
        node: NodeId,
    },
    CurveLine {
        piece: PieceId,
        line: LineId,
    },
    StraightenLine {
        piece: PieceId,
        line: LineId,
    },
    AddCutout {
        piece: PieceId,
        points: Vec<LoopPoint>,
    },
    /// The cut-out that a line belongs to.
    RemoveCutout {
        piece: PieceId,
        line: LineId,
    },
    AddInside {
        piece: PieceId,
        points: Vec<Anchor>,
        purpose: Purpose,
    },
    SetPurpose {
        piece: PieceId,
        path: PathId,
        purpose: Purpose,
    },
    RemoveInside {
        piece: PieceId,
        path: PathId,
    },
    AddNotch {
        piece: PieceId,
        line: LineId,
        at: f64,
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        #[ts(as = "Option<bool>", optional)]
        double: bool,
    },
    AddDrillHole {
        piece: PieceId,
        at: Point,
    },
    AddText {
        piece: PieceId,
        at: Point,
        text: String,
    },
    /// Puts another mark in the place of the one with its id.
    ChangeMark {
        piece: PieceId,
        mark: Mark,
    },
    RemoveMark {
        piece: PieceId,
        mark: MarkId,
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
    /// Sews two whole lines; the direction is chosen so that the seam does not twist.
    Join {
        a: LineRef,
        b: LineRef,
    },
    /// Sews two sides of any stretches, in the directions given.
    Sew {
        a: Vec<Run>,
        b: Vec<Run>,
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
    /// Makes a seam one that can be opened, or one for good.
    CloseSeam {
        seam: SeamId,
        closure: Option<Closure>,
    },
    EaseSeam {
        seam: SeamId,
        ease: Ease,
    },
    /// Lays something along a stretch of a line (the whole line unless it says otherwise), or takes off what holds it.
    FinishLine {
        piece: PieceId,
        line: LineId,
        #[serde(default)]
        #[ts(as = "Option<f64>", optional)]
        from: f64,
        #[serde(default = "end")]
        #[ts(as = "Option<f64>", optional)]
        to: f64,
        finish: Option<Finish>,
    },
    SetCut {
        piece: PieceId,
        cut: CutPlan,
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

fn end() -> f64 {
    1.0
}
