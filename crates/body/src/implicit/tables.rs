//! The numeric tables of the mannequin (`data/tables.json`): templates, presets and their calibrated multipliers.

use crate::measuring::measures::Measure;
use serde::Deserialize;
use std::collections::BTreeMap;
use std::sync::OnceLock;

/// All that the model is tabled in, cm.
#[derive(Debug, Deserialize)]
pub struct Tables {
    /// Shapes by name.
    pub templates: BTreeMap<String, Template>,
    /// Sizes by name.
    pub presets: BTreeMap<String, PresetRow>,
    /// What makes each size measure as asked.
    pub calibrated: BTreeMap<String, Calibrated>,
}

/// A hand-made body in cm at its own stature.
#[derive(Clone, Debug, Deserialize)]
pub struct Template {
    /// Its height.
    #[serde(rename = "H")]
    pub stature: f64,
    /// Landmark heights by name, ascending: where the height warp is pinned.
    pub marks: Vec<(String, f64)>,
    /// Heights of bust, waist, hip and so on.
    pub lv: BTreeMap<String, f64>,
    /// Joints of the middle and the left.
    pub joints: BTreeMap<String, [f64; 3]>,
    /// How far down the arm its girth is taken.
    pub t_biceps: f64,
    /// How far down the arm the elbow is.
    pub t_elbow: f64,
    /// Degrees by which the neck leans forward.
    pub neck_tilt: f64,
    /// Height of the crotch.
    pub y_crotch: f64,
    /// Height of the armpit.
    pub y_axilla: f64,
    /// Height at which the neck begins.
    pub y_neck0: f64,
    /// Height of the chin.
    pub chin: f64,
    /// Blending radius at the crotch.
    pub crotch_k: f64,
    /// Exponents of width, front and back depth for additional girth.
    pub fat: [f64; 3],
    /// Sections of the trunk: height first.
    pub torso: Vec<[f64; 7]>,
    /// Which multiplier holds at which height of the trunk.
    pub torso_keys: Vec<(f64, String)>,
    /// Volumes joined to the trunk.
    pub torso_ell: Vec<Bulge>,
    /// Sections of the leg: height first.
    pub leg: Vec<[f64; 7]>,
    /// Which multiplier holds at which height of the leg.
    pub leg_keys: Vec<(f64, String)>,
    /// Where the left arm begins.
    pub shoulder: [f64; 3],
    /// From there to the wrist.
    pub arm_len: f64,
    /// Radius of the cap at the shoulder.
    pub arm_cap: f64,
    /// Its blending radius.
    pub arm_cap_k: f64,
    /// Sections of the arm: the place along it first.
    pub arm: Vec<[f64; 7]>,
    /// Which multiplier holds at which place along the arm.
    pub arm_keys: Vec<(f64, String)>,
    /// Sections of the palm, in hand units.
    pub hand: Vec<[f64; 7]>,
    /// Size of the hand over that of the table.
    #[serde(default = "one")]
    pub hand_scale: f64,
    /// Four fingers, each of several cones.
    pub fingers: Vec<Cone>,
    /// Its cones.
    pub thumb: Vec<Cone>,
    /// Sections of the foot along it.
    pub foot: Vec<[f64; 7]>,
    /// Size of the foot over that of the table.
    #[serde(default = "one")]
    pub foot_scale: f64,
    /// Blending radius at the ankle.
    pub foot_k: f64,
    /// Where heel and toes end.
    pub foot_ends: [f64; 2],
    /// Degrees by which the feet point outwards.
    pub toe_out: f64,
    /// Sections of the neck.
    pub neck: Vec<[f64; 5]>,
    /// Ellipsoids of the head.
    pub head: Vec<HeadPart>,
    /// Accents of the surface: part, place, radii, height.
    pub bumps: Vec<(String, f64, f64, [f64; 3], f64)>,
    /// Blending radii between the parts.
    pub k: Blends,
}

/// Default of factors.
fn one() -> f64 {
    1.0
}

/// From, to (t, u, v), radius at both ends; in hand units.
pub type Cone = ([f64; 3], [f64; 3], f64, f64);

