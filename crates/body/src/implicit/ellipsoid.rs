//! Ellipsoids, round cones and the smooth joins between volumes.

use glam::{DMat3, DVec3};

/// Smooth minimum, C2 at the border of the blend zone of width `k`.
pub fn smin(a: f64, b: f64, k: f64) -> f64 {
    let h = (k - (a - b).abs()).max(0.0) / k;
    a.min(b) - h * h * h * k / 6.0
}

/// Smooth maximum: rounds the corner between two distances over a width of k.
pub fn smax(a: f64, b: f64, k: f64) -> f64 {
    -smin(-a, -b, k)
}

/// 0 below a, 1 above b, a smooth cubic between.
pub fn smoothstep(a: f64, b: f64, x: f64) -> f64 {
    let t = ((x - a) / (b - a)).clamp(0.0, 1.0);
    t * t * (3.0 - 2.0 * t)
}

/// An ellipsoid, or a drop when the radius above its centre differs.
#[derive(Clone, Copy, Debug)]
pub struct Ellipsoid {
    /// cm.
    pub centre: DVec3,
    /// Half axes, cm.
    pub radii: DVec3,
    pub above: Option<f64>,
    /// Columns are the local axes.
    pub axes: Option<DMat3>,
}

impl Ellipsoid {
    /// Signed distance, cm: exact at the surface, first order elsewhere.
    pub fn distance(&self, p: DVec3) -> f64 {
        let mut q = p - self.centre;
        if let Some(axes) = self.axes {
            q = axes.transpose() * q;
        }
        let mut r = self.radii;
        if let Some(above) = self.above
            && q.y > 0.0
        {
            r.y = above;
        }
        let k0 = (q / r).length();
        if k0 < 1e-6 {
            return -r.min_element();
        }
        k0 * (k0 - 1.0) / (q / (r * r)).length().max(1e-9)
    }
}

/// Distance to a segment minus a radius that changes linearly along it.
pub fn round_cone(p: DVec3, a: DVec3, b: DVec3, ra: f64, rb: f64) -> f64 {
    let ab = b - a;
    let t = ((p - a).dot(ab) / ab.length_squared()).clamp(0.0, 1.0);
    (p - a - ab * t).length() - (ra + (rb - ra) * t)
}
