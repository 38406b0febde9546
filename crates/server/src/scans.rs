//! Pictures of patterns under the paper: stored once by content hash, shown as they are, traced.

use crate::app::App;
use crate::asset_store::{bytes_of, hash_of, keep, known as bytes_known};
use crate::costumes::document::Document;
use crate::costumes::history;
use crate::error::Failure;
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Edit, Point, Refusal, Underlay, UnderlayId};
use formats::{ReadFault, ScanKind, scan_grey, scan_kind, scan_limits, scan_pages, scan_png};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use ts_rs::TS;
use workroom::{ruler_ticks, trace_outline};

#[derive(Deserialize)]
pub struct FileName {
    name: String,
}

/// A page that can be laid under the paper.
#[derive(Serialize, TS)]
pub struct ScanPageState {
    pub pixels: [usize; 2],
    /// Dots per inch, where the file tells.
    pub dpi: Option<f64>,
}

/// A picture that was brought.
#[derive(Serialize, TS)]
pub struct ScanState {
    pub asset: String,
    pub name: String,
    pub pages: Vec<ScanPageState>,
}

fn unreadable(name: &str, fault: &ReadFault) -> Refusal {
    let remedy = match fault {
        ReadFault::TooMany { .. } => "bring it smaller, or its pages apart",
        ReadFault::Unsupported(_) => "bring a PNG, a JPEG or a PDF",
        _ => "write or scan it anew",
    };
    Refusal::elsewhere(name, fault.to_string(), remedy)
}

/// Takes a picture in; what is refused leaves nothing behind.
pub async fn add(
    State(app): State<App>,
    Query(file): Query<FileName>,
    bytes: Result<Bytes, BytesRejection>,
) -> Result<Json<ScanState>, Failure> {
    let plain: String = file.name.chars().filter(|c| !c.is_control()).take(costume::limits::NAME).collect();
    let name = if costume::is_name(&plain) { plain } else { "Picture".to_owned() };
    let limit = scan_limits::FILE_BYTES >> 20;
    let too_large = |_| Refusal::elsewhere(&name, format!("is larger than {limit} MB"), "bring it smaller");
    let bytes = bytes.map_err(too_large)?;
    let (read, called) = (bytes.clone(), name.clone());
    // every pixel is looked at once, so that what is kept can be shown and traced
    let job = move || {
        let pages = scan_pages(&read).and_then(|pages| scan_grey(&read, 0).map(|_| pages));
        pages.map_err(|fault| unreadable(&called, &fault))
    };
    let pages = app.scans.read(&name, job).await?;
    let asset = hash_of(&[&bytes]);
    keep(&app.pool, &asset, &name, &bytes).await?;
    let pages = pages.iter().map(|p| ScanPageState { pixels: [p.width, p.height], dpi: p.dpi }).collect();
    Ok(Json(ScanState { asset, name, pages }))
}

fn missing() -> Refusal {
    Refusal::elsewhere("picture", "is not on this server", "bring its file again")
}

/// Refuses to lay a picture that is not here.
pub async fn known(app: &App, asset: &str) -> Result<(), Failure> {
    bytes_known(&app.pool, asset, missing).await
}

/// A picture, or a page of a PDF as one.
pub async fn picture(State(app): State<App>, Path((asset, page)): Path<(String, usize)>) -> Result<impl IntoResponse, Failure> {
    let bytes = bytes_of(&app.pool, &asset, missing).await?;
    let job = move || {
        let drawn = scan_kind(&bytes).and_then(|kind| match kind {
            ScanKind::Png => Ok(("image/png", bytes)),
            ScanKind::Jpeg => Ok(("image/jpeg", bytes)),
            ScanKind::Pdf => Ok(("image/png", scan_png(&bytes, page)?)),
        });
        drawn.map_err(|fault| unreadable("picture", &fault))
    };
    let (kind, bytes) = app.scans.read("picture", job).await?;
    Ok(([(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, "private, max-age=31536000, immutable")], bytes))
}

/// A picture of a costume with its pixels.
async fn laid(app: &App, id: i64, underlay: UnderlayId) -> Result<(Underlay, Arc<trace::Grey>, Arc<Document>), Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let found = find(&document.costume, underlay)?.clone();
    let bytes = bytes_of(&app.pool, &found.asset, missing).await?;
    let (key, page, name, pixels) = ((found.asset.clone(), found.page), found.page as usize, found.name.clone(), app.pixels.clone());
    let job = move || pixels.get(key, || scan_grey(&bytes, page).map(Arc::new).map_err(|fault| unreadable(&name, &fault)));
    let picture = app.scans.read(&found.name, job).await?;
    Ok((found, picture, document))
}

fn find(costume: &Costume, id: UnderlayId) -> Result<&Underlay, Refusal> {
    let gone = || Refusal::elsewhere("picture", "is no longer under the paper", "lay it again");
    costume.underlays.iter().find(|u| u.id == id).ok_or_else(gone)
}

/// Where to trace, mm on the table.
#[derive(Deserialize)]
pub struct TraceRequest {
    underlay: UnderlayId,
    at: Point,
}

/// An outline that was found; nothing is changed until the edit is sent.
#[derive(Serialize, TS)]
pub struct Traced {
    pub edit: Edit,
    /// Corners of the outline.
    pub corners: usize,
    /// mm².
    pub area: f64,
    /// Widest gap that was bridged, mm.
    pub bridged: f64,
}

/// The outline around a place.
pub async fn outline(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<TraceRequest>) -> Result<Json<Traced>, Failure> {
    let (underlay, picture, document) = laid(&app, id, asked.underlay).await?;
    let name = underlay.name.clone();
    let job = move || {
        let found = trace_outline(&picture, &underlay, asked.at)?;
        let name = format!("Piece {}", document.costume.pieces.len() + 1);
        let (corners, area, bridged) = (found.points.len(), found.area, found.bridged);
        let edit = Edit::AddPiece { name, at: found.at, points: found.points, fold: None };
        // what the document would refuse is told now, not when it is taken
        workroom::apply(&document.costume, &edit)?;
        Ok(Json(Traced { edit, corners, area, bridged }))
    };
    app.scans.read(&name, job).await
}

/// A line along a ruler, mm on the table.
#[derive(Deserialize)]
pub struct RulerRequest {
    underlay: UnderlayId,
    from: Point,
    to: Point,
}

/// The even ticks that a line crosses.
#[derive(Serialize, TS)]
pub struct RulerTicks {
    pub count: usize,
    /// mm on the table, as the picture lies now.
    pub spacing: f64,
}

/// The ticks of a ruler along a line.
pub async fn ruler(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<RulerRequest>) -> Result<Json<RulerTicks>, Failure> {
    let (underlay, picture, _) = laid(&app, id, asked.underlay).await?;
    let name = underlay.name.clone();
    let job =
        move || ruler_ticks(&picture, &underlay, asked.from, asked.to).map(|t| Json(RulerTicks { count: t.count, spacing: t.spacing }));
    app.scans.read(&name, job).await
}
