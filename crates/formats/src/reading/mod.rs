//! Figures from other programs: bytes of OBJ, GLB or glTF, PLY, USD text and Alembic to one mesh. Bad input is refused whole;
//! what is not taken over is told.

mod alembic;
mod budget;
mod gltf;
mod left_out;
mod obj;
mod ply;
mod polygon;
mod usd;

use crate::{Joint, Skin};
use budget::Budget;
pub(crate) use budget::at_most;
pub use budget::figure_limits;
pub use left_out::LeftOut;
use std::collections::BTreeSet;

/// A mesh as a file holds it: its own unit and axes.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ImportedMesh {
    /// In the unit and axes of the file.
    pub positions: Vec<[f32; 3]>,
    /// Indices into the positions.
    pub triangles: Vec<[u32; 3]>,
    /// Of the texture layout, v upwards; empty when the file has none.
    pub uvs: Vec<[f32; 2]>,
    /// Corners in `uvs` by triangle, [`NO_LAYOUT`] for those without; empty when the file has none.
    pub uv_triangles: Vec<[u32; 3]>,
    /// Metres of one unit, when the format or the file says so.
    pub unit: Option<f64>,
    /// Whether z is up (otherwise y), when the format or the file says so.
    pub z_up: Option<bool>,
    /// Bones in the rest state, with one row of weights per position; motions are in `clips`.
    pub skin: Option<Skin>,
    /// Motions that came along.
    pub clips: Vec<crate::Clip>,
    /// The mesh over time, when its vertices move by themselves; `positions` are those of its first frame.
    pub cache: Option<VertexCache>,
    /// What the file also holds and was not taken over.
    pub left_out: BTreeSet<LeftOut>,
}

/// Corners of a triangle without a layout.
pub const NO_LAYOUT: [u32; 3] = [u32::MAX; 3];

/// A mesh over time whose triangles stay; two frames at least.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct VertexCache {
    /// When each frame stands, s; growing.
    pub seconds: Vec<f64>,
    /// Positions by frame, in the unit and axes of the file.
    pub frames: Vec<Vec<[f32; 3]>>,
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
    #[error("holds positions that are no numbers or too far away, the first at vertex {0}")]
    NotFinite(usize),
    #[error("needs the buffer `{0}`, which did not come with it")]
    MissingBuffer(String),
    #[error("uses {0}, which is not read here")]
    Unsupported(String),
}

impl ReadFault {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            Self::Ending(_) => "bring an OBJ, GLB, glTF, PLY, USD text or Alembic file (.obj .glb .gltf .ply .usda .abc)",
            Self::TooMany { .. } => "bring a lighter version of the figure",
            Self::Damaged(_) => "write the file anew from the program it came from",
            Self::NoSurface(_) => "bring a mesh with faces; a scan needs a surface first",
            Self::NotFinite(_) => "remedy the mesh where it was made and write it anew",
            Self::MissingBuffer(_) => "write it as one GLB file, which holds its buffers",
            Self::Unsupported(_) => "write it without that, for example as a plain GLB or OBJ",
        }
    }
}

/// Reads a figure; the ending of `name` says what it is.
pub fn read_figure(name: &str, bytes: &[u8]) -> Result<ImportedMesh, ReadFault> {
    use figure_limits as limits;
    at_most("bytes", bytes.len(), limits::FILE_BYTES)?;
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    let budget = &mut Budget::default();
    let mesh = match ending.as_str() {
        "obj" => obj::read(bytes, budget),
        "glb" | "gltf" => gltf::read(bytes, budget),
        "ply" => ply::read(bytes, budget),
        "usda" | "usd" => usd::read(bytes, budget),
        "abc" => alembic::read(bytes, budget),
        other => Err(ReadFault::Ending(other.chars().take(20).collect())),
    }?;
    let mesh = with_whole_layout(mesh);
    let frames = mesh.cache.iter().flat_map(|c| &c.frames);
    for frame in std::iter::once(&mesh.positions).chain(frames) {
        if let Some(bad) = frame.iter().position(|p| !p.iter().all(|v| v.is_finite() && v.abs() < 1e9)) {
            return Err(ReadFault::NotFinite(bad));
        }
    }
    if mesh.triangles.is_empty() {
        return Err(ReadFault::NoSurface(mesh.positions.len()));
    }
    Ok(mesh)
}

/// Takes a layout off that is not one: no corner of it known, or places that are no numbers.
fn with_whole_layout(mut mesh: ImportedMesh) -> ImportedMesh {
    let count = mesh.uvs.len();
    let known = |t: &[u32; 3]| *t == NO_LAYOUT || t.iter().all(|v| (*v as usize) < count);
    let whole = mesh.uv_triangles.len() == mesh.triangles.len()
        && mesh.uv_triangles.iter().all(known)
        && mesh.uv_triangles.iter().any(|t| *t != NO_LAYOUT)
        && mesh.uvs.iter().flatten().all(|v| v.is_finite() && v.abs() < 1e6);
    if !whole {
        mesh.uvs = Vec::new();
        mesh.uv_triangles = Vec::new();
    }
    mesh
}

/// Damage in one readable line, whatever a library or a name in the file says.
fn damaged(what: impl std::fmt::Display) -> ReadFault {
    /// Longest message of a reading library that is passed on, characters.
    const LONGEST: usize = 160;
    let text = what.to_string();
    let words = text.split(|c: char| c.is_whitespace() || c.is_control()).filter(|w| !w.is_empty());
    ReadFault::Damaged(words.collect::<Vec<_>>().join(" ").chars().take(LONGEST).collect())
}

/// A joint without rotation.
fn joint(name: String, parent: Option<usize>, at: [f32; 3]) -> Joint {
    Joint { name, parent, rotation: [0.0, 0.0, 0.0, 1.0], at }
}
