//! Tension: stretch of triangles as figures and as a value per vertex for the map.

/// Mean, 99th percentile and largest of a set of values.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Summary {
    /// Arithmetic mean; 0.02 is 2 %.
    pub mean: f64,
    pub p99: f64,
    /// The largest value.
    pub max: f64,
}

/// Summary of values; zero for an empty set.
pub fn spread(values: &[f32]) -> Summary {
    if values.is_empty() {
        return Summary::default();
    }
    let mut sorted = values.to_vec();
    sorted.sort_by(f32::total_cmp);
    let mean = values.iter().map(|v| f64::from(*v)).sum::<f64>() / values.len() as f64;
    let at = |q: f64| f64::from(sorted[((sorted.len() - 1) as f64 * q).round() as usize]);
    Summary { mean, p99: at(0.99), max: at(1.0) }
}

/// Mean of the surrounding triangles' values at every vertex, in `welded` numbering so that seams do not show a step.
pub fn vertex_tension(triangles: &[[u32; 3]], values: &[f32], welded: &[u32]) -> Vec<f32> {
    let mut sum = vec![(0.0f32, 0.0f32); welded.len()];
    for (t, v) in triangles.iter().zip(values) {
        for c in t {
            let slot = &mut sum[welded[*c as usize] as usize];
            *slot = (slot.0 + v, slot.1 + 1.0);
        }
    }
    welded
        .iter()
        .map(|w| {
            let (s, n) = sum[*w as usize];
            if n > 0.0 { s / n } else { 0.0 }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_spread_of_a_known_row() {
        let row: Vec<f32> = (0..=100).map(|k| k as f32).collect();
        assert_eq!(spread(&row), Summary { mean: 50.0, p99: 99.0, max: 100.0 });
    }

    #[test]
    fn fused_vertices_share_their_tension() {
        let t = vertex_tension(&[[0, 1, 2], [3, 4, 5]], &[0.0, 1.0], &[0, 1, 2, 0, 4, 5]);
        assert_eq!(t, vec![0.5, 0.0, 0.0, 0.5, 1.0, 1.0]);
    }
}
