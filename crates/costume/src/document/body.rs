//! Which body a costume hangs on: its measures, its pose, the tapes laid over it and what of it the cloth meets.

use crate::document::TapeId;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// Which body the costume hangs on: a size, such as `woman-38`, with the measures that differ from it, or an imported
/// figure; in which pose, and what of it the cloth meets.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct BodyChoice {
    /// Key of the size, such as `woman-38`.
    pub preset: String,
    /// mm by the key of a measure, such as `waist`.
    #[serde(default, rename = "set", skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub overrides: BTreeMap<String, f64>,
    /// Content hash of an imported figure, which then stands in place of the size.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub figure: Option<String>,
    /// Bend, side and turn of the joints that leave the neutral pose, degrees by bone.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, [f64; 3]>>", optional)]
    pub pose: BTreeMap<String, [f64; 3]>,
    /// What of the body the cloth meets.
    #[serde(default, skip_serializing_if = "Contact::is_plain")]
    #[ts(as = "Option<Contact>", optional)]
    pub contact: Contact,
}

/// A named pose, degrees by bone.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct KeptPose {
    /// As the designer called it; unique among the poses.
    pub name: String,
    /// Bend, side and turn, degrees by bone.
    pub bones: BTreeMap<String, [f64; 3]>,
}

/// A tape over the body: points in mm on the neutral pose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct FreeTape {
    /// Its own among the tapes.
    pub id: TapeId,
    /// As the designer called it.
    pub name: String,
    /// On the neutral pose, mm.
    pub points: Vec<[f64; 3]>,
    /// Lies on the surface; otherwise it runs straight from point to point.
    pub follows: bool,
    /// Returns to its first point.
    #[serde(default)]
    pub closed: bool,
}

/// What of the body the cloth meets.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Contact {
    /// By part, such as `hand-left`; parts that are not named meet the cloth as usual.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, PartContact>>", optional)]
    pub parts: BTreeMap<String, PartContact>,
    /// Stand-ins that cloth meets besides the skin.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<StandIn>>", optional)]
    pub shapes: Vec<StandIn>,
    /// Places of the skin where cloth slides less, or more.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(as = "Option<Vec<RoughSpot>>", optional)]
    pub rough: Vec<RoughSpot>,
}

/// A round place of the skin with a friction of its own; it goes where the skin goes that it lies on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct RoughSpot {
    /// Its middle in the neutral pose, mm.
    pub at: [f64; 3],
    /// mm.
    pub radius: f64,
    /// Scales the fabric's friction.
    pub friction: f64,
}

impl Contact {
    /// Nothing is changed from how every body meets cloth.
    pub fn is_plain(&self) -> bool {
        self.parts.is_empty() && self.shapes.is_empty() && self.rough.is_empty()
    }
}

/// How one part of the body meets the cloth.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct PartContact {
    /// Left out: the cloth passes through.
    pub left_out: bool,
    /// Added distance between skin and cloth, mm.
    pub offset: f64,
    /// Scales the fabric's friction.
    pub friction: f64,
}

/// Shape of a stand-in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum StandInShape {
    Capsule,
    Ellipsoid,
    Box,
}

/// A simple shape that the cloth meets, carried by a bone.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct StandIn {
    /// Which solid.
    pub shape: StandInShape,
    /// Empty: it stands still.
    pub bone: String,
    /// Middle in the neutral pose, mm.
    pub at: [f64; 3],
    /// Degrees about x, y and z, in this order.
    #[serde(default)]
    pub turn: [f64; 3],
    /// Half sizes along its own x, y and z, mm; a capsule lies along y and its ends are round.
    pub size: [f64; 3],
}

impl BodyChoice {
    /// A size as it is.
    pub fn size(preset: &str) -> Self {
        Self { preset: preset.to_owned(), overrides: BTreeMap::new(), figure: None, pose: BTreeMap::new(), contact: Contact::default() }
    }

    /// What the shape of the figure depends on: the choice in the neutral pose with plain contact.
    pub fn shape(&self) -> Self {
        Self { pose: BTreeMap::new(), contact: Contact::default(), ..self.clone() }
    }
}
