//! A pattern as it comes from a scanner: lines on paper with a ruler, a little askew, lighter here than there. It stands
//! in for the machine in tests and in the demo.

mod letters;

use crate::{FlatKind, PlainPiece};
use kurbo::{Affine, BezPath, Point, Shape, Vec2};
use trace::Grey;

/// How the sheet is scanned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Scanning {
    /// Pixels per inch.
    pub dpi: f64,
    /// How far askew it lies, degrees.
    pub tilt: f64,
    /// Strength of the grain of the paper, grey levels.
    pub grain: u8,
}

/// Free paper around the pieces, and below them for the ruler, mm.
const MARGIN: f64 = 25.0;
const RULER: f64 = 45.0;
/// Widths of the lines, mm.
const OUTLINE: f64 = 0.8;
const FINE: f64 = 0.45;
/// Most pixels of a sheet.
const PIXELS: f64 = 24_000_000.0;

/// The pieces on a sheet of their size. Also where a point of the table (mm) lies in the picture (px, y down). None
/// without pieces, or when the sheet would be too large.
pub fn sheet(pieces: &[PlainPiece], scanning: &Scanning) -> Option<(Grey, Affine)> {
    let around = pieces.iter().map(|p| p.outline.bounding_box()).reduce(|a, b| a.union(b))?;
    let scale = scanning.dpi / 25.4;
    let (width, height) = (around.width() + 2.0 * MARGIN, around.height() + 2.0 * MARGIN + RULER);
    let size = [width, height].map(|mm| (mm * scale).round());
    if !(size[0] * size[1] <= PIXELS && size.iter().all(|s| *s >= 1.0)) {
        return None;
    }
    let middle = Vec2::new(0.5 * size[0], 0.5 * size[1]);
    let onto = Affine::translate(middle)
        * Affine::rotate(scanning.tilt.to_radians())
        * Affine::scale_non_uniform(scale, -scale)
        * Affine::translate(Vec2::new(-(around.x0 - MARGIN + 0.5 * width), -(around.y0 - MARGIN - RULER + 0.5 * height)));
    let mut paper = Paper::new(size[0] as usize, size[1] as usize, scanning.grain);
    for piece in pieces {
        paper.piece(piece, onto, scale);
    }
    let ruler = Point::new(around.x0, around.y0 - MARGIN - 0.5 * RULER);
    paper.ruler(ruler, (around.width().min(300.0) / 10.0).floor().max(5.0) as usize * 10, onto, scale);
    let Paper { width, height, pixels } = paper;
    Some((Grey::new(width, height, pixels)?, onto))
}

/// What is drawn on.
struct Paper {
    width: usize,
    height: usize,
    pixels: Vec<u8>,
}

impl Paper {
    /// Blank paper, darker to one corner, with a grain.
    fn new(width: usize, height: usize, grain: u8) -> Self {
        let mut noise = 0x9e37_79b9u32;
        let mut pixels = Vec::with_capacity(width * height);
        for y in 0..height {
            for x in 0..width {
                noise ^= noise << 13;
                noise ^= noise >> 17;
                noise ^= noise << 5;
                let (u, v) = (x as f64 / width as f64, y as f64 / height as f64);
                let off = if grain == 0 { 0.0 } else { f64::from(noise % u32::from(2 * grain + 1)) - f64::from(grain) };
                pixels.push((240.0 - 26.0 * u * v - 8.0 * (3.0 * u).sin() + off).clamp(0.0, 255.0) as u8);
            }
        }
        Self { width, height, pixels }
    }

