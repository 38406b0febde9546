//! The paper around a place up to the lines that enclose it, without the writing inside it.

use crate::NoOutline;
use crate::distance::squared_distances;
use crate::grey::Field;

/// Farthest from the place that free paper is looked for, mm.
const BESIDE: f64 = 4.0;
/// Widest that a notch or another stroke across the outline may be drawn, mm.
const STROKE: f64 = 2.4;

/// What is enclosed, in a part of the picture.
pub(crate) struct Region {
    /// Column and row of the picture at which the part begins.
    pub corner: [isize; 2],
    /// Whether a pixel is within; its sides are free.
    pub within: Field<bool>,
    /// Pixels that the paper itself covers.
    pub count: usize,
}

/// The region around a place; lines with gaps up to `2 reach` px enclose it as well.
pub(crate) fn around(ink: &Field<bool>, seed: [usize; 2], reach: f64, scale: f64) -> Result<Region, NoOutline> {
    let (width, height) = (ink.width, ink.height);
    let near = (reach * reach) as f32;
    let free: Vec<bool> = match reach > 0.0 {
        true => squared_distances(ink).values.iter().map(|d| *d > near).collect(),
        false => ink.values.iter().map(|i| !i).collect(),
    };
    let start = nearest_free(&free, width, height, seed, BESIDE * scale + reach).ok_or(NoOutline::OnInk)?;
    let mut within = free;
    let (low, high, count) = flood(&mut within, width, height, start)?;
    Ok(cut_out(&within, width, [low, high], count, reach, scale))
}

/// A free pixel at the place, or the nearest to it.
fn nearest_free(free: &[bool], width: usize, height: usize, seed: [usize; 2], reach: f64) -> Option<[usize; 2]> {
    let r = reach.ceil() as isize;
    let (sx, sy) = (seed[0] as isize, seed[1] as isize);
    let near = (-r..=r).flat_map(|j| (-r..=r).map(move |i| (i, j))).filter(|(i, j)| ((i * i + j * j) as f64) <= reach * reach);
    let places = near.map(|(i, j)| (i * i + j * j, sx + i, sy + j));
    places
        .filter(|(_, x, y)| *x >= 0 && *y >= 0 && *x < width as isize && *y < height as isize && free[*y as usize * width + *x as usize])
        .min()
        .map(|(_, x, y)| [x as usize, y as usize])
}

/// Leaves of what is free the part that hangs together with the start; the box around it and how many they are.
/// Refused when it reaches a side of the picture.
fn flood(free: &mut [bool], width: usize, height: usize, start: [usize; 2]) -> Result<([usize; 2], [usize; 2], usize), NoOutline> {
    let mut found = vec![false; free.len()];
    let mut open = vec![start[1] * width + start[0]];
    found[open[0]] = true;
    let (mut low, mut high, mut count) = ([usize::MAX; 2], [0; 2], 0);
    while let Some(k) = open.pop() {
        let (x, y) = (k % width, k / width);
        if x == 0 || y == 0 || x + 1 == width || y + 1 == height {
            return Err(NoOutline::Open);
        }
        (low, high) = ([low[0].min(x), low[1].min(y)], [high[0].max(x), high[1].max(y)]);
        count += 1;
        for next in [k - 1, k + 1, k - width, k + width] {
            if free[next] && !found[next] {
                found[next] = true;
                open.push(next);
            }
        }
    }
    free.copy_from_slice(&found);
    Ok((low, high, count))
}

/// The part of the picture around what was found: grown back to the lines, filled where writing is, and smoothed over
/// where strokes reach in from the outline.
fn cut_out(found: &[bool], width: usize, [low, high]: [[usize; 2]; 2], count: usize, reach: f64, scale: f64) -> Region {
    let stroke = (0.5 * STROKE * scale).max(2.0);
    let margin = (reach + stroke).ceil() as usize + 3;
    let size = [high[0] - low[0] + 1 + 2 * margin, high[1] - low[1] + 1 + 2 * margin];
    let mut within = Field { width: size[0], height: size[1], values: vec![false; size[0] * size[1]] };
    for y in low[1]..=high[1] {
        let row = &found[y * width + low[0]..=y * width + high[0]];
        let at = (y - low[1] + margin) * size[0] + margin;
        within.values[at..at + row.len()].copy_from_slice(row);
    }
    fill_holes(&mut within);
    // grown by the stroke and shrunk again, narrow bays are gone; gaps kept the region away from the lines by `reach`
    let grown = (stroke + reach).powi(2) as f32;
    let shrunk = (stroke * stroke) as f32;
    within.values = squared_distances(&within).values.iter().map(|d| *d > grown).collect();
    within.values = squared_distances(&within).values.iter().map(|d| *d > shrunk).collect();
    fill_holes(&mut within);
    Region { corner: low.map(|v| v as isize - margin as isize), within, count }
}

/// Sets all that cannot be reached from the first pixel.
fn fill_holes(within: &mut Field<bool>) {
    let (width, height) = (within.width, within.height);
    let mut outside = vec![false; within.values.len()];
    let mut open = vec![0];
    outside[0] = true;
    while let Some(k) = open.pop() {
        let (x, y) = (k % width, k / width);
        let near =
            [(x > 0).then(|| k - 1), (x + 1 < width).then(|| k + 1), (y > 0).then(|| k - width), (y + 1 < height).then(|| k + width)];
        for next in near.into_iter().flatten() {
            if !within.values[next] && !outside[next] {
                outside[next] = true;
                open.push(next);
            }
        }
    }
    within.values.iter_mut().zip(outside).for_each(|(w, out)| *w = !out);
}
