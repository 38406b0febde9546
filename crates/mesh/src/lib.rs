//! From flat outlines to even triangles, with seam samples that pair one to one.
//!
//! Lengths are millimetres in the flat frame of each piece. Knows nothing of costumes or bodies.

mod cut;
mod flat;
mod lookup;
mod sample;
mod weld;

pub use cut::{Cut, CutError, FlatPiece, SeamPair, Stitch, Stretch, cut};
pub use flat::{FlatMesh, triangulate};
pub use lookup::FlatLookup;
pub use weld::{Weld, weld};
