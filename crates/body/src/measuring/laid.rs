//! A tape laid over a surface from point to point, straight or on the skin.
//!
//! On the skin a stretch is the section of the surface with the plane through both points and the mean of their
//! normals, on the shorter side of the body. Units are those of the surface, metres.

use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::HashMap;

/// Where a tape lies.
#[derive(Clone, Debug, PartialEq)]
pub struct TapePath {
    /// On the skin, m.
    pub path: Vec<DVec3>,
    /// m.
    pub length: f64,
}

/// A place on a surface: triangle and barycentric weights.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SurfacePoint {
    /// Which triangle of the skin.
    pub triangle: usize,
    /// Barycentric, adding up to 1.
    pub weights: [f64; 3],
}

impl SurfacePoint {
    /// The place of a surface nearest to a point; `None` on a surface without triangles.
    pub fn nearest(surface: &Surface, point: DVec3) -> Option<Self> {
        let off = |t: usize| {
            let weights = closest(surface.corners(t), point);
            (Self { triangle: t, weights }, Self { triangle: t, weights }.at(surface).distance_squared(point))
        };
        (0..surface.triangles.len()).map(off).min_by(|a, b| a.1.total_cmp(&b.1)).map(|(spot, _)| spot)
    }

    /// Where it is, also on the same surface in another pose.
    pub fn at(&self, surface: &Surface) -> DVec3 {
        let corners = surface.corners(self.triangle);
        (0..3).map(|k| corners[k] * self.weights[k]).sum()
    }

    /// Unit normal of the surface there.
    fn normal(&self, surface: &Surface) -> DVec3 {
        let corners = surface.triangles[self.triangle].map(|v| DVec3::from(surface.normals[v as usize].map(f64::from)));
        (0..3).map(|k| corners[k] * self.weights[k]).sum::<DVec3>().normalize_or_zero()
    }
}

/// Barycentric weights of the point of a triangle nearest to `p` (Ericson, Real-Time Collision Detection, 5.1.5).
fn closest([a, b, c]: [DVec3; 3], p: DVec3) -> [f64; 3] {
    let (ab, ac, ap) = (b - a, c - a, p - a);
    let (d1, d2) = (ab.dot(ap), ac.dot(ap));
    if d1 <= 0.0 && d2 <= 0.0 {
        return [1.0, 0.0, 0.0];
    }
    let bp = p - b;
    let (d3, d4) = (ab.dot(bp), ac.dot(bp));
    if d3 >= 0.0 && d4 <= d3 {
        return [0.0, 1.0, 0.0];
    }
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 {
        let v = d1 / (d1 - d3);
        return [1.0 - v, v, 0.0];
    }
    let cp = p - c;
    let (d5, d6) = (ab.dot(cp), ac.dot(cp));
    if d6 >= 0.0 && d5 <= d6 {
        return [0.0, 0.0, 1.0];
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 {
        let w = d2 / (d2 - d6);
        return [1.0 - w, 0.0, w];
    }
    let va = d3 * d6 - d5 * d4;
    if va <= 0.0 && d4 >= d3 && d5 >= d6 {
        let w = (d4 - d3) / ((d4 - d3) + (d5 - d6));
        return [0.0, 1.0 - w, w];
    }
    let sum = va + vb + vc;
    if sum.abs() < 1e-30 { [1.0, 0.0, 0.0] } else { [va / sum, vb / sum, vc / sum] }
}

/// Lays a tape over spots of a surface; a closed one returns to its first point.
pub fn lay(surface: &Surface, spots: &[SurfacePoint], follows: bool, closed: bool) -> TapePath {
    let at: Vec<DVec3> = spots.iter().map(|s| s.at(surface)).collect();
    let Some(first) = at.first() else { return TapePath { path: Vec::new(), length: 0.0 } };
    let mut path = vec![*first];
    let walk = follows.then(|| Walk::new(surface));
    let count = spots.len();
    for k in 0..if closed { count } else { count - 1 } {
        let next = (k + 1) % count;
        if let Some(walk) = &walk {
            // a closed tape over two points goes all around
            let back = closed && count == 2 && k == 1;
            path.extend(walk.stretch(spots[k], spots[next], back));
        }
        path.push(at[next]);
    }
    let length = path.windows(2).map(|w| w[0].distance(w[1])).sum();
    TapePath { path, length }
}

/// A surface with its neighbours across edges.
struct Walk<'a> {
    surface: &'a Surface,
    across: HashMap<[u32; 2], usize>,
}

impl<'a> Walk<'a> {
    /// Prepares a surface for tapes.
    fn new(surface: &'a Surface) -> Self {
        let mut across = HashMap::with_capacity(3 * surface.triangles.len());
        for (t, corners) in surface.triangles.iter().enumerate() {
            across.extend((0..3).map(|k| ([corners[k], corners[(k + 1) % 3]], t)));
        }
        Self { surface, across }
    }

