//! Flat pieces as SVG at true scale (SVG 1.1): one user unit is a millimetre, a group for every piece, a class for every
//! kind of line.

use super::PlainPiece;
use kurbo::{Affine, BezPath, Circle, Line, Point, Shape, Vec2};
use std::fmt::Write;

/// Around the drawing, length of a notch, radius of a drill hole, and from the grain to the name, mm.
const MARGIN: f64 = 20.0;
const NOTCH: f64 = 5.0;
const HOLE: f64 = 2.0;
const NAME: f64 = 12.0;

/// What a line of a piece is; the class of its path.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FlatKind {
    /// The sewing line around the piece, with its cut-outs.
    Outline,
    /// Along which the cloth is cut.
    Cutting,
    Fold,
    Inside,
    Grain,
    Notch,
    Hole,
}

impl FlatKind {
    const ALL: [Self; 7] = [Self::Outline, Self::Cutting, Self::Fold, Self::Inside, Self::Grain, Self::Notch, Self::Hole];

    /// The kind that a class of a path names.
    pub(super) fn of_class(class: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|k| class.split_whitespace().any(|c| c == k.class()))
    }

    fn class(self) -> &'static str {
        match self {
            Self::Outline => "outline",
            Self::Cutting => "cutting",
            Self::Fold => "fold",
            Self::Inside => "inside",
            Self::Grain => "grain",
            Self::Notch => "notch",
            Self::Hole => "hole",
        }
    }
}

/// Writes pieces as they lie.
///
/// ```
/// use formats::{PlainPiece, svg};
///
/// let outline = kurbo::BezPath::from_svg("M0 0 L90 0 L90 60 L0 60 Z").expect("a path");
/// let text = svg("Apron", &[PlainPiece { name: "Patch & co".into(), outline, ..PlainPiece::default() }]);
/// assert!(text.contains("width=\"130mm\"") && text.contains("Patch &amp; co"));
/// ```
pub fn svg(title: &str, pieces: &[PlainPiece]) -> String {
    let boxes =
        pieces.iter().flat_map(|p| std::iter::once(&p.outline).chain(&p.cutting)).map(|p| (Affine::FLIP_Y * p.clone()).bounding_box());
    let around = boxes.reduce(|a, b| a.union(b)).unwrap_or_default().inflate(MARGIN, MARGIN);
    let (x, y, w, h) = (around.x0, around.y0, around.width(), around.height());
    let mut out = String::from("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    let _ = writeln!(out, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}mm\" height=\"{h}mm\" viewBox=\"{x} {y} {w} {h}\">");
    let _ = writeln!(out, "<title>{}</title>", escaped(title));
    out.push_str(STYLE);
    for piece in pieces {
        let _ = writeln!(out, "<g>\n<title>{}</title>", escaped(&piece.name));
        let colour = piece.colour.as_deref().unwrap_or("#ffffff");
        for (kind, path) in lines(piece) {
            let fill = if kind == FlatKind::Outline {
                format!(" fill=\"{}\" fill-opacity=\"0.15\" fill-rule=\"evenodd\"", escaped(colour))
            } else {
                " fill=\"none\"".to_owned()
            };
            let _ = writeln!(out, "<path class=\"{}\"{fill} d=\"{}\"/>", kind.class(), (Affine::FLIP_Y * path).to_svg());
        }
        let name = piece.grain.map(|[low, _]| (Point::new(low.x, low.y - NAME), piece.name.clone()));
        for (at, text) in piece.texts.iter().chain(&name) {
            let _ = writeln!(out, "<text x=\"{:.2}\" y=\"{:.2}\">{}</text>", at.x, -at.y, escaped(text));
        }
        out.push_str("</g>\n");
    }
    out.push_str("</svg>\n");
    out
}

/// All lines of a piece with their kinds.
pub(crate) fn lines(piece: &PlainPiece) -> Vec<(FlatKind, BezPath)> {
    let mut whole = piece.outline.clone();
    piece.cutouts.iter().for_each(|c| whole.extend(c.elements().iter().copied()));
    let mut all = vec![(FlatKind::Outline, whole)];
    all.extend(piece.cutting.iter().map(|c| (FlatKind::Cutting, c.clone())));
    all.extend(piece.inside.iter().cloned());
    for (at, double) in &piece.notches {
        all.extend(notch(&piece.outline, *at, *double).into_iter().map(|l| (FlatKind::Notch, l.to_path(0.1))));
    }
    all.extend(piece.holes.iter().map(|p| (FlatKind::Hole, Circle::new(*p, HOLE).to_path(0.01))));
    all.extend(piece.grain.map(|[a, b]| (FlatKind::Grain, Line::new(a, b).to_path(0.1))));
    all
}

/// One or two short strokes from a place of the outline into the cloth, which lies to the left of it.
fn notch(outline: &BezPath, at: Point, double: bool) -> Vec<Line> {
    let along = super::along(outline, at);
    let inwards = Vec2::new(-along.y, along.x) * NOTCH;
    let sides: &[f64] = if double { &[-1.5, 1.5] } else { &[0.0] };
    sides.iter().map(|s| Line::new(at + along * *s, at + along * *s + inwards)).collect()
}

const STYLE: &str = "<style>path{stroke:#1f2a44;stroke-width:0.5}.cutting{stroke-width:0.7}.fold{stroke-dasharray:9 3 2 3}\
.inside{stroke-dasharray:8 4}.grain,.notch,.hole{stroke-width:0.4}text{font:9px sans-serif;text-anchor:middle;fill:#1f2a44}</style>\n";

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}
