//! Contacts as one-sided springs with Coulomb friction, set up once a step at its start.

use super::closest::{Separation, edge_edge, vertex_triangle};
use super::pairs::Candidates;
use crate::collider::body::BodyShape;
use crate::collider::moving_mesh::UNKNOWN;
use crate::linear::link::Link;
use glam::{Vec3, Vec3A};
use rayon::prelude::*;

/// Speed below which friction grows in proportion to speed, m/s.
const STICK_SPEED: f32 = 1e-3;

/// Most speed at which cloth comes out of the body, m/s; what starts deep inside would be thrown out otherwise.
pub(crate) const OUTWARD_SPEED: f32 = 0.4;

/// Most that pressed layers stiffen by, with the square of how thin they are pressed.
const FIRMEST: f32 = 400.0;

/// What the contacts of one step need to know.
pub(crate) struct Moving<'a> {
    /// m.
    pub positions: &'a [Vec3A],
    /// m/s.
    pub velocities: &'a [Vec3A],
    /// s.
    pub time_step: f32,
    /// Change of velocity by gravity over the step.
    pub fall: Vec3A,
}

/// Friction stiffness across the normal for a contact of normal force `press` sliding at `slip`.
fn friction(coefficient: f32, press: f32, slip: f32, time_step: f32) -> f32 {
    coefficient * press / (slip.max(STICK_SPEED) * time_step)
}

/// Neither pressed now nor by the end of the step. What is pressed stays in contact even while it recoils; otherwise
/// contacts would switch on and off from step to step.
fn is_apart(d: f32, speed: f32, time_step: f32) -> bool {
    d >= 0.0 && d + speed * time_step >= 0.0
}

/// Where the cloth is looked at against the body: a vertex (twice), or the ends of an edge whose middle is meant; the
/// distance to keep (m), the stiffness (N/m) and the friction.
pub(crate) type Sample = ([u32; 2], f32, f32, f32);

/// Play of distances that are interpolated on a grid, m.
const PLAY: f32 = 2e-3;

/// What is farther than this from a moving skin does not meet it in a step, m, unless either is very fast; then it is looked at
/// more closely.
const NEARBY: f32 = 0.02;

/// Distance of every vertex from the body, m, as far as it is sampled. `nearest` are triangles of a moving skin by vertex that were the
/// nearest before; they become those that are now, so that the next search begins there.
pub(crate) fn heights(body: &BodyShape, x: &[Vec3A], samples: &[Sample], nearest: &mut Vec<u32>) -> Vec<f32> {
    nearest.resize(x.len(), UNKNOWN);
    let mut heights = vec![f32::MAX; x.len()];
    let vertices = &samples[..samples.partition_point(|(v, ..)| v[0] == v[1])];
    let look = |(v, ..): &Sample| body.height_from(x[v[0] as usize].into(), NEARBY, nearest[v[0] as usize]);
    let found: Vec<(f32, u32)> = vertices.par_iter().with_min_len(512).map(look).collect();
    for ((v, ..), found) in vertices.iter().zip(found) {
        (heights[v[0] as usize], nearest[v[0] as usize]) = found;
    }
    heights
}

/// The least distance a sample can have, given those of its vertices, m.
#[inline]
pub(crate) fn least_height(heights: &[f32], x: &[Vec3A], [a, b]: [u32; 2]) -> f32 {
    let (a, b) = (a as usize, b as usize);
    if a == b { heights[a] } else { heights[a].max(heights[b]) - 0.5 * x[a].distance(x[b]) - PLAY }
}

/// A sample of the cloth against the body.
fn body_link(
    body: &BodyShape,
    m: &Moving,
    (heights, nearest): (&[f32], &[u32]),
    fastest: Option<f32>,
    &(vertices, offset, stiffness, coefficient): &Sample,
) -> Option<Link> {
    let mid = |x: &[Vec3A]| (x[vertices[0] as usize] + x[vertices[1] as usize]) * 0.5;
    let reach = 0.05f32.min(body.band());
    let velocity = mid(m.velocities) + m.fall;
    let least = least_height(heights, m.positions, vertices);
    // what cannot come together in this step; of a grid that moves only its regions' own motion is known
    let skin = if body.moves() { fastest } else { Some(0.0) };
    if least > reach || skin.is_some_and(|skin| least > offset + (velocity.length() + skin) * m.time_step) {
        return None;
    }
    let p = mid(m.positions);
    let near = body.near_from(Vec3::from(p), nearest[vertices[0] as usize]);
    if near.distance > reach {
        return None;
    }
    let (d, n) = (near.distance - offset, Vec3A::from(near.normal));
    let skin = body.speed_of(&near, Vec3::from(p));
    if is_apart(d, (velocity - skin).dot(n), m.time_step) {
        return None;
    }
    let slip = mid(m.velocities) - skin;
    let slip = (slip - n * slip.dot(n)).length();
    let press = (-d).max(0.0) * stiffness;
    let across = friction(coefficient * body.friction_of(&near, Vec3::from(p)), press, slip, m.time_step);
    let weights = if vertices[0] == vertices[1] { [1.0, 0.0, 0.0, 0.0] } else { [0.5, 0.5, 0.0, 0.0] };
    Some(Link {
        vertices: [vertices[0], vertices[1], vertices[0], vertices[0]],
        weights,
        normal: n,
        along: stiffness,
        across,
        // friction takes the cloth along with the skin
        target: n * (-d).min((OUTWARD_SPEED + skin.dot(n).max(0.0)) * m.time_step) + (skin - n * skin.dot(n)) * m.time_step,
    })
}

