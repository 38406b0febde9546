//! A running drape: state, one time step, and when it is at rest.
//!
//! Each step is linearly implicit Euler: elasticity, contacts, friction and seam springs go into one linear system for
//! the displacement, which conjugate gradients solve; then the body pushes out what is left inside it, and the guard
//! shortens any way that would make cloth cross cloth.

use crate::air::{self, Conditions};
use crate::bending;
use crate::coarse::Coarse;
use crate::contact::{self, Neighbourhood, Searcher};
use crate::hold::Grab;
use crate::link::Link;
use crate::matrix::{CHUNK, Pattern};
use crate::membrane::{self, Element, Stretched};
use crate::scene::{Scene, SceneFault, Settings};
use crate::seams::{FUSE_GAP, Seams};
use crate::solve::{Solver, System};
use crate::topology;
use glam::{Mat3A, Vec2, Vec3, Vec3A};
use rayon::prelude::*;

/// Stiffness-proportional damping times, s: in plane and bending.
const IN_PLANE_DAMPING: f32 = 1.5e-3;
const BENDING_DAMPING: f32 = 4e-3;
/// Contact stiffness per area, N/m³.
const CONTACT_STIFFNESS: f32 = 1.5e6;
/// Longest displacement of a vertex in one step, m.
const LONGEST_STEP: f32 = 0.08;
/// Share of an edge that vertices may move before near pairs are searched again.
const SLACK: f32 = 0.2;
/// Distance kept between layers beyond their thickness, m.
const LAYER_GAP: f32 = 1e-3;
/// At rest when 99.5 % of the vertices and the root mean square stay below these, m/s, for so many steps: single
/// vertices that snap from one wrinkle to another keep no drape from resting.
const REST_MOST: f32 = 0.010;
const REST_MEAN: f32 = 2.5e-3;
const REST_STEPS: u32 = 30;
/// Steps over which net movement is measured, and free steps after which cloth that only buzzes in place, such as
/// where a seam is held open by cloth caught in it, counts as resting.
const WINDOW: u32 = 60;
const PATIENCE: u32 = 480;
/// Seconds after which gravity sets in although seams are still open.
const CLOSING_LIMIT: f32 = 5.0;
/// Steps between two attempts to fuse closed pairs.
const FUSE_EVERY: u64 = 8;

/// What the drape is doing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Phase {
    /// Seams pull together, gravity is off.
    Closing,
    /// Cloth falls and settles.
    Falling,
    AtRest,
}

/// Figures of one step.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct StepReport {
    /// Simulated seconds since the start.
    pub time: f64,
    pub phase: Phase,
    /// m/s.
    pub fastest: f32,
    pub mean_speed: f32,
    pub solver_iterations: usize,
    /// Vertices whose way the guard shortened.
    pub held_back: usize,
    pub open_pairs: usize,
}

/// The simulation of one scene.
pub struct Drape {
    pub(crate) scene: Scene,
    settings: Settings,
    elements: Vec<Element>,
    pub(crate) x: Vec<Vec3A>,
    pub(crate) v: Vec<Vec3A>,
    pub(crate) mass: Vec<f32>,
    /// The vertex that stands for this one since seams fused them.
    pub(crate) root: Vec<u32>,
    /// The vertex that will stand for this one when all seams are closed.
    group: Vec<u32>,
    seams: Seams,
    pattern: Pattern,
    blocks: Vec<Mat3A>,
    right: Vec<Vec3A>,
    /// Air drag of every vertex, N s/m.
    drag: Vec<Mat3A>,
    move_by: Vec<Vec3A>,
    stretched: Vec<Stretched>,
    solver: Solver,
    neighbourhood: Neighbourhood,
    slack: f32,
    /// Vertices and edge middles that meet the body: vertices, offset, stiffness, friction.
    samples: Vec<([u32; 2], f32, f32, f32)>,
    pub(crate) pinned: Vec<bool>,
    /// Pinned, or standing for nothing because it is fused with another.
    pub(crate) held: Vec<bool>,
    excused: Vec<bool>,
    offset: Vec<f32>,
    layer_gap: f32,
    layer_stiffness: f32,
    layer_friction: f32,
    seam_stiffness: f32,
    phase: Phase,
    steps: u64,
    free_steps: u32,
    quiet_steps: u32,
    /// Positions at the start of the present window.
    before: Vec<Vec3A>,
    pub(crate) grab: Option<Grab>,
}

