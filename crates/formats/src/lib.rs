//! Bytes and values: meshes as OBJ and GLB. Never touches a file or a socket.

mod glb;
mod mesh;
mod obj;
mod picture;
mod skin;

pub use glb::glb;
pub use mesh::{Clip, ExportMesh, Group, Joint, Material, Skin};
pub use obj::{mtl, obj};
pub use picture::{View, picture};
