//! Evening out the net: tangential smoothing and projection onto the field's zero, half the body, mirrored after each round.

use crate::implicit::field::Field;
use crate::skinning::fairing::{fair_shoulders, turn_normals};
use crate::skinning::nets::MirroredMesh;
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
    unfold(mesh, &half, &neighbours, &gradients);
    let mut points = mesh.points.clone();
    let shoulders = fair_shoulders(field, &mut points, &half, &neighbours);
    let (faired, moved): (Vec<u32>, Vec<DVec3>) = shoulders.iter().map(|(i, _)| (*i, points[*i as usize])).unzip();
    store(mesh, &faired, &moved);
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
    turn_normals(mesh, &shoulders, &mut normals);
    normals
}

/// Most rounds of unfolding, and the cosine between a face and the field below which it counts as folded.
const UNFOLD: usize = 40;
const FOLDED: f64 = 0.25;

/// Smooths faces that fold over between the fingers, where cells are wider than the gaps, until they lie flat.
fn unfold(mesh: &mut MirroredMesh, half: &[u32], neighbours: &[Vec<u32>], gradients: &[DVec3]) {
    let mut normals = vec![DVec3::ZERO; mesh.points.len()];
    half.iter().zip(gradients).for_each(|(&i, g)| normals[i as usize] = g.normalize_or_zero());
    let faces: Vec<[u32; 3]> = mesh.triangles.iter().copied().filter(|t| t.iter().all(|&v| mesh.points[v as usize].x >= 0.0)).collect();
    for _ in 0..UNFOLD {
        let folded = |t: &&[u32; 3]| {
            let [a, b, c] = t.map(|v| mesh.points[v as usize]);
            let normal = (b - a).cross(c - a).normalize_or_zero();
            t.iter().any(|&v| normal.dot(normals[v as usize]) < FOLDED)
        };
        let mut bad: Vec<u32> = faces.iter().filter(folded).flatten().copied().collect();
        bad.sort_unstable();
        bad.dedup();
        if bad.is_empty() {
            return;
        }
        let mean =
            |v: u32| neighbours[v as usize].iter().map(|&j| mesh.points[j as usize]).sum::<DVec3>() / neighbours[v as usize].len() as f64;
        let moved: Vec<DVec3> = bad.iter().map(|&v| mesh.points[v as usize].lerp(mean(v), 0.5)).collect();
        store(mesh, &bad, &moved);
        // where it was smoothed the face itself says where outside is
        for &v in &bad {
            normals[v as usize] = DVec3::ZERO;
        }
        for t in &faces {
            if t.iter().any(|v| bad.binary_search(v).is_ok()) {
                let [a, b, c] = t.map(|v| mesh.points[v as usize]);
                let normal = (b - a).cross(c - a);
                t.iter().filter(|v| bad.binary_search(v).is_ok()).for_each(|&v| normals[v as usize] += normal);
            }
        }
        bad.iter().for_each(|&v| normals[v as usize] = normals[v as usize].normalize_or_zero());
    }
}

/// Points next to each point.
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

/// Writes moved points back, to both sides of the body.
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
