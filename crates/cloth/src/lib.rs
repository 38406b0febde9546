//! The cloth simulator: flat triangles with fabric values, hung around a body, sewn, dropped and brought to rest.
//!
//! SI units (metres, kilograms, seconds, newtons), y up. State is f32, sums are f64. Results are the same bit for
//! bit on every run and for any number of threads: every parallel loop writes to its own place and every sum has a
//! fixed order. Knows nothing of costumes; [`Scene`] is its whole input. docs/physics.md describes the physics.

mod air;
mod assembly;
mod bending;
mod body;
mod coarse;
mod connect;
mod construction;
mod contact;
mod drape;
mod fabric;
mod fold;
mod gather;
mod grid;
mod hold;
mod link;
mod made;
mod matrix;
mod membrane;
mod rest;
mod scene;
mod seams;
mod solve;
mod stage;
mod step;
mod strain;
mod topology;
mod untangle;

pub use air::Conditions;
pub use body::{BodyShape, Motion};
pub use construction::{Construction, EdgeTape, Fold, Gather, Stay};
pub use drape::{Drape, Phase, StepReport};
pub use fabric::Fabric;
pub use grid::{DistanceGrid, SolidShape};
pub use scene::{Panel, Scene, SceneFault, SeamPair, Settings};
pub use stage::Stage;
pub use strain::triangle_stretch;
