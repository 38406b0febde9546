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

/// The pieces of the scene in their order, to find where a vertex lies in the flat.
pub(crate) struct Flat<'a>(pub &'a [PieceRange]);

impl Flat<'_> {
    /// The place of the piece that a vertex is of.
    pub fn piece(&self, vertex: u32) -> usize {
        self.0.partition_point(|r| r.first_vertex <= vertex as usize) - 1
    }
    /// mm in the frame of its piece.
    pub fn at(&self, vertex: u32) -> [f64; 2] {
        let range = &self.0[self.piece(vertex)];
        range.flat.points[vertex as usize - range.first_vertex]
    }
    /// Between two vertices of one piece, mm; none from piece to piece.
    pub fn way(&self, a: u32, b: u32) -> Option<f64> {
        let (p, q) = (self.at(a), self.at(b));
        (self.piece(a) == self.piece(b)).then(|| (p[0] - q[0]).hypot(p[1] - q[1]))
    }
}

/// A point of a piece after a turn that brings its grain (degrees from x) upright.
pub(crate) fn upright(p: [f64; 2], grain: f64) -> [f64; 2] {
    let (sin, cos) = (90.0 - grain).to_radians().sin_cos();
    [cos * p[0] - sin * p[1], sin * p[0] + cos * p[1]]
}
