//! Filling a piece whose edges grow from fine to coarse: points are added at the circumcentres of triangles that are too
//! large for their place (Chew 1993) and moved to even out angles.

use crate::net::{Constraints, Net, delaunay, hash, inner_triangles, inside, to_segment};
use crate::size::SizeField;

/// Rounds in which points are added, and rounds of smoothing.
const ROUNDS: usize = 40;
const SMOOTHINGS: usize = 8;
/// A triangle is too large above this circumradius, in wanted edge lengths; that of an even triangle is 0.577.
const LARGE: f64 = 0.74;
/// How near points and lines may come to each other, in wanted edge lengths.
const APART: f64 = 0.72;
const CLEAR: f64 = 0.5;

/// Points of all constraints and of the inside, for a size field that is not even.
pub(crate) fn fill(given: &Constraints, bounds: &[[usize; 2]], field: &SizeField) -> Result<Vec<[f64; 2]>, String> {
    let mut points = given.points.clone();
    let fixed = points.len();
    let walls: Vec<[[f64; 2]; 2]> = given.around.iter().chain(&given.inside).map(|e| e.map(|v| given.points[v as usize])).collect();
    for round in 0..ROUNDS {
        let net = delaunay(&points, bounds)?;
        let added = additions(&net, &points, given, &walls, field, round);
        if added.is_empty() {
            break;
        }
        points.extend(added);
    }
    for _ in 0..SMOOTHINGS {
        let net = delaunay(&points, bounds)?;
        let triangles = inner_triangles(&net, &given.around);
        smooth(&mut points, &triangles, fixed);
    }
    Ok(points)
}

/// New points for the largest triangles, none too near to another point or a line.
fn additions(
    net: &Net,
    points: &[[f64; 2]],
    given: &Constraints,
    walls: &[[[f64; 2]; 2]],
    field: &SizeField,
    round: usize,
) -> Vec<[f64; 2]> {
    let mut wanted: Vec<(f64, [f64; 2])> = Vec::new();
    for t in inner_triangles(net, &given.around) {
        let [a, b, c] = t.map(|v| points[v as usize]);
        let middle = [(a[0] + b[0] + c[0]) / 3.0, (a[1] + b[1] + c[1]) / 3.0];
        let Some((centre, radius)) = circle(a, b, c) else { continue };
        let ratio = radius / field.at(middle);
        if ratio > LARGE {
            // a centre far away lies beyond a line or another triangle; then the middle, a little beside it
            let near = (centre[0] - middle[0]).hypot(centre[1] - middle[1]) < 1.2 * field.at(middle);
            let shift = |k: i64| (hash(i64::from(t[0]), i64::from(t[1]), k + round as i64) - 0.5) * 0.05 * field.at(middle);
            wanted.push((ratio, if near { centre } else { [middle[0] + shift(0), middle[1] + shift(7)] }));
        }
    }
    wanted.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1[0].total_cmp(&b.1[0])).then(a.1[1].total_cmp(&b.1[1])));
    let loops: Vec<&[[f64; 2]]> = given.loops.iter().map(|range| &given.points[range.clone()]).collect();
    let largest = points.iter().map(|p| field.at(*p)).fold(1e-3, f64::max);
    let mut near = Buckets::new(points, largest);
    let mut added = Vec::new();
    for (_, p) in wanted {
        let size = field.at(p);
        let clear = CLEAR * size;
        if near.any_within(p, APART * size) || !inside(p, &loops) || walls.iter().any(|[a, b]| to_segment(p, *a, *b) < clear * clear) {
            continue;
        }
        near.add(p);
        added.push(p);
    }
    added
}

/// Centre and radius of the circle through three points.
fn circle(a: [f64; 2], b: [f64; 2], c: [f64; 2]) -> Option<([f64; 2], f64)> {
    let (u, v) = ([b[0] - a[0], b[1] - a[1]], [c[0] - a[0], c[1] - a[1]]);
    let twice = 2.0 * (u[0] * v[1] - u[1] * v[0]);
    if twice.abs() < 1e-12 {
        return None;
    }
    let (uu, vv) = (u[0] * u[0] + u[1] * u[1], v[0] * v[0] + v[1] * v[1]);
    let d = [(v[1] * uu - u[1] * vv) / twice, (u[0] * vv - v[0] * uu) / twice];
    Some(([a[0] + d[0], a[1] + d[1]], d[0].hypot(d[1])))
}

/// Points by square cells.
struct Buckets {
    cell: f64,
    cells: std::collections::HashMap<(i64, i64), Vec<[f64; 2]>>,
}

impl Buckets {
    fn new(points: &[[f64; 2]], cell: f64) -> Self {
        let mut buckets = Self { cell, cells: Default::default() };
        points.iter().for_each(|p| buckets.add(*p));
        buckets
    }

    fn key(&self, p: [f64; 2]) -> (i64, i64) {
        ((p[0] / self.cell).floor() as i64, (p[1] / self.cell).floor() as i64)
    }

    fn add(&mut self, p: [f64; 2]) {
        self.cells.entry(self.key(p)).or_default().push(p);
    }

    /// `reach` is at most a cell.
    fn any_within(&self, p: [f64; 2], reach: f64) -> bool {
        let (i, j) = self.key(p);
        (i - 1..=i + 1).flat_map(|x| (j - 1..=j + 1).map(move |y| (x, y))).filter_map(|k| self.cells.get(&k)).flatten().any(|q| {
            let d = [q[0] - p[0], q[1] - p[1]];
            d[0] * d[0] + d[1] * d[1] < reach * reach
        })
    }
}

/// Moves free points to the middle of their neighbours where that makes the least angle around them no smaller.
fn smooth(points: &mut [[f64; 2]], triangles: &[[u32; 3]], fixed: usize) {
    let mut around: Vec<Vec<[u32; 2]>> = vec![Vec::new(); points.len()];
    for t in triangles {
        for k in 0..3 {
            around[t[k] as usize].push([t[(k + 1) % 3], t[(k + 2) % 3]]);
        }
    }
    for v in fixed..points.len() {
        let star = &around[v];
        if star.is_empty() {
            continue;
        }
        let mut sum = [0.0; 2];
        for w in star {
            let p = points[w[0] as usize];
            sum = [sum[0] + p[0], sum[1] + p[1]];
        }
        let moved = [sum[0] / star.len() as f64, sum[1] / star.len() as f64];
        let least =
            |at: [f64; 2]| star.iter().map(|w| least_angle(at, points[w[0] as usize], points[w[1] as usize])).fold(f64::MAX, f64::min);
        if least(moved) >= least(points[v]).min(0.6) {
            points[v] = moved;
        }
    }
}

/// The least angle of a counter-clockwise triangle, radians; negative where it is turned over.
pub(crate) fn least_angle(a: [f64; 2], b: [f64; 2], c: [f64; 2]) -> f64 {
    let angle = |p: [f64; 2], q: [f64; 2], r: [f64; 2]| {
        let (u, v) = ([q[0] - p[0], q[1] - p[1]], [r[0] - p[0], r[1] - p[1]]);
        (u[0] * v[1] - u[1] * v[0]).atan2(u[0] * v[0] + u[1] * v[1])
    };
    angle(a, b, c).min(angle(b, c, a)).min(angle(c, a, b))
}
