//! The cloth simulator: flat triangles with fabric values, hung around a body, sewn, dropped and brought to rest.
//!
//! SI units (metres, kilograms, seconds, newtons), y up. State is f32, sums are f64. Results are the same bit for
//! bit on every run and for any number of threads: every parallel loop writes to its own place and every sum has a
//! fixed order. Knows nothing of costumes; [`Scene`] is its whole input. docs/physics.md describes the physics.
//!
//! ```
//! use cloth::{Drape, Fabric, Panel, Scene, Settings};
//!
//! // a square of 10 cm in two triangles, pinned at two corners, falls and swings
//! let fabric = Fabric { areal_density: 0.15, stretch: [900.0, 700.0], shear: 30.0, bending: [1e-5; 2], thickness: 4e-4, friction: 0.4, locking: 0.2 };
//! let flat = vec![[0.0, 0.0], [0.1, 0.0], [0.1, 0.1], [0.0, 0.1]];
//! let scene = Scene {
//!     positions: flat.iter().map(|p| [p[0], 1.0, p[1]]).collect(),
//!     flat,
//!     triangles: vec![[0, 1, 2], [0, 2, 3]],
//!     panels: vec![Panel { name: "square".into(), fabric, grain: 0.0, first: 0, count: 2 }],
//!     pairs: Vec::new(),
//!     body: None,
//!     pins: vec![0, 1],
//!     construction: Default::default(),
//!     settings: Settings::default(),
//! };
//! let mut drape = Drape::new(scene)?;
//! (0..24).for_each(|_| drop(drape.step()));
//! let at = drape.positions();
//! assert_eq!(at[0], [0.0, 1.0, 0.0]);
//! assert!(at[2][1] < 0.95, "the free corners have fallen");
//! # Ok::<(), cloth::SceneFault>(())
//! ```

mod collider;
mod construction;
mod contact;
mod elements;
mod fabric;
mod linear;
mod scene;
mod sewing;
mod stepper;

pub use collider::body::{BodyShape, GripSpot, Motion, Thing, ThingDistance};
pub use collider::grid::{DistanceGrid, SolidShape};
pub use collider::moving_mesh::MovingMesh;
pub use construction::{Construction, EdgeTape, Fold, Gather, Lace, Lap, SkinHold, Stay};
pub use elements::air::Conditions;
pub use elements::leash::Leash;
pub use elements::strain::triangle_stretch;
pub use fabric::{Fabric, LOCKED};
pub use scene::{Panel, Scene, SceneFault, SeamPair, Settings};
pub use stepper::bearing::Bearing;
pub use stepper::drape::{Drape, StepReport};
pub use stepper::parts::Phase;
pub use stepper::saved::SavedDrape;
pub use stepper::stage::Stage;
