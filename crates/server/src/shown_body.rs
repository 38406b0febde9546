//! The body of a costume as the stand shows it: mesh, joints, parts, measures and tapes of a choice, kept or only tried.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use body::{Body, Bone, Pose, PosedBody, SurfacePoint, blend, in_words, lay};
use costume::{BodyChoice, Costume, FreeTape, Refusal, TapeId};
use glam::{DAffine3, DVec3};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use ts_rs::TS;

/// What to show in place of the costume's own body.
#[derive(Deserialize, TS)]
pub struct BodyAsked {
    pub body: BodyChoice,
    /// A coarse mannequin, made in a moment, while a measure changes.
    #[serde(default)]
    pub quick: bool,
    /// Another pose, of which `share` (0 to 1) is left: 1 shows it, 0 the pose of the body.
    #[serde(default)]
    #[ts(optional)]
    pub from: Option<BTreeMap<String, [f64; 3]>>,
    #[serde(default)]
    pub share: f64,
    /// A tape that is being laid.
    #[serde(default)]
    #[ts(optional)]
    pub trial: Option<FreeTape>,
}

#[derive(Serialize, TS)]
pub struct FreedomShown {
    pub name: String,
    pub low: f64,
    pub high: f64,
    /// Axis on the stand about which a growing angle turns (right-hand rule).
    pub axis: [f64; 3],
}

#[derive(Serialize, TS)]
pub struct BoneShown {
    pub key: String,
    pub name: String,
    pub parent: Option<usize>,
    /// Its joint on the stand, m.
    pub at: [f64; 3],
    /// Bend, side and turn; angles that cannot change have equal limits.
    pub freedoms: [FreedomShown; 3],
    /// Motion from the neutral pose: rotation (x y z w) and shift, m.
    pub rotation: [f64; 4],
    pub shift: [f64; 3],
}

#[derive(Serialize, TS)]
pub struct PartShown {
    pub key: String,
    pub name: String,
    /// No cloth meets it, as the costume stands.
    pub out: bool,
}

/// A measure as asked and as taken on the finished body, mm.
#[derive(Serialize, TS)]
pub struct MeasurementShown {
    pub key: String,
    pub name: String,
    pub asked: Option<f64>,
    pub measured: f64,
    /// Height of the tape on the neutral pose.
    pub height: Option<f64>,
}

#[derive(Serialize, TS)]
pub struct TapeShown {
    pub id: TapeId,
    pub mm: f64,
    /// m, on the stand.
    pub path: Vec<[f64; 3]>,
}

/// The JSON head of the answer.
#[derive(Serialize, TS)]
pub struct BodyShown {
    pub name: String,
    pub vertices: usize,
    pub triangles: usize,
    /// Whether the neutral positions follow.
    pub posed: bool,
    pub bones: Vec<BoneShown>,
    pub parts: Vec<PartShown>,
    pub taken: Vec<MeasurementShown>,
    pub tapes: Vec<TapeShown>,
    pub stations: Vec<StationShown>,
}

/// A spot on the body where a piece can hang.
#[derive(Serialize, TS)]
pub struct StationShown {
    pub key: String,
    pub name: String,
    /// Before the skin, m.
    pub at: [f64; 3],
    /// Unit vectors: to the right of a piece that hangs there, up along it, and away from the body.
    pub right: [f64; 3],
    pub up: [f64; 3],
    pub out: [f64; 3],
}

fn stations(posed: &PosedBody) -> Vec<StationShown> {
    let shown = |s: &body::Station| StationShown {
        key: s.key.into(),
        name: s.name.into(),
        at: (s.centre + s.out * (s.radii.1 + 0.01)).to_array(),
        right: s.right.to_array(),
        up: s.up.to_array(),
        out: s.out.to_array(),
    };
    posed.stations.iter().map(shown).collect()
}

/// JSON length (u32, little-endian), JSON padded with spaces to a multiple of four, then f32 positions and normals,
/// u32 triangles, neutral positions when posed, and one byte per vertex: its part.
pub async fn show(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<BodyAsked>) -> Result<impl IntoResponse, Failure> {
    if asked.trial.as_ref().is_some_and(|t| t.points.len() > costume::limits::TAPE_POINTS) {
        return Err(Refusal::elsewhere("tape", "has too many points", "finish it here and lay another one").into());
    }
    let mut costume = history::shown(&app.costumes, id).await?.document.costume.clone();
    let from = asked.from.map_or_else(|| Pose { bones: asked.body.pose.clone() }, |bones| Pose { bones });
    costume.body = asked.body;
    costume.tapes.extend(asked.trial);
    let forms = app.forms.clone();
    let bytes = off_the_async_threads(move || {
        let figure = if asked.quick { forms.rough(&costume.body)? } else { forms.figure(&costume.body)? };
        let to = workroom::pose(&costume.body);
        for pose in [&from, &to] {
            pose.check(&figure.rig.skeleton).map_err(workroom::pose_refusal)?;
        }
        let skeleton = &figure.rig.skeleton;
        let posed = figure.stand(&blend(&skeleton.rotations(&to), &skeleton.rotations(&from), asked.share.clamp(0.0, 1.0)));
        Ok::<_, Refusal>(answer(&costume, &figure, &posed))
    })
    .await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], bytes))
}

