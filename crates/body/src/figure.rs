//! A body of any origin in its neutral pose, and the same body in another pose.

use crate::measuring::calibrate::Remaining;
use crate::measuring::measures::Measure;
use crate::posing::pose::{Pose, PoseFault};
use crate::posing::skin::{Rig, lowest};
use crate::posing::station::Station;
use crate::posing::stations::follow_arms;
use crate::skinning::surface::{Surface, smooth_normals};
use glam::{DAffine3, DQuat, DVec3, Vec3};
use std::collections::BTreeMap;
use std::sync::Arc;

/// A measure as asked and as taken on the finished body, mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measurement {
    /// Which measure.
    pub measure: Measure,
    /// None on a figure that was not made to measure.
    pub asked: Option<f64>,
    /// Girths by a tape around the mesh (convex hull of the section), the inseam on the mesh, other lengths on the field.
    pub measured: f64,
    /// Height of the middle of the girth's plane above the floor, and the plane's normal; none for lengths.
    pub plane: Option<(f64, [f64; 3])>,
}

impl Measurement {
    /// By how much the finished body misses what was asked, mm.
    pub fn off(&self) -> f64 {
        self.asked.map_or(0.0, |asked| self.measured - asked)
    }
}

/// A body standing on y = 0 in its neutral pose, facing +z, its left at +x.
#[derive(Clone, Debug)]
pub struct Body {
    /// Key and name of the size it is based on.
    pub key: String,
    /// Of the size or the imported figure.
    pub name: String,
    /// The skin in the neutral pose, m.
    pub surface: Surface,
    /// Bones and weights that move the skin.
    pub rig: Rig,
    /// Where pieces hang, in the neutral pose.
    pub stations: Vec<Station>,
    /// What the tape reads on the skin.
    pub taken: Vec<Measurement>,
    /// Measures that could not be met to the millimetre, as the field measures them, cm.
    pub unmet: Vec<Remaining>,
    /// Keys of the parts that have skin, and the part of every vertex; one part at least.
    pub parts: Vec<String>,
    /// Index of the part that each vertex belongs to.
    pub part_of_vertex: Vec<u8>,
    /// A skin with fewer triangles for contact, when the full one is heavy.
    pub light: Option<ContactLod>,
    /// Motions of its bones that came with it.
    pub clips: Vec<Clip>,
    /// How its skin moves by itself, when it came as a mesh over time.
    pub moves: Option<Arc<VertexMotion>>,
    /// Landmarks of a figure from elsewhere, mm.
    pub landmarks: BTreeMap<String, DVec3>,
}

/// A skin over some of the vertices.
#[derive(Clone, Debug, PartialEq)]
pub struct ContactLod {
    /// Vertices of the full skin that it keeps.
    pub vertices: Vec<u32>,
    /// Of `vertices`.
    pub triangles: Vec<[u32; 3]>,
}

/// Joint rotations frame by frame, 30 in a second.
#[derive(Clone, Debug, PartialEq)]
pub struct Clip {
    /// As it stands in the file.
    pub name: String,
    /// By frame, the rotation of every bone within its parent.
    pub frames: Vec<Vec<DQuat>>,
    /// By frame, how far the first bone is from where it rests, m.
    pub root: Vec<DVec3>,
}

/// A skin over time, without bones; two frames at least.
#[derive(Clone, Debug, PartialEq)]
pub struct VertexMotion {
    /// When each frame stands; the first at 0 s.
    pub seconds: Vec<f64>,
    /// Positions of all vertices by frame, m.
    pub frames: Vec<Vec<[f32; 3]>>,
}

impl VertexMotion {
    /// The skin at a time, s: between two frames every vertex goes straight; before the first and after the last it stands.
    pub fn at(&self, time: f64) -> Vec<[f32; 3]> {
        let after = self.seconds.partition_point(|t| *t <= time);
        let (k, n) = (after.max(1) - 1, after.min(self.seconds.len() - 1));
        let span = self.seconds[n] - self.seconds[k];
        let share = if span > 0.0 { (((time - self.seconds[k]) / span).clamp(0.0, 1.0)) as f32 } else { 0.0 };
        let between = |(p, q): (&[f32; 3], &[f32; 3])| Vec3::from(*p).lerp((*q).into(), share).to_array();
        self.frames[k].iter().zip(&self.frames[n]).map(between).collect()
    }
}

