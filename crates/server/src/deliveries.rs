//! Mesh files of the live drape.

use crate::app::App;
use crate::costumes::history;
use crate::download::Download;
use crate::error::Failure;
use axum::extract::{Path, Query, State};
use costume::Refusal;
use serde::Deserialize;
use workroom::{DeliverOptions, FileKind, Layout, ThickSide, Unit, deliver as make};

/// The options as a query string.
#[derive(Deserialize)]
pub struct Wanted {
    kind: FileKind,
    welded: bool,
    layout: Layout,
    with_body: bool,
    #[serde(default)]
    unit: Unit,
    #[serde(default)]
    z_up: bool,
    #[serde(default)]
    smooth: u8,
    #[serde(default)]
    thickness: f64,
    #[serde(default)]
    side: ThickSide,
}

/// One of the files of the delivery, by its name (`rakers-tabard.obj`, `rakers-tabard.mtl`, `rakers-tabard.glb`).
pub async fn deliver(
    State(app): State<App>,
    Path((id, file)): Path<(i64, String)>,
    Query(wanted): Query<Wanted>,
) -> Result<Download, Failure> {
    let nothing =
        || Failure::Refused(Refusal::elsewhere("drape", "there is nothing draped yet", "drape the costume, or open one of its fittings"));
    let shown = history::shown(&app.costumes, id).await?;
    let snapshot = app.sessions.snapshot(&shown).await?.ok_or_else(nothing)?;
    let Wanted { kind, welded, layout, with_body, unit, z_up, smooth, thickness, side } = wanted;
    let options = DeliverOptions { kind, welded, layout, with_body, unit, z_up, smooth, thickness, side };
    let stem = crate::download::file_stem(&snapshot.assembly.costume.name);
    let work = tokio::task::spawn_blocking(move || make(&snapshot.assembly, &snapshot.positions, &snapshot.fused, &options, &stem));
    let delivery = work.await.map_err(|e| Failure::Internal(e.to_string()))??;
    let (name, bytes) = delivery.files.into_iter().find(|(name, _)| *name == file).ok_or(Failure::NotFound("file"))?;
    Ok(Download::named(name, bytes))
}
