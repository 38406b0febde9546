//! Drapes that are on the stand, saved every few seconds and found again when the server was stopped.

use crate::database::json;
use crate::error::Failure;
use crate::protocol::Air;
use costume::PieceId;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;
use tokio::runtime::Handle;
use workroom::{Fitting, KeptMesh};

/// Positions as they are stored: little-endian f32.
pub fn bytes_of(positions: &[[f32; 3]]) -> Vec<u8> {
    positions.iter().flatten().flat_map(|v| v.to_le_bytes()).collect()
}

/// Stored positions read back.
pub fn positions(bytes: &[u8]) -> Vec<[f32; 3]> {
    let value = |b: &[u8]| f32::from_le_bytes([b[0], b[1], b[2], b[3]]);
    bytes.chunks_exact(12).map(|p| [value(&p[0..4]), value(&p[4..8]), value(&p[8..12])]).collect()
}

/// What holds a drape.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Grip {
    /// Pieces that stand still as if they were body.
    pub held: BTreeSet<PieceId>,
    /// Vertices that are pinned.
    pub pins: Vec<u32>,
    pub air: Option<Air>,
    /// The body was on its way to the pose of the document.
    pub motion: Option<SavedMotion>,
}

/// How far a body has come on its way to another pose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct SavedMotion {
    /// The pose it comes from, degrees by bone.
    pub from: BTreeMap<String, [f64; 3]>,
    /// Frames of the whole way, and those that are done.
    pub frames: usize,
    pub done: usize,
}

/// Saves drapes without holding up the thread that simulates; one save at a time.
#[derive(Clone)]
pub struct Keeper {
    pool: PgPool,
    runtime: Handle,
    busy: Arc<AtomicBool>,
    failed: Arc<AtomicBool>,
}

impl Keeper {
    pub fn new(pool: PgPool, runtime: Handle) -> Self {
        Self { pool, runtime, busy: Arc::default(), failed: Arc::default() }
    }

    /// Whether a save has failed since this was asked last.
    pub fn has_failed(&self) -> bool {
        self.failed.swap(false, Ordering::AcqRel)
    }

    /// Waits for the save that is on its way.
    pub fn wait(&self) {
        for _ in 0..500 {
            if !self.busy.load(Ordering::Acquire) {
                return;
            }
            std::thread::sleep(Duration::from_millis(10));
        }
    }

    /// Saves in the background; false when the last save is still on its way.
    pub fn save(&self, id: i64, fitting: &Fitting, grip: &Grip) -> bool {
        if self.busy.swap(true, Ordering::AcqRel) {
            return false;
        }
        let (pool, busy, failed) = (self.pool.clone(), self.busy.clone(), self.failed.clone());
        let document = serde_json::to_value(&fitting.costume).unwrap_or_default();
        let (mesh, at_rest) = (fitting.mesh.as_ref().map(KeptMesh::to_bytes), fitting.at_rest);
        let bytes = bytes_of(&fitting.positions);
        let grip = serde_json::to_value(grip).unwrap_or_default();
        self.runtime.spawn(async move {
            if let Err(e) = store(&pool, id, document, (bytes, mesh), grip, at_rest).await {
                tracing::warn!("a drape could not be saved and will be tried again: {e}");
                failed.store(true, Ordering::Release);
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
    pub fn find(&self, id: i64) -> Option<(Fitting, Grip)> {
        self.runtime.block_on(load(&self.pool, id)).ok().flatten()
    }
}

async fn store(
    pool: &PgPool,
    id: i64,
    document: serde_json::Value,
    (positions, mesh): (Vec<u8>, Option<Vec<u8>>),
    grip: serde_json::Value,
    at_rest: bool,
) -> Result<(), sqlx::Error> {
    sqlx::query!(
        // a mesh is sent once for all saves that belong to it
        "INSERT INTO running (costume, document, positions, grip, at_rest, mesh) VALUES ($1, $2, $3, $4, $5, $6)
         ON CONFLICT (costume) DO UPDATE SET document = $2, positions = $3, grip = $4, at_rest = $5, mesh = coalesce($6, running.mesh),
           saved_at = now()",
        id,
        document,
        positions,
        grip,
        at_rest,
        mesh
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Stores the drape of a costume that has none yet.
pub async fn store_first(pool: &PgPool, id: i64, fitting: &Fitting) -> Result<(), Failure> {
    let bytes = bytes_of(&fitting.positions);
    sqlx::query!(
        "INSERT INTO running (costume, document, positions, grip, at_rest, mesh) VALUES ($1, $2, $3, '{}', $4, $5) ON CONFLICT DO NOTHING",
        id,
        json(&fitting.costume)? as _,
        bytes,
        fitting.at_rest,
        fitting.mesh.as_ref().map(KeptMesh::to_bytes)
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The saved drape of a costume.
pub async fn load(pool: &PgPool, id: i64) -> Result<Option<(Fitting, Grip)>, Failure> {
    let Some(row) =
        sqlx::query!("SELECT document, positions, grip, at_rest, mesh FROM running WHERE costume = $1", id).fetch_optional(pool).await?
    else {
        return Ok(None);
    };
    let unread = |e: serde_json::Error| Failure::Internal(e.to_string());
    let costume = costume::from_value(row.document).map_err(unread)?;
    let mesh = row.mesh.as_deref().and_then(KeptMesh::from_bytes);
    let fitting = Fitting { costume, positions: positions(&row.positions), at_rest: row.at_rest, mesh };
    Ok(Some((fitting, serde_json::from_value(row.grip).map_err(unread)?)))
}
