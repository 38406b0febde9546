//! Figures from other programs: bytes of OBJ, GLB or glTF, PLY and USD text to one mesh. Bad input is refused whole.

mod gltf;
mod obj;
mod ply;
mod usd;

use crate::{Joint, Skin};

/// Explicit limits of what is read.
pub mod figure_limits {
    /// Largest file in bytes.
    pub const FILE_BYTES: usize = 96 << 20;
    pub const VERTICES: usize = 2_000_000;
    pub const TRIANGLES: usize = 2_000_000;
    pub const BONES: usize = 400;
}

/// A mesh as a file holds it: its own unit and axes.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct FoundMesh {
    pub positions: Vec<[f32; 3]>,
    pub triangles: Vec<[u32; 3]>,
    /// Metres of one unit, when the format or the file says so.
    pub unit: Option<f64>,
    /// Whether z is up (otherwise y), when the format or the file says so.
    pub z_up: Option<bool>,
    /// Bones in the rest state, with one row of weights per position; motions are in `clips`.
    pub skin: Option<Skin>,
    pub clips: Vec<crate::Clip>,
}

/// Why a file cannot be read, with what would help.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ReadFault {
    #[error("has the ending `{0}`, which is not read here")]
    Ending(String),
    #[error("has {found} {what}, more than the {limit} that are read")]
    TooMany { what: &'static str, found: usize, limit: usize },
    #[error("is damaged: {0}")]
    Damaged(String),
    #[error("has no surface, only {0} points")]
    NoSurface(usize),
    #[error("holds positions that are no numbers, the first at vertex {0}")]
    NotFinite(usize),
    #[error("needs the buffer `{0}`, which did not come with it")]
    MissingBuffer(String),
    #[error("uses {0}, which is not read here")]
    Unsupported(String),
}

impl ReadFault {
    /// What to do about it.
    pub fn mend(&self) -> &'static str {
        match self {
            Self::Ending(_) => "bring an OBJ, GLB, glTF, PLY or USD text file (.obj .glb .gltf .ply .usda)",
            Self::TooMany { .. } => "bring a lighter version of the figure",
            Self::Damaged(_) => "write the file anew from the program it came from",
            Self::NoSurface(_) => "bring a mesh with faces; a scan needs a surface first",
            Self::NotFinite(_) => "mend the mesh where it was made and write it anew",
            Self::MissingBuffer(_) => "write it as one GLB file, which holds its buffers",
            Self::Unsupported(_) => "write it without that, for example as a plain GLB or OBJ",
        }
    }
}

/// Reads a figure; the ending of `name` says what it is.
pub fn read_figure(name: &str, bytes: &[u8]) -> Result<FoundMesh, ReadFault> {
    use figure_limits as limits;
    at_most("bytes", bytes.len(), limits::FILE_BYTES)?;
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    let mesh = match ending.as_str() {
        "obj" => obj::read(bytes),
        "glb" | "gltf" => gltf::read(bytes),
        "ply" => ply::read(bytes),
        "usda" | "usd" => usd::read(bytes),
        other => Err(ReadFault::Ending(other.to_owned())),
    }?;
    at_most("vertices", mesh.positions.len(), limits::VERTICES)?;
    at_most("triangles", mesh.triangles.len(), limits::TRIANGLES)?;
    if let Some(bad) = mesh.positions.iter().position(|p| !p.iter().all(|v| v.is_finite() && v.abs() < 1e9)) {
        return Err(ReadFault::NotFinite(bad));
    }
    if mesh.triangles.is_empty() {
        return Err(ReadFault::NoSurface(mesh.positions.len()));
    }
    let count = mesh.positions.len() as u32;
    match mesh.triangles.iter().flatten().find(|v| **v >= count) {
        Some(v) => Err(ReadFault::Damaged(format!("a face names vertex {v} of {count}"))),
        None => Ok(mesh),
    }
}

pub(crate) fn at_most(what: &'static str, found: usize, limit: usize) -> Result<(), ReadFault> {
    if found > limit { Err(ReadFault::TooMany { what, found, limit }) } else { Ok(()) }
}

fn damaged(what: impl std::fmt::Display) -> ReadFault {
    ReadFault::Damaged(what.to_string())
}

/// Adds the triangles of a polygon as a fan.
fn fan(polygon: &[u32], triangles: &mut Vec<[u32; 3]>) {
    for k in 2..polygon.len() {
        triangles.push([polygon[0], polygon[k - 1], polygon[k]]);
    }
}

/// A joint without rotation.
fn joint(name: String, parent: Option<usize>, at: [f32; 3]) -> Joint {
    Joint { name, parent, rotation: [0.0, 0.0, 0.0, 1.0], at }
}
