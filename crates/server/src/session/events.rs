//! What the session tells its windows: layouts, frames, read-outs, findings.

use super::frames;
use super::thread::{Hung, Worker};
use super::values::{Latest, Layout, Snapshot};
use crate::protocol::{Activity, Event, IssueShown, MotionShown, PieceSpan, Status};
use cloth::Phase;
use costume::Refusal;
use std::sync::Arc;
use std::time::Instant;
use workroom::{CheckMap, CheckReport, Finding, FittingSheet, carried, check, check_map, crossings, fitting_sheet, report_of, standing};

impl Worker {
    /// A new generation: layout first, then its cloth.
    pub(super) fn announce(&mut self) {
        self.generation += 1;
        let generation = self.generation;
        let layout = self.hung.as_ref().map(|hung| {
            let event = Event::Layout {
                generation,
                pieces: PieceSpan::all(&hung.assembly),
                seams: hung.assembly.seam_ids.clone(),
                held: hung.assembly.held_vertices(),
            };
            Arc::new(Layout { generation, event, bytes: frames::layout(generation, &hung.assembly) })
        });
        let cloth = self.hung.as_ref().map(|hung| Arc::new(cloth_frame(generation, hung)));
        self.latest.send_modify(|latest| *latest = Latest { layout, cloth, map: None, status: latest.status.take(), checked: None });
        self.read_out();
    }

    pub(super) fn publish(&mut self) {
        self.frame_at = Instant::now();
        if let Some(hung) = &self.hung {
            let frame = Arc::new(cloth_frame(self.generation, hung));
            self.latest.send_modify(|latest| latest.cloth = Some(frame));
        }
    }

    /// Why there is no cloth, or what is the matter with it. Cloth without trouble is remembered as a good state.
    fn told_trouble(&mut self) -> Option<IssueShown> {
        if let Some(Refusal { item, reason, remedy, .. }) = self.trouble.clone() {
            return Some(IssueShown { item, reason, remedy, piece: None, at: None, since: None, can_go_back: false });
        }
        let hung = self.hung.as_mut().filter(|h| h.touched)?;
        let Some(t) = hung.watch.look(&hung.assembly, &hung.drape) else {
            hung.good = Some(hung.drape.positions());
            return None;
        };
        let can_go_back = hung.good.is_some();
        Some(IssueShown {
            item: t.item,
            reason: t.reason,
            remedy: t.remedy,
            piece: t.piece,
            at: Some(t.at),
            since: Some(t.since),
            can_go_back,
        })
    }

    pub(super) fn read_out(&mut self) {
        self.read_out_at = Instant::now();
        let (since, from, _) = self.pace;
        let (activity, time, fastest, open_pairs, crossings, counts) = match &self.hung {
            None => (Activity::Empty, 0.0, 0.0, 0, 0, (0, 0)),
            Some(hung) => {
                let report = hung.drape.statistics();
                let activity = match (report.phase, self.running, hung.touched) {
                    (Phase::AtRest, ..) => Activity::AtRest,
                    (_, false, false) => Activity::Hung,
                    (_, false, true) => Activity::Paused,
                    (Phase::Closing, ..) => Activity::Closing,
                    (Phase::Falling, ..) => Activity::Falling,
                };
                let counts = (hung.assembly.scene.positions.len(), hung.assembly.scene.triangles.len());
                (activity, report.time, f64::from(report.fastest) * 1000.0, report.open_pairs, report.tangles, counts)
            }
        };
        let passed = since.elapsed().as_secs_f64();
        if self.running && passed > 0.05 {
            self.pace.2 = (time - from) / passed;
        }
        let status = Status {
            activity,
            vertices: counts.0,
            triangles: counts.1,
            time,
            real_time: self.pace.2,
            fastest,
            open_pairs,
            findings: self.findings(),
            left_out: self.hung.as_ref().map_or_else(Vec::new, |h| h.assembly.form.out.iter().cloned().collect()),
            trouble: self.told_trouble(),
            stretch: self.hung.as_ref().map_or(0.0, |h| h.drape.strain().into_iter().fold(0.0, f32::max).into()),
            crossings,
            carried: self.hung.as_ref().and_then(|h| h.carried).map(|m| m * 1000.0),
            held: self.hung.as_ref().map_or_else(Vec::new, |h| h.held.iter().copied().collect()),
            hands: self.hung.as_ref().map_or_else(Vec::new, |h| h.drape.hands().into_iter().map(|(_, at)| at).collect()),
            pins: self.hung.as_ref().map_or_else(Vec::new, |h| h.drape.pins()),
            air: self.air,
            past: self.hung.as_ref().map_or((0, 0), |h| h.past.state()),
            motion: self.going.as_ref().map(|g| MotionShown { from: g.from.clone(), left: 1.0 - g.motion.share() }),
        };
        self.latest.send_modify(|latest| latest.status = Some(Arc::new(Event::Status { status: Box::new(status) })));
    }

