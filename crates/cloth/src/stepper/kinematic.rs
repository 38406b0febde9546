//! What holds cloth from outside while it drapes: the hand that tugs, and pins in space.

use crate::collider::body::BodyShape;
use crate::construction::{Construction, Lace};
use crate::contact::Searcher;
use crate::elements::leash::Leash;
use crate::linear::link::Link;
use crate::sewing::held_apart::HeldApart;
use crate::stepper::drape::Drape;
use crate::stepper::grab::Grab;
use crate::stepper::parts::Phase;
use glam::Vec3A;

/// Stiffness of the hand at its middle, N/m, and its longest reach in one step, m.
const GRIP: f32 = 15.0;
const REACH: f32 = 0.02;

impl Drape {
    /// Takes hold of the cloth around a vertex with one of several hands.
    pub fn grab(&mut self, hand: u32, vertex: u32, radius: f32) {
        let Some(&centre) = self.state.x.get(vertex as usize) else { return };
        let near = |i: usize| {
            let d = self.state.x[i].distance(centre);
            (d < radius && self.state.root[i] == i as u32).then(|| (i as u32, self.state.x[i] - centre, 1.0 - d / radius))
        };
        let vertices = (0..self.state.x.len()).filter_map(near).collect();
        self.constraints.grabs.insert(hand, Grab { vertices, target: centre });
        self.wake();
    }

    /// Moves a hand, m.
    pub fn pull_to(&mut self, hand: u32, target: [f32; 3]) {
        if let Some(grab) = self.constraints.grabs.get_mut(&hand)
            && target.iter().all(|v| v.is_finite())
        {
            grab.target = Vec3A::from_array(target);
        }
    }

    /// Opens one hand, or all of them.
    pub fn let_go(&mut self, hand: Option<u32>) {
        match hand {
            Some(hand) => drop(self.constraints.grabs.remove(&hand)),
            None => self.constraints.grabs.clear(),
        }
        self.wake();
    }

    /// Where the hands are, m.
    pub fn hands(&self) -> Vec<(u32, [f32; 3])> {
        self.constraints.grabs.iter().map(|(hand, grab)| (*hand, grab.target.to_array())).collect()
    }

    pub(crate) fn grab_links(&self, links: &mut Vec<Link>) {
        for grab in self.constraints.grabs.values() {
            for &(v, away, weight) in &grab.vertices {
                let v = self.state.root[v as usize];
                let way = (grab.target + away - self.state.x[v as usize]).clamp_length_max(REACH);
                links.push(Link::round([v; 4], [1.0, 0.0, 0.0, 0.0], GRIP * weight, way));
            }
        }
    }

    /// The body is elsewhere, or in another pose, from now on.
    pub fn set_body(&mut self, body: BodyShape) {
        self.scene.body = Some(body);
        self.wake();
    }

    /// Length of the steps from now on, s, and how fast air takes the speed of cloth that moves freely, 1/s: for cloth that
    /// swings with a body rather than comes to rest. Steps keep swing from then on. Both stay within what can be computed.
    pub fn set_pace(&mut self, time_step: f32, damping: f32) {
        let time_step = time_step.clamp(1e-5, 1.0 / 30.0);
        self.state.swing.begin(self.state.x.len(), time_step / self.settings.time_step);
        self.settings.time_step = time_step;
        self.settings.damping = [damping.clamp(0.0, 20.0); 2];
    }

    /// Positions are told in a frame that speeds up by so much, m/s², from now on: cloth feels the change as a force against it.
    pub fn set_frame(&mut self, acceleration: [f32; 3]) {
        self.frame = Vec3A::from_array(acceleration).clamp_length_max(1e4);
        self.wake();
    }

    /// Whether cloth is kept out of the body between its vertices too, every few millimetres and off each corner of a moving skin:
    /// for steps in which it went through otherwise.
    pub fn take_care(&mut self, careful: bool) {
        self.careful = careful;
    }

