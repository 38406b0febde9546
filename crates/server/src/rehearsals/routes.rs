//! Rehearsals over HTTP.

use super::shown::ShownRehearsal;
use super::store::{self, Asked, RehearsalRow};
use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::document::Shown;
use crate::costumes::history;
use crate::download::{Download, file_stem};
use crate::error::Failure;
use crate::protocol::Air;
use crate::session::values::Snapshot;
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Fineness, Refusal};
use formats::{AnimatedMesh, ExportMesh};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use ts_rs::TS;
use workroom::rehearsal::{
    AnimatedKind, Cause, Course, FrameReport, MotionChoice, Plan, PropShape, animated, layers_up_to, motion_names, prop_mesh,
};
use workroom::{Assembly, Fitting, KeptMesh};

/// A motion that can be chosen.
#[derive(Serialize, TS)]
pub struct MotionRow {
    pub choice: MotionChoice,
    pub name: String,
    /// Whether it came with the figure.
    pub own: bool,
}

/// The motions of a costume's body: those that ship, and those that came with its figure.
pub async fn motions(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<MotionRow>>, Failure> {
    let body = history::shown(&app.costumes, id).await?.document.costume.body.clone();
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let figure = forms.figure(&body)?;
        let ships = motion_names().iter().map(|(key, name)| MotionRow {
            choice: MotionChoice::Named((*key).into()),
            name: (*name).into(),
            own: false,
        });
        let own = figure.clips.iter().enumerate().map(|(k, clip)| MotionRow {
            choice: MotionChoice::Clip(k),
            name: clip.name.clone(),
            own: true,
        });
        let skin = workroom::rehearsal::BodyMotion::of_skin(&figure).ok();
        let skin = skin.map(|motion| MotionRow { choice: MotionChoice::Skin, name: motion.name, own: true });
        Ok(Json(ships.chain(own).chain(skin).collect()))
    })
    .await
}

/// What is to be rehearsed.
#[derive(Deserialize, TS)]
pub struct RehearsalAsked {
    pub motion: MotionChoice,
    pub plan: Plan,
    /// A first look, with triangles so large that it is made almost as fast as it plays.
    #[serde(default)]
    pub quick: bool,
    /// Only the pieces worn up to this layer.
    #[serde(default)]
    #[ts(optional)]
    pub layers: Option<u8>,
    /// A finished rehearsal of this costume's inner layers, over which the outer ones are rehearsed: in its motion and frames.
    #[serde(default)]
    #[ts(optional, type = "number")]
    pub beneath: Option<i64>,
}

/// Edge length of a first look, mm.
const QUICK_EDGE: f64 = 40.0;

