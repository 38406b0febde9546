//! The sparse system of a step and its solver.

pub(crate) mod coarse;
pub(crate) mod link;
pub(crate) mod matrix;
pub(crate) mod solve;
