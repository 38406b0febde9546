//! Loops from elsewhere, in files or traced, as points of a new outline: few nodes where they are, curves between them.

use crate::curve::from_kurbo;
use crate::fit::fit;
use crate::{LoopPoint, Point, limits};
use kurbo::{BezPath, CubicBez, ParamCurve, PathSeg, Shape};

/// Lines that turn by more than this meet in a corner, radians (12 degrees).
const CORNER: f64 = 0.21;
/// A line this long is one that was meant straight, mm, and turns by more than this next to it (1 degree).
const STRAIGHT: f64 = 20.0;
const TURN: f64 = 0.0175;
/// And so many times longer than its neighbour, whatever the turn.
const LONGER: f64 = 4.0;
/// Points on lines of a curve, so that it keeps near them between their ends as well, mm.
const BETWEEN: f64 = 4.0;
/// Fewer short lines in a row are kept as they are.
const FEW: usize = 4;

/// The points of a closed path, counter-clockwise. Rows of short lines become curves that pass all their points within a
/// distance (mm); at `corners` (and, where none are known, where the way turns) they are parted.
pub fn drawn_loop(path: &BezPath, corners: &[kurbo::Point], within: f64) -> Vec<LoopPoint> {
    let path = if path.area() < 0.0 { path.reverse_subpaths() } else { path.clone() };
    let segments: Vec<PathSeg> = path.segments().filter(|s| s.start().distance(s.end()) > 1e-6 || !matches!(s, PathSeg::Line(_))).collect();
    if segments.is_empty() {
        return Vec::new();
    }
    let n = segments.len();
    let parts: Vec<bool> = (0..n).map(|k| parts(&segments[(k + n - 1) % n], &segments[k], corners)).collect();
    // begin where two stretches meet, or anywhere on a closed curve
    let first = parts.iter().position(|p| *p).unwrap_or(0);
    let mut made: Vec<PathSeg> = Vec::new();
    let mut k = 0;
    while k < n {
        let mut end = k + 1;
        while end < n && !parts[(first + end) % n] {
            end += 1;
        }
        let stretch: Vec<PathSeg> = (k..end).map(|i| segments[(first + i) % n]).collect();
        made.extend(simple(&stretch, within));
        k = end;
    }
    let made = without_specks(made);
    made.iter().map(loop_point).collect()
}

/// A path that is not closed, in the same way; each curve begins where the one before ended.
pub fn drawn_path(path: &BezPath, within: f64) -> Vec<CubicBez> {
    let segments: Vec<PathSeg> = path.segments().collect();
    let mut made = Vec::new();
    let mut from = 0;
    for k in 1..=segments.len() {
        if k == segments.len() || parts(&segments[k - 1], &segments[k], &[]) {
            made.extend(simple(&segments[from..k], within));
            from = k;
        }
    }
    without_specks(made).iter().map(PathSeg::to_cubic).collect()
}

/// Whether two segments that meet belong to different stretches.
fn parts(before: &PathSeg, after: &PathSeg, corners: &[kurbo::Point]) -> bool {
    let (PathSeg::Line(a), PathSeg::Line(b)) = (before, after) else { return true };
    if !corners.is_empty() {
        return corners.iter().any(|c| c.distance(b.p0) < 0.1);
    }
    let (u, v) = (a.p1 - a.p0, b.p1 - b.p0);
    let turn = u.cross(v).atan2(u.dot(v)).abs();
    let (long, short) = (u.hypot().max(v.hypot()), u.hypot().min(v.hypot()));
    turn > CORNER || (long > STRAIGHT && (turn > TURN || long > LONGER * short))
}

/// A stretch with as few segments as it needs.
fn simple(stretch: &[PathSeg], within: f64) -> Vec<PathSeg> {
    let (Some(first), Some(last)) = (stretch.first(), stretch.last()) else { return Vec::new() };
    if stretch.len() == 1 {
        return stretch.to_vec();
    }
    let points: Vec<kurbo::Point> = std::iter::once(first.start()).chain(stretch.iter().map(PathSeg::end)).collect();
    let chord = last.end() - first.start();
    let length = chord.hypot();
    let off = |p: &kurbo::Point| if length > 1e-6 { chord.cross(*p - first.start()).abs() / length } else { (*p - first.start()).hypot() };
    if length > 1e-6 && points.iter().all(|p| off(p) < 0.4 * within) {
        return vec![PathSeg::Line(kurbo::Line::new(first.start(), last.end()))];
    }
    if stretch.len() < FEW {
        return stretch.to_vec();
    }
    let dense = |pair: &[kurbo::Point]| {
        let parts = (pair[0].distance(pair[1]) / BETWEEN).ceil().max(1.0) as usize;
        let [a, b] = [pair[0], pair[1]];
        (0..parts).map(move |k| a.lerp(b, k as f64 / parts as f64)).collect::<Vec<_>>()
    };
    let mut way: Vec<kurbo::Point> = points.windows(2).flat_map(dense).collect();
    way.extend(points.last());
    let curves = fit(&way, within);
    if curves.is_empty() || curves.len() >= stretch.len() { stretch.to_vec() } else { curves.into_iter().map(PathSeg::Cubic).collect() }
}

