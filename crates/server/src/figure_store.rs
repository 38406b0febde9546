//! Figures from elsewhere as they are stored: assets by the hash of their content, sheets by theirs.

use crate::asset_store::check_hash;
use crate::background::off_the_async_threads;
use crate::error::Failure;
use body::FigureSheet;
use costume::Refusal;
use sqlx::PgPool;
use workroom::ImportedFigure;

/// A stored figure.
pub struct Stored {
    pub asset: String,
    pub file: String,
    pub sheet: FigureSheet,
    pub arrival: ImportedFigure,
}

/// The stored figure with this hash.
pub async fn stored(pool: &PgPool, hash: &str) -> Result<Stored, Failure> {
    check_hash(hash, missing)?;
    let row =
        sqlx::query!("SELECT f.asset, f.sheet, a.name, a.bytes FROM figures f JOIN assets a ON a.hash = f.asset WHERE f.hash = $1", hash)
            .fetch_optional(pool)
            .await?
            .ok_or_else(missing)?;
    let sheet = serde_json::from_value(row.sheet).map_err(|e| Failure::Internal(e.to_string()))?;
    let (name, bytes) = (row.name.clone(), row.bytes);
    let arrival = off_the_async_threads(move || workroom::read_arrival(&name, &bytes)).await?;
    Ok(Stored { asset: row.asset, file: row.name, sheet, arrival })
}

fn missing() -> Refusal {
    Refusal::elsewhere("figure", "is not on this server", "bring it again, or choose a size")
}

/// Refuses a choice of a figure that is not here.
pub async fn known(pool: &PgPool, hash: &str) -> Result<(), Failure> {
    check_hash(hash, missing)?;
    let found = sqlx::query_scalar!(r#"SELECT 1 AS "one!" FROM figures WHERE hash = $1"#, hash).fetch_optional(pool).await?;
    found.map(|_| ()).ok_or_else(|| missing().into())
}

/// The body of a stored figure.
pub async fn figure(pool: &PgPool, hash: &str) -> Result<body::Body, Failure> {
    let found = stored(pool, hash).await?;
    let hash = hash.to_owned();
    off_the_async_threads(move || workroom::foreign_figure(&hash, &found.arrival.raw, &found.sheet)).await
}
