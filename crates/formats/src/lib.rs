//! Bytes and values: meshes as OBJ and GLB, figures from OBJ, GLB, PLY and USD text. Never touches a file or a socket.

mod glb;
mod mesh;
mod obj;
mod picture;
mod reading;
mod skin;

pub use glb::glb;
pub use mesh::{Clip, ExportMesh, Group, Joint, Material, Skin};
pub use obj::{mtl, obj};
pub use picture::{View, picture};
pub use reading::{FoundMesh, ReadFault, figure_limits, read_figure};
