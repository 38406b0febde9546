//! Figures from elsewhere: how a foreign mesh stands, what is wrong with it, where its landmarks are, what a tape reads.
//!
//! A [`RawFigure`] is what a file holds; a [`FigureSheet`] says how it is to be taken; together they make a [`Body`].

mod fitted;
mod flaws;
mod landmarks;
mod lighten;
mod regions;
mod section;
mod stance;
mod survey;

pub use flaws::{Flaws, inspect};
pub use landmarks::{landmark_names, propose};
pub use stance::{Axis, ImportOrientation, guess};

use crate::figure::{Body, Clip, ContactLod, VertexMotion};
use crate::posing::skeleton::Skeleton;
use crate::posing::skin::Rig;
use crate::posing::weights::{Weights, strongest};
use crate::skinning::surface::{Surface, smooth_normals};
use glam::{DQuat, DVec3};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Contact skins with more triangles than this are made lighter, to about half of it.
const HEAVY: usize = 40_000;

/// Farthest that a figure may reach to the sides, to the front and to the back, m.
const REACH: f64 = 3.0;

/// A mesh in the unit and axes of its file.
#[derive(Clone, Debug, Default)]
pub struct RawFigure {
    /// In the unit and axes of the file.
    pub positions: Vec<[f32; 3]>,
    /// Indices into the positions.
    pub triangles: Vec<[u32; 3]>,
    /// Name, parent and joint of every bone in the rest state, parents first.
    pub bones: Vec<(String, Option<usize>, [f32; 3])>,
    /// One per position when there are bones.
    pub weights: Vec<Weights>,
    /// Motions of the bones.
    pub clips: Vec<RawClip>,
    /// When each frame of a mesh that moves by itself stands (s), and its positions; empty when it does not.
    pub cache: (Vec<f64>, Vec<Vec<[f32; 3]>>),
}

/// A motion of bones in the unit and axes of its file, 30 frames a second.
#[derive(Clone, Debug, Default)]
pub struct RawClip {
    /// As it stands in the file.
    pub name: String,
    /// By frame the rotation of every bone (x y z w) from the rest state in its parent's frame.
    pub rotations: Vec<Vec<[f32; 4]>>,
    /// By frame the place of the first bone.
    pub root: Vec<[f32; 3]>,
}

/// How a figure is to be taken.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ts_rs::TS)]
#[serde(deny_unknown_fields)]
pub struct FigureSheet {
    /// As the designer called it.
    pub name: String,
    /// Unit and axes by which it is read.
    pub stance: ImportOrientation,
    /// Duplicates welded, holes closed, faces turned outwards, loose parts removed.
    pub mended: bool,
    /// Place on the stand by landmark, mm; those that are missing are proposed.
    #[serde(default)]
    pub landmarks: BTreeMap<String, [f64; 3]>,
}

/// Why a figure cannot stand, with the sheet as it is.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum FigureFault {
    #[error("would be {0:.1} cm tall; a figure is 30 to 300 cm tall")]
    Height(f64),
    #[error("reaches {0:.1} m from its middle; a figure stays within {REACH} m")]
    Wide(f64),
    #[error("has no closed part left once it is mended")]
    Nothing,
    #[error("has its up axis along its front axis")]
    Axes,
    #[error("has the landmark `{0}`, which there is not")]
    Landmark(String),
    #[error("has the landmark `{0}` away from the stand")]
    Place(String),
}

/// Puts a figure on the stand. `key` names it in reports.
pub fn figure(key: &str, raw: &RawFigure, sheet: &FigureSheet) -> Result<Body, FigureFault> {
    let placed = stance::place(raw, &sheet.stance)?;
    let mended = if sheet.mended {
        flaws::mend(&placed.positions, &raw.triangles).mesh
    } else {
        flaws::Mesh::plain(&placed.positions, &raw.triangles)
    };
    if mended.triangles.is_empty() {
        return Err(FigureFault::Nothing);
    }
    let reach = mended.positions.iter().map(|p| p.x.abs().max(p.z.abs())).fold(0.0, f64::max);
    if reach > REACH {
        return Err(FigureFault::Wide(reach));
    }
    let surface = surface(&mended);
    let landmarks = checked(sheet, &surface)?;
    let regions = regions::Regions::new(&surface, &landmarks);
    let rig = match rig(raw, &placed, &mended) {
        Some(own) => own,
        None => fitted::rig(&surface, &landmarks, &regions.part_of_vertex),
    };
    let mut stations = survey::stations(&surface, &regions, &landmarks);
    stations.iter_mut().for_each(|s| s.bone = carrier(&rig, &surface, s.centre));
    let taken = survey::measures(&surface, &regions, &landmarks);
    Ok(Body {
        key: key.to_owned(),
        name: sheet.name.clone(),
        light: light(&surface),
        parts: regions::PARTS.iter().map(|key| (*key).to_owned()).collect(),
        part_of_vertex: regions.part_of_vertex,
        clips: clips(raw, &placed),
        moves: moves(raw, &placed, &mended),
        landmarks: landmarks.into_iter().map(|(k, p)| (k, p * 1000.0)).collect(),
        surface,
        rig,
        stations,
        taken,
        unmet: Vec::new(),
    })
}

