//! Cutting: all pieces of a garment at once, so that seams pair vertex to vertex.

use crate::flat::{FlatMesh, triangulate_with_lines};
use crate::sample::{fractions, point_at};
use kurbo::PathSeg;

/// A closed outline; edge `i` ends where edge `i + 1` starts; counter-clockwise.
#[derive(Clone, Debug)]
pub struct FlatPiece {
    pub edges: Vec<PathSeg>,
    /// Straight lines inside, from the start of one edge to the start of another.
    pub lines: Vec<[usize; 2]>,
}

/// One edge of one piece, walked forwards or backwards.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stretch {
    pub piece: usize,
    pub edge: usize,
    pub backwards: bool,
}

/// Two sides to be sewn from their starts to their ends.
#[derive(Clone, Debug)]
pub struct Stitch {
    pub a: Vec<Stretch>,
    pub b: Vec<Stretch>,
}

/// Two vertices that a seam brings together, as (piece, vertex).
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SeamPair {
    pub a: (usize, u32),
    pub b: (usize, u32),
    /// Index of the stitch.
    pub seam: usize,
}

/// The triangulated pieces and their seam pairs.
#[derive(Clone, Debug)]
pub struct Cut {
    pub pieces: Vec<FlatMesh>,
    pub pairs: Vec<SeamPair>,
    /// By piece: the boundary vertex at which every edge starts, and their number.
    pub starts: Vec<Vec<usize>>,
}

/// A piece that cannot be cut.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("piece {piece} cannot be cut: {reason}")]
pub struct CutError {
    pub piece: usize,
    pub reason: String,
}

/// Cuts all pieces into triangles of about `target` mm edge length.
pub fn cut(pieces: &[FlatPiece], stitches: &[Stitch], target: f64) -> Result<Cut, CutError> {
    let (samples, common) = fractions(pieces, stitches, target);
    let meshes = pieces
        .iter()
        .zip(&samples)
        .enumerate()
        .map(|(i, (piece, edges))| {
            let outline: Vec<[f64; 2]> = piece.edges.iter().zip(edges).flat_map(|(edge, f)| f.iter().map(|&f| point_at(edge, f))).collect();
            let at = starts(edges);
            let lines: Vec<[usize; 2]> = piece.lines.iter().map(|ends| ends.map(|corner| at[corner])).collect();
            triangulate_with_lines(&outline, &lines, target).map_err(|reason| CutError { piece: i, reason })
        })
        .collect::<Result<Vec<_>, _>>()?;
    let first: Vec<Vec<usize>> = samples.iter().map(|edges| starts(edges)).collect();
    let mut pairs = Vec::new();
    for (seam, (stitch, shared)) in stitches.iter().zip(&common).enumerate() {
        let (a, b) = (chain(&stitch.a, &samples, &first), chain(&stitch.b, &samples, &first));
        debug_assert_eq!((a.len(), b.len()), (shared.len(), shared.len()));
        for (a, b) in a.iter().zip(&b) {
            let others = a[1..].iter().chain(b).filter(|v| **v != a[0]);
            pairs.extend(others.map(|&v| SeamPair { a: a[0], b: v, seam }));
        }
    }
    Ok(Cut { pieces: meshes, pairs, starts: first })
}

/// Index of the first boundary vertex of every edge, and of the end.
fn starts(edges: &[Vec<f64>]) -> Vec<usize> {
    let mut at = vec![0];
    for edge in edges {
        at.push(at[at.len() - 1] + edge.len());
    }
    at
}

/// The boundary vertices along a side, first to last; where a stretch of another piece follows, two meet at one sample.
fn chain(side: &[Stretch], samples: &[Vec<Vec<f64>>], first: &[Vec<usize>]) -> Vec<Vec<(usize, u32)>> {
    let mut vertices: Vec<Vec<(usize, u32)>> = Vec::new();
    for stretch in side {
        let starts = &first[stretch.piece];
        let boundary = starts[starts.len() - 1];
        let count = samples[stretch.piece][stretch.edge].len();
        let mut run: Vec<_> = (0..=count).map(|k| (stretch.piece, ((starts[stretch.edge] + k) % boundary) as u32)).collect();
        if stretch.backwards {
            run.reverse();
        }
        let mut fresh = run.as_slice();
        if let Some(meeting) = vertices.last_mut() {
            if !meeting.contains(&run[0]) {
                meeting.push(run[0]);
            }
            fresh = &run[1..];
        }
        vertices.extend(fresh.iter().map(|v| vec![*v]));
    }
    vertices
}
