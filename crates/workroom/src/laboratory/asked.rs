//! A cloth that is brought to the laboratory.

use super::{LabSheet, Sample, lab_sheet, sample};
use costume::{Fabric, FabricId, Refusal};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A cloth to test: a swatch, and the values that differ from it.
#[derive(Clone, Debug, Deserialize, PartialEq, Serialize, TS)]
#[serde(deny_unknown_fields)]
pub struct ClothAsked {
    /// Key of the swatch.
    pub swatch: String,
    #[serde(default)]
    pub own: BTreeMap<String, f64>,
}

impl ClothAsked {
    /// The cloth to test; refuses values beyond their limits.
    pub fn cloth(&self) -> Result<cloth::Fabric, Refusal> {
        let Self { swatch, own } = self.clone();
        let fabric = Fabric { id: FabricId(1), name: swatch.clone(), swatch, colour: "#ffffff".into(), print: None, overrides: own };
        costume::check_fabric(&fabric)?;
        fabric.cloth().map(|s| crate::cloth_fabric(&s)).ok_or_else(untestable)
    }

    /// The quick tests of it.
    pub fn sample(&self) -> Result<Sample, Refusal> {
        sample(&self.cloth()?).ok_or_else(untestable)
    }

    /// All tests of it, each beside what it should read.
    pub fn sheet(&self) -> Result<LabSheet, Refusal> {
        lab_sheet(&self.cloth()?).ok_or_else(untestable)
    }
}

fn untestable() -> Refusal {
    Refusal::elsewhere("cloth", "cannot be tested", "choose values within their limits")
}
