//! The last guard: no accepted step may bring a vertex through a triangle or an edge through an edge.
//!
//! Displacements that would cross are shortened for the vertices concerned, and all pairs with a changed vertex are
//! looked at again. Standing still is always safe, so this ends.

use super::advance::time_of_impact;
use super::closest::{edge_edge, vertex_triangle};
use super::pairs::Candidates;
use glam::{DVec3, Vec3A};
use rayon::prelude::*;

/// Rounds after which vertices still in trouble stand still.
const ROUNDS: usize = 12;

/// Shortens the way from `from` to `to` where needed; returns how many vertices were held back.
/// `floor` (m) is left between any two that had so much between them. Pairs with an exempt vertex (part of a crossing that was there
/// before) are not looked at.
pub(crate) fn guard(candidates: &Candidates, from: &[Vec3A], to: &mut [Vec3A], collision_exempt: &[bool], floor: f64) -> usize {
    let n = from.len();
    let mut share = vec![1.0f32; n];
    let mut changed = vec![true; n];
    for round in 0.. {
        let last = round >= ROUNDS;
        let look = |v: &[u32; 4]| v.iter().any(|&i| changed[i as usize]) && !v.iter().any(|&i| collision_exempt[i as usize]);
        let found = |list: &[[u32; 4]], split: usize, distance: fn([DVec3; 4]) -> f64| -> Vec<([u32; 4], f64)> {
            list.par_iter()
                .with_min_len(256)
                .filter(|v| look(v))
                .filter_map(|v| {
                    if out_of_reach(v, from, to, split) {
                        return None;
                    }
                    let x = v.map(|i| Vec3A::as_dvec3(&from[i as usize]));
                    let moves = [0, 1, 2, 3].map(|k| (to[v[k] as usize] - from[v[k] as usize]).as_dvec3());
                    let safe = time_of_impact(x, moves, (split, floor), distance);
                    (safe < 1.0).then_some((*v, safe))
                })
                .collect()
        };
        let mut hits = found(&candidates.vertex_triangle, 1, |x| vertex_triangle(x).vector.length());
        hits.extend(found(&candidates.edge_edge, 2, |x| edge_edge(x).vector.length()));
        if hits.is_empty() {
            break;
        }
        changed.fill(false);
        let mut factor = vec![1.0f32; n];
        for (vertices, safe) in hits {
            for v in vertices {
                let f = &mut factor[v as usize];
                *f = f.min(if last { 0.0 } else { safe as f32 });
                changed[v as usize] = true;
            }
        }
        for v in (0..n).filter(|&v| changed[v]) {
            share[v] *= factor[v];
            to[v] = from[v] + (to[v] - from[v]) * factor[v];
        }
    }
    share.iter().filter(|s| **s < 1.0).count()
}

/// Whether the boxes of the two features, over the whole way, do not touch.
fn out_of_reach(v: &[u32; 4], from: &[Vec3A], to: &[Vec3A], split: usize) -> bool {
    let bounds = |v: &[u32]| {
        v.iter().fold((Vec3A::MAX, Vec3A::MIN), |(low, high), &i| {
            let (a, b) = (from[i as usize], to[i as usize]);
            (low.min(a).min(b), high.max(a).max(b))
        })
    };
    let ((low_a, high_a), (low_b, high_b)) = (bounds(&v[..split]), bounds(&v[split..]));
    (low_a - high_b).max(low_b - high_a).max_element() > 1e-5
}
