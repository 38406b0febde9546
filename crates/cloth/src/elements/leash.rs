//! Cloth that is carried: every vertex stays within a length of a place that is told from outside, and follows it exactly at none.

use crate::linear::link::Link;
use glam::Vec3A;

/// Times its weight's inertia in one step with which cloth is drawn to its place.
const FIRM: f32 = 100.0;

/// A vertex on a leash.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Leash {
    /// The vertex.
    pub vertex: u32,
    /// How far it may go, m; 0 is carried.
    pub length: f32,
    /// Its place at the end of the step, m.
    pub place: [f32; 3],
}

impl Leash {
    /// Where a vertex at `p` is to be; none while it is free to be there.
    fn aim(&self, p: Vec3A) -> Option<Vec3A> {
        let (place, away) = (Vec3A::from(self.place), p - Vec3A::from(self.place));
        (self.length <= 0.0 || away.length() > self.length).then(|| place + away.clamp_length_max(self.length))
    }
}

/// Springs of one step that draw in what is out of its reach; what is carried is led, so that the cloth beside it feels how it moves.
pub(crate) fn leash_links(all: &[Leash], x: &[Vec3A], root: &[u32], mass: &[f32], h: f32, links: &mut Vec<Link>) {
    for one in all {
        let v = root[one.vertex as usize];
        let at = x[v as usize];
        if let Some(aim) = one.aim(at) {
            links.push(Link::round([v; 4], [1.0, 0.0, 0.0, 0.0], FIRM * mass[v as usize] / (h * h), aim - at));
        }
    }
}

/// Puts what is carried into its place, and what is too far from it at the end of its leash.
pub(crate) fn draw_in(all: &[Leash], root: &[u32], to: &mut [Vec3A]) {
    for one in all {
        let v = root[one.vertex as usize] as usize;
        if let Some(aim) = one.aim(to[v]) {
            to[v] = aim;
        }
    }
}
