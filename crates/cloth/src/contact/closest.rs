//! Closest points of vertex and triangle, and of two edges, in f64.

use glam::DVec3;

/// Weights of the four vertices in the separation vector (first feature minus second) and that vector.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Separation {
    /// Of the four points; those of either side add up to 1 and -1.
    pub weights: [f64; 4],
    /// From one side to the other, m.
    pub vector: DVec3,
}

/// Vertex 0 against triangle 1, 2, 3 (Ericson, Real-Time Collision Detection, 5.1.5).
pub(crate) fn vertex_triangle([q, a, b, c]: [DVec3; 4]) -> Separation {
    let w = barycentric(q, a, b, c);
    Separation { weights: [1.0, -w[0], -w[1], -w[2]], vector: q - (a * w[0] + b * w[1] + c * w[2]) }
}

fn barycentric(q: DVec3, a: DVec3, b: DVec3, c: DVec3) -> [f64; 3] {
    let (ab, ac, aq) = (b - a, c - a, q - a);
    let (d1, d2) = (ab.dot(aq), ac.dot(aq));
    if d1 <= 0.0 && d2 <= 0.0 {
        return [1.0, 0.0, 0.0];
    }
    let bq = q - b;
    let (d3, d4) = (ab.dot(bq), ac.dot(bq));
    if d3 >= 0.0 && d4 <= d3 {
        return [0.0, 1.0, 0.0];
    }
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 {
        let v = d1 / (d1 - d3);
        return [1.0 - v, v, 0.0];
    }
    let cq = q - c;
    let (d5, d6) = (ab.dot(cq), ac.dot(cq));
    if d6 >= 0.0 && d5 <= d6 {
        return [0.0, 0.0, 1.0];
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 {
        let w = d2 / (d2 - d6);
        return [1.0 - w, 0.0, w];
    }
    let va = d3 * d6 - d5 * d4;
    if va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0 {
        let w = (d4 - d3) / ((d4 - d3) + (d5 - d6));
        return [0.0, 1.0 - w, w];
    }
    let sum = va + vb + vc;
    [va / sum, vb / sum, vc / sum]
}

/// Edge 0-1 against edge 2-3 (Ericson 5.1.9).
pub(crate) fn edge_edge([p1, q1, p2, q2]: [DVec3; 4]) -> Separation {
    let (d1, d2, r) = (q1 - p1, q2 - p2, p1 - p2);
    let (a, e, f) = (d1.length_squared(), d2.length_squared(), d2.dot(r));
    let (c, b) = (d1.dot(r), d1.dot(d2));
    let denominator = a * e - b * b;
    let mut s = if denominator > 1e-12 * a * e { ((b * f - c * e) / denominator).clamp(0.0, 1.0) } else { 0.5 };
    let mut t = (b * s + f) / e;
    if t < 0.0 {
        t = 0.0;
        s = (-c / a).clamp(0.0, 1.0);
    } else if t > 1.0 {
        t = 1.0;
        s = ((b - c) / a).clamp(0.0, 1.0);
    }
    Separation { weights: [1.0 - s, s, t - 1.0, -t], vector: p1 + d1 * s - (p2 + d2 * t) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn points(v: [f64; 12]) -> [DVec3; 4] {
        [0, 3, 6, 9].map(|k| DVec3::new(v[k], v[k + 1], v[k + 2]))
    }

    /// The weights give the vector, and belong to points of the features.
    fn is_consistent(x: [DVec3; 4], s: &Separation, split: usize) -> bool {
        let sum: DVec3 = (0..4).map(|k| x[k] * s.weights[k]).sum();
        let first: f64 = s.weights[..split].iter().sum();
        let second: f64 = s.weights[split..].iter().sum();
        let inside = s.weights[..split].iter().all(|w| (-1e-9..=1.0 + 1e-9).contains(w))
            && s.weights[split..].iter().all(|w| (-1.0 - 1e-9..=1e-9).contains(w));
        (sum - s.vector).length() < 1e-9 && (first - 1.0).abs() < 1e-9 && (second + 1.0).abs() < 1e-9 && inside
    }

    proptest! {
        #[test]
        fn no_point_of_the_triangle_is_nearer(v in prop::array::uniform12(-1.0..1.0f64)) {
            let x = points(v);
            let found = vertex_triangle(x);
            prop_assert!(is_consistent(x, &found, 1));
            let n = 40;
            for i in 0..=n {
                for j in 0..=n - i {
                    let (s, t) = (f64::from(i) / f64::from(n), f64::from(j) / f64::from(n));
                    let p = x[1] * (1.0 - s - t) + x[2] * s + x[3] * t;
                    prop_assert!(x[0].distance(p) > found.vector.length() - 1e-9);
                }
            }
        }

        #[test]
        fn no_points_of_two_edges_are_nearer(v in prop::array::uniform12(-1.0..1.0f64)) {
            let x = points(v);
            let found = edge_edge(x);
            prop_assert!(is_consistent(x, &found, 2));
            for i in 0..=40 {
                for j in 0..=40 {
                    let (p, q) = (x[0].lerp(x[1], f64::from(i) / 40.0), x[2].lerp(x[3], f64::from(j) / 40.0));
                    prop_assert!(p.distance(q) > found.vector.length() - 1e-9);
                }
            }
        }
    }

    #[test]
    fn parallel_edges_have_the_distance_between_their_lines() {
        let x = points([0., 0., 0., 1., 0., 0., 0.25, 0.5, 0., 0.75, 0.5, 0.]);
        assert!((edge_edge(x).vector.length() - 0.5).abs() < 1e-12);
        // and beyond their ends, the distance of the ends
        let x = points([0., 0., 0., 1., 0., 0., 2., 0., 0., 3., 0., 0.]);
        assert!((edge_edge(x).vector.length() - 1.0).abs() < 1e-12);
    }
}