    fn piece(&mut self, piece: &PlainPiece, onto: Affine, scale: f64) {
        for path in std::iter::once(&piece.outline).chain(&piece.cutouts) {
            self.stroke(&(onto * path.clone()), OUTLINE * scale, 60.0);
        }
        for (kind, path) in &piece.inside {
            if *kind == FlatKind::Inside {
                self.stroke(&(onto * path.clone()), FINE * scale, 90.0);
            }
        }
        let around = piece.outline.bounding_box();
        for (p, _) in &piece.notches {
            // towards the middle of the piece is near enough to inwards
            let inward = around.center() - *p;
            let end = *p + inward * (5.0 / inward.hypot().max(1e-9));
            self.line(onto * *p, onto * end, FINE * scale, 60.0);
        }
        if let Some([low, high]) = piece.grain {
            self.line(onto * low, onto * high, FINE * scale, 90.0);
            let way = (high - low) * (6.0 / (high - low).hypot().max(1e-9));
            for side in [-1.0, 1.0] {
                let barb = high - way + Vec2::new(-way.y, way.x) * (0.5 * side);
                self.line(onto * high, onto * barb, FINE * scale, 90.0);
            }
        }
        let size = (around.width() * 0.5 / piece.name.len().max(4) as f64).min(0.16 * around.height()).min(10.0);
        let at = around.center() + Vec2::new(-0.25 * around.width(), 0.05 * around.height());
        self.text(&piece.name, at, size, onto, scale);
    }

    /// A ruler with a tick for every millimetre.
    fn ruler(&mut self, at: Point, length: usize, onto: Affine, scale: f64) {
        for mm in 0..=length {
            let tick = if mm % 10 == 0 {
                8.0
            } else if mm % 5 == 0 {
                6.0
            } else {
                4.0
            };
            let foot = at + Vec2::new(mm as f64, 0.0);
            self.line(onto * foot, onto * (foot + Vec2::new(0.0, tick)), 0.3 * scale, 70.0);
            if mm % 10 == 0 {
                self.text(&(mm / 10).to_string(), foot + Vec2::new(-1.0, 10.0), 2.4, onto, scale);
            }
        }
        self.line(onto * at, onto * (at + Vec2::new(length as f64, 0.0)), 0.3 * scale, 70.0);
        self.text("CM", at + Vec2::new(length as f64 + 4.0, 2.0), 3.0, onto, scale);
    }

    /// Writes in capitals of a height, mm.
    fn text(&mut self, words: &str, at: Point, size: f64, onto: Affine, scale: f64) {
        for (k, c) in words.chars().take(24).enumerate() {
            let place = at + Vec2::new(k as f64 * size * 0.85, 0.0);
            for stroke in letters::strokes(c.to_ascii_uppercase()) {
                for pair in stroke.windows(2) {
                    let ends = [pair[0], pair[1]].map(|(x, y)| onto * (place + Vec2::new(x, y) * (size / 6.0)));
                    self.line(ends[0], ends[1], 0.06 * size * scale, 80.0);
                }
            }
        }
    }

    fn stroke(&mut self, path: &BezPath, width: f64, grey: f64) {
        let mut last = Point::ZERO;
        let mut first = Point::ZERO;
        kurbo::flatten(path, 0.05, |element| match element {
            kurbo::PathEl::MoveTo(p) => (first, last) = (p, p),
            kurbo::PathEl::LineTo(p) => {
                self.line(last, p, width, grey);
                last = p;
            }
            kurbo::PathEl::ClosePath => self.line(last, first, width, grey),
            _ => {}
        });
    }

    /// A line with round ends; a pixel takes as much ink as the line covers of it.
    fn line(&mut self, a: Point, b: Point, width: f64, grey: f64) {
        let half = 0.5 * width;
        let bound =
            |low: f64, high: f64, most: usize| ((low - half - 1.0).max(0.0) as usize, ((high + half + 2.0).max(0.0) as usize).min(most));
        let (x0, x1) = bound(a.x.min(b.x), a.x.max(b.x), self.width);
        let (y0, y1) = bound(a.y.min(b.y), a.y.max(b.y), self.height);
        let (way, squared) = (b - a, (b - a).hypot2().max(1e-12));
        for y in y0..y1 {
            for x in x0..x1 {
                let p = Point::new(x as f64 + 0.5, y as f64 + 0.5);
                let t = ((p - a).dot(way) / squared).clamp(0.0, 1.0);
                let covered = (half + 0.5 - (p - (a + t * way)).hypot()).clamp(0.0, 1.0);
                if covered > 0.0 {
                    let pixel = &mut self.pixels[y * self.width + x];
                    *pixel = (*pixel).min((f64::from(*pixel) + (grey - f64::from(*pixel)) * covered) as u8);
                }
            }
        }
    }
}
