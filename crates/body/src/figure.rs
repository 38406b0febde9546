//! A body of any origin in its neutral pose, and the same body in another pose.

use crate::measuring::calibrate::Remaining;
use crate::measuring::measures::Measure;
use crate::posing::pose::{Pose, PoseFault};
use crate::posing::skin::{Rig, lowest};
use crate::posing::station::Station;
use crate::posing::stations::follow_arms;
use crate::skinning::surface::{Surface, smooth_normals};
use glam::{DAffine3, DQuat, DVec3};
use std::collections::BTreeMap;

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
    /// Motions that came with it.
    pub clips: Vec<Clip>,
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
        let mut posed = self.carried(rotations);
        follow_arms(&mut posed.stations, &self.rig.skeleton, &posed.placed);
        posed
    }

    /// Skin and stations as the bones carry them, on the floor.
    fn carried(&self, rotations: &[DQuat]) -> PosedBody {
        let mut placed = self.rig.skeleton.place(rotations);
        if rotations.iter().all(|q| *q == DQuat::IDENTITY) {
            return PosedBody { surface: self.surface.clone(), stations: self.stations.clone(), placed };
        }
        let mut surface = self.rig.posed(&self.surface, &placed);
        let lift = lowest(&self.surface) - lowest(&surface);
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
