//! A picture of a pattern under the paper.

use crate::{Point, UnderlayId};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A picture under the paper. Where it lies is told by its corners alone, so that it can be turned, scaled and straightened.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Underlay {
    /// Its own among the pictures.
    pub id: UnderlayId,
    /// As the file was called.
    pub name: String,
    /// Content hash of the stored file.
    pub asset: String,
    /// Page of a PDF, from 0.
    #[serde(default, skip_serializing_if = "is_first")]
    #[ts(as = "Option<u32>", optional)]
    pub page: u32,
    /// Columns and rows of the picture.
    pub pixels: [u32; 2],
    /// Where its corners lie on the table, mm: upper left, upper right, lower right, lower left of the picture.
    pub corners: [Point; 4],
    /// How far it is faded, 0 (as it is) to 1 (not seen).
    pub fade: f64,
    /// Neither the pointer nor an edit moves it.
    #[serde(default, skip_serializing_if = "is_off")]
    #[ts(as = "Option<bool>", optional)]
    pub locked: bool,
}

fn is_first(page: &u32) -> bool {
    *page == 0
}

fn is_off(flag: &bool) -> bool {
    !flag
}

impl Underlay {
    /// mm on the table of one pixel in the middle of the picture's area; the picture may be skewed.
    pub fn pixel(&self) -> f64 {
        (self.area().abs() / (f64::from(self.pixels[0]) * f64::from(self.pixels[1])).max(1.0)).sqrt()
    }
    /// Area on the table, mm²; negative when it lies face up, as pictures do (their corners go clockwise).
    pub(crate) fn area(&self) -> f64 {
        let c = &self.corners;
        0.5 * (0..4).map(|k| (c[k], c[(k + 1) % 4])).map(|(a, b)| a.x * b.y - b.x * a.y).sum::<f64>()
    }
    /// Middle of its corners.
    pub fn middle(&self) -> Point {
        let sum = self.corners.iter().fold(Point::new(0.0, 0.0), |s, c| Point::new(s.x + c.x, s.y + c.y));
        Point::new(0.25 * sum.x, 0.25 * sum.y)
    }
}
