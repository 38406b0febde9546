//! The last word of the body in a step: what the solve left inside it comes out.
//!
//! Vertices and the middles of edges are looked at always, the middles of triangles where cloth swings with the body. With care, edges
//! are looked at every few millimetres, and the corners of a moving skin against the triangles over them: a fingertip in a hem.

use crate::collider::body::BodyShape;
use crate::contact;
use crate::elements::membrane::Element;
use crate::stepper::drape::Drape;
use crate::stepper::step::LONGEST_STEP;
use glam::{Vec3, Vec3A};
use rayon::prelude::*;
use std::collections::BTreeMap;

/// Share of its offset from the body that cloth keeps after every step.
const LEAST_OFFSET: f32 = 0.3;
/// A triangle of which a vertex is farther from the skin than this is not looked at in its middle, m.
const FACES_NEAR: f32 = 0.015;
/// With care, edges are looked at so often, m.
const EVERY: f32 = 4e-3;
/// With care, a corner of the skin is looked for so far over and under a triangle, m: farther under lies the other side of a finger.
const OVER: f32 = 4e-3;
const UNDER: f32 = 6e-3;
/// Triangles of one task.
const TASK: usize = 256;

/// Vertices with their pushes, m.
type Pushes = Vec<(u32, Vec3A)>;

impl Drape {
    /// Moves cloth out of the body; returns which way vertices were pushed.
    pub(crate) fn push_out(&mut self, to: &mut [Vec3A]) -> Vec<(usize, Vec3A)> {
        let mut pushed = Vec::new();
        let Some(body) = &self.scene.body else { return pushed };
        let heights = contact::heights(body, to, &self.model.samples, &mut self.meeting.nearest);
        let (vertices, edges) = self.model.samples.split_at(self.model.samples.partition_point(|(v, ..)| v[0] == v[1]));
        for samples in [vertices, edges] {
            let out = |&(v, offset, ..): &contact::Sample| {
                let near = contact::least_height(&heights, to, v) < LEAST_OFFSET * offset;
                near.then(|| self.way_out(body, to, &v, &[0.5; 2], offset)).flatten().map(|push| v.map(|v| (v, push)))
            };
            let pushes = samples.par_iter().filter_map(out).collect::<Vec<_>>();
            self.take(pushes.into_iter().flatten(), to, &mut pushed);
        }
        if self.state.swing.is_on() {
            let near = |element: &&Element| element.vertices.iter().all(|v| heights[*v as usize] < FACES_NEAR);
            let pushes = self.by_element(near, |element| {
                let push = self.way_out(body, to, &element.vertices, &[1.0 / 3.0; 3], self.offset_of(&element.vertices));
                push.map_or_else(Vec::new, |push| element.vertices.map(|v| (v, push)).to_vec())
            });
            self.take(pushes, to, &mut pushed);
        }
        if self.careful {
            let near = |v: &[u32]| v.iter().any(|v| heights[*v as usize] < FACES_NEAR);
            let found = edges.par_iter().filter(|(v, ..)| near(v)).map(|(v, offset, ..)| self.along_edge(body, to, v, *offset));
            let pushes = found.collect::<Vec<_>>();
            self.take(pushes.into_iter().flatten(), to, &mut pushed);
            let near = |element: &&Element| near(&element.vertices);
            let pushes = self.by_element(near, |element| self.over_corners(body, to, element));
            self.take(pushes, to, &mut pushed);
        }
        pushed
    }

    /// What is found at the triangles that are near, in their order.
    fn by_element<'a>(&'a self, near: impl Fn(&&'a Element) -> bool + Sync, find: impl Fn(&Element) -> Pushes + Sync) -> Pushes {
        let task = |elements: &'a [Element]| elements.iter().filter(&near).flat_map(&find).collect::<Pushes>();
        let found: Vec<Pushes> = self.model.elements.par_chunks(TASK).map(task).collect();
        found.into_iter().flatten().collect()
    }

    /// Mean offset of some vertices from the body, m.
    fn offset_of(&self, v: &[u32]) -> f32 {
        v.iter().map(|v| self.model.offset[*v as usize]).sum::<f32>() / v.len() as f32
    }

    /// The way out of the body for a point between some vertices, if it lies in it.
    fn way_out(&self, body: &BodyShape, to: &[Vec3A], v: &[u32], weights: &[f32], offset: f32) -> Option<Vec3A> {
        let least = LEAST_OFFSET * offset;
        let point = |x: &[Vec3A]| Vec3::from(v.iter().zip(weights).map(|(v, w)| x[*v as usize] * *w).sum::<Vec3A>());
        let (at, known) = (point(to), self.meeting.nearest[v[0] as usize]);
        if body.height_from(at, least, known).0 >= least {
            return None;
        }
        let (d, n) = body.distance_and_normal(at);
        // what was inside before the step comes out at no more than the outward speed beyond that of the skin
        let q = point(&self.state.x);
        let skin = body.velocity_at(q).dot(Vec3A::from(n)).max(0.0);
        let most = least.min(body.distance(q) + (contact::OUTWARD_SPEED + skin) * self.settings.time_step);
        (d < most).then(|| Vec3A::from(n) * (most - d).min(LONGEST_STEP))
    }