/// A figure in a pose, its lowest point on the floor.
#[derive(Clone, Debug)]
pub struct PosedBody {
    /// The skin in this pose, m.
    pub surface: Surface,
    /// Where pieces hang in this pose.
    pub stations: Vec<Station>,
    /// Motion of every bone from the neutral pose.
    pub placed: Vec<DAffine3>,
}

impl Body {
    /// The figure in a pose within the limits of its joints.
    pub fn posed(&self, pose: &Pose) -> Result<PosedBody, PoseFault> {
        pose.check(&self.rig.skeleton)?;
        Ok(self.stand(&self.rig.skeleton.rotations(pose)))
    }

    /// The figure with given joint rotations.
    pub fn stand(&self, rotations: &[DQuat]) -> PosedBody {
        self.risen(rotations, None)
    }

    /// The same with its first bone so far above where it rests, m, or higher where it would cut the floor; without a height its
    /// lowest point stands on the floor.
    pub fn risen(&self, rotations: &[DQuat], height: Option<f64>) -> PosedBody {
        let mut posed = self.carried(rotations, height);
        follow_arms(&mut posed.stations, &self.rig.skeleton, &posed.placed);
        posed
    }

    /// The figure at a time of the motion that its skin came with, over the spot where it began, and its way over the floor, m; as
    /// it was made, but raised where it would cut the floor. None for a figure that does not move by itself.
    pub fn moved(&self, time: f64) -> Option<(PosedBody, DVec3)> {
        let moves = self.moves.as_ref()?;
        let middle = |at: &[[f32; 3]]| at.iter().map(|p| DVec3::from(p.map(f64::from))).sum::<DVec3>() / at.len().max(1) as f64;
        let mut positions = moves.at(time);
        let way = (middle(&positions) - middle(&self.surface.positions)) * DVec3::new(1.0, 0.0, 1.0);
        let floor = lowest(&self.surface);
        let cut = positions.iter().map(|p| floor - p[1]).fold(0.0, f32::max);
        let back = (DVec3::Y * f64::from(cut) - way).as_vec3();
        positions.iter_mut().for_each(|p| *p = (Vec3::from(*p) + back).to_array());
        let double: Vec<DVec3> = positions.iter().map(|p| DVec3::from(p.map(f64::from))).collect();
        let normals = smooth_normals(&double, &self.surface.triangles);
        let surface = Surface { positions, normals, triangles: self.surface.triangles.clone() };
        let placed = vec![DAffine3::IDENTITY; self.rig.skeleton.bones.len()];
        Some((PosedBody { surface, stations: self.stations.clone(), placed }, way))
    }

    /// Skin and stations as the bones carry them.
    fn carried(&self, rotations: &[DQuat], height: Option<f64>) -> PosedBody {
        let mut placed = self.rig.skeleton.place(rotations);
        if height.is_none() && rotations.iter().all(|q| *q == DQuat::IDENTITY) {
            return PosedBody { surface: self.surface.clone(), stations: self.stations.clone(), placed };
        }
        let mut surface = self.rig.posed(&self.surface, &placed);
        let lift = lowest(&self.surface) - lowest(&surface);
        let lift = height.map_or(lift, |h| lift.max(h as f32));
        surface.positions.iter_mut().for_each(|p| p[1] += lift);
        let lift = DAffine3::from_translation(DVec3::Y * f64::from(lift));
        placed.iter_mut().for_each(|m| *m = lift * *m);
        let carried = |s: &Station| s.bone.map_or_else(|| s.clone(), |b| s.moved(&placed[b]));
        PosedBody { surface, stations: self.stations.iter().map(carried).collect(), placed }
    }
}

impl Body {
    /// The skin for contact in a pose, with the vertex of the full skin behind every one.
    pub fn contact_skin(&self, posed: &PosedBody) -> (Surface, Vec<u32>) {
        let Some(ContactLod { vertices, triangles }) = &self.light else {
            return (posed.surface.clone(), (0..posed.surface.positions.len() as u32).collect());
        };
        let picked = |all: &[[f32; 3]]| vertices.iter().map(|v| all[*v as usize]).collect::<Vec<_>>();
        let positions = picked(&posed.surface.positions);
        let double: Vec<DVec3> = positions.iter().map(|p| DVec3::from(p.map(f64::from))).collect();
        let normals = smooth_normals(&double, triangles);
        (Surface { positions, normals, triangles: triangles.clone() }, vertices.clone())
    }
}

impl PosedBody {
    /// The station with this key, if the body has it.
    pub fn station(&self, key: &str) -> Option<&Station> {
        self.stations.iter().find(|s| s.key == key)
    }
}
