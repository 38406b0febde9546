//! Where a flat point lies in a triangulated piece: used to carry a drape over to a new cut of the same piece.

use crate::PlanarMesh;

/// A grid over the triangles of one flat mesh.
pub struct FlatLookup<'a> {
    mesh: &'a PlanarMesh,
    low: [f64; 2],
    cell: f64,
    columns: usize,
    rows: usize,
    cells: Vec<Vec<u32>>,
}

impl<'a> FlatLookup<'a> {
    /// Prepares the mesh for many questions; takes time and memory in proportion to its triangles.
    pub fn new(mesh: &'a PlanarMesh) -> Self {
        let low = mesh.points.iter().fold([f64::MAX; 2], |l, p| [l[0].min(p[0]), l[1].min(p[1])]);
        let high = mesh.points.iter().fold([f64::MIN; 2], |h, p| [h[0].max(p[0]), h[1].max(p[1])]);
        let area = (high[0] - low[0]) * (high[1] - low[1]);
        let cell = (area / mesh.triangles.len().max(1) as f64).sqrt().max(1e-3) * 1.5;
        let columns = ((high[0] - low[0]) / cell) as usize + 1;
        let rows = ((high[1] - low[1]) / cell) as usize + 1;
        let mut cells = vec![Vec::new(); columns * rows];
        for (t, triangle) in mesh.triangles.iter().enumerate() {
            let corner = triangle.map(|v| mesh.points[v as usize]);
            let range = |k: usize, count: usize| {
                let (a, b) = corner.iter().fold((f64::MAX, f64::MIN), |(a, b), p| (a.min(p[k]), b.max(p[k])));
                ((a - low[k]) / cell) as usize..=(((b - low[k]) / cell) as usize).min(count - 1)
            };
            for j in range(1, rows) {
                for i in range(0, columns) {
                    cells[j * columns + i].push(t as u32);
                }
            }
        }
        Self { mesh, low, cell, columns, rows, cells }
    }

    /// The triangle at (or nearest to) a flat point and its weights there; outside the piece weights extrapolate.
    pub fn locate(&self, p: [f64; 2]) -> (usize, [f64; 3]) {
        let at = |k: usize, count: usize| (((p[k] - self.low[k]) / self.cell).max(0.0) as usize).min(count - 1);
        let (i, j) = (at(0, self.columns), at(1, self.rows));
        let reach = self.columns.max(self.rows);
        let mut best: Option<(f64, usize, [f64; 3])> = None;
        for ring in 0..=reach {
            for (x, y) in ring_cells(i, j, ring, self.columns, self.rows) {
                for &t in &self.cells[y * self.columns + x] {
                    let weights = self.weights(t as usize, p);
                    let outside = weights.iter().fold(0.0f64, |m, w| m.max(-w));
                    if best.is_none_or(|b| outside < b.0) {
                        best = Some((outside, t as usize, weights));
                    }
                }
            }
            if best.is_some_and(|b| b.0 < 1e-9 || ring > 2) {
                break;
            }
        }
        best.map_or((0, [1.0, 0.0, 0.0]), |b| (b.1, b.2))
    }

    fn weights(&self, t: usize, p: [f64; 2]) -> [f64; 3] {
        let [a, b, c] = self.mesh.triangles[t].map(|v| self.mesh.points[v as usize]);
        let cross = |o: [f64; 2], q: [f64; 2], r: [f64; 2]| (q[0] - o[0]) * (r[1] - o[1]) - (r[0] - o[0]) * (q[1] - o[1]);
        let all = cross(a, b, c);
        let (u, v) = (cross(p, b, c) / all, cross(a, p, c) / all);
        [u, v, 1.0 - u - v]
    }
}

/// The cells at Chebyshev distance `ring` around (i, j).
fn ring_cells(i: usize, j: usize, ring: usize, columns: usize, rows: usize) -> impl Iterator<Item = (usize, usize)> {
    let (x0, y0) = (i as i64 - ring as i64, j as i64 - ring as i64);
    let side = 2 * ring as i64;
    (0..=side)
        .flat_map(move |dy| {
            (0..=side).filter(move |dx| ring == 0 || dy == 0 || dy == side || *dx == 0 || *dx == side).map(move |dx| (x0 + dx, y0 + dy))
        })
        .filter_map(move |(x, y)| (x >= 0 && y >= 0 && (x as usize) < columns && (y as usize) < rows).then_some((x as usize, y as usize)))
}
