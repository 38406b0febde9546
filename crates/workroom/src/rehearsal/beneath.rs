//! Layers in wear order: the inner pieces of a costume alone, and the outer ones over what was recorded of them.

use crate::Assembly;
use crate::carry::Sources;
use costume::Costume;

/// The costume without the pieces that are worn over a layer.
pub fn layers_up_to(costume: &Costume, layer: u8) -> Costume {
    let mut inner = costume.clone();
    inner.pieces.iter_mut().filter(|p| p.wear > layer).for_each(|p| p.parked = true);
    inner
}

/// The pieces of a costume that a costume of fewer layers has as well, and where their vertices lie on that one's.
pub struct Beneath(Sources);

impl Beneath {
    /// The inner costume and the whole one. Both may be cut into other triangles.
    pub fn new(inner: &Assembly, whole: &Assembly) -> Self {
        Self(Sources::new(&inner.meshed().collect::<Vec<_>>(), whole))
    }

    /// These vertices of the whole costume and their places (m), as the inner one lies.
    pub fn places(&self, inner: &[[f32; 3]]) -> Vec<(u32, [f32; 3])> {
        self.0.places(inner).collect()
    }
}
