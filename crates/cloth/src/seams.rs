//! Seams while they close: springs that shorten the gap at a set speed, until the pair can be fused.

use crate::link::Link;
use crate::scene::SeamPair;
use glam::Vec3A;

/// Speed at which gaps shorten, m/s.
const CLOSING_SPEED: f32 = 0.6;
/// Pairs closer than this are fused, m.
pub(crate) const FUSE_GAP: f32 = 1.0e-3;

/// The seam pairs of a scene and which of them are fused.
pub(crate) struct Seams {
    pub pairs: Vec<SeamPair>,
    pub fused: Vec<bool>,
}

impl Seams {
    pub fn new(pairs: &[SeamPair]) -> Self {
        Self { pairs: pairs.to_vec(), fused: vec![false; pairs.len()] }
    }

    pub fn all_fused(&self) -> bool {
        self.fused.iter().all(|f| *f)
    }

    /// One spring per open pair. `stiffness` in N/m.
    pub fn links(&self, x: &[Vec3A], time_step: f32, stiffness: f32) -> Vec<Link> {
        let open = self.pairs.iter().zip(&self.fused).filter(|(_, fused)| !**fused);
        open.map(|(p, _)| {
            let gap = x[p.a as usize] - x[p.b as usize];
            let length = gap.length();
            let step = (CLOSING_SPEED * time_step).min(length);
            let target = if length > 1e-9 { gap * (-step / length) } else { Vec3A::ZERO };
            Link::round([p.a, p.b, p.a, p.a], [1.0, -1.0, 0.0, 0.0], stiffness, target)
        })
        .collect()
    }

    /// Widest gap of each seam in m, by seam index.
    pub fn gaps(&self, x: &[Vec3A], count: usize) -> Vec<f32> {
        let mut widest = vec![0.0f32; count];
        for (p, _) in self.pairs.iter().zip(&self.fused).filter(|(_, fused)| !**fused) {
            let slot = &mut widest[p.seam as usize];
            *slot = slot.max((x[p.a as usize] - x[p.b as usize]).length());
        }
        widest
    }
}
