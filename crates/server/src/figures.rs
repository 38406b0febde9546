//! Figures from elsewhere: stored once by content hash, corrected by sheets, shared by all costumes.

use crate::app::App;
use crate::asset_store::{hash_of, keep};
use crate::background::off_the_async_threads;
use crate::error::Failure;
use crate::figure_store::stored;
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, Query, State};
use body::{FigureSheet, Flaws, landmark_names};
use costume::Refusal;
use formats::figure_limits::FILE_BYTES;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;
use workroom::ImportedFigure;

#[derive(Deserialize)]
pub struct FileName {
    name: String,
}

#[derive(Serialize, TS)]
pub struct LandmarkOffer {
    pub key: String,
    pub name: String,
    /// mm, on the stand.
    pub at: [f64; 3],
}

#[derive(Serialize, TS)]
pub struct MotionOffer {
    pub name: String,
    pub frames: usize,
}

impl FileName {
    /// As it is told and kept: short and without control characters.
    pub fn plain(&self) -> String {
        self.name.chars().filter(|c| !c.is_control()).take(120).collect()
    }
}

/// A figure with what there is to correct.
#[derive(Serialize, TS)]
pub struct FigureState {
    pub hash: String,
    /// The name of the file it came in.
    pub file: String,
    pub sheet: FigureSheet,
    pub flaws: Flaws,
    /// What the file also holds and was not taken over, in words.
    pub left_out: Vec<String>,
    /// As it stands now, mm.
    pub height: f64,
    pub vertices: usize,
    pub triangles: usize,
    /// Triangles of the skin that cloth meets.
    pub contact_triangles: usize,
    pub bones: usize,
    pub motions: Vec<MotionOffer>,
    pub landmarks: Vec<LandmarkOffer>,
}

/// A figure that other costumes may wear.
#[derive(Serialize, TS)]
pub struct FigureRow {
    pub hash: String,
    pub name: String,
    pub file: String,
}

/// The refusal of a file that is too large to be taken at all.
fn too_large(name: &str) -> Failure {
    let limit = FILE_BYTES >> 20;
    Refusal::elsewhere(name, format!("is larger than the {limit} MB that are read"), "bring a lighter version of the figure").into()
}

/// Takes a file in; what is refused leaves nothing behind.
pub async fn add(
    State(app): State<App>,
    Query(file): Query<FileName>,
    bytes: Result<Bytes, BytesRejection>,
) -> Result<Json<FigureState>, Failure> {
    let name = file.plain();
    let bytes = bytes.map_err(|_| too_large(&name))?;
    let (arrival, bytes, name) = off_the_async_threads(move || Ok((workroom::read_arrival(&name, &bytes)?, bytes, name))).await?;
    let asset = hash_of(&[&bytes]);
    // judged before anything is stored
    let state = state_of(&arrival, arrival.sheet.clone(), asset.clone(), name.clone()).await?;
    let mut tx = app.pool.begin().await?;
    keep(&mut *tx, &asset, &name, &bytes).await?;
    store(&mut tx, &asset, &state).await?;
    tx.commit().await?;
    Ok(Json(state))
}

async fn store(tx: &mut sqlx::PgConnection, asset: &str, state: &FigureState) -> Result<(), Failure> {
    sqlx::query!(
        "INSERT INTO figures (hash, asset, sheet) VALUES ($1, $2, $3) ON CONFLICT (hash) DO UPDATE SET stored_at = now()",
        state.hash,
        asset,
        crate::database::json(&state.sheet)? as _
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// The state of a raw figure with a sheet.
async fn state_of(arrival: &ImportedFigure, sheet: FigureSheet, asset: String, file: String) -> Result<FigureState, Failure> {
    let (raw, left_out) = (arrival.raw.clone(), arrival.left_out.clone());
    off_the_async_threads(move || {
        let text = serde_json::to_vec(&sheet).unwrap_or_default();
        let hash = hash_of(&[asset.as_bytes(), &text]);
        let figure = workroom::foreign_figure(&hash, &raw, &sheet)?;
        let landmark = |(key, name): &(&str, &str)| LandmarkOffer {
            key: (*key).into(),
            name: (*name).into(),
            at: figure.landmarks.get(*key).copied().unwrap_or_default().to_array(),
        };
        Ok(FigureState {
            hash,
            file,
            flaws: workroom::flaws(&raw, &sheet.stance),
            left_out,
            height: figure.surface.positions.iter().map(|p| 1000.0 * f64::from(p[1])).fold(0.0, f64::max),
            vertices: figure.surface.positions.len(),
            triangles: figure.surface.triangles.len(),
            contact_triangles: figure.light.as_ref().map_or(figure.surface.triangles.len(), |l| l.triangles.len()),
            bones: figure.rig.skeleton.bones.len(),
            motions: figure.clips.iter().map(|c| MotionOffer { name: c.name.clone(), frames: c.frames.len() }).collect(),
            landmarks: landmark_names().iter().map(landmark).collect(),
            sheet,
        })
    })
    .await
}

pub async fn show(State(app): State<App>, Path(hash): Path<String>) -> Result<Json<FigureState>, Failure> {
    let found = stored(&app.pool, &hash).await?;
    Ok(Json(state_of(&found.arrival, found.sheet, found.asset, found.file).await?))
}

/// The same figure taken otherwise: stored beside the old one.
pub async fn correct(
    State(app): State<App>,
    Path(hash): Path<String>,
    Json(sheet): Json<FigureSheet>,
) -> Result<Json<FigureState>, Failure> {
    let count = sheet.name.trim().chars().count();
    if count == 0 || count > costume::limits::NAME || sheet.name.chars().any(char::is_control) {
        return Err(Refusal::elsewhere("figure", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)).into());
    }
    let found = stored(&app.pool, &hash).await?;
    let state = state_of(&found.arrival, sheet, found.asset.clone(), found.file).await?;
    let mut tx = app.pool.begin().await?;
    store(&mut tx, &found.asset, &state).await?;
    tx.commit().await?;
    Ok(Json(state))
}

/// The newest of every asset.
pub async fn list(State(app): State<App>) -> Result<Json<Vec<FigureRow>>, Failure> {
    let rows = sqlx::query_as!(
        FigureRow,
        r#"SELECT DISTINCT ON (f.asset) f.hash, f.sheet ->> 'name' AS "name!", a.name AS file
           FROM figures f JOIN assets a ON a.hash = f.asset ORDER BY f.asset, f.stored_at DESC"#
    )
    .fetch_all(&app.pool)
    .await?;
    Ok(Json(rows))
}

/// Poses of one frame of a motion that came with the figure: degrees by bone.
pub async fn frame(
    State(app): State<App>,
    Path((hash, motion, frame)): Path<(String, usize, usize)>,
) -> Result<Json<BTreeMap<String, [f64; 3]>>, Failure> {
    let choice = costume::BodyChoice { figure: Some(hash), ..costume::BodyChoice::size("woman-38") };
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let figure = forms.figure(&choice)?;
        let nothing = || Refusal::elsewhere("motion", "has no such frame", "choose another one");
        let rotations = figure.clips.get(motion).and_then(|c| c.frames.get(frame)).ok_or_else(nothing)?;
        let rounded = |a: [f64; 3]| a.map(|v| (v * 100.0).round() / 100.0);
        let bones = figure.rig.skeleton.pose_of(rotations).bones.into_iter().map(|(bone, a)| (bone, rounded(a)));
        Ok(bones.filter(|(_, a)| a.iter().any(|v| *v != 0.0)).collect())
    })
    .await
    .map(Json)
}
