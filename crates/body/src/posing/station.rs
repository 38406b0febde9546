//! A station: a named spot where a piece can hang, with the elliptic cylinder around which it wraps.

use glam::{DAffine3, DQuat, DVec3};

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
    /// As it stands in documents.
    pub key: &'static str,
    /// As it stands in the interface.
    pub name: &'static str,
    /// On the axis of the body part.
    pub centre: DVec3,
    /// Unit vectors: along the piece's right, along its up, and outwards; a right-handed frame.
    pub right: DVec3,
    /// Unit vector along the surface, in which the piece points up.
    pub up: DVec3,
    /// Unit vector away from the body.
    pub out: DVec3,
    /// Radii of the body part along `right` and `out`.
    pub radii: (f64, f64),
    /// How a piece is wrapped there.
    pub reach: Reach,
    /// The bone that carries it.
    pub bone: Option<usize>,
    /// How the limb goes on below it, for pieces that reach as far as that.
    pub limb: Option<Limb>,
}

/// The way of an arm below its station: straight to the elbow, then in the direction of the forearm, and thinner.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Limb {
    /// From the station down to the joint, and to where the limb ends, m.
    pub joint: f64,
    pub end: f64,
    /// The turn at the joint.
    pub turn: DQuat,
    /// Radii of the limb at its end along `right` and `out`, m.
    pub radii: (f64, f64),
}

impl Station {
    /// The station carried along by its bone.
    pub(crate) fn moved(&self, by: &DAffine3) -> Self {
        let turn = |v: DVec3| by.transform_vector3(v);
        Self { centre: by.transform_point3(self.centre), right: turn(self.right), up: turn(self.up), out: turn(self.out), ..self.clone() }
    }
}
