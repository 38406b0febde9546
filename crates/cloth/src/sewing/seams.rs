//! Seams while they close: springs that shorten the gap at a set speed, until the pair can be fused.

use crate::construction::Construction;
use crate::elements::bending::panel_of_vertex;
use crate::linear::link::Link;
use crate::scene::{Scene, SeamPair};
use crate::sewing::union::union;
use glam::Vec3A;

/// Speed at which gaps shorten, m/s.
const CLOSING_SPEED: f32 = 0.6;
/// Longest time for which only pieces close onto themselves, s.
const OWN_FIRST: f32 = 1.5;
/// Pairs closer than this are fused, m; three times as far when layers have kept them apart for long.
const FUSE_GAP: f32 = 1.0e-3;

/// The gap at which pairs are fused after so many seconds of closing, m.
pub(crate) fn fuse_gap(closing: f32) -> f32 {
    FUSE_GAP * closing.clamp(1.0, 3.0)
}

/// The seam pairs of a scene and which of them are fused.
pub(crate) struct Seams {
    /// In the order of the scene.
    pub pairs: Vec<SeamPair>,
    /// Which of them are one vertex by now.
    pub fused: Vec<bool>,
    /// Those that do not close: left open, or held apart by laces.
    pub apart: Vec<bool>,
    /// Pairs that close a piece onto itself. Sleeves, legs and bands close around their limb before other seams could pull
    /// them off it.
    own: Vec<bool>,
}

impl Seams {
    /// All open.
    pub fn new(scene: &Scene) -> Self {
        let panel = panel_of_vertex(scene);
        let own = scene.pairs.iter().map(|p| panel[p.a as usize] == panel[p.b as usize]).collect();
        let mut made = Self { pairs: scene.pairs.clone(), fused: vec![false; scene.pairs.len()], apart: Vec::new(), own };
        made.set_apart(&scene.construction);
        made
    }

    /// Takes up which pairs do not close; those that were fused come apart.
    pub fn set_apart(&mut self, construction: &Construction) {
        self.apart = vec![false; self.pairs.len()];
        for &k in construction.open.iter().chain(construction.laces.iter().flat_map(|l| &l.pairs)) {
            self.apart[k as usize] = true;
            self.fused[k as usize] = false;
        }
    }

    /// For each of so many vertices the one that will stand for it when all that is to close has closed.
    pub fn groups(&self, vertices: usize) -> Vec<u32> {
        let closing = self.pairs.iter().zip(&self.apart).filter(|(_, apart)| !**apart);
        union(vertices, closing.map(|(p, _)| (p.a, p.b)))
    }

    /// Whether nothing is left to close.
    pub fn all_fused(&self) -> bool {
        self.fused.iter().zip(&self.apart).all(|(fused, apart)| *fused || *apart)
    }

    /// Whether only pieces that close onto themselves close now; the others do not wait for ever.
    fn own_first(&self, closing: f32) -> bool {
        closing < OWN_FIRST && (0..self.pairs.len()).any(|k| self.own[k] && !self.fused[k] && !self.apart[k])
    }

    /// One spring per pair that closes after so many seconds of `closing`. `stiffness` in N/m; none pulls harder than
    /// `most`, N: a seam that does not fit stays open rather than pulling its cloth through the body.
    pub fn links(&self, x: &[Vec3A], time_step: f32, stiffness: f32, most: f32, closing: f32) -> Vec<Link> {
        let own_first = self.own_first(closing);
        let open = (0..self.pairs.len()).filter(|&k| !self.fused[k] && !self.apart[k] && (self.own[k] || !own_first));
        open.map(|k| {
            let p = &self.pairs[k];
            let gap = x[p.a as usize] - x[p.b as usize];
            let length = gap.length();
            let step = (CLOSING_SPEED * time_step).min(length);
            let target = if length > 1e-9 { gap * (-step / length) } else { Vec3A::ZERO };
            Link::round([p.a, p.b, p.a, p.a], [1.0, -1.0, 0.0, 0.0], stiffness.min(most / step.max(1e-6)), target)
        })
        .collect()
    }

    /// The pairs that are still to close, with their numbers.
    pub fn open_pairs(&self) -> impl Iterator<Item = (usize, SeamPair)> {
        self.pairs.iter().copied().enumerate().filter(|(k, _)| !self.fused[*k] && !self.apart[*k])
    }

    /// The middle of every open pair and its gap, m.
    pub fn open(&self, x: &[Vec3A]) -> impl Iterator<Item = (Vec3A, f32)> {
        self.open_pairs().map(|(_, p)| {
            let (a, b) = (x[p.a as usize], x[p.b as usize]);
            (0.5 * (a + b), a.distance(b))
        })
    }

    /// Widest gap of each seam in m, by seam index.
    pub fn gaps(&self, x: &[Vec3A], count: usize) -> Vec<f32> {
        let mut widest = vec![0.0f32; count];
        for (_, p) in self.open_pairs() {
            let slot = &mut widest[p.seam as usize];
            *slot = slot.max((x[p.a as usize] - x[p.b as usize]).length());
        }
        widest
    }
}
