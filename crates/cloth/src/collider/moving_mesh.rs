//! The skin of a moving body as a collider: the triangles themselves, in a tree of boxes that is refitted as they move.
//! Exact distances and the velocity of the very place that is touched, at the price of a search for each question; a body
//! that stands still has a [`crate::DistanceGrid`] instead.
//!
//! The sign of a distance is that of the skin's smooth normal at the nearest point. Beyond the band nothing is told apart.

use super::grid::closest_on_triangle;
use glam::{Vec3, Vec3A};
use std::sync::Arc;

/// Most triangles of a leaf.
const LEAF: usize = 4;
/// Deepest tree that a search can walk: a halving tree of so many levels holds more triangles than memory.
const DEEP: usize = 64;

/// A box of the tree over a run of triangles, or over two boxes of which the first follows it.
#[derive(Clone, Copy, Debug)]
struct Node {
    low: Vec3,
    high: Vec3,
    /// First triangle of a leaf, or the place of the second child.
    at: u32,
    /// Triangles of a leaf; 0 for what has children.
    count: u32,
}

/// What does not change while the skin moves.
#[derive(Debug)]
struct Topology {
    /// In the order of the leaves.
    triangles: Vec<[u32; 3]>,
    /// By triangle; empty when there is only one.
    region: Vec<u8>,
    /// By region, m.
    offsets: Vec<f32>,
    farthest_offset: f32,
    band: f32,
}

/// A moving skin at one moment.
#[derive(Clone, Debug)]
pub struct MovingMesh {
    fixed: Arc<Topology>,
    nodes: Vec<Node>,
    positions: Vec<Vec3>,
    normals: Vec<Vec3>,
    /// m/s by vertex.
    velocities: Vec<Vec3>,
    /// Of the fastest vertex, m/s.
    fastest: f32,
}

/// The nearest place of the skin.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Touch {
    /// Signed, less the offset of the region, m.
    pub distance: f32,
    /// Outwards.
    pub normal: Vec3,
    /// m/s.
    pub velocity: Vec3A,
    pub region: u8,
    /// Number of the triangle, from which the next search may begin.
    pub triangle: u32,
}

/// No triangle is known to begin a search with.
pub(crate) const UNKNOWN: u32 = u32::MAX;
/// A box is looked into though it is farther than the nearest place by this share, so that what is found does not hang on the order.
const ROUNDING: f32 = 1.0 + 1e-5;

impl MovingMesh {
    /// A skin at rest. `region` is per triangle and may be empty; the surface is moved out by the offset of its region, m.
    /// Farther than `band` from it, m, distances are not told apart.
    pub fn new(positions: &[[f32; 3]], triangles: &[[u32; 3]], region: &[u8], offsets: &[f32], band: f32) -> Self {
        let at: Vec<Vec3> = positions.iter().map(|p| Vec3::from(*p)).collect();
        let middle = |t: usize| triangles[t].iter().map(|v| at[*v as usize]).sum::<Vec3>();
        let mut order: Vec<u32> = (0..triangles.len() as u32).collect();
        let middles: Vec<Vec3> = (0..triangles.len()).map(middle).collect();
        let mut nodes = Vec::with_capacity(triangles.len());
        if !order.is_empty() {
            split(&mut nodes, &mut order, 0, &middles);
        }
        let of = |k: &u32| *k as usize;
        let fixed = Topology {
            triangles: order.iter().map(|k| triangles[of(k)]).collect(),
            region: if region.is_empty() { Vec::new() } else { order.iter().map(|k| region[of(k)]).collect() },
            offsets: offsets.to_vec(),
            farthest_offset: offsets.iter().copied().fold(0.0, f32::max),
            band,
        };
        let velocities = vec![Vec3::ZERO; at.len()];
        let normals = vec![Vec3::ZERO; at.len()];
        let mut made = Self { fixed: Arc::new(fixed), nodes, normals, positions: at, velocities, fastest: 0.0 };
        made.refit();
        made
    }

    /// The same skin `seconds` later at other places (m), moving there evenly.
    pub fn moved(&self, positions: &[[f32; 3]], seconds: f32) -> Self {
        let mut next = self.clone();
        for (k, p) in positions.iter().enumerate().take(next.positions.len()) {
            let p = Vec3::from(*p);
            next.velocities[k] = (p - next.positions[k]) / seconds;
            next.positions[k] = p;
        }
        next.fastest = next.velocities.iter().map(|v| v.length_squared()).fold(0.0, f32::max).sqrt();
        next.refit();
        next
    }

