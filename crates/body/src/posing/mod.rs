//! Bones, weights, poses, and where pieces hang.

pub(crate) mod parts;
pub(crate) mod pose;
pub(crate) mod skeleton;
pub(crate) mod skin;
pub(crate) mod spots;
pub(crate) mod station;
pub(crate) mod stations;
pub(crate) mod weights;