    /// Pushes along an edge.
    fn along_edge(&self, body: &BodyShape, to: &[Vec3A], v: &[u32; 2], offset: f32) -> Pushes {
        let mut pushes = Vec::new();
        let [a, b] = v.map(|v| to[v as usize]);
        let parts = (a.distance(b) / EVERY).ceil() as usize;
        for part in 1..parts {
            let s = part as f32 / parts as f32;
            let weights = [1.0 - s, s];
            if let Some(push) = self.way_out(body, to, v, &weights, offset) {
                spread(&mut pushes, v, &weights, push);
            }
        }
        pushes
    }

    /// Pushes off the corners of a moving skin.
    fn over_corners(&self, body: &BodyShape, to: &[Vec3A], element: &Element) -> Pushes {
        let mut pushes = Vec::new();
        let Some(mesh) = &body.mesh else { return pushes };
        let corners = element.vertices.map(|v| Vec3::from(to[v as usize]));
        let low = corners[0].min(corners[1]).min(corners[2]) - Vec3::splat(UNDER);
        let high = corners[0].max(corners[1]).max(corners[2]) + Vec3::splat(UNDER);
        let least = LEAST_OFFSET * self.offset_of(&element.vertices);
        mesh.each_corner(low, high, |p, normal| {
            let Some((height, weights)) = above(p, normal, &corners) else { return };
            if height < least.min(OVER) && height > -UNDER {
                spread(&mut pushes, &element.vertices, &weights, Vec3A::from(normal) * (least - height).min(LONGEST_STEP));
            }
        });
        pushes
    }

    /// Pushes vertices, each the way of the longest of its pushes; notes them.
    fn take(&self, pushes: impl IntoIterator<Item = (u32, Vec3A)>, to: &mut [Vec3A], pushed: &mut Vec<(usize, Vec3A)>) {
        let mut longest = BTreeMap::new();
        for (v, push) in pushes {
            let slot = longest.entry(v as usize).or_insert(push);
            if push.length_squared() > slot.length_squared() {
                *slot = push;
            }
        }
        for (v, push) in longest.into_iter().filter(|(v, _)| !self.constraints.held[*v]) {
            to[v] += push;
            pushed.push((v, push));
        }
    }
}

/// Pushes of vertices that together move the point between them by `push`, with the least movement.
fn spread(pushes: &mut Pushes, v: &[u32], weights: &[f32], push: Vec3A) {
    let squares = weights.iter().map(|w| w * w).sum::<f32>();
    pushes.extend(v.iter().zip(weights).map(|(v, w)| (*v, push * (w / squares))));
}

/// How far along its normal a point lies under a triangle (less than 0: over it), and the weights of the corners there.
fn above(p: Vec3, normal: Vec3, [a, b, c]: &[Vec3; 3]) -> Option<(f32, [f32; 3])> {
    let (e, f) = (*b - *a, *c - *a);
    let h = normal.cross(f);
    let det = e.dot(h);
    if det.abs() < 1e-12 {
        return None;
    }
    let s = p - *a;
    let q = s.cross(e);
    let (u, v) = (s.dot(h) / det, normal.dot(q) / det);
    (u >= 0.0 && v >= 0.0 && u + v <= 1.0).then(|| (f.dot(q) / det, [1.0 - u - v, u, v]))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_height_of_a_triangle_over_a_corner_and_its_weights() {
        let triangle = [Vec3::new(0.0, 2.0, 0.0), Vec3::new(4.0, 2.0, 0.0), Vec3::new(0.0, 2.0, 4.0)];
        let (height, weights) = above(Vec3::new(1.0, 0.5, 2.0), Vec3::Y, &triangle).expect("over it");
        assert!((height - 1.5).abs() < 1e-6 && (weights[0] - 0.25).abs() < 1e-6 && (weights[1] - 0.25).abs() < 1e-6);
        assert!(above(Vec3::new(3.0, 0.5, 3.0), Vec3::Y, &triangle).is_none());
        assert!(above(Vec3::new(1.0, 3.0, 1.0), Vec3::Y, &triangle).expect("under it").0 < 0.0);
    }

    #[test]
    fn pushes_of_the_corners_move_the_point_between_them_as_wanted() {
        let (weights, push) = ([0.2, 0.3, 0.5], Vec3A::new(0.0, 1.0, -2.0));
        let mut pushes = Vec::new();
        spread(&mut pushes, &[0, 1, 2], &weights, push);
        let moved: Vec3A = pushes.iter().zip(weights).map(|((_, p), w)| *p * w).sum();
        assert!((moved - push).length() < 1e-6);
    }
}
