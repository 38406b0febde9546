//! Stations: named spots where a piece can hang, each with the elliptic cylinder around which it wraps.

use crate::implicit::field::Field;
use crate::posing::skeleton::Skeleton;
use crate::posing::spots;
use crate::posing::station::{Limb, Reach, Station};
use glam::{DAffine3, DQuat, DVec3};
use std::sync::LazyLock;

/// Keys and names of all stations, in the order in which they are offered.
pub fn station_names() -> &'static [(&'static str, &'static str)] {
    static ALL: LazyLock<Vec<(&'static str, &'static str)>> = LazyLock::new(|| BASE.iter().copied().chain(spots::names()).collect());
    &ALL
}

/// Those from which the others follow.
pub(crate) const BASE: [(&str, &str); 21] = [
    ("chest-front", "Chest, front"),
    ("chest-back", "Chest, back"),
    ("waist-front", "Waist, front"),
    ("waist-back", "Waist, back"),
    ("hips-front", "Hips, front"),
    ("hips-back", "Hips, back"),
    ("upper-arm-left", "Upper arm, left"),
    ("upper-arm-right", "Upper arm, right"),
    ("under-arm-left", "Upper arm, inner side, left"),
    ("under-arm-right", "Upper arm, inner side, right"),
    ("wrist-left", "Wrist, left"),
    ("wrist-right", "Wrist, right"),
    ("thigh-left", "Thigh, left"),
    ("thigh-right", "Thigh, right"),
    ("knee-left", "Knee, left"),
    ("knee-right", "Knee, right"),
    ("shoulder-left", "Over the shoulder, left"),
    ("shoulder-right", "Over the shoulder, right"),
    ("neck-back", "Neck, from the nape"),
    ("head-left", "Head, left side"),
    ("head-right", "Head, right side"),
];

/// Tells the stations of both arms where elbow and wrist are now.
pub(crate) fn follow_arms(stations: &mut [Station], skeleton: &Skeleton, placed: &[DAffine3]) {
    for side in ["left", "right"] {
        let Some(wrist) = stations.iter().find(|s| s.key.strip_prefix("wrist-") == Some(side)).cloned() else { continue };
        let elbow = skeleton.index(&format!("forearm-{side}")).map(|b| placed[b].transform_point3(skeleton.bones[b].joint));
        for s in stations.iter_mut().filter(|s| s.key.ends_with(side) && (s.key.starts_with("upper-arm") || s.key.starts_with("under-arm")))
        {
            let elbow = elbow.unwrap_or(s.centre.midpoint(wrist.centre));
            let (upper, fore) = ((elbow - s.centre).length(), wrist.centre - elbow);
            let Some(along) = fore.try_normalize() else { continue };
            let turn = DQuat::from_rotation_arc(-s.up, along);
            s.limb = Some(Limb { joint: upper, end: upper + fore.length(), turn, radii: wrist.radii });
        }
    }
}

/// The bone that carries a station.
pub(crate) fn bone_of(key: &str) -> String {
    let side = key.rsplit('-').next().unwrap_or_default();
    let of = |stem: &str| format!("{stem}-{side}");
    match key.split('-').next().unwrap_or_default() {
        "chest" | "shoulder" | "underbust" => "spine-3".into(),
        "waist" | "belly" => "spine-1".into(),
        "hips" | "seat" => "pelvis".into(),
        "neck" => "neck".into(),
        "head" => "head".into(),
        "upper" | "under" => of("upper-arm"),
        "forearm" | "wrist" => of("forearm"),
        "hand" => of("hand"),
        "knee" | "calf" | "ankle" => of("shin"),
        _ => of("thigh"),
    }
}

/// Where a strap lies over the shoulder, in shares of the way to its joint.
pub(crate) const ACROSS: f64 = 0.55;

/// All stations of a field.
pub(crate) fn stations(field: &Field, skeleton: &Skeleton) -> Vec<Station> {
    let mut all: Vec<Station> = BASE.iter().filter_map(|&(key, name)| station(field, skeleton, key, name)).collect();
    let mut more = spots::following(&all, station_names());
    more.iter_mut().for_each(|s| s.bone = skeleton.index(&bone_of(s.key)));
    all.extend(more);
    all
}

