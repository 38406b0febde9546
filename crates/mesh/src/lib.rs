//! From flat outlines to even triangles, with seam samples that pair one to one.
//!
//! Lengths are millimetres in the flat frame of each piece. Knows nothing of costumes or bodies.
//!
//! ```
//! use kurbo::{Line, PathSeg};
//! use mesh::{Domain, EdgeRun, SeamSpec, cut};
//!
//! // a strip of 240 x 100 mm whose short sides are sewn together: a tube
//! let c = [(0.0, 0.0), (240.0, 0.0), (240.0, 100.0), (0.0, 100.0)];
//! let strip = Domain::from_outline(&[0, 1, 2, 3].map(|i| PathSeg::Line(Line::new(c[i], c[(i + 1) % 4]))));
//! let tube = SeamSpec { a: vec![EdgeRun::whole(0, 1, false)], b: vec![EdgeRun::whole(0, 3, true)], ..SeamSpec::default() };
//! let made = cut(&[strip], &[tube], 20.0)?;
//! assert_eq!(made.pairs.len(), 6);
//! # Ok::<(), mesh::CutError>(())
//! ```

mod domain;
mod lay;
mod lookup;
mod narrow;
mod net;
mod pack;
mod pieces;
mod planar;
mod quads;
mod quality;
mod refine;
mod rows;
mod sample;
mod simplify;
mod size;
mod subdivide;
mod thicken;
mod weld;

pub use domain::{Domain, DomainLine, EdgeRun, SeamSpec};
pub use lay::{LaidAt, LaidShape, LayPlan, lay};
pub use lookup::FlatLookup;
pub use pack::{Island, Packed, Packing, pack, pack_at};
pub use pieces::{CutError, PieceMeshes, SeamPair, cut, cut_ungraded};
pub use planar::{PlanarMesh, triangulate};
pub use quads::{QuadMesh, quads};
pub use quality::{Quality, quality};
pub use simplify::{LaidMesh, Simplified, simplify};
pub use subdivide::{Subdivided, subdivide, subdivide_flat};
pub use thicken::{Thick, thicken};
pub use weld::{Weld, weld};
