//! Lengths of seam sides and their difference.

use crate::{Costume, Run, Seam, edge_length};

/// Both sides of a seam in mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SeamLengths {
    pub a: f64,
    pub b: f64,
}

impl SeamLengths {
    /// How much longer side b is, mm.
    pub fn difference(&self) -> f64 {
        self.b - self.a
    }
    /// Sewn without comment up to 3 mm or 1 %.
    pub fn is_even(&self) -> bool {
        self.difference().abs() <= (0.01 * self.a.max(self.b)).max(3.0)
    }
}

/// Length in mm of a chain of runs; runs on missing edges count as zero.
pub fn side_length(costume: &Costume, side: &[Run]) -> f64 {
    side.iter()
        .filter_map(|run| {
            let piece = costume.piece(run.piece)?;
            Some(edge_length(piece, piece.index(run.edge)?))
        })
        .sum()
}

/// Both lengths of a seam.
pub fn seam_lengths(costume: &Costume, seam: &Seam) -> SeamLengths {
    SeamLengths { a: side_length(costume, &seam.a), b: side_length(costume, &seam.b) }
}
