//! One time step: linearly implicit Euler. Elasticity, contacts, friction and seam springs go into one linear system
//! for the displacement, which conjugate gradients solve; then the body pushes out what is left inside it, and the
//! guard shortens any way that would make cloth cross cloth.

use crate::contact;
use crate::elements::fold;
use crate::elements::{leash, skin_holds, tapes_and_stays};
use crate::linear::link::Link;
use crate::linear::solve::System;
use crate::stepper::assembly::BENDING_DAMPING;
use crate::stepper::drape::{Drape, StepReport};
use crate::stepper::parts::Phase;
use crate::stepper::stage::{Stage, Watch};
use glam::{Vec3, Vec3A};
use rayon::prelude::*;

/// Nearer to the skin than this a pin is stuck into the body, m.
const PINNED_TO: f32 = 0.03;
/// Longest displacement of a vertex in one step, m.
pub(crate) const LONGEST_STEP: f32 = 0.08;
/// Share of the first residual that is left after each pass of a step's solve.
const PASSES: [f64; 3] = [0.1, 0.03, 0.01];
/// Factor of these where cloth is folded.
const FOLDS: f64 = 0.3;
/// Share of its weight with which a contact may seem to pull.
const NOISE: f32 = 0.25;
/// Parts into which a step without a finite result is divided, one try after the other.
const RETRIES: [u32; 3] = [2, 4, 16];
/// Rounds of search and guard after which the whole cloth stands still for a step.
const GUARD_ROUNDS: usize = 5;
/// Most iterations of one pass.
const MOST_ITERATIONS: usize = 80;
/// Most pull of a lace or a lap over that of a closing seam: cord is firmer than thread.
const LACED: f32 = 4.0;
/// Steps between two attempts to fuse closed pairs.
const FUSE_EVERY: u64 = 8;

/// What joins vertices in one step besides the cloth itself.
struct Joined {
    links: Vec<Link>,
    /// The first of the links that is a contact between layers.
    contacts: usize,
    /// Contacts with the body. They join no more than the ends of an edge, so they stand in the stored blocks.
    body: Vec<Link>,
}

impl Joined {
    /// Whether nothing touches.
    fn is_free(&self) -> bool {
        self.contacts == self.links.len() && self.body.is_empty()
    }
}

impl Drape {
    /// Advances one time step. At rest nothing moves and the last figures are returned.
    pub fn step(&mut self) -> StepReport {
        self.step_watched(&mut |_| {})
    }

    /// The same; `watch` is told of every stage as it begins.
    pub fn step_watched(&mut self, watch: Watch) -> StepReport {
        if self.state.phase == Phase::AtRest {
            return self.report(0, 0);
        }
        let whole = self.settings.time_step;
        self.state.failed = None;
        self.constraints.gathers.draw_up(&self.scene, whole, &mut self.model.elements);
        self.constraints.apart.advance(whole);
        let mut taken = self.advance(1, watch);
        for parts in RETRIES {
            if taken.is_some() {
                break;
            }
            self.state.swing.forget();
            self.settings.time_step = whole / parts as f32;
            taken = self.advance(parts, watch);
        }
        if self.settings.time_step != whole {
            self.state.swing.forget();
        }
        self.settings.time_step = whole;
        if taken.is_some() {
            self.state.failed = None;
        } else {
            // the step is left out: cloth stands where it was
            self.state.v.fill(Vec3A::ZERO);
        }
        watch(Stage::Rest);
        self.state.steps += 1;
        if self.state.steps.is_multiple_of(FUSE_EVERY) {
            self.fuse();
        }
        self.advance_phase();
        let (iterations, held_back) = taken.unwrap_or_default();
        self.report(iterations, held_back)
    }

    /// Takes some time steps of the present length, each as far as body and cloth allow; returns the solver's iterations and
    /// the vertices held back. None when one of them has no finite result; those before it stay taken.
    fn advance(&mut self, steps: u32, watch: Watch) -> Option<(usize, usize)> {
        let mut sums = (0, 0);
        for _ in 0..steps {
            let iterations = self.attempt(watch);
            #[cfg(test)]
            self.spoil();
            self.state.failed = self.equations.move_by.iter().position(|m| !m.is_finite());
            if self.state.failed.is_some() {
                self.equations.solver.coarse.age = u32::MAX;
                return None;
            }
            sums = (sums.0 + iterations, sums.1 + self.accept(watch));
        }
        Some(sums)
    }

