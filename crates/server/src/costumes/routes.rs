//! One costume over HTTP: its state with measured lengths, edits, steps along the history, the open file.

use super::change::{CostumeChange, CostumeState};
use super::document::{Document, Shown};
use super::history::{self, HistoryStep, Outcome, Travel};
use crate::app::App;
use crate::background::off_the_async_threads;
use crate::download::Download;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, Query, State};
use costume::{Costume, Edit, PieceId, Refusal};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// An edit as the browser sends it.
#[derive(Debug, Deserialize, TS)]
pub struct EditRequest {
    /// The step that the edit was made on.
    pub base: i32,
    /// Chosen by the browser, so that an edit sent twice counts once.
    pub key: String,
    pub edit: Edit,
}

/// An undo or a redo as the browser sends it.
#[derive(Debug, Deserialize, TS)]
pub struct TravelRequest {
    /// The step that was seen when it was asked for.
    pub base: i32,
    /// Chosen by the browser, so that one sent twice counts once.
    pub key: String,
}

/// Longest key of a request.
const KEY: usize = 64;

fn check_key(key: &str) -> Result<(), Refusal> {
    if key.is_empty() || key.len() > KEY || !key.bytes().all(|b| b.is_ascii_graphic() || b == b' ') {
        return Err(Refusal::elsewhere("key", "is no key of a request", format!("send 1 to {KEY} letters, digits and signs")));
    }
    Ok(())
}

/// A step to be shown, as the browser asks for it.
#[derive(Debug, Deserialize, TS)]
pub struct GoRequest {
    /// The step that was seen when it was asked for.
    pub base: i32,
    /// Chosen by the browser, so that one sent twice counts once.
    pub key: String,
    /// Any step of the history, also on another branch.
    pub step: i32,
}

/// A costume as it is told to a window.
#[derive(Serialize, TS)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum Told {
    Whole(CostumeState),
    Changed(CostumeChange),
}

/// The step that a window knows.
#[derive(Deserialize)]
pub struct Known {
    since: Option<i32>,
}

pub async fn show(State(app): State<App>, Path(id): Path<i64>, Query(known): Query<Known>) -> Result<Json<Told>, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    Ok(Json(match known.since {
        // a step that is not there is answered with the whole
        Some(step) if let Ok(before) = history::document(&app.costumes, id, step).await => told(step, before, shown).await?,
        _ => off_the_async_threads(move || Ok(Told::Whole(CostumeState::new(&shown)))).await?,
    }))
}

async fn told(since: i32, before: std::sync::Arc<Document>, shown: Shown) -> Result<Told, Failure> {
    off_the_async_threads(move || Ok(Told::Changed(CostumeChange::new(since, &before, &shown)))).await
}

/// The whole state of a costume.
pub async fn state(app: &App, id: i64) -> Result<Json<CostumeState>, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    off_the_async_threads(move || Ok(Json(CostumeState::new(&shown)))).await
}

/// The steps of the history, so that any can be returned to.
pub async fn steps(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<HistoryStep>>, Failure> {
    Ok(Json(history::steps(&app.pool, id).await?))
}

pub async fn edit(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<EditRequest>) -> Result<Json<Told>, Failure> {
    check_key(&request.key)?;
    for hash in figures_of(&request.edit) {
        crate::figure_store::known(&app.pool, hash).await?;
    }
    for asset in pictures_of(&request.edit) {
        crate::scans::known(&app, asset).await?;
    }
    announce(&app, request.base, history::edit(&app.costumes, id, request.base, &request.key, request.edit).await?).await
}

/// The imported figures that an edit names.
fn figures_of(edit: &Edit) -> Vec<&str> {
    match edit {
        Edit::ChooseBody { body } => body.figure.as_deref().into_iter().collect(),
        Edit::Batch { edits } => edits.iter().flat_map(figures_of).collect(),
        _ => Vec::new(),
    }
}

/// The pictures that an edit lays under the paper.
fn pictures_of(edit: &Edit) -> Vec<&str> {
    match edit {
        Edit::LayUnderlay { underlay } => vec![&underlay.asset],
        Edit::ChangeFabric { print: Some(print), .. } => print.image.as_deref().into_iter().collect(),
        Edit::Batch { edits } => edits.iter().flat_map(pictures_of).collect(),
        _ => Vec::new(),
    }
}

async fn travel(app: &App, id: i64, base: i32, key: &str, way: Travel) -> Result<Json<Told>, Failure> {
    check_key(key)?;
    announce(app, base, history::travel(&app.costumes, id, base, key, way).await?).await
}

pub async fn undo(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<TravelRequest>) -> Result<Json<Told>, Failure> {
    travel(&app, id, request.base, &request.key, Travel::Back).await
}

pub async fn redo(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<TravelRequest>) -> Result<Json<Told>, Failure> {
    travel(&app, id, request.base, &request.key, Travel::On).await
}

pub async fn go(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<GoRequest>) -> Result<Json<Told>, Failure> {
    travel(&app, id, request.base, &request.key, Travel::To(request.step)).await
}

/// Tells the live drape and all windows what was done since a step.
async fn announce(app: &App, since: i32, outcome: Outcome) -> Result<Json<Told>, Failure> {
    let Outcome::Done(shown) = outcome else { return Err(Failure::Stale) };
    let before = history::document(&app.costumes, shown.id, since).await?;
    let told = told(since, before, shown.clone()).await?;
    if let Told::Changed(change) = &told {
        app.sessions.changed(&shown, change);
    }
    Ok(Json(told))
}

/// Which pieces are copied, as `1,2,3`.
#[derive(Debug, Deserialize)]
pub struct ClipRequest {
    pieces: String,
}

/// Some pieces as a document of their own, to be pasted into this or another costume.
pub async fn clip(State(app): State<App>, Path(id): Path<i64>, Query(wanted): Query<ClipRequest>) -> Result<Json<Costume>, Failure> {
    let pieces: Result<Vec<PieceId>, _> = wanted.pieces.split(',').map(|p| p.parse().map(PieceId)).collect();
    let unread = || Refusal::elsewhere("clip", "names no pieces", "send their numbers with commas between them");
    let pieces = pieces.ok().filter(|p| p.len() <= costume::limits::PIECES).ok_or_else(unread)?;
    let shown = history::shown(&app.costumes, id).await?;
    off_the_async_threads(move || Ok(Json(costume::clip(&shown.document.costume, &pieces)))).await
}

pub async fn file(State(app): State<App>, Path(id): Path<i64>) -> Result<Download, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let costume = &shown.document.costume;
    Ok(Download::of(&costume.name, "ourlet.json", costume::write(costume)?.into_bytes()))
}