    /// How the drape stands; before it was draped, what speaks against draping.
    fn findings(&self) -> Vec<Finding> {
        let Some(hung) = self.hung.as_ref() else { return Vec::new() };
        if !hung.touched {
            return hung.before.clone();
        }
        standing(&hung.assembly, &hung.drape, self.fresh_check())
    }

    /// What the last check found, if the cloth has not moved since.
    fn fresh_check(&self) -> Option<&CheckReport> {
        self.hung.as_ref()?.checked.as_ref().filter(|(_, fresh)| *fresh).map(|(report, _)| report)
    }

    /// What a fitting sheet says of the present drape.
    pub(super) fn sheet(&self) -> Option<(FittingSheet, Snapshot)> {
        let hung = self.hung.as_ref().filter(|h| h.touched)?;
        let checked = self.fresh_check().cloned().unwrap_or_else(|| check(&hung.assembly, &hung.drape));
        let report = report_of(&hung.assembly, &hung.drape, checked, 0.0);
        Some((fitting_sheet(&hung.assembly, &hung.drape, report), self.snapshot()?))
    }

    pub(super) fn check(&mut self) {
        let Some(hung) = &mut self.hung else { return };
        hung.checked = Some((check(&hung.assembly, &hung.drape), true));
        self.tell_check();
        self.read_out();
    }

    /// Another map of the check; of cloth that was not checked yet it is shown with the next check.
    pub(super) fn show_map(&mut self, map: CheckMap) {
        self.map = map;
        self.tell_check();
    }

    /// The findings, and the values of the map that is shown.
    fn tell_check(&self) {
        let Some(hung) = &self.hung else { return };
        let Some((report, _)) = &hung.checked else { return };
        let held = (self.map == CheckMap::Touch).then(|| carried(&hung.assembly, &hung.drape));
        let values = match (self.map, &held) {
            (CheckMap::Tension, _) => frames::map(self.generation, self.map, &report.tension),
            (_, Some(held)) => frames::map(self.generation, self.map, &held.pressure),
            (map, None) => frames::map(self.generation, map, &check_map(&hung.assembly, &hung.drape, map)),
        };
        let checked = Event::Checked {
            generation: self.generation,
            crossings: report.crossings.clone(),
            map: self.map,
            strain_mean: report.strain_mean,
            strain_p99: report.strain_p99,
            strain_max: report.strain_max,
            girths: report.girths.clone(),
            hems: report.hems.clone(),
            stretch: report.stretch.clone(),
            hang: report.hang.clone(),
            weight: held.as_ref().map_or(0.0, |h| h.weight),
            touching: held.as_ref().map_or(0.0, |h| h.touching),
            highest: held.as_ref().map_or(0.0, |h| h.highest),
            bearers: held.map_or_else(Vec::new, |h| h.bearers),
        };
        self.latest.send_modify(|latest| {
            latest.map = Some(Arc::new(values));
            latest.checked = Some(Arc::new(checked));
        });
    }

    pub(super) fn snapshot(&self) -> Option<Snapshot> {
        let hung = self.hung.as_ref().filter(|h| h.touched)?;
        let crossings = self.fresh_check().map_or_else(|| crossings(&hung.assembly, &hung.drape).len(), |checked| checked.crossings.len());
        Some(Snapshot {
            assembly: hung.assembly.clone(),
            positions: hung.drape.positions(),
            fused: hung.drape.fused_with().to_vec(),
            at_rest: hung.drape.phase() == Phase::AtRest,
            crossings,
            air: self.air,
        })
    }
}

fn cloth_frame(generation: u32, hung: &Hung) -> Vec<u8> {
    frames::cloth(generation, &hung.drape.positions(), &hung.assembly.scene.triangles, hung.drape.fused_with())
}
