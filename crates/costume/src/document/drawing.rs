//! What a drafted piece consists of: nodes joined by straight or cubic lines, and what is marked on them. Coordinates are
//! mm in the piece's own frame, the right side of the cloth towards the reader.

use crate::document::{AlongId, LineId, MarkId, NodeId, Paint, PathId, PieceId, Point, SkinHold};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Nodes and lines, and the order in which lines make the outline, the cut-outs and the paths inside.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Drawing {
    /// Where lines meet.
    pub nodes: Vec<Node>,
    /// Straight and curved, of the outline, the cut-outs and the paths inside.
    pub lines: Vec<Line>,
    /// Closed, counter-clockwise; every line ends where the next begins.
    pub outline: Vec<LineId>,
    /// Closed loops cut out of the cloth, clockwise.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Vec<LineId>>>", optional)]
    pub cutouts: Vec<Vec<LineId>>,
    /// Paths on the cloth: folds, style lines, stitching, dart legs, placement lines.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<InsidePath>>", optional)]
    pub inside: Vec<InsidePath>,
    /// Notches, drill holes and text.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Mark>>", optional)]
    pub marks: Vec<Mark>,
    /// What is done along lines: tapes, elastics, stays, allowances, hems.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Along>>", optional)]
    pub along: Vec<Along>,
    /// What is painted on the cloth.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<Paint>>", optional)]
    pub paint: Vec<Paint>,
}

/// Whether lines meet at a node at an angle or go on smoothly.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum NodeKind {
    #[default]
    Corner,
    /// The handles on both sides stay in a row.
    Smooth,
}

/// A point where lines begin and end.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Node {
    /// Its own within the costume.
    pub id: NodeId,
    /// mm in the frame of the piece.
    pub at: Point,
    /// Whether the lines that meet here go on in one direction.
    #[serde(default, skip_serializing_if = "is_corner")]
    #[ts(as = "Option<NodeKind>", optional)]
    pub kind: NodeKind,
}

fn is_corner(kind: &NodeKind) -> bool {
    *kind == NodeKind::Corner
}

/// A straight line, or a cubic one with its two control points.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Line {
    /// Its own within the costume; stays when its neighbours change.
    pub id: LineId,
    /// Where it begins.
    pub from: NodeId,
    /// Where it ends.
    pub to: NodeId,
    /// Control points of a cubic, mm in the frame of the piece; none for a straight line.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub handles: Option<[Point; 2]>,
}

/// Lines inside a piece, each beginning where the one before ended.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct InsidePath {
    /// Its own within the costume.
    pub id: PathId,
    /// In order, each beginning where the one before ends.
    pub lines: Vec<LineId>,
    /// What it is for.
    #[serde(rename = "use")]
    pub purpose: Purpose,
}

/// What a path inside a piece is for.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Purpose {
    /// Pressed to this angle from flat, degrees; positive brings the right sides together.
    Fold {
        angle: f64,
    },
    StyleLine,
    Stitching,
    DartLeg,
    /// Where another piece is sewn on.
    Placement {
        of: PieceId,
    },
}

/// A mark for the cutter and the sewer.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Mark {
    /// On a line, at a share of its arc length.
    Notch {
        id: MarkId,
        line: LineId,
        at: f64,
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        #[ts(as = "Option<bool>", optional)]
        double: bool,
    },
    DrillHole {
        id: MarkId,
        at: Point,
    },
    Text {
        id: MarkId,
        at: Point,
        text: String,
    },
}

impl Mark {
    /// Its own within the costume, whatever kind of mark it is.
    pub fn id(&self) -> MarkId {
        match self {
            Self::Notch { id, .. } | Self::DrillHole { id, .. } | Self::Text { id, .. } => *id,
        }
    }
}

/// What holds or finishes a stretch of a line, from one share of its arc length to another, `from < to`.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Along {
    /// Its own within the costume.
    pub id: AlongId,
    /// The line it runs along.
    pub line: LineId,
    /// Where it begins, as a share of the arc length.
    #[serde(default, skip_serializing_if = "is_start")]
    #[ts(as = "Option<f64>", optional)]
    pub from: f64,
    /// Where it ends, as a share of the arc length.
    #[serde(default = "end", skip_serializing_if = "is_end")]
    #[ts(as = "Option<f64>", optional)]
    pub to: f64,
    /// What is done.
    pub finish: Finish,
}

/// What lies along a line.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Finish {
    /// A tape that keeps the line at its drafted length.
    StayTape,
    /// An elastic of this share of the line's length, percent.
    Elastic { length: f64 },
    /// Held at its level on the body, as by a waist stay.
    Stay,
    /// Drawn to a level of the body and held there.
    Level { at: BandLevel },
    /// Held to the skin.
    Skin(SkinHold),
    /// Cloth beyond the line for the seam, mm.
    Allowance {
        width: f64,
        #[serde(default)]
        corner: AllowanceCorner,
    },
    /// Turned up by this width, mm.
    Hem { width: f64 },
}

/// A level that a band is drawn to.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum BandLevel {
    Waist,
    Hips,
    /// Above the ground, mm.
    Height(f64),
}

/// How an allowance ends at a corner.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum AllowanceCorner {
    #[default]
    Pointed,
    Square,
    Mirrored,
}

pub(super) fn end() -> f64 {
    1.0
}

pub(super) fn is_start(share: &f64) -> bool {
    *share == 0.0
}

pub(super) fn is_end(share: &f64) -> bool {
    *share == 1.0
}

impl Finish {
    /// Whether it keeps the cloth from stretching or sinking, unlike a width of cloth.
    pub fn holds(&self) -> bool {
        !matches!(self, Self::Allowance { .. } | Self::Hem { .. })
    }

    /// Whether it holds the cloth to the body, by a level or to the skin.
    pub fn holds_to_body(&self) -> bool {
        matches!(self, Self::Stay | Self::Level { .. } | Self::Skin(_))
    }

    /// Whether another finish takes the place of this one on the same stretch: an edge has one width, one hem, one tape,
    /// and is held in one way.
    pub fn replaces(&self, other: &Self) -> bool {
        let family = |f: &Self| match f {
            Self::Allowance { .. } => 0,
            Self::Hem { .. } => 1,
            held if held.holds_to_body() => 3,
            _ => 2,
        };
        family(self) == family(other)
    }
}

impl Drawing {
    /// The node with this id, if the drawing has it.
    pub fn node(&self, id: NodeId) -> Option<&Node> {
        self.nodes.iter().find(|n| n.id == id)
    }
    /// The line with this id, if the drawing has it.
    pub fn line(&self, id: LineId) -> Option<&Line> {
        self.lines.iter().find(|l| l.id == id)
    }
    /// The path inside with this id, if the drawing has it.
    pub fn path(&self, id: PathId) -> Option<&InsidePath> {
        self.inside.iter().find(|p| p.id == id)
    }
    /// All closed loops, the outline first.
    pub fn loops(&self) -> impl Iterator<Item = &Vec<LineId>> {
        std::iter::once(&self.outline).chain(&self.cutouts)
    }
    /// "edge 3" for a line of the outline, as the table counts them; other lines by what they belong to.
    pub fn line_name(&self, id: LineId) -> String {
        if let Some(i) = self.outline.iter().position(|l| *l == id) {
            return format!("edge {}", i + 1);
        }
        if let Some(i) = self.cutouts.iter().position(|c| c.contains(&id)) {
            return format!("cut-out {}", i + 1);
        }
        match self.inside.iter().position(|p| p.lines.contains(&id)) {
            Some(i) => format!("inside line {}", i + 1),
            None => "missing edge".into(),
        }
    }
}
