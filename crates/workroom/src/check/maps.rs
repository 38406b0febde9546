//! Values over the cloth, one to a vertex, for the maps on the stand.

use super::bearers::carried;
use crate::Assembly;
use cloth::{Drape, LOCKED};
use fit::{Cloth, Nearest, Strain, strains, vertex_tension};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// What a map shows.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum CheckMap {
    /// Strain in the direction in which it is largest; 0.02 is 2 %.
    #[default]
    Tension,
    /// Strain along the warp.
    Warp,
    /// Strain along the weft.
    Weft,
    /// Strain along the longer diagonal between them.
    Bias,
    /// How much shorter the cloth is in the direction in which it is shortest: slack and folds are below 0.
    Slack,
    /// What the threads carry, N/cm: those along the warp.
    PullWarp,
    /// Those along the weft.
    PullWeft,
    /// Distance to the skin, mm.
    Ease,
    /// Pressure on the skin, Pa.
    Touch,
}

/// How the pieces of an assembly were cut, for the judges.
fn cloths(assembly: &Assembly) -> Vec<Cloth> {
    let of = |panel: &cloth::Panel| Cloth {
        first: panel.first,
        count: panel.count,
        grain: panel.grain.into(),
        stretch: panel.fabric.stretch.map(f64::from),
        locking: panel.fabric.locking.into(),
        locked: LOCKED.into(),
    };
    assembly.scene.panels.iter().map(of).collect()
}

/// Strains of all triangles of a drape.
pub(super) fn strains_of(assembly: &Assembly, drape: &Drape) -> Vec<Strain> {
    let scene = &assembly.scene;
    strains(&cloths(assembly), &scene.flat, &drape.positions(), &scene.triangles)
}

/// The values of a map, by vertex.
pub fn check_map(assembly: &Assembly, drape: &Drape, map: CheckMap) -> Vec<f32> {
    const CM: f64 = 100.0;
    let of: fn(&Strain) -> f64 = match map {
        CheckMap::Ease => return ease(assembly, drape),
        CheckMap::Touch => return carried(assembly, drape).pressure,
        CheckMap::Tension => |s| s.most,
        CheckMap::Warp => |s| s.threads[0],
        CheckMap::Weft => |s| s.threads[1],
        CheckMap::Bias => |s| s.bias,
        CheckMap::Slack => |s| s.least,
        CheckMap::PullWarp => |s| s.pull[0] / CM,
        CheckMap::PullWeft => |s| s.pull[1] / CM,
    };
    let values: Vec<f32> = strains_of(assembly, drape).iter().map(|s| of(s) as f32).collect();
    vertex_tension(&assembly.scene.triangles, &values, drape.fused_with())
}

/// Distance of every vertex to the skin that cloth meets, mm.
fn ease(assembly: &Assembly, drape: &Drape) -> Vec<f32> {
    let skin = &assembly.form.skin;
    let nearest = Nearest::new(&skin.positions, &skin.triangles);
    let distance = |p: &[f32; 3]| nearest.distance(*p).map_or(0.0, |m| 1000.0 * m) as f32;
    drape.positions().par_iter().map(distance).collect()
}
