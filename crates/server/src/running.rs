//! Drapes that are on the stand, saved every few seconds and found again when the server was stopped.

use crate::error::Failure;
use crate::state::{App, off_the_async_threads};
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::Costume;
use sqlx::PgPool;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use tokio::runtime::Handle;
use workroom::Fitting;

/// Saves drapes without holding up the thread that simulates; one save at a time.
#[derive(Clone)]
pub struct Keeper {
    pool: PgPool,
    runtime: Handle,
    busy: Arc<AtomicBool>,
}

impl Keeper {
    pub fn new(pool: PgPool, runtime: Handle) -> Self {
        Self { pool, runtime, busy: Arc::default() }
    }

    /// Saves in the background; false when the last save is still on its way.
    pub fn save(&self, id: i64, costume: &Costume, positions: &[[f32; 3]], at_rest: bool) -> bool {
        if self.busy.swap(true, Ordering::AcqRel) {
            return false;
        }
        let (pool, busy) = (self.pool.clone(), self.busy.clone());
        let document = serde_json::to_value(costume).unwrap_or_default();
        let bytes: Vec<u8> = positions.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        self.runtime.spawn(async move {
            if let Err(e) = store(&pool, id, document, bytes, at_rest).await {
                tracing::warn!("a drape could not be saved: {e}");
            }
            busy.store(false, Ordering::Release);
        });
        true
    }

    /// Forgets the drape of a costume, because it hangs afresh.
    pub fn forget(&self, id: i64) {
        let pool = self.pool.clone();
        self.runtime.spawn(async move {
            let _ = sqlx::query!("DELETE FROM running WHERE costume = $1", id).execute(&pool).await;
        });
    }

    /// The saved drape; blocks, so call it off the async threads.
    pub fn find(&self, id: i64) -> Option<Fitting> {
        self.runtime.block_on(load(&self.pool, id)).ok().flatten()
    }
}

/// A picture of the drape on the stand as it was last saved.
pub async fn picture(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let kept = load(&app.pool, id).await?.ok_or(Failure::NotFound("drape"))?;
    let forms = app.forms.clone();
    let picture = off_the_async_threads(move || {
        let assembly = workroom::assemble(&kept.costume, &forms.of(&kept.costume)?)?;
        let fused: Vec<u32> = (0..kept.positions.len() as u32).collect();
        let (width, height) = crate::fittings::PICTURE;
        Ok(kept.fits(&assembly).then(|| workroom::picture(&assembly, &kept.positions, &fused, width, height, 24.0)))
    });
    let picture = picture.await?.ok_or(Failure::NotFound("drape"))?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "max-age=86400, immutable")], picture))
}

async fn store(pool: &PgPool, id: i64, document: serde_json::Value, positions: Vec<u8>, at_rest: bool) -> Result<(), sqlx::Error> {
    sqlx::query!(
        "INSERT INTO running (costume, document, positions, at_rest) VALUES ($1, $2, $3, $4)
         ON CONFLICT (costume) DO UPDATE SET document = $2, positions = $3, at_rest = $4, saved_at = now()",
        id,
        document,
        positions,
        at_rest
    )
    .execute(pool)
    .await?;
    Ok(())
}

async fn load(pool: &PgPool, id: i64) -> Result<Option<Fitting>, Failure> {
    let row = sqlx::query!("SELECT document, positions, at_rest FROM running WHERE costume = $1", id).fetch_optional(pool).await?;
    let read = |row: (serde_json::Value, Vec<u8>, bool)| {
        let costume = serde_json::from_value(row.0).map_err(|e| Failure::Internal(e.to_string()))?;
        Ok(Fitting { costume, positions: crate::fittings::positions(&row.1), at_rest: row.2 })
    };
    row.map(|r| read((r.document, r.positions, r.at_rest))).transpose()
}
