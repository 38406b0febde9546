//! A place on the table or in the frame of a piece.

use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A point in mm.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
pub struct Point {
    /// mm, to the right.
    pub x: f64,
    /// mm, upwards.
    pub y: f64,
}

impl Point {
    /// At these coordinates.
    pub const fn new(x: f64, y: f64) -> Self {
        Self { x, y }
    }
    /// mm, as the crow flies.
    pub fn distance(self, other: Self) -> f64 {
        (self.x - other.x).hypot(self.y - other.y)
    }
    /// On the straight way to the other, at a share of it.
    pub fn lerp(self, other: Self, t: f64) -> Self {
        Self::new(self.x + (other.x - self.x) * t, self.y + (other.y - self.y) * t)
    }
}
