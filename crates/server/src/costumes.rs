//! One costume: its state with measured lengths, edits, undo and redo, the open file.

use crate::error::Failure;
use crate::history::{self, Outcome, Shown};
use crate::pattern_view::PatternView;
use crate::state::{App, off_the_async_threads};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Edit, Fault, Refusal, resolve};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// What the browser shows of a costume.
#[derive(Debug, Serialize, TS)]
pub struct CostumeState {
    #[ts(type = "number")]
    pub id: i64,
    #[ts(type = "number")]
    pub production: i64,
    pub costume: Costume,
    pub step: i32,
    /// Grows with every change, also by undo and redo: an answer with a lower one is older.
    #[ts(type = "number")]
    pub version: i64,
    pub can_undo: bool,
    pub can_redo: bool,
    /// What the document comes to.
    pub pattern: PatternView,
    pub faults: Vec<Fault>,
}

impl CostumeState {
    pub fn new(id: i64, shown: Shown) -> Self {
        let costume = shown.costume;
        let pattern = resolve(&costume);
        Self {
            id,
            production: shown.production,
            step: shown.step,
            version: shown.version,
            can_undo: shown.step > 0,
            can_redo: shown.step < shown.last,
            pattern: PatternView::new(&pattern),
            faults: workroom::faults_of(&costume, &pattern),
            costume,
        }
    }
}

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
        return Err(Refusal::new("key", "is no key of a request", format!("send 1 to {KEY} letters, digits and signs")));
    }
    Ok(())
}

/// The state with its lengths and faults, which take a while to reckon.
pub async fn state(id: i64, shown: Shown) -> Result<CostumeState, Failure> {
    off_the_async_threads(move || Ok(CostumeState::new(id, shown))).await
}

pub async fn show(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<CostumeState>, Failure> {
    Ok(Json(state(id, history::shown(&app.pool, id).await?).await?))
}

pub async fn edit(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<EditRequest>) -> Result<Json<CostumeState>, Failure> {
    check_key(&request.key)?;
    for hash in figures_of(&request.edit) {
        crate::figures::known(&app.pool, hash).await?;
    }
    announce(&app, id, history::edit(&app.pool, id, request.base, &request.key, request.edit).await?).await
}

/// The imported figures that an edit names.
fn figures_of(edit: &Edit) -> Vec<&str> {
    match edit {
        Edit::ChooseBody { body } => body.figure.as_deref().into_iter().collect(),
        Edit::Batch { edits } => edits.iter().flat_map(figures_of).collect(),
        _ => Vec::new(),
    }
}

pub async fn undo(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<TravelRequest>) -> Result<Json<CostumeState>, Failure> {
    check_key(&request.key)?;
    announce(&app, id, history::travel(&app.pool, id, request.base, &request.key, -1).await?).await
}

pub async fn redo(State(app): State<App>, Path(id): Path<i64>, Json(request): Json<TravelRequest>) -> Result<Json<CostumeState>, Failure> {
    check_key(&request.key)?;
    announce(&app, id, history::travel(&app.pool, id, request.base, &request.key, 1).await?).await
}

/// Tells the live drape and the other windows what was done.
async fn announce(app: &App, id: i64, outcome: Outcome) -> Result<Json<CostumeState>, Failure> {
    match outcome {
        Outcome::Done(shown) => {
            app.sessions.changed(id, &shown.costume, shown.version);
            Ok(Json(state(id, shown).await?))
        }
        Outcome::Stale(shown) => Err(Failure::Stale(Box::new(state(id, shown).await?))),
    }
}

pub async fn file(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let shown = history::shown(&app.pool, id).await?;
    let name = file_stem(&shown.costume.name);
    let headers = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}.ourlet.json\"")),
    ];
    Ok((headers, costume::write(&shown.costume)?))
}

/// A costume's name as a plain file name.
pub fn file_stem(name: &str) -> String {
    let mut stem = String::new();
    for c in name.to_lowercase().chars().filter(|c| *c != '\'') {
        if c.is_ascii_alphanumeric() {
            stem.push(c);
        } else if !stem.ends_with('-') && !stem.is_empty() {
            stem.push('-');
        }
    }
    let stem = stem.trim_end_matches('-');
    if stem.is_empty() { "costume".into() } else { stem.into() }
}

#[cfg(test)]
mod tests {
    #[test]
    fn file_names_are_plain() {
        assert_eq!(super::file_stem("Raker's tabard"), "rakers-tabard");
        assert_eq!(super::file_stem("  ../..\"; "), "costume");
    }
}
