//! Trunk, neck and head of the field.

use crate::implicit::ellipsoid::{Ellipsoid, smax, smin, smoothstep};
use crate::implicit::shape::Shape;
use crate::implicit::stack::Stack;
use glam::{DMat3, DVec3};

/// Trunk stack with its bulges (buttocks, breasts, muscles).
#[derive(Clone, Debug)]
pub struct Trunk {
    pub stack: Stack,
    pub crotch: f64,
    crotch_blend: f64,
    bulges: Vec<TrunkBulge>,
}

/// A swelling of the trunk, such as a breast.
#[derive(Clone, Debug)]
struct TrunkBulge {
    shape: Ellipsoid,
    blend: f64,
    is_breast: bool,
    /// Blend with the mirrored twin when it is near the middle.
    twin_blend: Option<f64>,
}

impl Trunk {
    /// At the size of the body.
    pub fn new(s: &Shape) -> Self {
        let t = s.template;
        let scale = s.along(&t.torso_keys);
        let rows = t.torso.iter().map(|&[y, w, front, back, centre, nf, nb]| {
            let m = scale.held(y);
            let top = smoothstep(t.y_axilla, t.y_axilla + 9.0, y);
            let shoulder = if y > t.y_neck0 { m } else { s.multiplier("shoulder_w") };
            let width = w * s.f * (m.powf(t.fat[0]) * (1.0 - top) + top * shoulder);
            let (mf, mb) = if y > t.y_axilla { (m, m) } else { (m.powf(t.fat[1]), m.powf(t.fat[2])) };
            (s.warp.at(y), [width, width, (front - centre) * s.f * mf, (centre - back) * s.f * mb, 0.0, centre * s.f, nf, nb])
        });
        let bulges = t.torso_ell.iter().map(|e| {
            let m = e.scale.as_ref().map_or(1.0, |k| s.multiplier(k));
            let parent = e.parent.as_ref().map_or(1.0, |k| s.multiplier(k));
            let centre = DVec3::new(e.c[0] * s.f * parent, s.warp.at(e.c[1]) - e.sink * (m - 1.0) * s.f, e.c[2] * s.f * parent);
            let radii = DVec3::new(e.r[0] * m.powf(e.e[0]), e.r[1] * m.powf(e.e[1]), e.r[2] * m.powf(e.e[3])) * s.f;
            let above = e.up.map(|up| up * s.f * m.powf(e.e[2]));
            let axes = e.axes.map(|r| DMat3::from_cols_array_2d(&r).transpose());
            let twin_blend = (centre.x.abs() < radii.x * 1.3).then_some(e.km * s.f);
            TrunkBulge {
                shape: Ellipsoid { centre, radii, above, axes },
                blend: e.k * s.f,
                is_breast: e.scale.as_deref() == Some("bust"),
                twin_blend,
            }
        });
        Self {
            stack: Stack::new(rows.collect(), true),
            crotch: s.warp.at(t.y_crotch),
            crotch_blend: t.crotch_k * s.f,
            bulges: bulges.collect(),
        }
    }

    /// `p` with x >= 0.
    pub fn distance(&self, p: DVec3) -> f64 {
        self.distance_with(p, true)
    }

    /// The same, with the breasts left out on demand.
    pub fn distance_with(&self, p: DVec3, breasts: bool) -> f64 {
        let mut d = smax(self.stack.distance(p.y, p.x, p.z), self.crotch - p.y, self.crotch_blend);
        let mirrored = DVec3::new(-p.x, p.y, p.z);
        for bulge in self.bulges.iter().filter(|b| breasts || !b.is_breast) {
            let mut e = bulge.shape.distance(p);
            if let Some(blend) = bulge.twin_blend {
                e = smin(e, bulge.shape.distance(mirrored), blend);
            }
            d = smin(d, e, bulge.blend);
        }
        d
    }
}

/// Neck stack and head ellipsoids.
#[derive(Clone, Debug)]
pub struct NeckAndHead {
    pub neck: Stack,
    head: Vec<(Ellipsoid, f64, f64)>,
    head_scale: f64,
    head_origin: DVec3,
    template_origin: DVec3,
    blend: f64,
}

impl NeckAndHead {
    /// At the size of the body.
    pub fn new(s: &Shape) -> Self {
        let t = s.template;
        let m = s.f * s.multiplier("neck");
        let rows = t
            .neck
            .iter()
            .map(|&[y, w, front, back, centre]| (s.warp.at(y), [w * m, w * m, front * m, back * m, 0.0, centre * s.f, 2.05, 2.05]));
        let neck = Stack::new(rows.collect(), true);
        let axis = t.neck.last().map_or(0.0, |row| row[4]);
        let chin = s.warp.at(t.chin);
        let head =
            t.head.iter().map(|h| (Ellipsoid { centre: DVec3::from(h.c), radii: DVec3::from(h.r), above: None, axes: None }, h.k, h.taper));
        Self {
            neck,
            head: head.collect(),
            head_scale: (s.stature - chin) / (t.stature - t.chin),
            head_origin: DVec3::new(0.0, chin, axis * s.f),
            template_origin: DVec3::new(0.0, t.chin, axis),
            blend: t.k.head * s.f,
        }
    }

    /// Signed distance estimate, cm.
    pub fn distance(&self, p: DVec3) -> f64 {
        let neck = self.neck.distance(p.y, p.x, p.z);
        let q = (p - self.head_origin) / self.head_scale + self.template_origin;
        let mut head = f64::INFINITY;
        for (shape, blend, taper) in &self.head {
            let along = ((q.y - shape.centre.y) / shape.radii.y).clamp(-1.2, 1.2);
            let d = shape.distance(DVec3::new(q.x / (1.0 + taper * along), q.y, q.z));
            head = if head.is_finite() { smin(head, d, *blend) } else { d };
        }
        smin(neck, head * self.head_scale, self.blend)
    }
}
