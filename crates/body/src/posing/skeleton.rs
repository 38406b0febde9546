//! Bones and their joints in the neutral pose, and how joint angles turn them.
//!
//! A bone turns about its joint. Its rotation is written in the axes of the neutral pose and applied in its parent's
//! frame, as three angles in degrees: bend, side, turn. The right side is the mirror image of the left, so equal
//! angles on both sides make a symmetric pose.

use crate::implicit::field::Field;
use glam::{DAffine3, DQuat, DVec3};
use std::sync::OnceLock;

/// How the three angles act: `Z(lean) X(bend) Z(side + swing) Y(turn) Z(-lean - swing)`, with a sign each.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Axes {
    /// Degrees by which the whole frame leans (a hinge square to the limb).
    pub lean: f64,
    /// Degrees by which the limb stands off the vertical in the neutral pose.
    pub swing: f64,
    /// Directions in which the three angles grow.
    pub signs: [f64; 3],
}

const PLAIN: Axes = Axes { lean: 0.0, swing: 0.0, signs: [1.0; 3] };

/// One angle of a joint: what it does and how far it goes, degrees. Equal limits mean that it does not move.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Freedom {
    /// Of the movement, in words.
    pub name: &'static str,
    /// Degrees.
    pub low: f64,
    /// Degrees.
    pub high: f64,
}

/// A bone with its joint at the near end, metres.
#[derive(Clone, Debug, PartialEq)]
pub struct Bone {
    /// Such as `upper-arm-left`.
    pub name: String,
    /// Index of the parent, always smaller than the own one.
    pub parent: Option<usize>,
    /// Where it turns, in the neutral pose, m.
    pub joint: DVec3,
    /// Bend, side, turn.
    pub freedoms: [Freedom; 3],
    pub(crate) axes: Axes,
    /// Angles are those of the left side, mirrored.
    pub mirrored: bool,
}

/// Bones in an order in which parents come first.
#[derive(Clone, Debug, PartialEq, Default)]
pub struct Skeleton {
    /// Parents before children.
    pub bones: Vec<Bone>,
}

/// Name without side, parent, axes and freedoms of every bone of the own skeleton; limbs are those of the left.
struct Plan(&'static str, &'static str, Axes, [Freedom; 3]);

/// A movement between two angles, degrees.
const fn free(name: &'static str, low: f64, high: f64) -> Freedom {
    Freedom { name, low, high }
}
/// No movement.
const STILL: Freedom = free("", 0.0, 0.0);
/// Axes of the body with these directions.
const fn signs(signs: [f64; 3]) -> Axes {
    Axes { lean: 0.0, swing: 0.0, signs }
}
/// Degrees from the vertical of the arms in the neutral pose.
const ARM: f64 = 40.0;
const ALONG_ARM: Axes = Axes { lean: ARM, swing: 0.0, signs: [-1.0, -1.0, -1.0] };

