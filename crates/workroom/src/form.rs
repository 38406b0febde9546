//! A body made ready for cloth: the mannequin and its distance grid.

use body::{Mannequin, mannequin};
use cloth::DistanceGrid;
use costume::Refusal;
use std::sync::Arc;

/// Cell and reach of the distance grid, m.
const CELL: f32 = 0.008;
const BAND: f32 = 0.045;

/// Shared by all drapes on one body; cheap to clone.
#[derive(Clone)]
pub struct Form {
    pub mannequin: Arc<Mannequin>,
    pub grid: Arc<DistanceGrid>,
}

impl Form {
    /// Generates the body of a preset key.
    pub fn new(preset: &str) -> Result<Self, Refusal> {
        let mannequin = mannequin(preset).map_err(|e| Refusal::new("body", e.to_string(), "choose one of the presets"))?;
        let s = &mannequin.surface;
        let grid = DistanceGrid::from_surface(&s.positions, &s.normals, &s.triangles, CELL, BAND);
        Ok(Self { mannequin: Arc::new(mannequin), grid: Arc::new(grid) })
    }
}