    /// Points between two spots on the shorter (or the longer) way; none when no way leads there, which then is straight.
    fn stretch(&self, from: SurfacePoint, to: SurfacePoint, longer: bool) -> Vec<DVec3> {
        let (a, b) = (from.at(self.surface), to.at(self.surface));
        let out = (from.normal(self.surface) + to.normal(self.surface)).normalize_or(DVec3::Y);
        let mut normal = (b - a).cross(out);
        if normal.length() < 1e-3 * (b - a).length() {
            normal = (b - a).cross(DVec3::Y);
        }
        let Some(normal) = normal.try_normalize() else { return Vec::new() };
        let ways = [1.0, -1.0].map(|side| self.way(from.triangle, to.triangle, a, normal * side));
        let length = |way: &[DVec3]| {
            let all = std::iter::once(&a).chain(way).chain(std::iter::once(&b)).copied().collect::<Vec<_>>();
            all.windows(2).map(|w| w[0].distance(w[1])).sum::<f64>()
        };
        let mut found: Vec<Vec<DVec3>> = ways.into_iter().flatten().collect();
        found.sort_by(|x, y| length(x).total_cmp(&length(y)));
        if longer { found.pop() } else { (!found.is_empty()).then(|| found.swap_remove(0)) }.unwrap_or_default()
    }

    /// Walks along the section from triangle to triangle, leaving each through the edge that rises through the plane.
    fn way(&self, from: usize, to: usize, origin: DVec3, normal: DVec3) -> Option<Vec<DVec3>> {
        let at = |v: u32| DVec3::from(self.surface.positions[v as usize].map(f64::from));
        let height = |v: u32| (at(v) - origin).dot(normal);
        let mut points = Vec::new();
        let mut t = from;
        for _ in 0..self.surface.triangles.len() {
            if t == to {
                return Some(points);
            }
            let corners = self.surface.triangles[t];
            let leave = (0..3).map(|k| [corners[k], corners[(k + 1) % 3]]).find(|[u, v]| height(*u) < 0.0 && height(*v) >= 0.0)?;
            let [u, v] = leave;
            let (hu, hv) = (height(u), height(v));
            points.push(at(u).lerp(at(v), hu / (hu - hv)));
            t = *self.across.get(&[v, u])?;
        }
        None
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A ball of radius 1 with points along meridians.
    fn ball() -> Surface {
        const N: u32 = 96;
        const M: u32 = 48;
        let mut positions = vec![[0.0, 1.0, 0.0]];
        for j in 1..M {
            let (s, c) = (f64::from(j) / f64::from(M) * std::f64::consts::PI).sin_cos();
            for i in 0..N {
                let (sin, cos) = (f64::from(i) / f64::from(N) * std::f64::consts::TAU).sin_cos();
                positions.push([(s * sin) as f32, c as f32, (s * cos) as f32]);
            }
        }
        positions.push([0.0, -1.0, 0.0]);
        let last = positions.len() as u32 - 1;
        let v = |j: u32, i: u32| 1 + (j - 1) * N + i % N;
        let mut triangles = Vec::new();
        for i in 0..N {
            triangles.push([0, v(1, i), v(1, i + 1)]);
            triangles.push([last, v(M - 1, i + 1), v(M - 1, i)]);
            for j in 1..M - 1 {
                triangles.push([v(j, i), v(j + 1, i), v(j + 1, i + 1)]);
                triangles.push([v(j, i), v(j + 1, i + 1), v(j, i + 1)]);
            }
        }
        Surface { normals: positions.clone(), positions, triangles }
    }

    fn spots(ball: &Surface, points: &[DVec3]) -> Vec<SurfacePoint> {
        points.iter().map(|p| SurfacePoint::nearest(ball, *p).expect("a surface")).collect()
    }

    #[test]
    fn a_tape_on_a_ball_lies_on_a_great_circle_and_a_straight_one_is_the_chord() {
        let ball = ball();
        let angle: f64 = 2.0;
        let to = DVec3::new(angle.sin() * 0.6, angle.sin() * 0.8, angle.cos());
        let over = spots(&ball, &[DVec3::Z, to]);
        let on_skin = lay(&ball, &over, true, false);
        assert!((on_skin.length - angle).abs() < 2e-3, "{} instead of {angle}", on_skin.length);
        let straight = lay(&ball, &over, false, false);
        assert!((straight.length - 2.0 * (0.5 * angle).sin()).abs() < 2e-3, "{}", straight.length);
        let around = lay(&ball, &over, true, true);
        assert!((around.length - std::f64::consts::TAU).abs() < 6e-3, "{}", around.length);
    }

    #[test]
    fn a_tape_over_several_points_is_the_sum_of_its_stretches() {
        let ball = ball();
        let over = spots(&ball, &[DVec3::Z, DVec3::X, DVec3::NEG_Z]);
        let laid = lay(&ball, &over, true, false);
        assert!((laid.length - std::f64::consts::PI).abs() < 4e-3, "{}", laid.length);
        assert!(laid.path.iter().all(|p| (p.length() - 1.0).abs() < 2e-3));
    }

    #[test]
    fn a_spot_follows_its_surface() {
        let ball = ball();
        let spot = SurfacePoint::nearest(&ball, DVec3::new(0.4, 2.0, 0.1)).expect("a surface");
        let mut moved = ball.clone();
        moved.positions.iter_mut().for_each(|p| p[1] += 3.0);
        assert!((spot.at(&moved) - spot.at(&ball) - DVec3::Y * 3.0).length() < 1e-6);
    }
}
