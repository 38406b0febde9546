//! Patterns as DXF (R12) in the garment layering of ASTM D6673: a block for every piece, and a layer for every kind of line.
//! Written as pairs here: the crate that reads DXF writes entities within blocks without handles of their own and tables
//! without names, which other readers refuse.

use super::{FlatKind, PlainPiece};
use kurbo::{BezPath, ParamCurve, PathEl, Point, Shape, Vec2};
use std::fmt::{Display, Write};

/// Curves are written as lines that keep this near, mm.
const NEAR: f64 = 0.01;
/// Height of texts, and from one to the next, mm.
const LETTERS: f64 = 8.0;
const LEADING: f64 = 12.0;
/// Layers of the standard that are written.
const LAYERS: [&str; 11] = ["1", "2", "3", "4", "6", "7", "8", "11", "13", "14", "15"];

/// Writes pieces; lengths are mm.
///
/// ```
/// use formats::{PlainPiece, dxf, read_pattern};
///
/// let square = "M0 0 L90 0 L90 90 L0 90 Z";
/// let patch = PlainPiece { name: "Patch".into(), outline: kurbo::BezPath::from_svg(square).expect("a path"), ..PlainPiece::default() };
/// let written = dxf("Apron", &[patch]);
/// assert_eq!(read_pattern("apron.dxf", &written)?.pieces[0].name, "Patch");
/// # Ok::<(), formats::ReadFault>(())
/// ```
pub fn dxf(style: &str, pieces: &[PlainPiece]) -> Vec<u8> {
    let mut file = Pairs(String::new());
    file.section("HEADER", |f| {
        f.put(9, "$ACADVER");
        f.put(1, "AC1009");
    });
    file.section("TABLES", tables);
    file.section("BLOCKS", |f| {
        for (k, piece) in pieces.iter().enumerate() {
            f.put(0, "BLOCK");
            f.put(8, "1");
            f.put(2, format_args!("PIECE{}", k + 1));
            f.put(70, 0);
            f.at(Point::ZERO);
            f.piece(piece);
            f.put(0, "ENDBLK");
            f.put(8, "1");
        }
    });
    file.section("ENTITIES", |f| {
        for (k, text) in [format!("STYLE NAME: {style}"), "UNITS: METRIC".into(), "VERSION: D6673".into()].iter().enumerate() {
            f.text("1", text, Point::new(0.0, -20.0 - LEADING * k as f64));
        }
        for k in 1..=pieces.len() {
            f.entity("INSERT", "1");
            f.put(2, format_args!("PIECE{k}"));
            f.at(Point::ZERO);
        }
    });
    file.put(0, "EOF");
    file.0.into_bytes()
}

fn tables(f: &mut Pairs) {
    f.put(0, "TABLE");
    f.put(2, "LTYPE");
    f.put(70, 1);
    for (code, value) in [
        (0, "LTYPE"),
        (2, "CONTINUOUS"),
        (70, "0"),
        (3, "Solid line"),
        (72, "65"),
        (73, "0"),
        (40, "0.0"),
        (0, "ENDTAB"),
        (0, "TABLE"),
        (2, "LAYER"),
    ] {
        f.put(code, value);
    }
    f.put(70, LAYERS.len());
    for layer in LAYERS {
        f.put(0, "LAYER");
        f.put(2, layer);
        f.put(70, 0);
        f.put(62, 7);
        f.put(6, "CONTINUOUS");
    }
    f.put(0, "ENDTAB");
}

/// Pairs of a group code and a value, each on a line of its own.
struct Pairs(String);

impl Pairs {
    fn put(&mut self, code: i32, value: impl Display) {
        let _ = write!(self.0, "{code:>3}\n{value}\n");
    }

    fn section(&mut self, name: &str, fill: impl FnOnce(&mut Self)) {
        self.put(0, "SECTION");
        self.put(2, name);
        fill(self);
        self.put(0, "ENDSEC");
    }

