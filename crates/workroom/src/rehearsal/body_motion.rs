//! A motion of the body: poses with times and the way over the floor, joined smoothly.

use super::prop::{self, Prop};
use body::{Body, Pose, Skeleton};
use costume::Refusal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most keys and longest motion, s.
const MOST: usize = 2000;
const LONGEST: f64 = 600.0;
/// Farthest from the start, m, and most degrees of turning.
const FARTHEST: f64 = 100.0;
const ROUNDS: f64 = 36_000.0;

/// The motion of a skin that moves by itself, as it is told.
const OF_SKIN: &str = "As it came";

/// Where the body is at a time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct MotionKey {
    /// s from the beginning.
    pub time: f64,
    /// Angles by bone.
    pub pose: Pose,
    #[serde(default)]
    /// Way to the body's left at the start and forwards, m.
    pub way: [f64; 2],
    #[serde(default)]
    /// Degrees by which it is turned, seen from above counter-clockwise.
    pub heading: f64,
    /// How far the first bone is above where it rests, m; without it the lowest point of the body stands on the floor.
    #[serde(skip)]
    pub height: Option<f64>,
}

/// Poses in a row as they stand in a file: `{"name": "...", "keys": [{"time": 0, "pose": {"bones": {"forearm-left": [90, 0, 0]}},
/// "way": [0, 0.5], "heading": 90}]}`; times in s, angles in degrees, ways in m.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct MotionFile {
    /// As it is told.
    pub name: String,
    /// In the order of their times.
    pub keys: Vec<MotionKey>,
    /// What is beside the body.
    #[serde(default)]
    pub props: Vec<Prop>,
}

impl TryFrom<MotionFile> for BodyMotion {
    type Error = Refusal;

    fn try_from(file: MotionFile) -> Result<Self, Refusal> {
        Self::new(file.name, file.keys)?.with(file.props)
    }
}

/// A motion; between its keys every angle follows a cubic curve through them (Catmull and Rom 1974, with times).
#[derive(Clone, Debug, PartialEq)]
pub struct BodyMotion {
    /// As it is told.
    pub name: String,
    keys: Vec<MotionKey>,
    /// What is beside the body.
    pub(super) props: Vec<Prop>,
    /// It came with a figure: its joints turn as they were authored, beyond the limits of poses too.
    pub(super) authored: bool,
    /// It came with a figure whose skin moves by itself.
    pub(super) of_skin: bool,
}

