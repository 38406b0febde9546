//! A body made ready for cloth: the mannequin and its distance grid.

use body::{Mannequin, Measure, Request, SheetFault, mannequin};
use cloth::DistanceGrid;
use costume::{BodyChoice, Refusal};
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
    /// Generates the body of a choice (about a second).
    pub fn new(choice: &BodyChoice) -> Result<Self, Refusal> {
        let mannequin = mannequin(&request(choice)?).map_err(refusal)?;
        let s = &mannequin.surface;
        let grid = DistanceGrid::from_surface(&s.positions, &s.normals, &s.triangles, CELL, BAND);
        Ok(Self { mannequin: Arc::new(mannequin), grid: Arc::new(grid) })
    }
}

/// Why there is no such body, with what would do.
pub(crate) fn refusal(fault: SheetFault) -> Refusal {
    match fault {
        SheetFault::UnknownPreset { key, offered } => {
            Refusal::new("body", format!("there is no size `{key}`"), format!("choose one of {offered}"))
        }
        other => Refusal::new("body", other.to_string(), "change the measure, or choose the nearest size"),
    }
}

/// The choice in terms of the measuring sheet; refuses measures that do not exist.
pub(crate) fn request(choice: &BodyChoice) -> Result<Request, Refusal> {
    let known = |(key, mm): (&String, &f64)| {
        let keys = || Measure::ALL.map(Measure::key).join(", ");
        let measure = Measure::from_key(key)
            .ok_or_else(|| Refusal::new("body", format!("there is no measure `{key}`"), format!("use one of {}", keys())))?;
        Ok((measure, *mm))
    };
    Ok(Request { preset: choice.preset.clone(), set: choice.set.iter().map(known).collect::<Result<_, Refusal>>()? })
}
