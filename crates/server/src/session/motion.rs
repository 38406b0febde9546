//! The body on its way to another pose, and the cloth that goes along.

use super::pose_way::Going;
use super::thread::{Worker, with_drape};
use crate::running::SavedMotion;
use costume::BodyChoice;
use workroom::{PoseMotion, STEPS_A_FRAME, carry_cloth};

impl Worker {
    /// Lets draped cloth go along when only the pose changed; false when it has to be hung afresh.
    pub(super) fn go_along(&mut self, before: &BodyChoice) -> bool {
        let now = self.costume.body.clone();
        let Some(hung) = self.hung.as_ref().filter(|h| h.touched && before.shape() == now.shape() && before.pose != now.pose) else {
            return false;
        };
        let made = self.assemble().and_then(|assembly| {
            let form = &assembly.form;
            let motion = match &self.going {
                Some(going) => going.motion.onwards(&now, form.out.clone())?,
                None => PoseMotion::new(form.figure.clone(), before, &now, form.out.clone(), 0)?,
            };
            let arrives = form.still();
            let going = Going { from: motion.start(), motion, steps: STEPS_A_FRAME, arrives };
            let positions = carry_cloth(&hung.assembly, &hung.drape.positions(), &assembly);
            let present = hung.drape.scene().body.clone();
            let mut made = with_drape(assembly, Some(positions))?;
            if let Some(body) = present {
                made.drape.set_body(body);
            }
            Ok((made, going))
        });
        let Ok((made, going)) = made else { return false };
        self.place(Ok(made), true);
        self.going = Some(going);
        self.set_running(true);
        true
    }

    /// The way of the body as it is saved.
    pub(super) fn saved_motion(&self) -> Option<SavedMotion> {
        let motion = &self.going.as_ref()?.motion;
        Some(SavedMotion { from: motion.start(), frames: motion.frames(), done: motion.done() })
    }

    /// Puts the body where it was on its way when the server was stopped; the cloth is already there.
    pub(super) fn find_motion(&mut self, saved: &SavedMotion) {
        let Some(hung) = &mut self.hung else { return };
        let form = &hung.assembly.form;
        let way = (saved.frames, saved.done);
        let resumed = PoseMotion::resumed(form.figure.clone(), &saved.from, &self.costume.body, form.out.clone(), way);
        let Ok((motion, body)) = resumed else { return };
        let arrives = form.still();
        hung.drape.set_body(body);
        self.going = Some(Going { from: motion.start(), motion, steps: STEPS_A_FRAME, arrives });
        self.read_out();
    }

    /// Moves the body on when a frame of its motion is due.
    pub(super) fn go_on(&mut self) {
        let (Some(going), Some(hung)) = (&mut self.going, &mut self.hung) else { return };
        if going.steps < STEPS_A_FRAME {
            going.steps += 1;
            return;
        }
        going.steps = 1;
        let seconds = f64::from(hung.drape.scene().settings.time_step) * STEPS_A_FRAME as f64;
        match going.motion.advance(seconds) {
            Some(body) => hung.drape.set_body(body),
            None => {
                hung.drape.set_body(going.arrives.clone());
                self.going = None;
            }
        }
    }
}
