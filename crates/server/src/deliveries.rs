//! Mesh files of the live drape.

use crate::app::App;
use crate::costumes::history;
use crate::download::{Download, file_stem};
use crate::error::Failure;
use crate::session::values::Snapshot;
use axum::Json;
use axum::extract::{Path, Query, State};
use costume::Refusal;
use workroom::{DeliverOptions, DeliveryManifest, DeliveryPreview, deliver as make, delivery_preview};

/// How the name of a manifest ends, and that of an archive.
const MANIFEST: &str = ".manifest.json";
const ARCHIVE: &str = ".zip";

/// One of the files of the delivery, by its name (`rakers-tabard.obj`, `rakers-tabard.mtl`, `rakers-tabard.glb`), or all of them in
/// one archive.
pub async fn deliver(
    State(app): State<App>,
    Path((id, file)): Path<(i64, String)>,
    Query(options): Query<DeliverOptions>,
) -> Result<Download, Failure> {
    if file.ends_with(MANIFEST) {
        return manifest(&app, id, options).await;
    }
    let snapshot = draped(&app, id).await?;
    let stem = file_stem(&snapshot.assembly.costume.name);
    let archive = format!("{stem}{ARCHIVE}");
    let prints = crate::prints::of(&app.pool, &snapshot.assembly.costume).await?;
    let work =
        tokio::task::spawn_blocking(move || make(&snapshot.assembly, &snapshot.positions, &snapshot.fused, &options, &prints, &stem));
    let delivery = work.await.map_err(|e| Failure::Internal(e.to_string()))??;
    if file == archive {
        let files: Vec<(&str, &[u8])> = delivery.files.iter().map(|(name, bytes)| (name.as_str(), bytes.as_slice())).collect();
        return Ok(Download::named(archive, formats::archive(&files)));
    }
    let (name, bytes) = delivery.files.into_iter().find(|(name, _)| *name == file).ok_or(Failure::NotFound("file"))?;
    Ok(Download::named(name, bytes))
}

/// What was delivered, with the checks of the drape.
async fn manifest(app: &App, id: i64, options: DeliverOptions) -> Result<Download, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let (sheet, snapshot) = app.sessions.sheet(&shown).await?.ok_or_else(nothing)?;
    let stem = file_stem(&snapshot.assembly.costume.name);
    let name = format!("{stem}{MANIFEST}");
    let prints = crate::prints::of(&app.pool, &snapshot.assembly.costume).await?;
    let work = tokio::task::spawn_blocking(move || {
        let Snapshot { assembly, positions, fused, .. } = &snapshot;
        let mesh = delivery_preview(assembly, positions, fused, &options, &prints, &stem)?;
        let manifest = DeliveryManifest::of(&assembly.costume, &sheet.report, &options, &mesh);
        serde_json::to_vec_pretty(&manifest).map_err(|e| Failure::Internal(e.to_string()))
    });
    let text = work.await.map_err(|e| Failure::Internal(e.to_string()))??;
    Ok(Download::named(name, text))
}

/// What the options come to, without a file.
pub async fn preview(
    State(app): State<App>,
    Path(id): Path<i64>,
    Query(options): Query<DeliverOptions>,
) -> Result<Json<DeliveryPreview>, Failure> {
    let snapshot = draped(&app, id).await?;
    let stem = file_stem(&snapshot.assembly.costume.name);
    let prints = crate::prints::of(&app.pool, &snapshot.assembly.costume).await?;
    let make = move || delivery_preview(&snapshot.assembly, &snapshot.positions, &snapshot.fused, &options, &prints, &stem);
    let work = tokio::task::spawn_blocking(make);
    Ok(Json(work.await.map_err(|e| Failure::Internal(e.to_string()))??))
}

/// The drape of a costume as it hangs.
pub(crate) async fn draped(app: &App, id: i64) -> Result<Snapshot, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    app.sessions.snapshot(&shown).await?.ok_or_else(nothing)
}

/// There is no drape to speak of.
pub(crate) fn nothing() -> Failure {
    Refusal::elsewhere("drape", "there is nothing draped yet", "drape the costume, or open one of its fittings").into()
}
