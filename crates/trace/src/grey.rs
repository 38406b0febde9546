//! Grey pictures.

use crate::PIXELS;

/// A grey picture, row by row from the top; 0 is black.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Grey {
    width: usize,
    height: usize,
    pixels: Vec<u8>,
}

impl Grey {
    /// None when the pixels do not fill the size, or are more than [`PIXELS`] or none.
    pub fn new(width: usize, height: usize, pixels: Vec<u8>) -> Option<Self> {
        let count = width.checked_mul(height)?;
        (count == pixels.len() && (1..=PIXELS).contains(&count)).then_some(Self { width, height, pixels })
    }
    /// Columns.
    pub fn width(&self) -> usize {
        self.width
    }
    /// Rows.
    pub fn height(&self) -> usize {
        self.height
    }
    /// All pixels, row by row.
    pub fn pixels(&self) -> &[u8] {
        &self.pixels
    }
}

/// One value per pixel.
pub(crate) struct Field<T> {
    pub width: usize,
    pub height: usize,
    pub values: Vec<T>,
}

impl Field<u8> {
    /// The value at a place, px, between the middles of pixels; beyond the sides as at them.
    pub fn at(&self, p: [f64; 2]) -> f64 {
        let (x, y) = ((p[0] - 0.5).clamp(0.0, (self.width - 1) as f64), (p[1] - 0.5).clamp(0.0, (self.height - 1) as f64));
        let (i, j) = (x as usize, y as usize);
        let (u, v) = (x - i as f64, y - j as f64);
        let (next, below) = ((i + 1).min(self.width - 1), (j + 1).min(self.height - 1));
        let value = |i: usize, j: usize| f64::from(self.values[j * self.width + i]);
        (1.0 - v) * ((1.0 - u) * value(i, j) + u * value(next, j)) + v * ((1.0 - u) * value(i, below) + u * value(next, below))
    }
}
