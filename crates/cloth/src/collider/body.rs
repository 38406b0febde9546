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

/// A place on the body where cloth slides less, or more.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct GripSpot {
    /// Middle, m.
    pub centre: [f32; 3],
    /// m.
    pub radius: f32,
    /// Scales friction within it.
    pub factor: f32,
}

/// Signed distance to a thing, m, at any point.
pub type ThingDistance = Arc<dyn Fn(Vec3) -> f32 + Send + Sync>;

/// A thing beside the body that cloth can be held to.
#[derive(Clone)]
pub struct Thing {
    /// Signed distance to it.
    pub distance: ThingDistance,
    /// The region of the grid that moves with it.
    pub region: u8,
}

impl std::fmt::Debug for Thing {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Thing").field("region", &self.region).finish_non_exhaustive()
    }
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
    /// Where friction differs within a region.
    pub grips: Arc<[GripSpot]>,
    /// What cloth can be held to besides the skin.
    pub things: Arc<[Thing]>,
}

impl BodyShape {
    /// A body at rest.
    pub fn still(grid: Arc<DistanceGrid>, friction: Arc<[f32]>) -> Self {
        Self { grid, friction, motion: Arc::default(), grips: Arc::default(), things: Arc::default() }
    }

    /// The factor at a point near the skin; of the spots that it lies in, the last counts.
    #[inline]
    pub(crate) fn friction_at(&self, p: Vec3) -> f32 {
        let spot = self.grips.iter().rev().find(|g| Vec3::from(g.centre).distance_squared(p) < g.radius * g.radius);
        let factor = spot.map_or(1.0, |g| g.factor);
        if self.friction.len() < 2 {
            return factor * self.friction.first().copied().unwrap_or(1.0);
        }
        factor * self.friction.get(self.grid.region(p) as usize).copied().unwrap_or(1.0)
    }

    /// How fast the skin near a point moves, m/s.
    #[inline]
    pub(crate) fn velocity_at(&self, p: Vec3) -> Vec3A {
        if self.motion.is_empty() {
            return Vec3A::ZERO;
        }
        self.velocity_of(self.grid.region(p), p)
    }

    /// How fast a region would move a point, m/s.
    pub(crate) fn velocity_of(&self, region: u8, p: Vec3) -> Vec3A {
        let motion = self.motion.get(region as usize).copied().unwrap_or_default();
        Vec3A::from_array(motion.linear) + Vec3A::from_array(motion.angular).cross(p.into())
    }
}
