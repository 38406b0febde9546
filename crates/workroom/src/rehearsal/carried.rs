//! Cloth that a body in motion carries: where it is painted, it keeps its place on the skin, or stays within its leash.
//!
//! Where the figure has bones, cloth takes over the weights of the skin beneath it, smoothed over the cloth, and goes with the bones as
//! the skin does; on a figure without bones it goes with the triangles beneath it and beneath its neighbours.

use crate::{Assembly, holding};
use body::{Body, PosedBody, Rig, Surface, SurfacePoint, Weights, strongest};
use cloth::Leash;
use glam::{DAffine3, DMat3, DVec3};
use rayon::prelude::*;

/// Rounds in which the weights are smoothed over the cloth.
const ROUNDS: usize = 12;

/// What is carried of a garment, and from where.
#[derive(Clone)]
pub(super) struct Carried {
    /// Vertices of the cloth, none of which is fused with another of them.
    vertices: Vec<u32>,
    /// How far each may go, m.
    lengths: Vec<f32>,
    /// Where each was at the beginning, m.
    start: Vec<[f32; 3]>,
    by: Bearer,
}

#[derive(Clone)]
enum Bearer {
    /// Bones: the weights of every vertex, and where the bones were, from the neutral pose.
    Bones { rig: Rig, before: Vec<DAffine3> },
    /// The triangle of the skin under every vertex with its frame at the beginning, and the neighbours of every vertex.
    Skin { triangles: Vec<[u32; 3]>, before: Vec<DAffine3>, around: Vec<Vec<u32>> },
}

impl Carried {
    /// What is painted on a garment, as `start` tells where each vertex (by its number) lies on a body at the beginning, m. None
    /// where nothing is painted.
    /// `bones` is false for a body whose skin moves without them.
    pub fn new(assembly: &Assembly, bones: bool, posed: &PosedBody, fused: &[u32], start: impl Fn(u32) -> [f32; 3]) -> Option<Self> {
        let figure = &assembly.form.figure;
        let lengths = lengths(assembly, fused);
        let vertices: Vec<u32> = (0..lengths.len() as u32).filter(|v| lengths[*v as usize].is_finite()).collect();
        if vertices.is_empty() {
            return None;
        }
        let start: Vec<[f32; 3]> = vertices.iter().map(|v| start(*v)).collect();
        let spots: Vec<SurfacePoint> = start.par_iter().filter_map(|p| SurfacePoint::nearest(&posed.surface, double(*p))).collect();
        let around = around(assembly, &vertices, fused);
        let by = if bones && figure.rig.weights.len() == posed.surface.positions.len() {
            let weights = smoothed(figure, &posed.surface, &spots, &around);
            Bearer::Bones {
                rig: Rig { skeleton: figure.rig.skeleton.clone(), weights, linear: figure.rig.linear },
                before: posed.placed.clone(),
            }
        } else {
            let triangles: Vec<[u32; 3]> = spots.iter().map(|s| posed.surface.triangles[s.triangle]).collect();
            let before = triangles.iter().map(|t| frame(&posed.surface, *t)).collect();
            Bearer::Skin { triangles, before, around }
        };
        let lengths = vertices.iter().map(|v| lengths[*v as usize]).collect();
        (spots.len() == vertices.len()).then_some(Self { vertices, lengths, start, by })
    }

