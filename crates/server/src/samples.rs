//! Strip and drape sample of a cloth, for the fabric's card.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::error::Failure;
use axum::Json;
use axum::extract::State;
use costume::{Fabric, FabricId, Refusal};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;
use workroom::cloth_fabric;
use workroom::laboratory::{LabFit, LabNumbers, Sample, fabric_from, sample};

/// A cloth to test: a swatch, and the values that differ from it.
#[derive(Clone, Debug, Deserialize, PartialEq, Serialize, TS)]
#[serde(deny_unknown_fields)]
pub struct ClothAsked {
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
        fabric.cloth().map(|s| cloth_fabric(&s)).ok_or_else(untestable)
    }
}

/// Of a cloth whose tests come to nothing.
pub fn untestable() -> Refusal {
    Refusal::elsewhere("cloth", "cannot be tested", "choose values within their limits")
}

/// The quick tests of a cloth.
pub async fn show(State(app): State<App>, Json(asked): Json<ClothAsked>) -> Result<Json<Sample>, Failure> {
    let (key, cloth) = (format!("{asked:?}"), asked.cloth()?);
    Ok(Json(off_the_async_threads(move || app.samples.get(key, || sample(&cloth).ok_or_else(untestable))).await?))
}

/// What a laboratory measured, and the swatch that tells what it did not.
#[derive(Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct LabAsked {
    pub swatch: String,
    pub numbers: LabNumbers,
}

/// The values of a cloth that does in the laboratory what was measured.
pub async fn fit(Json(asked): Json<LabAsked>) -> Result<Json<LabFit>, Failure> {
    let base = costume::swatch(&asked.swatch);
    let base = base.ok_or_else(|| Refusal::elsewhere(&asked.swatch, "is not in the swatch book", "choose a swatch that is"))?;
    Ok(Json(off_the_async_threads(move || fabric_from(&asked.numbers, base)).await?))
}
