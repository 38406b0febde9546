//! Poses: joint angles by bone, the ones that ship, limits, mirroring and blending.

use crate::posing::skeleton::{Skeleton, other_side};
use glam::DQuat;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Bend, side and turn in degrees by bone; a bone that is not named keeps its neutral position.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Pose {
    /// Bend, side and turn in degrees, by bone.
    pub bones: BTreeMap<String, [f64; 3]>,
}

/// A pose that cannot be taken.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum PoseFault {
    #[error("there is no bone `{0}` in this figure")]
    NoBone(String),
    #[error("{bone}: {what} of {asked:.0}° is outside {low:.0}° to {high:.0}°")]
    Limit { bone: String, what: &'static str, asked: f64, low: f64, high: f64 },
}

/// A pose that ships: key, name, angles.
#[derive(Clone, Debug, PartialEq)]
pub struct NamedPose {
    /// As it stands in the interface's requests.
    pub key: &'static str,
    /// As it stands in the interface.
    pub name: &'static str,
    /// For the own skeleton.
    pub pose: Pose,
}

/// Bend, side and turn by bone.
type Angles = [(&'static str, [f64; 3])];

/// Limbs given without a side are posed alike on both.
fn pose(bones: &Angles) -> Pose {
    /// Bones that have no other side.
    const MIDDLE: [&str; 6] = ["pelvis", "spine-1", "spine-2", "spine-3", "neck", "head"];
    let mut out = Pose::default();
    for &(name, angles) in bones {
        if MIDDLE.contains(&name) || name.ends_with("-left") || name.ends_with("-right") {
            out.bones.insert(name.to_owned(), angles);
        } else {
            for side in ["left", "right"] {
                out.bones.insert(format!("{name}-{side}"), angles);
            }
        }
    }
    out
}

/// The poses that ship, the neutral one first.
pub fn poses() -> Vec<NamedPose> {
    let named = |key, name, bones: &Angles| NamedPose { key, name, pose: pose(bones) };
    vec![
        named("a", "A-pose", &[]),
        named("t", "T-pose", &[("collar", [0.0, 10.0, 0.0]), ("upper-arm", [0.0, 40.0, 0.0])]),
        named("arms-down", "Arms down", &[("collar", [0.0, -4.0, 0.0]), ("upper-arm", [0.0, -29.0, 0.0]), ("forearm", [8.0, 0.0, 0.0])]),
        named(
            "hands-on-hips",
            "Hands on hips",
            &[("upper-arm", [-22.0, 14.0, 48.0]), ("forearm", [98.0, 0.0, 30.0]), ("hand", [0.0, 30.0, 0.0])],
        ),
        named(
            "stride",
            "Walking stride",
            &[
                ("thigh-left", [22.0, 0.0, 0.0]),
                ("shin-left", [6.0, 0.0, 0.0]),
                ("foot-left", [8.0, 0.0, 0.0]),
                ("thigh-right", [-14.0, 0.0, 0.0]),
                ("shin-right", [16.0, 0.0, 0.0]),
                ("foot-right", [4.0, 0.0, 0.0]),
                ("toes-right", [24.0, 0.0, 0.0]),
                ("collar", [0.0, -4.0, 0.0]),
                ("upper-arm-left", [-18.0, -27.0, 0.0]),
                ("upper-arm-right", [20.0, -27.0, 0.0]),
                ("forearm-left", [10.0, 0.0, 0.0]),
                ("forearm-right", [20.0, 0.0, 0.0]),
                ("spine-2", [0.0, 0.0, 3.0]),
                ("spine-3", [0.0, 0.0, 3.0]),
            ],
        ),
        named(
            "seated",
            "Seated",
            &[
                ("thigh", [84.0, 3.0, 0.0]),
                ("shin", [84.0, 0.0, 0.0]),
                ("collar", [0.0, -3.0, 0.0]),
                ("upper-arm", [14.0, -27.0, 0.0]),
                ("forearm", [52.0, 0.0, 0.0]),
            ],
        ),
        named(
            "kneeling",
            "Kneeling",
            &[
                ("thigh", [4.0, 2.0, 0.0]),
                ("shin", [88.0, 0.0, 0.0]),
                ("foot", [52.0, 0.0, 0.0]),
                ("collar", [0.0, -4.0, 0.0]),
                ("upper-arm", [0.0, -29.0, 0.0]),
                ("forearm", [12.0, 0.0, 0.0]),
            ],
        ),
        named(
            "arms-raised",
            "Arms raised",
            &[("collar", [0.0, 24.0, 0.0]), ("upper-arm", [0.0, 108.0, 0.0]), ("forearm", [14.0, 0.0, 0.0])],
        ),
        named(
            "deep-bow",
            "Deep bow",
            &[
                ("pelvis", [42.0, 0.0, 0.0]),
                ("thigh", [48.0, 0.0, 0.0]),
                ("foot", [-6.0, 0.0, 0.0]),
                ("spine-1", [12.0, 0.0, 0.0]),
                ("spine-2", [12.0, 0.0, 0.0]),
                ("spine-3", [10.0, 0.0, 0.0]),
                ("neck", [10.0, 0.0, 0.0]),
                ("head", [8.0, 0.0, 0.0]),
                ("collar", [0.0, -4.0, 0.0]),
                ("upper-arm", [-24.0, -22.0, 0.0]),
                ("forearm", [12.0, 0.0, 0.0]),
            ],
        ),
    ]
}

impl Pose {
    /// Whether a skeleton can take this pose within the limits of its joints.
    pub fn check(&self, skeleton: &Skeleton) -> Result<(), PoseFault> {
        for (name, angles) in &self.bones {
            let bone = skeleton.bones.iter().find(|b| b.name == *name).ok_or_else(|| PoseFault::NoBone(name.clone()))?;
            for (freedom, &asked) in bone.freedoms.iter().zip(angles) {
                let (low, high) = (freedom.low, freedom.high);
                if !(low - 1e-6..=high + 1e-6).contains(&asked) {
                    let what = if freedom.name.is_empty() { "an angle" } else { freedom.name };
                    return Err(PoseFault::Limit { bone: name.clone(), what, asked, low, high });
                }
            }
        }
        Ok(())
    }

    /// The pose seen in a mirror.
    pub fn mirrored(&self) -> Self {
        let middle =
            |name: &str, [bend, side, turn]: [f64; 3]| if other_side(name) == name { [bend, -side, -turn] } else { [bend, side, turn] };
        Self { bones: self.bones.iter().map(|(name, angles)| (other_side(name), middle(name, *angles))).collect() }
    }
}

/// Between two sets of joint rotations, along the shortest way; `share` 0 is the first, 1 the second.
pub fn blend(from: &[DQuat], to: &[DQuat], share: f64) -> Vec<DQuat> {
    from.iter().zip(to).map(|(a, b)| a.slerp(*b, share)).collect()
}

impl Skeleton {
    /// The pose of rotations by bone, the inverse of [`Skeleton::rotations`]; bones that do not turn are left out.
    pub fn pose_of(&self, rotations: &[DQuat]) -> Pose {
        let angles = self.bones.iter().zip(rotations).map(|(bone, q)| (bone.name.clone(), bone.angles(*q)));
        Pose { bones: angles.filter(|(_, a)| a.iter().any(|v| *v != 0.0)).collect() }
    }

    /// The rotation of every bone in its parent's frame; bones that a pose does not name stay as they are.
    pub fn rotations(&self, pose: &Pose) -> Vec<DQuat> {
        self.bones.iter().map(|b| pose.bones.get(&b.name).map_or(DQuat::IDENTITY, |angles| b.rotation(*angles))).collect()
    }
}
