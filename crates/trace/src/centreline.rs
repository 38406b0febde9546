//! From the edge of a region to the middle of the line around it.

use crate::corners;
use crate::grey::Field;
use crate::region::Region;
use crate::{Outline, contour};

/// Distance of the points that are measured, mm.
const SPACING: f64 = 0.4;
/// How far inside of the edge and outside of it the line is looked for, mm.
const INWARD: f64 = 1.2;
const OUTWARD: f64 = 2.5;
/// Steps of the search, px.
const STEP: f64 = 0.5;
/// A share of the deepest ink of a cut across the line still belongs to it.
const OF_LINE: f64 = 0.4;
/// A cut across ink wider than so many times the usual one is no cut across the line alone.
const WIDER: f64 = 1.8;

/// Where the line is met along the normal of a point: how far away its middle is, and its width, px.
type Cut = Option<(f64, f64)>;

/// The line around a region; gaps up to `2 reach` px were bridged.
pub(crate) fn follow(depth: &Field<u8>, region: &Region, scale: f64, reach: f64) -> Outline {
    let spacing = (SPACING * scale).max(1.5);
    let mut points = contour::smooth(&contour::even(&contour::edge(region), spacing), 2);
    if contour::area(&points) < 0.0 {
        points.reverse();
    }
    let floor = line_depth(depth, &points, scale);
    let mut width = 0.0;
    // from the edge of the region to the line, then once more from the line itself
    for (inward, outward) in [(INWARD * scale, OUTWARD * scale + reach), (INWARD * scale, INWARD * scale)] {
        let normals = normals(&points);
        let cuts: Vec<Cut> = points.iter().zip(&normals).map(|(p, n)| cut(depth, *p, *n, inward, outward, floor)).collect();
        width = median(cuts.iter().flatten().map(|c| c.1).collect()).unwrap_or(1.0);
        let offsets = offsets(&cuts, width, (2.5 * scale / spacing) as usize);
        for ((p, n), o) in points.iter_mut().zip(&normals).zip(offsets) {
            *p = [p[0] + o * n[0], p[1] + o * n[1]];
        }
        points = contour::even(&contour::smooth(&points, 1), spacing);
    }
    let (mut points, mut corners) = corners::with_corners(&points, spacing, scale, width);
    // y runs down in a picture: this way round it is counter-clockwise on the paper
    points.reverse();
    let last = points.len() - 1;
    corners.iter_mut().for_each(|c| *c = last - *c);
    corners.reverse();
    Outline { points, corners, width, bridged: 2.0 * reach }
}

/// The least depth that is ink near this edge: a share of that of the line along most of it.
fn line_depth(depth: &Field<u8>, points: &[[f64; 2]], scale: f64) -> f64 {
    let normals = normals(points);
    let deepest = |(p, n): (&[f64; 2], &[f64; 2])| {
        let steps = ((OUTWARD * scale) / STEP) as usize;
        (0..steps).map(|k| k as f64 * STEP).map(|t| depth.at([p[0] + t * n[0], p[1] + t * n[1]])).fold(0.0, f64::max)
    };
    median(points.iter().zip(&normals).step_by(4).map(deepest).collect()).unwrap_or(255.0) * OF_LINE
}

/// Outward unit normals of a closed line that turns from x to y.
fn normals(points: &[[f64; 2]]) -> Vec<[f64; 2]> {
    let n = points.len();
    (0..n)
        .map(|k| {
            let (a, b) = (points[(k + n - 2) % n], points[(k + 2) % n]);
            let (dx, dy) = (b[0] - a[0], b[1] - a[1]);
            let length = dx.hypot(dy).max(1e-9);
            [dy / length, -dx / length]
        })
        .collect()
}

/// The first ink along a normal, from inside.
fn cut(depth: &Field<u8>, p: [f64; 2], n: [f64; 2], inward: f64, outward: f64, floor: f64) -> Cut {
    let at = |t: f64| depth.at([p[0] + t * n[0], p[1] + t * n[1]]);
    let steps = ((inward + outward) / STEP) as usize;
    let place = |k: usize| k as f64 * STEP - inward;
    let first = (0..steps).find(|k| at(place(*k)) >= floor)?;
    let (mut sum, mut weight, mut k) = (0.0, 0.0, first);
    // the faint sides of the line belong to its middle as well
    let sides = 3usize;
    for s in first.saturating_sub(sides)..first {
        let d = at(place(s));
        (sum, weight) = (sum + d * place(s), weight + d);
    }
    // a line longer than all that was looked at has no other side
    while k < steps + 4 * sides && at(place(k)) >= floor {
        let d = at(place(k));
        (sum, weight, k) = (sum + d * place(k), weight + d, k + 1);
    }
    for s in k..k + sides {
        let d = at(place(s)).min(floor);
        (sum, weight) = (sum + d * place(s), weight + d);
    }
    (first > 0 && weight > 0.0).then(|| (sum / weight, (k - first) as f64 * STEP))
}

/// How far each point moves: to the middle of the line where the cut is one of the line alone, like its neighbours elsewhere.
fn offsets(cuts: &[Cut], width: f64, half: usize) -> Vec<f64> {
    let n = cuts.len();
    let plain: Vec<Option<f64>> = cuts.iter().map(|c| c.filter(|(_, w)| *w <= WIDER * width + 1.0).map(|(o, _)| o)).collect();
    // what is far from its neighbours was another stroke
    let near = |k: usize| median((0..=2 * half).filter_map(|i| plain[(k + n + i - half.min(n)) % n]).collect());
    let kept: Vec<Option<f64>> = (0..n).map(|k| plain[k].filter(|o| near(k).is_some_and(|m| (o - m).abs() <= 0.6 * width + 1.0))).collect();
    let known: Vec<usize> = (0..n).filter(|k| kept[*k].is_some()).collect();
    if known.is_empty() {
        return vec![0.0; n];
    }
    let value = |k: usize| kept[k].unwrap_or(0.0);
    let mut made = vec![0.0; n];
    for (i, &from) in known.iter().enumerate() {
        let to = known[(i + 1) % known.len()];
        let gap = if known.len() == 1 { n } else { (to + n - from - 1) % n + 1 };
        for step in 0..gap {
            let t = step as f64 / gap as f64;
            made[(from + step) % n] = (1.0 - t) * value(from) + t * value(to);
        }
    }
    made
}

fn median(mut values: Vec<f64>) -> Option<f64> {
    if values.is_empty() {
        return None;
    }
    let middle = values.len() / 2;
    Some(*values.select_nth_unstable_by(middle, f64::total_cmp).1)
}
