//! Printed pages: text, rules, tints and pictures placed in mm, as PDF.
//!
//! ```
//! use formats::paper::{A4, Ink, Page, pdf};
//!
//! let words = Ink::text([20.0, 25.0], 12.0, "Fitting sheet");
//! let bytes = pdf("Sheet", &[Page { size: A4, ink: vec![words] }])?;
//! assert!(bytes.starts_with(b"%PDF"));
//! # Ok::<(), String>(())
//! ```

mod face;
mod pattern;

use face::Faces;
use krilla::Document;
use krilla::color::rgb;
use krilla::geom::{PathBuilder, Point, Rect, Size, Transform};
use krilla::image::Image;
use krilla::metadata::Metadata;
use krilla::num::NormalizedF32;
use krilla::page::PageSettings;
use krilla::paint::{Fill, FillRule, Stroke, StrokeDash};
use krilla::surface::Surface;
use krilla::text::TextDirection;
use kurbo::{Affine, BezPath, PathEl};

pub use face::width;
pub use pattern::{MOST_SHEETS, Paper, SQUARE, pattern_pages};

/// A sheet of paper upright, mm.
pub const A4: [f64; 2] = [210.0, 297.0];

/// PDF points to a mm.
const POINTS: f64 = 72.0 / 25.4;

/// Something on a page; x from the left and y from above, mm.
#[derive(Clone, Debug, PartialEq)]
pub enum Ink {
    /// Words on a base line.
    Text { at: [f64; 2], points: f64, bold: bool, colour: [u8; 3], side: Side, words: String },
    /// A straight line; `width` in mm.
    Rule { from: [f64; 2], to: [f64; 2], width: f64, colour: [u8; 3] },
    /// A filled rectangle.
    Tint { at: [f64; 2], size: [f64; 2], colour: [u8; 3] },
    /// Curves; `width` and the lengths of dashes and gaps in mm.
    Lines { path: BezPath, width: f64, dash: Vec<f64>, colour: [u8; 3] },
    /// Only what of it lies within a rectangle.
    Within { at: [f64; 2], size: [f64; 2], ink: Vec<Ink> },
    /// A PNG, stretched over a rectangle.
    Picture { at: [f64; 2], size: [f64; 2], png: Vec<u8> },
}

/// Which side of words is at their place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Side {
    Left,
    Middle,
    Right,
}

/// One page.
#[derive(Clone, Debug, PartialEq)]
pub struct Page {
    /// Width and height, mm.
    pub size: [f64; 2],
    /// In the order in which it is laid on.
    pub ink: Vec<Ink>,
}

/// Ink of plain words.
pub const BLACK: [u8; 3] = [38, 34, 30];

impl Ink {
    /// The same elsewhere, mm.
    fn moved(&self, by: kurbo::Vec2) -> Self {
        let to = |[x, y]: [f64; 2]| [x + by.x, y + by.y];
        match self.clone() {
            Self::Text { at, points, bold, colour, side, words } => Self::Text { at: to(at), points, bold, colour, side, words },
            Self::Rule { from, to: end, width, colour } => Self::Rule { from: to(from), to: to(end), width, colour },
            Self::Tint { at, size, colour } => Self::Tint { at: to(at), size, colour },
            Self::Lines { path, width, dash, colour } => Self::Lines { path: Affine::translate(by) * path, width, dash, colour },
            Self::Within { at, size, ink } => Self::Within { at: to(at), size, ink: ink.iter().map(|i| i.moved(by)).collect() },
            Self::Picture { at, size, png } => Self::Picture { at: to(at), size, png },
        }
    }

    /// Plain words from a place to the right.
    pub fn text(at: [f64; 2], points: f64, words: impl Into<String>) -> Self {
        Self::Text { at, points, bold: false, colour: BLACK, side: Side::Left, words: words.into() }
    }
}

/// The pages as a PDF; the reason when a picture cannot be read.
pub fn pdf(title: &str, pages: &[Page]) -> Result<Vec<u8>, String> {
    let faces = Faces::new()?;
    let mut document = Document::new();
    document.set_metadata(Metadata::new().title(title.to_owned()));
    for page in pages {
        let [width, height] = page.size.map(|mm| (mm * POINTS) as f32);
        let settings = PageSettings::from_wh(width, height).ok_or("a page has no size")?;
        let mut sheet = document.start_page_with(settings);
        let mut surface = sheet.surface();
        for ink in &page.ink {
            lay(&mut surface, &faces, ink)?;
        }
        surface.finish();
        sheet.finish();
    }
    document.finish().map_err(|e| format!("{e:?}"))
}

fn point(at: [f64; 2]) -> Point {
    Point::from_xy((at[0] * POINTS) as f32, (at[1] * POINTS) as f32)
}

fn fill([r, g, b]: [u8; 3]) -> Fill {
    Fill { paint: rgb::Color::new(r, g, b).into(), opacity: NormalizedF32::ONE, rule: Default::default() }
}