impl Drape {
    /// Prepares the scene; refuses scenes that cannot be simulated.
    pub fn new(scene: Scene) -> Result<Self, SceneFault> {
        scene.check()?;
        let n = scene.positions.len();
        let elements = membrane::elements(&scene);
        let group = union(n, scene.pairs.iter().map(|p| (p.a, p.b)));
        let x: Vec<Vec3A> = scene.positions.iter().map(|p| Vec3A::from_array(*p)).collect();
        let mut pinned = vec![false; n];
        scene.pins.iter().for_each(|&p| pinned[p as usize] = true);
        let average = |value: &dyn Fn(&crate::Fabric) -> f32| {
            scene.panels.iter().map(|p| value(&p.fabric) * p.count as f32).sum::<f32>() / scene.triangles.len() as f32
        };
        let area = elements.iter().map(|e| e.area).sum::<f32>() / elements.len() as f32;
        let edge = (area * 2.3).sqrt();
        let layer_gap = (average(&|f| f.thickness) + LAYER_GAP).min(0.25 * edge);
        let searcher = Searcher::new(scene.triangles.clone(), group.clone(), &x);
        let mut drape = Self {
            settings: scene.settings,
            layer_gap,
            slack: SLACK * edge,
            layer_stiffness: CONTACT_STIFFNESS * area,
            layer_friction: average(&|f| f.friction),
            seam_stiffness: 0.05 * average(&|f| f.stretch[0]),
            seams: Seams::new(&scene.pairs),
            neighbourhood: Neighbourhood::new(searcher, layer_gap, SLACK * edge),
            v: vec![Vec3A::ZERO; n],
            mass: vec![0.0; n],
            root: (0..n as u32).collect(),
            pattern: Pattern::default(),
            blocks: Vec::new(),
            right: vec![Vec3A::ZERO; n],
            drag: vec![Mat3A::ZERO; n],
            move_by: vec![Vec3A::ZERO; n],
            stretched: vec![Stretched::default(); elements.len()],
            solver: Solver::default(),
            samples: Vec::new(),
            held: Vec::new(),
            excused: vec![false; n],
            offset: vec![0.0; n],
            phase: if scene.pairs.is_empty() { Phase::Falling } else { Phase::Closing },
            steps: 0,
            free_steps: 0,
            quiet_steps: 0,
            before: x.clone(),
            grab: None,
            scene,
            elements,
            x,
            group,
            pinned,
        };
        drape.connect();
        drape.solver.coarse = drape.coarse();
        drape.fuse();
        Ok(drape)
    }

    pub fn scene(&self) -> &Scene {
        &self.scene
    }
    pub fn phase(&self) -> Phase {
        self.phase
    }
    /// Simulated seconds.
    pub fn time(&self) -> f64 {
        self.steps as f64 * f64::from(self.settings.time_step)
    }
    /// The present figures without taking a step.
    pub fn figures(&self) -> StepReport {
        self.report(0, 0)
    }
    /// Takes the present shape as resting, as when a finished drape is opened again.
    pub fn rest(&mut self) {
        self.v.fill(Vec3A::ZERO);
        self.phase = Phase::AtRest;
    }
    /// Positions of all vertices in m; fused vertices coincide.
    pub fn positions(&self) -> Vec<[f32; 3]> {
        self.x.iter().map(Vec3A::to_array).collect()
    }
    /// For every vertex the one it is fused with (itself when it is not).
    pub fn fused_with(&self) -> &[u32] {
        &self.root
    }
    /// Widest gap per seam, m.
    pub fn seam_gaps(&self, seams: usize) -> Vec<f32> {
        self.seams.gaps(&self.x, seams)
    }
    /// Largest principal stretch minus one per triangle.
    pub fn strain(&self) -> Vec<f32> {
        let flat = &self.scene.flat;
        self.scene
            .triangles
            .iter()
            .map(|t| crate::triangle_stretch(t.map(|v| flat[v as usize]), t.map(|v| self.x[v as usize].to_array())))
            .collect()
    }

    /// Wind, weight and calm from now on.
    pub fn set_conditions(&mut self, conditions: Conditions) {
        let conditions = conditions.within_limits();
        // cloth at rest stays so when nothing changes
        if conditions != self.settings.conditions {
            self.settings.conditions = conditions;
            self.wake();
        }
    }

    pub(crate) fn wake(&mut self) {
        self.quiet_steps = 0;
        self.free_steps = 0;
        if self.phase == Phase::AtRest {
            self.phase = Phase::Falling;
        }
    }