    /// Distance beyond which nothing is told apart, m.
    pub fn band(&self) -> f32 {
        self.fixed.band
    }

    /// Of the fastest vertex, m/s.
    pub(crate) fn fastest(&self) -> f32 {
        self.fastest
    }

    /// Vertices of the skin, m.
    pub fn positions(&self) -> impl Iterator<Item = [f32; 3]> + '_ {
        self.positions.iter().map(Vec3::to_array)
    }

    /// Outward normal and speed (m/s) of the skin that is nearest to a point, if it is within the band.
    pub fn nearest(&self, p: Vec3) -> Option<(Vec3, f32)> {
        self.touch(p).map(|t| (t.normal, t.velocity.length()))
    }

    /// Boxes and normals for the present places.
    fn refit(&mut self) {
        let (fixed, at) = (&self.fixed, &self.positions);
        self.normals.fill(Vec3::ZERO);
        for t in &fixed.triangles {
            let [a, b, c] = t.map(|v| at[v as usize]);
            let n = (b - a).cross(c - a);
            t.iter().for_each(|v| self.normals[*v as usize] += n);
        }
        for n in &mut self.normals {
            *n = n.normalize_or_zero();
        }
        // children come after their parents
        for k in (0..self.nodes.len()).rev() {
            let node = self.nodes[k];
            let (low, high) = if node.count > 0 {
                let own = &fixed.triangles[node.at as usize..(node.at + node.count) as usize];
                own.iter().flatten().fold((Vec3::MAX, Vec3::MIN), |(l, h), v| (l.min(at[*v as usize]), h.max(at[*v as usize])))
            } else {
                let (a, b) = (self.nodes[k + 1], self.nodes[node.at as usize]);
                (a.low.min(b.low), a.high.max(b.high))
            };
            (self.nodes[k].low, self.nodes[k].high) = (low, high);
        }
    }

    /// Tells `visit` of the corners of the skin within a box: where they are moved out by the offset of their region, and their
    /// outward normals. One may be told several times.
    pub(crate) fn each_corner(&self, low: Vec3, high: Vec3, mut visit: impl FnMut(Vec3, Vec3)) {
        let fixed = &*self.fixed;
        let reach = Vec3::splat(fixed.farthest_offset);
        let meets = |node: &Node| (node.low - reach).cmple(high).all() && (node.high + reach).cmpge(low).all();
        let mut stack = [0u32; DEEP];
        let mut top = usize::from(!self.nodes.is_empty());
        while top > 0 {
            top -= 1;
            let k = stack[top];
            let node = &self.nodes[k as usize];
            if !meets(node) {
                continue;
            }
            if node.count == 0 {
                (stack[top], stack[top + 1]) = (k + 1, node.at);
                top += 2;
                continue;
            }
            for t in node.at as usize..(node.at + node.count) as usize {
                let region = fixed.region.get(t).copied().unwrap_or(0);
                let offset = fixed.offsets.get(region as usize).copied().unwrap_or(0.0);
                for v in fixed.triangles[t].map(|v| v as usize) {
                    let p = self.positions[v] + self.normals[v] * offset;
                    if p.cmpge(low).all() && p.cmple(high).all() {
                        visit(p, self.normals[v]);
                    }
                }
            }
        }
    }

    /// The place of the skin that is nearest to a point, if it is within the band.
    pub(crate) fn touch(&self, p: Vec3) -> Option<Touch> {
        self.touch_within(p, self.fixed.band, UNKNOWN)
    }

    /// The same for what is nearer than `near`, m, which is less than the band: the nearer, the quicker; and quicker with a triangle
    /// that was the nearest a little before. What is found does not depend on it: of places that are as near as each other, that of
    /// the first triangle counts.
    pub(crate) fn touch_within(&self, p: Vec3, near: f32, hint: u32) -> Option<Touch> {
        let fixed = &*self.fixed;
        let reach = near + fixed.farthest_offset;
        let mut best = (reach * reach, usize::MAX, [0.0; 3]);
        let look = |t: usize, best: &mut (f32, usize, [f32; 3])| {
            let corners = fixed.triangles[t].map(|v| self.positions[v as usize]);
            let w = closest_on_triangle(p, corners);
            let d = p.distance_squared(corners[0] * w[0] + corners[1] * w[1] + corners[2] * w[2]);
            if d < best.0 || (d == best.0 && t < best.1) {
                *best = (d, t, w);
            }
        };
        if (hint as usize) < fixed.triangles.len() {
            look(hint as usize, &mut best);
        }
        let mut stack = [(0u32, 0.0f32); DEEP];
        let mut top = 0;
        if let Some(root) = self.nodes.first() {
            stack[0] = (0, root.away(p));
            top = 1;
        }
        while top > 0 {
            top -= 1;
            let (k, away) = stack[top];
            if away > best.0 * ROUNDING {
                continue;
            }
            let node = &self.nodes[k as usize];
            if node.count > 0 {
                (node.at as usize..(node.at + node.count) as usize).for_each(|t| look(t, &mut best));
                continue;
            }
            let (near, far) = (k + 1, node.at);
            let (a, b) = (self.nodes[near as usize].away(p), self.nodes[far as usize].away(p));
            // the nearer one is looked at first
            let order = if a < b { [(far, b), (near, a)] } else { [(near, a), (far, b)] };
            for next in order.into_iter().filter(|n| n.1 <= best.0 * ROUNDING) {
                stack[top] = next;
                top += 1;
            }
        }
        let (squared, t, w) = best;
        if t == usize::MAX {
            return None;
        }
        let corners = fixed.triangles[t];
        let mix = |of: &[Vec3]| (0..3).map(|k| of[corners[k] as usize] * w[k]).sum::<Vec3>();
        let (at, smooth) = (mix(&self.positions), mix(&self.normals));
        let region = fixed.region.get(t).copied().unwrap_or(0);
        let away = p - at;
        let length = squared.sqrt();
        let side = if away.dot(smooth) < 0.0 { -1.0 } else { 1.0 };
        let normal = if length > 1e-6 { away * (side / length) } else { smooth.normalize_or(Vec3::Y) };
        let distance = side * length - fixed.offsets.get(region as usize).copied().unwrap_or(0.0);
        (distance < near).then(|| Touch { distance, normal, velocity: mix(&self.velocities).into(), region, triangle: t as u32 })
    }
}

