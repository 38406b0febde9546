//! What is paper and what is ink: how much darker a pixel is than the paper around it.

use crate::Grey;
use crate::grey::Field;

/// Side of the blocks in which the paper's own grey is taken, mm.
const BLOCK: f64 = 6.0;
/// Of the pixels of a block, so many are darker than the paper.
const PAPER: f64 = 0.75;
/// Of all pixels, so many are not as dark as ink: lines cover little of a sheet.
const INK: f64 = 0.995;
/// Less than this is no ink anywhere.
const FAINT: usize = 10;

/// How much darker than the paper around it each pixel is.
pub(crate) fn ink_depth(picture: &Grey, scale: f64) -> Field<u8> {
    let (width, height) = (picture.width(), picture.height());
    let block = ((BLOCK * scale) as usize).clamp(8, 256);
    let (across, down) = (width.div_ceil(block), height.div_ceil(block));
    let mut levels = vec![0u8; across * down];
    for (k, level) in levels.iter_mut().enumerate() {
        let (x, y) = (k % across * block, k / across * block);
        let mut counts = [0usize; 256];
        for row in y..(y + block).min(height) {
            for v in &picture.pixels()[row * width + x..row * width + (x + block).min(width)] {
                counts[*v as usize] += 1;
            }
        }
        *level = quantile(&counts, PAPER) as u8;
    }
    // a block that is full of ink takes the paper of its neighbours
    let lightest = |k: usize| {
        let (x, y) = ((k % across) as isize, (k / across) as isize);
        let near = (-1..=1).flat_map(|j| (-1..=1).map(move |i| (x + i, y + j)));
        let inside = near.filter(|(i, j)| *i >= 0 && *j >= 0 && *i < across as isize && *j < down as isize);
        inside.map(|(i, j)| levels[j as usize * across + i as usize]).max().unwrap_or(255)
    };
    let paper = Field { width: across, height: down, values: (0..across * down).map(lightest).collect() };
    let mut values = vec![0u8; width * height];
    for y in 0..height {
        let v = (y as f64 + 0.5) / block as f64;
        for x in 0..width {
            let level = paper.at([(x as f64 + 0.5) / block as f64, v]);
            values[y * width + x] = (level - f64::from(picture.pixels()[y * width + x])).clamp(0.0, 255.0) as u8;
        }
    }
    Field { width, height, values }
}

/// The value that a share of what was counted stays below.
fn quantile(counts: &[usize; 256], share: f64) -> usize {
    let wanted = (counts.iter().sum::<usize>() as f64 * share) as usize;
    let mut sum = 0;
    counts
        .iter()
        .position(|c| {
            sum += c;
            sum > wanted
        })
        .unwrap_or(255)
}

/// The depth of the darkest lines.
pub(crate) fn darkest(depth: &Field<u8>) -> usize {
    let mut counts = [0usize; 256];
    depth.values.iter().for_each(|v| counts[*v as usize] += 1);
    quantile(&counts, INK)
}

/// Where there is ink: deeper than a share of the depth of the darkest lines.
pub(crate) fn ink(depth: &Field<u8>, darkest: usize, share: f32) -> Field<bool> {
    let least = ((darkest as f32 * share) as usize).max(FAINT) as u8;
    Field { width: depth.width, height: depth.height, values: depth.values.iter().map(|v| *v >= least).collect() }
}
