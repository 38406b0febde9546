//! A kept drape: what is stored and read back.

use crate::Assembly;
use serde::{Deserialize, Serialize};

/// Positions of a drape with the document it belongs to; enough to show, check, deliver and continue it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Fitting {
    pub costume: costume::Costume,
    /// m, in the vertex order of the assembled costume.
    pub positions: Vec<[f32; 3]>,
    pub at_rest: bool,
}

impl Fitting {
    /// Whether the positions fit the assembly (same cut).
    pub fn fits(&self, assembly: &Assembly) -> bool {
        self.positions.len() == assembly.scene.positions.len()
    }
}
