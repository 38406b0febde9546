//! The recipes of blocks, as the interface offers them.

use crate::background::off_the_async_threads;
use crate::drawing::flat_drawing;
use crate::error::Failure;
use axum::Json;
use axum::extract::Path;
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Edit, Point, RECIPES};
use serde::Serialize;
use std::collections::BTreeMap;
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

/// The pieces of a block, drafted for the body of a new costume.
pub async fn picture(Path(key): Path<String>) -> Result<impl IntoResponse, Failure> {
    let drawn = off_the_async_threads(move || {
        let block = Edit::AddBlock { recipe: key, values: BTreeMap::new(), measures: BTreeMap::new(), at: Point::new(0.0, 0.0) };
        Ok(flat_drawing(&workroom::apply(&Costume::new("Block"), &block)?))
    })
    .await?;
    Ok(([(header::CONTENT_TYPE, "image/svg+xml"), (header::CACHE_CONTROL, "private, max-age=3600")], drawn))
}