/// All bones of one side and the middle, parents first.
const PLANS: [Plan; 14] = [
    Plan("pelvis", "", signs([1.0, -1.0, 1.0]), [free("Lean", -40.0, 100.0), free("Tilt", -40.0, 40.0), free("Turn", -180.0, 180.0)]),
    Plan("spine-1", "pelvis", signs([1.0, -1.0, 1.0]), [free("Lean", -20.0, 35.0), free("Tilt", -20.0, 20.0), free("Turn", -20.0, 20.0)]),
    Plan("spine-2", "spine-1", signs([1.0, -1.0, 1.0]), [free("Lean", -20.0, 35.0), free("Tilt", -20.0, 20.0), free("Turn", -25.0, 25.0)]),
    Plan("spine-3", "spine-2", signs([1.0, -1.0, 1.0]), [free("Lean", -15.0, 30.0), free("Tilt", -20.0, 20.0), free("Turn", -25.0, 25.0)]),
    Plan("neck", "spine-3", signs([1.0, -1.0, 1.0]), [free("Nod", -35.0, 40.0), free("Tilt", -30.0, 30.0), free("Turn", -45.0, 45.0)]),
    Plan("head", "neck", signs([1.0, -1.0, 1.0]), [free("Nod", -30.0, 35.0), free("Tilt", -20.0, 20.0), free("Turn", -45.0, 45.0)]),
    Plan("collar", "spine-3", signs([1.0, 1.0, -1.0]), [STILL, free("Raise", -10.0, 40.0), free("Forward", -20.0, 30.0)]),
    Plan(
        "upper-arm",
        "collar",
        Axes { lean: 0.0, swing: ARM, signs: [-1.0, 1.0, -1.0] },
        [free("Forward", -60.0, 170.0), free("Raise", -50.0, 130.0), free("Turn in", -90.0, 90.0)],
    ),
    Plan("forearm", "upper-arm", ALONG_ARM, [free("Bend", -5.0, 145.0), STILL, free("Turn in", -85.0, 85.0)]),
    Plan("hand", "forearm", ALONG_ARM, [free("Sideways", -20.0, 30.0), free("Bend", -70.0, 80.0), STILL]),
    Plan(
        "thigh",
        "pelvis",
        signs([-1.0, 1.0, 1.0]),
        [free("Forward", -25.0, 120.0), free("Outwards", -25.0, 50.0), free("Turn out", -40.0, 45.0)],
    ),
    Plan("shin", "thigh", signs([1.0, 1.0, 1.0]), [free("Bend", -5.0, 145.0), STILL, free("Turn out", -20.0, 25.0)]),
    Plan("foot", "shin", signs([1.0, 1.0, 1.0]), [free("Point", -25.0, 55.0), free("Tilt", -20.0, 20.0), free("Turn out", -15.0, 15.0)]),
    Plan("toes", "foot", signs([-1.0, 1.0, 1.0]), [free("Lift", -20.0, 60.0), STILL, STILL]),
];
/// The plans from here on come in pairs.
const PAIRED: usize = 6;

/// A bone's name with its side changed over; itself for bones in the middle.
pub fn other_side(name: &str) -> String {
    match (name.strip_suffix("-left"), name.strip_suffix("-right")) {
        (Some(stem), _) => format!("{stem}-right"),
        (_, Some(stem)) => format!("{stem}-left"),
        _ => name.to_owned(),
    }
}

/// A name of a bone or a part without its side.
pub(crate) fn stem(name: &str) -> &str {
    name.trim_end_matches("-left").trim_end_matches("-right")
}

/// The bones of every mannequin, their joints at the origin.
pub fn own_bones() -> &'static [Bone] {
    static BONES: OnceLock<Vec<Bone>> = OnceLock::new();
    BONES.get_or_init(|| {
        let mut bones: Vec<Bone> = Vec::new();
        for (k, Plan(stem, parent, axes, freedoms)) in PLANS.iter().enumerate() {
            for side in if k < PAIRED { &[""][..] } else { &["-left", "-right"] } {
                let find = |name: &str| bones.iter().position(|b| b.name == name);
                let parent = find(parent).or_else(|| find(&format!("{parent}{side}")));
                let (joint, mirrored) = (DVec3::ZERO, *side == "-right");
                bones.push(Bone { name: format!("{stem}{side}"), parent, joint, freedoms: *freedoms, axes: *axes, mirrored });
            }
        }
        bones
    })
}

impl Skeleton {
    /// The skeleton of a mannequin.
    pub(crate) fn of(field: &Field) -> Self {
        let placed = |bone: &Bone| {
            let joint = joint(field, stem(&bone.name)) * 0.01;
            let joint = if bone.mirrored { DVec3::new(-joint.x, joint.y, joint.z) } else { joint };
            Bone { joint, ..bone.clone() }
        };
        Self { bones: own_bones().iter().map(placed).collect() }
    }

    /// A skeleton from elsewhere: every joint turns freely about the axes of the neutral pose. One that has all of the own bones, as a
    /// mannequin that was delivered and comes back, moves like the own one.
    pub fn foreign(bones: Vec<(String, Option<usize>, DVec3)>) -> Self {
        let own = |name: &str| own_bones().iter().find(|b| b.name == name);
        if own_bones().iter().all(|b| bones.iter().any(|(name, ..)| *name == b.name)) && bones.iter().all(|(name, ..)| own(name).is_some())
        {
            let placed = |(name, parent, joint): (String, Option<usize>, DVec3)| own(&name).map(|b| Bone { parent, joint, ..b.clone() });
            return Self { bones: bones.into_iter().filter_map(placed).collect() };
        }
        let freedoms = ["Forward", "Sideways", "Turn"].map(|name| free(name, -180.0, 180.0));
        let bone = |(name, parent, joint)| Bone { name, parent, joint, freedoms, axes: PLAIN, mirrored: false };
        Self { bones: bones.into_iter().map(bone).collect() }
    }

