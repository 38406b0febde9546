//! Checks on draped cloth. Positions are metres; results say where and how much.

mod crossings;
mod intersect;
mod tension;

pub use crossings::{Crossing, cloth_body, cloth_cloth};
pub use intersect::triangles_cross;
pub use tension::{Spread, spread, vertex_tension};
