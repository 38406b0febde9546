//! Where a piece is narrower than the wanted edges, its lines are sampled about as wide as it is, so that its triangles
//! stay even.

use crate::Domain;

/// Spacing in widths of the piece, and its least share of the wanted edge length.
const WIDE: f64 = 1.2;
const LEAST: f64 = 0.4;
/// Points of the same outline lie across from each other when the way along it is this much longer than the straight one.
const DETOUR: f64 = 3.0;

/// The spacing of samples on every line, mm.
pub(crate) fn spacings(domain: &Domain, target: f64) -> Vec<f64> {
    let mut wanted = vec![target; domain.lines.len()];
    let step = 0.5 * target;
    for around in domain.loops() {
        let (points, whole) = along(domain, around, step);
        for &l in around {
            let across = |p: &Place| {
                let distance = |q: &Place| (q.at[0] - p.at[0]).hypot(q.at[1] - p.at[1]);
                let faces = |q: &&Place| {
                    let way = (q.way - p.way).abs();
                    // the cloth is on the left of a loop; what lies across a gap is no width
                    let left = p.ahead[0] * (q.at[1] - p.at[1]) - p.ahead[1] * (q.at[0] - p.at[0]) > 0.0;
                    q.line != l && left && way.min(whole - way) > DETOUR * distance(q)
                };
                points.iter().filter(faces).map(distance).fold(f64::MAX, f64::min)
            };
            let mut widths: Vec<f64> = points.iter().filter(|p| p.line == l).map(across).collect();
            widths.sort_by(f64::total_cmp);
            // what most of the line is like, not one sharp corner
            if let Some(width) = widths.get(widths.len() / 2) {
                wanted[l] = (WIDE * width).clamp(LEAST * target, target);
            }
        }
    }
    wanted
}

/// A point of a loop: its line, the way along the loop to it, and the direction in which the loop goes on.
struct Place {
    line: usize,
    way: f64,
    at: [f64; 2],
    ahead: [f64; 2],
}

/// Points along a loop about `step` apart, and its length.
fn along(domain: &Domain, around: &[usize], step: f64) -> (Vec<Place>, f64) {
    let mut points = Vec::new();
    let mut reached = 0.0;
    for &line in around {
        let length = domain.lines[line].length();
        let n = (length / step).ceil().clamp(1.0, 400.0) as usize;
        for k in 0..n {
            let share = (k as f64 + 0.5) / n as f64;
            let at = domain.lines[line].point_at(share);
            let next = domain.lines[line].point_at((share + 0.25 / n as f64).min(1.0));
            points.push(Place { line, way: reached + share * length, at, ahead: [next[0] - at[0], next[1] - at[1]] });
        }
        reached += length;
    }
    (points, reached)
}
