//! A body of any origin in its neutral pose, and the same body in another pose.

use crate::calibrate::Remaining;
use crate::pose::{Pose, PoseFault};
use crate::skin::{Rig, lowest};
use crate::stations::Station;
use crate::surface::Surface;
use crate::tape::Measure;
use glam::{DAffine3, DQuat, DVec3};

/// A measure as asked and as taken on the finished body, mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Taken {
    pub measure: Measure,
    /// None on a figure that was not made to measure.
    pub asked: Option<f64>,
    /// Girths by a tape around the mesh (convex hull of the section), lengths on the field.
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

impl Posed {
    pub fn station(&self, key: &str) -> Option<&Station> {
        self.stations.iter().find(|s| s.key == key)
    }
}
