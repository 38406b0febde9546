//! NormalConeCulling patches of cloth, within which nothing can meet: they are left out of the search.
//!
//! A patch without a border of its piece, which is convex on the flat and whose normals all lie within a narrow cone,
//! cannot fold onto itself (the curvature test of Volino & Magnenat-Thalmann 1994, without its contour test, which a
//! convex patch of cloth that hardly stretches does not need). Where cloth is stretched or squeezed in its plane, as in the crease of a
//! lap, it may fold within narrow normals: there nothing is left out.

use super::bvh::Bvh;
use crate::scene::Scene;
use glam::{Vec2, Vec3, Vec3A};
use rayon::prelude::*;
use std::collections::HashSet;
use std::f32::consts::PI;

/// Half the opening of a cone within which a patch counts as smooth, radians: a right angle less what the cloth may turn
/// until the next search.
const NARROW: f32 = 0.6;
/// Patches that lie next to each other are this near on the flat, and their far ends no farther, in edges.
const NEXT: f32 = 1.5;
const FAR: f32 = 6.0;
/// Least and most of its flat length, in any direction, that cloth of a smooth patch has.
const LENGTHS: [f32; 2] = [0.85, 1.2];
/// Triangles of one task.
const TASK: usize = 512;

/// Directions around an axis, up to an angle in radians.
#[derive(Clone, Copy, Debug)]
struct NormalCone {
    axis: Vec3A,
    angle: f32,
}

impl NormalCone {
    const ALL: Self = Self { axis: Vec3A::Y, angle: PI };

    fn join(self, other: Self) -> Self {
        let axis = (self.axis + other.axis).normalize_or_zero();
        if self.angle + other.angle >= PI || axis == Vec3A::ZERO {
            return Self::ALL;
        }
        let reach = |c: &Self| c.axis.dot(axis).clamp(-1.0, 1.0).acos() + c.angle;
        Self { axis, angle: reach(&self).max(reach(&other)) }
    }

    /// Whether two cones together are narrow; the cosine by its series, from below.
    #[inline]
    fn narrow_with(&self, other: &Self) -> bool {
        let left = 2.0 * NARROW - self.angle - other.angle;
        left > 0.0 && self.axis.dot(other.axis) > 1.0 - 0.5 * left * left + left.powi(4) / 24.0
    }
}

/// A node of the tree on the flat.
#[derive(Clone, Copy)]
struct Spot {
    low: Vec2,
    high: Vec2,
    /// Without a border of its piece.
    inner: bool,
    panel: u32,
}

/// What the tree's nodes are on the flat, and how they are bent.
pub(crate) struct NormalConeCulling {
    spots: Vec<Spot>,
    cones: Vec<NormalCone>,
    of_triangle: Vec<NormalCone>,
    /// Per triangle: weights of its two edges at the first corner in the ways along the flat axes, 1/m.
    flat: Vec<[Vec2; 2]>,
    /// Per node: the end in the tree's order of the largest smooth patch that it is part of; 0 for none.
    clear: Vec<u32>,
    /// Mean length of an edge on the flat, m.
    edge: f32,
}

impl NormalConeCulling {
    /// Mean length of an edge on the flat, m.
    pub fn edge(&self) -> f32 {
        self.edge
    }

