//! Cloth that crosses cloth while it drapes: what is collision_exempt from contacts and guard so that it can come apart, and the
//! pulls that part it.

use crate::contact;
use crate::linear::link::Link;
use crate::stepper::drape::Drape;
use glam::Vec3A;

/// Steps between two looks for crossing cloth, while there is none and while there is.
const LOOK_EVERY: u64 = 40;
const UNTANGLE_EVERY: u64 = 4;
/// Seconds of closing after which an open seam is caught, widest gap at which it is let through, and how far around, m.
const CAUGHT_AFTER: f32 = 3.5;
const CAUGHT: f32 = 0.04;
const CAUGHT_AROUND: f32 = 0.02;
/// The pull that parts tangled cloth grows by this share a second, up to so many times: what is squeezed or stiff needs more.
const GROWTH: f32 = 5.0;
const STRONGEST: f32 = 20.0;
/// Seconds for which cloth does not rest because it is tangled.
const LIMIT: f32 = 6.0;

impl Drape {
    /// Looks for cloth that crosses cloth: often while there is any, now and then otherwise. What crosses is collision_exempt from
    /// contacts and guard, so that it can come free.
    pub(crate) fn untangle(&mut self) {
        let every = if self.meeting.tangles.is_empty() { LOOK_EVERY } else { UNTANGLE_EVERY };
        if !std::mem::take(&mut self.meeting.look) && !self.state.steps.is_multiple_of(every) {
            return;
        }
        self.meeting.tangles = contact::tangles(self.meeting.neighbourhood.searcher(), &self.state.x);
        if self.meeting.tangles.is_empty() {
            self.meeting.tangled_since = self.state.steps;
        }
        self.meeting.collision_exempt.fill(false);
        for v in self.meeting.tangles.iter().flat_map(|t| t.edge.iter().chain(&t.triangle)) {
            self.meeting.collision_exempt[*v as usize] = true;
        }
        // a seam that has not closed for long is caught in other cloth, which may pass between its sides until it has closed
        if self.closing_for() > CAUGHT_AFTER {
            let caught = self.constraints.seams.open(&self.state.x).filter(|(_, gap)| *gap < CAUGHT);
            excuse(
                caught.map(|(middle, gap)| (middle, 0.5 * gap + CAUGHT_AROUND)).collect(),
                &self.state.x,
                &mut self.meeting.collision_exempt,
            );
        }
    }

    /// Seconds for which cloth has crossed cloth.
    fn tangled_for(&self) -> f32 {
        (self.state.steps - self.meeting.tangled_since) as f32 * self.settings.time_step
    }

    /// Whether cloth may rest: not soon after it has got tangled.
    pub(crate) fn untangled(&self) -> bool {
        self.meeting.tangles.is_empty() || self.tangled_for() > LIMIT
    }

    /// The pulls that part tangled cloth.
    pub(crate) fn parting_links(&self, links: &mut Vec<Link>) {
        if self.meeting.tangles.is_empty() {
            return;
        }
        let worn = |t: u32| self.scene.construction.wear.get(self.model.panel_of[t as usize]).copied().unwrap_or(1);
        let sewn = self.model.elements.iter().map(|e| e.vertices).collect::<Vec<_>>();
        let pull = (1.0 + GROWTH * self.tangled_for()).min(STRONGEST);
        contact::untangling_directions(&self.meeting.tangles, &sewn, &self.state.x, worn, pull * self.model.layer_stiffness, links);
    }
}

/// Excuses all vertices within a distance (m) of some places.
fn excuse(places: Vec<(Vec3A, f32)>, x: &[Vec3A], collision_exempt: &mut [bool]) {
    for (x, collision_exempt) in x.iter().zip(collision_exempt) {
        *collision_exempt |= places.iter().any(|(at, reach)| x.distance_squared(*at) < reach * reach);
    }
}
