//! What could be sewn and where pieces could hang: proposals, which change nothing until they are taken.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, Query, State};
use costume::{LineId, PieceId, Walked};
use serde::Deserialize;
use std::collections::BTreeSet;
use workroom::{Hanging, Proposal};

/// The line whose partners are looked for; all that fits when it names none.
#[derive(Debug, Deserialize)]
pub struct Asked {
    piece: Option<u32>,
    line: Option<u32>,
}

/// Likely seams: of one line, best first, or of the whole costume in the order in which they would be sewn.
pub async fn proposals(State(app): State<App>, Path(id): Path<i64>, Query(asked): Query<Asked>) -> Result<Json<Vec<Proposal>>, Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let form = forms.of(&document.costume, &BTreeSet::new())?;
        let found = match (asked.piece, asked.line) {
            (Some(piece), Some(line)) => workroom::partners(&document.costume, &document.pattern, &form, PieceId(piece), LineId(line)),
            _ => workroom::what_fits(&document.costume, &form),
        };
        Ok(Json(found))
    })
    .await
}

/// A seam, and how far its sides are walked.
#[derive(Debug, Deserialize)]
pub struct Walk {
    seam: u32,
    /// Of both sides, mm; beyond their ends it counts as their ends.
    by: f64,
}

/// Where the piece of side b lies when it is walked along side a; nothing when the seam is gone.
pub async fn walks(State(app): State<App>, Path(id): Path<i64>, Query(walk): Query<Walk>) -> Result<Json<Option<Walked>>, Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let seam = document.pattern.seams.iter().find(|s| s.id.0 == walk.seam && !s.image);
    Ok(Json(seam.filter(|_| walk.by.is_finite()).and_then(|s| costume::walk(&document.pattern, s, walk.by))))
}

/// Whether pieces that hang already are given a place as well.
#[derive(Debug, Deserialize)]
pub struct Which {
    #[serde(default)]
    all: bool,
}

/// A place on the body for every piece, from seams, names, twins and the body.
pub async fn hangings(State(app): State<App>, Path(id): Path<i64>, Query(which): Query<Which>) -> Result<Json<Vec<Hanging>>, Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let form = forms.of(&document.costume, &BTreeSet::new())?;
        Ok(Json(workroom::hang_by_seams(&document.costume, &form, which.all)))
    })
    .await
}
