//! The swatch book: cloths that ship, and own ones that were kept in it for all costumes.

use crate::app::App;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use costume::{CLOTH_VALUES, ClothValue, Fabric, Refusal, SWATCHES, Swatch};
use serde::Serialize;
use ts_rs::TS;

/// Most own swatches in the book.
const MOST: i64 = 500;

/// An own cloth: a swatch that ships with other values, a colour and a print.
#[derive(Serialize, TS)]
pub struct OwnSwatch {
    #[ts(type = "number")]
    pub id: i64,
    pub fabric: Fabric,
}

/// The swatch book, and the values that a fabric may have of its own.
#[derive(Serialize, TS)]
pub struct SwatchBook {
    pub swatches: &'static [Swatch],
    pub values: &'static [ClothValue],
    pub own: Vec<OwnSwatch>,
}

pub async fn show(State(app): State<App>) -> Result<Json<SwatchBook>, Failure> {
    let rows = sqlx::query!("SELECT id, fabric FROM own_swatches ORDER BY fabric ->> 'name', id").fetch_all(&app.pool).await?;
    let own = rows.into_iter().map(|row| {
        let fabric = serde_json::from_value(row.fabric).map_err(|e| Failure::Internal(e.to_string()))?;
        Ok(OwnSwatch { id: row.id, fabric })
    });
    Ok(Json(SwatchBook { swatches: SWATCHES, values: CLOTH_VALUES, own: own.collect::<Result<_, Failure>>()? }))
}

/// Keeps a cloth in the book; one of the same name is replaced.
pub async fn keep(State(app): State<App>, Json(fabric): Json<Fabric>) -> Result<Json<i64>, Failure> {
    costume::check_fabric(&fabric)?;
    let count = sqlx::query_scalar!("SELECT count(*) FROM own_swatches").fetch_one(&app.pool).await?;
    if count.unwrap_or(0) >= MOST {
        return Err(Refusal::elsewhere("swatch book", format!("holds {MOST} own swatches already"), "take one out of it first").into());
    }
    let document = serde_json::to_value(&fabric).map_err(|e| Failure::Internal(e.to_string()))?;
    let id = sqlx::query_scalar!(
        "INSERT INTO own_swatches (fabric) VALUES ($1)
         ON CONFLICT ((fabric ->> 'name')) DO UPDATE SET fabric = excluded.fabric, kept_at = now() RETURNING id",
        document
    );
    Ok(Json(id.fetch_one(&app.pool).await?))
}

/// Takes an own cloth out of the book; costumes that are made of it keep their values.
pub async fn remove(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    let done = sqlx::query!("DELETE FROM own_swatches WHERE id = $1", id).execute(&app.pool).await?;
    if done.rows_affected() == 0 { Err(Failure::NotFound("own swatch")) } else { Ok(()) }
}
