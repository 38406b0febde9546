//! Landmarks of an upright figure with its arms out, found from its sections.

use super::section::{Loop, Plane, loops};
use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::BTreeMap;

/// Keys and names of all landmarks, from head to foot.
pub fn landmark_names() -> &'static [(&'static str, &'static str)] {
    &[
        ("crown", "Crown"),
        ("neck", "Neck"),
        ("shoulder-left", "Shoulder, left"),
        ("shoulder-right", "Shoulder, right"),
        ("elbow-left", "Elbow, left"),
        ("elbow-right", "Elbow, right"),
        ("wrist-left", "Wrist, left"),
        ("wrist-right", "Wrist, right"),
        ("bust", "Bust"),
        ("waist", "Waist"),
        ("hips", "Hips"),
        ("crotch", "Crotch"),
        ("knee-left", "Knee, left"),
        ("knee-right", "Knee, right"),
        ("ankle-left", "Ankle, left"),
        ("ankle-right", "Ankle, right"),
    ]
}

/// Heights of a grown body in shares of its stature, for what cannot be seen on the shape.
const CROTCH: f64 = 0.465;
const KNEE: f64 = 0.59;
const ELBOW: f64 = 0.525;

/// Proposes every landmark, metres. The figure stands on the floor and looks along +z.
pub fn propose(surface: &Surface) -> BTreeMap<String, DVec3> {
    let points = || surface.positions.iter().map(|p| DVec3::from(p.map(f64::from)));
    let crown = points().max_by(|a, b| a.y.total_cmp(&b.y)).unwrap_or(DVec3::Y);
    let height = crown.y.max(0.1);
    let mut found: BTreeMap<String, DVec3> = BTreeMap::new();
    found.insert("crown".into(), crown.with_x(0.0));
    let trunk = |y: f64| middle_loop(surface, y, height);
    let crotch = crotch(surface, height);
    let put = |found: &mut BTreeMap<String, DVec3>, key: &str, y: f64| {
        let at = trunk(y).map_or(DVec3::Y * y, |l| l.middle().with_x(0.0));
        found.insert(key.into(), at);
    };
    let girth = |y: f64| trunk(y).map(|l| l.girth(&Plane::level(y)));
    let hips = extreme(crotch + 0.01 * height, crotch + 0.1 * height, |y| girth(y).map(|g| -g)).unwrap_or(crotch + 0.045 * height);
    let waist = lowest_least(crotch + 0.11 * height, crotch + 0.21 * height, girth).unwrap_or(crotch + 0.16 * height);
    let armpit = armpit(surface, waist, height);
    let bust = extreme(waist + 0.06 * height, armpit - 0.012 * height, |y| girth(y).map(|g| -g)).unwrap_or(0.72 * height);
    let neck = extreme(0.81 * height, 0.92 * height, girth).unwrap_or(0.867 * height);
    put(&mut found, "crotch", crotch);
    put(&mut found, "hips", hips);
    put(&mut found, "waist", waist);
    put(&mut found, "bust", bust);
    put(&mut found, "neck", neck);
    for (side, x) in [("left", 1.0), ("right", -1.0)] {
        let arm = Arm::find(surface, x, armpit, height);
        for (key, at) in [("shoulder", arm.shoulder), ("elbow", arm.elbow), ("wrist", arm.wrist)] {
            found.insert(format!("{key}-{side}"), at);
        }
        let leg = |y: f64| side_loop(surface, y, x, height).map_or(DVec3::new(0.05 * x * height, y, 0.0), |l| l.middle());
        let leg_girth = |y: f64| side_loop(surface, y, x, height).map(|l| l.girth(&Plane::level(y)));
        let ankle = extreme(0.035 * height, 0.09 * height, leg_girth).unwrap_or(0.045 * height);
        found.insert(format!("ankle-{side}"), leg(ankle));
        found.insert(format!("knee-{side}"), leg(KNEE * crotch));
    }
    found
}

/// The place in a range where a value is least.
fn extreme(from: f64, to: f64, value: impl Fn(f64) -> Option<f64>) -> Option<f64> {
    const STEPS: usize = 24;
    let at = |k: usize| from + (to - from) * k as f64 / STEPS as f64;
    let found = (0..=STEPS).filter_map(|k| Some((at(k), value(at(k))?)));
    (to > from).then(|| found.min_by(|a, b| a.1.total_cmp(&b.1))).flatten().map(|(y, _)| y)
}