pub async fn list(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<RehearsalRow>>, Failure> {
    Ok(Json(store::list(&app.pool, id).await?))
}

/// Begins with the drape on the stand; a costume that does not hang there is hung and draped first.
pub async fn add(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<RehearsalAsked>) -> Result<Json<RehearsalRow>, Failure> {
    let document = history::shown(&app.costumes, id).await?;
    let start = start(&app, &document, id).await?;
    let mut costume = start.as_ref().map_or_else(|| document.document.costume.clone(), |s| s.costume.clone());
    if asked.quick && costume.fineness.edge_mm() < QUICK_EDGE {
        costume.fineness = Fineness::Custom(QUICK_EDGE);
    }
    if let Some(layer) = asked.layers {
        costume = layers_up_to(&costume, layer);
        if costume.pieces.iter().all(|p| p.parked) {
            return Err(Refusal::elsewhere("rehearsal", "has no piece in these layers", "choose a layer further out").into());
        }
    }
    let asked = match asked.beneath {
        Some(inner) => over(&app, id, inner, asked).await?,
        None => asked,
    };
    let (forms, body, choice, plan) = (app.forms.clone(), costume.body.clone(), asked.motion.clone(), asked.plan.clone());
    let planned = off_the_async_threads(move || {
        let figure = forms.figure(&body)?;
        let motion = choice.on(&figure)?;
        let name = motion.name.clone();
        Ok((Course::new(figure, &body, motion, plan)?.frames(), name))
    });
    let (frames, name) = planned.await?;
    let kind = match (asked.quick, asked.layers, asked.beneath) {
        (true, ..) => ", first look",
        (_, Some(_), _) => ", inner layers",
        (_, _, Some(_)) => ", over inner layers",
        _ => "",
    };
    let name = format!("{name}{kind}");
    let asked =
        Asked { costume, motion: asked.motion, plan: asked.plan, start, layers: asked.layers.map(i32::from), beneath: asked.beneath };
    let rehearsal = store::add(&app.pool, id, &name, &asked, frames).await?;
    app.workers.wake(app.queue.rehearse(rehearsal)).await?;
    Ok(Json(store::row(&app.pool, rehearsal).await?))
}

/// What is asked for, in the motion and the frames of a finished rehearsal of the inner layers.
async fn over(app: &App, costume: i64, inner: i64, asked: RehearsalAsked) -> Result<RehearsalAsked, Failure> {
    let row = store::row(&app.pool, inner).await?;
    let stored = store::stored(&app.pool, inner).await?;
    if stored.costume_id != costume || row.state != "done" || row.layers.is_none() {
        let remedy = "choose one of this costume's inner layers that is done";
        return Err(Refusal::elsewhere(row.name, "cannot lie beneath this costume", remedy).into());
    }
    let own = &row.plan.0;
    let plan = Plan { fps: own.fps, lead_in: own.lead_in, settle: own.settle, ..asked.plan };
    Ok(RehearsalAsked { motion: stored.asked.motion, plan, layers: None, ..asked })
}

/// The drape that a rehearsal begins with, if there is one of the present document.
async fn start(app: &App, shown: &Shown, id: i64) -> Result<Option<Fitting>, Failure> {
    if let Some(live) = app.sessions.snapshot(shown).await? {
        let mesh = Some(KeptMesh::of(&live.assembly));
        return Ok(Some(Fitting { costume: live.assembly.costume, positions: live.positions, at_rest: live.at_rest, mesh }));
    }
    Ok(crate::running::load(&app.pool, id).await?.map(|(fitting, _)| fitting))
}

/// From where a reader goes on.
#[derive(Deserialize)]
pub struct From {
    #[serde(default)]
    from: i32,
}

/// How far a rehearsal is, and what was found in the frames from one on.
#[derive(Serialize, TS)]
pub struct RehearsalState {
    pub row: RehearsalRow,
    pub reports: Vec<FrameReport>,
    /// All causes of faults in words.
    pub causes: Vec<CauseShown>,
}

/// Why a frame fails, and what is tried against it.
#[derive(Serialize, TS)]
pub struct CauseShown {
    pub cause: Cause,
    pub why: &'static str,
    pub mend: &'static str,
}

pub async fn state(State(app): State<App>, Path(id): Path<i64>, Query(from): Query<From>) -> Result<Json<RehearsalState>, Failure> {
    let row = store::row(&app.pool, id).await?;
    let reports = store::reports(&app.pool, id, from.from).await?.into_iter().map(|r| r.0).collect();
    let shown = |cause: &Cause| CauseShown { cause: *cause, why: cause.in_words(), mend: cause.mended(&row.plan).1 };
    let causes = Cause::ALL.iter().map(shown).collect();
    Ok(Json(RehearsalState { row, reports, causes }))
}

/// A mesh to be put beside the body.
pub async fn prop(Query(file): Query<crate::figures::FileName>, bytes: Result<Bytes, BytesRejection>) -> Result<Json<PropShape>, Failure> {
    let name = file.plain();
    let bytes = bytes.map_err(|_| Refusal::elsewhere(&name, "is larger than a prop may be", "bring a lighter version of it"))?;
    off_the_async_threads(move || prop_mesh(&name, &bytes)).await.map(Json)
}

/// Another plan from a frame on.
#[derive(Deserialize, TS)]
pub struct AgainAsked {
    /// Counted with the lead-in; it goes on from the state before it.
    pub frame: i32,
    /// The old plan when there is none; its motion and its frames stay.
    #[ts(optional)]
    pub plan: Option<Plan>,
    /// Tries the mend for what was found in that frame, from ten frames before.
    #[serde(default)]
    pub mend: bool,
}

/// Frames before a fault from which a mend is tried.
const BEFORE: i32 = 10;

pub async fn again(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<AgainAsked>) -> Result<Json<RehearsalRow>, Failure> {
    let old = store::row(&app.pool, id).await?;
    let mut plan = match asked.plan {
        Some(plan) => plan,
        None => store::stored(&app.pool, id).await?.asked.plan,
    };
    let mut frame = asked.frame.clamp(0, old.done);
    if asked.mend {
        let report = store::reports(&app.pool, id, frame).await?.into_iter().next();
        let cause =
            report.and_then(|r| r.0.cause).ok_or_else(|| Refusal::elsewhere("frame", "has no fault", "choose one that is marked"))?;
        let (mended, _) = cause.mended(&plan);
        if mended == plan {
            return Err(Refusal::elsewhere("frame", "has been mended as far as it goes", "drape it finer, or change the pattern").into());
        }
        (plan, frame) = (mended, (frame - BEFORE).max(0));
    }
    plan.check()?;
    if (plan.fps, plan.lead_in, plan.settle) != (old.plan.fps, old.plan.lead_in, old.plan.settle) {
        return Err(Refusal::elsewhere("rehearsal", "goes on with as many frames", "rehearse from the beginning for other ones").into());
    }
    let rehearsal = store::add_from(&app.pool, id, frame, &plan).await?;
    app.workers.wake(app.queue.rehearse(rehearsal)).await?;
    Ok(Json(store::row(&app.pool, rehearsal).await?))
}

pub async fn cancel(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<RehearsalRow>, Failure> {
    store::cancel(&app.pool, id).await?;
    Ok(Json(store::row(&app.pool, id).await?))
}

/// Lets one that was cancelled or failed go on.
pub async fn resume(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<RehearsalRow>, Failure> {
    if store::reopen(&app.pool, id).await? {
        app.workers.wake(app.queue.rehearse(id)).await?;
    }
    Ok(Json(store::row(&app.pool, id).await?))
}

pub async fn remove(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    app.rehearsals.clear();
    store::remove(&app.pool, id).await
}

/// The rehearsal with this number, read and made ready once while it is looked at: what was asked for does not change.
async fn shown(app: &App, id: i64) -> Result<Arc<ShownRehearsal>, Failure> {
    if let Some(ready) = app.rehearsals.kept(&id) {
        return Ok(ready);
    }
    let stored = store::stored(&app.pool, id).await?;
    let own = app.clone();
    off_the_async_threads(move || own.rehearsals.get(id, || ShownRehearsal::new(&own.forms, stored))).await
}

fn binary(bytes: Vec<u8>) -> impl IntoResponse {
    ([(header::CONTENT_TYPE, "application/octet-stream")], bytes)
}

pub async fn layout(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let shown = shown(&app, id).await?;
    Ok(binary(shown.layout(id as u32)))
}

pub async fn frame(State(app): State<App>, Path((id, frame)): Path<(i64, usize)>) -> Result<impl IntoResponse, Failure> {
    let shown = shown(&app, id).await?;
    let cloth = shown.cloth(&app.pool, id, frame).await?;
    let bytes = off_the_async_threads(move || Ok(shown.frame(id as u32, frame, &cloth))).await?;
    Ok(binary(bytes))
}

/// A frame as a fitting.
#[derive(Deserialize, TS)]
pub struct KeepFrame {
    pub frame: usize,
    pub name: String,
}

/// Keeps a frame: its cloth, and the body in its pose where the frame's pose is one of the document.
pub async fn keep(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<KeepFrame>) -> Result<Json<i64>, Failure> {
    let name = asked.name.trim().to_owned();
    if !costume::is_name(&name) {
        return Err(Refusal::elsewhere("fitting", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)).into());
    }
    let shown = shown(&app, id).await?;
    let costume = shown.costume_id;
    let mut positions = shown.cloth(&app.pool, id, asked.frame).await?;
    let report = store::reports(&app.pool, id, asked.frame as i32).await?.into_iter().next().ok_or(Failure::NotFound("frame"))?.0;
    let (forms, fused) = (app.forms.clone(), shown.fused.clone());
    let made = off_the_async_threads(move || {
        // a fitting stands on its spot and looks ahead
        let key = shown.course.key_at(asked.frame);
        let back = glam::DQuat::from_rotation_y(-key.heading.to_radians());
        let (_, way) = shown.course.body_at(asked.frame);
        for p in &mut positions {
            let over = glam::Vec3::from(*p).as_dvec3() - way;
            *p = (back * over).as_vec3().to_array();
        }
        let mut costume = shown.assembly.costume.clone();
        costume.body.pose = key.pose.bones;
        // cloth need not be hung in this pose to lie on it
        let assembly = forms.hang(&costume).unwrap_or_else(|_| Assembly { costume, ..shown.assembly.clone() });
        let crossings = report.crossings();
        Ok(Snapshot { assembly, positions, fused, at_rest: true, crossings, air: Air::default() })
    });
    let snapshot = made.await?;
    Ok(Json(crate::fittings::keep(&app.pool, costume, &name, snapshot).await?))
}

/// Most bytes of positions that are put into one file.
const LARGEST_DELIVERY: u64 = 2 << 30;

/// What is delivered besides the ending in the file's name.
#[derive(Deserialize)]
pub struct Wanted {
    /// The body in place of the garment.
    #[serde(default)]
    body: bool,
}

/// The garment over time, or the body, by the ending of the file: usda, abc, glb, pc2, and the obj that belongs to the last.
pub async fn deliver(
    State(app): State<App>,
    Path((id, ending)): Path<(i64, String)>,
    Query(wanted): Query<Wanted>,
) -> Result<Download, Failure> {
    let shown = shown(&app, id).await?;
    let row = store::row(&app.pool, id).await?;
    let stem = file_stem(&format!("{} {}{}", shown.assembly.costume.name, shown.name, if wanted.body { " body" } else { "" }));
    // the mesh of a point cache goes with it
    let kind = AnimatedKind::of(&format!("file.{}", if ending == "obj" { "pc2" } else { &ending }))?;
    let frames = row.lead_in.max(0) as usize..row.done.max(0) as usize;
    if frames.is_empty() {
        return Err(Refusal::elsewhere(shown.name.clone(), "has no frames of the motion yet", "wait for the first one").into());
    }
    if 12 * frames.len() as u64 * shown.fused.len() as u64 > LARGEST_DELIVERY {
        return Err(Refusal::elsewhere(shown.name.clone(), "is too long for one file", "rehearse it in parts, or coarser").into());
    }
    let mut cloth = Vec::with_capacity(frames.len());
    for frame in frames.clone().filter(|_| !wanted.body) {
        cloth.push(shown.cloth(&app.pool, id, frame).await?);
    }
    let files = off_the_async_threads(move || {
        let mesh = |k: usize| -> ExportMesh {
            if wanted.body {
                workroom::rehearsal::body_mesh(&shown.course.figure.name, shown.body(frames.start + k))
            } else {
                workroom::rehearsal::garment(&shown.assembly, &cloth[k], &shown.fused)
            }
        };
        let first = mesh(0);
        let moving = AnimatedMesh::of(&first, shown.course.plan.fps);
        let all = AnimatedMesh { frames: (0..frames.len()).map(|k| mesh(k).positions).collect(), ..moving };
        animated(kind, &all, &first, &stem)
    });
    let (name, bytes) =
        files.await?.files.into_iter().find(|(name, _)| name.ends_with(&format!(".{ending}"))).ok_or(Failure::NotFound("file"))?;
    Ok(Download::named(name, bytes))
}
