//! The motions that ship, made from poses: for the own skeleton, on any body.

use super::body_motion::{BodyMotion, MotionKey};
use super::prop::seat;
use body::{Body, Pose, other_side};
use std::collections::BTreeMap;

/// Keys and names.
const MOTIONS: [(&str, &str); 10] = [
    ("walk", "Walk"),
    ("run-and-stop", "Run and stop"),
    ("turn", "Turn"),
    ("sit", "Sit down"),
    ("hands-in-lap", "Sit with the hands in the lap"),
    ("kneel", "Kneel"),
    ("bow", "Bow"),
    ("reach", "Reach"),
    ("cross-arms", "Cross the arms"),
    ("slow-dance", "Slow dance"),
];

/// Keys of the motions that ship, and their names.
pub fn motion_names() -> &'static [(&'static str, &'static str)] {
    &MOTIONS
}

/// A motion that ships; none under another key.
pub fn motion(key: &str) -> Option<BodyMotion> {
    let name = MOTIONS.iter().find(|m| m.0 == key)?.1;
    let keys = match key {
        "walk" => gait(&WALK, 8),
        "run-and-stop" => run_and_stop(),
        "turn" => turn(),
        "sit" => there(&[(0.0, "arms-down"), (0.5, "arms-down"), (1.8, "seated"), (2.8, "seated")]),
        "hands-in-lap" => hands_in_lap(),
        "cross-arms" => cross_arms(),
        "kneel" => there(&[(0.0, "arms-down"), (0.4, "arms-down"), (2.2, "kneeling"), (2.8, "kneeling")]),
        "bow" => there(&[(0.0, "arms-down"), (0.4, "arms-down"), (1.9, "deep-bow"), (2.6, "deep-bow"), (4.2, "arms-down")]),
        "reach" => reach(),
        _ => slow_dance(),
    };
    BodyMotion::new(name, keys).ok()
}

/// The same for a figure, with what belongs to it: a seat for one who sits down.
pub fn motion_on(key: &str, figure: &Body) -> Option<BodyMotion> {
    let plain = motion(key)?;
    if !["sit", "hands-in-lap"].contains(&key) {
        return Some(plain);
    }
    // it slides in when the body is down
    let seat = seat(figure, &named("seated"), (1.9, 2.5));
    plain.with(seat.into_iter().collect()).ok()
}

fn named(key: &str) -> Pose {
    body::poses().into_iter().find(|p| p.key == key).map(|p| p.pose).unwrap_or_default()
}

fn standing(time: f64, pose: Pose) -> MotionKey {
    MotionKey { time, pose, way: [0.0; 2], heading: 0.0, height: None }
}

/// Poses that ship, one after the other on one spot.
fn there(row: &[(f64, &str)]) -> Vec<MotionKey> {
    row.iter().map(|(time, key)| standing(*time, named(key))).collect()
}

fn posed(angles: &[(&str, [f64; 3])]) -> Pose {
    Pose { bones: angles.iter().map(|(bone, a)| ((*bone).to_owned(), *a)).collect() }
}

/// Sides changed over. Angles are told alike on both sides; what turns in the middle turns the other way.
fn mirrored(pose: &Pose) -> Pose {
    let other = |(bone, a): (&String, &[f64; 3])| {
        let name = other_side(bone);
        let turned = if name == *bone { [a[0], -a[1], -a[2]] } else { *a };
        (name, turned)
    };
    Pose { bones: pose.bones.iter().map(other).collect::<BTreeMap<_, _>>() }
}

/// One step: the left heel comes down, and half a step later it carries while the right leg swings past.
struct Gait {
    contact: &'static [(&'static str, [f64; 3])],
    passing: &'static [(&'static str, [f64; 3])],
    /// Of one step, s.
    seconds: f64,
    /// m.
    length: f64,
}

const WALK: Gait = Gait {
    contact: &[
        ("thigh-left", [24.0, 0.0, 0.0]),
        ("shin-left", [5.0, 0.0, 0.0]),
        ("foot-left", [8.0, 0.0, 0.0]),
        ("thigh-right", [-14.0, 0.0, 0.0]),
        ("shin-right", [18.0, 0.0, 0.0]),
        ("toes-right", [22.0, 0.0, 0.0]),
        ("upper-arm-left", [-16.0, -26.0, 0.0]),
        ("upper-arm-right", [18.0, -26.0, 0.0]),
        ("forearm-left", [10.0, 0.0, 0.0]),
        ("forearm-right", [20.0, 0.0, 0.0]),
        ("spine-2", [0.0, 0.0, 3.0]),
        ("spine-3", [0.0, 0.0, 3.0]),
    ],
    passing: &[
        ("thigh-left", [5.0, 0.0, 0.0]),
        ("shin-left", [8.0, 0.0, 0.0]),
        ("thigh-right", [16.0, 0.0, 0.0]),
        ("shin-right", [50.0, 0.0, 0.0]),
        ("upper-arm-left", [0.0, -26.0, 0.0]),
        ("upper-arm-right", [2.0, -26.0, 0.0]),
        ("forearm-left", [14.0, 0.0, 0.0]),
        ("forearm-right", [14.0, 0.0, 0.0]),
    ],
    seconds: 0.52,
    length: 0.66,
};

