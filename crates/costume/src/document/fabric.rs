//! The cloths of a costume.

use crate::document::{FabricId, Point};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A cloth of the costume: a swatch of the swatch book with a colour and an optional print.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Fabric {
    /// Its own within the costume.
    pub id: FabricId,
    /// As the designer called it.
    pub name: String,
    /// Key in the swatch book, see [`crate::swatch`].
    pub swatch: String,
    /// `#rrggbb`.
    pub colour: String,
    /// What is printed on it.
    #[serde(default)]
    pub print: Option<Print>,
    /// Values that differ from the swatch, by key such as `bend-warp`, in the swatch book's units.
    #[serde(default, rename = "own", skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub overrides: BTreeMap<String, f64>,
}

/// A print that lies along the grain: a motif of ours, or a picture of the designer's.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Print {
    /// Key of the motif, such as `salt-crystals`; of a picture, what it is called.
    pub motif: String,
    /// Width of the repeat in mm.
    pub repeat: f64,
    /// `#rrggbb` of the motif.
    pub colour: String,
    /// Hash of the stored picture (PNG or JPEG) that is printed in place of a motif.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub image: Option<String>,
    /// Height of the repeat in mm; without one it is square.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub height: Option<f64>,
    /// Every second column lies half a repeat lower.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub half_drop: bool,
    /// Degrees counter-clockwise from the grain.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[ts(as = "Option<f64>", optional)]
    pub turn: f64,
    /// Once on every piece, with its middle at the place of the print there, instead of repeated.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub once: bool,
}

fn is_zero(v: &f64) -> bool {
    *v == 0.0
}

/// Where a print begins on a piece.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct PrintPlace {
    /// In the frame of the piece, mm: a corner of the repeat, or the middle of what is printed once.
    pub at: Point,
    /// Degrees counter-clockwise, beside that of the print itself.
    #[serde(default, skip_serializing_if = "is_zero")]
    #[ts(as = "Option<f64>", optional)]
    pub turn: f64,
}

impl Default for PrintPlace {
    fn default() -> Self {
        Self { at: Point::new(0.0, 0.0), turn: 0.0 }
    }
}

impl Print {
    /// A motif of ours in a square repeat.
    pub fn of_motif(motif: &str, repeat: f64, colour: &str) -> Self {
        let (motif, colour) = (motif.to_owned(), colour.to_owned());
        Self { motif, repeat, colour, image: None, height: None, half_drop: false, turn: 0.0, once: false }
    }

    /// Width and height of what is repeated as a whole, mm: with a half drop, two columns.
    pub fn tile(&self) -> [f64; 2] {
        let columns = if self.half_drop && !self.once { 2.0 } else { 1.0 };
        [columns * self.repeat, self.height.unwrap_or(self.repeat)]
    }

    /// Where a place of a piece (mm in its frame) lies in the tile: u along the weft, v along the grain, 1 for a whole tile.
    /// `grain` as of the piece, degrees.
    ///
    /// ```
    /// use costume::{Point, Print, PrintPlace};
    /// let mut print = Print::of_motif("salt-crystals", 50.0, "#ffffff");
    /// print.height = Some(100.0);
    /// let place = PrintPlace { at: Point::new(10.0, 0.0), turn: 0.0 };
    /// assert_eq!(print.place(90.0, place, [60.0, 25.0]), [1.0, 0.25]);
    /// // a grain to the right turns it by a quarter to the right
    /// let [u, v] = print.place(0.0, place, [60.0, 25.0]);
    /// assert!((u + 0.5).abs() < 1e-12 && (v - 0.5).abs() < 1e-12);
    /// ```
    pub fn place(&self, grain: f64, place: PrintPlace, at: [f64; 2]) -> [f64; 2] {
        let (sin, cos) = (grain - 90.0 + self.turn + place.turn).to_radians().sin_cos();
        let (x, y) = (at[0] - place.at.x, at[1] - place.at.y);
        let [width, height] = self.tile();
        let middle = if self.once { 0.5 } else { 0.0 };
        [(cos * x + sin * y) / width + middle, (cos * y - sin * x) / height + middle]
    }
}
