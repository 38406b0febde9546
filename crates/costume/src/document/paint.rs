//! What is painted on a piece: how firmly its cloth is held to the skin, how rough it is, and how a body in motion carries it,
//! from place to place.

use crate::document::Point;
use base64::{Engine as _, engine::general_purpose::STANDARD};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use ts_rs::TS;

/// Columns or rows of a painted map at most.
pub const SIDE: u32 = 512;

/// Held to the skin: along a line, or where it is painted.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct SkinHold {
    /// Distance from the skin that the cloth is drawn to, mm; as it lies when its seams are closed, without one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub distance: Option<f64>,
    /// How firmly, percent: at 100 every centimetre of a line pulls 1 N when it is 1 mm off.
    #[serde(default = "half")]
    pub strength: f64,
    /// It may slide along the skin; otherwise it keeps its spot.
    #[serde(default)]
    pub slides: bool,
    /// A stand-in of the body in place of the nearest skin, counted from 0.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub to: Option<u8>,
}

impl Default for SkinHold {
    fn default() -> Self {
        Self { distance: None, strength: half(), slides: false, to: None }
    }
}

fn half() -> f64 {
    50.0
}

/// What a map on a piece is for.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum PaintUse {
    /// Held to the skin, as firmly as it is painted.
    Skin(SkinHold),
    /// Friction times this where it is painted in full.
    Grip { factor: f64 },
    /// In rehearsals the skin carries it where it is painted in full; where it is painted less, it may leave that place by as much
    /// as is missing of `leash`, mm. It is free where nothing is painted.
    Carried { leash: f64 },
}

/// The kinds of maps; a piece shows one of each.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum PaintKind {
    Skin,
    Grip,
    Carried,
}

impl PaintUse {
    /// Which kind of map it is.
    pub fn kind(&self) -> PaintKind {
        match self {
            Self::Skin(_) => PaintKind::Skin,
            Self::Grip { .. } => PaintKind::Grip,
            Self::Carried { .. } => PaintKind::Carried,
        }
    }
}

/// A map on a piece, in cells that lie in its frame by three points; values between cell middles are interpolated, and
/// nothing is painted beyond them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Paint {
    /// What it is for.
    #[serde(rename = "use")]
    pub purpose: PaintUse,
    /// Corner of the picture where its last row begins, mm in the frame of the piece.
    pub at: Point,
    /// From one column to the next, mm.
    pub right: Point,
    /// From one row to the one above it, mm.
    pub up: Point,
    /// How much is painted: a grey picture, white in full.
    pub image: Raster,
}

impl Paint {
    /// How much is painted at a point of the piece's frame, 0 to 1.
    pub fn value(&self, p: Point) -> f64 {
        let (d, r, u) = (Point::new(p.x - self.at.x, p.y - self.at.y), self.right, self.up);
        let det = r.x * u.y - r.y * u.x;
        let (x, y) = ((d.x * u.y - d.y * u.x) / det - 0.5, (r.x * d.y - r.y * d.x) / det - 0.5);
        if !(x.is_finite() && y.is_finite()) {
            return 0.0;
        }
        let (i, j) = (x.floor(), y.floor());
        let (s, t) = (x - i, y - j);
        let cell = |i: f64, j: f64| self.image.at(i, f64::from(self.image.rows()) - 1.0 - j);
        let row = |j: f64| cell(i, j) * (1.0 - s) + cell(i + 1.0, j) * s;
        (row(j) * (1.0 - t) + row(j + 1.0) * t) / 255.0
    }

    /// Where it lies when the frame is moved by an affine map.
    pub(crate) fn moved(&self, image: impl Fn(Point) -> Point) -> Self {
        let at = image(self.at);
        let way = |by: Point| {
            let end = image(Point::new(self.at.x + by.x, self.at.y + by.y));
            Point::new(end.x - at.x, end.y - at.y)
        };
        Self { right: way(self.right), up: way(self.up), at, ..self.clone() }
    }
}

