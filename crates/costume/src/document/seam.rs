//! Seams: two sides of runs that are sewn together.

use crate::document::drawing::{end, is_end, is_start};
use crate::document::{LineId, PieceId, SeamId};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A stretch of a line between two shares of its arc length; `from > to` means walked backwards.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Run {
    /// The piece it is on.
    pub piece: PieceId,
    /// A line of its drawing.
    pub line: LineId,
    /// Where it begins, as a share of the arc length.
    #[serde(default, skip_serializing_if = "is_start")]
    #[ts(as = "Option<f64>", optional)]
    pub from: f64,
    /// Where it ends; below `from` it is walked backwards.
    #[serde(default = "end", skip_serializing_if = "is_end")]
    #[ts(as = "Option<f64>", optional)]
    pub to: f64,
}

impl Run {
    /// A whole line, walked forwards.
    pub const fn whole(piece: PieceId, line: LineId) -> Self {
        Self { piece, line, from: 0.0, to: 1.0 }
    }
    /// The same stretch the other way round.
    pub const fn turned(self) -> Self {
        Self { from: self.to, to: self.from, ..self }
    }
    /// Whether it is walked against the direction of its line.
    pub fn is_backwards(&self) -> bool {
        self.from > self.to
    }
    /// Lower and upper share.
    pub fn span(&self) -> [f64; 2] {
        [self.from.min(self.to), self.from.max(self.to)]
    }
}

/// How a longer side is eased in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Ease {
    /// Evenly over the whole seam.
    #[default]
    Even,
    /// From each pair of notches to the next.
    BetweenNotches,
}

/// A seam that can be opened, such as a zip.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Closure {
    /// The share of the seam that is open, counted from its end.
    pub open: f64,
}

/// Two sides sewn together, each a list of runs in sewing order over any lines and pieces.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Seam {
    /// Its own within the costume.
    pub id: SeamId,
    /// Letter tag, the same on both sides.
    pub tag: String,
    /// One side, in sewing order.
    pub a: Vec<Run>,
    /// The other side; both are sewn from their start to their end.
    pub b: Vec<Run>,
    /// Pressed to this angle from flat, degrees; positive brings the right sides together. `None` is left soft.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub fold: Option<f64>,
    /// Whether it can be opened, such as a zip, and how far it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub closure: Option<Closure>,
    /// Where the length that one side has over is taken up.
    #[serde(default, skip_serializing_if = "is_even")]
    #[ts(as = "Option<Ease>", optional)]
    pub ease: Ease,
}

fn is_even(ease: &Ease) -> bool {
    *ease == Ease::Even
}

impl Seam {
    /// Both sides, one after the other.
    pub fn runs(&self) -> impl Iterator<Item = &Run> {
        self.a.iter().chain(&self.b)
    }
    /// Both sides, to be changed.
    pub fn runs_mut(&mut self) -> impl Iterator<Item = &mut Run> {
        self.a.iter_mut().chain(&mut self.b)
    }
}
