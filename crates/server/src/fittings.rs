//! Kept drapes.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::error::Failure;
use crate::protocol::Air;
use crate::session::values::Snapshot;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use serde::Serialize;
use sqlx::PgPool;
use ts_rs::TS;
use workroom::{Fitting, KeptMesh};

/// Size of the picture on the rail, pixels.
pub(crate) const PICTURE: (usize, usize) = (420, 560);

#[derive(Clone, Debug, Serialize, TS)]
pub struct FittingRow {
    #[ts(type = "number")]
    pub id: i64,
    pub name: String,
    pub body: String,
    pub at_rest: bool,
    pub crossings: i32,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub kept_at: i64,
}

pub async fn list(State(app): State<App>, Path(costume): Path<i64>) -> Result<Json<Vec<FittingRow>>, Failure> {
    let rows = sqlx::query_as!(
        FittingRow,
        r#"SELECT id, name, at_rest, crossings, document #>> '{body,preset}' AS "body!",
                  (extract(epoch FROM kept_at) * 1000)::bigint AS "kept_at!"
           FROM fittings WHERE costume = $1 ORDER BY id DESC"#,
        costume
    )
    .fetch_all(&app.pool)
    .await?;
    Ok(Json(rows))
}

/// Stores a snapshot of a live drape with its picture.
pub async fn keep(pool: &PgPool, costume: i64, name: &str, snapshot: Snapshot) -> Result<i64, Failure> {
    let prints = crate::prints::shown(pool, &snapshot.assembly.costume).await?;
    let made = tokio::task::spawn_blocking(move || {
        let picture = workroom::picture(&snapshot.assembly, &snapshot.positions, &snapshot.fused, &prints, PICTURE, 24.0);
        (snapshot, picture)
    });
    let (snapshot, picture) = made.await.map_err(|e| Failure::Internal(e.to_string()))?;
    let document = crate::database::json(&snapshot.assembly.costume)?;
    let positions = crate::running::bytes_of(&snapshot.positions);
    let id = sqlx::query_scalar!(
        "INSERT INTO fittings (costume, name, document, positions, at_rest, crossings, picture, air, mesh)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) RETURNING id",
        costume,
        name,
        document as _,
        positions,
        snapshot.at_rest,
        snapshot.crossings as i32,
        picture,
        crate::database::json(&snapshot.air)? as _,
        KeptMesh::of(&snapshot.assembly).to_bytes()
    )
    .fetch_one(pool)
    .await?;
    Ok(id)
}

/// Reads a kept drape back, with the air it was draped in; those of earlier builds have none.
pub async fn load(pool: &PgPool, id: i64) -> Result<(Fitting, Option<Air>), Failure> {
    let row = sqlx::query!("SELECT document, positions, at_rest, air, mesh FROM fittings WHERE id = $1", id).fetch_optional(pool).await?;
    let row = row.ok_or(Failure::NotFound("fitting"))?;
    let costume = crate::database::read(row.document)?;
    let air = serde_json::from_value(row.air).unwrap_or_default();
    let mesh = row.mesh.as_deref().and_then(KeptMesh::from_bytes);
    Ok((Fitting { costume, positions: crate::running::positions(&row.positions), at_rest: row.at_rest, mesh }, air))
}

pub async fn picture(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let bytes = sqlx::query_scalar!("SELECT picture FROM fittings WHERE id = $1", id).fetch_optional(&app.pool).await?;
    let bytes = bytes.ok_or(Failure::NotFound("fitting"))?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "max-age=86400, immutable")], bytes))
}

/// A picture of the drape on the stand as it was last saved.
pub async fn running_picture(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let (kept, _) = crate::running::load(&app.pool, id).await?.ok_or(Failure::NotFound("drape"))?;
    let prints = crate::prints::shown(&app.pool, &kept.costume).await?;
    let forms = app.forms.clone();
    let picture = off_the_async_threads(move || {
        let assembly = forms.hang(&kept.costume)?;
        Ok(kept.positions_on(&assembly).map(|at| {
            let fused: Vec<u32> = (0..at.len() as u32).collect();
            workroom::picture(&assembly, &at, &fused, &prints, PICTURE, 24.0)
        }))
    });
    let picture = picture.await?.ok_or(Failure::NotFound("drape"))?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "max-age=86400, immutable")], picture))
}

pub async fn remove(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    sqlx::query!("DELETE FROM fittings WHERE id = $1", id).execute(&app.pool).await?;
    Ok(())
}
