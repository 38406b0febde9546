//! Bodies on offer with their joints, parts, poses and stations.

use axum::Json;
use body::{in_words, own_bones};
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

#[derive(Serialize, TS)]
pub struct StationOffer {
    pub key: String,
    pub name: String,
}

/// A pose that ships, for the own skeleton: degrees by bone.
#[derive(Serialize, TS)]
pub struct PoseOffer {
    pub key: String,
    pub name: String,
    pub bones: BTreeMap<String, [f64; 3]>,
}

#[derive(Serialize, TS)]
pub struct Bodies {
    pub presets: Vec<BodyOffer>,
    pub stations: Vec<StationOffer>,
    pub poses: Vec<PoseOffer>,
    /// Names of the own bones, in words, by key.
    pub bones: BTreeMap<String, String>,
}

pub async fn list() -> Json<Bodies> {
    let offer = |&(measure, mm): &(body::Measure, f64)| {
        let (low, high) = body::range(measure, mm);
        MeasureOffer { key: measure.key().into(), name: measure.name().into(), mm, low, high }
    };
    let presets =
        body::presets().into_iter().map(|p| BodyOffer { measures: p.measures.iter().map(offer).collect(), key: p.key, name: p.name });
    let stations = body::station_names().iter().map(|(key, name)| StationOffer { key: (*key).into(), name: (*name).into() });
    let poses = body::poses().into_iter().map(|p| PoseOffer { key: p.key.into(), name: p.name.into(), bones: p.pose.bones });
    let bones = own_bones().iter().map(|b| (b.name.clone(), in_words(&b.name)));
    Json(Bodies { presets: presets.collect(), stations: stations.collect(), poses: poses.collect(), bones: bones.collect() })
}