    /// The tree over the flat pieces, and what is known of its nodes.
    pub fn tree(scene: &Scene) -> (Bvh, Self) {
        let corner = |v: u32| Vec2::from(scene.flat[v as usize]);
        let panels = crate::elements::bending::panel_of_triangle(scene);
        let centres: Vec<Vec2> = scene.triangles.iter().map(|t| t.iter().map(|&v| corner(v)).sum::<Vec2>() / 3.0).collect();
        let border = border(scene);
        // pieces far apart, so that the tree parts them first
        let spread = centres.iter().map(|c| c.abs().max_element()).fold(1.0, f32::max) * 4.0;
        let lifted: Vec<Vec3> = centres.iter().zip(&panels).map(|(c, p)| c.extend(spread * *p as f32)).collect();
        let tree = Bvh::new(&lifted);
        let spot = |items: &[u32]| {
            let first = items[0] as usize;
            let mut spot = Spot { low: Vec2::MAX, high: Vec2::MIN, inner: true, panel: panels[first] as u32 };
            for &t in items {
                let t = t as usize;
                spot.low = spot.low.min(centres[t]);
                spot.high = spot.high.max(centres[t]);
                spot.inner &= panels[t] as u32 == spot.panel && scene.triangles[t].iter().all(|&v| !border[v as usize]);
            }
            spot
        };
        let spots: Vec<Spot> = (0..tree.count()).map(|i| spot(tree.items(i))).collect();
        let lengths = scene.triangles.iter().map(|t| corner(t[0]).distance(corner(t[1]))).sum::<f32>();
        let smooth = Self {
            cones: vec![NormalCone::ALL; spots.len()],
            of_triangle: vec![NormalCone::ALL; centres.len()],
            flat: scene.triangles.iter().map(|t| weights(t.map(corner))).collect(),
            clear: vec![0; spots.len()],
            edge: lengths / centres.len() as f32,
            spots,
        };
        (tree, smooth)
    }

    /// Follows the cloth; `ahead` times its `moves` (m) it may go on until the next search. Where `strict`, patches that are stretched or
    /// squeezed in their plane do not count as smooth.
    pub fn refit(&mut self, tree: &Bvh, triangles: &[[u32; 3]], at: &[Vec3A], moves: &[Vec3A], ahead: f32, strict: bool) {
        let edge = self.edge;
        let given = triangles.par_chunks(TASK).zip(self.flat.par_chunks(TASK));
        self.of_triangle.par_chunks_mut(TASK).zip(given).for_each(|(cones, (triangles, flat))| {
            for ((cone, t), flat) in cones.iter_mut().zip(triangles).zip(flat) {
                let [a, b, c] = t.map(|v| v as usize);
                let edges = [at[b] - at[a], at[c] - at[a]];
                if strict && !keeps_its_lengths(flat, edges) {
                    *cone = NormalCone::ALL;
                    continue;
                }
                let axis = edges[0].cross(edges[1]).normalize_or_zero();
                let turn = (moves[b] - moves[a]).length_squared().max((moves[c] - moves[a]).length_squared()).sqrt();
                *cone = if axis == Vec3A::ZERO { NormalCone::ALL } else { NormalCone { axis, angle: (turn * ahead / edge).min(PI) } };
            }
        });
        for i in (0..tree.count()).rev().filter(|&i| self.spots[i].inner) {
            self.cones[i] = match tree.children(i) {
                Some([left, right]) => self.cones[left].join(self.cones[right]),
                None => self.bundle(tree.items(i)),
            };
        }
        for i in 0..tree.count() {
            let own = if self.spots[i].inner && self.cones[i].angle < NARROW { tree.end(i) } else { 0 };
            // a parent comes before its children and has handed down its own
            self.clear[i] = self.clear[i].max(own);
            if let Some(children) = tree.children(i) {
                children.into_iter().for_each(|c| self.clear[c] = self.clear[i]);
            }
        }
        self.clear[0] = 0;
    }

    fn bundle(&self, items: &[u32]) -> NormalCone {
        let axis = items.iter().map(|&t| self.of_triangle[t as usize].axis).sum::<Vec3A>().normalize_or_zero();
        let reach = |&t: &u32| {
            let c = &self.of_triangle[t as usize];
            c.axis.dot(axis).clamp(-1.0, 1.0).acos() + c.angle
        };
        NormalCone { axis, angle: if axis == Vec3A::ZERO { PI } else { items.iter().map(reach).fold(0.0, f32::max) } }
    }

