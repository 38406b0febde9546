//! Checks on draped cloth. Positions are metres; results say where and how much.
//!
//! ```
//! use fit::{cloth_body, vertex_tension};
//!
//! // a triangle of cloth through a triangle of skin, which lies across it
//! let cloth = [[-0.1, 0.0, 0.0], [0.1, 0.0, 0.0], [0.0, 0.1, 0.0]];
//! let skin = [[0.0, 0.03, -0.1], [0.0, 0.03, 0.1], [0.0, 0.2, 0.0]];
//! let places = cloth_body(&cloth, &[[0, 1, 2]], &skin, &[[0, 1, 2]]);
//! assert_eq!((places.len(), places[0].pairs), (1, 1));
//! // every vertex has the mean of its triangles
//! assert_eq!(vertex_tension(&[[0, 1, 2]], &[0.02], &[0, 1, 2]), [0.02; 3]);
//! ```

mod crossings;
mod intersect;
mod tension;

pub use crossings::{Crossing, cloth_body, cloth_cloth};
pub use intersect::triangles_cross;
pub use tension::{Summary, spread, vertex_tension};
