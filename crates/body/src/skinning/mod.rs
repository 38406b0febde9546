//! From the field to an even surface.

pub(crate) mod fairing;
pub(crate) mod nets;
pub(crate) mod relax;
pub(crate) mod surface;