/// Joins what is shorter than a line may be to its neighbour.
fn without_specks(made: Vec<PathSeg>) -> Vec<PathSeg> {
    let mut kept: Vec<PathSeg> = Vec::with_capacity(made.len());
    for segment in made {
        let speck = segment.start().distance(segment.end()) < limits::EDGE && matches!(segment, PathSeg::Line(_));
        match kept.last_mut().filter(|_| speck) {
            Some(PathSeg::Line(l)) => l.p1 = segment.end(),
            Some(PathSeg::Quad(q)) => q.p2 = segment.end(),
            Some(PathSeg::Cubic(c)) => c.p3 = segment.end(),
            None => kept.push(segment),
        }
    }
    kept
}

fn loop_point(segment: &PathSeg) -> LoopPoint {
    let p = segment.start();
    LoopPoint { x: p.x, y: p.y, handles: handles(&segment.to_cubic()) }
}

/// The control points of a curve as a document keeps them; none for one that is straight.
pub fn handles(c: &CubicBez) -> Option<[Point; 2]> {
    let chord = c.p3 - c.p0;
    let off = |q: kurbo::Point| chord.cross(q - c.p0).abs() / chord.hypot().max(1e-9);
    let is_straight = chord.hypot() > 1e-6 && off(c.p1).max(off(c.p2)) < 1e-3;
    (!is_straight).then(|| [from_kurbo(c.p1), from_kurbo(c.p2)])
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{Circle, Rect};

    #[test]
    fn a_polyline_becomes_the_few_curves_and_lines_that_it_was() {
        // a plate of three straight sides and a half circle, flattened to 0.01 mm
        let mut path = BezPath::new();
        path.move_to((0.0, 0.0));
        path.line_to((300.0, 0.0));
        path.line_to((300.0, 200.0));
        let arc = kurbo::Arc::new((150.0, 200.0), (150.0, 150.0), 0.0, std::f64::consts::PI, 0.0);
        path.extend(arc.append_iter(1e-4));
        path.close_path();
        let mut flat = BezPath::new();
        kurbo::flatten(&path, 0.01, |e| flat.push(e));
        for corners in [
            vec![],
            vec![
                kurbo::Point::new(0.0, 0.0),
                kurbo::Point::new(300.0, 0.0),
                kurbo::Point::new(300.0, 200.0),
                kurbo::Point::new(0.0, 200.0),
            ],
        ] {
            let points = drawn_loop(&flat, &corners, 0.03);
            assert!((4..=10).contains(&points.len()), "{} points of {}", points.len(), flat.elements().len());
            let area = |points: &[LoopPoint]| {
                let mut made = BezPath::new();
                made.move_to((points[0].x, points[0].y));
                for (k, p) in points.iter().enumerate() {
                    let next = points[(k + 1) % points.len()];
                    match p.handles {
                        Some([a, b]) => made.curve_to((a.x, a.y), (b.x, b.y), (next.x, next.y)),
                        None => made.line_to((next.x, next.y)),
                    }
                }
                made.area()
            };
            let exact = 60_000.0 + std::f64::consts::PI * 150.0 * 150.0 / 2.0;
            assert!((area(&points) / exact - 1.0).abs() < 2e-4, "{} and {exact}", area(&points));
        }
        // the other way round, and curves that are there already
        let square = Rect::new(0.0, 0.0, 90.0, 60.0).to_path(0.1).reverse_subpaths();
        let points = drawn_loop(&square, &[], 0.1);
        assert_eq!(points.len(), 4);
        assert!(points.iter().all(|p| p.handles.is_none()));
        assert_eq!(drawn_loop(&Circle::new((0.0, 0.0), 50.0).to_path(0.01), &[], 0.1).len(), 4);
    }
}
