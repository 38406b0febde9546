//! The cloth of a delivery before it has its layers: triangles as they were simulated, or four-sided faces along the grain.

use super::layout::{TextureLayout, Tiling, layout};
use super::{DeliverOptions, Faces};
use crate::{Assembly, Prints};
use costume::Refusal;
use mesh::{FlatLookup, quads};
use rayon::prelude::*;

/// Positions with places in the layout, vertex by vertex, and the pieces one after the other.
pub(super) struct Cloth {
    /// m.
    pub positions: Vec<[f32; 3]>,
    /// As many as positions.
    pub uvs: Vec<[f32; 2]>,
    /// In the frames of their pieces, mm.
    flat: Vec<[f64; 2]>,
    pub tiling: Tiling,
    pub triangles: Vec<[u32; 3]>,
    /// Triangles that make a face of four sides with the next one.
    pub quads: Vec<u32>,
    /// By vertex, the one that it is sewn to.
    pub fused: Vec<u32>,
    /// First triangle of every piece and how many it has.
    pub pieces: Vec<(usize, usize)>,
}

impl Cloth {
    /// In the faces that are wanted.
    pub fn of(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32], options: &DeliverOptions) -> Result<Self, Refusal> {
        let TextureLayout { uvs, tiling } = layout(assembly, options)?;
        match options.faces {
            Faces::Triangles => Ok(Self {
                positions: positions.to_vec(),
                uvs,
                flat: assembly.pieces.iter().flat_map(|p| p.flat.points.iter().copied()).collect(),
                tiling,
                triangles: assembly.scene.triangles.clone(),
                quads: Vec::new(),
                fused: fused.to_vec(),
                pieces: assembly.pieces.iter().map(|p| (p.first_triangle, p.flat.triangles.len())).collect(),
            }),
            Faces::Quads => Self::in_quads(assembly, positions, fused, &uvs, tiling),
        }
    }

    /// Every piece anew along its grain. Edges and lines inside keep their vertices, so that seams meet as before; what lies between
    /// them lies where the cloth was.
    fn in_quads(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32], uvs: &[[f32; 2]], tiling: Tiling) -> Result<Self, Refusal> {
        let edge = assembly.costume.fineness.edge_mm();
        let made: Vec<_> = assembly
            .pieces
            .par_iter()
            .map(|range| {
                let grain = assembly.costume.piece(range.piece).map_or(90.0, |p| p.grain);
                quads(&range.flat, grain.to_radians(), edge)
                    .map_err(|e| Refusal::elsewhere(&range.name, format!("cannot be laid in four-sided faces: {e}"), "deliver triangles"))
            })
            .collect::<Result<_, _>>()?;
        let mut cloth = Self {
            positions: Vec::new(),
            uvs: Vec::new(),
            flat: Vec::new(),
            tiling,
            triangles: Vec::new(),
            quads: Vec::new(),
            fused: Vec::new(),
            pieces: Vec::new(),
        };
        // by vertex of the drape, its new number, where it is kept
        let mut numbers: Vec<Option<u32>> = vec![None; positions.len()];
        for (range, piece) in assembly.pieces.iter().zip(&made) {
            let (first, from) = (cloth.positions.len() as u32, range.first_vertex);
            for k in 0..piece.kept {
                numbers[from + k] = Some(first + k as u32);
            }
            cloth.positions.extend_from_slice(&positions[from..from + piece.kept]);
            cloth.uvs.extend_from_slice(&uvs[from..from + piece.kept]);
            let lookup = FlatLookup::new(&range.flat);
            for p in &piece.points[piece.kept..] {
                let (t, shares) = lookup.locate(*p);
                let corners = range.flat.triangles[t].map(|v| from + v as usize);
                cloth.positions.push(mixed(corners.map(|v| positions[v]), shares));
                cloth.uvs.push(mixed(corners.map(|v| uvs[v]), shares));
            }
            cloth.flat.extend_from_slice(&piece.points);
            let start = cloth.triangles.len();
            for [a, b, c, d] in piece.quads.iter().map(|q| q.map(|v| v + first)) {
                cloth.quads.push(cloth.triangles.len() as u32);
                cloth.triangles.extend([[a, b, c], [a, c, d]]);
            }
            cloth.triangles.extend(piece.triangles.iter().map(|t| t.map(|v| v + first)));
            cloth.pieces.push((start, cloth.triangles.len() - start));
        }
        cloth.fused = (0..cloth.positions.len() as u32).collect();
        for (v, number) in numbers.iter().enumerate().filter_map(|(v, n)| Some((v, (*n)?))) {
            if let Some(to) = numbers[fused[v] as usize] {
                cloth.fused[number as usize] = to;
            }
        }
        Ok(cloth)
    }

    /// Where its vertices lie in what is printed on them; empty when nothing is.
    pub fn in_prints(&self, assembly: &Assembly, prints: &Prints) -> Vec<[f32; 2]> {
        let costume = &assembly.costume;
        let mut found = Vec::new();
        for (range, (first, count)) in assembly.pieces.iter().zip(&self.pieces) {
            let Some(piece) = costume.piece(range.piece) else { continue };
            let Some((print, _)) = costume.fabric(piece.fabric).and_then(|f| prints.on(f)) else { continue };
            found.resize(self.flat.len(), [0.0; 2]);
            let place = piece.print_at.unwrap_or_default();
            for v in self.triangles[*first..first + count].iter().flatten().map(|v| *v as usize) {
                found[v] = print.place(piece.grain, place, self.flat[v]).map(|c| c as f32);
            }
        }
        found
    }
}

/// The point of three with these shares.
fn mixed<const N: usize>(corners: [[f32; N]; 3], shares: [f64; 3]) -> [f32; N] {
    std::array::from_fn(|k| corners.iter().zip(shares).map(|(c, s)| f64::from(c[k]) * s).sum::<f64>() as f32)
}
