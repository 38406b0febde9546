//! What resists: stretch, bending, folds, air, tapes.

pub(crate) mod air;
pub(crate) mod bending;
pub(crate) mod fold;
pub(crate) mod gather;
pub(crate) mod leash;
pub(crate) mod membrane;
pub(crate) mod skin_holds;
pub(crate) mod strain;
pub(crate) mod tapes_and_stays;
