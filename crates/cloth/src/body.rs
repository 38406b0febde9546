//! The body as the cloth feels it: a distance grid with friction.

use crate::DistanceGrid;
use std::sync::Arc;

/// A body at rest. Shared, because the grid is large and the same for every drape on one body.
#[derive(Clone, Debug)]
pub struct BodyShape {
    pub grid: Arc<DistanceGrid>,
    /// Scales the fabric's friction on skin, by region of the grid.
    pub friction: Arc<[f32]>,
}

impl BodyShape {
    /// The factor at a point near the skin.
    #[inline]
    pub(crate) fn friction_at(&self, p: glam::Vec3) -> f32 {
        if self.friction.len() < 2 {
            return self.friction.first().copied().unwrap_or(1.0);
        }
        self.friction.get(self.grid.region(p) as usize).copied().unwrap_or(1.0)
    }
}