    /// The coarse space over the cloth as it will be when all seams are closed.
    fn coarse(&self) -> Coarse {
        let mut edges = Vec::with_capacity(3 * self.scene.triangles.len());
        for t in &self.scene.triangles {
            for k in 0..3 {
                let (a, b) = (t[k] as usize, t[(k + 1) % 3] as usize);
                let length = Vec2::from(self.scene.flat[a]).distance(Vec2::from(self.scene.flat[b]));
                edges.push((self.group[a], self.group[b], length));
            }
        }
        Coarse::new(&self.group, &edges)
    }

    /// Rebuilds everything that depends on which vertices are fused.
    fn connect(&mut self) {
        let root = &self.root;
        let mapped: Vec<[u32; 3]> = self.scene.triangles.iter().map(|t| t.map(|v| root[v as usize])).collect();
        let (mut mass, mut area) = (vec![0.0f32; self.x.len()], vec![0.0f32; self.x.len()]);
        let mut friction = vec![0.0f32; self.x.len()];
        self.offset.fill(0.0);
        for panel in &self.scene.panels {
            for t in panel.first..panel.first + panel.count {
                self.elements[t].vertices = mapped[t];
                for v in mapped[t].map(|v| v as usize) {
                    mass[v] += self.elements[t].area * panel.fabric.areal_density / 3.0;
                    area[v] += self.elements[t].area / 3.0;
                    friction[v] = panel.fabric.friction;
                    self.offset[v] = self.offset[v].max(self.settings.skin_offset + 0.5 * panel.fabric.thickness);
                }
            }
        }
        let edges = topology::edges(&mapped);
        self.samples.clear();
        for v in (0..self.x.len()).filter(|&v| mass[v] > 0.0) {
            self.samples.push(([v as u32; 2], self.offset[v], CONTACT_STIFFNESS * area[v], friction[v]));
        }
        for &(t, k) in &edges.all {
            let (a, b) = (mapped[t as usize][k as usize] as usize, mapped[t as usize][(k as usize + 1) % 3] as usize);
            let offset = 0.5 * (self.offset[a] + self.offset[b]);
            let stiffness = 0.25 * CONTACT_STIFFNESS * (area[a] + area[b]);
            self.samples.push(([a as u32, b as u32], offset, stiffness, 0.5 * (friction[a] + friction[b])));
        }
        self.held = mass.iter().zip(&self.pinned).map(|(m, p)| *m <= 0.0 || *p).collect();
        self.mass = mass;
        let terms = bending::terms(&self.scene, &edges.hinges, &self.elements);
        self.pattern = Pattern::new(self.x.len(), &mapped, &terms);
        self.blocks.resize(self.pattern.column.len(), Mat3A::ZERO);
        let searcher = Searcher::new(mapped, self.group.clone(), &self.x);
        self.neighbourhood = Neighbourhood::new(searcher, self.layer_gap, self.slack);
        self.solver.coarse.age = u32::MAX;
    }

    /// Advances one time step. At rest nothing moves and the last figures are returned.
    pub fn step(&mut self) -> StepReport {
        if self.phase == Phase::AtRest {
            return self.report(0, 0);
        }
        let h = self.settings.time_step;
        self.assemble();
        let links = self.links();
        for link in &links {
            let f = link.force(link.target);
            for k in 0..4 {
                self.right[link.vertices[k] as usize] += f * link.weights[k];
            }
        }
        for i in 0..self.x.len() {
            self.move_by[i] = if self.held[i] { Vec3A::ZERO } else { self.v[i] * h };
        }
        // kinetic energy of the whole cloth at a tenth of a millimetre per second
        let floor = self.mass.iter().map(|m| f64::from(*m)).sum::<f64>() * 1e-8;
        let bend = 1.0 + BENDING_DAMPING / h;
        let system = System { pattern: &self.pattern, blocks: &self.blocks, bend, held: &self.held, links: &links, right: &self.right };
        let iterations = self.solver.solve(&system, &mut self.move_by, 1e-2, floor, 80);
        let held_back = self.accept();
        self.steps += 1;
        if self.steps.is_multiple_of(FUSE_EVERY) {
            self.fuse();
        }
        self.advance_phase();
        self.report(iterations, held_back)
    }

    fn gravity(&self) -> Vec3A {
        if self.phase == Phase::Closing {
            Vec3A::ZERO
        } else {
            Vec3A::new(0.0, -self.settings.gravity * self.settings.conditions.gravity, 0.0)
        }
    }

