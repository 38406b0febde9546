//! The body as the cloth feels it: a distance grid with friction, which may move.

use crate::DistanceGrid;
use glam::{Vec3, Vec3A};
use std::sync::Arc;

/// Rigid motion of a region of the body.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Motion {
    /// Of the body at the origin, m/s, and radians a second.
    pub linear: [f32; 3],
    /// Turning, rad/s.
    pub angular: [f32; 3],
}

/// A body at one moment. Shared, because the grid is large and the same for every drape on one body.
#[derive(Clone, Debug)]
pub struct BodyShape {
    /// Signed distances to the skin, m, negative inside.
    pub grid: Arc<DistanceGrid>,
    /// Scales the fabric's friction on skin, by region of the grid.
    pub friction: Arc<[f32]>,
    /// Motion by region; none for a body at rest.
    pub motion: Arc<[Motion]>,
}

impl BodyShape {
    /// A body at rest.
    pub fn still(grid: Arc<DistanceGrid>, friction: Arc<[f32]>) -> Self {
        Self { grid, friction, motion: Arc::default() }
    }

    /// The factor at a point near the skin.
    #[inline]
    pub(crate) fn friction_at(&self, p: Vec3) -> f32 {
        if self.friction.len() < 2 {
            return self.friction.first().copied().unwrap_or(1.0);
        }
        self.friction.get(self.grid.region(p) as usize).copied().unwrap_or(1.0)
    }

    /// How fast the skin near a point moves, m/s.
    #[inline]
    pub(crate) fn velocity_at(&self, p: Vec3) -> Vec3A {
        if self.motion.is_empty() {
            return Vec3A::ZERO;
        }
        let motion = self.motion.get(self.grid.region(p) as usize).copied().unwrap_or_default();
        Vec3A::from_array(motion.linear) + Vec3A::from_array(motion.angular).cross(p.into())
    }
}
