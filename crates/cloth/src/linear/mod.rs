//! The sparse system of a step and its solver.

pub(crate) mod cholesky;
pub(crate) mod coarse;
pub(crate) mod galerkin;
pub(crate) mod link;
pub(crate) mod matrix;
pub(crate) mod net;
pub(crate) mod solve;
