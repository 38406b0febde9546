//! A kept drape: what is stored and read back.

use crate::Assembly;
use crate::assemble::cut_of;
use crate::carry::{Meshed, carry_meshed};
use crate::words::Words;
use costume::{LineId, PieceId};
use mesh::PlanarMesh;

/// Positions of a drape with the document and the mesh they belong to; enough to show, check, deliver and continue it.
#[derive(Clone, Debug, PartialEq)]
pub struct Fitting {
    /// The document as of that drape.
    pub costume: costume::Costume,
    /// m, in the vertex order of the mesh.
    pub positions: Vec<[f32; 3]>,
    /// Whether the cloth had come to rest.
    pub at_rest: bool,
    /// None for drapes of builds that did not keep it.
    pub mesh: Option<KeptMesh>,
}

/// The meshes of the hanging pieces in their order.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct KeptMesh(Vec<KeptPiece>);

#[derive(Clone, Debug, PartialEq)]
struct KeptPiece {
    piece: PieceId,
    flat: PlanarMesh,
    lines: Vec<(LineId, bool)>,
}

impl Fitting {
    /// The positions on the mesh of an assembly of the same costume: as they are when it is the mesh that they were kept
    /// with, otherwise carried over. None when they fit no mesh of this costume.
    pub fn positions_on(&self, assembly: &Assembly) -> Option<Vec<[f32; 3]>> {
        let kept = match &self.mesh {
            Some(mesh) => mesh.clone(),
            None if self.positions.len() == assembly.scene.positions.len() => return Some(self.positions.clone()),
            None => KeptMesh::before_grading(&self.costume)?,
        };
        if kept.vertices() != self.positions.len() {
            return None;
        }
        if kept == KeptMesh::of(assembly) {
            return Some(self.positions.clone());
        }
        let mut first_vertex = 0;
        let old: Vec<Meshed> = kept
            .0
            .iter()
            .map(|p| {
                let meshed = Meshed { piece: p.piece, first_vertex, flat: &p.flat, lines: &p.lines };
                first_vertex += p.flat.points.len();
                meshed
            })
            .collect();
        Some(carry_meshed(&old, &self.positions, assembly))
    }
}

impl KeptMesh {
    /// The mesh of an assembly, with the accuracy that is stored.
    pub fn of(assembly: &Assembly) -> Self {
        let piece = |p: &crate::PieceRange| KeptPiece { piece: p.piece, flat: stored(&p.flat), lines: p.lines.clone() };
        Self(assembly.pieces.iter().map(piece).collect())
    }

    /// As builds without a size field cut the costume.
    fn before_grading(costume: &costume::Costume) -> Option<Self> {
        let (pieces, cut) = cut_of(costume, mesh::cut_ungraded).ok()?;
        let all = pieces.into_iter().zip(cut.pieces);
        Some(Self(all.map(|((piece, lines), flat)| KeptPiece { piece, flat: stored(&flat), lines }).collect()))
    }

    fn vertices(&self) -> usize {
        self.0.iter().map(|p| p.flat.points.len()).sum()
    }

    /// Little-endian u32 and f32: the number of pieces; of each its id, the numbers of points, triangles, boundary points and
    /// lines; points (mm), triangles; of each line its id, 1 for an image, the number of vertices, vertices and shares.
    pub fn to_bytes(&self) -> Vec<u8> {
        let mut out = Vec::new();
        let mut put = |v: u32| out.extend(v.to_le_bytes());
        put(self.0.len() as u32);
        for p in &self.0 {
            let f = &p.flat;
            [p.piece.0, f.points.len() as u32, f.triangles.len() as u32, f.boundary as u32, p.lines.len() as u32]
                .into_iter()
                .for_each(&mut put);
            f.points.iter().flatten().for_each(|v| put((*v as f32).to_bits()));
            f.triangles.iter().flatten().for_each(|v| put(*v));
            for (k, (id, image)) in p.lines.iter().enumerate() {
                put(id.0);
                put(u32::from(*image));
                put(f.lines[k].len() as u32);
                f.lines[k].iter().for_each(|v| put(*v));
                f.shares[k].iter().for_each(|s| put((*s as f32).to_bits()));
            }
        }
        out
    }

    /// None for bytes that hold no mesh.
    pub fn from_bytes(bytes: &[u8]) -> Option<Self> {
        let mut words = Words(bytes);
        let number = |v: u32| f64::from(f32::from_bits(v));
        let count = words.one()?;
        let mut pieces = Vec::new();
        for _ in 0..count {
            let [id, sizes @ ..] = words.array::<5>()?;
            let [points, triangles, boundary, lines] = sizes.map(|v| v as usize);
            let (corners, numbers) = (triangles.checked_mul(3)?, points.checked_mul(2)?);
            let points: Vec<[f64; 2]> =
                words.many(numbers)?.collect::<Vec<_>>().chunks_exact(2).map(|p| [number(p[0]), number(p[1])]).collect();
            let triangles: Vec<[u32; 3]> = words.many(corners)?.collect::<Vec<_>>().chunks_exact(3).map(|t| [t[0], t[1], t[2]]).collect();
            let mut flat = PlanarMesh { points, triangles, boundary, lines: Vec::new(), shares: Vec::new() };
            let mut ids = Vec::new();
            for _ in 0..lines {
                let [line, image, count] = words.array::<3>()?;
                ids.push((LineId(line), image != 0));
                flat.lines.push(words.many(count as usize)?.collect());
                flat.shares.push(words.many(count as usize)?.map(number).collect());
            }
            let all = flat.points.len() as u32;
            let known = flat.triangles.iter().flatten().chain(flat.lines.iter().flatten()).all(|v| *v < all);
            let numbers = flat.points.iter().flatten().chain(flat.shares.iter().flatten()).all(|v| v.is_finite());
            if !known || !numbers || flat.triangles.is_empty() {
                return None;
            }
            pieces.push(KeptPiece { piece: PieceId(id), flat, lines: ids });
        }
        Some(Self(pieces))
    }
}

/// The mesh in the accuracy that is stored.
fn stored(flat: &PlanarMesh) -> PlanarMesh {
    let rounded = |v: f64| f64::from(v as f32);
    PlanarMesh {
        points: flat.points.iter().map(|p| p.map(rounded)).collect(),
        shares: flat.shares.iter().map(|s| s.iter().map(|v| rounded(*v)).collect()).collect(),
        ..flat.clone()
    }
}
