//! What holds cloth to the body: lines and painted areas on the skin, levels, and rough places, in terms of the scene.

use crate::piece_range::PieceRange;
use body::PosedBody;
use cloth::SkinHold as Hold;
use costume::{BandLevel, PaintKind, PaintUse, PatternPiece, Point, SkinHold};

/// Of a line held at full strength, N/m for every metre of it: 1 mm off pulls 1 N on every centimetre.
const LINE: f64 = 1e5;
/// Of an area, N/m for every square metre: as firm as cloth is kept out of the body.
const AREA: f64 = 1.5e6;

/// The height of a level on a posed body, m above the ground; none where the body does not tell.
pub(crate) fn height(level: BandLevel, posed: &PosedBody) -> Option<f32> {
    let station = |key: &str| posed.station(key).map(|s| s.centre.y as f32);
    match level {
        BandLevel::Waist => station("waist-front"),
        BandLevel::Hips => station("hips-front"),
        BandLevel::Height(mm) => Some((mm * 1e-3) as f32),
    }
}

/// A line held to the skin: every vertex has the half of the line towards its neighbours.
pub(crate) fn along(range: &PieceRange, vertices: Vec<u32>, hold: SkinHold) -> Hold {
    let at = |v: u32| glam::DVec2::from(range.flat.points[v as usize - range.first_vertex]);
    let share = |k: usize| {
        let to = |n: Option<&u32>| n.map_or(0.0, |n| at(vertices[k]).distance(at(*n)) * 0.5e-3);
        to(k.checked_sub(1).and_then(|k| vertices.get(k))) + to(vertices.get(k + 1))
    };
    let stiffness = (0..vertices.len()).map(|k| (LINE * share(k) * hold.strength / 100.0) as f32).collect();
    held(vertices, stiffness, hold)
}

/// What is painted to be held to the skin.
pub(crate) fn painted(piece: &PatternPiece, range: &PieceRange) -> Option<Hold> {
    let (PaintUse::Skin(hold), value) = piece.painted(PaintKind::Skin)? else { return None };
    let mut area = vec![0.0; range.flat.points.len()];
    for t in &range.flat.triangles {
        let [a, b, c] = t.map(|v| glam::DVec2::from(range.flat.points[v as usize]));
        t.iter().for_each(|v| area[*v as usize] += (b - a).perp_dot(c - a) / 6.0 * 1e-6);
    }
    let of = |(k, p): (usize, &[f64; 2])| {
        let stiffness = AREA * area[k] * value(Point::new(p[0], p[1])) * hold.strength / 100.0;
        (stiffness > 0.0).then(|| ((range.first_vertex + k) as u32, stiffness as f32))
    };
    let (vertices, stiffness): (Vec<u32>, Vec<f32>) = range.flat.points.iter().enumerate().filter_map(of).unzip();
    (!vertices.is_empty()).then(|| held(vertices, stiffness, hold))
}

fn held(vertices: Vec<u32>, stiffness: Vec<f32>, hold: SkinHold) -> Hold {
    let distance = hold.distance.map(|mm| (mm * 1e-3) as f32);
    Hold { vertices, stiffness, distance, slides: hold.slides, to: hold.to.map(u32::from) }
}

/// How far every vertex of the scene may leave its place on a body in motion, m; infinitely far where it is free.
pub(crate) fn leashes<'a>(hung: impl Iterator<Item = (&'a PatternPiece, &'a PieceRange)>) -> Vec<f32> {
    /// Less than this of a map is not painted.
    const BARE: f64 = 0.01;
    let mut lengths = Vec::new();
    for (piece, range) in hung {
        let painted = piece.painted(PaintKind::Carried);
        lengths.extend(range.flat.points.iter().map(|p| match &painted {
            Some((PaintUse::Carried { leash }, value)) => {
                let share = value(Point::new(p[0], p[1]));
                if share > BARE { (leash * (1.0 - share).max(0.0) * 1e-3) as f32 } else { f32::INFINITY }
            }
            _ => f32::INFINITY,
        }));
    }
    lengths
}

/// Factor of friction by vertex of the scene; empty where no piece is painted.
pub(crate) fn grip(hanging: &[&PatternPiece], ranges: &[PieceRange]) -> Vec<f32> {
    if hanging.iter().all(|p| p.painted(PaintKind::Grip).is_none()) {
        return Vec::new();
    }
    let of_piece = |(piece, range): (&&PatternPiece, &PieceRange)| -> Vec<f32> {
        match piece.painted(PaintKind::Grip) {
            Some((PaintUse::Grip { factor }, value)) => {
                range.flat.points.iter().map(|p| (1.0 + (factor - 1.0) * value(Point::new(p[0], p[1]))) as f32).collect()
            }
            _ => vec![1.0; range.flat.points.len()],
        }
    };
    hanging.iter().zip(ranges).flat_map(of_piece).collect()
}
