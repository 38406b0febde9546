//! What cloth lies on.

pub(crate) mod body;
pub(crate) mod grid;
pub(crate) mod moving_mesh;
