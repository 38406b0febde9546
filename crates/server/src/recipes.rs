//! The recipes of blocks, as the interface offers them.

use axum::Json;
use costume::RECIPES;
use serde::Serialize;
use ts_rs::TS;

/// A way to draft pieces from measures.
#[derive(Debug, Serialize, TS)]
pub struct RecipeOffer {
    pub key: &'static str,
    pub name: &'static str,
    pub help: &'static str,
    pub values: Vec<ValueOffer>,
}

/// A number of a recipe with its range.
#[derive(Debug, Serialize, TS)]
pub struct ValueOffer {
    pub key: &'static str,
    pub name: &'static str,
    pub low: f64,
    pub high: f64,
    /// `mm`, or what it is counted in.
    pub unit: &'static str,
}

/// All recipes in their order.
pub async fn list() -> Json<Vec<RecipeOffer>> {
    let value = |v: &costume::BlockValue| ValueOffer { key: v.key, name: v.name, low: v.range[0], high: v.range[1], unit: v.unit };
    let offer = |r: &costume::Recipe| RecipeOffer { key: r.key, name: r.name, help: r.help, values: r.values.iter().map(value).collect() };
    Json(RECIPES.iter().map(offer).collect())
}
