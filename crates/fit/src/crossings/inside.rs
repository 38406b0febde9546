//! What lies inside a closed skin: the generalised winding number (Jacobson, Kavan and Sorkine-Hornung 2013), the sum of the solid
//! angles of its triangles (Van Oosterom and Strackee 1983). A skin with small holes still tells inside from outside.

use crate::vector::{Point, cross, dot, sub};

/// How often a surface winds around a point: 1 inside a closed one whose triangles face outwards, 0 outside.
pub fn winding_number(at: [f32; 3], positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> f64 {
    let at = at.map(f64::from);
    let angle = |t: &[u32; 3]| solid_angle(t.map(|v| sub(positions[v as usize].map(f64::from), at)));
    triangles.iter().map(angle).sum::<f64>() / (4.0 * std::f64::consts::PI)
}

/// As seen from the origin, steradians.
fn solid_angle([a, b, c]: [Point; 3]) -> f64 {
    let [la, lb, lc] = [a, b, c].map(|v| dot(v, v).sqrt());
    let volume = dot(a, cross(b, c));
    let below = la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb;
    2.0 * volume.atan2(below)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// An octahedron of radius 1 around the origin.
    fn octahedron() -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
        let points = vec![[1.0, 0.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [0.0, 0.0, -1.0]];
        let triangles = vec![[0, 2, 4], [2, 1, 4], [1, 3, 4], [3, 0, 4], [2, 0, 5], [1, 2, 5], [3, 1, 5], [0, 3, 5]];
        (points, triangles)
    }

    #[test]
    fn a_closed_surface_winds_once_around_what_is_inside() {
        let (points, triangles) = octahedron();
        for (at, wound) in [([0.1, 0.2, -0.1], 1.0), ([0.3, 0.3, 0.3], 1.0), ([0.4, 0.4, 0.4], 0.0), ([5.0, 0.0, 0.0], 0.0)] {
            assert!((winding_number(at, &points, &triangles) - wound).abs() < 1e-9, "{at:?}");
        }
        // without one of its eight faces it still winds most of the way
        assert!((winding_number([0.0; 3], &points, &triangles[1..]) - 7.0 / 8.0).abs() < 1e-9);
    }
}
