//! From one frame to the next: once as a rule; again in finer steps where cloth goes through something; and for longer before the
//! motion begins, until the cloth hangs still.

use super::report::FrameReport;
use super::run::{LONGEST, Rehearsal};
use cloth::{Drape, MovingMesh, SavedDrape};
use glam::{DAffine3, DVec3};
use std::sync::Arc;

/// How many times as many steps a frame gets in which cloth goes through something, one try after the other.
const FINER: [usize; 2] = [2, 4];
/// Most that is waited until the cloth hangs still, in lead-ins, and how fast air takes its speed meanwhile, 1/s.
const PATIENCE: f64 = 0.5;
const CALM: f32 = 6.0;
/// Largest strain by which a frame that is taken again may be worse.
const MORE_STRAIN: f64 = 0.1;
/// Steps between two looks at its speed.
const LOOK_EVERY: usize = 6;

/// What a frame begins with.
struct Beginning {
    drape: SavedDrape,
    mesh: Arc<MovingMesh>,
    placed: Vec<DAffine3>,
    carried_at: Vec<[f32; 3]>,
    place: DVec3,
    speed: DVec3,
}

impl Rehearsal {
    /// Goes on to the next frame; none after the last.
    pub fn advance(&mut self) -> Option<FrameReport> {
        self.advance_over(&[])
    }

    /// The same over cloth that was rehearsed before: `beneath` are the vertices of the pieces that it had, and their places at the
    /// end of the frame, m over the floor. They go there whatever lies on them.
    pub fn advance_over(&mut self, beneath: &[(u32, [f32; 3])]) -> Option<FrameReport> {
        if self.next >= self.frames() {
            return None;
        }
        let beginning = self.beginning();
        let mut report = self.frame(beneath, 1);
        // what crossed before the frame began is not kept from it by finer steps
        let tries = if report.crossings() > 0 && !self.crossed(&beginning) { &FINER[..] } else { &[] };
        for &finer in tries {
            if report.crossings() == 0 {
                break;
            }
            let Some(again) = self.again(&beginning, beneath, finer, &report) else { break };
            report = again;
        }
        if self.next == self.course.plan.lead_in {
            report = self.wait(report);
        }
        Some(report)
    }

    /// Whether cloth went through something when a frame began.
    fn crossed(&self, at: &Beginning) -> bool {
        let skin: Vec<[f32; 3]> = at.mesh.positions().collect();
        !self.crossings(&at.drape.positions, &skin).is_empty()
    }

    fn beginning(&self) -> Beginning {
        Beginning {
            drape: self.drape.save(),
            mesh: self.mesh.clone(),
            placed: self.placed.clone(),
            carried_at: self.carried_at.clone(),
            place: self.place,
            speed: self.speed,
        }
    }

    /// Takes the frame that was just taken again in finer steps. The better one stays, and so does its report; none when it cannot
    /// be taken again.
    fn again(&mut self, from: &Beginning, beneath: &[(u32, [f32; 3])], finer: usize, first: &FrameReport) -> Option<FrameReport> {
        let drape = Drape::resume(self.assembly.scene.clone(), &from.drape).ok()?;
        let kept = std::mem::replace(&mut self.drape, drape);
        (self.place, self.speed, self.mesh) = (from.place, from.speed, from.mesh.clone());
        self.placed.clone_from(&from.placed);
        self.carried_at.clone_from(&from.carried_at);
        self.next -= 1;
        self.drape.take_care(true);
        let report = self.frame(beneath, finer);
        self.drape.take_care(false);
        // fewer crossings are not bought with torn cloth
        if report.crossings() < first.crossings() && report.strain_max < first.strain_max + MORE_STRAIN {
            return Some(report);
        }
        // the body is where it was after the first try
        self.drape = kept;
        Some(first.clone())
    }

    /// Waits in the first pose until the cloth hangs still.
    fn wait(&mut self, report: FrameReport) -> FrameReport {
        let plan = &self.course.plan;
        let (most, mut taken) = ((PATIENCE * plan.lead_in as f64 / plan.fps / LONGEST) as usize, 0);
        self.drape.set_pace(LONGEST as f32, CALM);
        self.hold_still();
        while taken < most && !self.drape.is_calm() {
            for _ in 0..LOOK_EVERY {
                self.drape.step();
            }
            taken += LOOK_EVERY;
        }
        self.drape.stop();
        self.report(report.steps + taken)
    }
}
