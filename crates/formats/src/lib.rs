//! Bytes and values: meshes as OBJ and GLB, figures from OBJ, GLB, PLY and USD text. Never touches a file or a socket.

mod glb;
mod mesh;
mod names;
mod obj;
mod picture;
mod reading;

pub use glb::glb;
pub use mesh::{Clip, ExportMesh, Group, Joint, Material, Skin};
pub use obj::{mtl, obj};
pub use picture::{View, picture};
pub use reading::{FoundMesh, LeftOut, ReadFault, figure_limits, read_figure};
