//! Folds, tapes, stays and wear order of the document in terms of the scene.

use crate::holding;
use crate::openings::{Openings, laps, openings};
use crate::piece_range::{Flat, PieceRange};
use body::PosedBody;
use cloth::{Construction, EdgeTape, Fold, Gather, SeamPair, Stay};
use costume::{Finish, PatternPiece, PatternSeam, Purpose, SeamTape};

/// N at strain 1: a woven stay tape of 1 cm, and an elastic; firmer than a real one of about 20 N, because gathers finer
/// than the mesh cannot form and its edges push back.
const STAY_TAPE: f32 = 400.0;
const ELASTIC: f32 = 60.0;
/// How firmly a seam or a fold line is pressed, times the cloth's own stiffness.
const PRESSED: f32 = 12.0;

/// Cloth is not gathered to less than this share of its length.
const LEAST_SHARE: f32 = 0.05;

/// `hanging` and `ranges` in the same order; `sewn` in the order of the scene's seam indices.
pub(crate) fn construct(
    hanging: &[&PatternPiece],
    ranges: &[PieceRange],
    sewn: &[&PatternSeam],
    pairs: &[SeamPair],
    posed: &PosedBody,
) -> Construction {
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
                Finish::Stay => made.stays.push(Stay { vertices, height: None }),
                Finish::Level { at } => made.stays.push(Stay { height: holding::height(at, posed), vertices }),
                Finish::Skin(hold) => made.skin_holds.push(holding::along(range, vertices, hold)),
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
    made.skin_holds.extend(hanging.iter().zip(ranges).filter_map(|(piece, range)| holding::painted(piece, range)));
    made.grip = holding::grip(hanging, ranges);
    made.gathers = gathers(ranges, pairs);
    for (k, seam) in sewn.iter().enumerate() {
        let own = || pairs.iter().filter(|p| p.seam == k as u32);
        if let Some(degrees) = seam.fold {
            let press = seam.make.press.map_or(PRESSED, |p| p as f32);
            made.folds.push(Fold { vertices: own().flat_map(|p| [p.a, p.b]).collect(), angle: degrees.to_radians() as f32, press });
        }
        if let Some(tape) = seam.make.tape {
            made.tapes.push(seam_tape(ranges, &own().copied().collect::<Vec<_>>(), tape));
        }
    }
    let faces: Vec<bool> = hanging.iter().map(|p| !p.placement.as_ref().is_some_and(|at| at.flip)).collect();
    made.laps = laps(ranges, pairs, sewn, &faces);
    let Openings { open, laces } = openings(ranges, pairs, sewn);
    (made.open, made.laces) = (open, laces);
    made
}

/// A tape along the shorter side of a seam.
fn seam_tape(ranges: &[PieceRange], pairs: &[SeamPair], tape: SeamTape) -> EdgeTape {
    let flat = Flat(ranges);
    let edges = |of: fn(&SeamPair) -> u32| {
        let steps = pairs.windows(2).map(move |w| [of(&w[0]), of(&w[1])]);
        steps.filter(|[a, b]| a != b && flat.piece(*a) == flat.piece(*b)).collect::<Vec<_>>()
    };
    let length = |all: &[[u32; 2]]| all.iter().filter_map(|[a, b]| flat.way(*a, *b)).sum::<f64>();
    let (a, b) = (edges(|p| p.a), edges(|p| p.b));
    let edges = if length(&b) < length(&a) && !b.is_empty() { b } else { a };
    match tape {
        SeamTape::Stay => EdgeTape { edges, length: 1.0, stiffness: STAY_TAPE },
        SeamTape::Elastic { length } => EdgeTape { edges, length: (length / 100.0) as f32, stiffness: ELASTIC },
    }
}

/// Where one side of a seam is so much longer than the other that it is gathered in. Pairs of a seam come in sewing order.
fn gathers(ranges: &[PieceRange], pairs: &[SeamPair]) -> Vec<Gather> {
    let flat = Flat(ranges);
    let mut made = Gather { edges: Vec::new(), shares: Vec::new() };
    for two in pairs.windows(2).filter(|w| w[0].seam == w[1].seam) {
        let (a, b) = ([two[0].a, two[1].a], [two[0].b, two[1].b]);
        // from line to line of a side that goes over several pieces there is no edge
        let Some((of_a, of_b)) = flat.way(a[0], a[1]).zip(flat.way(b[0], b[1])) else { continue };
        let (long, share) = if of_a > of_b { (a, of_b / of_a) } else { (b, of_a / of_b) };
        if share > 0.0 && share * costume::LEAST_GATHER < 1.0 {
            made.edges.push(long);
            made.shares.push((share as f32).max(LEAST_SHARE));
        }
    }
    if made.edges.is_empty() { Vec::new() } else { vec![made] }
}
