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
    #[serde(rename = "H")]
    pub stature: f64,
    pub marks: Vec<(String, f64)>,
    pub lv: BTreeMap<String, f64>,
    pub joints: BTreeMap<String, [f64; 3]>,
    pub t_biceps: f64,
    pub t_elbow: f64,
    /// Degrees by which the neck leans forward.
    pub neck_tilt: f64,
    pub y_crotch: f64,
    pub y_axilla: f64,
    pub y_neck0: f64,
    pub chin: f64,
    pub crotch_k: f64,
    /// Exponents of width, front and back depth for additional girth.
    pub fat: [f64; 3],
    pub torso: Vec<[f64; 7]>,
    pub torso_keys: Vec<(f64, String)>,
    pub torso_ell: Vec<Bulge>,
    pub leg: Vec<[f64; 7]>,
    pub leg_keys: Vec<(f64, String)>,
    pub shoulder: [f64; 3],
    pub arm_len: f64,
    pub arm_cap: f64,
    pub arm_cap_k: f64,
    pub arm: Vec<[f64; 7]>,
    pub arm_keys: Vec<(f64, String)>,
    pub hand: Vec<[f64; 7]>,
    #[serde(default = "one")]
    pub hand_scale: f64,
    pub fingers: Vec<Cone>,
    pub thumb: Vec<Cone>,
    pub foot: Vec<[f64; 7]>,
    #[serde(default = "one")]
    pub foot_scale: f64,
    pub foot_k: f64,
    pub foot_ends: [f64; 2],
    pub toe_out: f64,
    pub neck: Vec<[f64; 5]>,
    pub head: Vec<HeadPart>,
    pub bumps: Vec<(String, f64, f64, [f64; 3], f64)>,
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
    pub c: [f64; 3],
    pub r: [f64; 3],
    pub up: Option<f64>,
    pub k: f64,
    #[serde(default = "one")]
    pub km: f64,
    pub scale: Option<String>,
    pub parent: Option<String>,
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
    pub c: [f64; 3],
    pub r: [f64; 3],
    pub k: f64,
    #[serde(default)]
    pub taper: f64,
}

/// Blending radii between the parts.
#[derive(Clone, Debug, Deserialize)]
pub struct Blends {
    pub leg: f64,
    pub legs: f64,
    pub arm: f64,
    pub neck: f64,
    pub head: f64,
}

/// Tape measurements in cm.
#[derive(Clone, Debug, Deserialize)]
pub struct PresetRow {
    /// Name of the shape it is made from.
    pub template: String,
    #[serde(flatten)]
    measures: BTreeMap<Measure, f64>,
    #[serde(default)]
    pub marks: BTreeMap<String, f64>,
    /// Women and teens have breasts unless told otherwise.
    pub breasts: Option<bool>,
    /// First value of the breast or chest muscle multiplier.
    #[serde(default = "one", rename = "bust0")]
    pub bust_start: f64,
    #[serde(default = "one")]
    pub foot: f64,
    #[serde(default = "one")]
    pub hand: f64,
}

impl PresetRow {
    /// Whether the size is measured under the bust.
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