/// A grey picture, written as a PNG in base64.
///
/// ```
/// use costume::Raster;
///
/// let steps = Raster::new(3, 1, vec![0, 128, 255]).expect("three cells");
/// let again = Raster::read(&steps.png()).expect("a PNG");
/// assert_eq!((again.columns(), again.rows(), again.values()), (3, 1, &[0u8, 128, 255][..]));
/// ```
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(try_from = "String", into = "String")]
#[ts(type = "string")]
pub struct Raster {
    columns: u32,
    rows: u32,
    /// Row by row from above.
    values: Arc<[u8]>,
}

impl Raster {
    /// Of as many values as cells, row by row from above, 255 white; none with more than [`SIDE`] cells a side.
    pub fn new(columns: u32, rows: u32, values: Vec<u8>) -> Option<Self> {
        let within = (1..=SIDE).contains(&columns) && (1..=SIDE).contains(&rows);
        (within && values.len() == (columns * rows) as usize).then(|| Self { columns, rows, values: values.into() })
    }

    /// Cells from left to right.
    pub fn columns(&self) -> u32 {
        self.columns
    }
    /// Cells from top to bottom.
    pub fn rows(&self) -> u32 {
        self.rows
    }
    /// All cells, row by row from above; 255 is white.
    pub fn values(&self) -> &[u8] {
        &self.values
    }

    /// The value of a cell, 0 beside the picture; rows are counted from above.
    fn at(&self, column: f64, row: f64) -> f64 {
        let inside = (0.0..f64::from(self.columns)).contains(&column) && (0.0..f64::from(self.rows)).contains(&row);
        if inside { f64::from(self.values[row as usize * self.columns as usize + column as usize]) } else { 0.0 }
    }

    /// As a PNG of 8 bits of grey.
    pub fn png(&self) -> Vec<u8> {
        let mut bytes = Vec::new();
        let mut encoder = png::Encoder::new(&mut bytes, self.columns, self.rows);
        encoder.set_color(png::ColorType::Grayscale);
        encoder.set_depth(png::BitDepth::Eight);
        // told anew while a brush is drawn
        encoder.set_compression(png::Compression::Fast);
        // writing into memory cannot fail
        let written = encoder.write_header().and_then(|mut w| w.write_image_data(&self.values));
        debug_assert!(written.is_ok());
        bytes
    }

    /// From a PNG; colours become their brightness, what is clear becomes black. Says what is wrong with others.
    pub fn read(bytes: &[u8]) -> Result<Self, String> {
        let wrong = |e: png::DecodingError| format!("is no PNG that can be read: {e}");
        let mut decoder = png::Decoder::new_with_limits(std::io::Cursor::new(bytes), png::Limits { bytes: 8 << 20 });
        decoder.set_transformations(png::Transformations::normalize_to_color8());
        let mut reader = decoder.read_info().map_err(wrong)?;
        let (columns, rows) = (reader.info().width, reader.info().height);
        if columns > SIDE || rows > SIDE {
            return Err(format!("has {columns} x {rows} pixels, more than {SIDE} x {SIDE}"));
        }
        let size = reader.output_buffer_size().ok_or("is too large")?;
        let mut pixels = vec![0; size];
        let info = reader.next_frame(&mut pixels).map_err(wrong)?;
        let channels = info.color_type.samples();
        let grey = |p: &[u8]| match *p {
            [v] => v,
            [v, a] => (u32::from(v) * u32::from(a) / 255) as u8,
            // Rec. 709
            [r, g, b] | [r, g, b, _] => {
                let bright = (2126 * u32::from(r) + 7152 * u32::from(g) + 722 * u32::from(b) + 5000) / 10_000;
                (bright * u32::from(p.get(3).copied().unwrap_or(255)) / 255) as u8
            }
            _ => 0,
        };
        let values: Vec<u8> = pixels[..info.buffer_size()].chunks_exact(channels).map(grey).collect();
        Self::new(columns, rows, values).ok_or_else(|| "has no pixels".to_owned())
    }
}

impl TryFrom<String> for Raster {
    type Error = String;
    fn try_from(text: String) -> Result<Self, String> {
        let bytes = STANDARD.decode(text.as_bytes()).map_err(|e| format!("is not written in base64: {e}"))?;
        Self::read(&bytes)
    }
}

impl From<Raster> for String {
    fn from(raster: Raster) -> Self {
        STANDARD.encode(raster.png())
    }
}
