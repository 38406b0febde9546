//! What the shapes of a piece must obey: lines have a length, loops do not cross, cut-outs and paths lie within the cloth.

use super::Checked;
use crate::curve::from_kurbo;

use crate::{Costume, LineSpot, Pattern, PatternPiece, Point, Purpose, Refusal, RefusalKind, limits};
use kurbo::{ParamCurve, PathSeg, Shape as _};

/// Straight parts that stand for a curved line in tests for crossings.
const PARTS: usize = 16;

/// A straight part of a line, by its ends, the line and the chain (a loop or a path inside) that the line is in.
#[derive(Clone, Copy)]
struct Part {
    a: Point,
    b: Point,
    line: usize,
    chain: usize,
}

pub(super) fn piece(piece: &PatternPiece) -> Checked {
    for line in &piece.lines {
        let ends = line.curve.start().distance(line.curve.end());
        let closed = line.from == line.to;
        if line.length.is_nan() || line.length < limits::EDGE || (!closed && ends < limits::EDGE) {
            let item = item(piece, index_of(piece, line.id));
            return Err(Refusal::of(item, RefusalKind::NoLength { shortest: limits::EDGE }));
        }
    }
    let loops: Vec<Vec<Part>> = loops(piece).enumerate().map(|(k, lines)| parts(piece, lines, k)).collect();
    let all: Vec<Part> = loops.concat();
    if let Some((a, b)) = crossing(&all) {
        let kind = RefusalKind::Crosses { lines: [a, b].map(|l| piece.lines[l].id), spots: [a, b].map(|l| spot(piece, l)) };
        return Err(Refusal::of(&piece.name, kind));
    }
    let outline = piece.outline_path();
    if outline.area() <= 0.0 {
        return Err(Refusal::of(&piece.name, RefusalKind::InsideOut));
    }
    for (k, cutout) in piece.cutouts.iter().enumerate() {
        let path = kurbo::BezPath::from_path_segments(cutout.iter().map(|&l| piece.lines[l].curve));
        let lies = outline.contains(piece.lines[cutout[0]].curve.start());
        let apart = piece.cutouts[..k].iter().all(|other| {
            let there = kurbo::BezPath::from_path_segments(other.iter().map(|&l| piece.lines[l].curve));
            !there.contains(piece.lines[cutout[0]].curve.start()) && !path.contains(piece.lines[other[0]].curve.start())
        });
        if path.area() >= 0.0 || !lies || !apart {
            let item = format!("{}, cut-out {}", piece.name, k + 1);
            return Err(Refusal::of(item, RefusalKind::CutoutOutside));
        }
    }
    inside(piece, &all)
}

fn loops(piece: &PatternPiece) -> impl Iterator<Item = &Vec<usize>> {
    std::iter::once(&piece.outline).chain(&piece.cutouts)
}

/// Paths lie within the cloth; they may begin and end on its edges.
fn inside(piece: &PatternPiece, loops: &[Part]) -> Checked {
    let cloth = piece.path();
    for path in &piece.inside {
        let lines = parts(piece, &path.lines, usize::MAX);
        let refuse = |kind: RefusalKind| Err(Refusal::of(format!("{}, {}", piece.name, path.purpose.words()), kind));
        let meets = |p: &Part, q: &Part| !shares_end(p, q) && segments_meet(p.a, p.b, q.a, q.b);
        let crosses = lines.iter().any(|p| loops.iter().any(|q| meets(p, q)));
        let on_edge = lines.iter().any(|p| loops.iter().any(|q| lies_on(p, q)));
        let middle = |l: usize| piece.lines[l].curve.eval(0.5);
        if crosses || on_edge || path.lines.iter().any(|&l| !cloth.contains(middle(l))) {
            return refuse(RefusalKind::PathOutside { purpose: path.purpose });
        }
        if let Some((a, b)) = crossing(&lines) {
            return refuse(RefusalKind::PathOnItself { along: a == b });
        }
    }
    Ok(())
}

/// What the mesh follows (folds, dart legs, lines that are sewn or held) does not cross.
pub(super) fn embedded(costume: &Costume, pattern: &Pattern) -> Checked {
    for (k, piece) in pattern.pieces.iter().enumerate().filter(|(_, p)| p.twin_of.is_none()) {
        let followed = pattern.embedded_paths(k);
        for (n, &i) in followed.iter().enumerate() {
            let these = parts(piece, &piece.inside[i].lines, i);
            for &j in &followed[..n] {
                let those = parts(piece, &piece.inside[j].lines, j);
                let (this, other) = (piece.inside[i].purpose.words(), piece.inside[j].purpose);
                let item = || format!("{}, {this}", costume.piece_name(piece.id));
                if these.iter().any(|p| those.iter().any(|q| lies_on(p, q))) {
                    return Err(Refusal::of(item(), RefusalKind::PathsMeet { other, along: true }));
                }
                if these.iter().any(|p| those.iter().any(|q| !shares_end(p, q) && segments_meet(p.a, p.b, q.a, q.b))) {
                    return Err(Refusal::of(item(), RefusalKind::PathsMeet { other, along: false }));
                }
            }
        }
    }
    Ok(())
}

