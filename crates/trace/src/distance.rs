//! Exact distances of pixels to a set of pixels (lower envelopes of parabolas, one row and one column at a time).

use crate::grey::Field;

/// A distance beyond all others, squared.
const FAR: f32 = 1e12;

/// Squared distance, px², of each pixel to the nearest one that is set.
pub(crate) fn squared_distances(set: &Field<bool>) -> Field<f32> {
    let (width, height) = (set.width, set.height);
    let mut values: Vec<f32> = set.values.iter().map(|s| if *s { 0.0 } else { FAR }).collect();
    let longest = width.max(height);
    let mut work = Work { line: vec![0.0; longest], made: vec![0.0; longest], places: vec![0; longest], from: vec![0.0; longest + 1] };
    for row in values.chunks_mut(width) {
        work.line[..width].copy_from_slice(row);
        work.envelope(width);
        row.copy_from_slice(&work.made[..width]);
    }
    for x in 0..width {
        for y in 0..height {
            work.line[y] = values[y * width + x];
        }
        work.envelope(height);
        for y in 0..height {
            values[y * width + x] = work.made[y];
        }
    }
    Field { width, height, values }
}

/// Room for one row or column.
struct Work {
    line: Vec<f32>,
    made: Vec<f32>,
    places: Vec<usize>,
    from: Vec<f32>,
}

impl Work {
    /// `made[i]` = least of `line[j] + (i - j)²`.
    fn envelope(&mut self, n: usize) {
        let meet = |line: &[f32], p: usize, q: usize| {
            let (a, b) = (p as f64, q as f64);
            (((f64::from(line[q]) + b * b) - (f64::from(line[p]) + a * a)) / (2.0 * (b - a))) as f32
        };
        let mut k = 0;
        self.places[0] = 0;
        self.from[0] = f32::NEG_INFINITY;
        for q in 1..n {
            let mut s = meet(&self.line, self.places[k], q);
            while k > 0 && s <= self.from[k] {
                k -= 1;
                s = meet(&self.line, self.places[k], q);
            }
            if s > self.from[k] {
                k += 1;
            }
            self.places[k] = q;
            self.from[k] = if k == 0 { f32::NEG_INFINITY } else { s };
        }
        let last = k;
        k = 0;
        for i in 0..n {
            while k < last && self.from[k + 1] < i as f32 {
                k += 1;
            }
            let off = i as f32 - self.places[k] as f32;
            self.made[i] = self.line[self.places[k]] + off * off;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_are_those_to_the_nearest_set_pixel() {
        let (width, height) = (23, 17);
        let set: Vec<bool> = (0..width * height).map(|k| (k * 7919 + 13) % 41 == 0).collect();
        let places: Vec<(i32, i32)> = (0..width * height).filter(|k| set[*k]).map(|k| ((k % width) as i32, (k / width) as i32)).collect();
        let found = squared_distances(&Field { width, height, values: set });
        for k in 0..width * height {
            let (x, y) = ((k % width) as i32, (k / width) as i32);
            let nearest = places.iter().map(|(i, j)| (x - i).pow(2) + (y - j).pow(2)).min();
            assert_eq!(Some(found.values[k] as i32), nearest, "at {x} {y}");
        }
    }
}
