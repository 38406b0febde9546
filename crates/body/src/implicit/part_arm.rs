//! Arms and hands of the field.

use crate::implicit::ellipsoid::{round_cone, smax, smin};
use crate::implicit::shape::Shape;
use crate::implicit::stack::Stack;
use crate::implicit::tables::Cone;
use glam::DVec3;

/// The arm frame: A along the arm, U outwards and up, V to the front.
#[derive(Clone, Debug)]
pub struct Arm {
    pub shoulder: DVec3,
    pub along: DVec3,
    pub out: DVec3,
    /// Joint to wrist, cm.
    pub length: f64,
    pub stack: Stack,
    pub hand_unit: f64,
    cap: f64,
    cap_blend: f64,
    wrist: (f64, f64),
    pub wrist_slope: f64,
    palm_end: f64,
    fingers: Vec<Cone>,
    thumb: Vec<Cone>,
}

/// Relaxed fingers bend towards the palm by this times the distance squared.
const CURL: f64 = 0.012;

impl Arm {
    /// The left arm, hanging at an angle from the vertical in radians.
    pub fn new(s: &Shape, angle: f64) -> Self {
        let t = s.template;
        let (sin, cos) = angle.sin_cos();
        let length = t.arm_len * s.f * s.multiplier("arm_len");
        let [x, y, z] = t.shoulder;
        let shoulder =
            DVec3::new(x * s.f * s.multiplier("shoulder_w"), s.warp.at(y) - 3.0 * s.f * (s.multiplier("deltoid") - 1.0), z * s.f);
        let scale = s.along(&t.arm_keys);
        let mut rows: Vec<_> = t
            .arm
            .iter()
            .map(|&[at, o, i, front, back, cu, cv]| {
                let m = scale.held(at) * s.f;
                (at * length / t.arm_len, [o * m, i * m, front * m, back * m, cu * s.f, cv * s.f, 2.0, 2.0])
            })
            .collect();
        let (last, before) = (rows[rows.len() - 1], rows[rows.len() - 2]);
        let wrist_slope = (last.1[5] - before.1[5]) / (last.0 - before.0) * 0.8;
        let hand_unit = s.f * s.multiplier("hand") * t.hand_scale;
        let wrist = (last.1[4], last.1[5]);
        rows.extend(t.hand.iter().map(|&[at, o, i, front, back, cu, cv]| {
            let u = hand_unit;
            (length + at * u, [o * u, i * u, front * u, back * u, wrist.0 + cu * u, wrist.1 + cv * u + wrist_slope * at * u, 2.3, 2.3])
        }));
        Self {
            shoulder,
            along: DVec3::new(sin, -cos, 0.0),
            out: DVec3::new(cos, sin, 0.0),
            length,
            stack: Stack::new(rows, false),
            hand_unit,
            cap: t.arm_cap * s.f,
            cap_blend: t.arm_cap_k * s.f,
            wrist,
            wrist_slope,
            palm_end: t.hand.last().map_or(0.0, |row| row[0]) - 0.6,
            fingers: t.fingers.clone(),
            thumb: t.thumb.clone(),
        }
    }

    /// Arm coordinates (t, u, v) of a point with x >= 0.
    pub fn frame(&self, p: DVec3) -> DVec3 {
        let q = p - self.shoulder;
        DVec3::new(q.dot(self.along), q.dot(self.out), q.z)
    }

    /// Signed distance of a point in arm coordinates.
    pub fn distance(&self, q: DVec3) -> f64 {
        let (t, u, v) = (q.x, q.y, q.z);
        let unit = self.hand_unit;
        let c = ((t - self.length) / unit - 4.0).max(0.0);
        let bent = u + CURL * c * c * unit;
        let mut d = smax(self.stack.distance(t, bent, v), -(t + self.cap), self.cap_blend);
        let tt = (t - self.length) / unit;
        let vv = (v - self.wrist.1 - self.wrist_slope * (t - self.length)) / unit;
        d = smax(d, (tt - self.palm_end + 0.03 * vv * vv) * unit, 1.6 * unit);
        if tt <= -4.0 {
            return d;
        }
        let fingers = join(&self.fingers, DVec3::new(tt, (bent - self.wrist.0) / unit, vv), 0.8);
        let thumb = join(&self.thumb, DVec3::new(tt, (u - self.wrist.0) / unit, vv), 1.0);
        smin(smin(d, fingers * unit, 1.2 * unit), thumb * unit, 1.6 * unit)
    }

    /// The middle of the arm's section at `t`, in body coordinates.
    pub fn centre(&self, t: f64) -> DVec3 {
        let c = self.stack.sections.at(t);
        self.shoulder + self.along * t + self.out * c[4] + DVec3::Z * c[5]
    }
}

/// Smooth union of round cones over a width of k, cm.
fn join(cones: &[Cone], q: DVec3, k: f64) -> f64 {
    cones.iter().map(|&(a, b, ra, rb)| round_cone(q, a.into(), b.into(), ra, rb)).reduce(|d, e| smin(d, e, k)).unwrap_or(f64::INFINITY)
}
