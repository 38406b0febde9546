//! Live drapes: one thread per open costume, watched by any number of windows.

mod events;
pub mod frames;
mod manipulation;
mod motion;
mod past;
mod persistence;
mod pose_way;
pub mod registry;
pub mod socket;
mod thread;
pub mod values;
