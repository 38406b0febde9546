//! Cloth against cloth and against the body: who is near whom, the links that keep them apart, and the last guard.

mod advance;
mod bvh;
mod closest;
mod closing;
mod guard;
mod pairs;
mod response;
mod smooth;
mod tangle;

pub(crate) use advance::FLOOR;
pub(crate) use guard::guard;
pub(crate) use pairs::{Neighbourhood, Searcher};
pub(crate) use response::{Moving, OUTWARD_SPEED, Sample, body_links, cloth_links, heights, least_height};

/// Contact stiffness per area, N/m³.
pub(crate) const CONTACT_STIFFNESS: f32 = 1.5e6;
pub(crate) use tangle::{Tangle, tangles, untangling_directions};
