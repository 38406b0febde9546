//! Cloth on a body in motion, frame by frame: lead-in from the pose it was draped in, the motion itself, settling.

mod body_motion;
mod library;
mod prop;
mod run;

pub use body_motion::{BodyMotion, MotionFile, MotionKey};
pub use library::{motion, motion_names, motion_on};
pub use prop::{Prop, PropKey, PropShape};
pub use run::{FrameReport, Plan, Rehearsal};
