//! Closest points of vertex and triangle, and of two edges, in f64.

use glam::DVec3;

/// Weights of the four vertices in the separation vector (first feature minus second) and that vector.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Separation {
    pub weights: [f64; 4],
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
