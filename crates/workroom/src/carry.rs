//! Carrying a drape over to a changed pattern: new vertices take their places through the flat coordinates.

use crate::Assembly;
use mesh::FlatLookup;

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
            let corners = before.flat.triangles[t].map(|v| positions[before.first_vertex + v as usize]);
            let weights = weights.map(|w| w.clamp(-BEYOND, 1.0 + BEYOND));
            let sum: f64 = weights.iter().sum();
            carried[piece.first_vertex + k] =
                [0, 1, 2].map(|c| ((0..3).map(|i| weights[i] * f64::from(corners[i][c])).sum::<f64>() / sum) as f32);
        }
    }
    carried
}