impl Pattern {
    /// The paths inside a piece that mesh edges must follow.
    pub fn embedded_paths(&self, piece: usize) -> Vec<usize> {
        let p = &self.pieces[piece];
        let sewn = |line: usize| self.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)).any(|r| (r.piece, r.line) == (piece, line));
        let held = |line: usize| p.along.iter().any(|a| a.line == line && a.finish.holds());
        let follows = |purpose: Purpose| matches!(purpose, Purpose::Fold { .. } | Purpose::DartLeg);
        (0..p.inside.len()).filter(|&i| follows(p.inside[i].purpose) || p.inside[i].lines.iter().any(|&l| sewn(l) || held(l))).collect()
    }
}

fn index_of(piece: &PatternPiece, id: crate::LineId) -> usize {
    piece.line(id).unwrap_or_default()
}

fn spot(piece: &PatternPiece, line: usize) -> LineSpot {
    if let Some(i) = piece.outline.iter().position(|&l| l == line) {
        return LineSpot::Edge(i + 1);
    }
    piece.cutouts.iter().position(|c| c.contains(&line)).map_or(LineSpot::Inside, |i| LineSpot::CutOut(i + 1))
}

fn item(piece: &PatternPiece, line: usize) -> String {
    format!("{}, {}", piece.name, spot(piece, line).words())
}

/// The straight parts of a chain of lines.
fn parts(piece: &PatternPiece, lines: &[usize], chain: usize) -> Vec<Part> {
    let mut found = Vec::new();
    for &line in lines {
        let curve = piece.lines[line].curve;
        let n = if matches!(curve, PathSeg::Line(_)) { 1 } else { PARTS };
        let at = |k: usize| from_kurbo(if k == n { curve.end() } else { curve.eval(k as f64 / n as f64) });
        found.extend((0..n).map(|k| Part { a: at(k), b: at(k + 1), line, chain }));
    }
    found
}

/// The first two lines that cross or touch apart from a shared end. Parts are swept in the order of their left ends, so
/// that only those above each other are compared.
fn crossing(parts: &[Part]) -> Option<(usize, usize)> {
    let n = parts.len();
    let left = |i: usize| parts[i].a.x.min(parts[i].b.x);
    let follows = |i: usize, j: usize| parts[i].chain == parts[j].chain && parts[i].b == parts[j].a;
    let mut first: Option<(usize, usize)> = None;
    let mut note = |pair: (usize, usize)| first = Some(first.map_or(pair, |f| f.min(pair)));
    let mut order: Vec<usize> = (0..n).collect();
    order.sort_by(|a, b| left(*a).total_cmp(&left(*b)));
    let mut open: Vec<usize> = Vec::new();
    for &i in &order {
        let p = parts[i];
        open.retain(|&j| parts[j].a.x.max(parts[j].b.x) >= left(i));
        for &j in &open {
            let q = parts[j];
            let met = if follows(i, j) {
                folds_back((p.a, p.b, q.b))
            } else if follows(j, i) {
                folds_back((q.a, q.b, p.b))
            } else {
                segments_meet(p.a, p.b, q.a, q.b)
            };
            if met {
                note((i.min(j), i.max(j)));
            }
        }
        open.push(i);
    }
    first.map(|(i, j)| (parts[i].line, parts[j].line))
}

/// Whether a closed polygon crosses itself; neighbours that lie on each other do not count.
pub(crate) fn polygon_crosses(points: &[Point]) -> bool {
    let n = points.len();
    let parts: Vec<Part> = (0..n).map(|k| Part { a: points[k], b: points[(k + 1) % n], line: k, chain: 0 }).collect();
    crossing(&parts).is_some_and(|(i, j)| j - i > 1 && j - i + 1 < n)
}

fn shares_end(p: &Part, q: &Part) -> bool {
    [p.a, p.b].iter().any(|x| *x == q.a || *x == q.b)
}

/// Whether two parts that share an end lie on each other.
fn lies_on(p: &Part, q: &Part) -> bool {
    let from = |shared: Point, x: Point, y: Point| folds_back((x, shared, y));
    (p.a == q.a && from(p.a, p.b, q.b))
        || (p.a == q.b && from(p.a, p.b, q.a))
        || (p.b == q.a && from(p.b, p.a, q.b))
        || (p.b == q.b && from(p.b, p.a, q.a))
}

/// Twice the signed area of the triangle of three points: positive when the way turns left at the second.
pub(crate) fn turn(a: Point, b: Point, c: Point) -> f64 {
    (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)
}

/// Two segments a-b and b-c that lie on each other.
fn folds_back((a, b, c): (Point, Point, Point)) -> bool {
    let along = (a.x - b.x) * (c.x - b.x) + (a.y - b.y) * (c.y - b.y);
    along > 0.0 && turn(a, b, c).abs() < 1e-9 * along
}

fn segments_meet(a: Point, b: Point, c: Point, d: Point) -> bool {
    if a.x.max(b.x) < c.x.min(d.x) || c.x.max(d.x) < a.x.min(b.x) || a.y.max(b.y) < c.y.min(d.y) || c.y.max(d.y) < a.y.min(b.y) {
        return false;
    }
    turn(a, b, c) * turn(a, b, d) <= 0.0 && turn(c, d, a) * turn(c, d, b) <= 0.0
}