fn lay(surface: &mut Surface, faces: &Faces, ink: &Ink) -> Result<(), String> {
    match ink {
        Ink::Text { at, points, bold, colour, side, words } => {
            let words = face::printable(words);
            let back = match side {
                Side::Left => 0.0,
                Side::Middle => 0.5 * width(&words, *points, *bold),
                Side::Right => width(&words, *points, *bold),
            };
            surface.set_stroke(None);
            surface.set_fill(Some(fill(*colour)));
            surface.draw_text(point([at[0] - back, at[1]]), faces.of(*bold), *points as f32, &words, false, TextDirection::LeftToRight);
        }
        Ink::Rule { from, to, width, colour: [r, g, b] } => {
            let mut path = PathBuilder::new();
            let (from, to) = (point(*from), point(*to));
            path.move_to(from.x, from.y);
            path.line_to(to.x, to.y);
            surface.set_fill(None);
            let width = (width * POINTS) as f32;
            surface.set_stroke(Some(Stroke { paint: rgb::Color::new(*r, *g, *b).into(), width, ..Stroke::default() }));
            if let Some(path) = path.finish() {
                surface.draw_path(&path);
            }
        }
        Ink::Tint { at, size, colour } => {
            let mut path = PathBuilder::new();
            let corner = point(*at);
            let [w, h] = size.map(|mm| (mm * POINTS) as f32);
            path.push_rect(Rect::from_xywh(corner.x, corner.y, w, h).ok_or("a tint has no size")?);
            surface.set_stroke(None);
            surface.set_fill(Some(fill(*colour)));
            if let Some(path) = path.finish() {
                surface.draw_path(&path);
            }
        }
        Ink::Lines { path, width, dash, colour: [r, g, b] } => {
            let dash = (!dash.is_empty()).then(|| StrokeDash { array: dash.iter().map(|mm| (mm * POINTS) as f32).collect(), offset: 0.0 });
            surface.set_fill(None);
            surface.set_stroke(Some(Stroke {
                paint: rgb::Color::new(*r, *g, *b).into(),
                width: (width * POINTS) as f32,
                dash,
                ..Stroke::default()
            }));
            if let Some(path) = curves(path) {
                surface.draw_path(&path);
            }
        }
        Ink::Within { at, size, ink } => {
            let mut frame = PathBuilder::new();
            let corner = point(*at);
            let [w, h] = size.map(|mm| (mm * POINTS) as f32);
            frame.push_rect(Rect::from_xywh(corner.x, corner.y, w, h).ok_or("a part has no size")?);
            let frame = frame.finish().ok_or("a part has no size")?;
            surface.push_clip_path(&frame, &FillRule::NonZero);
            let laid = ink.iter().try_for_each(|i| lay(surface, faces, i));
            surface.pop();
            laid?;
        }
        Ink::Picture { at, size, png } => {
            let corner = point(*at);
            let [w, h] = size.map(|mm| (mm * POINTS) as f32);
            surface.push_transform(&Transform::from_translate(corner.x, corner.y));
            let image = Image::from_png(png.clone().into(), true)?;
            surface.draw_image(image, Size::from_wh(w, h).ok_or("a picture has no size")?);
            surface.pop();
        }
    }
    Ok(())
}

/// A path in points.
fn curves(path: &BezPath) -> Option<krilla::geom::Path> {
    let mut made = PathBuilder::new();
    let at = |p: kurbo::Point| ((p.x * POINTS) as f32, (p.y * POINTS) as f32);
    for element in path.elements() {
        match *element {
            PathEl::MoveTo(p) => made.move_to(at(p).0, at(p).1),
            PathEl::LineTo(p) => made.line_to(at(p).0, at(p).1),
            PathEl::QuadTo(a, p) => made.quad_to(at(a).0, at(a).1, at(p).0, at(p).1),
            PathEl::CurveTo(a, b, p) => made.cubic_to(at(a).0, at(a).1, at(b).0, at(b).1, at(p).0, at(p).1),
            PathEl::ClosePath => made.close(),
        }
    }
    made.finish()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Pages are read by the reader of scanned patterns, at 10 pixels a mm.
    fn printed(page: &Page) -> (Vec<u8>, [usize; 2]) {
        let bytes = pdf("test", std::slice::from_ref(page)).expect("a PDF");
        let grey = crate::scan_grey(&bytes, 0).expect("it is read back");
        (grey.pixels().to_vec(), [grey.width(), grey.height()])
    }

    #[test]
    fn what_is_laid_at_a_mm_is_printed_there() {
        let black = [0, 0, 0];
        let ink = vec![Ink::Tint { at: [20.0, 30.0], size: [100.0, 50.0], colour: black }];
        let (pixels, [w, h]) = printed(&Page { size: A4, ink });
        let dark: Vec<[usize; 2]> = (0..w * h).filter(|k| pixels[*k] < 128).map(|k| [k % w, k / w]).collect();
        let span = |axis: usize, of: f64| {
            let along = dark.iter().map(|p| p[axis]);
            let scale = of / [w, h][axis] as f64;
            [along.clone().min().unwrap_or(0) as f64 * scale, (along.max().unwrap_or(0) + 1) as f64 * scale]
        };
        for (axis, of, want) in [(0, 210.0, [20.0, 120.0]), (1, 297.0, [30.0, 80.0])] {
            let got = span(axis, of);
            assert!((got[0] - want[0]).abs() < 0.3 && (got[1] - want[1]).abs() < 0.3, "{got:?} for {want:?}");
        }
    }

    #[test]
    fn words_to_the_right_end_where_they_should() {
        let ink = |side| Ink::Text { at: [100.0, 50.0], points: 20.0, bold: true, colour: [0, 0, 0], side, words: "Hem 12.5".into() };
        let edges = |side| {
            let (pixels, [w, _]) = printed(&Page { size: A4, ink: vec![ink(side)] });
            let dark = pixels.iter().enumerate().filter(|(_, v)| **v < 128).map(|(k, _)| (k % w) as f64 * 210.0 / w as f64);
            dark.fold([f64::MAX, 0.0f64], |[low, high], x| [low.min(x), high.max(x)])
        };
        let long = width("Hem 12.5", 20.0, true);
        let (left, right) = (edges(Side::Left), edges(Side::Right));
        assert!((left[0] - 100.0).abs() < 1.0 && (left[1] - 100.0 - long).abs() < 1.0, "{left:?}, {long} mm long");
        assert!((right[1] - 100.0).abs() < 1.0 && (right[0] - 100.0 + long).abs() < 1.0, "{right:?}");
    }
}