    fn damping(&self) -> f32 {
        let [falling, calm] = self.settings.damping;
        let free = self.free_steps as f32 * self.settings.time_step;
        match self.phase {
            Phase::Closing => calm,
            _ => (falling + (calm - falling) * ((free - self.settings.calm_after) / 0.5).clamp(0.0, 1.0) + self.settings.conditions.calm)
                .max(0.0),
        }
    }

    /// Fills the stored blocks and the right side for the displacement of this step.
    fn assemble(&mut self) {
        let h = self.settings.time_step;
        let x = &self.x;
        self.stretched.par_chunks_mut(CHUNK).zip(self.elements.par_chunks(CHUNK)).for_each(|(out, elements)| {
            for (s, e) in out.iter_mut().zip(elements) {
                *s = e.stretched(e.vertices.map(|v| x[v as usize]));
            }
        });
        let (gravity, alpha) = (self.gravity(), self.damping());
        let (in_plane, bend) = (1.0 + IN_PLANE_DAMPING / h, 1.0 + BENDING_DAMPING / h);
        let wind = self.settings.conditions.wind_at(self.time());
        air::drag(&self.elements, &self.x, &self.v, wind, self.settings.air, &mut self.drag);
        let drag = &self.drag;
        let (pattern, elements, stretched) = (&self.pattern, &self.elements, &self.stretched);
        let (mass, v, held) = (&self.mass, &self.v, &self.held);
        let row = |i: usize, blocks: &mut [Mat3A]| -> Vec3A {
            let slots = pattern.blocks(i);
            let start = slots.start;
            if held[i] {
                blocks.fill(Mat3A::ZERO);
                blocks[0] = Mat3A::IDENTITY * 1e9;
                return Vec3A::ZERO;
            }
            let mut force = mass[i] * gravity + v[i] * (mass[i] / h) + drag[i] * wind;
            for slot in slots {
                let mut block = Mat3A::ZERO;
                for &source in pattern.sources(slot) {
                    let (t, corner) = ((source / 9) as usize, (source % 9) as usize);
                    let (e, s) = (&elements[t], &stretched[t]);
                    block += e.block(s, corner / 3, corner % 3);
                    if slot == start {
                        force -= e.gradient(s, corner / 3);
                    }
                }
                let b = pattern.bending[slot];
                // the coefficients of a row add up to nothing, so differences lose no digits
                force -= (x[pattern.column[slot] as usize] - x[i]) * b;
                blocks[slot - start] = block * in_plane + Mat3A::IDENTITY * (b * bend);
            }
            for &(j, b) in pattern.ring(i) {
                force -= (x[j as usize] - x[i]) * b;
            }
            blocks[0] += Mat3A::IDENTITY * (mass[i] * (1.0 / (h * h) + alpha / h)) + drag[i] * (1.0 / h);
            force
        };
        // rows own disjoint runs of blocks, so both can be filled by the same task
        let chunks: Vec<(usize, &mut [Vec3A], &mut [Mat3A])> = split_rows(pattern, &mut self.right, &mut self.blocks);
        chunks.into_par_iter().for_each(|(first, right, mut blocks)| {
            for (k, out) in right.iter_mut().enumerate() {
                let (own, rest) = blocks.split_at_mut(pattern.blocks(first + k).len());
                *out = row(first + k, own);
                blocks = rest;
            }
        });
    }

    fn links(&mut self) -> Vec<Link> {
        let h = self.settings.time_step;
        let fall = self.gravity() * h;
        let mut links = self.seams.links(&self.x, h, self.seam_stiffness);
        for link in &mut links {
            link.vertices = link.vertices.map(|v| self.root[v as usize]);
        }
        self.grab_links(&mut links);
        let moving = contact::Moving { positions: &self.x, velocities: &self.v, time_step: h, fall };
        if let Some(body) = &self.scene.body {
            links.extend(contact::body_links(body, &moving, &self.samples));
        }
        if self.settings.self_contact {
            let ahead: Vec<Vec3A> = self.x.iter().zip(&self.v).map(|(x, v)| *x + (*v + fall) * h).collect();
            let candidates = self.neighbourhood.pairs(&self.x, &ahead);
            links.extend(contact::cloth_links(candidates, &moving, self.layer_gap, self.layer_stiffness, self.layer_friction));
        }
        links
    }

