//! The body as the cloth feels it: a distance grid with friction, which may move.

use super::moving_mesh::{MovingMesh, UNKNOWN};
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

/// Farther than this from the origin no cloth hangs, m.
const FAR_OUT: f32 = 3.0;
/// Step of the slope of a distance, m.
const NEAR: f32 = 1e-3;

impl Thing {
    /// The way off it at a point, by the slope of its distance.
    pub(crate) fn normal(&self, p: Vec3) -> Vec3 {
        let slope = |axis: Vec3| (self.distance)(p + axis * NEAR) - (self.distance)(p - axis * NEAR);
        Vec3::new(slope(Vec3::X), slope(Vec3::Y), slope(Vec3::Z)).normalize_or(Vec3::Y)
    }
}

impl std::fmt::Debug for Thing {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Thing").field("region", &self.region).finish_non_exhaustive()
    }
}

/// What is nearest to a point of the cloth.
pub(crate) struct Near {
    /// Signed, m.
    pub distance: f32,
    /// The way off it.
    pub normal: Vec3,
    /// Of a moving skin, or a thing beside it: how fast it moves there, m/s, and its region.
    skin: Option<(Vec3A, u8)>,
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
    /// The skin while it moves: where there is one it counts instead of the grid.
    pub mesh: Option<Arc<MovingMesh>>,
}

impl BodyShape {
    /// A body at rest.
    pub fn still(grid: Arc<DistanceGrid>, friction: Arc<[f32]>) -> Self {
        Self { grid, friction, motion: Arc::default(), grips: Arc::default(), things: Arc::default(), mesh: None }
    }

    /// Whether it may move while cloth is looked at.
    #[inline]
    pub(crate) fn moves(&self) -> bool {
        self.mesh.is_some() || !self.motion.is_empty()
    }

    /// Distance beyond which nothing is told apart, m.
    #[inline]
    pub(crate) fn band(&self) -> f32 {
        self.mesh.as_ref().map_or_else(|| self.grid.band(), |m| m.band())
    }

    /// No place of a moving skin, or of a thing beside it, is faster than this, m/s; none where it is not known.
    pub(crate) fn fastest(&self) -> Option<f32> {
        let mesh = self.mesh.as_ref()?;
        let of = |m: &Motion| Vec3::from(m.linear).length() + Vec3::from(m.angular).length() * FAR_OUT;
        let things = self.things.iter().filter_map(|t| self.motion.get(t.region as usize)).map(of);
        Some(things.fold(mesh.fastest(), f32::max))
    }

    /// Signed distance to the skin or the nearest thing as far as it is below this, m; otherwise this, or more.
    #[inline]
    pub(crate) fn height(&self, p: Vec3, below: f32) -> f32 {
        self.height_from(p, below, UNKNOWN).0
    }

    /// The same, begun at a triangle of a moving skin that was the nearest before, and the one that is now.
    #[inline]
    pub(crate) fn height_from(&self, p: Vec3, below: f32, hint: u32) -> (f32, u32) {
        let Some(mesh) = &self.mesh else { return (self.grid.distance(p), UNKNOWN) };
        let (skin, triangle) = mesh.touch_within(p, below, hint).map_or((below, UNKNOWN), |t| (t.distance, t.triangle));
        (self.things.iter().map(|thing| (thing.distance)(p)).fold(skin, f32::min), triangle)
    }

    /// Signed distance to the skin or the nearest thing, m.
    #[inline]
    pub(crate) fn distance(&self, p: Vec3) -> f32 {
        self.height(p, self.band())
    }

    /// What is nearest to a point: one search for all that is asked of it.
    #[inline]
    pub(crate) fn near(&self, p: Vec3) -> Near {
        self.near_from(p, UNKNOWN)
    }

    /// The same, begun at a triangle of a moving skin that was the nearest before.
    #[inline]
    pub(crate) fn near_from(&self, p: Vec3, hint: u32) -> Near {
        let Some(mesh) = &self.mesh else {
            let (distance, normal) = self.grid.distance_and_normal(p);
            return Near { distance, normal, skin: None };
        };
        let touch = mesh.touch_within(p, mesh.band(), hint);
        let d = touch.map_or(mesh.band(), |t| t.distance);
        let things = self.things.iter().map(|thing| (thing, (thing.distance)(p)));
        match things.filter(|(_, other)| *other < d).min_by(|a, b| a.1.total_cmp(&b.1)) {
            Some((thing, distance)) => {
                Near { distance, normal: thing.normal(p), skin: Some((self.velocity_of(thing.region, p), thing.region)) }
            }
            None => {
                let (normal, velocity, region) = touch.map_or((Vec3::Y, Vec3A::ZERO, 0), |t| (t.normal, t.velocity, t.region));
                Near { distance: d, normal, skin: Some((velocity, region)) }
            }
        }
    }

    /// Signed distance to the nearest, m, and the way off it.
    #[inline]
    pub(crate) fn distance_and_normal(&self, p: Vec3) -> (f32, Vec3) {
        let near = self.near(p);
        (near.distance, near.normal)
    }

    /// The factor of friction at a point near the skin; of the spots that it lies in, the last counts.
    #[inline]
    pub(crate) fn friction_of(&self, near: &Near, p: Vec3) -> f32 {
        let spot = self.grips.iter().rev().find(|g| Vec3::from(g.centre).distance_squared(p) < g.radius * g.radius);
        let factor = spot.map_or(1.0, |g| g.factor);
        if self.friction.len() < 2 {
            return factor * self.friction.first().copied().unwrap_or(1.0);
        }
        let region = near.skin.map_or_else(|| self.grid.region(p), |s| s.1);
        factor * self.friction.get(region as usize).copied().unwrap_or(1.0)
    }

    /// How fast what is nearest to a point moves there, m/s.
    #[inline]
    pub(crate) fn speed_of(&self, near: &Near, p: Vec3) -> Vec3A {
        match near.skin {
            Some((velocity, _)) => velocity,
            None if self.motion.is_empty() => Vec3A::ZERO,
            None => self.velocity_of(self.grid.region(p), p),
        }
    }

    /// The same where nothing is known of it yet.
    #[inline]
    pub(crate) fn velocity_at(&self, p: Vec3) -> Vec3A {
        if self.moves() { self.speed_of(&self.near(p), p) } else { Vec3A::ZERO }
    }

    /// How fast a region would move a point, m/s.
    pub(crate) fn velocity_of(&self, region: u8, p: Vec3) -> Vec3A {
        let motion = self.motion.get(region as usize).copied().unwrap_or_default();
        Vec3A::from_array(motion.linear) + Vec3A::from_array(motion.angular).cross(p.into())
    }
}
