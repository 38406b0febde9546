//! Bytes and values: meshes as OBJ and GLB. Never touches a file or a socket.

mod glb;
mod mesh;
mod obj;
mod picture;

pub use glb::glb;
pub use mesh::{ExportMesh, Group, Material};
pub use obj::{mtl, obj};
pub use picture::{View, picture};
