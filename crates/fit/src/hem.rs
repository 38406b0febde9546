//! Hems: the borders of draped cloth, how level they hang, and their folds.

use crate::crossings::Surface;
use crate::vector::{Point, dot, sub};
use std::collections::BTreeMap;
use std::f64::consts::TAU;

/// Directions in which a hem is looked at.
const RAYS: usize = 180;
/// A fold stands out from the hollows beside it by this share of the hem's mean radius at least.
const STANDS_OUT: f64 = 0.015;

/// How a closed border hangs.
#[derive(Clone, Debug, PartialEq)]
pub struct Hem {
    /// Along the border, m.
    pub length: f64,
    /// Heights over the floor, m: all around, and in front, at the left, at the back and at the right.
    pub height: f64,
    pub heights: [f64; 4],
    /// How far it drops towards where it hangs lowest, degrees, and the way there, radians from the front towards the left.
    pub tilt: [f64; 2],
    /// Folds around, their depth from crest to hollow (m) and the way from one to the next along a round (m).
    pub folds: usize,
    pub depth: f64,
    pub wavelength: f64,
    /// 1 where left and right are alike, 0 where they have nothing in common.
    pub symmetry: f64,
}

/// Closed borders of sewn cloth, as its sewn vertices in order, the longest first.
pub fn borders(surface: &Surface) -> Vec<Vec<u32>> {
    let mut next: BTreeMap<u32, Vec<u32>> = BTreeMap::new();
    let mut walked: BTreeMap<[u32; 2], usize> = BTreeMap::new();
    let corners = || (0..surface.triangles.len() as u32).map(|t| surface.corners(t));
    for t in corners() {
        (0..3).for_each(|k| *walked.entry(key(t[k], t[(k + 1) % 3])).or_default() += 1);
    }
    for t in corners() {
        for k in 0..3 {
            let (a, b) = (t[k], t[(k + 1) % 3]);
            if walked[&key(a, b)] == 1 {
                next.entry(a).or_default().push(b);
            }
        }
    }
    let mut found: Vec<Vec<u32>> = Vec::new();
    let starts: Vec<u32> = next.keys().copied().collect();
    for start in starts {
        let (mut at, mut line) = (start, Vec::new());
        while let Some(to) = next.get_mut(&at).and_then(Vec::pop) {
            line.push(at);
            at = to;
        }
        if at == start && line.len() > 2 {
            found.push(line);
        }
    }
    let along = |line: &Vec<u32>| length(&line.iter().map(|v| surface.at(*v)).collect::<Vec<_>>());
    found.sort_by(|a, b| along(b).total_cmp(&along(a)));
    found
}

fn key(a: u32, b: u32) -> [u32; 2] {
    [a.min(b), a.max(b)]
}

fn length(line: &[Point]) -> f64 {
    let apart = |a: Point, b: Point| dot(sub(a, b), sub(a, b)).sqrt();
    (0..line.len()).map(|k| apart(line[k], line[(k + 1) % line.len()])).sum()
}

