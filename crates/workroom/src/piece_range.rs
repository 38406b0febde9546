//! A piece of the costume within the scene.

use costume::{LineId, PieceId};
use mesh::PlanarMesh;

/// The vertices and triangles of one piece within the scene.
#[derive(Clone, Debug)]
pub struct PieceRange {
    /// Which piece of the document.
    pub piece: PieceId,
    /// For messages.
    pub name: String,
    /// Its first vertex in the scene.
    pub first_vertex: usize,
    /// Its first triangle in the scene.
    pub first_triangle: usize,
    /// The cut piece in its own frame, mm.
    pub flat: PlanarMesh,
    /// The document's id of every line of the cut piece, and whether it is on the half that a fold adds.
    pub lines: Vec<(LineId, bool)>,
}

impl PieceRange {
    /// Its vertices within the scene.
    pub fn vertices(&self) -> std::ops::Range<usize> {
        self.first_vertex..self.first_vertex + self.flat.points.len()
    }

    /// The scene's vertices along a line, from its start to its end; none when the mesh does not follow it.
    pub fn line_vertices(&self, line: usize) -> Vec<u32> {
        self.flat.lines[line].iter().map(|v| self.first_vertex as u32 + v).collect()
    }

    /// The scene's vertices along a stretch of a line, in shares of its length.
    pub fn stretch_vertices(&self, line: usize, from: f64, to: f64) -> Vec<u32> {
        let shares = &self.flat.shares[line];
        let within = |k: &usize| shares[*k] > from - 1e-6 && shares[*k] < to + 1e-6;
        (0..shares.len()).filter(within).map(|k| self.first_vertex as u32 + self.flat.lines[line][k]).collect()
    }
}
