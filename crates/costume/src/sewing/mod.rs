//! What a seam does to the cloth: which way its sides are walked, how they fit, and what is the matter with all seams
//! together. Nothing here knows a body.

mod direction;
mod findings;
mod joints;
mod judge;
mod stitching;
mod walking;

pub use direction::together;
pub(crate) use direction::turned;
pub(crate) use findings::{findings, refuse};
pub use joints::Joints;
pub use judge::{Judgement, LEAST_GATHER, SeamKind, ease_limit, judge, stretch_limit};
pub use stitching::{StitchRow, top_stitching};
pub use walking::{Walked, walk};
