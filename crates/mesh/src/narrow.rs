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
        // points along the loop, by line, with the way reached
        let mut points: Vec<(usize, f64, [f64; 2])> = Vec::new();
        let mut reached = 0.0;
        for &l in around {
            let length = domain.lines[l].length();
            let n = (length / step).ceil().clamp(1.0, 400.0) as usize;
            points.extend((0..n).map(|k| {
                let share = (k as f64 + 0.5) / n as f64;
                (l, reached + share * length, domain.lines[l].point_at(share))
            }));
            reached += length;
        }
        for &l in around {
            let mut across: Vec<f64> = points
                .iter()
                .filter(|p| p.0 == l)
                .map(|p| {
                    let far = |q: &&(usize, f64, [f64; 2])| {
                        let way = (q.1 - p.1).abs();
                        let straight = (q.2[0] - p.2[0]).hypot(q.2[1] - p.2[1]);
                        q.0 != l && way.min(reached - way) > DETOUR * straight
                    };
                    let distance = |q: &(usize, f64, [f64; 2])| (q.2[0] - p.2[0]).hypot(q.2[1] - p.2[1]);
                    points.iter().filter(far).map(distance).fold(f64::MAX, f64::min)
                })
                .collect();
            across.sort_by(f64::total_cmp);
            // what most of the line is like, not one sharp corner
            if let Some(width) = across.get(across.len() / 2) {
                wanted[l] = (WIDE * width).clamp(LEAST * target, target);
            }
        }
    }
    wanted
}
