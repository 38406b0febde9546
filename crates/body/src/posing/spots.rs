//! Stations that follow from others: the same section seen from another side, or one between two of them. Thus a mannequin and
//! a figure from elsewhere have the same ones, each as far as its landmarks go.

use crate::posing::station::{Reach, Station};
use glam::{DQuat, DVec3};

/// Thickness of a limb below a joint over that at the joint.
const BEYOND: f64 = 1.12;

/// How a station follows: key and name without the side (or whole), from which it comes, degrees counter-clockwise from
/// above (on the left; mirrored on the right), and where it lies on the way to another station.
struct Follows(&'static str, &'static str, &'static str, f64, Option<(&'static str, f64)>);

/// Those of the trunk and the head; their keys are whole.
const TRUNK: [Follows; 14] = [
    Follows("chest-left", "Chest, left side", "chest-front", 90.0, None),
    Follows("chest-right", "Chest, right side", "chest-front", -90.0, None),
    Follows("underbust-front", "Under the bust, front", "chest-front", 0.0, Some(("waist-front", 0.45))),
    Follows("underbust-back", "Under the shoulder blades", "chest-back", 0.0, Some(("waist-back", 0.45))),
    Follows("waist-left", "Waist, left side", "waist-front", 90.0, None),
    Follows("waist-right", "Waist, right side", "waist-front", -90.0, None),
    Follows("belly-front", "Belly", "waist-front", 0.0, Some(("hips-front", 0.5))),
    Follows("belly-back", "Small of the back", "waist-back", 0.0, Some(("hips-back", 0.3))),
    Follows("hips-left", "Hips, left side", "hips-front", 90.0, None),
    Follows("hips-right", "Hips, right side", "hips-front", -90.0, None),
    Follows("seat", "Seat", "waist-back", 0.0, Some(("hips-back", 1.1))),
    Follows("neck-front", "Neck, from the throat", "neck-back", 180.0, None),
    Follows("head-front", "Head, forehead", "head-left", -90.0, None),
    Follows("head-back", "Head, back", "head-left", 90.0, None),
];

/// Those of the limbs; keys and names get their side.
const LIMBS: [Follows; 12] = [
    Follows("upper-arm-front", "Upper arm, front", "upper-arm", -90.0, None),
    Follows("upper-arm-back", "Upper arm, back", "upper-arm", 90.0, None),
    Follows("forearm", "Forearm", "upper-arm", 0.0, Some(("wrist", 0.72))),
    Follows("forearm-inner", "Forearm, inner side", "upper-arm", 180.0, Some(("wrist", 0.72))),
    Follows("hand", "Hand", "upper-arm", 0.0, Some(("wrist", 1.2))),
    Follows("thigh-back", "Thigh, back", "thigh", 180.0, None),
    Follows("thigh-outer", "Thigh, outer side", "thigh", 90.0, None),
    Follows("thigh-inner", "Thigh, inner side", "thigh", -90.0, None),
    Follows("knee-back", "Hollow of the knee", "knee", 180.0, None),
    Follows("calf", "Shin", "thigh", 0.0, Some(("knee", 1.6))),
    Follows("calf-back", "Calf", "thigh", 180.0, Some(("knee", 1.6))),
    Follows("ankle", "Ankle", "thigh", 0.0, Some(("knee", 2.25))),
];

/// Keys and names of all that follow, the trunk first.
pub(crate) fn names() -> Vec<(&'static str, &'static str)> {
    let sided =
        |f: &Follows| [("left", f), ("right", f)].map(|(side, f)| (kept(format!("{}-{side}", f.0)), kept(format!("{}, {side}", f.1))));
    TRUNK.iter().map(|f| (f.0, f.1)).chain(LIMBS.iter().flat_map(sided)).collect()
}

/// The few texts of this list live as long as the program.
fn kept(text: String) -> &'static str {
    Box::leak(text.into_boxed_str())
}

/// The stations that follow from these; those whose beginnings are missing are missing too. `names` are those of the list.
pub(crate) fn following(base: &[Station], names: &[(&'static str, &'static str)]) -> Vec<Station> {
    let find = |key: &str| base.iter().find(|s| s.key == key);
    let made = |f: &Follows, side: Option<&str>| {
        let of = |stem: &str| side.map_or_else(|| stem.to_owned(), |side| format!("{stem}-{side}"));
        let from = find(&of(f.2))?;
        let mut station = match f.4 {
            Some((to, share)) => between(from, find(&of(to))?, share),
            None => from.clone(),
        };
        let sign = if side == Some("right") { -1.0 } else { 1.0 };
        turn(&mut station, sign * f.3);
        let key = of(f.0);
        (station.key, station.name) = *names.iter().find(|(k, _)| *k == key)?;
        Some(station)
    };
    let trunk = TRUNK.iter().filter_map(|f| made(f, None));
    let limbs = LIMBS.iter().flat_map(|f| ["left", "right"].map(|side| made(f, Some(side)))).flatten();
    trunk.chain(limbs).collect()
}

/// On the way from one station to another; beyond it for shares over 1.
fn between(a: &Station, b: &Station, share: f64) -> Station {
    // beyond the second the limb is about as thick as there
    let mix = |p: f64, q: f64| if share > 1.0 { BEYOND * q } else { p + (q - p) * share };
    let up = b.up;
    let out = (a.out - up * a.out.dot(up)).normalize_or(b.out);
    Station {
        centre: a.centre + (b.centre - a.centre) * share,
        right: up.cross(out),
        up,
        out,
        radii: (mix(a.radii.0, b.radii.0), mix(a.radii.1, b.radii.1)),
        limb: None,
        ..b.clone()
    }
}

/// Seen from another side, degrees counter-clockwise about its own upward way.
fn turn(station: &mut Station, degrees: f64) {
    let by = DQuat::from_axis_angle(station.up, degrees.to_radians());
    let turned = |v: DVec3| by * v;
    (station.right, station.out) = (turned(station.right), turned(station.out));
    if (degrees.abs() - 90.0).abs() < 1e-9 {
        station.radii = (station.radii.1, station.radii.0);
        // the sides of the trunk are no wider than half of it
        if station.reach == Reach::Side {
            station.radii.0 = station.radii.0.max(0.5 * station.radii.1);
        }
    }
}
