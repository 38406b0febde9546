//! Flat pieces as SVG at true scale (SVG 1.1): one user unit is a millimetre, a group for every piece, a class for every
//! kind of line.

use std::fmt::Write;

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

/// One piece; coordinates are mm on the table with y downwards.
#[derive(Clone, Debug, PartialEq)]
pub struct FlatPiece {
    /// As the designer called it.
    pub name: String,
    /// `#rrggbb` of its fabric.
    pub colour: String,
    /// Lines as the data of SVG paths.
    pub lines: Vec<(FlatKind, String)>,
    /// Texts with their places.
    pub texts: Vec<([f64; 2], String)>,
}

impl FlatKind {
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

/// Writes pieces; `view` is left, top, width and height in mm.
///
/// ```
/// use formats::{FlatKind, FlatPiece, svg};
///
/// let patch = FlatPiece { name: "Patch & co".into(), colour: "#ffffff".into(), lines: vec![(FlatKind::Outline, "M0,0 L90,0 L90,60 Z".into())], texts: Vec::new() };
/// let text = svg("Apron", [0.0, 0.0, 90.0, 60.0], &[patch]);
/// assert!(text.contains("width=\"90mm\"") && text.contains("Patch &amp; co"));
/// ```
pub fn svg(title: &str, view: [f64; 4], pieces: &[FlatPiece]) -> String {
    let [x, y, w, h] = view;
    let mut out = String::from("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    let _ = writeln!(out, "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}mm\" height=\"{h}mm\" viewBox=\"{x} {y} {w} {h}\">");
    let _ = writeln!(out, "<title>{}</title>", escaped(title));
    out.push_str(STYLE);
    for piece in pieces {
        let _ = writeln!(out, "<g>\n<title>{}</title>", escaped(&piece.name));
        for (kind, d) in &piece.lines {
            let fill = if *kind == FlatKind::Outline {
                format!(" fill=\"{}\" fill-opacity=\"0.15\" fill-rule=\"evenodd\"", piece.colour)
            } else {
                " fill=\"none\"".to_owned()
            };
            let _ = writeln!(out, "<path class=\"{}\"{fill} d=\"{}\"/>", kind.class(), escaped(d));
        }
        for ([x, y], text) in &piece.texts {
            let _ = writeln!(out, "<text x=\"{x:.2}\" y=\"{y:.2}\">{}</text>", escaped(text));
        }
        out.push_str("</g>\n");
    }
    out.push_str("</svg>\n");
    out
}

const STYLE: &str = "<style>path{stroke:#1f2a44;stroke-width:0.5}.cutting{stroke-width:0.7}.fold{stroke-dasharray:9 3 2 3}\
.inside{stroke-dasharray:8 4}.grain,.notch,.hole{stroke-width:0.4}text{font:9px sans-serif;text-anchor:middle;fill:#1f2a44}</style>\n";

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}