/// One of them; none when the field has no surface there.
fn station(field: &Field, skeleton: &Skeleton, key: &'static str, name: &'static str) -> Option<Station> {
    let level = |k: &str| field.levels.get(k).copied();
    let mirrored = key.ends_with("right");
    let (axis_point, radii, up, out, reach) = match key {
        "chest-front" | "chest-back" => trunk(field, level("bust")?, key.ends_with("front")),
        "waist-front" | "waist-back" => trunk(field, level("waist")?, key.ends_with("front")),
        "hips-front" | "hips-back" => trunk(field, level("hip")?, key.ends_with("front")),
        "upper-arm-left" | "upper-arm-right" => arm(field, field.t_biceps, 1.0),
        "under-arm-left" | "under-arm-right" => arm(field, field.t_biceps, -1.0),
        "wrist-left" | "wrist-right" => arm(field, WRIST * field.arm.length, 1.0),
        "head-left" | "head-right" => head(field, level("neck")?),
        "shoulder-left" | "shoulder-right" => shoulder(field, level("bust")?),
        "neck-back" => neck(field, level("neck")?),
        "knee-left" | "knee-right" => leg(field, level("knee")?),
        _ => leg(field, 0.85 * field.trunk.crotch),
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
        bone: skeleton.index(&bone_of(key)),
        limb: None,
    })
}

/// Axis point and radii in cm, up, out, and how far around.
type Frame = (DVec3, (f64, f64), DVec3, DVec3, Reach);

/// Where a ray out of the body leaves it for the last time, cm.
fn way_out(distance: impl Fn(DVec3) -> f64, from: DVec3, direction: DVec3) -> f64 {
    let inside = |r: f64| distance(from + direction * r) < 0.0;
    let last = (0..120).map(|step| 60.0 - 0.5 * f64::from(step)).find(|r| inside(*r));
    let (mut low, mut high) = last.map_or((0.0, 60.0), |r| (r, r + 0.5));
    for _ in 0..20 {
        let r = 0.5 * (low + high);
        if inside(r) { low = r } else { high = r }
    }
    low
}

/// The middle of the body's depth at a point within it, and half that depth, cm.
fn depth(distance: impl Fn(DVec3) -> f64, middle: DVec3) -> (DVec3, f64) {
    let [ahead, behind] = [DVec3::Z, DVec3::NEG_Z].map(|d| way_out(&distance, middle, d));
    (middle.with_z(0.5 * (ahead - behind)), 0.5 * (ahead + behind))
}

/// The trunk's section at a height: middle of its depth, half width and half depth.
fn trunk(field: &Field, y: f64, front: bool) -> Frame {
    let alone = |p: DVec3| field.trunk.distance(p.with_x(p.x.abs()));
    let middle = DVec3::new(0.0, y, 0.0);
    let (centre, deep) = depth(alone, middle);
    let out = if front { DVec3::Z } else { DVec3::NEG_Z };
    (centre, (way_out(alone, middle, DVec3::X), deep), DVec3::Y, out, Reach::Side)
}

/// Where a cuff hangs, in shares of the arm's length.
pub(crate) const WRIST: f64 = 0.96;

/// The arm's section at a length from the shoulder; wrapped from outside, or with -1 from the body's side.
fn arm(field: &Field, t: f64, side: f64) -> Frame {
    let c = field.arm.stack.sections.at(t);
    (field.arm.centre(t), (0.5 * (c[2] + c[3]), 0.5 * (c[0] + c[1])), -field.arm.along, side * field.arm.out, Reach::Around)
}

/// Half way from the neck to the crown, wrapped from the left side.
fn head(field: &Field, neck: f64) -> Frame {
    let whole = |p: DVec3| field.distance(p);
    let (centre, deep) = depth(whole, DVec3::new(0.0, neck + HEAD * (field.stature - neck), 0.0));
    (centre, (deep, way_out(whole, centre, DVec3::X)), DVec3::Y, DVec3::X, Reach::Side)
}

/// The level of the head's station, in shares of the way from the neck to the crown.
pub(crate) const HEAD: f64 = 0.62;

/// The leg's section at a height.
fn leg(field: &Field, y: f64) -> Frame {
    let c = field.leg.stack.sections.at(y);
    (DVec3::new(c[4], y, c[5]), (0.5 * (c[0] + c[1]), 0.5 * (c[2] + c[3])), DVec3::Y, DVec3::Z, Reach::Around)
}

/// The neck's section at a height, wrapped from behind.
fn neck(field: &Field, y: f64) -> Frame {
    let whole = |p: DVec3| field.distance(p);
    let (centre, deep) = depth(whole, DVec3::new(0.0, y, 0.0));
    (centre, (way_out(whole, centre, DVec3::X), deep), DVec3::Y, DVec3::NEG_Z, Reach::Around)
}

/// Half way from the neck to the shoulder joint: around an axis across the body, half way up from the bust.
fn shoulder(field: &Field, bust: f64) -> Frame {
    let whole = |p: DVec3| field.distance(p);
    let x = ACROSS * field.arm.shoulder.x;
    let top = (-8..=8).map(|z| bust + way_out(whole, DVec3::new(x, bust, f64::from(z)), DVec3::Y)).fold(bust, f64::max);
    let (centre, deep) = depth(whole, DVec3::new(x, 0.5 * (bust + top), 0.0));
    (centre, (deep, top - centre.y), DVec3::X, DVec3::Y, Reach::Around)
}
