//! Alembic: meshes over time in an Ogawa container.
//!
//! An archive is a tree of objects (transforms, meshes, sets of faces), each with a compound of properties; a property has one
//! sample for all times or one for each of a time sampling. Faces turn clockwise seen from their front, other than in all our meshes.

pub(crate) mod header;
pub(crate) mod ogawa;
pub(crate) mod parts;
mod writing;

pub use writing::abc;
