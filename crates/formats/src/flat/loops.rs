//! From loose paths to pieces: which loop is an outline, which a cut-out of it, and what lies on which piece.

use super::{FlatKind, PlainPattern, PlainPiece, pattern_limits as limits};
use crate::ReadFault;
use crate::reading::at_most;
use kurbo::{BezPath, ParamCurve, PathEl, Point, Shape};

/// Ends nearer than this are one point, mm.
pub(super) const SAME: f64 = 0.05;
/// A loop within another that has at least this share of its area is its sewing line, and the other its cutting line.
const SEAM_LINE: f64 = 0.7;
/// Smaller loops are specks, mm².
const SPECK: f64 = 4.0;

/// One path without gaps.
pub(super) struct Part {
    /// What the file says it is.
    pub kind: Option<FlatKind>,
    pub path: BezPath,
    pub is_closed: bool,
    /// Where it stands in the file.
    pub place: String,
}

impl Part {
    /// Parts of a path, one for each of its stretches without a gap; a stretch that ends where it began is closed.
    pub fn of(path: &BezPath, kind: Option<FlatKind>, place: &str) -> Vec<Self> {
        let mut parts: Vec<Self> = Vec::new();
        let mut add = |one: Vec<PathEl>| {
            let mut path = BezPath::from_vec(one);
            if path.elements().len() < 2 {
                return;
            }
            let ends = (start(&path), end(&path));
            let closes = matches!(path.elements().last(), Some(PathEl::ClosePath));
            let meets = matches!(ends, (Some(a), Some(b)) if a.distance(b) < SAME);
            if !closes && meets && path.elements().len() > 2 {
                path.push(PathEl::ClosePath);
            }
            let is_closed = (closes || meets) && path.elements().len() > 2;
            parts.push(Self { kind, path, is_closed, place: place.to_owned() });
        };
        let mut one = Vec::new();
        for element in path.elements() {
            if matches!(element, PathEl::MoveTo(_)) {
                add(std::mem::take(&mut one));
            }
            one.push(*element);
        }
        add(one);
        parts
    }

    fn area(&self) -> f64 {
        self.path.area().abs()
    }

    /// A point of it half way along.
    fn middle(&self) -> Point {
        let count = self.path.segments().count();
        self.path.segments().nth(count / 2).map_or(Point::ZERO, |s| s.eval(0.5))
    }
}

fn start(path: &BezPath) -> Option<Point> {
    path.elements().first().and_then(PathEl::end_point)
}

fn end(path: &BezPath) -> Option<Point> {
    path.elements().iter().rev().find_map(PathEl::end_point)
}

/// Where a path begins and ends.
pub(super) fn ends(path: &BezPath) -> [Point; 2] {
    [start(path), end(path)].map(Option::unwrap_or_default)
}

/// Refuses what is beyond the limits, or no number.
pub(super) fn within_limits(parts: &[Part]) -> Result<(), ReadFault> {
    at_most("paths", parts.len(), limits::PATHS)?;
    at_most("points", parts.iter().map(|p| p.path.elements().len()).sum(), limits::POINTS)?;
    for part in parts {
        let far = |p: &Point| !p.is_finite() || p.x.abs().max(p.y.abs()) > limits::REACH;
        let beyond = |e: &PathEl| match e {
            PathEl::MoveTo(p) | PathEl::LineTo(p) => far(p),
            PathEl::QuadTo(a, p) => far(a) || far(p),
            PathEl::CurveTo(a, b, p) => far(a) || far(b) || far(p),
            PathEl::ClosePath => false,
        };
        if part.path.elements().iter().any(beyond) {
            return Err(ReadFault::Damaged(format!("{}: a point is no number or farther than 100 m away", part.place)));
        }
    }
    Ok(())
}

