//! What can be refused about a document, with the ids and numbers that it is about; no words.

use crate::{LineId, PieceId, Purpose};
use serde::Serialize;
use ts_rs::TS;

/// What is refused; lengths in mm, angles in degrees.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum RefusalKind {
    /// Told by something outside the document: a body, a file, the database.
    Elsewhere,

    /// What an edit names is not, or no longer, in the costume.
    Gone {
        what: Thing,
    },
    /// A number outside of its limits, or no number.
    OutOfRange {
        of: Quantity,
        value: f64,
        low: f64,
        high: f64,
    },
    /// More of something than is allowed.
    TooMany {
        of: Counted,
        count: usize,
        most: usize,
    },
    /// A name that is empty, too long or holds control characters.
    Name {
        longest: usize,
    },
    /// The text of a mark, likewise.
    Text {
        longest: usize,
    },
    /// Two poses of one name.
    TwoPoses,

    /// A straight line has no handles to move.
    Straight,
    /// The line is the fold that its piece is cut on.
    OnTheFold,
    /// The corner is an end of the fold that its piece is cut on.
    EndOfFold,
    /// The outline or a cut-out would have fewer than three corners.
    TooFewCorners {
        removing: bool,
    },
    /// A line shorter than lines may be.
    NoLength {
        shortest: f64,
    },
    /// No circle of this radius touches both lines at a corner.
    NoRoomToRound {
        radius: f64,
    },
    /// A cut that does not go from one place of the outline to another.
    CutNotAcross,
    /// A seam whose pieces cannot be made one: not two whole sides of two plain pieces.
    NotToMerge,
    /// Edges that do not lie on each other.
    EdgesDiffer {
        most: f64,
    },
    /// A piece that is not cut on the fold.
    NotOnFold,
    /// Halves that are not mirror images.
    HalvesDiffer {
        most: f64,
    },
    /// No dart has its point there.
    NoDart,
    /// No dart can have its mouth there.
    DartNowhere,
    /// A dart wider than its line.
    DartTooWide {
        width: f64,
        line: f64,
    },
    /// No room for the next pleat on its edge.
    NoRoomForPleat {
        line: f64,
    },
    /// A recipe that does not exist.
    NoRecipe {
        key: String,
    },
    /// A value that a recipe does not have.
    NoBlockValue {
        key: String,
    },
    /// A measure that the body does not tell.
    NoMeasure {
        key: String,
    },
    /// A block that would have other lines than it has now.
    BlockDiffers,
    /// A piece that is held on the table.
    Locked,
    /// Two lines of the loops of one piece meet where they should not.
    Crosses {
        lines: [LineId; 2],
        spots: [LineSpot; 2],
    },
    /// The outline runs clockwise.
    InsideOut,
    /// A cut-out that is not within the cloth, or within another one.
    CutoutOutside,
    /// A path that leaves the cloth.
    PathOutside {
        purpose: Purpose,
    },
    /// A path that meets itself; `along` when it lies on itself.
    PathOnItself {
        along: bool,
    },
    /// Two paths that the mesh follows cross, or lie on each other.
    PathsMeet {
        other: Purpose,
        along: bool,
    },
    /// A path through too few or too many points.
    PathPoints {
        count: usize,
        most: usize,
    },
    /// A notch that is not on a line of its piece.
    NotchNowhere,
    /// A finish along a stretch that is no stretch of its piece.
    FinishNowhere,
    /// The placement line of a piece that does not exist.
    PlacementOfNothing {
        of: PieceId,
    },
    /// A fold that is no straight line of the outline.
    NoFold,
    /// Lines that do not make closed loops and whole paths.
    BrokenChains,
    /// A piece that refers to what its drawing does not hold.
    BrokenPiece,

    /// A piece cut no times.
    CutNoTimes,
    /// A fabric that the costume does not have.
    NoFabric,
    /// The twin of a piece that is a twin itself.
    TwinOfTwin,
    /// The twin of a piece without a drawing.
    TwinOfUndrawn,
    /// A piece that is no twin.
    NoTwin,
    /// A twin follows its partner onto the fold.
    TwinOnFold,

    /// A swatch that the book does not hold.
    NoSwatch {
        key: String,
    },
    /// A cloth value that does not exist.
    NoClothValue {
        key: String,
    },
    /// A colour that is not one.
    NoColour {
        text: String,
    },

    /// A figure named by something else than a content hash.
    NoHash,
    NoPictureHash,
    /// A stand-in too far from the stand.
    StandInAway,
    /// A tape over too few or too many points.
    TapePoints {
        count: usize,
        most: usize,
    },
    /// A tape with a point too far from the stand.
    TapeAway,
    /// A picture that is held under the paper.
    UnderlayLocked,
    /// Four places that no rectangle, seen from anywhere, has its corners at.
    NoRectangle,
    /// Something laid beyond the table.
    OffTable {
        metres: f64,
    },

    /// A stretch sewn to itself; `whole` when one edge was chosen twice.
    SewnToItself {
        whole: bool,
    },
    /// Two seams of one tag.
    TagTwice,
    /// A seam with nothing on one side.
    EmptySide,
    /// A run along a line that does not exist.
    RunNowhere,
    /// A run beyond the ends of its line.
    RunBeyond,
    /// A run along the fold that its piece is cut on.
    SewsTheFold,
    /// Sides of which one is too many times as long as the other.
    Ratio {
        ratio: f64,
        most: f64,
    },
    /// Stretches that another seam sews together already.
    SewnAlready {
        tag: String,
    },
    /// A seam that would close a loop with half a twist in it.
    HalfTwist,
    /// Equal parts of nothing, or more parts than a seam may have runs.
    NoParts,
    /// A run shorter than lines may be.
    RunTooShort {
        shortest: f64,
    },

    /// A batch within a batch.
    Nested,
    /// A file larger than costumes may be; `made` when an edit would make it so.
    TooLarge {
        bytes: usize,
        most: usize,
        made: bool,
    },
    /// A file that is no costume; what the reader found.
    Unreadable {
        found: String,
    },
    /// A document that cannot be written; what the writer found.
    Unwritten {
        found: String,
    },
    /// A file of a format that this build does not know.
    Format {
        found: u32,
        newest: u32,
    },
    /// An id used twice, or not below the counter.
    IdTwice {
        id: u32,
    },
    /// The counter of ids beyond its limit.
    IdsBeyond {
        next: u32,
        most: u32,
    },
}

