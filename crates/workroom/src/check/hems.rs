//! The borders of a garment that go around the body: how level they hang, and their folds.

use crate::Assembly;
use costume::PieceId;
use fit::{Hem, Surface, borders};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Shorter borders are those of necks, cuffs and holes, mm.
const SHORTEST: f64 = 500.0;

/// A hem.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct HemRow {
    /// Pieces along it, each once.
    pub pieces: Vec<PieceId>,
    /// Along the border, mm.
    pub length: f64,
    /// Heights over the floor, mm: the mean, and in front, left, back and right.
    pub height: f64,
    pub heights: [f64; 4],
    /// Degrees by which it drops towards its lowest side.
    pub tilt: f64,
    /// Folds around, their depth, and the way from one to the next, mm.
    pub folds: usize,
    pub depth: f64,
    pub wavelength: f64,
    /// 1 where left and right are alike.
    pub symmetry: f64,
}

/// The hems, the lowest first.
pub(super) fn hems(assembly: &Assembly, cloth: &Surface) -> Vec<HemRow> {
    let mut found: Vec<HemRow> = borders(cloth).iter().filter_map(|line| hem_row(assembly, cloth, line)).collect();
    found.sort_by(|a, b| a.height.total_cmp(&b.height));
    found
}

fn hem_row(assembly: &Assembly, cloth: &Surface, line: &[u32]) -> Option<HemRow> {
    let places: Vec<[f64; 3]> = line.iter().map(|v| cloth.positions[*v as usize].map(f64::from)).collect();
    let hem = Hem::of(&places)?;
    let mm = |m: f64| 1000.0 * m;
    if mm(hem.length) < SHORTEST {
        return None;
    }
    let of = |v: &u32| assembly.pieces.iter().find(|p| p.vertices().contains(&(*v as usize))).map(|p| p.piece);
    let mut pieces: Vec<PieceId> = line.iter().filter_map(of).collect();
    pieces.sort_unstable();
    pieces.dedup();
    Some(HemRow {
        pieces,
        length: mm(hem.length),
        height: mm(hem.height),
        heights: hem.heights.map(mm),
        tilt: hem.tilt[0],
        folds: hem.folds,
        depth: mm(hem.depth),
        wavelength: mm(hem.wavelength),
        symmetry: hem.symmetry,
    })
}