const RUN: Gait = Gait {
    contact: &[
        ("thigh-left", [38.0, 0.0, 0.0]),
        ("shin-left", [22.0, 0.0, 0.0]),
        ("thigh-right", [-16.0, 0.0, 0.0]),
        ("shin-right", [58.0, 0.0, 0.0]),
        ("upper-arm-left", [-34.0, -22.0, 0.0]),
        ("upper-arm-right", [30.0, -22.0, 0.0]),
        ("forearm-left", [76.0, 0.0, 0.0]),
        ("forearm-right", [80.0, 0.0, 0.0]),
        ("spine-1", [6.0, 0.0, 0.0]),
        ("spine-2", [0.0, 0.0, 6.0]),
    ],
    passing: &[
        ("thigh-left", [8.0, 0.0, 0.0]),
        ("shin-left", [26.0, 0.0, 0.0]),
        ("thigh-right", [26.0, 0.0, 0.0]),
        ("shin-right", [88.0, 0.0, 0.0]),
        ("upper-arm-left", [0.0, -22.0, 0.0]),
        ("upper-arm-right", [0.0, -22.0, 0.0]),
        ("forearm-left", [76.0, 0.0, 0.0]),
        ("forearm-right", [76.0, 0.0, 0.0]),
        ("spine-1", [6.0, 0.0, 0.0]),
    ],
    seconds: 0.36,
    length: 0.95,
};

/// So many steps from standing, left foot first.
fn gait(gait: &Gait, steps: usize) -> Vec<MotionKey> {
    let (contact, passing) = (posed(gait.contact), posed(gait.passing));
    let mut keys = vec![standing(0.0, named("arms-down"))];
    for step in 0..steps {
        let (start, done) = (gait.seconds * (step as f64 + 0.8), gait.length * (step as f64 + 0.5));
        let side = |pose: &Pose| if step % 2 == 0 { pose.clone() } else { mirrored(pose) };
        keys.push(MotionKey { way: [0.0, done], ..standing(start, side(&contact)) });
        keys.push(MotionKey { way: [0.0, done + 0.5 * gait.length], ..standing(start + 0.5 * gait.seconds, side(&passing)) });
    }
    keys
}

fn run_and_stop() -> Vec<MotionKey> {
    let mut keys = gait(&RUN, 7);
    let (time, way) = keys.last().map_or((0.0, 0.0), |k| (k.time, k.way[1]));
    let braced = posed(&[
        ("thigh-left", [20.0, 0.0, 0.0]),
        ("shin-left", [18.0, 0.0, 0.0]),
        ("thigh-right", [4.0, 0.0, 0.0]),
        ("shin-right", [16.0, 0.0, 0.0]),
        ("upper-arm-left", [4.0, -24.0, 0.0]),
        ("upper-arm-right", [4.0, -24.0, 0.0]),
        ("forearm-left", [30.0, 0.0, 0.0]),
        ("forearm-right", [30.0, 0.0, 0.0]),
    ]);
    keys.push(MotionKey { way: [0.0, way + 0.55], ..standing(time + 0.3, braced) });
    keys.push(MotionKey { way: [0.0, way + 0.62], ..standing(time + 0.8, named("arms-down")) });
    keys
}

/// Once around on the spot.
fn turn() -> Vec<MotionKey> {
    let lifted = posed(&[
        ("thigh-left", [14.0, 0.0, 0.0]),
        ("shin-left", [24.0, 0.0, 0.0]),
        ("upper-arm-left", [6.0, -22.0, 0.0]),
        ("upper-arm-right", [-6.0, -22.0, 0.0]),
        ("forearm-left", [16.0, 0.0, 0.0]),
        ("forearm-right", [12.0, 0.0, 0.0]),
    ]);
    let mut keys = vec![standing(0.0, named("arms-down")), standing(0.3, named("arms-down"))];
    for quarter in 1..=8 {
        let pose = match quarter % 4 {
            1 => lifted.clone(),
            3 => mirrored(&lifted),
            _ => named("arms-down"),
        };
        keys.push(MotionKey { heading: 45.0 * f64::from(quarter), ..standing(0.3 + 0.3 * f64::from(quarter), pose) });
    }
    keys
}

