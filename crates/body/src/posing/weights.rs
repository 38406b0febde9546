//! Skin weights of the mannequin: which bones a point of the skin follows, found from the shape itself.

use crate::implicit::ellipsoid::smoothstep;
use crate::implicit::field::Field;
use crate::posing::skeleton::{Skeleton, other_side};
use glam::DVec3;
use rayon::prelude::*;

/// The four strongest bones of a vertex; unused places have weight 0.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Weights {
    /// Bones, the heaviest first.
    pub joint_indices: [u16; 4],
    /// Adding up to 1.
    pub weights: [f32; 4],
}

/// Rounds of smoothing over the mesh.
const ROUNDS: usize = 6;

/// Shares of one point on the left, by bone without side.
struct Shares {
    arm: [(&'static str, f64); 4],
    leg: [(&'static str, f64); 4],
}

/// Weights of all vertices (points in cm); `mirror` names the mirror image of every vertex.
pub(crate) fn weights(field: &Field, skeleton: &Skeleton, points: &[DVec3], triangles: &[[u32; 3]], mirror: &[u32]) -> Vec<Weights> {
    let count = skeleton.bones.len();
    let plan = Plan::new(field, skeleton);
    let mut dense: Vec<f64> = points.par_iter().flat_map_iter(|p| plan.point(*p)).collect();
    let rings = rings(points.len(), triangles);
    for _ in 0..ROUNDS {
        dense = smoothed(&dense, &rings, count);
    }
    let swap: Vec<usize> = skeleton.bones.iter().map(|b| skeleton.index(&other_side(&b.name)).unwrap_or_default()).collect();
    (0..points.len())
        .into_par_iter()
        .map(|i| {
            let own = &dense[i * count..(i + 1) * count];
            let other = &dense[mirror[i] as usize * count..(mirror[i] as usize + 1) * count];
            strongest(&(0..count).map(|b| 0.5 * (own[b] + other[swap[b]])).collect::<Vec<_>>())
        })
        .collect()
}

/// Keeps the four strongest; ties go to the earlier bone.
pub fn strongest(dense: &[f64]) -> Weights {
    let mut order: Vec<usize> = (0..dense.len()).filter(|&b| dense[b] > 0.0).collect();
    order.sort_by(|&a, &b| dense[b].total_cmp(&dense[a]).then(a.cmp(&b)));
    order.truncate(4);
    let sum: f64 = order.iter().map(|&b| dense[b]).sum();
    let mut out = Weights::default();
    for (k, b) in order.into_iter().enumerate() {
        out.joint_indices[k] = b as u16;
        out.weights[k] = (dense[b] / sum) as f32;
    }
    out
}

/// Neighbours of every vertex, flat: starts and entries.
pub(crate) fn rings(count: usize, triangles: &[[u32; 3]]) -> (Vec<u32>, Vec<u32>) {
    let mut starts = vec![0u32; count + 1];
    // every edge of a closed surface is walked once in each direction
    triangles.iter().flatten().for_each(|&v| starts[v as usize + 1] += 1);
    (0..count).for_each(|i| starts[i + 1] += starts[i]);
    let mut fill = starts.clone();
    let mut ring = vec![0u32; starts[count] as usize];
    for t in triangles {
        for k in 0..3 {
            let slot = &mut fill[t[k] as usize];
            ring[*slot as usize] = t[(k + 1) % 3];
            *slot += 1;
        }
    }
    (starts, ring)
}

/// The mean of each vertex with its ring.
pub(crate) fn smoothed(dense: &[f64], (starts, ring): &(Vec<u32>, Vec<u32>), count: usize) -> Vec<f64> {
    let mut out = dense.to_vec();
    out.par_chunks_mut(count).enumerate().for_each(|(i, own)| {
        let neighbours = &ring[starts[i] as usize..starts[i + 1] as usize];
        let share = 0.5 / neighbours.len().max(1) as f64;
        own.iter_mut().for_each(|w| *w *= 0.5);
        for &j in neighbours {
            for b in 0..count {
                own[b] += share * dense[j as usize * count + b];
            }
        }
    });
    out
}

/// What all points share.
struct Plan<'a> {
    field: &'a Field,
    skeleton: &'a Skeleton,
    elbow: f64,
    clavicle: DVec3,
    hip: DVec3,
    knee: f64,
    ankle: f64,
    ball: f64,
    trunk: [DVec3; 6],
}

impl<'a> Plan<'a> {
    /// Of a field with its skeleton.
    fn new(field: &'a Field, skeleton: &'a Skeleton) -> Self {
        let joint = |name: &str| skeleton.index(name).map_or(DVec3::ZERO, |b| skeleton.bones[b].joint * 100.0);
        let (collar, shoulder) = (joint("collar-left"), joint("upper-arm-left"));
        Self {
            elbow: (joint("forearm-left") - field.arm.shoulder).dot(field.arm.along),
            clavicle: collar.lerp(shoulder, 0.75),
            hip: joint("thigh-left"),
            knee: joint("shin-left").y,
            ankle: joint("foot-left").y,
            ball: joint("toes-left").z,
            trunk: ["pelvis", "spine-1", "spine-2", "spine-3", "neck", "head"].map(joint),
            field,
            skeleton,
        }
    }

    /// Shares of a point among all bones.
    fn point(&self, point: DVec3) -> Vec<f64> {
        let Shares { arm, leg } = self.limbs(point.with_x(point.x.abs()));
        let mut own = vec![0.0; self.skeleton.bones.len()];
        let mut give = |stem: &str, left: f64, share: f64| {
            for (side, part) in [("left", left), ("right", 1.0 - left)] {
                if let Some(b) = self.skeleton.index(&format!("{stem}-{side}")) {
                    own[b] += share * part;
                }
            }
        };
        let left_leg = self.left_leg(point);
        let left_arm = if point.x > 0.0 { 1.0 } else { 0.0 };
        arm.iter().for_each(|(stem, share)| give(stem, left_arm, *share));
        leg.iter().for_each(|(stem, share)| give(stem, left_leg, *share));
        let rest = (1.0 - own.iter().sum::<f64>()).clamp(0.0, 1.0);
        for (name, share) in self.spine(point) {
            if let Some(b) = self.skeleton.index(name) {
                own[b] += rest * share;
            }
        }
        let sum: f64 = own.iter().sum();
        own.iter_mut().for_each(|w| *w /= sum);
        own
    }

    /// Shares of arm and leg for a point with x >= 0.
    fn limbs(&self, p: DVec3) -> Shares {
        let (field, f) = (self.field, self.field.f);
        let q = field.arm.frame(p);
        let trunk = if p.y > field.trunk.crotch - 6.0 * f { field.trunk.distance(p) } else { 40.0 };
        let limb = if p.x > field.arm.shoulder.x - 12.0 * f { field.arm.distance(q) } else { 40.0 };
        let mut a = smoothstep(-5.0 * f, 5.0 * f, trunk - limb) * smoothstep(-6.0 * f, 7.0 * f, q.x);
        if q.x > 14.0 * f {
            a = 1.0;
        }
        // only points of the arm's own surface, so that thighs are never caught
        if limb >= 3.0 * f || p.x <= 2.0 * f {
            a = 0.0;
        }
        let e = ((p - self.clavicle) / (DVec3::new(9.0, 7.0, 8.5) * f)).length();
        let collar = (1.0 - smoothstep(0.25, 1.15, e)) * (1.0 - a) * 0.85;
        let elbow = smoothstep(self.elbow - 4.2 * f, self.elbow + 4.2 * f, q.x);
        let wrist = smoothstep(field.arm.length - 2.6 * f, field.arm.length + 3.0 * f, q.x);
        let groin = DVec3::new(0.40, -1.0, 0.12).normalize();
        let below = (p - self.hip + DVec3::Y * f).dot(groin);
        let leg = if limb > f && a < 0.5 { smoothstep(-6.5 * f, 6.5 * f, below) } else { 0.0 };
        let knee = 1.0 - smoothstep(self.knee - 6.0 * f, self.knee + 6.0 * f, p.y);
        let ankle = 1.0 - smoothstep(self.ankle - 3.5 * f, self.ankle + 3.5 * f, p.y);
        let toes = smoothstep(self.ball - 2.5 * f, self.ball + 2.5 * f, p.z);
        Shares {
            arm: [("upper-arm", a * (1.0 - elbow)), ("forearm", a * elbow * (1.0 - wrist)), ("hand", a * wrist), ("collar", collar)],
            leg: [
                ("thigh", leg * (1.0 - knee)),
                ("shin", leg * knee * (1.0 - ankle)),
                ("foot", leg * knee * ankle * (1.0 - toes)),
                ("toes", leg * knee * ankle * toes),
            ],
        }
    }

    /// The left leg's part of the legs' share: all or nothing below the crotch, blended above it.
    fn left_leg(&self, p: DVec3) -> f64 {
        let (f, crotch) = (self.field.f, self.field.trunk.crotch);
        let rise = ((p.y - crotch + 2.0 * f) / (6.0 * f)).clamp(0.0, 1.0);
        let width = (0.25 + 3.75 * rise) * f;
        let c = (p.x / width).clamp(-1.0, 1.0);
        0.5 + 0.5 * c * (1.5 - 0.5 * c * c)
    }

    /// Shares along the spine, by height.
    fn spine(&self, p: DVec3) -> [(&'static str, f64); 6] {
        const HALF: [f64; 6] = [0.0, 5.5, 5.5, 6.0, 3.0, 2.6];
        const NAMES: [&str; 6] = ["pelvis", "spine-1", "spine-2", "spine-3", "neck", "head"];
        let mut above = [1.0; 7];
        above[6] = 0.0;
        for k in 1..6 {
            let joint = self.trunk[k];
            // the planes of neck and head are tilted with the jaw
            let y = if k >= 4 { p.y - 0.35 * (p.z - joint.z) } else { p.y };
            let half = HALF[k] * self.field.f;
            above[k] = smoothstep(joint.y - half, joint.y + half, y).min(above[k - 1]);
        }
        std::array::from_fn(|k| (NAMES[k], above[k] - above[k + 1].min(above[k])))
    }
}
