//! The edge of a region as a closed line, evenly spaced.

use crate::region::Region;

/// Twice-signed area over two: positive when x turns to y.
pub(crate) fn area(points: &[[f64; 2]]) -> f64 {
    let n = points.len();
    0.5 * (0..n).map(|k| (points[k], points[(k + 1) % n])).map(|(a, b)| a[0] * b[1] - b[0] * a[1]).sum::<f64>()
}

/// The outermost edge of the region in pixels of the picture: the middles of the pixel sides that part it from the rest.
pub(crate) fn edge(region: &Region) -> Vec<[f64; 2]> {
    let (width, height) = (region.within.width, region.within.height);
    let set = |x: isize, y: isize| {
        x >= 0 && y >= 0 && (x as usize) < width && (y as usize) < height && region.within.values[y as usize * width + x as usize]
    };
    let Some(first) = region.within.values.iter().position(|w| *w) else { return Vec::new() };
    // walk along the sides with the region to the right: directions are right, down, left, up
    let start = ((first % width) as isize, (first / width) as isize, 0usize);
    let step: [(isize, isize); 4] = [(1, 0), (0, 1), (-1, 0), (0, -1)];
    // of a corner of the grid, the pixels ahead to the left and to the right of a direction
    let ahead: [[(isize, isize); 2]; 4] = [[(0, -1), (0, 0)], [(0, 0), (-1, 0)], [(-1, 0), (-1, -1)], [(-1, -1), (0, -1)]];
    let (mut x, mut y, mut way) = start;
    let mut found = Vec::new();
    // each side of a pixel is passed at most once
    for _ in 0..4 * region.within.values.len() {
        let (dx, dy) = step[way];
        let middle = [x as f64 + 0.5 * dx as f64, y as f64 + 0.5 * dy as f64];
        found.push([middle[0] + region.corner[0] as f64, middle[1] + region.corner[1] as f64]);
        (x, y) = (x + dx, y + dy);
        let [left, right] = ahead[way].map(|(i, j)| set(x + i, y + j));
        way = match (left, right) {
            (true, true) => (way + 3) % 4,
            (false, true) => way,
            (true, false) | (false, false) => (way + 1) % 4,
        };
        if (x, y, way) == start {
            break;
        }
    }
    found
}

/// Points at even distances along a closed line, at least 12 of them.
pub(crate) fn even(points: &[[f64; 2]], spacing: f64) -> Vec<[f64; 2]> {
    let n = points.len();
    let far = |a: [f64; 2], b: [f64; 2]| (a[0] - b[0]).hypot(a[1] - b[1]);
    let length: f64 = (0..n).map(|k| far(points[k], points[(k + 1) % n])).sum();
    let count = ((length / spacing).round() as usize).max(12);
    let (mut made, mut k, mut gone) = (Vec::with_capacity(count), 0, 0.0);
    for i in 0..count {
        let wanted = length * i as f64 / count as f64;
        loop {
            let (a, b) = (points[k % n], points[(k + 1) % n]);
            let step = far(a, b);
            if gone + step >= wanted || k + 1 >= 2 * n {
                let t = if step > 0.0 { ((wanted - gone) / step).clamp(0.0, 1.0) } else { 0.0 };
                made.push([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]);
                break;
            }
            gone += step;
            k += 1;
        }
    }
    made
}

/// A closed line smoothed along itself: each point the mean of `2 half + 1` around it, twice.
pub(crate) fn smooth(points: &[[f64; 2]], half: usize) -> Vec<[f64; 2]> {
    let n = points.len();
    let half = half.min(n / 4);
    let mean = |line: &[[f64; 2]]| -> Vec<[f64; 2]> {
        let mut sum = [0.0; 2];
        (0..=2 * half).for_each(|i| (0..2).for_each(|d| sum[d] += line[(n + i - half) % n][d]));
        let share = 1.0 / (2 * half + 1) as f64;
        (0..n)
            .map(|k| {
                let made = sum.map(|s| s * share);
                (0..2).for_each(|d| sum[d] += line[(k + half + 1) % n][d] - line[(k + n - half) % n][d]);
                made
            })
            .collect()
    };
    mean(&mean(points))
}