fn hands_in_lap() -> Vec<MotionKey> {
    let mut lap = named("seated");
    for side in ["left", "right"] {
        lap.bones.insert(format!("upper-arm-{side}"), [22.0, -24.0, 30.0]);
        lap.bones.insert(format!("forearm-{side}"), [62.0, 0.0, 25.0]);
    }
    let mut keys = there(&[(0.0, "arms-down"), (0.5, "arms-down"), (1.8, "seated")]);
    keys.extend([standing(2.6, lap.clone()), standing(3.2, lap)]);
    keys
}

/// Over the chest, the left one before the right, and down again.
fn cross_arms() -> Vec<MotionKey> {
    let crossed = posed(&[
        ("collar-left", [0.0, -2.0, 6.0]),
        ("collar-right", [0.0, -2.0, 6.0]),
        ("upper-arm-left", [34.0, -22.0, 62.0]),
        ("upper-arm-right", [24.0, -20.0, 62.0]),
        ("forearm-left", [100.0, 0.0, 20.0]),
        ("forearm-right", [104.0, 0.0, 20.0]),
    ]);
    vec![
        standing(0.0, named("arms-down")),
        standing(0.3, named("arms-down")),
        standing(1.8, crossed.clone()),
        standing(2.4, crossed),
        standing(3.8, named("arms-down")),
    ]
}

fn reach() -> Vec<MotionKey> {
    let one: Pose = {
        let mut pose = named("arms-down");
        for (bone, angles) in named("arms-raised").bones.into_iter().filter(|(b, _)| b.ends_with("-right")) {
            pose.bones.insert(bone, angles);
        }
        pose
    };
    vec![
        standing(0.0, named("arms-down")),
        standing(0.3, named("arms-down")),
        standing(1.6, one.clone()),
        standing(2.0, one),
        standing(3.2, named("arms-raised")),
        standing(3.7, named("arms-raised")),
        standing(5.2, named("arms-down")),
    ]
}

/// Sideways steps with a sway, a slow turn, arms rising and falling.
fn slow_dance() -> Vec<MotionKey> {
    let sway = posed(&[
        ("thigh-left", [10.0, 6.0, 0.0]),
        ("shin-left", [10.0, 0.0, 0.0]),
        ("thigh-right", [2.0, 4.0, 0.0]),
        ("spine-1", [0.0, 5.0, 0.0]),
        ("spine-3", [0.0, 4.0, 8.0]),
        ("upper-arm-left", [24.0, 14.0, 0.0]),
        ("upper-arm-right", [10.0, -14.0, 0.0]),
        ("forearm-left", [34.0, 0.0, 0.0]),
        ("forearm-right", [28.0, 0.0, 0.0]),
    ]);
    let mut keys = vec![standing(0.0, named("arms-down"))];
    for beat in 1..=8 {
        let pose = match beat % 4 {
            1 => sway.clone(),
            3 => mirrored(&sway),
            _ => named("arms-down"),
        };
        let side = if beat % 4 == 1 {
            0.25
        } else if beat % 4 == 3 {
            -0.25
        } else {
            0.0
        };
        let heading = 22.5 * f64::from(beat);
        keys.push(MotionKey { way: [side, 0.05 * f64::from(beat)], heading, ..standing(1.1 * f64::from(beat), pose) });
    }
    keys
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_motion_is_within_the_joints_of_the_mannequin() {
        let figure = crate::rough_figure(&costume::BodyChoice::size("woman-38")).expect("a size");
        for (key, _) in motion_names() {
            let motion = motion(key).unwrap_or_else(|| panic!("{key}"));
            motion.check(&figure.rig.skeleton).unwrap_or_else(|e| panic!("{key}: {e}"));
            assert!(motion.seconds() > 1.5, "{key}");
        }
    }

    #[test]
    fn a_walk_goes_forward_at_walking_speed_and_feet_change() {
        let walk = motion("walk").expect("it ships");
        let (a, b) = (walk.at(1.5), walk.at(2.5));
        let speed = b.way[1] - a.way[1];
        assert!((1.0..1.6).contains(&speed), "{speed} m/s");
        let thigh = |t: f64, side: &str| walk.at(t).pose.bones[&format!("thigh-{side}")][0];
        let contact = 0.52 * 2.8;
        assert!(thigh(contact, "left") > 20.0 && thigh(contact + 0.52, "right") > 20.0);
    }
}
