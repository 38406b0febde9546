//! Cloth held to the skin or to a thing beside it, as springs of one step.

use super::tapes_and_stays::LIFT;
use crate::collider::body::BodyShape;
use crate::linear::link::Link;
use crate::scene::Scene;
use glam::{Vec3, Vec3A};

/// Where the nearest skin is looked for when cloth hangs beyond the sampled distances: so far, in so many rings, m.
const FAR: f32 = 0.4;
const RINGS: usize = 16;

/// A vertex that is held.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Held {
    /// The vertex.
    vertex: u32,
    /// N/m.
    stiffness: f32,
    /// m from the skin, once it is known.
    distance: Option<f32>,
    slides: bool,
    /// Number of the thing.
    to: Option<u32>,
    /// Where on the skin (at its distance) it is held: its own, or for what slides where it last was.
    spot: Option<Vec3A>,
}

impl Held {
    /// What it has found: its distance from the skin, and its spot there, m.
    pub fn found(&self) -> (Option<f32>, Option<[f32; 3]>) {
        (self.distance, self.spot.map(|s| s.to_array()))
    }

    /// Takes up what was found before.
    pub fn find(&mut self, (distance, spot): (Option<f32>, Option<[f32; 3]>)) {
        (self.distance, self.spot) = (distance, spot.map(Vec3A::from_array));
    }
}

/// All that a scene holds, not yet taken hold of.
pub(crate) fn held(scene: &Scene) -> Vec<Held> {
    let of = |hold: &crate::SkinHold| {
        let (distance, slides, to) = (hold.distance, hold.slides, hold.to);
        let each = hold.vertices.iter().zip(&hold.stiffness).filter(|(_, k)| **k > 0.0);
        each.map(|(vertex, stiffness)| Held { vertex: *vertex, stiffness: *stiffness, distance, slides, to, spot: None })
            .collect::<Vec<_>>()
    };
    scene.construction.skin_holds.iter().flat_map(of).collect()
}

/// Distance and outward direction of what a vertex is held to; none where neither is known.
fn surface(body: &BodyShape, to: Option<u32>, p: Vec3) -> Option<(f32, Vec3)> {
    match to.map(|k| body.things.get(k as usize)) {
        None => Some(body.distance_and_normal(p)).filter(|(d, _)| *d < body.band()),
        Some(thing) => {
            let thing = thing?;
            Some(((thing.distance)(p), thing.normal(p)))
        }
    }
}

/// The nearest point around that lies within the sampled distances.
fn nearest_around(body: &BodyShape, p: Vec3) -> Option<Vec3> {
    let way = |k: i32| (Vec3::new((k % 3) as f32, (k / 3 % 3) as f32, (k / 9) as f32) - 1.0).normalize();
    (1..=RINGS).find_map(|ring| {
        let at = |k: i32| p + way(k) * (FAR * ring as f32 / RINGS as f32);
        // all ways but the one to the point itself
        (0..27)
            .filter(|k| *k != 13)
            .map(at)
            .map(|q| (body.distance(q), q))
            .filter(|(d, _)| *d < body.band())
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, q)| q)
    })
}

/// Where a vertex at `p` is to be, and the direction off the skin there, if it is near; takes hold of it at the first time.
fn aim(one: &mut Held, body: &BodyShape, p: Vec3, h: f32) -> Option<(Vec3, Option<Vec3>)> {
    let here = surface(body, one.to, p);
    let speed = |at: Vec3A| match one.to.and_then(|k| body.things.get(k as usize)) {
        Some(thing) => body.velocity_of(thing.region, at.into()),
        None => body.velocity_at(at.into()),
    };
    let on_surface = |(d, n): (f32, Vec3), p: Vec3, distance: f32| p + n * (distance - d);
    if let (true, Some(here)) = (one.slides || one.spot.is_none(), here) {
        let distance = *one.distance.get_or_insert(here.0.max(0.0));
        let aim = on_surface(here, p, distance);
        one.spot = Some(aim.into());
        return Some((aim, Some(here.1)));
    }
    let Some(spot) = one.spot else {
        // far off: towards the nearest skin that can be found
        return nearest_around(body, p).filter(|_| one.to.is_none()).map(|aim| (aim, None));
    };
    let moved = spot + speed(spot) * h;
    let back = surface(body, one.to, moved.into()).zip(one.distance).map(|(s, d)| on_surface(s, moved.into(), d));
    let aim = back.unwrap_or(moved.into());
    one.spot = Some(aim.into());
    Some((aim, None))
}

/// Springs to where the held vertices are to be; what is far away is pulled with its whole force and not thrown.
pub(crate) fn hold_links(held: &mut [Held], body: &BodyShape, x: &[Vec3A], root: &[u32], h: f32, links: &mut Vec<Link>) {
    for one in held {
        let vertex = root[one.vertex as usize];
        let at = x[vertex as usize];
        let Some((aim, off)) = aim(one, body, at.into(), h) else { continue };
        let way = Vec3A::from(aim) - at;
        let overdrawn = (way.length() / LIFT).max(1.0);
        let (target, stiffness) = (way / overdrawn, one.stiffness * overdrawn);
        let weights = [1.0, 0.0, 0.0, 0.0];
        links.push(match off.filter(|_| one.slides) {
            Some(off) => Link { vertices: [vertex; 4], weights, normal: off.into(), along: stiffness, across: 0.0, target },
            None => Link::round([vertex; 4], weights, stiffness, target),
        });
    }
}
