//! What is found in a frame, why it fails, and what is tried against it.

use super::plan::Plan;
use cloth::MovingMesh;
use glam::Vec3;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Skin that is faster than this where cloth crosses it, m/s, is a fast limb.
const FAST: f32 = 2.5;
/// Skin faces skin across less than this, m: cloth between is squeezed.
const NARROW: f32 = 0.014;
/// Longest edge of cloth, m, that lies around a limb rather than across it.
const COARSE: f32 = 0.022;
/// Clearance that is added against cloth that lies too close, and taken away where it is squeezed, mm.
const MORE: f64 = 2.0;
const LESS: f64 = 1.0;
/// Faster cloth has run away, m/s.
const RUNAWAY: f32 = 20.0;

/// Why a frame fails.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Cause {
    /// The skin goes through before the cloth gets out of the way.
    FastLimb,
    /// Skin lies on skin, and cloth between has no room.
    Squeezed,
    /// Triangles are too large for what they lie around.
    TooCoarse,
    /// Cloth lies too close to the skin.
    Clearance,
    /// Cloth crosses cloth.
    Layers,
    /// Something pulls the cloth apart.
    RunsAway,
}

impl Cause {
    /// All of them.
    pub const ALL: [Self; 6] = [Self::FastLimb, Self::Squeezed, Self::TooCoarse, Self::Clearance, Self::Layers, Self::RunsAway];

    /// In a few words, for the frame's mark.
    pub fn in_words(self) -> &'static str {
        match self {
            Self::FastLimb => "a fast limb goes through before the cloth gets out of its way",
            Self::Squeezed => "the cloth is squeezed where skin lies on skin",
            Self::TooCoarse => "its triangles are too large for what they lie around",
            Self::Clearance => "the cloth lies too close to the skin",
            Self::Layers => "cloth goes through cloth",
            Self::RunsAway => "the cloth runs away",
        }
    }

    /// The plan with what is tried against it, and that in words; the same plan when nothing is left to try.
    pub fn mended(self, plan: &Plan) -> (Plan, &'static str) {
        let faster = |plan: &Plan| Plan { substeps: (2 * plan.substeps).min(8), ..plan.clone() };
        match self {
            Self::FastLimb | Self::Layers | Self::RunsAway => (faster(plan), "twice as many steps"),
            Self::Squeezed => {
                let plan = faster(plan);
                (Plan { clearance: (plan.clearance - LESS).max(-2.0), ..plan }, "twice as many steps and 1 mm less clearance")
            }
            Self::TooCoarse | Self::Clearance => {
                (Plan { clearance: (plan.clearance + MORE).min(20.0), ..plan.clone() }, "2 mm more clearance")
            }
        }
    }
}

/// What was found in one frame.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct FrameReport {
    /// 0 is the first of the motion; the lead-in has negative numbers.
    #[ts(type = "number")]
    pub frame: i64,
    /// Steps of the simulation in it.
    pub steps: usize,
    /// Places where cloth crosses the skin.
    pub through_body: usize,
    /// Places where cloth crosses cloth.
    pub through_cloth: usize,
    /// Places where cloth lies in a fold in which the skin itself goes through skin, as in an armpit; no fault of the cloth, and not
    /// seen.
    #[serde(default)]
    pub in_skin_folds: usize,
    /// The piece of the first crossing.
    pub crossing_piece: Option<String>,
    /// Where it is, m.
    pub crossing_at: Option<[f32; 3]>,
    /// Why the frame fails; none when it is good.
    pub cause: Option<Cause>,
    /// Seam pairs that are not closed.
    pub open_pairs: usize,
    /// Largest strain, and the strain that 99 of 100 triangles stay below.
    pub strain_max: f64,
    pub strain_p99: f64,
    /// Fastest vertex at the end of the frame, m/s.
    pub fastest: f32,
    /// How fast the cloth that lies on the skin slips along it, m/s: the root mean square.
    pub slip: f32,
}

impl FrameReport {
    /// Places where cloth crosses skin or cloth.
    pub fn crossings(&self) -> usize {
        self.through_body + self.through_cloth
    }

    /// Nothing crosses and nothing runs away.
    pub fn is_good(&self) -> bool {
        self.crossings() == 0 && self.fastest < RUNAWAY
    }
}

/// Why cloth crosses skin at a point (m); `edge` is the longest edge of the cloth there, m.
pub(super) fn cause(skin: &MovingMesh, at: Vec3, edge: f32) -> Cause {
    let Some((normal, speed)) = skin.nearest(at) else { return Cause::TooCoarse };
    if speed > FAST {
        return Cause::FastLimb;
    }
    let across = skin.nearest(at + normal * NARROW);
    if across.is_some_and(|(other, _)| other.dot(normal) < -0.3) {
        return Cause::Squeezed;
    }
    if edge > COARSE { Cause::TooCoarse } else { Cause::Clearance }
}

/// Why a frame without crossings fails, if it does.
pub(super) fn runs_away(fastest: f32) -> Option<Cause> {
    (fastest >= RUNAWAY).then_some(Cause::RunsAway)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Two plates that face each other across so many metres, the lower one moving up at so many m/s.
    fn plates(apart: f32, speed: f32) -> MovingMesh {
        let plate = |y: f32| [[-0.2, y, -0.2], [-0.2, y, 0.2], [0.2, y, 0.2], [0.2, y, -0.2]];
        let at = |down: f32| [plate(-down), plate(apart)].concat();
        // the lower one looks up, the upper one down
        let triangles = [[0, 1, 2], [0, 2, 3], [4, 6, 5], [4, 7, 6]];
        MovingMesh::new(&at(0.01 * speed), &triangles, &[], &[], 0.03).moved(&at(0.0), 0.01)
    }

    #[test]
    fn causes_are_told_apart() {
        let low = Vec3::new(0.0, -0.001, 0.0);
        assert_eq!(cause(&plates(0.5, 4.0), low, 0.01), Cause::FastLimb);
        assert_eq!(cause(&plates(0.016, 0.1), low, 0.01), Cause::Squeezed);
        assert_eq!(cause(&plates(0.5, 0.1), low, 0.03), Cause::TooCoarse);
        assert_eq!(cause(&plates(0.5, 0.1), low, 0.01), Cause::Clearance);
    }

    #[test]
    fn every_mend_changes_the_plan_and_stays_within_its_bounds() {
        for cause in Cause::ALL {
            let mut plan = Plan::default();
            assert_ne!(cause.mended(&plan).0, plan, "{cause:?}");
            for _ in 0..20 {
                plan = cause.mended(&plan).0;
                assert!(plan.check().is_ok(), "{cause:?}");
            }
        }
    }
}
