//! How far one drape lies from another.

use fit::Nearest;
use rayon::prelude::*;

/// Distance of points from a cloth, mm; positive on the side that its faces look to.
pub fn apart(points: &[[f32; 3]], cloth: &[[f32; 3]], triangles: &[[u32; 3]]) -> Vec<f32> {
    let nearest = Nearest::new(cloth, triangles);
    let one = |p: &[f32; 3]| {
        let Some((distance, t)) = nearest.place(*p) else { return 0.0 };
        let [a, b, c] = triangles[t].map(|v| glam::DVec3::from(cloth[v as usize].map(f64::from)));
        let outside = (b - a).cross(c - a).dot(glam::DVec3::from(p.map(f64::from)) - a) >= 0.0;
        (1000.0 * if outside { distance } else { -distance }) as f32
    };
    points.par_iter().map(one).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_sheet_that_was_lifted_lies_outside_by_as_much() {
        let square = |y: f32| [[0.0, y, 0.0], [0.0, y, 1.0], [1.0, y, 1.0], [1.0, y, 0.0]];
        let triangles = [[0, 1, 2], [0, 2, 3]];
        for (lift, told) in [(0.012, 12.0), (-0.03, -30.0), (0.0, 0.0)] {
            let found = apart(&square(lift), &square(0.0), &triangles);
            assert!(found.iter().all(|mm| (mm - told).abs() < 1e-3), "{found:?}");
        }
    }
}
