//! A body of any origin in its neutral pose, and the same body in another pose.

use crate::calibrate::Remaining;
use crate::pose::{Pose, PoseFault};
use crate::skin::{Rig, lowest};
use crate::stations::Station;
use crate::surface::{Surface, smooth_normals};
use crate::tape::Measure;
use glam::{DAffine3, DQuat, DVec3};
use std::collections::BTreeMap;

/// A measure as asked and as taken on the finished body, mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Taken {
    pub measure: Measure,
    /// None on a figure that was not made to measure.
    pub asked: Option<f64>,
    /// Girths by a tape around the mesh (convex hull of the section), the inseam on the mesh, other lengths on the field.
    pub measured: f64,
    /// Height of the middle of the girth's plane above the floor, and the plane's normal; none for lengths.
    pub plane: Option<(f64, [f64; 3])>,
}

impl Taken {
    /// By how much the finished body misses what was asked, mm.
    pub fn off(&self) -> f64 {
        self.asked.map_or(0.0, |asked| self.measured - asked)
    }
}

/// A body standing on y = 0 in its neutral pose, facing +z, its left at +x.
#[derive(Clone, Debug)]
pub struct Figure {
    /// Key and name of the size it is based on.
    pub key: String,
    pub name: String,
    pub surface: Surface,
    pub rig: Rig,
    pub stations: Vec<Station>,
    pub taken: Vec<Taken>,
    /// Measures that could not be met to the millimetre, as the field measures them, cm.
    pub unmet: Vec<Remaining>,
    /// Keys of the parts that have skin, and the part of every vertex; one part at least.
    pub parts: Vec<String>,
    pub part_of_vertex: Vec<u8>,
    /// A skin with fewer triangles for contact, when the full one is heavy.
    pub light: Option<Light>,
    /// Motions that came with it.
    pub clips: Vec<Clip>,
    /// Landmarks of a figure from elsewhere, mm.
    pub landmarks: BTreeMap<String, DVec3>,
}

/// A skin over some of the vertices.
#[derive(Clone, Debug, PartialEq)]
pub struct Light {
    pub vertices: Vec<u32>,
    /// Of `vertices`.
    pub triangles: Vec<[u32; 3]>,
}

/// Joint rotations frame by frame, 30 in a second.
#[derive(Clone, Debug, PartialEq)]
pub struct Clip {
    pub name: String,
    pub frames: Vec<Vec<DQuat>>,
}

/// A figure in a pose, its lowest point on the floor.
#[derive(Clone, Debug)]
pub struct Posed {
    pub surface: Surface,
    pub stations: Vec<Station>,
    /// Motion of every bone from the neutral pose.
    pub placed: Vec<DAffine3>,
}

impl Figure {
    /// The figure in a pose within the limits of its joints.
    pub fn posed(&self, pose: &Pose) -> Result<Posed, PoseFault> {
        pose.check(&self.rig.skeleton)?;
        Ok(self.stand(&self.rig.skeleton.rotations(pose)))
    }

    /// The figure with given joint rotations.
    pub fn stand(&self, rotations: &[DQuat]) -> Posed {
        let mut placed = self.rig.skeleton.place(rotations);
        if rotations.iter().all(|q| *q == DQuat::IDENTITY) {
            return Posed { surface: self.surface.clone(), stations: self.stations.clone(), placed };
        }
        let mut surface = self.rig.posed(&self.surface, &placed);
        let lift = lowest(&self.surface) - lowest(&surface);
        surface.positions.iter_mut().for_each(|p| p[1] += lift);
        let lift = DAffine3::from_translation(DVec3::Y * f64::from(lift));
        placed.iter_mut().for_each(|m| *m = lift * *m);
        let carried = |s: &Station| s.bone.map_or_else(|| s.clone(), |b| s.moved(&placed[b]));
        Posed { surface, stations: self.stations.iter().map(carried).collect(), placed }
    }
}

impl Figure {
    /// The skin for contact in a pose, with the vertex of the full skin behind every one.
    pub fn contact_skin(&self, posed: &Posed) -> (Surface, Vec<u32>) {
        let Some(Light { vertices, triangles }) = &self.light else {
            return (posed.surface.clone(), (0..posed.surface.positions.len() as u32).collect());
        };
        let picked = |all: &[[f32; 3]]| vertices.iter().map(|v| all[*v as usize]).collect::<Vec<_>>();
        let positions = picked(&posed.surface.positions);
        let double: Vec<DVec3> = positions.iter().map(|p| DVec3::from(p.map(f64::from))).collect();
        let normals = smooth_normals(&double, triangles);
        (Surface { positions, normals, triangles: triangles.clone() }, vertices.clone())
    }
}

impl Posed {
    pub fn station(&self, key: &str) -> Option<&Station> {
        self.stations.iter().find(|s| s.key == key)
    }
}
