//! Lines as curves: straight or cubic, measured with kurbo (arc length to 0.001 mm).

use crate::{Drawing, Line, Point};
use kurbo::{CubicBez, ParamCurve, ParamCurveArclen, ParamCurveDeriv, PathSeg, Vec2};

/// Accuracy of arc lengths in mm.
const ACCURACY: f64 = 1e-3;

pub(crate) fn to_kurbo(p: Point) -> kurbo::Point {
    kurbo::Point::new(p.x, p.y)
}

pub(crate) fn from_kurbo(p: kurbo::Point) -> Point {
    Point::new(p.x, p.y)
}

/// The curve of a line in the piece's frame (mm); none when one of its nodes is missing.
pub fn line_curve(drawing: &Drawing, line: &Line) -> Option<PathSeg> {
    let (from, to) = (drawing.node(line.from)?.at, drawing.node(line.to)?.at);
    Some(curve(from, line.handles, to))
}

/// The curve between two points with the control points that are given.
pub(crate) fn curve(from: Point, handles: Option<[Point; 2]>, to: Point) -> PathSeg {
    let [p0, p3] = [from, to].map(to_kurbo);
    match handles {
        None => PathSeg::Line(kurbo::Line::new(p0, p3)),
        Some(handles) => {
            let [p1, p2] = handles.map(to_kurbo);
            PathSeg::Cubic(CubicBez::new(p0, p1, p2, p3))
        }
    }
}

/// Arc length in mm.
pub fn arc_length(curve: &PathSeg) -> f64 {
    curve.arclen(ACCURACY)
}

/// The curve parameter at a share of the arc length.
pub fn parameter(curve: &PathSeg, share: f64) -> f64 {
    match curve {
        PathSeg::Line(_) => share,
        _ => curve.inv_arclen(share * curve.arclen(ACCURACY), ACCURACY),
    }
}

/// The direction at a curve parameter, of length 1; of the chord where a control point lies on an end.
pub(crate) fn heading(curve: &CubicBez, t: f64) -> Vec2 {
    let d = curve.deriv().eval(t).to_vec2();
    if d.hypot() > 1e-9 { d.normalize() } else { (curve.p3 - curve.p0).normalize() }
}

/// The share of the arc length that lies before a curve parameter.
pub fn share(curve: &PathSeg, parameter: f64) -> f64 {
    match curve {
        PathSeg::Line(_) => parameter,
        _ => (curve.subsegment(0.0..parameter).arclen(ACCURACY) / curve.arclen(ACCURACY)).clamp(0.0, 1.0),
    }
}

/// The point at a share of the arc length.
pub fn point_at(curve: &PathSeg, share: f64) -> Point {
    from_kurbo(curve.eval(parameter(curve, share)))
}

/// The control points of a curve; none for a straight one.
pub(crate) fn handles(curve: &PathSeg) -> Option<[Point; 2]> {
    match curve {
        PathSeg::Cubic(c) => Some([from_kurbo(c.p1), from_kurbo(c.p2)]),
        _ => None,
    }
}

/// Any curve as a cubic.
pub(crate) fn cubic(curve: &PathSeg) -> CubicBez {
    match curve {
        // equal to `to_cubic`, whose control points of a line lie on its ends
        PathSeg::Line(l) => CubicBez::new(l.p0, l.p0.lerp(l.p1, 1.0 / 3.0), l.p0.lerp(l.p1, 2.0 / 3.0), l.p1),
        other => other.to_cubic(),
    }
}

/// One curve in place of this one and the `next`, which begins where this one ends: the curve both were cut from, if
/// there is one; otherwise the nearest one that leaves and arrives in the same directions.
pub(crate) fn joined(this: &PathSeg, next: &PathSeg) -> PathSeg {
    if let (PathSeg::Line(a), PathSeg::Line(b)) = (this, next) {
        return PathSeg::Line(kurbo::Line::new(a.p0, b.p1));
    }
    let (a, b) = (cubic(this), cubic(next));
    // where a curve is cut, the handles at the cut lie in a row, in the shares of the cut
    let (before, after) = ((a.p3 - a.p2).hypot(), (b.p1 - b.p0).hypot());
    let share = if before + after > 1e-9 { before / (before + after) } else { arc_length(this) / (arc_length(this) + arc_length(next)) };
    let t = share.clamp(0.02, 0.98);
    PathSeg::Cubic(CubicBez::new(a.p0, a.p0 + (a.p1 - a.p0) / t, b.p3 + (b.p2 - b.p3) / (1.0 - t), b.p3))
}

/// The parts before and after the parameter `t`.
pub(crate) fn split(curve: &PathSeg, t: f64) -> (PathSeg, PathSeg) {
    (curve.subsegment(0.0..t), curve.subsegment(t..1.0))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn quarter_circle(radius: f64) -> PathSeg {
        // The usual cubic for a quarter circle; its radius is off by at most 0.027 %.
        let k = 0.552_284_749_8 * radius;
        PathSeg::Cubic(CubicBez::new((radius, 0.0), (radius, k), (k, radius), (0.0, radius)))
    }

    #[test]
    fn a_quarter_circle_measures_half_pi_r() {
        let length = arc_length(&quarter_circle(200.0));
        assert!((length - 100.0 * std::f64::consts::PI).abs() < 0.1, "{length}");
    }

    #[test]
    fn a_parabola_measures_its_closed_form() {
        // y = x^2 / 4 from x = 0 to 2, as a cubic; length = (sqrt(2) + asinh(1)) by the closed form x/2 sqrt(1+x^2/4) + asinh(x/2).
        let scale = 100.0;
        let quadratic = [(0.0, 0.0), (1.0, 0.0), (2.0, 1.0)].map(|(x, y)| (x * scale, y * scale));
        let lerp = |a: (f64, f64), b: (f64, f64), t: f64| (a.0 + (b.0 - a.0) * t, a.1 + (b.1 - a.1) * t);
        let cubic = CubicBez::new(
            quadratic[0],
            lerp(quadratic[0], quadratic[1], 2.0 / 3.0),
            lerp(quadratic[2], quadratic[1], 2.0 / 3.0),
            quadratic[2],
        );
        let expected = (2f64.sqrt() + 1f64.asinh()) * scale;
        assert!((arc_length(&PathSeg::Cubic(cubic)) - expected).abs() < 2e-3);
    }

    #[test]
    fn halves_join_into_the_curve_they_were_cut_from() {
        let whole = CubicBez::new((0.0, 0.0), (30.0, 120.0), (160.0, 90.0), (200.0, -10.0));
        for t in [0.1, 0.37, 0.5, 0.9] {
            let (a, b) = split(&PathSeg::Cubic(whole), t);
            let PathSeg::Cubic(joined) = joined(&a, &b) else { panic!("a curve") };
            for (p, q) in [(joined.p1, whole.p1), (joined.p2, whole.p2)] {
                assert!((p - q).hypot() < 1e-6, "cut at {t}: {p:?} instead of {q:?}");
            }
        }
    }

    #[test]
    fn a_share_of_the_length_is_found_by_its_parameter_and_back() {
        let curve = quarter_circle(150.0);
        let t = parameter(&curve, 0.3);
        let (first, second) = split(&curve, t);
        assert!((arc_length(&first) / arc_length(&curve) - 0.3).abs() < 1e-4);
        assert!((arc_length(&first) + arc_length(&second) - arc_length(&curve)).abs() < 1e-2);
        assert!((share(&curve, t) - 0.3).abs() < 1e-4);
    }
}
