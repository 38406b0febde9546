//! Carrying a drape over to a changed pattern: new vertices take their places through the flat coordinates.

use crate::Assembly;
use mesh::{FlatLookup, PlanarMesh};

/// Farthest extrapolation outside the old piece, in barycentric weight.
const BEYOND: f64 = 3.0;

/// Start positions for `new` from the present `positions` of `old`, piece by piece; pieces without a forerunner hang
/// at their station. `None` when the body changed, or its pose, because then the cloth must be hung afresh.
pub fn carry(old: &Assembly, positions: &[[f32; 3]], new: &Assembly) -> Option<Vec<[f32; 3]>> {
    let (before, now) = (&old.costume.body, &new.costume.body);
    if before.shape() != now.shape() || before.pose != now.pose {
        return None;
    }
    Some(carry_cloth(old, positions, new))
}

/// The same whatever the body: for cloth that goes along while the body moves.
pub fn carry_cloth(old: &Assembly, positions: &[[f32; 3]], new: &Assembly) -> Vec<[f32; 3]> {
    let mut carried = new.scene.positions.clone();
    for piece in &new.pieces {
        let Some(before) = old.pieces.iter().find(|p| p.piece == piece.piece) else { continue };
        let lookup = FlatLookup::new(&before.flat);
        for (k, point) in piece.flat.points.iter().enumerate() {
            let (t, weights) = lookup.locate(*point);
            carried[piece.first_vertex + k] = place(&before.flat, before.first_vertex, positions, t, weights);
        }
    }
    carried
}

/// How far the `carried` shape leaves the one it came from, m: the largest distance of an old vertex from its place on the
/// new cloth. What the new outlines leave out does not count.
pub fn carry_error(old: &Assembly, positions: &[[f32; 3]], new: &Assembly, carried: &[[f32; 3]]) -> f64 {
    let mut most = 0.0f64;
    for piece in &new.pieces {
        let Some(before) = old.pieces.iter().find(|p| p.piece == piece.piece) else { continue };
        let lookup = FlatLookup::new(&piece.flat);
        for (k, point) in before.flat.points.iter().enumerate() {
            let (t, weights) = lookup.locate(*point);
            if weights.iter().all(|w| *w > -1e-6) {
                let (there, here) = (place(&piece.flat, piece.first_vertex, carried, t, weights), positions[before.first_vertex + k]);
                most = most.max((0..3).map(|c| f64::from(there[c] - here[c]).powi(2)).sum::<f64>());
            }
        }
    }
    most.sqrt()
}

/// The place of flat weights within a triangle of a piece.
fn place(flat: &PlanarMesh, first_vertex: usize, positions: &[[f32; 3]], triangle: usize, weights: [f64; 3]) -> [f32; 3] {
    let corners = flat.triangles[triangle].map(|v| positions[first_vertex + v as usize]);
    let weights = weights.map(|w| w.clamp(-BEYOND, 1.0 + BEYOND));
    let sum: f64 = weights.iter().sum();
    [0, 1, 2].map(|c| ((0..3).map(|i| weights[i] * f64::from(corners[i][c])).sum::<f64>() / sum) as f32)
}
