//! The body as the cloth feels it: a distance grid with friction.

use crate::DistanceGrid;
use std::sync::Arc;

/// A body at rest. Shared, because the grid is large and the same for every drape on one body.
#[derive(Clone, Debug)]
pub struct BodyShape {
    pub grid: Arc<DistanceGrid>,
    /// Scales the fabric's friction on skin.
    pub friction: f32,
}