/// What an edit can name.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Thing {
    Piece,
    Drawing,
    Corner,
    Edge,
    CutOut,
    InsideLine,
    Mark,
    Seam,
    Fabric,
    Tape,
    Note,
    Pose,
    Block,
    Underlay,
    Paint,
}

/// What has limits; the unit is with its words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Quantity {
    Measure,
    Clearance,
    Friction,
    JointAngle { bone: String },
    HalfSize,
    Fineness,
    Grain,
    TableAngle,
    StationTurn,
    WearOrder,
    PrintRepeat,
    PrintHeight,
    PrintTurn,
    ClothValue { key: String },
    PressedAngle,
    Elastic,
    Beyond,
    OpenShare,
    Press,
    Gather,
    Lap,
    LacingWidth,
    Steps,
    Buttons,
    Rows,
    Stitch,
    HungAt,
    Lean,
    CornerShare,
    LineLength,
    LineAngle,
    Parts,
    Tolerance,
    Size,
    SectorAngle,
    Scale,
    DartShare,
    Pleats,
    SeamLength,
    BlockValue { name: String },
    Dpi,
    Fade,
    Pixels,
    Page,
    HeldAt,
    Leash,
    Strength,
    Height,
    Brush,
    Painted,
    CellSize,
    Ease,
}

/// What is counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Counted {
    Poses,
    Tapes,
    Measures,
    WantedEase,
    Notes,
    Parts,
    StandIns,
    Bones,
    Lines,
    Corners,
    Marks,
    Pieces,
    Seams,
    Fabrics,
    Runs,
    Edits,
    Cuts,
    Blocks,
    Underlays,
    Paints,
    RoughSpots,
    StrokePoints,
}

/// Where a line is in its piece, counted from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum LineSpot {
    Edge(usize),
    CutOut(usize),
    Inside,
}
