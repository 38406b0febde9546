//! Fairing of the shoulders: on large bodies yoke, collar bone and arm meet there in a step.
//!
//! Taubin, A Signal Processing Approach to Fair Surface Design, 1995: a shrinking and a growing pass in turn, weighted so
//! that they fade out towards neck, armpit and arm.

use crate::implicit::field::Field;
use crate::skinning::nets::MirroredMesh;
use glam::DVec3;

/// Pairs of passes, and their factors.
const ROUNDS: usize = 24;
const PASSES: [f64; 2] = [0.5, -0.52];

/// How much a point of the left half is faired, 0 to 1.
fn weight(field: &Field, p: DVec3) -> f64 {
    let f = field.f;
    let q = (p - field.arm.shoulder - DVec3::new(-3.5, 7.5, 0.0) * f) / (DVec3::new(8.0, 8.5, 10.0) * f);
    (1.0 - q.length_squared()).max(0.0).powi(2).min(0.5) * 2.0
}

/// Evens out the shoulders of the half x >= 0; returns the vertices concerned with their share.
pub(crate) fn fair_shoulders(field: &Field, points: &mut [DVec3], half: &[u32], neighbours: &[Vec<u32>]) -> Vec<(u32, f64)> {
    let zone: Vec<(u32, f64)> = half.iter().map(|&i| (i, weight(field, points[i as usize]))).filter(|(_, w)| *w > 0.0).collect();
    for _ in 0..ROUNDS {
        for pass in PASSES {
            let moved: Vec<DVec3> = zone
                .iter()
                .map(|&(i, w)| {
                    let ring = &neighbours[i as usize];
                    let mean = ring.iter().map(|&j| points[j as usize]).sum::<DVec3>() / ring.len() as f64;
                    points[i as usize] + (mean - points[i as usize]) * pass * w
                })
                .collect();
            zone.iter().zip(moved).for_each(|(&(i, _), p)| points[i as usize] = p);
        }
    }
    zone
}

/// Turns the normals of faired vertices to those of the faces around them.
pub(crate) fn turn_normals(mesh: &MirroredMesh, zone: &[(u32, f64)], normals: &mut [DVec3]) {
    let mut sums = vec![DVec3::ZERO; mesh.points.len()];
    for t in &mesh.triangles {
        let [a, b, c] = t.map(|v| mesh.points[v as usize]);
        let normal = (b - a).cross(c - a);
        t.iter().for_each(|&v| sums[v as usize] += normal);
    }
    for &(i, w) in zone {
        let own = &mut normals[i as usize];
        *own = own.lerp(sums[i as usize].normalize_or(*own), (2.0 * w).min(1.0)).normalize_or(*own);
        let mirrored = DVec3::new(-own.x, own.y, own.z);
        normals[mesh.mirror[i as usize] as usize] = mirrored;
    }
}
