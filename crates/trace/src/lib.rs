//! Outlines of printed and drawn patterns, found in a grey picture of the paper.
//!
//! A click inside an outline gives the middle of its line, to a fraction of a pixel, with the corners told apart from
//! the curves between them. Shaded paper, gaps, dashes, notches across the line and writing inside are what it is
//! made for. All lengths are in pixels; x to the right and y down, pixel (0, 0) has its middle at (0.5, 0.5).
//!
//! ```
//! // a dark frame of 300 x 200 px on light paper, drawn with 4 px to a millimetre
//! let (width, height) = (400, 300);
//! let on_line = |v: i32, low: i32, high: i32| (v - low).abs() <= 1 || (v - high).abs() <= 1;
//! let pixels = (0..width * height)
//!     .map(|k| (k as i32 % 400, k as i32 / 400))
//!     .map(|(x, y)| {
//!         let within = (49..=351).contains(&x) && (49..=251).contains(&y);
//!         if within && (on_line(x, 50, 350) || on_line(y, 50, 250)) { 40 } else { 230 }
//!     })
//!     .collect();
//! let picture = trace::Grey::new(width, height, pixels).unwrap();
//! let found = trace::outline(&picture, [200.0, 150.0], 4.0).unwrap();
//! assert_eq!(found.corners.len(), 4);
//! assert!((found.area() / (300.0 * 200.0) - 1.0).abs() < 0.002);
//! ```

mod centreline;
mod contour;
mod corners;
mod distance;
mod grey;
mod paper;
mod region;
mod ruler;

pub use grey::Grey;
pub use ruler::{Ticks, ticks};

/// Most pixels of a picture: a sheet of 1.2 m x 0.8 m at 150 dpi is half of it.
pub const PIXELS: usize = 48_000_000;

/// A closed line, the middle of what was drawn.
#[derive(Clone, Debug, PartialEq)]
pub struct Outline {
    /// Counter-clockwise as seen on the paper (y up), px; about half a millimetre apart.
    pub points: Vec<[f64; 2]>,
    /// Indices of the points at which the line has a corner, ascending.
    pub corners: Vec<usize>,
    /// Width of the drawn line, px.
    pub width: f64,
    /// Widest gap that had to be bridged to close the outline, px; 0 when it was closed.
    pub bridged: f64,
}

impl Outline {
    /// Enclosed area, px².
    pub fn area(&self) -> f64 {
        contour::area(&self.points).abs()
    }
}

/// Why no outline was found.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NoOutline {
    /// The place is not in the picture.
    Outside,
    /// Nothing but ink near the place.
    OnInk,
    /// From the place the paper goes on to the edge of the picture, also across gaps of 8 mm.
    Open,
    /// What is enclosed is smaller than a square centimetre.
    Small,
}

/// What is tried one after the other: share of the ink's depth that counts as ink, and half of the widest gap, mm.
const TRIES: [(f32, f64); 6] = [(0.3, 0.0), (0.12, 0.0), (0.3, 0.6), (0.12, 0.6), (0.2, 1.8), (0.2, 4.0)];

/// The outline around a place, px; `scale` is how many pixels a millimetre of the paper takes (0.5 to 80).
pub fn outline(picture: &Grey, at: [f64; 2], scale: f64) -> Result<Outline, NoOutline> {
    let (x, y) = (at[0].floor(), at[1].floor());
    let inside = x >= 0.0 && y >= 0.0 && x < picture.width() as f64 && y < picture.height() as f64;
    if !inside {
        return Err(NoOutline::Outside);
    }
    let seed = [x as usize, y as usize];
    let scale = scale.clamp(0.5, 80.0);
    let depth = paper::ink_depth(picture, scale);
    let darkest = paper::darkest(&depth);
    let mut fault = NoOutline::Open;
    for (share, gap) in TRIES {
        let ink = paper::ink(&depth, darkest, share);
        match region::around(&ink, seed, gap * scale, scale) {
            Ok(found) if (found.count as f64) < 100.0 * scale * scale => fault = NoOutline::Small,
            Ok(found) => return Ok(centreline::follow(&depth, &found, scale, gap * scale)),
            Err(NoOutline::OnInk) if share < 0.2 && fault == NoOutline::Open => fault = NoOutline::OnInk,
            Err(_) => {}
        }
    }
    Err(fault)
}
