//! How far each fabric is stretched along its threads, by its own limit.

use crate::Assembly;
use fit::Strain;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Cloth is comfortable up to this share of the strain at which it locks, and tight from there on.
const COMFORTABLE: f64 = 0.5;

/// Shares of the area of a fabric.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct StretchRow {
    pub fabric: String,
    /// Strain along a thread up to which it is comfortable, and up to which it stretches at all; 0.02 is 2 %.
    pub limits: [f64; 2],
    /// Of its area: comfortable, tight, beyond its stretch.
    pub shares: [f64; 3],
}

/// One row for each fabric that hangs; `strains` are those of all triangles.
pub(super) fn stretches(assembly: &Assembly, strains: &[Strain]) -> Vec<StretchRow> {
    let mut rows: Vec<StretchRow> = Vec::new();
    for (panel, range) in assembly.scene.panels.iter().zip(&assembly.pieces) {
        let fabric = assembly.costume.piece(range.piece).and_then(|p| assembly.costume.fabric(p.fabric));
        let Some(fabric) = fabric else { continue };
        let locking = f64::from(panel.fabric.locking);
        let k = rows.iter().position(|r| r.fabric == fabric.name).unwrap_or_else(|| {
            rows.push(StretchRow { fabric: fabric.name.clone(), limits: [COMFORTABLE * locking, locking], shares: [0.0; 3] });
            rows.len() - 1
        });
        for t in panel.first..panel.first + panel.count {
            let most = strains[t].threads[0].max(strains[t].threads[1]);
            let grade = rows[k].limits.iter().filter(|limit| most > **limit).count();
            rows[k].shares[grade] += assembly.cut_area(t);
        }
    }
    for row in &mut rows {
        let all: f64 = row.shares.iter().sum();
        row.shares = row.shares.map(|s| if all > 0.0 { s / all } else { 0.0 });
    }
    rows
}