/// The body's outline from the front, mm: x to its left, heights above the floor.
pub async fn outline(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<Vec<[f64; 2]>>>, Failure> {
    let body = history::shown(&app.costumes, id).await?.document.costume.body.clone();
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let figure = forms.figure(&body)?;
        let to_mm = |p: [f64; 2]| p.map(|v| (v * 10_000.0).round() / 10.0);
        Ok(Json(body::silhouette(&figure.surface).into_iter().map(|l| l.into_iter().map(to_mm).collect()).collect()))
    })
    .await
}

/// A place on the stand by which a value of a block is dragged.
#[derive(Serialize, TS)]
pub struct GripShown {
    pub block: costume::BlockId,
    pub key: String,
    pub name: String,
    /// mm.
    pub at: [f64; 3],
    /// How it moves when the value grows by a millimetre, mm.
    pub axis: [f64; 3],
    /// mm.
    pub value: f64,
    pub low: f64,
    pub high: f64,
}

/// The places by which the costume's blocks are steered on its body.
pub async fn grips(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<GripShown>>, Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let costume = &document.costume;
        if costume.blocks.is_empty() {
            return Ok(Json(Vec::new()));
        }
        let figure = forms.figure(&costume.body)?;
        let posed = figure.stand(&figure.rig.skeleton.rotations(&workroom::pose(&costume.body)));
        let shown = |g: workroom::Grip| GripShown {
            block: g.block,
            key: g.key.into(),
            name: g.name.into(),
            at: g.at.map(|v| 1000.0 * v),
            axis: g.axis,
            value: g.value,
            low: g.low,
            high: g.high,
        };
        Ok(Json(workroom::grips(costume, &posed).into_iter().map(shown).collect()))
    })
    .await
}

fn answer(costume: &Costume, figure: &Body, posed: &PosedBody) -> Vec<u8> {
    // what cloth has come near is told by the live drape
    let out = workroom::left_out(costume, figure, &BTreeSet::new());
    let moved = posed.surface.positions != figure.surface.positions;
    let head = BodyShown {
        name: figure.name.clone(),
        vertices: posed.surface.positions.len(),
        triangles: posed.surface.triangles.len(),
        posed: moved,
        bones: bones(figure, &workroom::pose(&costume.body), &posed.placed),
        parts: parts(figure, &out),
        taken: taken(figure),
        tapes: tapes(costume, figure, posed),
        stations: stations(posed),
    };
    let mut bytes = Vec::with_capacity(head.vertices * 40 + head.triangles * 12);
    crate::session::frames::put_head(&mut bytes, &head);
    let floats = |bytes: &mut Vec<u8>, values: &[[f32; 3]]| bytes.extend(values.iter().flatten().flat_map(|v| v.to_le_bytes()));
    floats(&mut bytes, &posed.surface.positions);
    floats(&mut bytes, &posed.surface.normals);
    bytes.extend(posed.surface.triangles.iter().flatten().flat_map(|v| v.to_le_bytes()));
    if moved {
        floats(&mut bytes, &figure.surface.positions);
    }
    let mut part = figure.part_of_vertex.clone();
    part.resize(head.vertices, 0);
    bytes.extend(part);
    bytes
}

fn bones(figure: &Body, pose: &Pose, placed: &[DAffine3]) -> Vec<BoneShown> {
    let shown = |(k, bone): (usize, &Bone)| {
        let angles = pose.bones.get(&bone.name).copied().unwrap_or_default();
        let frame = bone.parent.map_or(DAffine3::IDENTITY, |p| placed[p]);
        let (_, rotation, shift) = placed[k].to_scale_rotation_translation();
        BoneShown {
            key: bone.name.clone(),
            name: in_words(&bone.name),
            parent: bone.parent,
            at: placed[k].transform_point3(bone.joint).to_array(),
            freedoms: [0, 1, 2].map(|i| freedom(bone, angles, i, &frame)),
            rotation: rotation.to_array(),
            shift: shift.to_array(),
        }
    };
    figure.rig.skeleton.bones.iter().enumerate().map(shown).collect()
}

fn freedom(bone: &Bone, angles: [f64; 3], i: usize, frame: &DAffine3) -> FreedomShown {
    let f = bone.freedoms[i];
    let axis = frame.transform_vector3(bone.axis(angles, i)).to_array();
    FreedomShown { name: f.name.into(), low: f.low, high: f.high, axis }
}

fn parts(figure: &Body, out: &BTreeSet<String>) -> Vec<PartShown> {
    figure.parts.iter().map(|key| PartShown { name: in_words(key), out: out.contains(key), key: key.clone() }).collect()
}

fn taken(figure: &Body) -> Vec<MeasurementShown> {
    let shown = |t: &body::Measurement| MeasurementShown {
        key: t.measure.key().into(),
        name: t.measure.name().into(),
        asked: t.asked,
        measured: t.measured,
        height: t.plane.map(|p| p.0),
    };
    figure.taken.iter().map(shown).collect()
}

fn tapes(costume: &Costume, figure: &Body, posed: &PosedBody) -> Vec<TapeShown> {
    let shown = |tape: &costume::FreeTape| {
        let spot = |p: &[f64; 3]| SurfacePoint::nearest(&figure.surface, DVec3::from(*p) * 1e-3);
        let spots: Vec<SurfacePoint> = tape.points.iter().filter_map(spot).collect();
        let laid = lay(&posed.surface, &spots, tape.follows, tape.closed);
        TapeShown { id: tape.id, mm: 1000.0 * laid.length, path: laid.path.iter().map(|p| p.to_array()).collect() }
    };
    costume.tapes.iter().map(shown).collect()
}
