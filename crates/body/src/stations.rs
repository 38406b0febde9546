//! Stations: named spots where a piece can hang, each with the elliptic cylinder around which it wraps.

use crate::field::Field;
use crate::skeleton::Skeleton;
use glam::{DAffine3, DVec3};

/// How far around the body a piece at this station may reach.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// Only its own side (front or back).
    Side,
    /// All around the limb or trunk.
    Around,
}

/// A wrap frame in metres. A piece's middle lies on the outward direction at `centre`'s height.
#[derive(Clone, Debug, PartialEq)]
pub struct Station {
    pub key: &'static str,
    pub name: &'static str,
    /// On the axis of the body part.
    pub centre: DVec3,
    /// Unit vectors: along the piece's right, along its up, and outwards; a right-handed frame.
    pub right: DVec3,
    pub up: DVec3,
    pub out: DVec3,
    /// Radii of the body part along `right` and `out`.
    pub radii: (f64, f64),
    pub reach: Reach,
    /// The bone that carries it.
    pub bone: Option<usize>,
}

/// Keys and names of all stations, in the order in which they are offered.
pub fn station_names() -> &'static [(&'static str, &'static str)] {
    &[
        ("chest-front", "Chest, front"),
        ("chest-back", "Chest, back"),
        ("waist-front", "Waist, front"),
        ("waist-back", "Waist, back"),
        ("hips-front", "Hips, front"),
        ("hips-back", "Hips, back"),
        ("upper-arm-left", "Upper arm, left"),
        ("upper-arm-right", "Upper arm, right"),
        ("thigh-left", "Thigh, left"),
        ("thigh-right", "Thigh, right"),
    ]
}

impl Station {
    /// The station carried along by its bone.
    pub(crate) fn moved(&self, by: &DAffine3) -> Self {
        let turn = |v: DVec3| by.transform_vector3(v);
        Self { centre: by.transform_point3(self.centre), right: turn(self.right), up: turn(self.up), out: turn(self.out), ..self.clone() }
    }
}

/// The bone that carries a station.
pub(crate) fn bone_of(key: &str) -> &str {
    match key {
        "chest-front" | "chest-back" => "spine-3",
        "waist-front" | "waist-back" => "spine-1",
        "hips-front" | "hips-back" => "pelvis",
        limb => limb,
    }
}

pub(crate) fn stations(field: &Field, skeleton: &Skeleton) -> Vec<Station> {
    station_names().iter().filter_map(|&(key, name)| station(field, skeleton, key, name)).collect()
}

fn station(field: &Field, skeleton: &Skeleton, key: &'static str, name: &'static str) -> Option<Station> {
    let level = |k: &str| field.levels.get(k).copied();
    let mirrored = key.ends_with("right");
    let (axis_point, radii, up, out, reach) = match key {
        "chest-front" | "chest-back" => trunk(field, level("bust")?, key.ends_with("front")),
        "waist-front" | "waist-back" => trunk(field, level("waist")?, key.ends_with("front")),
        "hips-front" | "hips-back" => trunk(field, level("hip")?, key.ends_with("front")),
        "upper-arm-left" | "upper-arm-right" => {
            let c = field.arm.stack.sections.at(field.t_biceps);
            (field.arm.centre(field.t_biceps), (0.5 * (c[2] + c[3]), 0.5 * (c[0] + c[1])), -field.arm.along, field.arm.out, Reach::Around)
        }
        _ => {
            let y = 0.85 * field.trunk.crotch;
            let c = field.leg.stack.sections.at(y);
            (DVec3::new(c[4], y, c[5]), (0.5 * (c[0] + c[1]), 0.5 * (c[2] + c[3])), DVec3::Y, DVec3::Z, Reach::Around)
        }
    };
    let flip = |v: DVec3| if mirrored { DVec3::new(-v.x, v.y, v.z) } else { v };
    let (centre, up, out) = (flip(axis_point) * 0.01, flip(up), flip(out));
    Some(Station {
        key,
        name,
        centre,
        right: up.cross(out),
        up,
        out,
        radii: (radii.0 * 0.01, radii.1 * 0.01),
        reach,
        bone: skeleton.index(bone_of(key)),
    })
}

/// The trunk's section at a height: middle of its depth, half width and half depth.
fn trunk(field: &Field, y: f64, front: bool) -> (DVec3, (f64, f64), DVec3, DVec3, Reach) {
    let reach = |direction: DVec3, middle: DVec3| {
        let (mut low, mut high) = (0.0, 60.0);
        // the outermost zero of the trunk alone along the direction
        for step in 0..120 {
            let r = 60.0 - f64::from(step) * 0.5;
            if field.trunk.distance((middle + direction * r).with_x((middle + direction * r).x.abs())) < 0.0 {
                (low, high) = (r, r + 0.5);
                break;
            }
        }
        for _ in 0..20 {
            let r = 0.5 * (low + high);
            let p = middle + direction * r;
            if field.trunk.distance(p.with_x(p.x.abs())) < 0.0 { low = r } else { high = r }
        }
        low
    };
    let middle = DVec3::new(0.0, y, 0.0);
    let (ahead, behind, wide) = (reach(DVec3::Z, middle), reach(DVec3::NEG_Z, middle), reach(DVec3::X, middle));
    let centre = DVec3::new(0.0, y, 0.5 * (ahead - behind));
    let out = if front { DVec3::Z } else { DVec3::NEG_Z };
    (centre, (wide, 0.5 * (ahead + behind)), DVec3::Y, out, Reach::Side)
}