    /// Takes the displacements as far as body and cloth allow, and sets the velocities accordingly.
    fn accept(&mut self) -> usize {
        let h = self.settings.time_step;
        let body = self.scene.body.as_ref();
        let mut to: Vec<Vec3A> = (0..self.x.len())
            .into_par_iter()
            .map(|i| {
                if self.mass[i] <= 0.0 || self.pinned[i] {
                    return self.x[i];
                }
                let p = self.x[i] + self.move_by[i].clamp_length_max(LONGEST_STEP);
                body.map_or(p, |b| {
                    let (d, n) = b.grid.distance_and_normal(Vec3::from(p));
                    let least = 0.3 * self.offset[i];
                    if d < least { p + Vec3A::from(n) * (least - d).min(LONGEST_STEP) } else { p }
                })
            })
            .collect();
        let mut held_back = 0;
        if self.settings.self_contact {
            let candidates = self.neighbourhood.pairs(&self.x, &to);
            held_back = contact::guard(candidates, &self.x, &mut to, &self.excused);
        }
        for i in 0..self.x.len() {
            self.v[i] = (to[i] - self.x[i]) / h;
            self.x[i] = to[i];
        }
        self.follow_roots();
        held_back
    }

    fn follow_roots(&mut self) {
        for i in 0..self.x.len() {
            let r = self.root[i] as usize;
            if r != i {
                self.x[i] = self.x[r];
                self.v[i] = self.v[r];
            }
        }
    }

    /// Fuses seam pairs that have come together, as far as the guard lets them meet.
    fn fuse(&mut self) {
        let ready = |k: usize, seams: &Seams, x: &[Vec3A]| {
            let p = seams.pairs[k];
            !seams.fused[k] && x[p.a as usize].distance(x[p.b as usize]) < FUSE_GAP
        };
        let close: Vec<usize> = (0..self.seams.pairs.len()).filter(|&k| ready(k, &self.seams, &self.x)).collect();
        if close.is_empty() {
            return;
        }
        let n = self.x.len();
        let cluster = union(
            n,
            (0..n as u32).map(|i| (i, self.root[i as usize])).chain(close.iter().map(|&k| (self.seams.pairs[k].a, self.seams.pairs[k].b))),
        );
        let (mut sum, mut weight) = (vec![Vec3A::ZERO; n], vec![0.0f32; n]);
        for i in (0..n).filter(|&i| self.mass[i] > 0.0) {
            let c = cluster[i] as usize;
            let m = if self.pinned[i] { 1e6 } else { self.mass[i] };
            sum[c] += self.x[i] * m;
            weight[c] += m;
        }
        let mut to = self.x.clone();
        for i in 0..n {
            let c = cluster[i] as usize;
            if weight[c] > 0.0 && (cluster[i] != i as u32 || self.root[i] == i as u32) {
                to[i] = sum[c] / weight[c];
            }
        }
        if self.settings.self_contact {
            let candidates = self.neighbourhood.pairs(&self.x, &to);
            contact::guard(candidates, &self.x, &mut to, &self.excused);
        }
        self.x = to;
        self.follow_roots();
        for k in close {
            let p = self.seams.pairs[k];
            self.seams.fused[k] = self.x[p.a as usize].distance(self.x[p.b as usize]) < 1e-5;
        }
        let fused = self.seams.pairs.iter().zip(&self.seams.fused).filter(|(_, f)| **f).map(|(p, _)| (p.a, p.b));
        self.root = union(n, fused.collect::<Vec<_>>());
        let (mut momentum, mut mass) = (vec![Vec3A::ZERO; n], vec![0.0f32; n]);
        for i in 0..n {
            let r = self.root[i] as usize;
            momentum[r] += self.v[i] * self.mass[i];
            mass[r] += self.mass[i];
            self.pinned[r] |= self.pinned[i];
        }
        for i in (0..n).filter(|&i| mass[i] > 0.0) {
            self.v[i] = momentum[i] / mass[i];
        }
        self.follow_roots();
        self.connect();
    }

