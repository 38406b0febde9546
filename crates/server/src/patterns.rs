//! Flat patterns for other programs and from them.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::download::Download;
use crate::drawing::flat_drawing;
use crate::error::Failure;
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Edit, Point, Refusal};
use formats::paper::Paper;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// The pieces as SVG at true scale.
pub async fn svg(State(app): State<App>, Path(id): Path<i64>) -> Result<Download, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let nothing = || Refusal::elsewhere("pattern", "has no piece yet", "draw a piece, or lay a block");
    off_the_async_threads(move || {
        let costume = &shown.document.costume;
        let text = workroom::pattern_svg(costume).ok_or_else(nothing)?;
        Ok(Download::of(&costume.name, "svg", text.into_bytes()))
    })
    .await
}

/// The pieces as DXF in the garment layering of ASTM D6673.
pub async fn dxf(State(app): State<App>, Path(id): Path<i64>) -> Result<Download, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    off_the_async_threads(move || {
        let costume = &shown.document.costume;
        Ok(Download::of(&costume.name, "dxf", workroom::pattern_dxf(costume)?))
    })
    .await
}

/// Paper that is printed on.
#[derive(Clone, Copy, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum PaperChoice {
    A4,
    A3,
    Letter,
    A0,
    /// A roll of `width` mm.
    Roll,
}

/// What the pieces are printed on.
#[derive(Deserialize)]
pub struct PrintRequest {
    paper: PaperChoice,
    #[serde(default)]
    width: Option<f64>,
    /// Keys of the sizes that lie in each other, between commas; the costume as it is without any.
    #[serde(default)]
    sizes: String,
}

/// Widths that rolls have, mm.
const ROLL: std::ops::RangeInclusive<f64> = 100.0..=5000.0;

/// The pieces at true scale on paper, as PDF.
pub async fn print(State(app): State<App>, Path(id): Path<i64>, Query(asked): Query<PrintRequest>) -> Result<Download, Failure> {
    let paper = match (asked.paper, asked.width) {
        (PaperChoice::A4, _) => Paper::A4,
        (PaperChoice::A3, _) => Paper::A3,
        (PaperChoice::Letter, _) => Paper::Letter,
        (PaperChoice::A0, _) => Paper::A0,
        (PaperChoice::Roll, Some(mm)) if ROLL.contains(&mm) => Paper::Roll(mm),
        (PaperChoice::Roll, _) => return Err(Refusal::elsewhere("paper", "is a roll without a width", "choose one of 10 to 500 cm").into()),
    };
    let shown = history::shown(&app.costumes, id).await?;
    off_the_async_threads(move || {
        let costume = &shown.document.costume;
        let sizes: Vec<costume::BodyChoice> =
            asked.sizes.split(',').filter(|key| !key.is_empty()).take(workroom::MOST_NESTED + 1).map(costume::BodyChoice::size).collect();
        let nested = workroom::in_sizes(costume, &sizes)?;
        Ok(Download::of(&costume.name, "pdf", workroom::pattern_pdf(costume, &nested, paper)?))
    })
    .await
}

/// The name of a file, and where its pieces are to lie, mm on the table.
#[derive(Deserialize)]
pub struct ReadRequest {
    name: String,
    #[serde(default)]
    x: f64,
    #[serde(default)]
    y: f64,
}

/// What a pattern file comes to.
#[derive(Serialize, TS)]
pub struct ReadPieces {
    /// Lays them on the table.
    pub edit: Edit,
    pub pieces: usize,
    /// What was not understood, with its place in the file.
    pub left_out: Vec<String>,
}

/// Reads a pattern file; nothing is changed until the edit is sent.
pub async fn read(Query(asked): Query<ReadRequest>, bytes: Result<Bytes, BytesRejection>) -> Result<Json<ReadPieces>, Failure> {
    let too_large = |_| Refusal::elsewhere("pattern file", "is larger than 16 MB", "part it into several files");
    let bytes = bytes.map_err(too_large)?;
    off_the_async_threads(move || {
        let name: String = asked.name.chars().filter(|c| !c.is_control()).take(120).collect();
        let found = workroom::pieces_from(&name, &bytes, Point::new(asked.x, asked.y))?;
        Ok(Json(ReadPieces { edit: found.edit, pieces: found.pieces, left_out: found.left_out }))
    })
    .await
}

/// A small drawing of the pieces as they were at a step of the history; steps never change.
pub async fn step_picture(State(app): State<App>, Path((id, step)): Path<(i64, i32)>) -> Result<impl IntoResponse, Failure> {
    let document = history::document(&app.costumes, id, step).await?;
    let drawn = off_the_async_threads(move || Ok(flat_drawing(&document.costume))).await?;
    Ok(([(header::CONTENT_TYPE, "image/svg+xml"), (header::CACHE_CONTROL, "private, max-age=31536000, immutable")], drawn))
}