/// The pieces that one group of parts makes; what belongs to none is told.
pub(super) fn pieces(name: &str, parts: Vec<Part>, into: &mut PlainPattern) -> Result<(), ReadFault> {
    let (mut closed, open): (Vec<Part>, Vec<Part>) = parts.into_iter().partition(|p| p.is_closed && !p.is_mark());
    let is_outline = |p: &Part| p.kind == Some(FlatKind::Outline);
    // the largest come first, and those that the file calls outlines before all others
    closed.sort_by(|a, b| is_outline(b).cmp(&is_outline(a)).then(b.area().total_cmp(&a.area())));
    let known = closed.iter().any(is_outline);
    let mut made: Vec<PlainPiece> = Vec::new();
    let mut tries = 0usize;
    for part in closed {
        if part.area() < SPECK {
            into.left_out.push(format!("{}: a loop smaller than 4 mm²", part.place));
            continue;
        }
        tries += made.len() + 1;
        at_most("loops side by side", tries, limits::PATHS * 4)?;
        let at = part.middle();
        let home = made.iter_mut().find(|m| m.outline.contains(at) || m.cutting.iter().any(|c| c.contains(at)));
        match home {
            _ if known && part.kind == Some(FlatKind::Cutting) => {
                // one place alone may lie level with a corner of the cutting line, where it is hard to say
                let around = |s: kurbo::PathSeg| part.path.contains(s.eval(0.43));
                let encloses = |m: &PlainPiece| m.outline.segments().take(8).filter(|s| around(*s)).count() > 1;
                // that of a cut-out lies within its piece
                let of = made.iter().position(encloses).or_else(|| made.iter().position(|m| m.outline.contains(at)));
                if let Some(piece) = of.map(|k| &mut made[k]) {
                    piece.cutting.push(part.path);
                }
            }
            Some(piece) if !known && piece.cutting.is_empty() && part.area() > SEAM_LINE * piece.outline.area().abs() => {
                let cutting = std::mem::replace(&mut piece.outline, part.path);
                piece.cutting.push(cutting);
            }
            Some(piece) => piece.cutouts.push(part.path),
            None => {
                let name = if made.is_empty() { name.to_owned() } else { format!("{name} {}", made.len() + 1) };
                made.push(PlainPiece { name, outline: part.path, ..PlainPiece::default() });
            }
        }
    }
    at_most("pieces", into.pieces.len() + made.len(), limits::PIECES)?;
    for part in open {
        lay(part, &mut made, &mut into.left_out);
    }
    into.pieces.append(&mut made);
    Ok(())
}

impl Part {
    /// Whether it is a mark however it is drawn.
    fn is_mark(&self) -> bool {
        matches!(self.kind, Some(FlatKind::Hole | FlatKind::Notch | FlatKind::Grain | FlatKind::Fold | FlatKind::Inside))
    }
}

/// Puts an open path or a mark on the piece that it lies on.
fn lay(part: Part, made: &mut [PlainPiece], left_out: &mut Vec<String>) {
    let ends = ends(&part.path);
    let middle = part.middle();
    // a notch begins on the outline, a fold may lie on it
    let inwards = part.path.bounding_box().center();
    let of = made
        .iter()
        .position(|m| [middle, ends[1], inwards].iter().any(|p| m.outline.contains(*p)))
        .or_else(|| made.iter().position(|m| distance(&m.outline, middle) < 1.0));
    let Some(piece) = of.map(|k| &mut made[k]) else {
        left_out.push(format!("{}: an open line on no piece", part.place));
        return;
    };
    match part.kind {
        Some(FlatKind::Grain) => piece.grain = Some(ends),
        Some(FlatKind::Notch) => {
            let on = if distance(&piece.outline, ends[0]) < distance(&piece.outline, ends[1]) { ends[0] } else { ends[1] };
            notch(piece, on);
        }
        Some(FlatKind::Hole) => piece.holes.push(inwards),
        Some(kind @ FlatKind::Fold) => piece.inside.push((kind, part.path)),
        _ => piece.inside.push((FlatKind::Inside, part.path)),
    }
}

/// A further notch; two side by side are a double one.
pub(super) fn notch(piece: &mut PlainPiece, on: Point) {
    match piece.notches.iter_mut().find(|(p, double)| !*double && p.distance(on) < 4.5) {
        Some(first) => *first = (first.0.midpoint(on), true),
        None => piece.notches.push((on, false)),
    }
}

/// From a point to a path, mm.
pub(super) fn distance(path: &BezPath, p: Point) -> f64 {
    use kurbo::ParamCurveNearest;
    path.segments().map(|s| s.nearest(p, 1e-3).distance_sq).fold(f64::MAX, f64::min).sqrt()
}

/// Joins stretches end to end into as long paths as they make.
pub(super) fn chained(mut stretches: Vec<BezPath>) -> Vec<BezPath> {
    let mut made = Vec::new();
    while let Some(mut path) = stretches.pop() {
        while let Some(last) = end(&path) {
            if start(&path).is_some_and(|s| s.distance(last) < SAME) && path.elements().len() > 2 {
                break;
            }
            let meets = |p: &BezPath| [start(p), end(p)].iter().flatten().any(|e| e.distance(last) < SAME);
            let next = stretches.iter().position(meets);
            let Some(k) = next else { break };
            let found = stretches.swap_remove(k);
            let forwards = start(&found).is_some_and(|s| s.distance(last) < SAME);
            let found = if forwards { found } else { found.reverse_subpaths() };
            path.extend(found.elements().iter().skip(1).copied());
        }
        made.push(path);
    }
    made
}
