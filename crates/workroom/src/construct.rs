//! Folds, tapes, stays and wear order of the document in terms of the scene.

use crate::piece_range::PieceRange;
use cloth::{Construction, EdgeTape, Fold, SeamPair, Stay};
use costume::{Finish, PatternPiece, PatternSeam, Purpose};

/// N at strain 1: a woven stay tape of 1 cm, and an elastic; firmer than a real one of about 20 N, because gathers finer
/// than the mesh cannot form and its edges push back.
const STAY_TAPE: f32 = 400.0;
const ELASTIC: f32 = 60.0;
/// How firmly a seam or a fold line is pressed, times the cloth's own stiffness.
const PRESSED: f32 = 12.0;

/// `hanging` and `ranges` in the same order; `sewn` in the order of the scene's seam indices.
pub(crate) fn construct(hanging: &[&PatternPiece], ranges: &[PieceRange], sewn: &[&PatternSeam], pairs: &[SeamPair]) -> Construction {
    let mut made = Construction { wear: hanging.iter().map(|p| p.wear).collect(), ..Construction::default() };
    for (piece, range) in hanging.iter().zip(ranges) {
        for along in &piece.along {
            let vertices = range.stretch_vertices(along.line, along.from, along.to);
            if vertices.len() < 2 {
                continue;
            }
            let edges = || vertices.windows(2).map(|w| [w[0], w[1]]).collect();
            match along.finish {
                Finish::StayTape => made.tapes.push(EdgeTape { edges: edges(), length: 1.0, stiffness: STAY_TAPE }),
                Finish::Elastic { length } => {
                    made.tapes.push(EdgeTape { edges: edges(), length: (length / 100.0) as f32, stiffness: ELASTIC });
                }
                Finish::Stay => made.stays.push(Stay { vertices }),
                Finish::Allowance { .. } | Finish::Hem { .. } => {}
            }
        }
        for path in &piece.inside {
            let Purpose::Fold { angle } = path.purpose else { continue };
            let mut vertices: Vec<u32> = path.lines.iter().flat_map(|&l| range.line_vertices(l)).collect();
            vertices.dedup();
            made.folds.push(Fold { vertices, angle: angle.to_radians() as f32, press: PRESSED });
        }
    }
    for (k, seam) in sewn.iter().enumerate() {
        let Some(degrees) = seam.fold else { continue };
        let vertices = pairs.iter().filter(|p| p.seam == k as u32).flat_map(|p| [p.a, p.b]).collect();
        made.folds.push(Fold { vertices, angle: degrees.to_radians() as f32, press: PRESSED });
    }
    made
}
