//! Additive continuous collision detection (Li et al., Codimensional Incremental Potential Contact, 2021, section 3.4).

use glam::DVec3;

/// Share of the present distance that must remain.
const KEEP: f64 = 0.2;

/// The largest share (0 to 1) of the displacements after which at least [`KEEP`] of the distance is left.
/// `split` says how many of the four vertices belong to the first feature.
pub(crate) fn safe_share(mut x: [DVec3; 4], mut moves: [DVec3; 4], split: usize, distance: impl Fn([DVec3; 4]) -> f64) -> f64 {
    let mean = (moves[0] + moves[1] + moves[2] + moves[3]) * 0.25;
    for m in &mut moves {
        *m -= mean;
    }
    let longest = |m: &[DVec3]| m.iter().map(|m| m.length()).fold(0.0, f64::max);
    let approach = longest(&moves[..split]) + longest(&moves[split..]);
    let mut d = distance(x);
    if approach <= (1.0 - KEEP) * d || d <= 0.0 {
        return 1.0;
    }
    let gap = KEEP * d;
    let mut share = 0.0;
    let mut step = (1.0 - KEEP) * d / approach;
    for _ in 0..200 {
        for k in 0..4 {
            x[k] += moves[k] * step;
        }
        d = distance(x);
        if share > 0.0 && d < gap {
            break;
        }
        share += step;
        if share >= 1.0 {
            return 1.0;
        }
        step = 0.9 * d / approach;
        if step < 1e-6 {
            break;
        }
    }
    share
}
