//! When a drape falls, and when it is at rest.

use crate::stepper::drape::Drape;
use crate::stepper::parts::Phase;
use glam::Vec3A;

/// At rest when 99.5 % of the vertices and the root mean square stay below these, m/s, for so many seconds: single
/// vertices that snap from one wrinkle to another keep no drape from resting.
const REST_MOST: f32 = 0.010;
const REST_MEAN: f32 = 2.5e-3;
const REST_TIME: f32 = 0.25;
/// Seconds over which net movement is measured, and free seconds after which cloth that only buzzes in place, such as
/// where a seam is held open by cloth caught in it, counts as resting.
const WINDOW: f32 = 0.5;
const PATIENCE: f32 = 4.0;
/// Growth of the stiffness of closing seams in a second, and most of it, N/m.
const SEAM_GROWTH: f32 = 3.3004;
const STIFFEST_SEAM: f32 = 2e4;
/// Free seconds for which elastics wait for seams that still close.
const SEWING_LIMIT: f32 = 5.0;
/// Seconds after which gravity sets in although seams are still open.
const CLOSING_LIMIT: f32 = 5.0;

impl Drape {
    pub(crate) fn advance_phase(&mut self) {
        let h = self.settings.time_step;
        match self.state.phase {
            Phase::Closing if self.all_sewn() || self.closing_for() > CLOSING_LIMIT => self.state.phase = Phase::Falling,
            Phase::Closing => self.constraints.seam_stiffness = (self.constraints.seam_stiffness * SEAM_GROWTH.powf(h)).min(STIFFEST_SEAM),
            Phase::Falling => {
                self.state.free_steps += 1;
                let (_, mean) = self.speeds();
                let quiet = mean < REST_MEAN && self.share_faster_than(REST_MOST) < 0.005 && self.may_rest();
                self.rest.quiet_steps = if quiet { self.rest.quiet_steps + 1 } else { 0 };
                let settled = self.rest.quiet_steps as f32 * h >= REST_TIME && self.state.free_steps as f32 * h > self.settings.calm_after;
                if settled || self.only_buzzes() {
                    self.state.phase = Phase::AtRest;
                    self.state.v.fill(Vec3A::ZERO);
                }
            }
            Phase::AtRest => {}
        }
    }

    /// Seconds since seams began to close.
    pub(crate) fn closing_for(&self) -> f32 {
        (self.state.steps - self.state.closing_since) as f32 * self.settings.time_step
    }

    /// Loose pieces would be drawn up and away by their elastics before they are sewn. Cloth that hangs while some seam
    /// still closes is given time for that; a seam that never closes keeps no elastic from pulling.
    pub(crate) fn tapes_wait(&self) -> bool {
        let free = self.state.free_steps as f32 * self.settings.time_step;
        self.state.phase == Phase::Closing || (free < SEWING_LIMIT && !self.all_sewn())
    }

    pub(crate) fn may_rest(&self) -> bool {
        (self.model.spans.is_empty() || !self.tapes_wait())
            && self.constraints.grabs.is_empty()
            && !self.settings.conditions.is_unsteady()
            && self.untangled()
    }

    /// Whether the cloth, long after it began to fall, went nowhere during the window that ends now.
    fn only_buzzes(&mut self) -> bool {
        let h = self.settings.time_step;
        let window = (WINDOW / h).round().max(1.0) as u32;
        if !self.state.free_steps.is_multiple_of(window) {
            return false;
        }
        let span = window as f32 * h;
        let moving = (0..self.state.x.len()).filter(|&i| self.model.mass[i] > 0.0);
        let (mut sum, mut far, mut count) = (0.0f64, 0u32, 0u32);
        for i in moving {
            let way = self.state.x[i].distance_squared(self.rest.before[i]);
            sum += f64::from(way);
            far += u32::from(way > (REST_MOST * span).powi(2));
            count += 1;
        }
        self.rest.before.clone_from(&self.state.x);
        let (mean, share) = ((sum / f64::from(count.max(1))).sqrt() as f32, f64::from(far) / f64::from(count.max(1)));
        self.state.free_steps as f32 * h >= PATIENCE && self.may_rest() && mean < REST_MEAN * span && share < 0.005
    }

    /// Fastest and root mean square speed, m/s.
    pub(crate) fn speeds(&self) -> (f32, f32) {
        let (mut fastest, mut sum, mut count) = (0.0f32, 0.0f64, 0.0f64);
        for i in (0..self.state.x.len()).filter(|&i| self.model.mass[i] > 0.0) {
            let s = self.state.v[i].length_squared();
            fastest = fastest.max(s);
            sum += f64::from(s);
            count += 1.0;
        }
        (fastest.sqrt(), (sum / count.max(1.0)).sqrt() as f32)
    }

    /// Whether the cloth hangs as still as one at rest, at this moment.
    pub fn is_calm(&self) -> bool {
        self.speeds().1 < REST_MEAN && self.share_faster_than(REST_MOST) < 0.005
    }

    /// Takes all speed from the cloth.
    pub fn stop(&mut self) {
        self.state.swing.forget();
        self.state.v.fill(Vec3A::ZERO);
    }

    /// Share of the vertices that are faster than a speed.
    fn share_faster_than(&self, speed: f32) -> f64 {
        let moving = (0..self.state.x.len()).filter(|&i| self.model.mass[i] > 0.0);
        let (fast, all) = moving.fold((0u32, 0u32), |(f, n), i| (f + u32::from(self.state.v[i].length_squared() > speed * speed), n + 1));
        f64::from(fast) / f64::from(all.max(1))
    }
}
