//! Where the samples on outlines lie: equal parts of arc length, and equal counts on both sides of a seam.

use crate::{FlatPiece, Stitch, Stretch};
use kurbo::{ParamCurve, ParamCurveArclen, PathSeg};

/// Accuracy of arc lengths in mm.
const ACCURACY: f64 = 1e-3;

/// Arc-length fractions of the samples on every edge, ascending from 0; the end point belongs to the next edge.
pub(crate) type EdgeFractions = Vec<Vec<Vec<f64>>>;

pub(crate) fn length(edge: &PathSeg) -> f64 {
    edge.arclen(ACCURACY)
}

pub(crate) fn point_at(edge: &PathSeg, fraction: f64) -> [f64; 2] {
    let t = match edge {
        PathSeg::Line(_) => fraction,
        _ if fraction <= 0.0 => 0.0,
        _ => edge.inv_arclen(fraction * length(edge), ACCURACY),
    };
    let p = edge.eval(t);
    [p.x, p.y]
}

fn parts(length: f64, target: f64) -> usize {
    ((length / target).round() as usize).max(1)
}

/// Samples of all edges, and for each stitch its common fractions (0 to 1, both ends included).
pub(crate) fn fractions(pieces: &[FlatPiece], stitches: &[Stitch], target: f64) -> (EdgeFractions, Vec<Vec<f64>>) {
    let mut edges: EdgeFractions = pieces
        .iter()
        .map(|piece| {
            piece
                .edges
                .iter()
                .map(|e| {
                    let n = parts(length(e), target);
                    (0..n).map(|k| k as f64 / n as f64).collect()
                })
                .collect()
        })
        .collect();
    let mut common = Vec::with_capacity(stitches.len());
    for stitch in stitches {
        let (a, b) = (breaks(pieces, &stitch.a), breaks(pieces, &stitch.b));
        let shared = merge(&a.1, &b.1, a.0.max(b.0), target);
        for (side, (_, ends)) in [(&stitch.a, &a), (&stitch.b, &b)] {
            for (k, stretch) in side.iter().enumerate() {
                edges[stretch.piece][stretch.edge] = local(&shared, ends[k], ends[k + 1], stretch.backwards);
            }
        }
        common.push(shared);
    }
    (edges, common)
}

/// Total length of a side, and where its stretches begin and end as fractions of it.
fn breaks(pieces: &[FlatPiece], side: &[Stretch]) -> (f64, Vec<f64>) {
    let lengths: Vec<f64> = side.iter().map(|s| length(&pieces[s.piece].edges[s.edge])).collect();
    let total: f64 = lengths.iter().sum();
    let mut reached = 0.0;
    let mut ends = vec![0.0];
    for l in lengths {
        reached += l;
        ends.push(reached / total);
    }
    if let Some(last) = ends.last_mut() {
        *last = 1.0;
    }
    (total, ends)
}

/// All breaks of both sides, with even steps in between.
fn merge(a: &[f64], b: &[f64], longer: f64, target: f64) -> Vec<f64> {
    let mut stops: Vec<f64> = a.iter().chain(b).copied().collect();
    stops.sort_by(f64::total_cmp);
    stops.dedup_by(|x, y| (*x - *y).abs() < 1e-9);
    let mut shared = vec![0.0];
    for pair in stops.windows(2) {
        let n = parts((pair[1] - pair[0]) * longer, target);
        shared.extend((1..=n).map(|k| pair[0] + (pair[1] - pair[0]) * k as f64 / n as f64));
    }
    shared
}

/// The shared fractions that fall on one stretch, in the edge's own direction, without the end point.
fn local(shared: &[f64], from: f64, to: f64, backwards: bool) -> Vec<f64> {
    let span = to - from;
    let mut inside: Vec<f64> =
        shared.iter().filter(|f| **f > from - 1e-9 && **f < to + 1e-9).map(|f| ((f - from) / span).clamp(0.0, 1.0)).collect();
    if backwards {
        inside = inside.iter().rev().map(|f| 1.0 - f).collect();
    }
    inside.pop();
    inside[0] = 0.0;
    inside
}
