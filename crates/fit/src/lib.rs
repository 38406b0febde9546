//! Checks on draped cloth. Positions are metres; results say where and how much.
//!
//! ```
//! use fit::{Surface, cloth_body, vertex_tension};
//!
//! // a triangle of cloth through a triangle of skin, which lies across it
//! let cloth = [[-0.1, 0.0, 0.0], [0.1, 0.0, 0.0], [0.0, 0.1, 0.0]];
//! let skin = [[0.0, 0.03, -0.1], [0.0, 0.03, 0.1], [0.0, 0.2, 0.0]];
//! let places = cloth_body(&Surface::sewn(&cloth, &[[0, 1, 2]], &[]), &Surface::open(&skin, &[[0, 1, 2]]));
//! assert_eq!((places.len(), places[0].pairs), (1, 1));
//! // every vertex has the mean of its triangles
//! assert_eq!(vertex_tension(&[[0, 1, 2]], &[0.02], &[0, 1, 2]), [0.02; 3]);
//! ```

mod crossings;
mod hem;
mod mesh_report;
mod nearest;
mod section;
mod sets;
mod strain;
mod tension;
mod uv_report;
mod vector;

pub use crossings::{Crossing, Surface, cloth_body, cloth_cloth, winding_number};
pub use hem::{Hem, borders};
pub use mesh_report::{MeshReport, mesh_report};
pub use nearest::Nearest;
pub use section::{Girth, Line, Plane, girth, section, stretch_around};
pub use strain::{Cloth, Strain, strains};
pub use tension::{Summary, spread, vertex_tension};
pub use uv_report::{UvReport, uv_report};
