//! Bodies on offer, their meshes for the stand, stations and swatches.

use crate::error::Failure;
use crate::state::App;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{SWATCHES, Swatch};
use serde::Serialize;
use ts_rs::TS;

#[derive(Serialize, TS)]
pub struct Measure {
    pub name: String,
    pub mm: f64,
}

#[derive(Serialize, TS)]
pub struct BodyOffer {
    pub key: String,
    pub name: String,
    pub measures: Vec<Measure>,
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
    let measure = |&(name, mm): &(&str, f64)| Measure { name: name.to_owned(), mm };
    let presets =
        body::presets().into_iter().map(|p| BodyOffer { measures: p.measures.iter().map(measure).collect(), key: p.key, name: p.name });
    let stations = body::station_names().iter().map(|(key, name)| StationOffer { key: (*key).into(), name: (*name).into() });
    Json(Bodies { presets: presets.collect(), stations: stations.collect() })
}

/// Little-endian: vertex count, triangle count (u32); positions, normals (f32 x 3); triangles (u32 x 3).
pub async fn mesh(State(app): State<App>, Path(preset): Path<String>) -> Result<impl IntoResponse, Failure> {
    let form = app.forms.fetch(preset).await?;
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
