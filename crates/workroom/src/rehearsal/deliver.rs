//! Garments and bodies over time as files.

use crate::delivery::{plain_body, plain_garment};
use crate::{Assembly, Delivery};
use body::Surface;
use costume::Refusal;
use formats::{AnimatedMesh, ExportMesh, abc, glb_animated, obj, pc2, usda};

/// Largest binary glTF, bytes of positions: its buffer is counted with 32 bits.
const LARGEST_GLB: u64 = 1_000_000_000;

/// A format that holds a mesh over time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum AnimatedKind {
    /// glTF with a morph target for every frame.
    Glb,
    /// USD as text with time samples.
    Usda,
    /// Alembic in an Ogawa container.
    Abc,
    /// A point cache, and the mesh that it moves as OBJ.
    Pc2,
}

impl AnimatedKind {
    /// By the ending of a file's name; refused with those that there are.
    pub fn of(name: &str) -> Result<Self, Refusal> {
        match name.rsplit_once('.').map(|(_, ending)| ending) {
            Some("glb") => Ok(Self::Glb),
            Some("usda") => Ok(Self::Usda),
            Some("abc") => Ok(Self::Abc),
            Some("pc2") => Ok(Self::Pc2),
            _ => Err(Refusal::elsewhere(name, "has no ending of a moving mesh", "the ending must be .usda, .abc, .glb or .pc2")),
        }
    }
}

/// The files of a mesh over time, the main one first; `first` is it at the first frame, with its groups and materials.
pub fn animated(kind: AnimatedKind, mesh: &AnimatedMesh, first: &ExportMesh, stem: &str) -> Result<Delivery, Refusal> {
    let files = match kind {
        AnimatedKind::Glb => {
            if 12 * mesh.frames.len() as u64 * first.positions.len() as u64 > LARGEST_GLB {
                let remedy = "write .usda, .abc or .pc2, fewer frames or a coarser mesh";
                return Err(Refusal::elsewhere(format!("{stem}.glb"), "would be larger than 1 GB", remedy));
            }
            vec![(format!("{stem}.glb"), glb_animated(first, &mesh.frames, mesh.fps))]
        }
        AnimatedKind::Usda => vec![(format!("{stem}.usda"), usda(std::slice::from_ref(mesh)).into_bytes())],
        AnimatedKind::Abc => vec![(format!("{stem}.abc"), abc(mesh, first))],
        AnimatedKind::Pc2 => {
            vec![(format!("{stem}.pc2"), pc2(mesh)), (format!("{stem}.obj"), obj(std::slice::from_ref(first), None).into_bytes())]
        }
    };
    Ok(Delivery { files })
}

/// The garment at positions (m) of its cloth, welded by what is fused in all frames: its vertices are the same in every one.
pub fn garment(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32]) -> ExportMesh {
    plain_garment(assembly, positions, fused)
}

/// A body as a mesh.
pub fn body_mesh(name: &str, surface: Surface) -> ExportMesh {
    plain_body(name, surface.positions, surface.normals, surface.triangles)
}