/// The landmarks of the sheet in metres, completed with proposals.
fn checked(sheet: &FigureSheet, surface: &Surface) -> Result<BTreeMap<String, DVec3>, FigureFault> {
    let known = landmark_names();
    if let Some(key) = sheet.landmarks.keys().find(|key| !known.iter().any(|(k, _)| k == key)) {
        return Err(FigureFault::Landmark(key.clone()));
    }
    if let Some((key, _)) = sheet.landmarks.iter().find(|(_, p)| !p.iter().all(|v| v.abs() < 5000.0)) {
        return Err(FigureFault::Place(key.clone()));
    }
    let mut all = if sheet.landmarks.len() == known.len() { BTreeMap::new() } else { propose(surface) };
    all.extend(sheet.landmarks.iter().map(|(key, mm)| (key.clone(), DVec3::from(*mm) / 1000.0)));
    Ok(all)
}

/// With smooth normals.
fn surface(mesh: &flaws::Mesh) -> Surface {
    let normals = smooth_normals(&mesh.positions, &mesh.triangles);
    let single = |v: &DVec3| v.as_vec3().to_array();
    Surface { positions: mesh.positions.iter().map(single).collect(), normals, triangles: mesh.triangles.clone() }
}

/// The skeleton on the stand, and weights for the vertices that are left; none for a figure without bones.
fn rig(raw: &RawFigure, placed: &stance::Placed, mesh: &flaws::Mesh) -> Option<Rig> {
    if raw.bones.is_empty() || raw.weights.len() != raw.positions.len() {
        return None;
    }
    let bones = raw.bones.iter().map(|(name, parent, at)| (name.clone(), *parent, placed.point(*at))).collect();
    let skeleton = Skeleton::foreign(bones);
    // own mannequins that come back are blended as they were
    let linear = !skeleton.is_own();
    Some(Rig { skeleton, weights: mesh.old.iter().map(|v| raw.weights[*v as usize]).collect(), linear })
}

/// Motions in the axes of the stand.
fn clips(raw: &RawFigure, placed: &stance::Placed) -> Vec<Clip> {
    let turned = |q: &[f32; 4]| placed.rotation * DQuat::from_array(q.map(f64::from)).normalize() * placed.rotation.inverse();
    let rest = raw.bones.first().map_or(DVec3::ZERO, |(_, _, at)| placed.point(*at));
    let clip = |raw: &RawClip| Clip {
        name: raw.name.clone(),
        frames: raw.rotations.iter().map(|row| row.iter().map(turned).collect()).collect(),
        root: raw.root.iter().map(|at| placed.point(*at) - rest).collect(),
    };
    raw.clips.iter().map(clip).collect()
}

/// A mesh that moves by itself, on the stand: every vertex goes as far as the one it comes from.
fn moves(raw: &RawFigure, placed: &stance::Placed, mesh: &flaws::Mesh) -> Option<Arc<VertexMotion>> {
    let (seconds, frames) = &raw.cache;
    let sound = seconds.len() == frames.len() && frames.len() > 1 && frames.iter().all(|f| f.len() == raw.positions.len());
    sound.then_some(())?;
    let moved = |frame: &Vec<[f32; 3]>| {
        let one =
            |(at, old): (&DVec3, &u32)| (*at + placed.point(frame[*old as usize]) - placed.positions[*old as usize]).as_vec3().to_array();
        mesh.positions.iter().zip(&mesh.old).map(one).collect()
    };
    let start = seconds[0];
    Some(Arc::new(VertexMotion { seconds: seconds.iter().map(|t| t - start).collect(), frames: frames.iter().map(moved).collect() }))
}

/// A lighter contact skin when there are too many triangles.
fn light(surface: &Surface) -> Option<ContactLod> {
    (surface.triangles.len() > HEAVY).then(|| lighten::lighten(surface, HEAVY / 2))
}

/// The bone that most of the skin around a station follows.
fn carrier(rig: &Rig, surface: &Surface, centre: DVec3) -> Option<usize> {
    let mut sums = vec![0.0; rig.skeleton.bones.len()];
    for (p, w) in surface.positions.iter().zip(&rig.weights) {
        let off = DVec3::from(p.map(f64::from)).distance_squared(centre);
        if off < 0.04 {
            (0..4).for_each(|k| sums[w.joint_indices[k] as usize] += f64::from(w.weights[k]));
        }
    }
    let best = strongest(&sums);
    (best.weights[0] > 0.0).then_some(best.joint_indices[0] as usize)
}
