//! Whether two triangles cross, decided with exact predicates (Shewchuk 1997, through the `robust` crate).

use robust::{Coord3D, orient3d};

fn side(a: [f64; 3], b: [f64; 3], c: [f64; 3], d: [f64; 3]) -> f64 {
    let p = |v: [f64; 3]| Coord3D { x: v[0], y: v[1], z: v[2] };
    orient3d(p(a), p(b), p(c), p(d))
}

/// Whether segment p-q meets triangle t; a segment within the plane of the triangle does not count.
fn segment_meets(p: [f64; 3], q: [f64; 3], t: [[f64; 3]; 3]) -> bool {
    let (sp, sq) = (side(t[0], t[1], t[2], p), side(t[0], t[1], t[2], q));
    if (sp > 0.0 && sq > 0.0) || (sp < 0.0 && sq < 0.0) || (sp == 0.0 && sq == 0.0) {
        return false;
    }
    let around = [side(p, q, t[0], t[1]), side(p, q, t[1], t[2]), side(p, q, t[2], t[0])];
    around.iter().all(|s| *s >= 0.0) || around.iter().all(|s| *s <= 0.0)
}

/// Whether an edge of one triangle passes through the other (touching counts; lying in one plane does not).
pub fn triangles_cross(a: [[f32; 3]; 3], b: [[f32; 3]; 3]) -> bool {
    let wide = |t: [[f32; 3]; 3]| t.map(|p| p.map(f64::from));
    let (a, b) = (wide(a), wide(b));
    (0..3).any(|k| segment_meets(a[k], a[(k + 1) % 3], b) || segment_meets(b[k], b[(k + 1) % 3], a))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const FLAT: [[f32; 3]; 3] = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]];

    #[test]
    fn a_needle_through_the_face_crosses_and_one_beside_it_does_not() {
        let needle = |x: f32, y: f32| [[x, y, -1.0], [x, y, 1.0], [x + 0.01, y, 1.0]];
        assert!(triangles_cross(FLAT, needle(0.2, 0.2)));
        assert!(!triangles_cross(FLAT, needle(0.8, 0.8)));
        assert!(!triangles_cross(FLAT, [[0.2, 0.2, 0.001], [0.4, 0.2, 0.001], [0.2, 0.4, 0.001]]));
    }

    proptest! {
        /// Against an independent method: dense sampling of signed distances along the edges.
        #[test]
        fn agrees_with_clipping_by_half_spaces(v in prop::array::uniform9(-1.0f32..1.0)) {
            let t = [[v[0], v[1], v[2]], [v[3], v[4], v[5]], [v[6], v[7], v[8]]];
            let through = |p: [f32; 3], q: [f32; 3]| {
                if (p[2] > 0.0) == (q[2] > 0.0) { return None; }
                let s = p[2] / (p[2] - q[2]);
                Some([p[0] + s * (q[0] - p[0]), p[1] + s * (q[1] - p[1])])
            };
            let cuts: Vec<_> = (0..3).filter_map(|k| through(t[k], t[(k + 1) % 3])).collect();
            let expected = cuts.len() == 2 && (0..=4000).any(|k| {
                let s = k as f32 / 4000.0;
                let p = [cuts[0][0] + s * (cuts[1][0] - cuts[0][0]), cuts[0][1] + s * (cuts[1][1] - cuts[0][1])];
                p[0] > 1e-3 && p[1] > 1e-3 && p[0] + p[1] < 1.0 - 1e-3
            });
            let found = triangles_cross(FLAT, t);
            // sampling may miss a graze; what it finds must be found
            prop_assert!(!expected || found);
            let clear = cuts.len() < 2 || (0..=4000).all(|k| {
                let s = k as f32 / 4000.0;
                let p = [cuts[0][0] + s * (cuts[1][0] - cuts[0][0]), cuts[0][1] + s * (cuts[1][1] - cuts[0][1])];
                p[0] < -1e-2 || p[1] < -1e-2 || p[0] + p[1] > 1.01
            });
            prop_assert!(!clear || !found);
        }
    }
}