    fn advance_phase(&mut self) {
        let h = self.settings.time_step;
        match self.phase {
            Phase::Closing if self.seams.all_fused() || self.time() > f64::from(CLOSING_LIMIT) => self.phase = Phase::Falling,
            Phase::Closing => self.seam_stiffness = (self.seam_stiffness * 1.01).min(2e4),
            Phase::Falling => {
                self.free_steps += 1;
                let (_, mean) = self.speeds();
                let quiet = mean < REST_MEAN && self.share_faster_than(REST_MOST) < 0.005 && self.may_rest();
                self.quiet_steps = if quiet { self.quiet_steps + 1 } else { 0 };
                let settled = self.quiet_steps >= REST_STEPS && self.free_steps as f32 * h > self.settings.calm_after;
                if settled || self.only_buzzes() {
                    self.phase = Phase::AtRest;
                    self.v.fill(Vec3A::ZERO);
                }
            }
            Phase::AtRest => {}
        }
    }

    fn may_rest(&self) -> bool {
        self.grab.is_none() && !self.settings.conditions.is_unsteady()
    }

    /// Whether the cloth, long after it began to fall, went nowhere during the window that ends now.
    fn only_buzzes(&mut self) -> bool {
        if !self.free_steps.is_multiple_of(WINDOW) {
            return false;
        }
        let span = WINDOW as f32 * self.settings.time_step;
        let moving = (0..self.x.len()).filter(|&i| self.mass[i] > 0.0);
        let (mut sum, mut far, mut count) = (0.0f64, 0u32, 0u32);
        for i in moving {
            let way = self.x[i].distance_squared(self.before[i]);
            sum += f64::from(way);
            far += u32::from(way > (REST_MOST * span).powi(2));
            count += 1;
        }
        self.before.clone_from(&self.x);
        let (mean, share) = ((sum / f64::from(count.max(1))).sqrt() as f32, f64::from(far) / f64::from(count.max(1)));
        self.free_steps >= PATIENCE && self.may_rest() && mean < REST_MEAN * span && share < 0.005
    }

    /// Fastest and root mean square speed, m/s.
    fn speeds(&self) -> (f32, f32) {
        let (mut fastest, mut sum, mut count) = (0.0f32, 0.0f64, 0.0f64);
        for i in (0..self.x.len()).filter(|&i| self.mass[i] > 0.0) {
            let s = self.v[i].length_squared();
            fastest = fastest.max(s);
            sum += f64::from(s);
            count += 1.0;
        }
        (fastest.sqrt(), (sum / count.max(1.0)).sqrt() as f32)
    }

    /// Share of the vertices that are faster than a speed.
    fn share_faster_than(&self, speed: f32) -> f64 {
        let moving = (0..self.x.len()).filter(|&i| self.mass[i] > 0.0);
        let (fast, all) = moving.fold((0u32, 0u32), |(f, n), i| (f + u32::from(self.v[i].length_squared() > speed * speed), n + 1));
        f64::from(fast) / f64::from(all.max(1))
    }

    fn report(&self, solver_iterations: usize, held_back: usize) -> StepReport {
        let (fastest, mean_speed) = self.speeds();
        let open_pairs = self.seams.fused.iter().filter(|f| !**f).count();
        StepReport { time: self.time(), phase: self.phase, fastest, mean_speed, solver_iterations, held_back, open_pairs }
    }
}

/// Cuts the right side and the blocks into row chunks with the index of their first row.
fn split_rows<'a>(
    pattern: &Pattern,
    mut right: &'a mut [Vec3A],
    mut blocks: &'a mut [Mat3A],
) -> Vec<(usize, &'a mut [Vec3A], &'a mut [Mat3A])> {
    let mut chunks = Vec::with_capacity(right.len() / CHUNK + 1);
    let mut first = 0;
    while !right.is_empty() {
        let rows = right.len().min(CHUNK);
        let count = (pattern.row[first + rows] - pattern.row[first]) as usize;
        let (r, rest_r) = right.split_at_mut(rows);
        let (b, rest_b) = blocks.split_at_mut(count);
        chunks.push((first, r, b));
        (right, blocks) = (rest_r, rest_b);
        first += rows;
    }
    chunks
}

/// Smallest member of each vertex's class.
fn union(count: usize, pairs: impl IntoIterator<Item = (u32, u32)>) -> Vec<u32> {
    let mut parent: Vec<u32> = (0..count as u32).collect();
    fn root(parent: &mut [u32], mut i: u32) -> u32 {
        while parent[i as usize] != i {
            parent[i as usize] = parent[parent[i as usize] as usize];
            i = parent[i as usize];
        }
        i
    }
    for (a, b) in pairs {
        let (a, b) = (root(&mut parent, a), root(&mut parent, b));
        parent[a.max(b) as usize] = a.min(b);
    }
    (0..count as u32).map(|i| root(&mut parent, i)).collect()
}
