//! The measures a body is made to, with their keys and names.

use serde::Deserialize;

/// Every measure a body is made to, in the order of a measuring sheet; serde names are those of the tables.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Measure {
    Stature,
    Bust,
    Underbust,
    Waist,
    Hip,
    Neck,
    #[serde(rename = "shoulder_w")]
    ShoulderWidth,
    #[serde(rename = "back_waist")]
    BackWaist,
    #[serde(rename = "arm_len")]
    ArmLength,
    #[serde(rename = "upperarm")]
    UpperArm,
    Elbow,
    Wrist,
    #[serde(rename = "waist_h")]
    WaistHeight,
    Inseam,
    Thigh,
    Knee,
    Calf,
    Ankle,
}

/// Measure, key and name.
const NAMES: [(Measure, &str, &str); 18] = [
    (Measure::Stature, "stature", "stature"),
    (Measure::Bust, "bust", "bust or chest"),
    (Measure::Underbust, "underbust", "underbust"),
    (Measure::Waist, "waist", "waist"),
    (Measure::Hip, "hip", "hip"),
    (Measure::Neck, "neck", "neck"),
    (Measure::ShoulderWidth, "shoulder-width", "shoulder width"),
    (Measure::BackWaist, "back-waist", "back waist length"),
    (Measure::ArmLength, "arm-length", "arm length"),
    (Measure::UpperArm, "upper-arm", "upper arm"),
    (Measure::Elbow, "elbow", "elbow"),
    (Measure::Wrist, "wrist", "wrist"),
    (Measure::WaistHeight, "waist-height", "waist height"),
    (Measure::Inseam, "inseam", "inseam"),
    (Measure::Thigh, "thigh", "thigh"),
    (Measure::Knee, "knee", "knee"),
    (Measure::Calf, "calf", "calf"),
    (Measure::Ankle, "ankle", "ankle"),
];

impl Measure {
    /// In the order of the interface.
    pub const ALL: [Self; 18] = {
        let mut all = [Self::Stature; 18];
        let mut k = 0;
        while k < 18 {
            all[k] = NAMES[k].0;
            k += 1;
        }
        all
    };

    /// Such as `back-waist`.
    pub fn key(self) -> &'static str {
        NAMES[self as usize].1
    }
    /// In the words of a measuring sheet.
    pub fn name(self) -> &'static str {
        NAMES[self as usize].2
    }
    /// The measure with this key, if there is one.
    pub fn from_key(key: &str) -> Option<Self> {
        NAMES.iter().find(|n| n.1 == key).map(|n| n.0)
    }
    /// Lengths and heights grow with the stature, girths do not.
    pub fn is_length(self) -> bool {
        matches!(self, Self::Stature | Self::ShoulderWidth | Self::BackWaist | Self::ArmLength | Self::WaistHeight | Self::Inseam)
    }
}
