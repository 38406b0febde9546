//! How much cloth is stretched.

/// Largest principal stretch minus one of a triangle given its flat (m) and current corners (m): 0.02 is 2 % longer.
pub fn triangle_stretch(flat: [[f32; 2]; 3], now: [[f32; 3]; 3]) -> f32 {
    let e = |k: usize| [f64::from(flat[k][0] - flat[0][0]), f64::from(flat[k][1] - flat[0][1])];
    let d = |k: usize| [0, 1, 2].map(|i| f64::from(now[k][i] - now[0][i]));
    let ([e1, e2], [d1, d2]) = ([e(1), e(2)], [d(1), d(2)]);
    let twice = e1[0] * e2[1] - e1[1] * e2[0];
    let column = |a: f64, b: f64| [0, 1, 2].map(|i| (d1[i] * a + d2[i] * b) / twice);
    let (u, v) = (column(e2[1], -e1[1]), column(-e2[0], e1[0]));
    let dot = |a: [f64; 3], b: [f64; 3]| a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    let (uu, vv, uv) = (dot(u, u), dot(v, v), dot(u, v));
    let mean = 0.5 * (uu + vv);
    ((mean + (0.25 * (uu - vv) * (uu - vv) + uv * uv).sqrt()).sqrt() - 1.0) as f32
}
