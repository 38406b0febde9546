//! The implicit body: negative inside, positive outside, close to a distance in cm.

use crate::implicit::ellipsoid::smin;
use crate::implicit::part_arm::Arm;
use crate::implicit::part_leg::Leg;
use crate::implicit::part_trunk::{NeckAndHead, Trunk};
use crate::implicit::shape::Shape;
use crate::implicit::spline::Pchip;
use crate::implicit::tables::{Calibrated, PresetRow, Template, tables};
use crate::measuring::measures::Measure;
use glam::DVec3;
use std::collections::BTreeMap;

/// Value of a part that is too far away to matter.
const FAR: f64 = 60.0;
/// Angle of the arms from the vertical in the rest pose (A-pose).
const ARM_ANGLE: f64 = 40.0;

/// A soft swelling or hollow laid over the surface.
struct Accent {
    on_arm: bool,
    centre: DVec3,
    radii: DVec3,
    amplitude: f64,
}

/// The whole body; exactly symmetric in x.
pub struct Field {
    pub stature: f64,
    pub f: f64,
    /// Heights in cm of bust, waist, hip and so on.
    pub levels: BTreeMap<String, f64>,
    pub t_biceps: f64,
    pub(crate) t_elbow: f64,
    /// Radians.
    pub(crate) neck_tilt: f64,
    pub(crate) has_breasts: bool,
    /// Tabled joints of the middle and the left, cm.
    pub(crate) joints: BTreeMap<String, DVec3>,
    pub(crate) trunk: Trunk,
    pub(crate) leg: Leg,
    pub(crate) arm: Arm,
    pub(crate) neck: NeckAndHead,
    accents: Vec<Accent>,
    pub(crate) blend_leg: f64,
    pub(crate) blend_legs: f64,
    blend_arm: f64,
    pub(crate) blend_neck: f64,
}

impl Field {
    /// The field of a preset with its calibrated multipliers.
    pub(crate) fn new(preset: &PresetRow, calibrated: &Calibrated) -> Option<Self> {
        let template = tables().templates.get(&preset.template)?;
        let f = preset.get(Measure::Stature) / template.stature;
        let warp = height_warp(template, preset, calibrated, f);
        let s = Shape { template, stature: preset.get(Measure::Stature), f, warp, multipliers: &calibrated.multipliers };
        let (trunk, leg, arm) = (Trunk::new(&s), Leg::new(&s), Arm::new(&s, ARM_ANGLE.to_radians()));
        Some(Self {
            stature: preset.get(Measure::Stature),
            f,
            levels: template.lv.iter().map(|(k, y)| (k.clone(), s.warp.at(*y))).collect(),
            t_biceps: template.t_biceps / template.arm_len * arm.length,
            t_elbow: template.t_elbow / template.arm_len * arm.length,
            neck_tilt: template.neck_tilt.to_radians(),
            has_breasts: preset.has_breasts(),
            joints: joints(&s),
            accents: accents(&s, &trunk, &leg, &arm),
            neck: NeckAndHead::new(&s),
            blend_leg: template.k.leg * f,
            blend_legs: template.k.legs * f,
            blend_arm: template.k.arm * f,
            blend_neck: template.k.neck * f,
            trunk,
            leg,
            arm,
        })
    }

    /// The field of a preset by its key, such as `woman-38`.
    pub fn preset(key: &str) -> Option<Self> {
        let name = tables().presets.keys().find(|n| crate::measuring::sheet::key_of(n) == key)?;
        Self::new(&tables().presets[name], tables().calibrated.get(name)?)
    }

    /// Signed distance estimate in cm at a point in cm.
    pub fn distance(&self, point: DVec3) -> f64 {
        let f = self.f;
        let p = DVec3::new(point.x.abs(), point.y, point.z);
        let near_trunk =
            p.x < self.arm.shoulder.x + 14.0 * f && p.y > self.trunk.crotch - 9.0 * f && p.y < self.trunk.stack.sections.end() + 8.0 * f;
        let trunk = if near_trunk { self.trunk.distance(p) } else { FAR };
        let near_leg = p.y < self.leg.top + 6.0 * f && p.x < 40.0 * f;
        let leg = if near_leg { self.leg.distance(p) } else { FAR };
        let other_leg = if near_leg && p.x < 8.0 * f { self.leg.distance(DVec3::new(-p.x, p.y, p.z)) } else { FAR };
        let q = self.arm.frame(p);
        let near_arm = p.x > self.arm.shoulder.x - 12.0 * f && q.y.abs() < 18.0 * f && q.x > -16.0 * f;
        let arm = if near_arm { self.arm.distance(q) } else { FAR };
        let near_neck = p.x < 16.0 * f && p.y > self.neck.neck.sections.start() - 6.0 * f;
        let neck = if near_neck { self.neck.distance(p) } else { smin(FAR, FAR, 3.0 * f) };
        let legs = smin(leg, other_leg, self.blend_legs);
        let d = smin(trunk, legs, self.blend_leg);
        let d = smin(d, neck, self.blend_neck);
        let d = smin(d, arm, self.blend_arm);
        if d.abs() < 6.0 { d - self.accent(p, q) } else { d }
    }

