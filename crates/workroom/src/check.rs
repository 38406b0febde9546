//! Checks on a drape: crossings with the body and of cloth with cloth, tension, open seams.

use crate::Assembly;
use cloth::Drape;
use costume::PieceId;
use serde::Serialize;
use ts_rs::TS;

/// What crosses what.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum CrossingKind {
    ClothBody,
    ClothCloth,
}

/// One place where triangles cross.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct CrossingPlace {
    pub kind: CrossingKind,
    /// m, on the stand.
    pub at: [f32; 3],
    pub pieces: Vec<PieceId>,
    /// Crossing triangle pairs.
    pub pairs: usize,
}

/// The findings on one drape.
#[derive(Clone, Debug, Serialize, TS)]
pub struct CheckReport {
    pub crossings: Vec<CrossingPlace>,
    /// Largest principal strain per vertex, averaged: 0.02 is 2 %.
    pub tension: Vec<f32>,
    pub strain_mean: f64,
    pub strain_p99: f64,
    pub strain_max: f64,
}

/// Exact triangle tests and tension on the present state.
pub fn check(assembly: &Assembly, drape: &Drape) -> CheckReport {
    let positions = drape.positions();
    let triangles = &assembly.scene.triangles;
    let skin = &assembly.form.skin;
    let place = |kind| {
        move |c: fit::Crossing| {
            let mut pieces: Vec<PieceId> = c.triangles.iter().map(|t| assembly.piece_of_triangle(*t as usize).piece).collect();
            pieces.sort_unstable();
            pieces.dedup();
            CrossingPlace { kind, at: c.at, pieces, pairs: c.pairs }
        }
    };
    let body = fit::cloth_body(&positions, triangles, &skin.positions, &skin.triangles);
    let own = fit::cloth_cloth(&positions, triangles, drape.fused_with());
    let strain = drape.strain();
    let figures = fit::spread(&strain);
    CheckReport {
        crossings: body
            .into_iter()
            .map(place(CrossingKind::ClothBody))
            .chain(own.into_iter().map(place(CrossingKind::ClothCloth)))
            .collect(),
        tension: fit::vertex_tension(triangles, &strain, drape.fused_with()),
        strain_mean: figures.mean,
        strain_p99: figures.p99,
        strain_max: figures.max,
    }
}
