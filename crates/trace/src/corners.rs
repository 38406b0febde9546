//! Corners of a drawn line: where the ways before and behind do not go over into each other.

/// The line right at a corner is blurred: nearer than this nothing is taken from it, mm.
const GAP: f64 = 1.4;
/// The stretch that tells how the line goes on, mm.
const STRETCH: f64 = 7.0;
/// The least turn of a corner, radians (11 degrees).
const TURN: f64 = 0.19;
/// A drawn line strays so far from a smooth way, mm (root mean square) ...
const STRAYS: f64 = 0.03;
/// ... and one that is itself bent at a corner by more than this share of its length and its turn.
const BENT: f64 = 0.008;
/// A corner is no farther than this from where the line turns most, mm.
const NEAR: f64 = 4.0;

/// A way as quadratics of its length: value, slope and bend of both coordinates at its beginning.
type Way = [[f64; 3]; 2];

/// The line with exact corners in place of the blurred ones, and their indices.
pub(crate) fn with_corners(points: &[[f64; 2]], spacing: f64, scale: f64, width: f64) -> (Vec<[f64; 2]>, Vec<usize>) {
    let n = points.len();
    let gap = ((GAP * scale).max(1.2 * width) / spacing).ceil().max(1.0) as usize;
    let stretch = ((STRETCH * scale / spacing).ceil() as usize).clamp(5, (n / 4).max(5));
    if n < 2 * (gap + stretch) {
        return (points.to_vec(), Vec::new());
    }
    let strays = (STRAYS * scale).max(0.1);
    let seen: Vec<(f64, f64)> = (0..n).map(|k| turn(points, k, gap, stretch, spacing, strays)).collect();
    let found: Vec<(usize, [f64; 2])> = places(&seen, gap, gap + stretch)
        .into_iter()
        .map(|k| {
            let [before, after] = ways(points, k, gap, stretch, spacing);
            let met = meet(&before, &after).filter(|p| (p[0] - points[k][0]).hypot(p[1] - points[k][1]) < NEAR * scale);
            (k, met.unwrap_or(points[k]))
        })
        .collect();
    if found.is_empty() {
        return (points.to_vec(), Vec::new());
    }
    let (mut made, mut corners) = (Vec::with_capacity(n), Vec::with_capacity(found.len()));
    for (i, (k, corner)) in found.iter().enumerate() {
        let next = found[(i + 1) % found.len()].0;
        let between = (next + n - k - 1) % n + 1;
        corners.push(made.len());
        made.push(*corner);
        made.extend((gap..between.saturating_sub(gap - 1)).map(|s| points[(k + s) % n]));
    }
    (made, corners)
}

/// The ways that end and begin at a point, each as seen from it: backwards and forwards.
fn ways(points: &[[f64; 2]], k: usize, gap: usize, stretch: usize, spacing: f64) -> [Way; 2] {
    let n = points.len();
    let way = |back: bool| {
        let at = |s: usize| points[if back { (k + 2 * n - s) % n } else { (k + s) % n }];
        [0, 1].map(|d| quadratic((gap..gap + stretch).map(|s| (s as f64 * spacing, at(s)[d]))))
    };
    [way(true), way(false)]
}

/// By how much the line turns at a point, radians, beyond what its curves do, and how far the ways on both sides stray
/// from smooth ones; no turn where a corner is not in the middle.
fn turn(points: &[[f64; 2]], k: usize, gap: usize, stretch: usize, spacing: f64, strays: f64) -> (f64, f64) {
    let n = points.len();
    let [before, after] = ways(points, k, gap, stretch, spacing);
    let off = |way: &Way, back: bool| {
        let at = |s: usize| points[if back { (k + 2 * n - s) % n } else { (k + s) % n }];
        let squared = |s: usize| {
            let (t, p) = (s as f64 * spacing, at(s));
            (0..2).map(|d| (p[d] - way[d][0] - t * (way[d][1] + t * way[d][2])).powi(2)).sum::<f64>()
        };
        ((gap..gap + stretch).map(squared).sum::<f64>() / stretch as f64).sqrt()
    };
    let (u, v) = ([-before[0][1], -before[1][1]], [after[0][1], after[1][1]]);
    let turn = (u[0] * v[1] - u[1] * v[0]).atan2(u[0] * v[0] + u[1] * v[1]).abs();
    let most = strays + BENT * turn * stretch as f64 * spacing;
    let off = off(&before, true).max(off(&after, false));
    (if off > most { 0.0 } else { turn }, off)
}

