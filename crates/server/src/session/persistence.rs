//! What outlives a moment: saves of the running drape, pins over a change of the pattern, opened fittings.

use super::thread::{SAVE, Worker, same_cloth, with_drape};
use crate::protocol::{Air, Event};
use crate::running::Grip;
use cloth::{Drape, Phase};
use costume::Refusal;
use std::time::Instant;
use workroom::{Assembly, Fitting, KeptMesh};

impl Worker {
    /// The drape that was on the stand when the server was stopped. When the document moved on since its last save, the
    /// drape goes along as it would have with a window open. False when there is none.
    pub(super) fn find_again(&mut self) -> bool {
        let Some((kept, grip)) = self.keeper.find(self.id) else { return false };
        if same_cloth(&kept.costume, &self.costume) {
            return self.put_on(Fitting { costume: self.costume.clone(), ..kept }, &grip);
        }
        let newest = std::mem::replace(&mut self.costume, kept.costume.clone());
        if self.put_on(kept, &grip) {
            self.change(newest);
            return true;
        }
        self.costume = newest;
        false
    }

    /// Shows a saved drape of the present document with all that held it; false when it cannot be shown.
    fn put_on(&mut self, kept: Fitting, grip: &Grip) -> bool {
        let Ok(assembly) = self.assemble() else { return false };
        let Some(positions) = kept.positions_on(&assembly) else { return false };
        let Ok(mut hung) = with_drape(assembly, Some(positions)) else { return false };
        grip.held.iter().for_each(|piece| hung.hold(*piece, true));
        if let Some(air) = grip.air.filter(|air| air.check().is_ok()) {
            self.air = air;
        }
        let count = hung.assembly.scene.positions.len() as u32;
        grip.pins.iter().filter(|pin| **pin < count).for_each(|pin| hung.drape.pin(*pin));
        if kept.at_rest {
            hung.drape.rest();
        }
        self.hung = None;
        self.place(Ok(hung), true);
        if let Some(motion) = &grip.motion {
            self.find_motion(motion);
        }
        true
    }

    /// Saves the drape when it moved and the last save is long enough ago, or when it stands still now.
    pub(super) fn save(&mut self) {
        if self.keeper.has_failed() {
            (self.unsaved, self.failed_at, self.mesh_saved) = (true, Some(Instant::now()), None);
        }
        // after a failure it is tried again when the database had time to return
        let waits = self.failed_at.is_some_and(|at| at.elapsed() < SAVE);
        let due = self.unsaved && !waits && (!self.running || self.saved_at.elapsed() >= SAVE);
        let Some(hung) = self.hung.as_ref().filter(|h| due && h.touched) else { return };
        let (air, motion) = (Some(self.air), self.saved_motion());
        let grip = Grip { held: hung.held.clone(), pins: hung.drape.pins(), air, motion };
        let mesh = (self.mesh_saved != Some(self.generation)).then(|| KeptMesh::of(&hung.assembly));
        let at_rest = hung.drape.phase() == Phase::AtRest;
        let fitting = Fitting { costume: self.costume.clone(), positions: hung.drape.positions(), at_rest, mesh };
        if self.keeper.save(self.id, &fitting, &grip) {
            self.mesh_saved = Some(self.generation);
            (self.unsaved, self.saved_at, self.failed_at) = (false, Instant::now(), None);
        }
    }

    /// Saves what is not saved yet and waits for it, before the session ends.
    pub(super) fn save_at_last(&mut self) {
        self.keeper.wait();
        self.running = false;
        self.failed_at = None;
        self.save();
        self.keeper.wait();
    }

    /// Pins of the present drape stay where they are in the next one: at the nearest vertex of the same piece.
    pub(super) fn keep_pins(&self, drape: &mut Drape, assembly: &Assembly) {
        let Some(old) = &self.hung else { return };
        let (before, now) = (old.drape.positions(), drape.positions());
        for pin in old.drape.pins() {
            let owner = old.assembly.pieces.iter().rev().find(|p| p.first_vertex <= pin as usize);
            let Some(range) = owner.and_then(|o| assembly.pieces.iter().find(|p| p.piece == o.piece)) else { continue };
            let at = before[pin as usize];
            let off = |v: usize| (0..3).map(|k| (now[v][k] - at[k]).powi(2)).sum::<f32>();
            // a rehung piece is somewhere else: its pins are void
            if let Some(v) = range.vertices().min_by(|a, b| off(*a).total_cmp(&off(*b))).filter(|v| off(*v) < 0.03f32.powi(2)) {
                drape.pin(v as u32);
            }
        }
    }

    /// Shows a fitting; what is wrong with it is told to the window that asked.
    pub(super) fn open(&mut self, fitting: Fitting, air: Option<Air>, reply: &tokio::sync::mpsc::Sender<Event>) {
        let at_rest = fitting.at_rest;
        let made = self.forms.hang(&fitting.costume).and_then(|assembly| {
            let unfit = || Refusal::elsewhere("fitting", "does not fit its pattern any more", "drape the costume again");
            let positions = fitting.positions_on(&assembly).ok_or_else(unfit)?;
            with_drape(assembly, Some(positions))
        });
        self.running = false;
        match made {
            Ok(mut hung) => {
                if at_rest {
                    hung.drape.rest();
                }
                if let Some(air) = air.filter(|air| air.check().is_ok()) {
                    self.air = air;
                }
                self.place(Ok(hung), true);
                self.unsaved = true;
            }
            Err(refusal) => drop(reply.try_send(Event::Refused { refusal })),
        }
    }
}
