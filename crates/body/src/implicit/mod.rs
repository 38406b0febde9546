//! The shape as a field: tables, parts, their blends.

pub(crate) mod ellipsoid;
pub(crate) mod field;
pub(crate) mod part_arm;
pub(crate) mod part_leg;
pub(crate) mod part_trunk;
pub(crate) mod shape;
pub(crate) mod spline;
pub(crate) mod stack;
pub(crate) mod tables;