    /// Whether nothing of a leaf can meet anything of a node that does not begin before it.
    #[inline]
    pub fn apart(&self, tree: &Bvh, leaf: usize, node: usize) -> bool {
        if tree.end(node) <= self.clear[leaf] {
            return true;
        }
        let (a, b) = (&self.spots[leaf], &self.spots[node]);
        if !(a.inner && b.inner) || a.panel != b.panel || !self.cones[leaf].narrow_with(&self.cones[node]) {
            return false;
        }
        let gap = (a.low - b.high).max(b.low - a.high).max_element();
        let far = (a.high.max(b.high) - a.low.min(b.low)).max_element();
        gap < NEXT * self.edge && far < FAR * self.edge
    }
}

/// Weights of the edges a-b and a-c in the ways along the flat axes.
fn weights([a, b, c]: [Vec2; 3]) -> [Vec2; 2] {
    let (e, f) = (b - a, c - a);
    let twice = e.perp_dot(f);
    [Vec2::new(f.y, -e.y) / twice, Vec2::new(-f.x, e.x) / twice]
}

/// Whether a triangle is about as long as on the flat in all directions.
#[inline]
fn keeps_its_lengths(flat: &[Vec2; 2], edges: [Vec3A; 2]) -> bool {
    let [u, v] = flat.map(|w| edges[0] * w.x + edges[1] * w.y);
    let (uu, vv, uv) = (u.length_squared(), v.length_squared(), u.dot(v));
    let (mean, half) = (0.5 * (uu + vv), (0.25 * (uu - vv) * (uu - vv) + uv * uv).sqrt());
    mean - half > LENGTHS[0] * LENGTHS[0] && mean + half < LENGTHS[1] * LENGTHS[1]
}

/// Vertices on the border of their piece.
fn border(scene: &Scene) -> Vec<bool> {
    let edges = crate::sewing::topology::edges(&scene.triangles);
    let shared: HashSet<(u32, u8)> = edges.hinges.iter().map(|h| (h.triangles[0], h.corners[0][0])).collect();
    let mut border = vec![false; scene.flat.len()];
    for (t, k) in edges.all.into_iter().filter(|edge| !shared.contains(edge)) {
        let triangle = scene.triangles[t as usize];
        border[triangle[k as usize] as usize] = true;
        border[triangle[(k as usize + 1) % 3] as usize] = true;
    }
    border
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn lengths_are_told_whatever_the_direction() {
        let flat = [Vec2::new(0.1, 0.2), Vec2::new(0.4, 0.22), Vec2::new(0.2, 0.45)];
        for turn in [0.0f32, 0.7, 1.9] {
            let kept = |along: f32, across: f32| {
                let [a, b, c] = flat.map(|p| {
                    let q = Vec2::from_angle(turn).rotate(p) * Vec2::new(along, across);
                    Vec3A::new(q.x * 0.6, q.y, q.x * 0.8)
                });
                keeps_its_lengths(&weights(flat), [b - a, c - a])
            };
            assert!(kept(1.0, 1.0) && kept(1.15, 0.9) && !kept(1.25, 1.0) && !kept(1.0, 0.8));
        }
    }

    proptest! {
        #[test]
        fn a_joined_cone_holds_both(a in prop::array::uniform3(-1.0f32..1.0), b in prop::array::uniform3(-1.0f32..1.0), s in 0.0f32..1.0, t in 0.0f32..1.0) {
            let (a, b) = (Vec3A::from(a), Vec3A::from(b));
            prop_assume!(a.length() > 0.1 && b.length() > 0.1);
            let [a, b] = [NormalCone { axis: a.normalize(), angle: s }, NormalCone { axis: b.normalize(), angle: t }];
            let both = a.join(b);
            for part in [a, b] {
                prop_assert!(both.angle > PI - 1e-3 || both.axis.dot(part.axis).clamp(-1.0, 1.0).acos() + part.angle < both.angle + 1e-3);
            }
            if a.narrow_with(&b) {
                prop_assert!(a.axis.dot(b.axis).clamp(-1.0, 1.0).acos() + s + t < 2.0 * NARROW + 0.01);
            }
        }
    }
}
