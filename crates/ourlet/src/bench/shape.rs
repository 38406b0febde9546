//! What a drape looks like in figures that two runs of the same scene can be compared by.

use serde::Serialize;

/// Strain of the edges and where the cloth is.
#[derive(Clone, Copy, Serialize)]
pub struct Shape {
    /// Mean of the edges' strain without its sign, percent.
    pub edge_strain_mean_percent: f64,
    /// What all but one edge in a hundred stay below, percent.
    pub edge_strain_p99_percent: f64,
    /// Middle of all vertices, m.
    pub middle: [f64; 3],
}

/// Edges of triangles over flat coordinates in m, with their flat lengths, m.
pub fn edges(triangles: &[[u32; 3]], flat: &[[f32; 2]]) -> Vec<([u32; 2], f64)> {
    let mut found: Vec<[u32; 2]> =
        triangles.iter().flat_map(|t| [[t[0], t[1]], [t[1], t[2]], [t[2], t[0]]]).map(|[a, b]| [a.min(b), a.max(b)]).collect();
    found.sort_unstable();
    found.dedup();
    let length = |[a, b]: [u32; 2]| {
        let ([x0, y0], [x1, y1]) = (flat[a as usize], flat[b as usize]);
        f64::from(x1 - x0).hypot(f64::from(y1 - y0))
    };
    found.into_iter().map(|edge| (edge, length(edge))).collect()
}

impl Shape {
    /// Of positions in m, against the flat lengths of `edges`.
    pub fn of(positions: &[[f32; 3]], edges: &[([u32; 2], f64)]) -> Self {
        let strain = |([a, b], rest): &([u32; 2], f64)| {
            let (p, q) = (positions[*a as usize], positions[*b as usize]);
            (0..3).map(|k| f64::from(p[k] - q[k]).powi(2)).sum::<f64>().sqrt() / rest - 1.0
        };
        let mut strains: Vec<f64> = edges.iter().map(strain).collect();
        let mean = strains.iter().map(|s| s.abs()).sum::<f64>() / strains.len() as f64;
        strains.sort_by(f64::total_cmp);
        let p99 = strains[strains.len() * 99 / 100];
        let middle = [0, 1, 2].map(|k| positions.iter().map(|p| f64::from(p[k])).sum::<f64>() / positions.len() as f64);
        Self { edge_strain_mean_percent: 100.0 * mean, edge_strain_p99_percent: 100.0 * p99, middle }
    }

    /// From the middle of another, mm.
    pub fn distance(&self, other: &Self) -> f64 {
        1000.0 * (0..3).map(|k| (self.middle[k] - other.middle[k]).powi(2)).sum::<f64>().sqrt()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_square_pulled_to_one_and_a_half_has_that_strain_along_its_long_sides_and_none_across() {
        let flat = [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]];
        let edges = edges(&[[0, 1, 2], [0, 2, 3]], &flat);
        assert_eq!(edges.len(), 5);
        let pulled: Vec<[f32; 3]> = flat.iter().map(|p| [1.5 * p[0], 0.0, p[1]]).collect();
        let shape = Shape::of(&pulled, &edges);
        let diagonal = 3.25f64.sqrt() / 2.0f64.sqrt() - 1.0;
        assert!((shape.edge_strain_mean_percent - 100.0 * (0.5 + 0.5 + diagonal) / 5.0).abs() < 1e-4);
        assert!((shape.edge_strain_p99_percent - 50.0).abs() < 1e-4);
        let aside = Shape { middle: [0.75, 0.003, 0.504], ..shape };
        assert!((shape.distance(&aside) - 5.0).abs() < 1e-4, "3 mm up and 4 mm along");
    }
}