    /// Whether it has the own bones with their axes, rather than free ones.
    pub(crate) fn is_own(&self) -> bool {
        self.bones.iter().any(|b| b.axes != PLAIN)
    }

    /// Place of the bone with this name.
    pub fn index(&self, name: &str) -> Option<usize> {
        self.bones.iter().position(|b| b.name == name)
    }

    /// Where every bone comes to lie, from the neutral pose: metres.
    pub fn place(&self, rotations: &[DQuat]) -> Vec<DAffine3> {
        let mut placed: Vec<DAffine3> = Vec::with_capacity(self.bones.len());
        for (bone, rotation) in self.bones.iter().zip(rotations) {
            let own = DAffine3::from_rotation_translation(*rotation, bone.joint - *rotation * bone.joint);
            placed.push(bone.parent.map_or(own, |p| placed[p] * own));
        }
        placed
    }
}

impl Bone {
    /// The rotation of three angles in degrees.
    pub fn rotation(&self, angles: [f64; 3]) -> DQuat {
        let Axes { lean, swing, signs } = self.axes;
        let [bend, side, turn] = [0, 1, 2].map(|k| signs[k] * angles[k]);
        let x = |a: f64| DQuat::from_rotation_x(a.to_radians());
        let y = |a: f64| DQuat::from_rotation_y(a.to_radians());
        let z = |a: f64| DQuat::from_rotation_z(a.to_radians());
        let left = z(lean) * x(bend) * z(side + swing) * y(turn) * z(-lean - swing);
        if self.mirrored { DQuat::from_xyzw(left.x, -left.y, -left.z, left.w) } else { left }
    }

    /// The axis, in the parent's frame, about which the bone turns when the angle `i` grows from `angles`.
    pub fn axis(&self, angles: [f64; 3], i: usize) -> DVec3 {
        let moved = |by: f64| {
            let mut angles = angles;
            angles[i] += by;
            self.rotation(angles)
        };
        (moved(0.5) * moved(-0.5).inverse()).to_scaled_axis().normalize_or_zero()
    }

    /// The angles of a rotation, the inverse of [`Bone::rotation`]; bend within ±180, side within ±90 degrees of the limb's own.
    pub fn angles(&self, rotation: DQuat) -> [f64; 3] {
        let Axes { lean, swing, signs } = self.axes;
        let q = if self.mirrored { DQuat::from_xyzw(rotation.x, -rotation.y, -rotation.z, rotation.w) } else { rotation };
        let z = |a: f64| DQuat::from_rotation_z(a.to_radians());
        let (bend, side, turn) = (z(-lean) * q * z(lean + swing)).normalize().to_euler(glam::EulerRot::XZY);
        [signs[0] * bend.to_degrees(), signs[1] * (side.to_degrees() - swing), signs[2] * turn.to_degrees()]
    }
}

/// A joint of the left side in cm.
fn joint(field: &Field, stem: &str) -> DVec3 {
    let along_leg = |y: f64| field.leg.stack.sections.at(y)[4];
    let marked = |name: &str| field.joints.get(name).copied().unwrap_or_default();
    match stem {
        "collar" => marked("clavicle"),
        "upper-arm" => field.arm.centre(0.0),
        "forearm" => field.arm.centre(field.t_elbow),
        "hand" => field.arm.centre(field.arm.length),
        "thigh" => {
            let (hip, knee) = (marked("hip"), marked("knee"));
            hip.with_x(0.6 * along_leg(hip.y) + 0.35 * along_leg(knee.y))
        }
        "shin" => marked("knee").with_x(along_leg(marked("knee").y)),
        "foot" => marked("ankle").with_x(along_leg(marked("ankle").y)),
        "toes" => field.leg.ball(),
        other => marked(&other.replace('-', "")),
    }
}
