//! Legs and feet of the field.

use crate::implicit::ellipsoid::{smax, smin, smoothstep};
use crate::implicit::shape::Shape;
use crate::implicit::stack::Stack;
use glam::{DVec2, DVec3};

/// The left leg with its foot.
#[derive(Clone, Debug)]
pub struct Leg {
    pub stack: Stack,
    pub top: f64,
    foot: Stack,
    foot_unit: f64,
    /// Axis of the lowest leg row: (x, z).
    pub foot_base: DVec2,
    toe_out: f64,
    foot_ends: [f64; 2],
    foot_blend: f64,
    f: f64,
}

impl Leg {
    /// At the size of the body.
    pub fn new(s: &Shape) -> Self {
        let t = s.template;
        let scale = s.along(&t.leg_keys);
        let rows: Vec<_> = t
            .leg
            .iter()
            .map(|&[y, cx, cz, outer, inner, front, back]| {
                let m = scale.held(y) * s.f;
                // legs move apart with their girth, so that the inner gap is kept
                let apart = inner * (m - s.f) * smoothstep(0.25 * t.y_crotch, t.y_crotch, y) * 0.85;
                (s.warp.at(y), [outer * m, inner * m, front * m, back * m, cx * s.f + apart, cz * s.f, 2.0, 2.0])
            })
            .collect();
        let lowest = rows.iter().fold((f64::MAX, DVec2::ZERO), |low, r| if r.0 < low.0 { (r.0, DVec2::new(r.1[4], r.1[5])) } else { low });
        let top = rows.iter().fold(f64::MIN, |m, r| m.max(r.0));
        let foot = t.foot.iter().map(|&[at, o, i, up, down, cu, cv]| (at, [o, i, up, down, cu, cv, 2.2, 2.6]));
        Self {
            stack: Stack::new(rows, false),
            top,
            foot: Stack::new(foot.collect(), false),
            foot_unit: s.f * s.multiplier("foot") * t.foot_scale,
            foot_base: lowest.1,
            toe_out: t.toe_out.to_radians(),
            foot_ends: t.foot_ends,
            foot_blend: t.foot_k * s.f,
            f: s.f,
        }
    }

    /// The left leg (x > 0) with its foot.
    pub fn distance(&self, p: DVec3) -> f64 {
        let leg = smax(self.stack.distance(p.y, p.x, p.z), p.y - (self.top - 2.0 * self.f), 6.0 * self.f);
        let d = smin(leg, self.foot_distance(p), self.foot_blend);
        smax(d, -p.y, 1.2 * self.f)
    }

    /// The joint of the toes.
    pub fn ball(&self) -> DVec3 {
        let (sin, cos) = self.toe_out.sin_cos();
        let ahead = 12.0 * self.foot_unit;
        DVec3::new(self.foot_base.x + sin * ahead, 2.0 * self.foot_unit, self.foot_base.y + cos * ahead)
    }

    /// Signed distance to the foot, cm.
    fn foot_distance(&self, p: DVec3) -> f64 {
        let unit = self.foot_unit;
        let (dx, dz) = ((p.x - self.foot_base.x) / unit, (p.z - self.foot_base.y) / unit);
        let (sin, cos) = self.toe_out.sin_cos();
        let (along, across, height) = (dz * cos + dx * sin, dx * cos - dz * sin, p.y / unit);
        let d = self.foot.distance(along, across, height);
        let d = smax(d, self.foot_ends[0] - along, 4.5);
        let (ts, tc) = 0.28f64.sin_cos();
        let d = smax(d, along * tc + across * ts - self.foot_ends[1] * tc, 3.2);
        smax(d, -height, 1.4) * unit
    }
}
