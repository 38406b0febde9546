//! Curves of DXF as paths: bulges, arcs, ellipses and splines.

use kurbo::{Affine, Arc, BezPath, PathEl, Point, Shape, Vec2};

/// Accuracy of arcs as cubics, mm at the scale of the file.
const EXACT: f64 = 1e-3;
/// Points along each span of a spline.
const SPANS: usize = 64;

/// A polyline whose stretches may bulge: the tangent of a quarter of the angle that each spans.
pub(super) fn bulged(points: &[(Point, f64)], closed: bool) -> BezPath {
    let mut path = BezPath::new();
    let Some((first, _)) = points.first() else { return path };
    path.move_to(*first);
    let count = if closed { points.len() } else { points.len() - 1 };
    for k in 0..count {
        let ((from, bulge), (to, _)) = (points[k], points[(k + 1) % points.len()]);
        if closed && k + 1 == points.len() && bulge == 0.0 {
            break;
        }
        if bulge == 0.0 || !bulge.is_finite() || from.distance(to) < 1e-9 {
            path.line_to(to);
            continue;
        }
        // the centre lies on the bisector of the chord
        let sweep = 4.0 * bulge.atan();
        let chord = to - from;
        let out = Vec2::new(-chord.y, chord.x) * ((1.0 - bulge * bulge) / (4.0 * bulge));
        let centre = from.midpoint(to) + out;
        let start = (from - centre).atan2();
        let radius = (from - centre).hypot();
        append(&mut path, Arc::new(centre, (radius, radius), start, sweep, 0.0));
    }
    if closed {
        path.close_path();
    }
    path
}

fn append(path: &mut BezPath, arc: Arc) {
    path.extend(arc.append_iter(EXACT));
}

/// A circular arc from one angle to another, degrees counter-clockwise.
pub(super) fn arc(centre: Point, radius: f64, from: f64, to: f64) -> BezPath {
    let sweep = (to - from).rem_euclid(360.0);
    let sweep = if sweep == 0.0 { 360.0 } else { sweep };
    elliptic(Arc::new(centre, (radius, radius), from.to_radians(), sweep.to_radians(), 0.0))
}

/// Part of an ellipse by its half axis and the ratio of the other, between two parameters in radians.
pub(super) fn ellipse(centre: Point, axis: Vec2, ratio: f64, from: f64, to: f64) -> BezPath {
    let whole = std::f64::consts::TAU;
    let sweep = (to - from).rem_euclid(whole);
    let sweep = if sweep < 1e-9 { whole } else { sweep };
    elliptic(Arc::new(centre, (axis.hypot(), axis.hypot() * ratio), from, sweep, axis.atan2()))
}

fn elliptic(arc: Arc) -> BezPath {
    let mut path = arc.to_path(EXACT);
    if (arc.sweep_angle.abs() - std::f64::consts::TAU).abs() < 1e-9 {
        // ends where it began, to the last bit
        if let (Some(PathEl::MoveTo(start)), Some(PathEl::CurveTo(_, _, end))) =
            (path.elements().first().copied(), path.elements_mut().last_mut())
        {
            *end = start;
        }
        path.close_path();
    }
    path
}

/// A B-spline, rational with `weights`; points of it so dense that lines between them are the curve. None when its knots do
/// not fit its points.
pub(super) fn spline(degree: usize, knots: &[f64], points: &[Point], weights: &[f64]) -> Option<Vec<Point>> {
    let n = points.len();
    if degree == 0
        || degree > 7
        || n <= degree
        || knots.len() != n + degree + 1
        || knots.windows(2).any(|w| !(w[1] - w[0]).is_finite() || w[1] < w[0])
    {
        return None;
    }
    let weight = |k: usize| weights.get(k).copied().filter(|w| w.is_finite() && *w > 0.0).unwrap_or(1.0);
    let at = |u: f64, span: usize| {
        // de Boor on points with their weights
        let mut d: Vec<[f64; 3]> = (0..=degree)
            .map(|j| {
                let k = span - degree + j;
                let w = weight(k);
                [points[k].x * w, points[k].y * w, w]
            })
            .collect();
        for r in 1..=degree {
            for j in (r..=degree).rev() {
                let i = span - degree + j;
                let width = knots[i + degree - r + 1] - knots[i];
                let t = if width > 0.0 { (u - knots[i]) / width } else { 0.0 };
                for c in 0..3 {
                    d[j][c] = (1.0 - t) * d[j - 1][c] + t * d[j][c];
                }
            }
        }
        Point::new(d[degree][0] / d[degree][2], d[degree][1] / d[degree][2])
    };
    let mut made = vec![];
    for span in degree..n {
        let (a, b) = (knots[span], knots[span + 1]);
        if b > a {
            let from = usize::from(!made.is_empty());
            made.extend((from..=SPANS).map(|k| at(a + (b - a) * k as f64 / SPANS as f64, span)));
        }
    }
    (made.len() > 1).then_some(made)
}

/// Points joined by lines.
pub(super) fn polyline(points: &[Point]) -> BezPath {
    let mut path = BezPath::new();
    for (k, p) in points.iter().enumerate() {
        if k == 0 { path.move_to(*p) } else { path.line_to(*p) }
    }
    path
}

/// Where a block is put: scaled, turned and moved.
pub(super) fn placed(base: Point, scale: (f64, f64), degrees: f64, to: Point) -> Affine {
    Affine::translate(to.to_vec2())
        * Affine::rotate(degrees.to_radians())
        * Affine::scale_non_uniform(scale.0, scale.1)
        * Affine::translate(-base.to_vec2())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_bulge_of_one_is_a_half_circle_and_splines_are_their_circle() {
        let half = bulged(&[(Point::new(0.0, 0.0), 1.0), (Point::new(100.0, 0.0), 0.0)], true);
        assert!((half.area().abs() - std::f64::consts::PI * 1250.0).abs() < 0.05, "{}", half.area());
        // counter-clockwise from the left end: it lies below
        assert!(half.bounding_box().y0 < -49.9);
        // the quarter circle as a rational spline of the second degree
        let w = 0.5f64.sqrt();
        let quarter = [Point::new(100.0, 0.0), Point::new(100.0, 100.0), Point::new(0.0, 100.0)];
        let made = spline(2, &[0.0, 0.0, 0.0, 1.0, 1.0, 1.0], &quarter, &[1.0, w, 1.0]).expect("a curve");
        assert!(made.iter().all(|p| (p.to_vec2().hypot() - 100.0).abs() < 1e-9));
        assert!(spline(3, &[0.0, 1.0], &quarter, &[]).is_none(), "knots that do not fit");
        let whole = ellipse(Point::new(1.0, 2.0), Vec2::new(0.0, 30.0), 0.5, 0.0, std::f64::consts::TAU);
        assert!((whole.area().abs() - std::f64::consts::PI * 450.0).abs() < 0.05, "{}", whole.area());
    }
}
