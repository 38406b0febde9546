//! Layers in wear order: the inner pieces of a costume alone, and the outer ones over what was recorded of them.

use crate::{Assembly, carry_cloth};
use costume::{Costume, PieceId};
use std::collections::BTreeSet;

/// The costume without the pieces that are worn over a layer.
pub fn layers_up_to(costume: &Costume, layer: u8) -> Costume {
    let mut inner = costume.clone();
    inner.pieces.iter_mut().filter(|p| p.wear > layer).for_each(|p| p.parked = true);
    inner
}

/// The vertices of a costume's pieces that a costume of fewer layers has as well, and their places (m), as that one lies.
pub fn beneath(inner: &Assembly, positions: &[[f32; 3]], whole: &Assembly) -> Vec<(u32, [f32; 3])> {
    let known: BTreeSet<PieceId> = inner.pieces.iter().map(|p| p.piece).collect();
    let carried = carry_cloth(inner, positions, whole);
    let own = whole.pieces.iter().filter(|p| known.contains(&p.piece)).flat_map(|p| p.vertices());
    own.map(|v| (v as u32, carried[v])).collect()
}
