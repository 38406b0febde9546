//! A flat pattern piece: what it is cut from, where it lies and hangs, and its shape.

use crate::document::{Drawing, FabricId, LineId, PieceId, Point, PrintPlace};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A flat pattern piece. Its drawing is in its own frame, which is turned by `angle` and laid down at `at` on the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Piece {
    /// Its own within the costume.
    pub id: PieceId,
    /// As the designer called it.
    pub name: String,
    /// Where its frame lies on the table, mm.
    pub at: Point,
    /// Degrees counter-clockwise.
    #[serde(default, skip_serializing_if = "is_level")]
    #[ts(as = "Option<f64>", optional)]
    pub angle: f64,
    /// Drawn, or the mirror image of another piece.
    pub shape: Shape,
    /// What it is cut from.
    pub fabric: FabricId,
    /// Direction of the warp, degrees counter-clockwise from the x axis of its frame (90 = upwards).
    pub grain: f64,
    /// Where it hangs on the body; without one it cannot be draped.
    #[serde(default)]
    pub placement: Option<Placement>,
    /// Left out of the drape for now.
    #[serde(default)]
    pub parked: bool,
    /// Held on the table: its shape and place are not changed.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub locked: bool,
    /// Pieces of one number are taken hold of together.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub group: Option<u32>,
    /// Wear order: 1 lies next to the skin, higher ones over it.
    #[serde(default = "next_to_the_skin", skip_serializing_if = "is_next_to_the_skin")]
    #[ts(as = "Option<u8>", optional)]
    pub wear: u8,
    /// For the cutting list.
    #[serde(default, skip_serializing_if = "CutPlan::is_single")]
    #[ts(as = "Option<CutPlan>", optional)]
    pub cut: CutPlan,
    /// Where the print of its fabric begins on it; without one, at the origin of its frame.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub print_at: Option<PrintPlace>,
}

/// Where the outline of a piece comes from.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Shape {
    Drawn(Drawing),
    /// The mirror image of another piece (x to the other side); an edit of either changes the one drawing. Its lines have
    /// the ids of the other's lines.
    Twin {
        of: PieceId,
    },
}

/// How a piece is cut from the cloth.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct CutPlan {
    /// How many of it, for the cutting list.
    #[serde(default = "once", skip_serializing_if = "is_once")]
    #[ts(as = "Option<u8>", optional)]
    pub count: u8,
    /// The straight line of its outline that lies on the fold: the piece is drafted as its half.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub on_fold: Option<LineId>,
}

impl Default for CutPlan {
    fn default() -> Self {
        Self { count: 1, on_fold: None }
    }
}

impl CutPlan {
    /// Cut once and not on the fold, as nothing else is said.
    pub fn is_single(&self) -> bool {
        *self == Self::default()
    }
}

fn once() -> u8 {
    1
}

fn is_once(count: &u8) -> bool {
    *count == 1
}

fn is_level(angle: &f64) -> bool {
    *angle == 0.0
}

fn next_to_the_skin() -> u8 {
    1
}

fn is_next_to_the_skin(wear: &u8) -> bool {
    *wear == 1
}

/// Where a piece hangs: a station of the body, and how it sits there.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Placement {
    /// Key of the station, such as `chest-front`.
    pub station: String,
    /// Shift of the piece's middle along the wrap (x) and up (y), mm.
    pub shift: Point,
    /// Turn within the surface, degrees counter-clockwise.
    #[serde(default)]
    pub turn: f64,
    /// Distance from the skin at which it is hung, mm; as near as it can be without one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub clearance: Option<f64>,
    /// Degrees by which its top leans away from the body.
    #[serde(default, skip_serializing_if = "is_level")]
    #[ts(as = "Option<f64>", optional)]
    pub lean: f64,
    /// Turned over: its wrong side is seen.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub flip: bool,
}

impl Placement {
    /// At a station, not shifted or turned.
    pub fn at(station: impl Into<String>) -> Self {
        Self { station: station.into(), ..Self::default() }
    }
}

impl Piece {
    /// Its own drawing; none while it is the twin of another.
    pub fn drawing(&self) -> Option<&Drawing> {
        match &self.shape {
            Shape::Drawn(drawing) => Some(drawing),
            Shape::Twin { .. } => None,
        }
    }
    /// Its own drawing, to be changed; twins have none.
    pub fn drawing_mut(&mut self) -> Option<&mut Drawing> {
        match &mut self.shape {
            Shape::Drawn(drawing) => Some(drawing),
            Shape::Twin { .. } => None,
        }
    }
    /// The piece whose mirror image it is.
    pub fn twin_of(&self) -> Option<PieceId> {
        match self.shape {
            Shape::Twin { of } => Some(of),
            Shape::Drawn(_) => None,
        }
    }
}
