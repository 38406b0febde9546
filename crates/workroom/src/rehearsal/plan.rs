//! How a motion is rehearsed: frames, steps, floor and wind.

use super::keys::around;
use super::prop::{self, Prop};
use costume::Refusal;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Most keys of a wind.
const MOST_KEYS: usize = 200;
/// Strongest wind, m/s: a hurricane.
const STRONGEST: f64 = 40.0;
/// Most times as many steps, and most millimetres of clearance more or less.
const MOST_STEPS: u32 = 8;
const MOST_CLEARANCE: f64 = 20.0;

/// The wind at a time; between keys it changes evenly.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct WindKey {
    /// s from the first frame of the motion.
    pub time: f64,
    /// m/s.
    pub speed: f64,
    /// Degrees to the left of the front from which it comes.
    pub from: f64,
}

/// How a motion is rehearsed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(default, deny_unknown_fields)]
pub struct Plan {
    /// Frames a second.
    pub fps: f64,
    /// Frames from the pose of the drape to the first of the motion; they are not delivered.
    pub lead_in: usize,
    /// Frames after the last of the motion in which the body stands.
    pub settle: usize,
    /// Friction of the floor.
    pub floor: f64,
    /// So many times the steps that the speed of the skin asks for.
    pub substeps: u32,
    /// Added to the clearance from the skin, mm.
    pub clearance: f64,
    /// The wind along the motion; none is calm.
    pub wind: Vec<WindKey>,
    /// How unsteady it is, 0 to 1, and by which numbers.
    pub gusts: f64,
    #[ts(type = "number")]
    pub seed: u32,
    /// What is beside the body, besides what belongs to the motion.
    pub props: Vec<Prop>,
}

impl Default for Plan {
    fn default() -> Self {
        Self {
            fps: 24.0,
            lead_in: 50,
            settle: 30,
            floor: 0.5,
            substeps: 1,
            clearance: 0.0,
            wind: Vec::new(),
            gusts: 0.0,
            seed: 1,
            props: Vec::new(),
        }
    }
}

impl Plan {
    /// Refused when out of bounds.
    pub fn check(&self) -> Result<(), Refusal> {
        let no = |reason: &str, remedy: &str| Err(Refusal::elsewhere("rehearsal", reason, remedy));
        if !(1.0..=120.0).contains(&self.fps) {
            return no("has no such frame rate", "choose 1 to 120 frames a second");
        }
        if self.lead_in > 2000 || self.settle > 2000 {
            return no("takes too long to begin or to end", "choose at most 2000 frames for each");
        }
        if !(0.0..=3.0).contains(&self.floor) {
            return no("has no such floor", "choose a friction from 0 to 3");
        }
        if !(1..=MOST_STEPS).contains(&self.substeps) {
            return no("has no such steps", "choose 1 to 8 times as many");
        }
        if self.clearance.abs().partial_cmp(&MOST_CLEARANCE).is_none_or(|o| o.is_gt()) {
            return no("has no such clearance", "choose up to 20 mm more or less");
        }
        if self.wind.len() > MOST_KEYS || !(0.0..=1.0).contains(&self.gusts) {
            return no("has no such wind", "give it at most 200 keys, and gusts from 0 to 1");
        }
        let sane = |k: &WindKey| k.time.abs() <= 1e4 && (0.0..=STRONGEST).contains(&k.speed) && k.from.abs() <= 36_000.0;
        if !self.wind.iter().all(sane)
            || self.wind.windows(2).any(|w| w[1].time.partial_cmp(&w[0].time) != Some(std::cmp::Ordering::Greater))
        {
            return no("has no such wind", "let its times grow and keep it within 40 m/s");
        }
        prop::check(&self.props)
    }

    /// The wind at a time of the motion (s): where it goes and how fast, m/s, y up, the body facing +z.
    pub fn wind_at(&self, time: f64) -> [f64; 3] {
        if self.wind.is_empty() {
            return [0.0; 3];
        }
        let (a, b, share) = around(&self.wind, |k| k.time, time);
        wind_from(a.speed + (b.speed - a.speed) * share, a.from + (b.from - a.from) * share)
    }
}

/// A wind of a speed (m/s) from a side, degrees to the left of the front: where it goes and how fast, m/s, y up, the body facing +z.
pub fn wind_from(speed: f64, from: f64) -> [f64; 3] {
    let (sin, cos) = from.to_radians().sin_cos();
    [-speed * sin, 0.0, -speed * cos]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn wind_changes_evenly_between_its_keys_and_comes_from_where_it_is_said_to() {
        let key = |time, speed, from| WindKey { time, speed, from };
        let plan = Plan { wind: vec![key(1.0, 0.0, 90.0), key(3.0, 4.0, 90.0)], ..Plan::default() };
        assert!(plan.check().is_ok());
        assert_eq!(plan.wind_at(0.0).map(f64::abs), [0.0; 3]);
        let [x, y, z] = plan.wind_at(2.0);
        assert!((x + 2.0).abs() < 1e-12 && y == 0.0 && z.abs() < 1e-12, "from the left it goes to the right");
        assert!((plan.wind_at(99.0)[0] + 4.0).abs() < 1e-12);
        assert_eq!(Plan::default().wind_at(1.0), [0.0; 3]);
        for wind in [vec![key(1.0, 0.0, 0.0), key(1.0, 1.0, 0.0)], vec![key(0.0, f64::NAN, 0.0)], vec![key(0.0, 99.0, 0.0)]] {
            assert!(Plan { wind, ..Plan::default() }.check().is_err());
        }
        assert!(Plan { clearance: f64::NAN, ..Plan::default() }.check().is_err());
        assert!(Plan { substeps: 0, ..Plan::default() }.check().is_err());
    }
}