    /// Computes the displacements of one time step; returns the solver's iterations.
    pub(crate) fn attempt(&mut self, watch: Watch) -> usize {
        let h = self.settings.time_step;
        watch(Stage::Assembly);
        self.assemble();
        if self.settings.self_contact {
            watch(Stage::Search);
            self.untangle();
        }
        let mut joined = self.links(watch);
        for i in 0..self.state.x.len() {
            self.equations.move_by[i] =
                if self.constraints.held[i] { Vec3A::ZERO } else { self.state.swing.inertia(i, self.state.v[i], h).ahead };
        }
        for link in joined.links.iter().chain(&joined.body) {
            link.push(1.0, &mut self.equations.right);
        }
        for link in &joined.body {
            link.store(1.0, &self.model.pattern, &mut self.equations.blocks);
        }
        fold::springs(&self.model.folds, &self.state.x, 1.0 + BENDING_DAMPING / h, &mut self.equations.fold_springs);
        for spring in &self.equations.fold_springs {
            spring.push(&mut self.equations.right);
        }
        // kinetic energy of the whole cloth at a tenth of a millimetre per second
        let floor = self.model.mass.iter().map(|m| f64::from(*m)).sum::<f64>() * 1e-8 * self.equations.exactness.powi(2);
        self.state.swing.touch(joined.links[joined.contacts..].iter().chain(&joined.body));
        self.solve(&mut joined, floor, watch)
    }

    /// Solves for the displacements, ever more exactly; between the passes, contacts that would pull are let go.
    fn solve(&mut self, joined: &mut Joined, floor: f64, watch: Watch) -> usize {
        let bend = 1.0 + BENDING_DAMPING / self.settings.time_step;
        let mut iterations = 0;
        self.equations.solver.begin();
        let passes = if joined.is_free() { &PASSES[PASSES.len() - 1..] } else { &PASSES[..] };
        // a fold turns whole panels by forces at its line, which a loose solve does not carry that far
        let exact = self.equations.exactness * if self.equations.fold_springs.is_empty() { 1.0 } else { FOLDS };
        for (pass, &tolerance) in passes.iter().enumerate() {
            if pass > 0 {
                self.release(joined);
            }
            let system = System {
                pattern: &self.model.pattern,
                blocks: &self.equations.blocks,
                bend,
                held: &self.constraints.held,
                links: &joined.links,
                folds: &self.equations.fold_springs,
                right: &self.equations.right,
            };
            iterations +=
                self.equations.solver.solve(&system, &mut self.equations.move_by, tolerance * exact, floor, MOST_ITERATIONS, watch);
        }
        iterations
    }

    /// Contacts push and never pull: lets those go that hold cloth back which leaves. Cloth that hovers over the skin would
    /// otherwise stick to it, could not buckle, and would stretch instead. Pulls below a share of the cloth's weight are
    /// taken for noise of a solve that is not exact yet.
    fn release(&mut self, joined: &mut Joined) {
        let (moves, right, mass, gravity) = (&self.equations.move_by, &mut self.equations.right, &self.model.mass, self.settings.gravity);
        let pulls = |link: &Link| {
            let weight: f32 = (0..4).map(|k| link.weights[k].abs() * mass[link.vertices[k] as usize]).sum::<f32>() * gravity;
            link.along * link.normal.dot(link.target - link.sum(moves)) < -NOISE * weight
        };
        for link in joined.links.extract_if(joined.contacts.., |link| pulls(link)) {
            link.push(-1.0, right);
        }
        for link in joined.body.extract_if(.., |link| pulls(link)) {
            link.push(-1.0, right);
            link.store(-1.0, &self.model.pattern, &mut self.equations.blocks);
        }
    }