impl Node {
    /// Squared distance from a point, 0 inside.
    #[inline]
    fn away(&self, p: Vec3) -> f32 {
        (self.low - p).max(p - self.high).max(Vec3::ZERO).length_squared()
    }
}

/// A tree over these triangles, by halves along the longest way of their middles; boxes are fitted later.
fn split(nodes: &mut Vec<Node>, order: &mut [u32], first: u32, middles: &[Vec3]) {
    let leaf = order.len() <= LEAF;
    let (low, high) = (Vec3::ZERO, Vec3::ZERO);
    let own = nodes.len();
    nodes.push(Node { low, high, at: first, count: if leaf { order.len() as u32 } else { 0 } });
    if leaf {
        return;
    }
    let (l, h) = order.iter().fold((Vec3::MAX, Vec3::MIN), |(l, h), k| (l.min(middles[*k as usize]), h.max(middles[*k as usize])));
    let way = h - l;
    let axis = (0..3).max_by(|a, b| way[*a].total_cmp(&way[*b])).unwrap_or(0);
    let half = order.len() / 2;
    // ties go by number, so that the tree is the same every time
    order.select_nth_unstable_by(half, |a, b| middles[*a as usize][axis].total_cmp(&middles[*b as usize][axis]).then(a.cmp(b)));
    let (left, right) = order.split_at_mut(half);
    split(nodes, left, first, middles);
    nodes[own].at = nodes.len() as u32;
    split(nodes, right, first + half as u32, middles);
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A ball of so many rings, radius in m.
    fn ball(radius: f32, rings: usize) -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
        let around = 2 * rings;
        let mut at = vec![[0.0, radius, 0.0], [0.0, -radius, 0.0]];
        for i in 1..rings {
            let (s, c) = (std::f32::consts::PI * i as f32 / rings as f32).sin_cos();
            for j in 0..around {
                let (z, x) = (std::f32::consts::TAU * j as f32 / around as f32).sin_cos();
                at.push([radius * s * x, radius * c, radius * s * z]);
            }
        }
        let v = |i: usize, j: usize| (2 + (i - 1) * around + j % around) as u32;
        let mut t = Vec::new();
        for j in 0..around {
            t.push([0, v(1, j + 1), v(1, j)]);
            t.push([1, v(rings - 1, j), v(rings - 1, j + 1)]);
            for i in 1..rings - 1 {
                t.push([v(i, j), v(i, j + 1), v(i + 1, j)]);
                t.push([v(i, j + 1), v(i + 1, j + 1), v(i + 1, j)]);
            }
        }
        (at, t)
    }

    fn points() -> impl Iterator<Item = Vec3> {
        let mut seed = 7u32;
        let mut next = move || {
            seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            (seed >> 8) as f32 / (1 << 24) as f32 - 0.5
        };
        (0..400).map(move |_| Vec3::new(next(), next(), next()) * 0.3)
    }

    #[test]
    fn the_tree_finds_what_a_search_through_all_triangles_finds_and_the_sign_of_a_ball() {
        let (at, triangles) = ball(0.1, 24);
        let mesh = MovingMesh::new(&at, &triangles, &[], &[], 0.06);
        for p in points() {
            let all = triangles.iter().map(|t| {
                let c = t.map(|v| Vec3::from(at[v as usize]));
                let w = closest_on_triangle(p, c);
                p.distance(c[0] * w[0] + c[1] * w[1] + c[2] * w[2])
            });
            let least = all.fold(f32::MAX, f32::min);
            match mesh.touch(p) {
                Some(touch) => {
                    assert!((touch.distance.abs() - least).abs() < 1e-5);
                    // chords of a ball of 24 rings lie up to 0.9 mm inside it
                    assert!((touch.distance - (p.length() - 0.1)).abs() < 1.2e-3, "{p}: {}", touch.distance);
                    assert!(touch.normal.dot(p.normalize()) > 0.98);
                }
                None => assert!(least >= 0.06, "{p} at {least}"),
            }
        }
    }

    #[test]
    fn a_skin_that_moved_is_the_skin_made_there_and_knows_how_fast_it_went() {
        let (at, triangles) = ball(0.1, 12);
        let turned = |p: &[f32; 3]| {
            let q = glam::Quat::from_rotation_z(0.3) * Vec3::from(*p) + Vec3::new(0.05, 0.0, 0.02);
            q.to_array()
        };
        let there: Vec<[f32; 3]> = at.iter().map(turned).collect();
        let mesh = MovingMesh::new(&at, &triangles, &[], &[], 0.06).moved(&there, 0.1);
        let fresh = MovingMesh::new(&there, &triangles, &[], &[], 0.06);
        for p in points() {
            let (a, b) = (mesh.touch(p), fresh.touch(p));
            assert_eq!(a.is_some(), b.is_some());
            if let (Some(a), Some(b)) = (a, b) {
                assert!((a.distance - b.distance).abs() < 1e-5, "{} {}", a.distance, b.distance);
                let foot = p - a.normal * a.distance;
                let before = glam::Quat::from_rotation_z(-0.3) * (foot - Vec3::new(0.05, 0.0, 0.02));
                assert!((Vec3::from(a.velocity) - (foot - before) / 0.1).length() < 0.02);
            }
        }
    }

    #[test]
    fn regions_stand_off_by_their_own_offsets() {
        let (at, triangles) = ball(0.1, 16);
        let upper = |t: &[u32; 3]| u8::from(t.iter().all(|v| at[*v as usize][1] > -1e-6));
        let region: Vec<u8> = triangles.iter().map(upper).collect();
        let mesh = MovingMesh::new(&at, &triangles, &region, &[0.0, 0.02], 0.06);
        let at = |y: f32| mesh.touch(Vec3::new(0.0, y, 0.0)).map(|t| (t.distance, t.region)).expect("near");
        assert!((at(0.13).0 - 0.01).abs() < 1e-3 && at(0.13).1 == 1);
        assert!((at(-0.13).0 - 0.03).abs() < 1e-3 && at(-0.13).1 == 0);
    }
}