/// A volume joined to the trunk.
#[derive(Clone, Debug, Deserialize)]
pub struct Bulge {
    /// Middle.
    pub c: [f64; 3],
    /// Half axes.
    pub r: [f64; 3],
    /// Half axis upwards, where it is another than downwards.
    pub up: Option<f64>,
    /// Blending radius.
    pub k: f64,
    /// Factor of the blending radius with a multiplier.
    #[serde(default = "one")]
    pub km: f64,
    /// Multiplier that scales it.
    pub scale: Option<String>,
    /// Multiplier that moves it.
    pub parent: Option<String>,
    /// Its own axes, when they are not those of the body.
    #[serde(rename = "R")]
    pub axes: Option<[[f64; 3]; 3]>,
    /// Exponents of the x radius, the radius below, above, and the z radius.
    #[serde(default = "plain")]
    pub e: [f64; 4],
    #[serde(default)]
    pub sink: f64,
}

/// Default of a section: no change.
fn plain() -> [f64; 4] {
    [1.0; 4]
}

/// An ellipsoid of the head.
#[derive(Clone, Debug, Deserialize)]
pub struct HeadPart {
    /// Middle, in the frame of the head.
    pub c: [f64; 3],
    /// Half axes.
    pub r: [f64; 3],
    /// Blending radius.
    pub k: f64,
    /// Positive narrows it towards the chin.
    #[serde(default)]
    pub taper: f64,
}

/// Blending radii between the parts.
#[derive(Clone, Debug, Deserialize)]
pub struct Blends {
    /// Trunk and leg.
    pub leg: f64,
    /// Leg and leg.
    pub legs: f64,
    /// Trunk and arm.
    pub arm: f64,
    /// Trunk and neck.
    pub neck: f64,
    /// Neck and head.
    pub head: f64,
}

/// Tape measurements in cm.
#[derive(Clone, Debug, Deserialize)]
pub struct PresetRow {
    /// Name of the shape it is made from.
    pub template: String,
    #[serde(flatten)]
    measures: BTreeMap<Measure, f64>,
    /// Landmark heights that differ from the template.
    #[serde(default)]
    pub marks: BTreeMap<String, f64>,
    /// Women and teens have breasts unless told otherwise.
    pub breasts: Option<bool>,
    /// First value of the breast or chest muscle multiplier.
    #[serde(default = "one", rename = "bust0")]
    pub bust_start: f64,
    /// Factor of the foot.
    #[serde(default = "one")]
    pub foot: f64,
    /// Factor of the hand.
    #[serde(default = "one")]
    pub hand: f64,
}

impl PresetRow {
    /// Whether the shape has breasts.
    pub fn has_breasts(&self) -> bool {
        self.breasts.unwrap_or(self.template != "male")
    }

    /// A measure in cm; every row has all of them.
    pub fn get(&self, measure: Measure) -> f64 {
        self.measures[&measure]
    }

    /// Asks for another value of a measure.
    pub fn put(&mut self, measure: Measure, cm: f64) {
        self.measures.insert(measure, cm);
    }

    /// All measures that the body is made to, cm, in the order of the sheet.
    pub fn asked(&self) -> impl Iterator<Item = (Measure, f64)> {
        self.measures.iter().map(|(m, cm)| (*m, *cm))
    }
}

/// Multipliers that make the field measure as asked.
#[derive(Clone, Debug, Deserialize)]
pub struct Calibrated {
    /// Factors of widths and depths by name.
    #[serde(rename = "S")]
    pub multipliers: BTreeMap<String, f64>,
    /// Shift of the crotch, cm.
    pub dy_crotch: f64,
    /// Shift of the neck, cm.
    pub dy_neck: f64,
}

/// The tables, parsed once.
pub fn tables() -> &'static Tables {
    static TABLES: OnceLock<Tables> = OnceLock::new();
    TABLES.get_or_init(|| match serde_json::from_str(include_str!("../../data/tables.json")) {
        Ok(tables) => tables,
        Err(e) => unreachable!("the embedded tables are well formed: {e}"),
    })
}