impl Hem {
    /// Of a closed border that goes around an upright axis; none when it does not. The body faces +z, its left is at +x.
    pub fn of(line: &[[f64; 3]]) -> Option<Self> {
        let total = length(line);
        // each place counts by the border beside it
        let step = |k: usize| {
            let (a, b) = (line[k], line[(k + 1) % line.len()]);
            (dot(sub(a, b), sub(a, b)).sqrt(), [0, 1, 2].map(|i| 0.5 * (a[i] + b[i])))
        };
        let mut middle = [0.0; 3];
        for (share, at) in (0..line.len()).map(step) {
            (0..3).for_each(|i| middle[i] += share * at[i] / total);
        }
        // outermost radius and its height by direction, from the front towards the left
        let mut rays: Vec<Option<[f64; 2]>> = vec![None; RAYS];
        for k in 0..line.len() {
            let (a, b) = (line[k], line[(k + 1) % line.len()]);
            // so many places of it that no direction is left out
            let parts = (4.0 * RAYS as f64 * step(k).0 / total).ceil().max(1.0) as usize;
            for part in 0..parts {
                let s = part as f64 / parts as f64;
                let p = [0, 1, 2].map(|i| a[i] + s * (b[i] - a[i]) - middle[i]);
                let ray = (p[0].atan2(p[2]).rem_euclid(TAU) / TAU * RAYS as f64) as usize % RAYS;
                let r = p[0].hypot(p[2]);
                if rays[ray].is_none_or(|[old, _]| r > old) {
                    rays[ray] = Some([r, p[1] + middle[1]]);
                }
            }
        }
        let seen = rays.iter().filter(|r| r.is_some()).count();
        if seen < RAYS * 3 / 4 {
            return None;
        }
        let rays = filled(&rays);
        let mean = |of: fn(&[f64; 2]) -> f64| rays.iter().map(of).sum::<f64>() / RAYS as f64;
        let (radius, height) = (mean(|r| r[0]), mean(|r| r[1]));
        let quarter = |q: usize| {
            // ten degrees to both sides
            let near = RAYS / 36;
            let rows = (0..=2 * near).map(|k| rays[(q * RAYS / 4 + RAYS + k - near) % RAYS][1]);
            rows.sum::<f64>() / (2 * near + 1) as f64
        };
        // the first harmonic of the height is a tilt
        let angle = |k: usize| (k as f64 + 0.5) / RAYS as f64 * TAU;
        let (cos, sin) = (0..RAYS).fold((0.0, 0.0), |(c, s), k| (c + rays[k][1] * angle(k).cos(), s + rays[k][1] * angle(k).sin()));
        let (cos, sin) = (2.0 * cos / RAYS as f64, 2.0 * sin / RAYS as f64);
        let out: Vec<f64> = rays.iter().map(|r| r[0]).collect();
        let (folds, depth) = waves(&out, STANDS_OUT * radius);
        Some(Self {
            length: total,
            height,
            heights: [0, 1, 2, 3].map(quarter),
            tilt: [(cos.hypot(sin) / radius).atan().to_degrees(), (-sin).atan2(-cos)],
            folds,
            depth,
            wavelength: if folds > 0 { TAU * radius / folds as f64 } else { 0.0 },
            symmetry: symmetry(&out, radius),
        })
    }
}

/// Directions that nothing lies in take what lies beside them.
fn filled(rays: &[Option<[f64; 2]>]) -> Vec<[f64; 2]> {
    let near = |k: usize| (0..RAYS).find_map(|d| rays[(k + d) % RAYS].or(rays[(k + RAYS - d) % RAYS]));
    (0..rays.len()).filter_map(near).collect()
}

/// Crests of a round that stand out from the hollows on both sides, and their mean depth.
fn waves(out: &[f64], least: f64) -> (usize, f64) {
    let count = out.len();
    let Some(start) = (0..count).min_by(|a, b| out[*a].total_cmp(&out[*b])) else { return (0, 0.0) };
    // from the deepest hollow around: a crest counts once the cloth has fallen from it by enough
    let (mut low, mut high, mut rising) = (out[start], out[start], true);
    let (mut folds, mut depth) = (0, 0.0);
    for k in 1..=count {
        let r = out[(start + k) % count];
        if rising {
            high = f64::max(high, r);
            if high - low >= least && high - r >= least {
                folds += 1;
                depth += high - low;
                (low, rising) = (r, false);
            } else if r < low {
                (low, high) = (r, r);
            }
        } else {
            low = f64::min(low, r);
            if r - low >= least {
                (high, rising) = (r, true);
            }
        }
    }
    (folds, if folds > 0 { depth / folds as f64 } else { 0.0 })
}

