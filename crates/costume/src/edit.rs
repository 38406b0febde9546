//! Every change a designer can make, as one value each. Points are in the piece's own frame; on a twin they are in the
//! twin's frame, and change the one drawing of both.

use crate::{
    BlockId, BodyChoice, Closure, Costume, CutPlan, Ease, FabricId, Fineness, Finish, FreeTape, KeptPose, LineId, Mark, MarkId, NodeId,
    NodeKind, Note, NoteId, PaintKind, PaintUse, PathId, PieceId, Placement, Point, Print, PrintPlace, Purpose, Raster, Run, SeamId,
    SeamMake, TapeId, Underlay, UnderlayId,
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
    /// A new node on a line, at a share of its length.
    On {
        line: LineId,
        at: f64,
    },
}

/// A place on the outline or on a path: a node that is there, or a share of the length of a line.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Spot {
    Node(NodeId),
    On { line: LineId, at: f64 },
}

/// A shape of exact size, mm and degrees, about its middle.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Basic {
    Rectangle {
        width: f64,
        height: f64,
    },
    Ellipse {
        width: f64,
        height: f64,
    },
    /// Between two radii over an angle: a disc, a ring, a half or quarter circle.
    Sector {
        outer: f64,
        inner: f64,
        degrees: f64,
    },
}

/// How pieces are lined up by the boxes around them.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Arrangement {
    Left,
    Centre,
    Right,
    Top,
    Middle,
    Bottom,
    /// Even gaps from side to side.
    SpreadAcross,
    /// Even gaps from below to above.
    SpreadUp,
}

/// How a piece is spread along a line across it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum SpreadBy {
    /// By the same amount all along.
    Parallel,
    /// About the second end; the first opens by the amount.
    Hinge,
}