    /// A part's distance with the accents of the surface.
    pub(crate) fn dressed(&self, d: f64, p: DVec3) -> f64 {
        let p = p.with_x(p.x.abs());
        if d.abs() < 6.0 { d - self.accent(p, self.arm.frame(p)) } else { d }
    }

    /// How far accents push the surface out at a point, cm; `q` is the same point in the frame of the arm.
    fn accent(&self, p: DVec3, q: DVec3) -> f64 {
        let mut sum = 0.0;
        for a in &self.accents {
            let at = if a.on_arm { q } else { DVec3::new(p.y, p.x, p.z) };
            let e = ((at - a.centre) / a.radii).length_squared();
            if e < 16.0 {
                sum += a.amplitude * (-0.5 * e).exp();
            }
        }
        sum
    }

    /// Numeric gradient, from the corners of a tetrahedron 0.3 mm away along each axis.
    pub fn gradient(&self, p: DVec3) -> DVec3 {
        const E: f64 = 0.03;
        const CORNERS: [[f64; 3]; 4] = [[1.0, -1.0, -1.0], [-1.0, -1.0, 1.0], [-1.0, 1.0, -1.0], [1.0, 1.0, 1.0]];
        CORNERS.iter().map(|c| DVec3::from(*c) * self.distance(p + DVec3::from(*c) * E)).sum::<DVec3>() / (4.0 * E)
    }
}

/// Joints of the middle and the left as tabled, in the height warp of the body.
fn joints(s: &Shape) -> BTreeMap<String, DVec3> {
    let place = |(name, [x, y, z]): (&String, &[f64; 3])| {
        let apart = if name == "clavicle" { s.multiplier("shoulder_w") } else { 1.0 };
        (name.clone(), DVec3::new(x * s.f * apart, s.warp.at(*y), z * s.f))
    };
    s.template.joints.iter().map(place).collect()
}

/// Template heights to body heights: landmarks given by the measurements, the others in proportion.
fn height_warp(t: &Template, preset: &PresetRow, calibrated: &Calibrated, f: f64) -> Pchip {
    let template: BTreeMap<&str, f64> = t.marks.iter().map(|(k, y)| (k.as_str(), *y)).collect();
    let mut body: BTreeMap<&str, f64> = template.iter().map(|(k, y)| (*k, y * f)).collect();
    body.insert("crotch", preset.get(Measure::Inseam));
    body.insert("waist", preset.get(Measure::WaistHeight));
    for (k, y) in &preset.marks {
        body.insert(k, *y);
    }
    if !preset.marks.contains_key("hip") {
        let share = (template["hip"] - template["crotch"]) / (template["waist"] - template["crotch"]);
        body.insert("hip", body["crotch"] + share * (body["waist"] - body["crotch"]));
    }
    if !preset.marks.contains_key("knee") {
        body.insert("knee", template["knee"] / template["crotch"] * body["crotch"]);
    }
    body.insert("crotch", body["crotch"] + calibrated.dy_crotch);
    let (waist, span) = (body["waist"], body["neckbase"] - body["waist"]);
    for k in ["bust", "axilla", "neckbase"] {
        body.insert(k, body[k] + calibrated.dy_neck * (body[k] - waist) / span);
    }
    Pchip::new(&t.marks.iter().map(|(k, y)| (*y, body[k.as_str()])).collect::<Vec<_>>())
}

/// The accents of the template, scaled to this body.
fn accents(s: &Shape, trunk: &Trunk, leg: &Leg, arm: &Arm) -> Vec<Accent> {
    let place = |(on, t, angle, r, amplitude): &(String, f64, f64, [f64; 3], f64)| {
        let on_arm = on == "arm";
        let stack = match on.as_str() {
            "arm" => &arm.stack,
            "leg" => &leg.stack,
            _ => &trunk.stack,
        };
        let at = if on_arm { t * arm.length / s.template.arm_len } else { s.warp.at(*t) };
        let (u, v) = stack.surface_point(at, angle.to_radians());
        let u = if on_arm { u } else { u.abs() };
        Accent { on_arm, centre: DVec3::new(at, u, v), radii: DVec3::new(r[1], r[0], r[2]) * s.f, amplitude: amplitude * s.f }
    };
    s.template.bumps.iter().map(place).collect()
}