/// Where the corners are: among the points at which the line turns, those with the smoothest ways on both sides; of those
/// nearer than `apart` the best.
fn places(seen: &[(f64, f64)], gap: usize, apart: usize) -> Vec<usize> {
    let n = seen.len();
    // right at a corner, and as far as the gap on both sides of it, the ways do not bend
    let strays = |k: usize| (0..=2 * gap).map(|s| seen[(k + n + s - gap) % n].1).sum::<f64>();
    let mut order: Vec<(f64, usize)> = (0..n).filter(|k| seen[*k].0 > TURN).map(|k| (strays(k), k)).collect();
    order.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let off = |a: usize, b: usize| a.abs_diff(b).min(n - a.abs_diff(b));
    let mut found: Vec<usize> = Vec::new();
    for (_, k) in order {
        if found.iter().all(|f| off(*f, k) > apart) {
            found.push(k);
        }
    }
    found.sort_unstable();
    found
}

/// The least-squares quadratic through values at lengths.
fn quadratic(samples: impl Iterator<Item = (f64, f64)>) -> [f64; 3] {
    let (mut m, mut r) = ([0.0; 5], [0.0; 3]);
    for (s, v) in samples {
        let powers = [1.0, s, s * s];
        (0..5).for_each(|k| m[k] += s.powi(k as i32));
        (0..3).for_each(|k| r[k] += v * powers[k]);
    }
    let det = |a: [f64; 3], b: [f64; 3], c: [f64; 3]| {
        a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])
    };
    let rows = [[m[0], m[1], m[2]], [m[1], m[2], m[3]], [m[2], m[3], m[4]]];
    let whole = det(rows[0], rows[1], rows[2]);
    [0, 1, 2].map(|k| {
        let mut with = rows;
        (0..3).for_each(|i| with[i][k] = r[i]);
        det(with[0], with[1], with[2]) / whole
    })
}

/// Where two ways meet when they are continued to their beginnings.
fn meet(a: &Way, b: &Way) -> Option<[f64; 2]> {
    let at = |w: &Way, s: f64| [0, 1].map(|d| w[d][0] + s * (w[d][1] + s * w[d][2]));
    let slope = |w: &Way, s: f64| [0, 1].map(|d| w[d][1] + 2.0 * s * w[d][2]);
    let (mut s, mut t) = (0.0, 0.0);
    for _ in 0..8 {
        let (p, q, u, v) = (at(a, s), at(b, t), slope(a, s), slope(b, t));
        let r = [q[0] - p[0], q[1] - p[1]];
        let det = u[1] * v[0] - u[0] * v[1];
        if det.abs() < 1e-9 {
            return None;
        }
        s += (r[1] * v[0] - r[0] * v[1]) / det;
        t += (u[0] * r[1] - u[1] * r[0]) / det;
    }
    let met = at(a, s);
    met.iter().all(|v| v.is_finite()).then_some(met)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_half_disc_has_two_corners_and_a_disc_none() {
        let half: Vec<[f64; 2]> = (0..400)
            .map(|k| f64::from(k) * 0.5)
            .map(|s| {
                let arc = std::f64::consts::PI * 40.0;
                if s < arc {
                    let a = s / 40.0;
                    [40.0 * a.cos(), 40.0 * a.sin()]
                } else {
                    [-40.0 + s - arc, 0.0]
                }
            })
            .take_while(|p| p[0] < 40.0 || p[1] > 0.0 || p[0] == 40.0)
            .collect();
        let (made, corners) = with_corners(&half, 0.5, 1.0, 0.8);
        assert_eq!(corners.len(), 2, "{:?}", corners.iter().map(|c| made[*c]).collect::<Vec<_>>());
        for (corner, exact) in corners.iter().zip([[40.0, 0.0], [-40.0, 0.0]]) {
            let p = made[*corner];
            assert!((p[0] - exact[0]).hypot(p[1] - exact[1]) < 0.3, "{p:?}");
        }
        let disc: Vec<[f64; 2]> =
            (0..500).map(|k| f64::from(k) * std::f64::consts::TAU / 500.0).map(|a| [30.0 * a.cos(), 30.0 * a.sin()]).collect();
        assert!(with_corners(&disc, 0.377, 1.0, 0.8).1.is_empty());
    }
}