    /// The vertices that are carried, and where each was at the beginning, m.
    pub fn start(&self) -> impl Iterator<Item = (u32, [f32; 3])> + '_ {
        self.vertices.iter().copied().zip(self.start.iter().copied())
    }

    /// The places of what is carried on a body, m.
    pub fn places(&self, posed: &PosedBody) -> Vec<[f32; 3]> {
        match &self.by {
            Bearer::Bones { rig, before } => {
                let gone: Vec<DAffine3> = posed.placed.iter().zip(before).map(|(now, before)| *now * before.inverse()).collect();
                let count = self.start.len();
                let still = Surface { positions: self.start.clone(), normals: vec![[0.0, 1.0, 0.0]; count], triangles: Vec::new() };
                rig.posed(&still, &gone).positions
            }
            Bearer::Skin { triangles, before, around } => {
                let gone: Vec<DAffine3> =
                    triangles.par_iter().zip(before).map(|(t, before)| frame(&posed.surface, *t) * before.inverse()).collect();
                let place = |(p, ring): (&[f32; 3], &Vec<u32>)| {
                    let sum: DVec3 = ring.iter().map(|n| gone[*n as usize].transform_point3(double(*p))).sum();
                    (sum / ring.len() as f64).as_vec3().to_array()
                };
                self.start.iter().zip(around).map(place).collect()
            }
        }
    }

    /// Leashes for a step that ends a share of the way between two frames' places.
    pub fn leashes(&self, before: &[[f32; 3]], now: &[[f32; 3]], share: f32) -> Vec<Leash> {
        let one = |k: usize| {
            let place = if share >= 1.0 { now[k] } else { glam::Vec3::from(before[k]).lerp(now[k].into(), share).to_array() };
            Leash { vertex: self.vertices[k], length: self.lengths[k], place }
        };
        (0..self.vertices.len()).map(one).collect()
    }
}

fn double(p: [f32; 3]) -> DVec3 {
    DVec3::from(p.map(f64::from))
}

/// How far every vertex may go, m; infinitely far where it is free, or fused with another. The shortest of fused ones counts.
fn lengths(assembly: &Assembly, fused: &[u32]) -> Vec<f32> {
    let own = holding::leashes(assembly.hung());
    let mut lengths = vec![f32::INFINITY; own.len()];
    for (length, root) in own.iter().zip(fused) {
        // within a tenth of a millimetre it is carried
        let length = if *length < 1e-4 { 0.0 } else { *length };
        lengths[*root as usize] = lengths[*root as usize].min(length);
    }
    lengths
}

/// For every carried vertex the carried ones beside it, itself the first.
fn around(assembly: &Assembly, vertices: &[u32], fused: &[u32]) -> Vec<Vec<u32>> {
    let mut number = vec![u32::MAX; fused.len()];
    vertices.iter().enumerate().for_each(|(k, v)| number[*v as usize] = k as u32);
    let mut around: Vec<Vec<u32>> = (0..vertices.len() as u32).map(|k| vec![k]).collect();
    for t in &assembly.scene.triangles {
        let known = t.map(|v| number[fused[v as usize] as usize]);
        for (a, b) in [(0, 1), (1, 2), (2, 0), (1, 0), (2, 1), (0, 2)].map(|(a, b)| (known[a], known[b])) {
            if a != u32::MAX && b != u32::MAX && !around[a as usize].contains(&b) {
                around[a as usize].push(b);
            }
        }
    }
    around
}

/// The weights of the skin under every vertex, smoothed over the cloth.
fn smoothed(figure: &Body, surface: &Surface, spots: &[SurfacePoint], around: &[Vec<u32>]) -> Vec<Weights> {
    let bones = figure.rig.skeleton.bones.len();
    let mut rows: Vec<Vec<f64>> = spots
        .iter()
        .map(|spot| {
            let mut row = vec![0.0; bones];
            for (v, share) in surface.triangles[spot.triangle].iter().zip(spot.weights) {
                let w = &figure.rig.weights[*v as usize];
                (0..4).for_each(|k| row[w.joint_indices[k] as usize] += share * f64::from(w.weights[k]));
            }
            row
        })
        .collect();
    for _ in 0..ROUNDS {
        let mean = |ring: &Vec<u32>| {
            let mut row = vec![0.0; bones];
            ring.iter().for_each(|n| row.iter_mut().zip(&rows[*n as usize]).for_each(|(a, b)| *a += b / ring.len() as f64));
            row
        };
        rows = around.par_iter().map(mean).collect();
    }
    rows.iter().map(|row| strongest(row)).collect()
}

/// The frame of a triangle: its first edge, its normal, and its middle.
fn frame(surface: &Surface, t: [u32; 3]) -> DAffine3 {
    let [a, b, c] = t.map(|v| double(surface.positions[v as usize]));
    let x = (b - a).normalize_or(DVec3::X);
    let y = (b - a).cross(c - a).try_normalize().unwrap_or_else(|| x.any_orthonormal_vector());
    DAffine3::from_mat3_translation(DMat3::from_cols(x, y, x.cross(y)), (a + b + c) / 3.0)
}