/// How alike the round is to its mirror image: 1 less the share of its unevenness that is not mirrored.
fn symmetry(out: &[f64], mean: f64) -> f64 {
    let count = out.len();
    let (mut apart, mut uneven) = (0.0, 0.0);
    for k in 0..count {
        let other = out[count - 1 - k];
        apart += (0.5 * (out[k] - other)).powi(2);
        uneven += (out[k] - mean).powi(2);
    }
    if uneven < (1e-3 * mean).powi(2) * count as f64 { 1.0 } else { (1.0 - apart / uneven).clamp(0.0, 1.0) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn round(radius: impl Fn(f64) -> f64, height: impl Fn(f64) -> f64) -> Vec<[f64; 3]> {
        let at = |k: usize| k as f64 / 400.0 * TAU;
        (0..400).map(|k| [radius(at(k)) * at(k).sin(), height(at(k)), radius(at(k)) * at(k).cos()]).collect()
    }

    #[test]
    fn a_level_round_has_no_tilt_and_no_folds() {
        let hem = Hem::of(&round(|_| 0.3, |_| 0.5)).expect("around");
        assert!(hem.folds == 0 && hem.tilt[0] < 1e-6 && (hem.height - 0.5).abs() < 1e-9 && hem.symmetry == 1.0);
        assert!((hem.length - TAU * 0.3).abs() < 1e-3);
    }

    #[test]
    fn a_hem_that_dips_at_the_back_is_told_with_its_angle() {
        // 3 cm lower at the back than in front over 60 cm
        let hem = Hem::of(&round(|_| 0.3, |a| 0.5 + 0.015 * a.cos())).expect("around");
        assert!((hem.tilt[0] - (0.03f64 / 0.6).atan().to_degrees()).abs() < 0.01, "{:?}", hem.tilt);
        assert!((hem.tilt[1].abs() - std::f64::consts::PI).abs() < 0.05, "towards the back");
        assert!((hem.heights[0] - hem.heights[2] - 0.03).abs() < 1e-3 && (hem.heights[1] - hem.heights[3]).abs() < 1e-3);
    }

    #[test]
    fn folds_are_counted_with_their_depth_and_length() {
        for folds in [3.0, 7.0, 12.0] {
            let hem = Hem::of(&round(|a| 0.3 + 0.02 * (folds * a).cos(), |_| 0.5)).expect("around");
            assert_eq!(hem.folds as f64, folds);
            assert!((hem.depth - 0.04).abs() < 2e-3, "{hem:?}");
            assert!((hem.wavelength - TAU * 0.3 / folds).abs() < 0.02 / folds * TAU);
            assert!(hem.symmetry > 0.97, "{hem:?}");
        }
        // shifted by a quarter of a fold nothing is mirrored
        let askew = Hem::of(&round(|a| 0.3 + 0.02 * (5.0 * a).sin(), |_| 0.5)).expect("around");
        assert!(askew.symmetry < 0.1, "{askew:?}");
    }

    #[test]
    fn borders_are_walked_over_seams() {
        // a strip of squares bent into a ring, its ends sewn
        let points: Vec<[f32; 3]> = (0..=12)
            .flat_map(|k| {
                let a = f64::from(k) / 12.0 * TAU;
                [0.0, 0.2].map(|y| [a.sin() as f32, y, a.cos() as f32])
            })
            .collect();
        let triangles: Vec<[u32; 3]> = (0..12).flat_map(|k| [[2 * k, 2 * k + 2, 2 * k + 1], [2 * k + 1, 2 * k + 2, 2 * k + 3]]).collect();
        let welded: Vec<u32> = (0..26).map(|v| if v >= 24 { v - 24 } else { v }).collect();
        let found = borders(&Surface::sewn(&points, &triangles, &welded));
        assert_eq!(found.iter().map(Vec::len).collect::<Vec<_>>(), vec![12, 12]);
        let places = |line: &Vec<u32>| line.iter().map(|v| points[*v as usize].map(f64::from)).collect::<Vec<_>>();
        assert!(found.iter().all(|line| Hem::of(&places(line)).is_some()));
        // unsewn it has one border that goes around nothing twice over
        assert_eq!(borders(&Surface::open(&points, &triangles)).len(), 1);
    }
}