    /// Shortens the ways to `to` that would take cloth through cloth; returns how many vertices were held back. When a
    /// vertex that was held back leaves what the search had expected, others may run into it: then it is searched again.
    pub(crate) fn guard(&mut self, to: &mut [Vec3A], watch: Watch) -> usize {
        let mut held_back = 0;
        if !self.settings.self_contact {
            return held_back;
        }
        for _ in 0..GUARD_ROUNDS {
            watch(Stage::Search);
            let candidates = self.meeting.neighbourhood.pairs(&self.state.x, to, self.state.swing.is_on());
            watch(Stage::Guard);
            // still drapes are guarded as ever, to the bit
            let floor = if self.state.swing.is_on() { contact::FLOOR } else { 0.0 };
            let held = contact::guard(candidates, &self.state.x, to, &self.meeting.collision_exempt, floor);
            held_back += held;
            if held == 0 || self.meeting.neighbourhood.covers(&self.state.x, to) {
                return held_back;
            }
        }
        // standing still is always safe
        to.copy_from_slice(&self.state.x);
        held_back
    }

    pub(crate) fn gravity(&self) -> Vec3A {
        if self.state.phase == Phase::Closing {
            Vec3A::ZERO
        } else {
            Vec3A::new(0.0, -self.settings.gravity * self.settings.conditions.gravity, 0.0) - self.frame
        }
    }

    pub(crate) fn damping(&self) -> f32 {
        let [falling, calm] = self.settings.damping;
        let free = self.state.free_steps as f32 * self.settings.time_step;
        match self.state.phase {
            Phase::Closing => calm,
            _ => (falling + (calm - falling) * ((free - self.settings.calm_after) / 0.5).clamp(0.0, 1.0) + self.settings.conditions.calm)
                .max(0.0),
        }
    }

    /// What joins cloth to cloth by its making: seams that close, laces, tapes.
    pub(crate) fn sewing_links(&self) -> Vec<Link> {
        let h = self.settings.time_step;
        let mut links =
            self.constraints.seams.links(&self.state.x, h, self.constraints.seam_stiffness, self.model.seam_force, self.closing_for());
        for link in &mut links {
            link.vertices = link.vertices.map(|v| self.state.root[v as usize]);
        }
        if !self.constraints.apart.is_empty() {
            let pull = (self.constraints.seam_stiffness, LACED * self.model.seam_force);
            links.extend(self.constraints.apart.links(
                &self.constraints.seams.pairs,
                &self.state.x,
                &self.state.root,
                (self.model.layer_gap, h),
                pull,
            ));
        }
        if !self.tapes_wait() {
            tapes_and_stays::tape_links(&self.model.spans, &self.state.x, &mut links);
        }
        links
    }

    fn links(&mut self, watch: Watch) -> Joined {
        watch(Stage::Contacts);
        let h = self.settings.time_step;
        let fall = self.gravity() * h;
        let mut links = self.sewing_links();
        let stiffness = self.model.layer_stiffness;
        tapes_and_stays::stay_links(
            &mut self.constraints.levels,
            self.scene.body.as_ref(),
            &self.state.x,
            &self.state.root,
            stiffness,
            h,
            &mut links,
        );
        if let (Some(body), false) = (&self.scene.body, self.state.phase == Phase::Closing) {
            skin_holds::hold_links(&mut self.constraints.skin_held, body, &self.state.x, &self.state.root, h, &mut links);
        }
        self.grab_links(&mut links);
        leash::leash_links(&self.constraints.leashes, &self.state.x, &self.state.root, &self.model.mass, h, &mut links);
        self.parting_links(&mut links);
        let contacts = links.len();
        let moving = contact::Moving { positions: &self.state.x, velocities: &self.state.v, time_step: h, fall };
        let near = &mut self.meeting.nearest;
        let body = self.scene.body.as_ref().map_or_else(Vec::new, |body| contact::body_links(body, &moving, &self.model.samples, near));
        if self.settings.self_contact {
            let ahead: Vec<Vec3A> = self.state.x.iter().zip(&self.state.v).map(|(x, v)| *x + *v * h).collect();
            watch(Stage::Search);
            let candidates = self.meeting.neighbourhood.pairs(&self.state.x, &ahead, self.state.swing.is_on());
            watch(Stage::Contacts);
            links.extend(contact::cloth_links(
                candidates,
                &moving,
                &self.meeting.collision_exempt,
                self.model.layer_gap,
                self.model.layer_stiffness,
                (self.model.layer_friction, &self.model.grip),
            ));
        }
        Joined { links, contacts, body }
    }

