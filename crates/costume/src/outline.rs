//! Outlines as curves: edges are lines or cubic Béziers, measured with kurbo (arc length to 0.001 mm).

use crate::{Piece, Point};
use kurbo::{BezPath, CubicBez, Line, ParamCurve, ParamCurveArclen};

/// Accuracy of arc lengths in mm.
const ACCURACY: f64 = 1e-3;

/// The curve of one edge in the piece's frame (mm).
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum EdgeCurve {
    Straight(Line),
    Bowed(CubicBez),
}

impl EdgeCurve {
    pub fn point(&self, t: f64) -> Point {
        let p = match self {
            Self::Straight(line) => line.eval(t),
            Self::Bowed(cubic) => cubic.eval(t),
        };
        Point::new(p.x, p.y)
    }
    /// Arc length in mm.
    pub fn length(&self) -> f64 {
        match self {
            Self::Straight(line) => line.arclen(ACCURACY),
            Self::Bowed(cubic) => cubic.arclen(ACCURACY),
        }
    }
    /// The curve parameter at a fraction of the arc length.
    pub fn parameter(&self, fraction: f64) -> f64 {
        match self {
            Self::Straight(_) => fraction,
            Self::Bowed(cubic) => cubic.inv_arclen(fraction * cubic.arclen(ACCURACY), ACCURACY),
        }
    }
    /// One curve in place of this one and the `next`, which begins where this one ends: the curve both were cut from, if
    /// there is one; otherwise the nearest one that leaves and arrives in the same directions.
    pub fn joined(&self, next: &Self) -> Self {
        let (Self::Straight(a), Self::Straight(b)) = (self, next) else {
            let (a, b) = (self.cubic(), next.cubic());
            // where a curve is cut, the handles at the cut lie in a row, in the shares of the cut
            let (before, after) = ((a.p3 - a.p2).hypot(), (b.p1 - b.p0).hypot());
            let share = if before + after > 1e-9 { before / (before + after) } else { self.length() / (self.length() + next.length()) };
            let t = share.clamp(0.02, 0.98);
            return Self::Bowed(CubicBez::new(a.p0, a.p0 + (a.p1 - a.p0) / t, b.p3 + (b.p2 - b.p3) / (1.0 - t), b.p3));
        };
        Self::Straight(Line::new(a.p0, b.p1))
    }

    fn cubic(&self) -> CubicBez {
        match self {
            Self::Straight(l) => CubicBez::new(l.p0, l.p0.lerp(l.p1, 1.0 / 3.0), l.p0.lerp(l.p1, 2.0 / 3.0), l.p1),
            Self::Bowed(c) => *c,
        }
    }

    /// The parts before and after the parameter `t`.
    pub fn split(&self, t: f64) -> (Self, Self) {
        match self {
            Self::Straight(line) => (Self::Straight(line.subsegment(0.0..t)), Self::Straight(line.subsegment(t..1.0))),
            Self::Bowed(cubic) => (Self::Bowed(cubic.subsegment(0.0..t)), Self::Bowed(cubic.subsegment(t..1.0))),
        }
    }
}

fn kurbo_point(p: Point) -> kurbo::Point {
    kurbo::Point::new(p.x, p.y)
}

/// The edge that leaves corner `i` of the piece.
pub fn edge_curve(piece: &Piece, i: usize) -> EdgeCurve {
    let (from, to) = (&piece.corners[i], piece.next(i));
    match from.bow {
        None => EdgeCurve::Straight(Line::new(kurbo_point(from.at), kurbo_point(to.at))),
        Some(bow) => {
            EdgeCurve::Bowed(CubicBez::new(kurbo_point(from.at), kurbo_point(bow.leave), kurbo_point(bow.arrive), kurbo_point(to.at)))
        }
    }
}

/// Arc length in mm of the edge that leaves corner `i`.
pub fn edge_length(piece: &Piece, i: usize) -> f64 {
    edge_curve(piece, i).length()
}

/// The whole outline as one closed path.
pub fn outline_path(piece: &Piece) -> BezPath {
    let mut path = BezPath::new();
    for i in 0..piece.corners.len() {
        match edge_curve(piece, i) {
            EdgeCurve::Straight(line) => {
                if i == 0 {
                    path.move_to(line.p0);
                }
                path.line_to(line.p1);
            }
            EdgeCurve::Bowed(cubic) => {
                if i == 0 {
                    path.move_to(cubic.p0);
                }
                path.curve_to(cubic.p1, cubic.p2, cubic.p3);
            }
        }
    }
    path.close_path();
    path
}

/// Width and height of the box around a piece's outline with its curves, mm.
pub fn size(piece: &Piece) -> [f64; 2] {
    use kurbo::Shape;
    let around = outline_path(piece).bounding_box();
    [around.width(), around.height()]
}

/// Area in mm², positive when the corners run counter-clockwise.
pub fn signed_area(piece: &Piece) -> f64 {
    use kurbo::Shape;
    outline_path(piece).area()
}

/// Whether a point lies inside the outline.
pub(crate) fn encloses(piece: &Piece, p: Point) -> bool {
    use kurbo::Shape;
    outline_path(piece).contains(kurbo_point(p))
}

/// A polyline close to the outline (every edge in `steps` parts when curved), for overlap tests.
pub(crate) fn polyline(piece: &Piece, steps: usize) -> Vec<(Point, usize)> {
    let mut points = Vec::new();
    for i in 0..piece.corners.len() {
        let curve = edge_curve(piece, i);
        let parts = if matches!(curve, EdgeCurve::Straight(_)) { 1 } else { steps };
        points.extend((0..parts).map(|k| (curve.point(k as f64 / parts as f64), i)));
    }
    points
}

#[cfg(test)]
mod tests {
    use super::*;

    fn quarter_circle(radius: f64) -> EdgeCurve {
        // The usual cubic for a quarter circle; its radius is off by at most 0.027 %.
        let k = 0.552_284_749_8 * radius;
        EdgeCurve::Bowed(CubicBez::new((radius, 0.0), (radius, k), (k, radius), (0.0, radius)))
    }

    #[test]
    fn a_quarter_circle_measures_half_pi_r() {
        let length = quarter_circle(200.0).length();
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
        assert!((EdgeCurve::Bowed(cubic).length() - expected).abs() < 2e-3);
    }

    #[test]
    fn halves_join_into_the_curve_they_were_cut_from() {
        let whole = CubicBez::new((0.0, 0.0), (30.0, 120.0), (160.0, 90.0), (200.0, -10.0));
        for t in [0.1, 0.37, 0.5, 0.9] {
            let (a, b) = EdgeCurve::Bowed(whole).split(t);
            let EdgeCurve::Bowed(joined) = a.joined(&b) else { panic!("a curve") };
            for (p, q) in [(joined.p1, whole.p1), (joined.p2, whole.p2)] {
                assert!((p - q).hypot() < 1e-6, "cut at {t}: {p:?} instead of {q:?}");
            }
        }
    }

    #[test]
    fn half_the_length_is_found_by_its_parameter() {
        let curve = quarter_circle(150.0);
        let (first, second) = curve.split(curve.parameter(0.3));
        assert!((first.length() / curve.length() - 0.3).abs() < 1e-4);
        assert!((first.length() + second.length() - curve.length()).abs() < 1e-2);
    }
}
