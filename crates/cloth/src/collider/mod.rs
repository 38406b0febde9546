//! What cloth lies on.

pub(crate) mod body;
pub(crate) mod grid;