    fn entity(&mut self, kind: &str, layer: &str) {
        self.put(0, kind);
        self.put(8, layer);
    }

    fn at(&mut self, p: Point) {
        self.put(10, format_args!("{:.6}", p.x));
        self.put(20, format_args!("{:.6}", p.y));
        self.put(30, "0.0");
    }

    fn point(&mut self, layer: &str, p: Point) {
        self.entity("POINT", layer);
        self.at(p);
    }

    fn line(&mut self, layer: &str, [a, b]: [Point; 2]) {
        self.entity("LINE", layer);
        self.at(a);
        self.put(11, format_args!("{:.6}", b.x));
        self.put(21, format_args!("{:.6}", b.y));
        self.put(31, "0.0");
    }

    /// Text in the letters of every code page; others by their number. It has no line breaks, which would end the value.
    fn text(&mut self, layer: &str, text: &str, at: Point) {
        self.entity("TEXT", layer);
        self.at(at);
        self.put(40, format_args!("{LETTERS:.1}"));
        let mut plain = String::new();
        for c in text.chars().filter(|c| !c.is_control()) {
            if c.is_ascii() {
                plain.push(c);
            } else {
                let _ = write!(plain, "\\U+{:04X}", u32::from(c));
            }
        }
        self.put(1, plain);
    }

    /// A path as one polyline.
    fn path(&mut self, layer: &str, path: &BezPath) {
        let closed = matches!(path.elements().last(), Some(PathEl::ClosePath));
        let mut points: Vec<Point> = Vec::new();
        kurbo::flatten(path, NEAR, |e| points.extend(e.end_point()));
        if closed && points.first().zip(points.last()).is_some_and(|(a, b)| a.distance(*b) < 1e-6) {
            points.pop();
        }
        self.entity("POLYLINE", layer);
        self.put(66, 1);
        self.at(Point::ZERO);
        self.put(70, i32::from(closed));
        for p in points {
            self.entity("VERTEX", layer);
            self.at(p);
        }
        self.entity("SEQEND", layer);
    }

    fn piece(&mut self, piece: &PlainPiece) {
        self.path("1", piece.cutting.first().unwrap_or(&piece.outline));
        if !piece.cutting.is_empty() {
            self.path("14", &piece.outline);
        }
        // where lines meet, and on the way of those that are curved
        for segment in piece.outline.segments() {
            self.point("2", segment.start());
            if !matches!(segment, kurbo::PathSeg::Line(_)) {
                (1..4).for_each(|k| self.point("3", segment.eval(0.25 * f64::from(k))));
            }
        }
        // a double notch is two, side by side
        for (at, double) in &piece.notches {
            let sides: &[f64] = if *double { &[-1.5, 1.5] } else { &[0.0] };
            let along = super::along(&piece.outline, *at);
            sides.iter().for_each(|s| self.point("4", *at + along * *s));
        }
        piece.fold.iter().for_each(|ends| self.line("6", *ends));
        piece.grain.iter().for_each(|ends| self.line("7", *ends));
        let drawn = |kind: &FlatKind| matches!(kind, FlatKind::Inside | FlatKind::Fold);
        piece.inside.iter().filter(|(kind, _)| drawn(kind)).for_each(|(_, path)| self.path("8", path));
        piece.cutouts.iter().for_each(|path| self.path("11", path));
        piece.holes.iter().for_each(|p| self.point("13", *p));
        let middle = piece.outline.bounding_box().center();
        let said = [format!("Piece Name: {}", piece.name), format!("Quantity: {}", piece.count.unwrap_or(1)), "Size: M".into()];
        for (k, text) in said.iter().enumerate() {
            self.text("1", text, middle - Vec2::new(0.0, LEADING * k as f64));
        }
        piece.texts.iter().for_each(|(at, text)| self.text("15", &format!("Annotation: {text}"), *at));
    }
}
