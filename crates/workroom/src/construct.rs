//! Folds, tapes, stays and wear order of the document in terms of the scene.

use crate::assemble::PieceRange;
use cloth::{Construction, EdgeTape, Fold, SeamPair, Stay};
use costume::{EdgeFinish, Piece, Seam};
use mesh::Stitch;

/// N at strain 1: a woven stay tape of 1 cm, and an elastic; firmer than a real one of about 20 N, because gathers finer
/// than the mesh cannot form and its edges push back.
const STAY_TAPE: f32 = 400.0;
const ELASTIC: f32 = 60.0;
/// How firmly a seam or a fold line is pressed, times the cloth's own stiffness.
const PRESSED: f32 = 12.0;

/// `hanging` and `ranges` in the same order; `sewn` in the order of the scene's seam indices.
pub(crate) fn construct(hanging: &[&Piece], ranges: &[PieceRange], sewn: &[(&Seam, Stitch)], pairs: &[SeamPair]) -> Construction {
    let mut made = Construction { wear: hanging.iter().map(|p| p.wear).collect(), ..Construction::default() };
    for (piece, range) in hanging.iter().zip(ranges) {
        for (edge, corner) in piece.corners.iter().enumerate() {
            let Some(finish) = corner.finish else { continue };
            let along = range.edge_vertices(edge);
            let edges = || along.windows(2).map(|w| [w[0], w[1]]).collect();
            match finish {
                EdgeFinish::StayTape => made.tapes.push(EdgeTape { edges: edges(), length: 1.0, stiffness: STAY_TAPE }),
                EdgeFinish::Elastic { length } => {
                    made.tapes.push(EdgeTape { edges: edges(), length: (length / 100.0) as f32, stiffness: ELASTIC });
                }
                EdgeFinish::Stay => made.stays.push(Stay { vertices: along }),
            }
        }
        for (fold, line) in piece.folds.iter().zip(&range.flat.lines) {
            let vertices = line.iter().map(|v| range.first_vertex as u32 + v).collect();
            made.folds.push(Fold { vertices, angle: fold.angle.to_radians() as f32, press: PRESSED });
        }
    }
    for (k, (seam, _)) in sewn.iter().enumerate() {
        let Some(degrees) = seam.fold else { continue };
        let vertices = pairs.iter().filter(|p| p.seam == k as u32).flat_map(|p| [p.a, p.b]).collect();
        made.folds.push(Fold { vertices, angle: degrees.to_radians() as f32, press: PRESSED });
    }
    made
}
