//! Skinning with dual quaternions (Kavan et al., Geometric Skinning with Approximate Dual Quaternion Blending, 2008), or linear
//! for skins that were made for it.

use crate::posing::skeleton::Skeleton;
use crate::posing::weights::Weights;
use crate::skinning::surface::{Surface, smooth_normals};
use glam::{DAffine3, DQuat, DVec3};
use rayon::prelude::*;

/// Skeleton and skin weights of a figure, one entry of `weights` per vertex.
#[derive(Clone, Debug, PartialEq, Default)]
pub struct Rig {
    /// What moves it.
    pub skeleton: Skeleton,
    /// By vertex.
    pub weights: Vec<Weights>,
    /// Whether motions are blended as matrices, as skins from elsewhere are made for.
    pub linear: bool,
}

/// A rigid motion: rotation and half the translation times the rotation.
#[derive(Clone, Copy)]
struct DualQuat {
    real: DQuat,
    dual: DQuat,
}

impl DualQuat {
    /// From a rigid motion.
    fn new(motion: &DAffine3) -> Self {
        let (_, real, t) = motion.to_scale_rotation_translation();
        Self { real, dual: DQuat::from_xyzw(t.x, t.y, t.z, 0.0) * real * 0.5 }
    }
    fn towards(self, pole: DQuat) -> Self {
        if self.real.dot(pole) < 0.0 { Self { real: -self.real, dual: -self.dual } } else { self }
    }
}

impl Rig {
    /// The surface moved with the bones; stands on y = 0 when it did before.
    pub fn posed(&self, surface: &Surface, placed: &[DAffine3]) -> Surface {
        if self.linear {
            return self.blended_linear(surface, placed);
        }
        let motions: Vec<DualQuat> = placed.iter().map(DualQuat::new).collect();
        // all on the side of the first bone, so that blends take the short way round
        let pole = motions.first().map_or(DQuat::IDENTITY, |m| m.real);
        let motions: Vec<DualQuat> = motions.into_iter().map(|m| m.towards(pole)).collect();
        let (positions, normals) = surface
            .positions
            .par_iter()
            .zip(&surface.normals)
            .zip(&self.weights)
            .map(|((p, n), w)| {
                let (rotation, shift) = blended(&motions, w);
                (single(rotation * double(*p) + shift), single(rotation * double(*n)))
            })
            .unzip();
        Surface { positions, normals, triangles: surface.triangles.clone() }
    }

    /// The weighted mean of where each bone would carry a point.
    fn blended_linear(&self, surface: &Surface, placed: &[DAffine3]) -> Surface {
        let carried = |(p, w): (&[f32; 3], &Weights)| {
            let share = |k: usize| placed[w.joint_indices[k] as usize].transform_point3(double(*p)) * f64::from(w.weights[k]);
            let all: f64 = w.weights.iter().map(|v| f64::from(*v)).sum();
            (0..4).filter(|k| w.weights[*k] > 0.0).map(share).sum::<DVec3>() / all.max(1e-12)
        };
        let at: Vec<DVec3> = surface.positions.par_iter().zip(&self.weights).map(carried).collect();
        let normals = smooth_normals(&at, &surface.triangles);
        Surface { positions: at.into_iter().map(single).collect(), normals, triangles: surface.triangles.clone() }
    }
}

fn single(v: DVec3) -> [f32; 3] {
    v.as_vec3().to_array()
}

fn double(v: [f32; 3]) -> DVec3 {
    DVec3::from(v.map(f64::from))
}

/// The weighted mean of rigid motions, itself rigid.
fn blended(motions: &[DualQuat], w: &Weights) -> (DQuat, DVec3) {
    let zero = DQuat::from_xyzw(0.0, 0.0, 0.0, 0.0);
    let (mut real, mut dual) = (zero, zero);
    for k in 0..4 {
        let share = f64::from(w.weights[k]);
        if share > 0.0 {
            let m = &motions[w.joint_indices[k] as usize];
            real += m.real * share;
            dual += m.dual * share;
        }
    }
    let length = real.length().max(1e-12);
    let (real, dual) = (real * (1.0 / length), dual * (1.0 / length));
    let t = (dual * real.conjugate()) * 2.0;
    (real, DVec3::new(t.x, t.y, t.z))
}

/// The height of the lowest vertex, m.
pub(crate) fn lowest(surface: &Surface) -> f32 {
    surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn linear_blends_shorten_a_bend_and_dual_quaternions_keep_it() {
        let bones = vec![("hip".to_owned(), None, DVec3::ZERO), ("knee".to_owned(), Some(0), DVec3::ZERO)];
        let weights = vec![Weights { joint_indices: [0, 1, 0, 0], weights: [0.5, 0.5, 0.0, 0.0] }];
        let surface = Surface { positions: vec![[1.0, 0.0, 0.0]], normals: vec![[0.0, 1.0, 0.0]], triangles: Vec::new() };
        let half = std::f64::consts::FRAC_1_SQRT_2;
        for (linear, wanted) in [(true, 0.5), (false, half)] {
            let rig = Rig { skeleton: Skeleton::foreign(bones.clone()), weights: weights.clone(), linear };
            let placed = rig.skeleton.place(&[DQuat::IDENTITY, DQuat::from_rotation_z(std::f64::consts::FRAC_PI_2)]);
            let at = double(rig.posed(&surface, &placed).positions[0]);
            assert!(at.distance(DVec3::new(wanted, wanted, 0.0)) < 1e-6, "{linear}: {at}");
        }
    }
}
