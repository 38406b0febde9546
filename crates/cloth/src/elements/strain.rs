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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_larger_principal_stretch_whatever_the_direction() {
        let flat = [[0.0, 0.0], [0.3, 0.02], [0.1, 0.25]];
        for degrees in [0.0f32, 25.0, 70.0, 130.0] {
            let (sin, cos) = degrees.to_radians().sin_cos();
            // stretch 8 % along the direction, shrink 3 % across it, then lay it into space
            let now = flat.map(|p: [f32; 2]| {
                let (along, across) = (1.08 * (p[0] * cos + p[1] * sin), 0.97 * (p[1] * cos - p[0] * sin));
                [along * 0.6, across, along * 0.8]
            });
            assert!((triangle_stretch(flat, now) - 0.08).abs() < 1e-4);
        }
    }
}