/// Contacts with the body.
pub(crate) fn body_links(body: &BodyShape, m: &Moving, samples: &[Sample], nearest: &mut Vec<u32>) -> Vec<Link> {
    let (heights, fastest) = (heights(body, m.positions, samples, nearest), body.fastest());
    let known = (&heights[..], &nearest[..]);
    samples.par_iter().with_min_len(512).filter_map(|sample| body_link(body, m, known, fastest, sample)).collect()
}

/// Contacts between layers of cloth; those of collision_exempt vertices, which cross, are left to the way out. Friction is
/// that of the rougher side, by the factors of `grip` (none: the same everywhere).
pub(crate) fn cloth_links(
    candidates: &Candidates,
    m: &Moving,
    collision_exempt: &[bool],
    thickness: f32,
    stiffness: f32,
    (coefficient, grip): (f32, &[f32]),
) -> Vec<Link> {
    let rough = |v: &[u32; 4]| v.iter().filter_map(|&i| grip.get(i as usize)).copied().reduce(f32::max).unwrap_or(1.0);
    let links = |list: &[[u32; 4]], split: usize, separate: fn([glam::DVec3; 4]) -> Separation| -> Vec<Link> {
        list.par_iter()
            .with_min_len(512)
            .filter(|v| !v.iter().any(|&i| collision_exempt[i as usize]))
            .filter_map(|v| cloth_link(v, split, separate, m, thickness, stiffness, coefficient * rough(v)))
            .collect()
    };
    let mut found = links(&candidates.vertex_triangle, 1, vertex_triangle);
    found.extend(links(&candidates.edge_edge, 2, edge_edge));
    found
}

/// Whether the boxes of the two features, over the step, are farther apart than the thickness.
fn far_apart(v: &[u32; 4], m: &Moving, split: usize, thickness: f32) -> bool {
    let bounds = |v: &[u32]| {
        v.iter().fold((Vec3A::MAX, Vec3A::MIN), |(low, high), &i| {
            let a = m.positions[i as usize];
            let b = a + m.velocities[i as usize] * m.time_step;
            (low.min(a).min(b), high.max(a).max(b))
        })
    };
    let ((low_a, high_a), (low_b, high_b)) = (bounds(&v[..split]), bounds(&v[split..]));
    (low_a - high_b).max(low_b - high_a).max_element() > thickness
}

fn cloth_link(
    v: &[u32; 4],
    split: usize,
    separate: fn([glam::DVec3; 4]) -> Separation,
    m: &Moving,
    thickness: f32,
    stiffness: f32,
    coefficient: f32,
) -> Option<Link> {
    if far_apart(v, m, split, thickness) {
        return None;
    }
    let s = separate(v.map(|i| m.positions[i as usize].as_dvec3()));
    let length = s.vector.length();
    if length < 1e-7 {
        return None;
    }
    let n = (s.vector / length).as_vec3a();
    let weights = s.weights.map(|w| w as f32);
    let velocity = (0..4).map(|k| m.velocities[v[k] as usize] * weights[k]).fold(Vec3A::ZERO, |a, b| a + b);
    let d = length as f32 - thickness;
    if is_apart(d, velocity.dot(n), m.time_step) {
        return None;
    }
    // layers that are pressed together push back ever harder, so that the guard need not hold them
    let stiffness = stiffness * (thickness / length as f32).powi(2).clamp(1.0, FIRMEST);
    let slip = (velocity - n * velocity.dot(n)).length();
    let across = friction(coefficient, (-d).max(0.0) * stiffness, slip, m.time_step);
    Some(Link { vertices: *v, weights, normal: n, along: stiffness, across, target: n * -d })
}