    /// Takes the displacements as far as body and cloth allow, and sets the velocities accordingly.
    pub(crate) fn accept(&mut self, watch: Watch) -> usize {
        watch(Stage::Guard);
        let h = self.settings.time_step;
        let mut to: Vec<Vec3A> = (0..self.state.x.len())
            .into_par_iter()
            .map(|i| {
                self.state.x[i]
                    + if self.constraints.held[i] { self.carried(i, h) } else { self.equations.move_by[i].clamp_length_max(LONGEST_STEP) }
            })
            .collect();
        leash::draw_in(&self.constraints.leashes, &self.state.root, &mut to);
        let pushed = self.push_out(&mut to);
        let wanted: Vec<Vec3A> = pushed.iter().map(|(v, _)| to[*v]).collect();
        let held_back = self.guard(&mut to, watch);
        self.meeting.neighbourhood.next_step();
        // what lay deep inside the body comes out, but is not thrown out; a push that the guard cut short threw nothing
        let mut excess: Vec<(usize, Vec3A)> = Vec::with_capacity(pushed.len());
        for ((v, push), wanted) in pushed.into_iter().zip(wanted) {
            let way = wanted - self.state.x[v];
            let done = ((to[v] - self.state.x[v]).dot(way) / way.length_squared().max(1e-12)).clamp(0.0, 1.0);
            excess.push((v, (push - push.clamp_length_max(contact::OUTWARD_SPEED * h)) * (done / h)));
        }
        for i in 0..self.state.x.len() {
            let by = to[i] - self.state.x[i];
            // where the guard or a push decided, the past does not tell how it goes on
            let decided = self.constraints.held[i] || by.distance_squared(self.equations.move_by[i]) > 1e-14;
            self.state.v[i] = self.state.swing.moved(i, by, self.state.v[i], h, decided);
            self.state.x[i] = to[i];
        }
        for (v, excess) in excess {
            self.state.v[v] -= excess;
        }
        self.follow_roots();
        held_back
    }

    /// How far a moving body takes a vertex that is pinned to it along in a step, m; other held vertices stand still.
    fn carried(&self, i: usize, h: f32) -> Vec3A {
        let at = Vec3::from(self.state.x[i]);
        let body = self.scene.body.as_ref().filter(|b| self.constraints.pinned[i] && !self.constraints.frozen[i] && b.moves());
        body.filter(|b| b.distance(at) < PINNED_TO).map_or(Vec3A::ZERO, |b| b.velocity_at(at) * h)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Scene;

    fn square() -> Drape {
        let flat = vec![[0.0, 0.0], [0.1, 0.0], [0.1, 0.1], [0.0, 0.1]];
        let scene = Scene { pins: vec![3], ..Scene::plain(flat, vec![[0, 1, 2], [0, 2, 3]]) };
        Drape::new(scene).expect("a scene")
    }

    impl Drape {
        /// Lets the next attempts fail.
        pub(super) fn spoil(&mut self) {
            if self.state.spoilt > 0 {
                self.state.spoilt -= 1;
                self.equations.move_by[1] = Vec3A::NAN;
            }
        }
    }

    #[test]
    fn a_step_that_fails_is_taken_in_smaller_parts() {
        let (mut drape, mut plain) = (square(), square());
        for _ in 0..30 {
            drape.state.spoilt = 2;
            drape.step();
            plain.step();
            assert_eq!(drape.failed_at(), None, "taken in four parts");
        }
        assert_eq!(drape.time(), plain.time(), "the clock goes on by whole steps");
        // small steps swing as whole ones do, but for the first order of the step
        let (parts, whole) = (drape.positions()[1][1], plain.positions()[1][1]);
        assert!(parts < -0.02 && (parts / whole - 1.0).abs() < 0.1, "{parts} and {whole}");
    }

    #[test]
    fn a_step_that_cannot_be_taken_is_left_out_and_told() {
        let mut drape = square();
        drape.state.v[1] = Vec3A::NAN;
        let before = drape.positions();
        drape.step();
        assert!(drape.failed_at().is_some());
        assert_eq!(drape.positions(), before, "the last good state is kept");
        for _ in 0..60 {
            drape.step();
        }
        assert_eq!(drape.failed_at(), None);
        assert!(drape.positions()[1][1] < before[1][1] - 0.02, "and the cloth goes on to fall");
    }
}