/// How a pleat is laid.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Pleat {
    /// All to one side.
    Knife,
    /// Two that turn away from each other.
    Box,
    /// Two that meet.
    Inverted,
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
    /// Room that the garment should have, from and to in mm by the key of a girth, in the place of what was wanted before.
    WantEase {
        ranges: BTreeMap<String, [f64; 2]>,
    },
    /// Pins a note to a piece; its id is given anew.
    PinNote {
        note: Note,
    },
    ChangeNote {
        note: Note,
    },
    TakeNoteOff {
        note: NoteId,
    },
    /// Lays a picture under the paper; its id is given anew.
    LayUnderlay {
        underlay: Box<Underlay>,
    },
    TakeUnderlay {
        underlay: UnderlayId,
    },
    /// How far a picture is faded (0 to 1), and whether it is held where it lies.
    ShowUnderlay {
        underlay: UnderlayId,
        fade: f64,
        locked: bool,
    },
    MoveUnderlay {
        underlay: UnderlayId,
        /// mm.
        by: Point,
    },
    /// About its middle, degrees counter-clockwise.
    TurnUnderlay {
        underlay: UnderlayId,
        by: f64,
    },
    /// To so many of its pixels per inch, about its middle.
    SetUnderlayDpi {
        underlay: UnderlayId,
        dpi: f64,
    },
    /// Two places under it (mm on the table) are so far apart in truth; the first stays where it is.
    ScaleUnderlay {
        underlay: UnderlayId,
        from: Point,
        to: Point,
        length: f64,
    },
    /// Four places under it (mm on the table, one after the other) are the corners of a rectangle, its first side so wide
    /// and its second so high; the rectangle keeps its middle and comes to lie straight.
    StraightenUnderlay {
        underlay: UnderlayId,
        corners: [Point; 4],
        width: f64,
        height: f64,
    },
    /// A new piece around the given points (either way round).
    AddPiece {
        name: String,
        at: Point,
        points: Vec<LoopPoint>,
        /// The line after this point is the fold, and the piece its half.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[ts(optional)]
        fold: Option<u32>,
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
    /// Pulls the point of a line at the curve parameter `at` to a place.
    BendLine {
        piece: PieceId,
        line: LineId,
        at: f64,
        to: Point,
    },
    /// The named end moves, the shape of the line stays.
    SetLength {
        piece: PieceId,
        line: LineId,
        length: f64,
        moves: LineEnd,
    },
    /// Bows a line outwards until it is longer by this amount; its ends stay.
    AddEase {
        piece: PieceId,
        line: LineId,
        amount: f64,
    },
    /// Turns a line until its chord has this angle from the x axis of the piece.
    SetAngle {
        piece: PieceId,
        line: LineId,
        degrees: f64,
        moves: LineEnd,
    },
    /// Brings one end level with the other, or plumb to it.
    LevelLine {
        piece: PieceId,
        line: LineId,
        plumb: bool,
        moves: LineEnd,
    },
    RoundCorner {
        piece: PieceId,
        node: NodeId,
        radius: f64,
    },
    /// Cuts a corner off at this length along both lines.
    ChamferCorner {
        piece: PieceId,
        node: NodeId,
        length: f64,
    },
    /// Parts a line into equal lengths.
    DivideLine {
        piece: PieceId,
        line: LineId,
        parts: u8,
    },
    /// Moves nodes together; others within `reach` mm follow the less, the farther they are.
    MoveNodes {
        piece: PieceId,
        nodes: Vec<NodeId>,
        by: Point,
        #[serde(default)]
        #[ts(as = "Option<f64>", optional)]
        reach: f64,
    },
    /// Puts smooth curves through points (within mm of all of them) in the place of a line; its ends stay.
    RedrawLine {
        piece: PieceId,
        line: LineId,
        points: Vec<Point>,
        within: f64,
    },
    /// A new piece around a closed stroke of the hand.
    AddFreehand {
        name: String,
        at: Point,
        points: Vec<Point>,
        within: f64,
    },
    /// Pieces drafted by a recipe; what `measures` lacks is filled in from the costume's body where that is known.
    AddBlock {
        recipe: String,
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
        values: BTreeMap<String, f64>,
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
        measures: BTreeMap<String, f64>,
        at: Point,
    },
    /// Drafts a block anew.
    ChangeBlock {
        block: BlockId,
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
        values: BTreeMap<String, f64>,
        #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
        #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
        measures: BTreeMap<String, f64>,
    },
    /// The pieces of a block follow the body no longer.
    DetachBlock {
        block: BlockId,
    },
    /// A new piece of a basic shape.
    AddBasic {
        name: String,
        at: Point,
        basic: Basic,
    },
    /// Turns a piece over, from left to right.
    MirrorPiece {
        piece: PieceId,
    },
    /// By these factors about its middle.
    ScalePiece {
        piece: PieceId,
        x: f64,
        y: f64,
    },
    Arrange {
        pieces: Vec<PieceId>,
        how: Arrangement,
    },
    /// Puts a piece at another place in the order in which they lie.
    OrderPiece {
        piece: PieceId,
        to: usize,
    },
    LockPieces {
        pieces: Vec<PieceId>,
        locked: bool,
    },
    /// Makes one group of pieces, or takes them out of theirs.
    GroupPieces {
        pieces: Vec<PieceId>,
        together: bool,
    },
    /// Puts in the pieces of another document with their seams and fabrics, moved on the table.
    Paste {
        clip: Box<Costume>,
        by: Point,
    },
    /// Parts a piece along a way from one spot of its outline to another; both parts keep their seams, and the cut is sewn
    /// if asked.
    CutPiece {
        piece: PieceId,
        from: Spot,
        to: Spot,
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[ts(as = "Option<Vec<Point>>", optional)]
        through: Vec<Point>,
        sew: bool,
    },
    /// Makes one piece of the two that a seam joins.
    MergePieces {
        seam: SeamId,
    },
    /// Draws the half that a fold adds, so that both sides may differ.
    OpenFold {
        piece: PieceId,
    },
    /// Keeps one half of a piece that is alike on both sides of the way between two corners, on the fold along it.
    CloseFold {
        piece: PieceId,
        from: NodeId,
        to: NodeId,
    },
    /// A dart with its mouth on an edge, at a share of its length, square to it.
    AddDart {
        piece: PieceId,
        line: LineId,
        at: f64,
        width: f64,
        depth: f64,
    },
    /// A dart with two points within a piece; `up` and `down` are from its widest place.
    AddInsideDart {
        piece: PieceId,
        at: Point,
        width: f64,
        up: f64,
        down: f64,
        #[serde(default)]
        #[ts(as = "Option<f64>", optional)]
        degrees: f64,
    },
    /// Closes a share of a dart and opens it as much at another spot of the outline: as a dart, or as an edge to be gathered.
    TurnDart {
        piece: PieceId,
        /// The point of the dart.
        tip: NodeId,
        to: Spot,
        share: f64,
        gathers: bool,
    },
    /// Lets cloth in along lines across a piece.
    Spread {
        piece: PieceId,
        cuts: Vec<[Spot; 2]>,
        amount: f64,
        by: SpreadBy,
    },
    /// Lets pleats in along a line across a piece, and on the right of it.
    AddPleats {
        piece: PieceId,
        from: Spot,
        to: Spot,
        count: u8,
        /// Of each layer that lies beneath.
        depth: f64,
        /// From one pleat to the next.
        spacing: f64,
        pleat: Pleat,
    },
    /// A path parallel to a line at a distance into the cloth, from outline to outline.
    AddParallel {
        piece: PieceId,
        line: LineId,
        distance: f64,
        purpose: Purpose,
    },
    /// Draws one end of a path straight on to the outline.
    ExtendInside {
        piece: PieceId,
        path: PathId,
        end: LineEnd,
    },
    /// A notch on both sides of a seam, at the same length (mm) from where it begins.
    AddSeamNotch {
        seam: SeamId,
        at: f64,
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        #[ts(as = "Option<bool>", optional)]
        double: bool,
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
    /// Sews two sides of any stretches; the way in which each is walked is found from how they lie.
    SewTogether {
        a: Vec<Run>,
        b: Vec<Run>,
    },
    /// Sews equal parts of one side to the stretches of the other, one seam for each.
    SewParts {
        a: Vec<Run>,
        b: Vec<Run>,
    },
    /// Puts other sides in the place of those of a seam, in the directions given.
    SewAnew {
        seam: SeamId,
        a: Vec<Run>,
        b: Vec<Run>,
    },
    /// How a seam is made: pressed, taped, lapped, laced, stitched.
    MakeSeam {
        seam: SeamId,
        make: SeamMake,
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
    /// Paints on a map of a piece, which is made when there is none.
    Paint {
        piece: PieceId,
        kind: PaintKind,
        stroke: Stroke,
    },
    /// What the maps of a kind on a piece mean.
    SetPaint {
        piece: PieceId,
        purpose: PaintUse,
    },
    RemovePaint {
        piece: PieceId,
        kind: PaintKind,
    },
    SetCut {
        piece: PieceId,
        cut: CutPlan,
    },
    /// Where the print of its fabric begins on a piece; none, at the origin of its frame.
    PlacePrint {
        piece: PieceId,
        place: Option<PrintPlace>,
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

/// What is painted in one go; values from 0 (nothing) to 1 (in full). On a half cut on the fold it is painted on both
/// halves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(tag = "with", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Stroke {
    /// A round brush drawn along a way: to the value, in full within its middle, less over its soft share towards the rim.
    Brush { points: Vec<Point>, radius: f64, soft: f64, value: f64 },
    /// The whole piece.
    Fill { value: f64 },
    /// From one value to the other along a straight way; even beyond its ends.
    Gradient { from: Point, to: Point, values: [f64; 2] },
    /// What is painted is evened out over a distance, mm.
    Smooth { radius: f64 },
    /// A grey picture over the drawn piece from edge to edge, white in full: a PNG in base64.
    Picture { image: Raster },
}

impl Stroke {
    /// With all points in another frame.
    pub(crate) fn mapped(&self, image: impl Fn(Point) -> Point) -> Self {
        match self {
            Self::Brush { points, radius, soft, value } => {
                Self::Brush { points: points.iter().map(|p| image(*p)).collect(), radius: *radius, soft: *soft, value: *value }
            }
            Self::Gradient { from, to, values } => Self::Gradient { from: image(*from), to: image(*to), values: *values },
            other => other.clone(),
        }
    }
}

fn end() -> f64 {
    1.0
}
