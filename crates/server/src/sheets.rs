//! What is told of the live drape as a whole: the fitting sheet, and what its mesh is like.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::deliveries::{draped, nothing};
use crate::download::{Download, file_stem};
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use workroom::{EaseKind, MeshCheck, sheet_pdf, sheet_pictures, wanted_ranges};

/// The sheet as `pdf` or `json`.
pub async fn sheet(State(app): State<App>, Path((id, ending)): Path<(i64, String)>) -> Result<Download, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let (sheet, snapshot) = app.sessions.sheet(&shown).await?.ok_or_else(nothing)?;
    let name = format!("{}-fitting.{ending}", file_stem(&sheet.report.costume));
    if ending != "pdf" && ending != "json" {
        return Err(Failure::NotFound("file"));
    }
    let made = tokio::task::spawn_blocking(move || {
        if ending == "json" {
            return serde_json::to_vec_pretty(&sheet).map_err(|e| e.to_string());
        }
        let pictures = sheet_pictures(&snapshot.assembly, &snapshot.positions, &snapshot.fused);
        sheet_pdf(&sheet, &pictures)
    });
    let bytes = made.await.map_err(|e| Failure::Internal(e.to_string()))?.map_err(Failure::Internal)?;
    Ok(Download::named(name, bytes))
}

/// What the mesh of the drape is like, welded.
pub async fn mesh(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<MeshCheck>, Failure> {
    let snapshot = draped(&app, id).await?;
    off_the_async_threads(move || Ok(Json(MeshCheck::of_drape(&snapshot.assembly, &snapshot.positions, &snapshot.fused)))).await
}

/// The usual ease of a kind of garment, mm by the key of the girth.
pub async fn usual_ease(Path(kind): Path<EaseKind>) -> Json<std::collections::BTreeMap<String, [f64; 2]>> {
    Json(wanted_ranges(kind))
}
