//! A hand that tugs at the cloth.

use glam::Vec3A;

/// Cloth in the hand: vertices with their place and weight, and where the hand is.
pub(crate) struct Grab {
    pub vertices: Vec<(u32, Vec3A, f32)>,
    pub target: Vec3A,
}
