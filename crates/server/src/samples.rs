//! Strip and drape sample of a cloth, for the fabric's card.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::error::Failure;
use axum::Json;
use axum::extract::State;
use costume::Refusal;
use serde::Deserialize;
use ts_rs::TS;
use workroom::laboratory::{ClothAsked, LabFit, LabNumbers, Sample, fabric_from};

/// The quick tests of a cloth.
pub async fn show(State(app): State<App>, Json(asked): Json<ClothAsked>) -> Result<Json<Sample>, Failure> {
    Ok(Json(off_the_async_threads(move || app.samples.get(format!("{asked:?}"), || asked.sample())).await?))
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
