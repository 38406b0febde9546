//! Small costumes and short ways to their lines.
#![allow(dead_code)]

use costume::{
    Costume, Drawing, Edit, Line, LineId, LineRef, LoopPoint, NodeId, Pattern, Piece, PieceId, Point, apply, arc_length, line_curve,
    resolve, write,
};

pub fn done(costume: &Costume, edit: Edit) -> Costume {
    apply(costume, &edit).unwrap_or_else(|e| panic!("{edit:?} is refused: {e}"))
}

pub fn points(list: &[(f64, f64)]) -> Vec<LoopPoint> {
    list.iter().map(|&(x, y)| Point::new(x, y).into()).collect()
}

pub fn add(name: &str, x: f64, list: &[(f64, f64)]) -> Edit {
    Edit::AddPiece { name: name.into(), at: Point::new(x, 0.0), points: points(list), fold: None }
}

/// Two rectangles of 300 x 500 mm beside each other.
pub fn two_panels() -> Costume {
    let rectangle = [(0.0, 0.0), (300.0, 0.0), (300.0, 500.0), (0.0, 500.0)];
    let left = done(&Costume::new("Test"), add("Left", 0.0, &rectangle));
    done(&left, add("Right", 400.0, &rectangle))
}

pub fn drawing(piece: &Piece) -> &Drawing {
    piece.drawing().expect("a drawn piece")
}

/// The id of the k-th line of the outline.
pub fn line(piece: &Piece, k: usize) -> LineId {
    drawing(piece).outline[k]
}

/// The k-th line of the outline.
pub fn line_of(piece: &Piece, k: usize) -> Line {
    *drawing(piece).line(line(piece, k)).expect("a line")
}

/// The node at which the k-th line begins.
pub fn node(piece: &Piece, k: usize) -> NodeId {
    line_of(piece, k).from
}

pub fn edge(piece: &Piece, k: usize) -> LineRef {
    LineRef { piece: piece.id, line: line(piece, k) }
}

pub fn join(costume: &Costume, a: (usize, usize), b: (usize, usize)) -> Costume {
    let edit = Edit::Join { a: edge(&costume.pieces[a.0], a.1), b: edge(&costume.pieces[b.0], b.1) };
    done(costume, edit)
}

pub fn curve(piece: &Piece, k: usize) -> kurbo::PathSeg {
    line_curve(drawing(piece), &line_of(piece, k)).expect("a curve")
}

pub fn length(piece: &Piece, k: usize) -> f64 {
    arc_length(&curve(piece, k))
}

pub fn area(costume: &Costume, piece: PieceId) -> f64 {
    resolve(costume).piece(piece).expect("a piece").area()
}

/// Signed area of a closed polygon.
pub fn shoelace(points: &[Point]) -> f64 {
    let n = points.len();
    (0..n).map(|i| (points[i], points[(i + 1) % n])).map(|(p, q)| 0.5 * (p.x * q.y - q.x * p.y)).sum()
}

/// Lengths of both sides of the first seam.
pub fn sides(costume: &Costume) -> [f64; 2] {
    let pattern: Pattern = resolve(costume);
    let lengths = pattern.seam_lengths(&pattern.seams[0]);
    [lengths.a, lengths.b]
}

pub fn text(costume: &Costume) -> String {
    write(costume).expect("it can be written")
}
