//! Cloth on a body in motion, frame by frame: lead-in from the pose it was draped in, the motion itself, settling.

mod advance;
mod beneath;
mod body_motion;
mod carried;
mod choice;
mod course;
mod deliver;
mod keys;
mod library;
mod plan;
mod prop;
mod report;
mod run;
mod saved;

pub use beneath::{Beneath, layers_up_to};
pub use body_motion::{BodyMotion, MotionFile, MotionKey};
pub use choice::MotionChoice;
pub use course::Course;
pub use deliver::{AnimatedKind, animated, body_mesh, garment};
pub use library::{motion, motion_names, motion_on};
pub use plan::{Plan, WindKey, wind_from};
pub use prop::{HeldLine, Prop, PropKey, PropShape, prop_mesh};
pub use report::{Cause, FrameReport};
pub use run::Rehearsal;
pub use saved::SavedRehearsal;
