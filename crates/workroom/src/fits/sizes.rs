//! One costume on many bodies: blocks are drafted anew for each, drawn pieces stay.

use super::limits::passed_limits;
use super::trial::Trial;
use crate::{Assembly, DrapeReport};
use costume::{BodyChoice, Costume, Edit, Refusal};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A costume on one of the bodies.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct SizeRow {
    /// The size, or the hash of a figure.
    pub body: BodyChoice,
    /// What was found; none when it could not be hung on this body.
    pub report: Option<DrapeReport>,
    /// Every limit that is passed, in words; the reason when it could not be hung.
    pub passed: Vec<String>,
    /// Of the pieces as they are drafted for this body, mm: name, width, height.
    pub pieces: Vec<(String, f64, f64)>,
}

impl SizeRow {
    /// Above all rows that are better; one without a report is the worst.
    pub fn badness(&self) -> f64 {
        self.report.as_ref().map_or(f64::MAX, DrapeReport::badness)
    }
}

/// The costume on another body, in the same pose, its blocks drafted anew; a figure stands as it came.
pub fn on_body(costume: &Costume, body: &BodyChoice) -> Result<Costume, Refusal> {
    let same = costume.body.shape() == body.shape();
    let body = match &body.figure {
        _ if same => costume.body.clone(),
        Some(_) => body.clone(),
        None => {
            let BodyChoice { preset, overrides, .. } = body.clone();
            BodyChoice { preset, overrides, figure: None, ..costume.body.clone() }
        }
    };
    crate::apply(costume, &Edit::ChooseBody { body })
}

/// The costume in each of these sizes with the name of the size, its blocks drafted anew; drawn pieces are the same in all.
pub fn in_sizes(costume: &Costume, sizes: &[BodyChoice]) -> Result<Vec<(String, Costume)>, Refusal> {
    let presets = body::presets();
    let name = |b: &BodyChoice| presets.iter().find(|p| p.key == b.preset).map_or_else(|| b.preset.clone(), |p| p.name.clone());
    sizes.iter().map(|size| Ok((name(size), on_body(costume, size)?))).collect()
}

/// Hangs and drapes the costume on a body; the row, and the trial when there was one. None when it was told to end.
pub fn size_row(
    costume: &Costume,
    body: &BodyChoice,
    hang: &mut dyn FnMut(&Costume) -> Result<Assembly, Refusal>,
    keep_on: &mut dyn FnMut() -> bool,
) -> Option<(SizeRow, Option<Trial>)> {
    let worn = on_body(costume, body);
    let pieces = worn.as_ref().map_or(Vec::new(), |worn| {
        let cut = costume::resolve(worn).pieces;
        cut.iter().filter(|p| !p.parked).map(|p| (p.name.clone(), p.size()[0], p.size()[1])).collect()
    });
    let row = |report: Option<DrapeReport>, passed| SizeRow { body: body.clone(), report, passed, pieces: pieces.clone() };
    match worn.and_then(|worn| Trial::of(&worn, hang, None, keep_on)) {
        Ok(None) => None,
        Ok(Some(trial)) => {
            let passed = passed_limits(costume, &trial.report);
            Some((row(Some(trial.report.clone()), passed), Some(trial)))
        }
        Err(refusal) => Some((row(None, vec![format!("{} {}. {}", refusal.item, refusal.reason, refusal.remedy)]), None)),
    }
}