    /// What is carried from now on, and to where in the next step.
    pub fn carry(&mut self, leashes: Vec<Leash>) {
        let known = |one: &Leash| (one.vertex as usize) < self.state.x.len() && one.place.iter().all(|v| v.is_finite());
        self.constraints.leashes = leashes.into_iter().filter(known).collect();
        self.wake();
    }

    /// Holds a vertex where it is now.
    pub fn pin(&mut self, vertex: u32) {
        self.set_pin(vertex, true);
    }

    /// Lets a vertex go, whether it was pinned by hand or by the scene.
    pub fn unpin(&mut self, vertex: u32) {
        self.set_pin(vertex, false);
    }

    fn set_pin(&mut self, vertex: u32, on: bool) {
        let Some(&root) = self.state.root.get(vertex as usize) else { return };
        for i in 0..self.state.x.len() {
            if self.state.root[i] == root {
                self.constraints.pinned[i] = on;
            }
        }
        self.hold_fast();
        self.state.v[root as usize] = Vec3A::ZERO;
        self.wake();
    }

    /// Lets vertices (those of a finished piece) stand still as if they were body, or takes them into the drape again.
    pub fn freeze(&mut self, vertices: std::ops::Range<usize>, on: bool) {
        for i in vertices {
            self.constraints.frozen[i] = on;
            self.state.v[i] = Vec3A::ZERO;
        }
        self.hold_fast();
        self.wake();
    }

    /// Works out anew which vertices do not move: those pinned, those fused with another that stands for them, and those
    /// of which any fused part stands still.
    pub(crate) fn hold_fast(&mut self) {
        self.constraints.held = self.model.mass.iter().zip(&self.constraints.pinned).map(|(m, pinned)| *m <= 0.0 || *pinned).collect();
        for i in (0..self.state.x.len()).filter(|&i| self.constraints.frozen[i]) {
            let root = self.state.root[i] as usize;
            self.constraints.held[root] = true;
            self.state.v[root] = Vec3A::ZERO;
        }
    }

    /// Puts vertices (those of a piece) elsewhere, at rest; their seams open and close again.
    pub fn put(&mut self, first: usize, positions: &[[f32; 3]]) {
        self.state.swing.forget();
        let moved = first..first + positions.len();
        for (i, p) in moved.clone().zip(positions) {
            self.state.x[i] = Vec3A::from_array(*p);
            self.state.v[i] = Vec3A::ZERO;
        }
        self.part(moved);
        self.meeting.look = true;
        self.wake();
        if !self.constraints.seams.all_fused() {
            self.state.phase = Phase::Closing;
            self.state.closing_since = self.state.steps;
        }
    }

    /// Opens and closes seams while the drape goes on: which pairs are left open, and how seams are laced, from now on.
    /// What is opened comes apart where it lies; what is closed is drawn together again. Refused with `false` when it names
    /// what the scene does not have.
    pub fn set_openings(&mut self, open: Vec<u32>, laces: Vec<Lace>) -> bool {
        let next = Construction { open, laces, ..self.scene.construction.clone() };
        if !next.is_sound(self.state.x.len(), self.scene.pairs.len()) {
            return false;
        }
        if next == self.scene.construction {
            return true;
        }
        self.constraints.seams.set_apart(&next);
        self.constraints.apart = HeldApart::new(&next, &self.scene.pairs, &self.state.x);
        self.scene.construction = next;
        self.model.group = self.constraints.seams.groups(self.state.x.len());
        self.meeting.neighbourhood.regroup(Searcher::new(&self.scene, self.model.group.clone()));
        self.state.root = self.fused_roots();
        self.connect();
        self.equations.solver.coarse = self.coarse();
        self.state.closing_since = self.state.steps;
        self.meeting.look = true;
        self.wake();
        true
    }

    /// Vertices that are held in space, each once.
    pub fn pins(&self) -> Vec<u32> {
        (0..self.state.x.len()).filter(|&i| self.constraints.pinned[i] && self.state.root[i] == i as u32).map(|i| i as u32).collect()
    }
}
