//! The outline of a body seen from the front, as flat as the paper of a pattern.

use crate::skinning::surface::Surface;
use std::collections::HashMap;

/// Width of a cell of the raster, and the farthest that a simpler line may stray, m.
const CELL: f32 = 0.003;
const NEAR: f64 = 0.0025;

/// Closed outlines in m: x to the body's left, y upwards; holes, such as between arm and trunk, are loops of their own.
pub fn silhouette(surface: &Surface) -> Vec<Vec<[f64; 2]>> {
    let Some(raster) = Raster::of(surface) else { return Vec::new() };
    raster.loops().into_iter().map(|l| simpler(&l)).filter(|l| l.len() > 3).collect()
}

/// Which cells lie behind the surface.
struct Raster {
    low: [f32; 2],
    width: usize,
    height: usize,
    filled: Vec<bool>,
}

impl Raster {
    fn of(surface: &Surface) -> Option<Self> {
        let flat = |p: &[f32; 3]| [p[0], p[1]];
        let (mut low, mut high) = ([f32::MAX; 2], [f32::MIN; 2]);
        for p in surface.positions.iter().map(flat) {
            for k in 0..2 {
                (low[k], high[k]) = (low[k].min(p[k]), high[k].max(p[k]));
            }
        }
        let size = |k: usize| ((high[k] - low[k]) / CELL).ceil() as usize + 3;
        if !(low[0].is_finite() && high[0] - low[0] < 8.0 && high[1] - low[1] < 8.0 && high[0] >= low[0]) {
            return None;
        }
        let low = low.map(|v| v - CELL);
        let (width, height) = (size(0), size(1));
        let mut raster = Self { low, width, height, filled: vec![false; width * height] };
        for t in &surface.triangles {
            raster.fill(t.map(|v| flat(&surface.positions[v as usize])));
        }
        Some(raster)
    }

    fn fill(&mut self, [a, b, c]: [[f32; 2]; 3]) {
        let cell = |v: f32, k: usize| ((v - self.low[k]) / CELL).max(0.0) as usize;
        let of = |k: usize, pick: fn(f32, f32) -> f32| cell(pick(pick(a[k], b[k]), c[k]), k);
        let (x0, x1, y0, y1) = (of(0, f32::min), of(0, f32::max), of(1, f32::min), of(1, f32::max));
        let side = |p: [f32; 2], q: [f32; 2], r: [f32; 2]| (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
        let turn = side(a, b, c);
        for y in y0..=y1.min(self.height - 1) {
            for x in x0..=x1.min(self.width - 1) {
                let p = [self.low[0] + (x as f32 + 0.5) * CELL, self.low[1] + (y as f32 + 0.5) * CELL];
                let inside = [side(a, b, p), side(b, c, p), side(c, a, p)].iter().all(|s| s * turn >= 0.0);
                self.filled[y * self.width + x] |= inside;
            }
        }
    }

    fn is_filled(&self, x: i64, y: i64) -> bool {
        x >= 0 && y >= 0 && (x as usize) < self.width && (y as usize) < self.height && self.filled[y as usize * self.width + x as usize]
    }

    /// Borders between filled and empty cells, with the filled ones on the left.
    fn loops(&self) -> Vec<Vec<[f64; 2]>> {
        // from corner to corner of the cells; where two borders touch, they are kept apart by turning left
        let mut ways: HashMap<(i64, i64), Vec<(i64, i64)>> = HashMap::new();
        for y in 0..self.height as i64 {
            for x in 0..self.width as i64 {
                if !self.is_filled(x, y) {
                    continue;
                }
                let sides = [((0, -1), (0, 0), (1, 0)), ((1, 0), (1, 0), (1, 1)), ((0, 1), (1, 1), (0, 1)), ((-1, 0), (0, 1), (0, 0))];
                for ((dx, dy), from, to) in sides {
                    if !self.is_filled(x + dx, y + dy) {
                        ways.entry((x + from.0, y + from.1)).or_default().push((x + to.0, y + to.1));
                    }
                }
            }
        }
        let mut starts: Vec<(i64, i64)> = ways.keys().copied().collect();
        starts.sort_unstable();
        let mut made = Vec::new();
        for start in starts {
            let mut loop_ = Vec::new();
            let mut at = start;
            while let Some(next) = ways.get_mut(&at).and_then(Vec::pop) {
                loop_.push([f64::from(self.low[0] + at.0 as f32 * CELL), f64::from(self.low[1] + at.1 as f32 * CELL)]);
                at = next;
            }
            if loop_.len() > 40 {
                made.push(loop_);
            }
        }
        made
    }
}

/// A loop without the points that lie near the line between those kept.
fn simpler(points: &[[f64; 2]]) -> Vec<[f64; 2]> {
    let n = points.len();
    let far = |a: [f64; 2], b: [f64; 2]| (a[0] - b[0]).hypot(a[1] - b[1]);
    let half = (0..n).max_by(|a, b| far(points[*a], points[0]).total_cmp(&far(points[*b], points[0]))).unwrap_or(0);
    let mut kept = vec![false; n + 1];
    let at = |k: usize| points[k % n];
    let mut open = vec![(0, half), (half, n)];
    (kept[0], kept[half]) = (true, true);
    while let Some((from, to)) = open.pop() {
        let (a, b) = (at(from), at(to));
        let length = far(a, b).max(1e-9);
        let off = |k: usize| ((b[0] - a[0]) * (at(k)[1] - a[1]) - (b[1] - a[1]) * (at(k)[0] - a[0])).abs() / length;
        let Some(worst) = (from + 1..to).max_by(|x, y| off(*x).total_cmp(&off(*y))) else { continue };
        if off(worst) > NEAR {
            kept[worst % n] = true;
            open.extend([(from, worst), (worst, to)]);
        }
    }
    (0..n).filter(|k| kept[*k]).map(at).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_plate_has_the_outline_of_a_plate() {
        let positions = vec![[-0.3, 0.0, 0.1], [0.3, 0.0, 0.0], [0.3, 1.0, 0.2], [-0.3, 1.0, 0.0]];
        let plate = Surface { positions, normals: Vec::new(), triangles: vec![[0, 1, 2], [0, 2, 3]] };
        let found = silhouette(&plate);
        assert_eq!(found.len(), 1);
        let area = 0.5
            * (0..found[0].len())
                .map(|k| (found[0][k], found[0][(k + 1) % found[0].len()]))
                .map(|(a, b)| a[0] * b[1] - b[0] * a[1])
                .sum::<f64>();
        assert!((area - 0.6).abs() < 0.006, "{area}");
        assert!(found[0].len() <= 8, "{} points", found[0].len());
        assert!(silhouette(&Surface { positions: Vec::new(), normals: Vec::new(), triangles: Vec::new() }).is_empty());
    }
}
