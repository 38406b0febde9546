//! Maps of the plane that keep straight lines straight, told by what four points become: a flat sheet as a camera sees it.

use crate::Point;

/// A map of the plane that keeps lines straight.
///
/// ```
/// use costume::{Point, Projective};
/// let square = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)].map(|(x, y)| Point::new(x, y));
/// let seen = [(10.0, 10.0), (50.0, 14.0), (44.0, 40.0), (12.0, 46.0)].map(|(x, y)| Point::new(x, y));
/// let map = Projective::between(square, seen).unwrap();
/// assert!(map.at(square[2]).distance(seen[2]) < 1e-9);
/// let back = map.inverse().unwrap();
/// assert!(back.at(seen[3]).distance(square[3]) < 1e-9);
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Projective([[f64; 3]; 3]);

impl Projective {
    /// The map by which four points become four others; none when three of either lie on a line.
    pub fn between(from: [Point; 4], to: [Point; 4]) -> Option<Self> {
        Some(Self::of_square(to)?.after(&Self::of_square(from)?.inverse()?))
    }

    /// The map of the unit square (0 0, 1 0, 1 1, 0 1) to four points.
    fn of_square([a, b, c, d]: [Point; 4]) -> Option<Self> {
        let (p, q) = ((b.x - c.x, b.y - c.y), (d.x - c.x, d.y - c.y));
        let s = (a.x - b.x + c.x - d.x, a.y - b.y + c.y - d.y);
        let whole = p.0 * q.1 - q.0 * p.1;
        let (g, h) = ((s.0 * q.1 - q.0 * s.1) / whole, (p.0 * s.1 - s.0 * p.1) / whole);
        let rows = [[b.x - a.x + g * b.x, d.x - a.x + h * d.x, a.x], [b.y - a.y + g * b.y, d.y - a.y + h * d.y, a.y], [g, h, 1.0]];
        rows.as_flattened().iter().all(|v| v.is_finite()).then_some(Self(rows))
    }

    /// Where a point comes to; far away for points on the horizon.
    pub fn at(&self, p: Point) -> Point {
        let [x, y, w] = [0, 1, 2].map(|k| self.0[k][0] * p.x + self.0[k][1] * p.y + self.0[k][2]);
        Point::new(x / w, y / w)
    }

    /// This map after another one.
    pub fn after(&self, first: &Self) -> Self {
        Self([0, 1, 2].map(|i| [0, 1, 2].map(|j| (0..3).map(|k| self.0[i][k] * first.0[k][j]).sum())))
    }

    /// The way back; none for a map that folds the plane onto a line.
    pub fn inverse(&self) -> Option<Self> {
        let m = &self.0;
        let minor = |i: usize, j: usize| {
            let [r, s] = [(i + 1) % 3, (i + 2) % 3];
            let [c, d] = [(j + 1) % 3, (j + 2) % 3];
            m[r][c] * m[s][d] - m[r][d] * m[s][c]
        };
        let whole: f64 = (0..3).map(|j| m[0][j] * minor(0, j)).sum();
        let size = m.as_flattened().iter().fold(0.0f64, |a, v| a.max(v.abs()));
        (whole.abs() > 1e-14 * size * size * size).then(|| Self([0, 1, 2].map(|i| [0, 1, 2].map(|j| minor(j, i) / whole))))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn three_points_on_a_line_have_no_map() {
        let on_a_line = [(0.0, 0.0), (1.0, 1.0), (2.0, 2.0), (0.0, 3.0)].map(|(x, y)| Point::new(x, y));
        let square = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)].map(|(x, y)| Point::new(x, y));
        assert_eq!(Projective::between(on_a_line, square), None);
        assert_eq!(Projective::between(square, [Point::new(1.0, 1.0); 4]), None);
    }

    proptest! {
        #[test]
        fn lines_stay_lines_and_the_way_back_leads_back(off in proptest::array::uniform8(-0.3..0.3f64), u in 0.05..0.95f64, v in 0.05..0.95f64) {
            let square = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)].map(|(x, y)| Point::new(x, y));
            let seen = [0, 1, 2, 3].map(|k| Point::new(square[k].x + 100.0 * off[2 * k], square[k].y + 100.0 * off[2 * k + 1]));
            let map = Projective::between(square, seen).expect("found");
            let (a, b) = (Point::new(100.0 * u, 0.0), Point::new(0.0, 100.0 * v));
            let between = Point::new(0.3 * a.x + 0.7 * b.x, 0.3 * a.y + 0.7 * b.y);
            let [p, q, r] = [a, b, between].map(|p| map.at(p));
            let twice = (q.x - p.x) * (r.y - p.y) - (r.x - p.x) * (q.y - p.y);
            prop_assert!(twice.abs() < 1e-6);
            prop_assert!(map.inverse().expect("found").at(r).distance(between) < 1e-6);
        }
    }
}
