//! How long mesh edges are to be where: as long as asked, shorter beside finely sampled lines, with a steady passage
//! between the two.

use crate::net::Constraints;

/// How fast edges grow with the distance from a finely sampled line, mm per mm.
const GROWTH: f64 = 0.3;
/// Lines sampled finer than this share of the target ask for a passage.
const FINE: f64 = 0.7;
/// Most cells of the field along one side.
const CELLS: f64 = 600.0;

/// Wanted edge lengths over a piece, mm.
pub(crate) struct SizeField {
    target: f64,
    /// None where all lines are sampled about as wide as the target.
    cells: Option<Cells>,
}

struct Cells {
    low: [f64; 2],
    cell: f64,
    columns: usize,
    rows: usize,
    size: Vec<f64>,
}

impl SizeField {
    /// The field of a piece; `target` is the wanted edge length in mm far from all fine lines.
    pub fn new(given: &Constraints, target: f64) -> Self {
        let spacing = spacings(given);
        let finest = spacing.iter().copied().fold(target, f64::min);
        if finest >= FINE * target {
            return Self { target, cells: None };
        }
        let bound = |k: usize| given.points.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p[k]), h.max(p[k])));
        let (x, y) = (bound(0), bound(1));
        let span = (x.1 - x.0).max(y.1 - y.0);
        let cell = (0.5 * finest).max(span / CELLS);
        let count = |(l, h): (f64, f64)| ((h - l) / cell) as usize + 3;
        let mut cells = Cells { low: [x.0 - cell, y.0 - cell], cell, columns: count(x), rows: count(y), size: Vec::new() };
        cells.size = vec![target; cells.columns * cells.rows];
        for edge in given.around.iter().chain(&given.inside) {
            let [a, b] = edge.map(|v| v as usize);
            // along the edge, so that long edges are seen between their ends too
            let length = (given.points[b][0] - given.points[a][0]).hypot(given.points[b][1] - given.points[a][1]);
            let steps = (length / cell).ceil().max(1.0) as usize;
            for k in 0..=steps {
                let t = k as f64 / steps as f64;
                let p = [0, 1].map(|c| given.points[a][c] + (given.points[b][c] - given.points[a][c]) * t);
                let i = cells.at(p);
                cells.size[i] = cells.size[i].min(spacing[a] + (spacing[b] - spacing[a]) * t);
            }
        }
        cells.spread();
        Self { target, cells: Some(cells) }
    }

    /// Whether edges are as long as the target everywhere.
    pub fn is_even(&self) -> bool {
        self.cells.is_none()
    }

    /// The wanted edge length at a point.
    pub fn at(&self, p: [f64; 2]) -> f64 {
        self.cells.as_ref().map_or(self.target, |cells| cells.size[cells.at(p)])
    }
}

impl Cells {
    fn at(&self, p: [f64; 2]) -> usize {
        let at = |k: usize, count: usize| (((p[k] - self.low[k]) / self.cell).max(0.0) as usize).min(count - 1);
        at(1, self.rows) * self.columns + at(0, self.columns)
    }

    /// No cell is larger than a neighbour by more than the growth over their distance: two sweeps each way (a chamfer
    /// distance transform, Borgefors 1986).
    fn spread(&mut self) {
        let (straight, slanted) = (GROWTH * self.cell, GROWTH * self.cell * 2f64.sqrt());
        let (n, m) = (self.columns as i64, self.rows as i64);
        for _ in 0..2 {
            for backwards in [false, true] {
                for k in 0..n * m {
                    let k = if backwards { n * m - 1 - k } else { k };
                    let (i, j) = (k % n, k / n);
                    let sign = if backwards { 1 } else { -1 };
                    for (dx, dy, step) in [(sign, 0, straight), (0, sign, straight), (sign, sign, slanted), (-sign, sign, slanted)] {
                        let (x, y) = (i + dx, j + dy);
                        if x >= 0 && y >= 0 && x < n && y < m {
                            let from = self.size[(y * n + x) as usize] + step;
                            let here = &mut self.size[k as usize];
                            *here = here.min(from);
                        }
                    }
                }
            }
        }
    }
}

/// Geometric mean of the lengths of the constraint edges at every point, so that one short edge beside a long one is met by
/// triangles of about its own size.
fn spacings(given: &Constraints) -> Vec<f64> {
    let mut sum = vec![(0.0, 0.0f64); given.points.len()];
    for edge in given.around.iter().chain(&given.inside) {
        let [a, b] = edge.map(|v| v as usize);
        let length = (given.points[b][0] - given.points[a][0]).hypot(given.points[b][1] - given.points[a][1]);
        for v in [a, b] {
            sum[v] = (sum[v].0 + length.max(f64::MIN_POSITIVE).ln(), sum[v].1 + 1.0);
        }
    }
    sum.into_iter().map(|(logs, count)| if count == 0.0 { 0.0 } else { (logs / count).exp() }).collect()
}
