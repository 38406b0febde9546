//! A limb or trunk as a stack of sections: superellipse quadrants whose radii and centres are splines along the axis.

use crate::implicit::spline::NaturalSpline;

/// Columns: outer, inner, front, back radius; centre u, v; exponents front, back.
pub type Section = [f64; 8];

/// Step of the slope along the axis, cm.
const STEP: f64 = 0.25;

/// Sections along an axis, joined by splines.
#[derive(Clone, Debug)]
pub struct Stack {
    pub sections: NaturalSpline<8>,
    /// Closed flat at both ends, otherwise it runs on.
    capped: bool,
}

/// Distance from the section's centre, section field s^(1/n), and its slope in the section.
fn radial(c: &Section, u: f64, v: f64) -> (f64, f64, f64) {
    let (mut uu, vv) = (u - c[4], v - c[5]);
    if uu.abs() + vv.abs() < 1e-4 {
        uu = 1e-4; // the axis itself has no direction
    }
    let a = (if uu > 0.0 { c[0] } else { c[1] }).max(0.3);
    let b = (if vv > 0.0 { c[2] } else { c[3] }).max(0.3);
    let n = if vv > 0.0 { c[6] } else { c[7] };
    let (x, z) = (uu.abs() / a, vv.abs() / b);
    let r = uu.hypot(vv);
    if n == 2.0 {
        let s = x * x + z * z + 1e-12;
        let g = s.sqrt();
        return (r, g, (x / a).hypot(z / b) / g);
    }
    let s = x.powf(n) + z.powf(n) + 1e-12;
    let g = s.powf(1.0 / n);
    let gi = g / s;
    (r, g, (gi * x.powf(n - 1.0) / a).hypot(gi * z.powf(n - 1.0) / b))
}

impl Stack {
    /// From rows of position and section; `capped` closes its ends.
    pub fn new(mut rows: Vec<(f64, Section)>, capped: bool) -> Self {
        rows.sort_by(|a, b| a.0.total_cmp(&b.0));
        Self { sections: NaturalSpline::new(&rows), capped }
    }

    /// Signed distance estimate at axis parameter t and section coordinates (u, v).
    pub fn distance(&self, t: f64, u: f64, v: f64) -> f64 {
        let (t0, t1) = (self.sections.start(), self.sections.end());
        let tc = t.clamp(t0, t1);
        let (r, g, slope) = radial(&self.sections.at(tc), u, v);
        let (ta, tb) = ((tc - STEP).max(t0), (tc + STEP).min(t1));
        let along = |t: f64| {
            let (r, g, _) = radial(&self.sections.at(t), u, v);
            r - r / g.max(1e-6)
        };
        let radius = r / g.max(1e-6);
        let rt = (along(tb) - along(ta)) / (tb - ta).max(1e-6);
        let d = (r - radius) / (radius * slope).hypot(rt);
        if !self.capped {
            return d;
        }
        let e = (t0 - t).max(t - t1);
        d.max(e).min(0.0) + d.max(0.0).hypot(e.max(0.0))
    }

    /// The surface point in the direction `angle` (radians, 0 = outwards, 90 degrees = front) at `t`.
    pub fn surface_point(&self, t: f64, angle: f64) -> (f64, f64) {
        let c = self.sections.at(t);
        let (sin, cos) = angle.sin_cos();
        let (_, g, _) = radial(&c, c[4] + cos, c[5] + sin);
        (c[4] + cos / g, c[5] + sin / g)
    }
}
