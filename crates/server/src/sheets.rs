//! What is told of the live drape as a whole: the fitting sheet, and what its mesh is like.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::download::{Download, file_stem};
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use costume::Refusal;
use workroom::{EaseKind, MeshCheck, sheet_pdf, sheet_pictures, wanted_ranges};

fn nothing() -> Failure {
    Refusal::elsewhere("drape", "there is nothing draped yet", "drape the costume, or open one of its fittings").into()
}

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
    let shown = history::shown(&app.costumes, id).await?;
    let snapshot = app.sessions.snapshot(&shown).await?.ok_or_else(nothing)?;
    off_the_async_threads(move || {
        let fused = &snapshot.fused;
        let welded: Vec<[u32; 3]> = snapshot.assembly.scene.triangles.iter().map(|t| t.map(|v| fused[v as usize])).collect();
        // vertices that were welded into others are none of the mesh
        let mut number = vec![u32::MAX; fused.len()];
        let mut positions = Vec::new();
        for (v, root) in fused.iter().enumerate() {
            if *root == v as u32 {
                number[v] = positions.len() as u32;
                positions.push(snapshot.positions[v]);
            }
        }
        let triangles: Vec<[u32; 3]> = welded.iter().map(|t| t.map(|v| number[v as usize])).collect();
        Ok(Json(MeshCheck::of(&positions, &triangles, Some(&snapshot.assembly.form))))
    })
    .await
}

/// The usual ease of a kind of garment, mm by the key of the girth.
pub async fn usual_ease(Path(kind): Path<EaseKind>) -> Json<std::collections::BTreeMap<String, [f64; 2]>> {
    Json(wanted_ranges(kind))
}
