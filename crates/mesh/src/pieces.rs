//! Cutting: all pieces of a garment at once, so that seams pair vertex to vertex.

use crate::net::Constraints;
use crate::planar::{PlanarMesh, triangulate_domain};
use crate::sample::{At, Meeting, samples};
use crate::{Domain, SeamSpec};
use std::collections::HashMap;

/// Two vertices that a seam brings together, as (piece, vertex).
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SeamPair {
    /// Piece and vertex within its mesh.
    pub a: (usize, u32),
    /// The vertex that it is fused with, of the same piece or another.
    pub b: (usize, u32),
    /// Index of the seam.
    pub seam: usize,
}

/// The triangulated pieces and their seam pairs.
#[derive(Clone, Debug)]
pub struct PieceMeshes {
    /// One for each domain, in their order.
    pub pieces: Vec<PlanarMesh>,
    /// By seam, within a seam in sewing order.
    pub pairs: Vec<SeamPair>,
}

/// A piece that cannot be cut.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("piece {piece} cannot be cut: {reason}")]
pub struct CutError {
    /// Place of the piece among the domains.
    pub piece: usize,
    /// In words, such as a line that crosses another.
    pub reason: String,
}

/// Cuts all pieces into triangles of about `target` mm edge length.
pub fn cut(domains: &[Domain], seams: &[SeamSpec], target: f64) -> Result<PieceMeshes, CutError> {
    cut_graded(domains, seams, target, true)
}

/// The same as builds before the size field cut: for drapes that were kept without their mesh.
pub fn cut_ungraded(domains: &[Domain], seams: &[SeamSpec], target: f64) -> Result<PieceMeshes, CutError> {
    cut_graded(domains, seams, target, false)
}

fn cut_graded(domains: &[Domain], seams: &[SeamSpec], target: f64, graded: bool) -> Result<PieceMeshes, CutError> {
    let (shares, met) = samples(domains, seams, target, graded);
    let pieces = domains
        .iter()
        .zip(&shares)
        .enumerate()
        .map(|(piece, (domain, shares))| {
            let (constraints, lines) = constrain(domain, shares);
            let mut mesh = triangulate_domain(&constraints, target, graded).map_err(|reason| CutError { piece, reason })?;
            mesh.lines = lines;
            mesh.shares = shares.iter().zip(&mesh.lines).map(|(s, l)| if l.is_empty() { Vec::new() } else { s.clone() }).collect();
            Ok(mesh)
        })
        .collect::<Result<Vec<_>, CutError>>()?;
    let pairs = pairs(&pieces, &met, seams);
    Ok(PieceMeshes { pieces, pairs })
}

/// The points of all lines of a piece that are in the mesh, loops first, and the points along each line.
fn constrain(domain: &Domain, shares: &[Vec<f64>]) -> (Constraints, Vec<Vec<u32>>) {
    let mut points: Vec<[f64; 2]> = Vec::new();
    let mut nodes: HashMap<u64, u32> = HashMap::new();
    let mut lines: Vec<Vec<u32>> = vec![Vec::new(); domain.lines.len()];
    let mut walk = |points: &mut Vec<[f64; 2]>, l: usize| {
        let line = &domain.lines[l];
        let n = shares[l].len();
        // a node gets its point where it is met first
        let mut place = |points: &mut Vec<[f64; 2]>, node: u64, share: f64| {
            *nodes.entry(node).or_insert_with(|| {
                points.push(line.point_at(share));
                points.len() as u32 - 1
            })
        };
        let mut along = vec![place(points, line.from, 0.0)];
        for &share in &shares[l][1..n - 1] {
            points.push(line.point_at(share));
            along.push(points.len() as u32 - 1);
        }
        along.push(place(points, line.to, 1.0));
        along
    };
    let mut loops = Vec::new();
    for chain in domain.loops() {
        let first = points.len();
        for &l in chain {
            lines[l] = walk(&mut points, l);
        }
        loops.push(first..points.len());
    }
    for &l in &domain.inside {
        lines[l] = walk(&mut points, l);
    }
    let inside = domain.inside.iter().flat_map(|&l| lines[l].windows(2).map(|w| [w[0], w[1]])).collect();
    let around = domain.loops().flatten().flat_map(|&l| lines[l].windows(2).map(|w| [w[0], w[1]])).collect();
    (Constraints { points, loops, around, inside }, lines)
}

fn pairs(pieces: &[PlanarMesh], met: &[Vec<Meeting>], seams: &[SeamSpec]) -> Vec<SeamPair> {
    let vertex = |at: &At| (at.piece, pieces[at.piece].lines[at.line].get(at.sample).copied());
    let mut pairs = Vec::new();
    for (seam, (row, spec)) in met.iter().zip(seams).enumerate() {
        let sewn = if spec.open > 0.0 { meetings_within(row, pieces, 1.0 - spec.open) } else { row.len() };
        for meeting in &row[..sewn] {
            let all: Vec<(usize, u32)> =
                meeting.a.iter().chain(&meeting.b).map(vertex).filter_map(|(piece, v)| Some((piece, v?))).collect();
            let Some(&first) = all.first() else { continue };
            let mut seen = vec![first];
            for &other in &all[1..] {
                if !seen.contains(&other) {
                    seen.push(other);
                    pairs.push(SeamPair { a: first, b: other, seam });
                }
            }
        }
    }
    pairs
}

/// How many of the meetings lie within a share of side a's length.
fn meetings_within(row: &[Meeting], pieces: &[PlanarMesh], share: f64) -> usize {
    if share <= 0.0 {
        return 0;
    }
    let place = |at: &At| (at.piece, pieces[at.piece].points[pieces[at.piece].lines[at.line][at.sample] as usize]);
    let step = |w: &[Meeting]| match (w[0].a.last().map(place), w[1].a.first().map(place)) {
        (Some((p, a)), Some((q, b))) if p == q => (a[0] - b[0]).hypot(a[1] - b[1]),
        _ => 0.0,
    };
    let steps: Vec<f64> = row.windows(2).map(step).collect();
    let whole: f64 = steps.iter().sum();
    let reached = steps.iter().scan(0.0, |sum, step| {
        *sum += step;
        Some(*sum)
    });
    row.len().min(1) + reached.take_while(|r| *r <= (share + 1e-6) * whole).count()
}