impl BodyMotion {
    /// Refused when times do not grow, or anything is out of bounds.
    pub fn new(name: impl Into<String>, keys: Vec<MotionKey>) -> Result<Self, Refusal> {
        let name = name.into();
        let no = |reason: String, remedy: &str| Err(Refusal::elsewhere(&name, reason, remedy));
        if !costume::is_name(&name) {
            return Err(Refusal::elsewhere("motion", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)));
        }
        if keys.is_empty() || keys.len() > MOST {
            return no(format!("has {} poses", keys.len()), "give it 1 to 2000");
        }
        if keys[0].time != 0.0 || keys.windows(2).any(|w| w[1].time.partial_cmp(&(w[0].time + 1e-3)) != Some(std::cmp::Ordering::Greater)) {
            return no("has times that do not grow".into(), "begin at 0 and let every pose come later than the one before");
        }
        let sane = |k: &MotionKey| {
            k.time <= LONGEST
                && k.way.iter().all(|v| v.abs() <= FARTHEST)
                && k.heading.abs() <= ROUNDS
                && k.pose.bones.values().flatten().all(|v| v.abs() <= 360.0)
        };
        if !keys.iter().all(sane) {
            return no("goes out of bounds".into(), "keep it within 600 s, 100 m and 100 turns");
        }
        Ok(Self { name, keys, props: Vec::new(), authored: false, of_skin: false })
    }

    /// The motion that a figure's skin came with. Refused for a figure whose skin does not move by itself, or too long.
    pub fn of_skin(figure: &Body) -> Result<Self, Refusal> {
        let none = || Refusal::elsewhere("motion", "did not come with this figure", "choose another one");
        let seconds = figure.moves.as_ref().and_then(|m| m.seconds.last().copied()).ok_or_else(none)?;
        let key = |time| MotionKey { time, pose: Pose::default(), way: [0.0; 2], heading: 0.0, height: None };
        Ok(Self { authored: true, of_skin: true, ..Self::new(OF_SKIN, vec![key(0.0), key(seconds)])? })
    }

    /// The same motion with things beside the body.
    pub fn with(mut self, props: Vec<Prop>) -> Result<Self, Refusal> {
        prop::check(&props)?;
        self.props = props;
        Ok(self)
    }

    /// Whether a figure can take all of its poses.
    pub fn check(&self, skeleton: &Skeleton) -> Result<(), Refusal> {
        if self.authored {
            return Ok(());
        }
        self.keys.iter().try_for_each(|k| k.pose.check(skeleton).map_err(crate::pose_refusal))
    }

    /// s.
    pub fn seconds(&self) -> f64 {
        self.keys.last().map_or(0.0, |k| k.time)
    }

    /// Where the body is at a time; before the beginning and after the end it stands.
    pub fn at(&self, time: f64) -> MotionKey {
        let last = self.keys.len() - 1;
        let after = self.keys.partition_point(|k| k.time <= time);
        if after == 0 || after > last {
            return MotionKey { time, ..self.keys[after.min(last + 1).saturating_sub(1)].clone() };
        }
        let (k, t) = (after - 1, time);
        let bones: BTreeSet<&String> =
            self.keys[k.saturating_sub(1)..(k + 3).min(last + 1)].iter().flat_map(|k| k.pose.bones.keys()).collect();
        let curve = |value: &dyn Fn(&MotionKey) -> f64| self.curve(k, t, value);
        let angle = |bone: &String, n: usize| curve(&|key| key.pose.bones.get(bone).map_or(0.0, |a| a[n]));
        MotionKey {
            time,
            pose: Pose { bones: bones.into_iter().map(|b| (b.clone(), [0, 1, 2].map(|n| angle(b, n)))).collect() },
            way: [0, 1].map(|n| curve(&|key| key.way[n])),
            heading: curve(&|key| key.heading),
            height: self.keys[k].height.map(|_| curve(&|key| key.height.unwrap_or(0.0))),
        }
    }

    /// A value between keys k and k + 1: the cubic through both with the slopes of their neighbours; level at both ends.
    fn curve(&self, k: usize, time: f64, value: &dyn Fn(&MotionKey) -> f64) -> f64 {
        let keys = &self.keys;
        let slope = |k: usize| {
            if k == 0 || k + 1 == keys.len() {
                return 0.0;
            }
            (value(&keys[k + 1]) - value(&keys[k - 1])) / (keys[k + 1].time - keys[k - 1].time)
        };
        let (a, b) = (&keys[k], &keys[k + 1]);
        let (span, t) = (b.time - a.time, (time - a.time) / (b.time - a.time));
        let (t2, t3) = (t * t, t * t * t);
        (2.0 * t3 - 3.0 * t2 + 1.0) * value(a)
            + (t3 - 2.0 * t2 + t) * span * slope(k)
            + (3.0 * t2 - 2.0 * t3) * value(b)
            + (t3 - t2) * span * slope(k + 1)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn key(time: f64, bend: f64, forward: f64) -> MotionKey {
        let pose = Pose { bones: [("forearm-left".to_owned(), [bend, 0.0, 0.0])].into() };
        MotionKey { time, pose, way: [0.0, forward], heading: 0.0, height: None }
    }

    #[test]
    fn it_passes_through_its_keys_without_a_jump_in_speed() {
        let motion = BodyMotion::new("Test", vec![key(0.0, 0.0, 0.0), key(0.4, 30.0, 0.5), key(1.0, 10.0, 1.4), key(1.5, 60.0, 2.0)])
            .expect("sound");
        let bend = |t: f64| motion.at(t).pose.bones["forearm-left"][0];
        for (t, want) in [(0.0, 0.0), (0.4, 30.0), (1.0, 10.0), (1.5, 60.0), (9.0, 60.0)] {
            assert!((bend(t) - want).abs() < 1e-9, "{t}: {}", bend(t));
        }
        let speed = |t: f64| (bend(t + 1e-5) - bend(t - 1e-5)) / 2e-5;
        for t in [0.4, 1.0] {
            assert!((speed(t - 1e-4) - speed(t + 1e-4)).abs() < 0.5, "{} {}", speed(t - 1e-4), speed(t + 1e-4));
        }
        assert!(speed(1e-4).abs() < 1.0, "it starts from rest");
    }

    #[test]
    fn what_makes_no_motion_is_refused() {
        assert!(BodyMotion::new("x", vec![]).is_err());
        assert!(BodyMotion::new("x", vec![key(0.0, 0.0, 0.0), key(0.0, 1.0, 0.0)]).is_err());
        assert!(BodyMotion::new("x", vec![key(0.0, 0.0, 0.0), key(f64::NAN, 1.0, 0.0)]).is_err());
        assert!(BodyMotion::new("x", vec![key(0.0, f64::NAN, 0.0)]).is_err());
        assert!(BodyMotion::new("x", vec![key(0.0, 0.0, 1e9)]).is_err());
    }
}
