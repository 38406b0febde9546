//! Where cloth crosses the body, a thing, or itself, decided with exact predicates on the true triangles.
//!
//! - `pair`: how two triangles meet; touching is not crossing.
//! - `wings`: what lies beside the edges of a mesh, for edges that meet exactly.
//! - `broad`: which triangles are near enough to be looked at.
//! - `inside`: cloth that lies wholly inside a closed skin, by its winding number.
//! - `places`: pairs gathered into places over the sewn cloth, with length and depth.

mod broad;
mod inside;
mod pair;
mod places;
mod wings;

pub(crate) use broad::{boxes, sweep_and_prune};
pub use inside::winding_number;
pub use places::{Crossing, Surface, cloth_body, cloth_cloth};
