//! Bytes and values: meshes as OBJ, GLB, USD text and Alembic, figures from them and from PLY. Never touches a file or a socket.
//!
//! ```
//! use formats::read_figure;
//!
//! // a triangle as text; what a reader leaves out it tells
//! let found = read_figure("patch.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")?;
//! assert_eq!((found.positions.len(), found.triangles.len()), (3, 1));
//! // damage is refused with its reason
//! assert!(read_figure("patch.obj", b"v 0 0 0\nf 1 2 9\n").is_err());
//! # Ok::<(), formats::ReadFault>(())
//! ```

mod alembic;
mod animated;
mod archive;
mod flat;
mod glb;
mod mesh;
mod names;
mod obj;
pub mod paper;
mod picture;
mod png_writing;
mod raster;
mod reading;
mod recorded;
mod scan;
mod sheet;
mod solid;
mod usd_still;

pub use alembic::abc;
pub use animated::{AnimatedMesh, pc2, usda};
pub use archive::archive;
pub use flat::{FlatKind, PlainPattern, PlainPiece, dxf, pattern_limits, read_pattern, svg};
pub use glb::{glb, glb_animated};
pub use mesh::{Clip, ExportMesh, Group, Joint, Material, Skin};
pub use names::{texture_names, textures};
pub use obj::{mtl, obj, obj_said};
pub use picture::{View, picture};
pub use raster::{ColourPicture, Texture, each_pixel, linear_byte, srgb};
pub use reading::{ImportedMesh, LeftOut, NO_LAYOUT, ReadFault, VertexCache, figure_limits, read_figure};
pub use recorded::{WHOLE_EVERY, off_lattice, on_lattice, packed, squeezed, unpacked, unsqueezed};
pub use scan::{ScanKind, ScanPage, grey_png, scan_colours, scan_grey, scan_kind, scan_limits, scan_pages, scan_png};
pub use sheet::{Scanning, sheet};
pub use solid::{ply, stl};
pub use usd_still::usda_still;
