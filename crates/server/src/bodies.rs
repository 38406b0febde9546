//! Bodies on offer, their meshes for the stand, stations and swatches.

use crate::error::Failure;
use crate::state::App;
use axum::Json;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{BodyChoice, SWATCHES, Swatch};
use serde::Serialize;
use std::collections::BTreeMap;
use ts_rs::TS;

/// A measure of a size with the range that may be asked for, mm.
#[derive(Serialize, TS)]
pub struct MeasureOffer {
    pub key: String,
    pub name: String,
    pub mm: f64,
    pub low: f64,
    pub high: f64,
}

#[derive(Serialize, TS)]
pub struct BodyOffer {
    pub key: String,
    pub name: String,
    pub measures: Vec<MeasureOffer>,
}

/// A measure as asked and as taken on the finished body, mm.
#[derive(Serialize, TS)]
pub struct TakenMeasure {
    pub key: String,
    pub asked: f64,
    pub measured: f64,
}

#[derive(Serialize, TS)]
pub struct StationOffer {
    pub key: String,
    pub name: String,
}

#[derive(Serialize, TS)]
pub struct Bodies {
    pub presets: Vec<BodyOffer>,
    pub stations: Vec<StationOffer>,
}

pub async fn list() -> Json<Bodies> {
    let offer = |&(measure, mm): &(body::Measure, f64)| {
        let (low, high) = body::range(measure, mm);
        MeasureOffer { key: measure.key().into(), name: measure.name().into(), mm, low, high }
    };
    let presets =
        body::presets().into_iter().map(|p| BodyOffer { measures: p.measures.iter().map(offer).collect(), key: p.key, name: p.name });
    let stations = body::station_names().iter().map(|(key, name)| StationOffer { key: (*key).into(), name: (*name).into() });
    Json(Bodies { presets: presets.collect(), stations: stations.collect() })
}

/// What a tape reads on the finished body; own measures come as query parameters in mm.
pub async fn measures(
    State(app): State<App>,
    Path(preset): Path<String>,
    Query(set): Query<BTreeMap<String, f64>>,
) -> Result<Json<Vec<TakenMeasure>>, Failure> {
    let form = app.forms.fetch(BodyChoice { preset, set }).await?;
    let taken = form.mannequin.taken.iter();
    Ok(Json(taken.map(|t| TakenMeasure { key: t.measure.key().into(), asked: t.asked, measured: t.measured }).collect()))
}

/// Little-endian: vertex count, triangle count (u32); positions, normals (f32 x 3); triangles (u32 x 3).
pub async fn mesh(
    State(app): State<App>,
    Path(preset): Path<String>,
    Query(set): Query<BTreeMap<String, f64>>,
) -> Result<impl IntoResponse, Failure> {
    let form = app.forms.fetch(BodyChoice { preset, set }).await?;
    let s = &form.mannequin.surface;
    let mut bytes = Vec::with_capacity(8 + s.positions.len() * 24 + s.triangles.len() * 12);
    for count in [s.positions.len(), s.triangles.len()] {
        bytes.extend((count as u32).to_le_bytes());
    }
    bytes.extend(s.positions.iter().chain(&s.normals).flatten().flat_map(|v| v.to_le_bytes()));
    bytes.extend(s.triangles.iter().flatten().flat_map(|v| v.to_le_bytes()));
    Ok(([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, "max-age=3600")], bytes))
}

pub async fn swatches() -> Json<&'static [Swatch]> {
    Json(SWATCHES)
}