/// The lowest place in a range where a value is least but for half a percent: a straight waist lies low.
fn lowest_least(from: f64, to: f64, value: impl Fn(f64) -> Option<f64>) -> Option<f64> {
    let least = value(extreme(from, to, &value)?)?;
    (0..=40).map(|k| from + (to - from) * f64::from(k) / 40.0).find(|y| value(*y).is_some_and(|v| v <= 1.005 * least))
}

/// The section line around the middle of the body.
pub(crate) fn middle_loop(surface: &Surface, y: f64, height: f64) -> Option<Loop> {
    let lines = loops(surface, &Plane::level(y), |_| true);
    let around = |l: &Loop| l.low.x < 0.0 && l.high.x > 0.0;
    lines
        .into_iter()
        .filter(around)
        .max_by(|a, b| (a.high - a.low).length().total_cmp(&(b.high - b.low).length()))
        .filter(|l| l.high.x - l.low.x > 0.02 * height)
}

/// The section line of one leg.
pub(crate) fn side_loop(surface: &Surface, y: f64, x: f64, height: f64) -> Option<Loop> {
    let lines = loops(surface, &Plane::level(y), |_| true);
    let beside = |l: &Loop| l.low.x * x > -0.02 * height && l.high.x * x > -0.02 * height && l.middle().x.abs() < 0.2 * height;
    lines.into_iter().filter(beside).max_by(|a, b| (a.high - a.low).length().total_cmp(&(b.high - b.low).length()))
}

/// Where the legs part: the lowest point of the body in the middle between them.
fn crotch(surface: &Surface, height: f64) -> f64 {
    let middle = Plane { origin: DVec3::ZERO, normal: DVec3::X };
    let profile = loops(surface, &middle, |_| true).into_iter().flat_map(|l| l.points);
    let between = profile.filter(|p| p.z.abs() < 0.03 * height && (0.3..0.65).contains(&(p.y / height)));
    let lowest = between.map(|p| p.y).fold(f64::MAX, f64::min);
    // thighs that touch hide it
    if (0.37 * height..0.58 * height).contains(&lowest) { lowest } else { CROTCH * height }
}

/// The level at which the arms join the trunk: its line becomes much wider at once.
fn armpit(surface: &Surface, waist: f64, height: f64) -> f64 {
    let width = |y: f64| middle_loop(surface, y, height).map(|l| l.high.x - l.low.x);
    let step = 0.004 * height;
    let mut y = waist;
    let mut before = width(y);
    while y < 0.85 * height {
        let next = width(y + step);
        if let (Some(a), Some(b)) = (before, next)
            && b > a + 0.05 * height
        {
            return y;
        }
        (before, y) = (next, y + step);
    }
    0.75 * height
}

/// An arm as it was found.
struct Arm {
    shoulder: DVec3,
    elbow: DVec3,
    wrist: DVec3,
}

impl Arm {
    /// Follows the arm outwards from the armpit on the side of x.
    fn find(surface: &Surface, x: f64, armpit: f64, height: f64) -> Self {
        let points = surface.positions.iter().map(|p| DVec3::from(p.map(f64::from)));
        let tip = points.filter(|p| p.y > 0.3 * height).max_by(|a, b| (a.x * x).total_cmp(&(b.x * x))).unwrap_or(DVec3::ZERO);
        let half = middle_loop(surface, armpit, height).map_or(0.1 * height, |l| 0.5 * (l.high.x - l.low.x));
        let start = DVec3::new(x * half.min(0.13 * height), armpit + 0.05 * height, tip.z.clamp(-0.05 * height, 0.02 * height));
        let along = tip - start;
        let across = |share: f64| {
            let plane = Plane { origin: start + along * share, normal: along.normalize_or(DVec3::X) };
            let lines = loops(surface, &plane, |_| true);
            let near = lines.into_iter().min_by(|a, b| a.middle().distance(plane.origin).total_cmp(&b.middle().distance(plane.origin)));
            near.filter(|l| l.middle().distance(plane.origin) < 0.08 * height).map(|l| (l, plane))
        };
        let wrist = extreme(0.66, 0.82, |s| across(s).map(|(l, plane)| l.girth(&plane))).unwrap_or(0.75);
        let on_axis = |share: f64| across(share).map_or(start + along * share, |(l, _)| l.middle());
        let shoulder = DVec3::new(start.x, start.y, on_axis(0.2 * wrist).z);
        Self { shoulder, elbow: on_axis(ELBOW * wrist), wrist: on_axis(wrist) }
    }
}
