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

/// What closes an opening.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum ClosureKind {
    /// Closed edge to edge.
    #[default]
    Zip,
    /// Held at so many places, the first and the last at the ends of the closed stretch; between them the edges are free.
    Buttons { count: u8 },
    /// Closed like a zip, under a placket.
    Placket,
    /// Nothing: its open stretch is never drawn together.
    Slit,
}

/// A seam that can be opened, such as a zip.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Closure {
    /// The share of the seam that is open, counted from its end.
    pub open: f64,
    /// What closes it.
    #[serde(default, skip_serializing_if = "is_zip")]
    #[ts(as = "Option<ClosureKind>", optional)]
    pub by: ClosureKind,
}

fn is_zip(kind: &ClosureKind) -> bool {
    *kind == ClosureKind::Zip
}

/// A tape sewn into a seam.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum SeamTape {
    /// Keeps the seam as long as it was drafted on its shorter side.
    Stay,
    /// An elastic of this share of the shorter side, percent.
    Elastic { length: f64 },
}

/// Rows of stitches that are seen on the right side. For looks alone.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct TopStitch {
    /// How many rows.
    pub rows: u8,
    /// From the seam to the first row and from row to row, mm.
    pub distance: f64,
    /// Of a stitch, mm.
    pub length: f64,
}

/// A seam that is held apart, as by laces, and drawn shut in steps.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Lacing {
    /// Between its edges, mm.
    pub width: f64,
    /// In so many steps it gets there from where its edges hang.
    pub steps: u8,
}

/// How a seam is made, beyond being sewn. All of it may be left out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct SeamMake {
    /// How firmly its angle is pressed, times the cloth's own bending stiffness.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub press: Option<f64>,
    /// The longer side is meant to be so many times as long as the shorter one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub gather: Option<f64>,
    /// A tape sewn in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub tape: Option<SeamTape>,
    /// Side a lies over side b by so much, mm, and is sewn down there: a lapped seam.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub lap: Option<f64>,
    /// Side b is sewn down on side a as well, as in a felled seam.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub felled: bool,
    /// Held apart at a width.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub lacing: Option<Lacing>,
    /// Rows of stitches that are seen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub top_stitch: Option<TopStitch>,
}

impl SeamMake {
    /// Sewn edge to edge and no more.
    pub fn is_plain(&self) -> bool {
        *self == Self::default()
    }
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
    /// How it is made.
    #[serde(default, skip_serializing_if = "SeamMake::is_plain")]
    #[ts(as = "Option<SeamMake>", optional)]
    pub make: SeamMake,
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
