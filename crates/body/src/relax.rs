//! Evening out the net: tangential smoothing and projection onto the field's zero, half the body, mirrored after each round.

use crate::field::Field;
use crate::nets::MirroredMesh;
use glam::DVec3;
use rayon::prelude::*;

/// Longest projection step in cm.
const STEP: f64 = 1.0;

/// Moves the points onto the surface with even spacing in `rounds` of smoothing; returns unit normals.
pub(crate) fn relax(field: &Field, mesh: &mut MirroredMesh, rounds: usize) -> Vec<DVec3> {
    let half: Vec<u32> = (0..mesh.points.len() as u32).filter(|&i| mesh.points[i as usize].x >= 0.0).collect();
    let neighbours = neighbours(mesh);
    project(field, mesh, &half);
    let mut gradients = project(field, mesh, &half);
    for _ in 0..rounds {
        let moved: Vec<DVec3> = half
            .par_iter()
            .zip(&gradients)
            .map(|(&i, gradient)| {
                let ring = &neighbours[i as usize];
                let mean = ring.iter().map(|&j| mesh.points[j as usize]).sum::<DVec3>() / ring.len() as f64;
                let step = mean - mesh.points[i as usize];
                let normal = gradient.normalize_or_zero();
                mesh.points[i as usize] + (step - normal * step.dot(normal)) * 0.5
            })
            .collect();
        store(mesh, &half, &moved);
        gradients = project(field, mesh, &half);
    }
    let mut normals = vec![DVec3::ZERO; mesh.points.len()];
    let gradients: Vec<DVec3> = half.par_iter().map(|&i| field.gradient(mesh.points[i as usize])).collect();
    for (&i, mut g) in half.iter().zip(gradients) {
        if mesh.mirror[i as usize] == i {
            g.x = 0.0;
        }
        let g = g.normalize_or_zero();
        normals[mesh.mirror[i as usize] as usize] = DVec3::new(-g.x, g.y, g.z);
        normals[i as usize] = g;
    }
    normals
}

fn neighbours(mesh: &MirroredMesh) -> Vec<Vec<u32>> {
    let mut ring = vec![Vec::new(); mesh.points.len()];
    for t in &mesh.triangles {
        for k in 0..3 {
            // every edge of a closed surface is walked once in each direction
            ring[t[k] as usize].push(t[(k + 1) % 3]);
        }
    }
    ring
}

fn store(mesh: &mut MirroredMesh, half: &[u32], moved: &[DVec3]) {
    for (&i, &p) in half.iter().zip(moved) {
        let i = i as usize;
        let on_middle = mesh.mirror[i] as usize == i;
        let p = DVec3::new(if on_middle { 0.0 } else { p.x.max(1e-4) }, p.y, p.z);
        mesh.points[i] = p;
        if !on_middle {
            mesh.points[mesh.mirror[i] as usize] = DVec3::new(-p.x, p.y, p.z);
        }
    }
}

/// One projection step; returns the gradients at the points before it.
fn project(field: &Field, mesh: &mut MirroredMesh, half: &[u32]) -> Vec<DVec3> {
    let (moved, gradients): (Vec<DVec3>, Vec<DVec3>) = half
        .par_iter()
        .map(|&i| {
            let p = mesh.points[i as usize];
            let gradient = field.gradient(p);
            let step = (field.distance(p) / gradient.length_squared().max(0.15)).clamp(-STEP, STEP);
            (p - gradient * step, gradient)
        })
        .unzip();
    store(mesh, half, &moved);
    gradients
}
