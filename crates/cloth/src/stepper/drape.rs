//! A running drape: its state, and what others may ask of it. How it moves stands in `step`, how seams fuse in
//! `connect`, when it is at rest in `rest`, what holds it in `hold`.

use crate::contact::{CONTACT_STIFFNESS, Neighbourhood, Sample, Searcher, Tangle};
use crate::elements::air::Conditions;
use crate::elements::fold::{FoldSpring, FoldedHinge};
use crate::elements::gather::Gathers;
use crate::elements::leash::Leash;
use crate::elements::membrane::{self, Element, Stretched};
use crate::elements::skin_holds::{self, Held};
use crate::elements::tapes_and_stays::{self, Level, TapeSpan};
use crate::linear::matrix::Pattern;
use crate::linear::solve::Solver;
use crate::scene::{Scene, SceneFault, SeamPair, Settings};
use crate::sewing::held_apart::HeldApart;
use crate::sewing::seams::Seams;
use crate::stepper::grab::Grab;
use crate::stepper::swing::Swing;
use glam::{Mat3A, Vec3A};
use std::collections::BTreeMap;

/// Share of an edge that vertices may move before near pairs are searched again.
const SLACK: f32 = 0.2;
/// Distance kept between layers beyond their thickness, m.
const LAYER_GAP: f32 = 1e-3;

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
    /// How far the drape has come.
    pub phase: Phase,
    /// m/s.
    pub fastest: f32,
    /// m/s.
    pub mean_speed: f32,
    /// Of conjugate gradients in this step.
    pub solver_iterations: usize,
    /// Vertices whose way the guard shortened.
    pub held_back: usize,
    /// Seam pairs that are not fused yet.
    pub open_pairs: usize,
    /// Edges of cloth that pass through cloth, when last looked at.
    pub tangles: usize,
}

/// The simulation of one scene.
pub struct Drape {
    pub(crate) scene: Scene,
    pub(crate) settings: Settings,
    pub(crate) elements: Vec<Element>,
    /// Panel of every triangle.
    pub(crate) panel_of: Vec<usize>,
    pub(crate) x: Vec<Vec3A>,
    pub(crate) v: Vec<Vec3A>,
    pub(crate) mass: Vec<f32>,
    /// The vertex that stands for this one since seams fused them.
    pub(crate) root: Vec<u32>,
    /// The vertex that will stand for this one when all seams are closed.
    pub(crate) group: Vec<u32>,
    pub(crate) seams: Seams,
    /// What is laced or lapped.
    pub(crate) apart: HeldApart,
    pub(crate) pattern: Pattern,
    pub(crate) blocks: Vec<Mat3A>,
    pub(crate) right: Vec<Vec3A>,
    /// Air drag of every triangle, N s/m.
    pub(crate) drag: Vec<Mat3A>,
    pub(crate) move_by: Vec<Vec3A>,
    pub(crate) stretched: Vec<Stretched>,
    pub(crate) solver: Solver,
    pub(crate) neighbourhood: Neighbourhood,
    /// Vertices, then edge middles, that meet the body.
    pub(crate) samples: Vec<Sample>,
    pub(crate) pinned: Vec<bool>,
    /// Of pieces that stand still as if they were body.
    pub(crate) frozen: Vec<bool>,
    /// Pinned, or standing for nothing because it is fused with another.
    pub(crate) held: Vec<bool>,
    pub(crate) collision_exempt: Vec<bool>,
    pub(crate) offset: Vec<f32>,
    pub(crate) layer_gap: f32,
    pub(crate) layer_stiffness: f32,
    pub(crate) layer_friction: f32,
    pub(crate) seam_stiffness: f32,
    /// Most force of a closing pair, N.
    pub(crate) seam_force: f32,
    pub(crate) phase: Phase,
    pub(crate) steps: u64,
    /// The step at which seams began to close.
    pub(crate) closing_since: u64,
    pub(crate) free_steps: u32,
    pub(crate) quiet_steps: u32,
    /// Positions at the start of the present window.
    pub(crate) before: Vec<Vec3A>,
    /// Where cloth crosses cloth, and whether that is to be looked at in this step.
    pub(crate) tangles: Vec<Tangle>,
    /// The step at which no cloth was last seen to cross.
    pub(crate) tangled_since: u64,
    pub(crate) look: bool,
    /// A vertex whose last step could not be computed.
    pub(crate) failed: Option<usize>,
    /// Attempts that are made to fail.
    #[cfg(test)]
    pub(crate) spoilt: u32,
    pub(crate) folds: Vec<FoldedHinge>,
    pub(crate) fold_springs: Vec<FoldSpring>,
    pub(crate) spans: Vec<TapeSpan>,
    pub(crate) levels: Vec<Level>,
    pub(crate) skin_held: Vec<Held>,
    /// What is carried, each vertex that stands for others once.
    pub(crate) leashes: Vec<Leash>,
    /// Factor of friction by vertex that stands for others; empty when it is the same everywhere.
    pub(crate) grip: Vec<f32>,
    pub(crate) gathers: Gathers,
    /// Acceleration of the frame in which positions are told, m/s².
    pub(crate) frame: Vec3A,
    /// The past of vertices, for steps that keep swing.
    pub(crate) swing: Swing,
    /// Hands that tug, by number.
    pub(crate) grabs: BTreeMap<u32, Grab>,
}

impl Drape {
    /// Prepares the scene; refuses scenes that cannot be simulated.
    pub fn new(scene: Scene) -> Result<Self, SceneFault> {
        scene.check()?;
        let n = scene.positions.len();
        let elements = membrane::elements(&scene);
        let seams = Seams::new(&scene);
        let group = seams.groups(n);
        let x: Vec<Vec3A> = scene.positions.iter().map(|p| Vec3A::from_array(*p)).collect();
        let mut pinned = vec![false; n];
        scene.pins.iter().for_each(|&p| pinned[p as usize] = true);
        let average = |value: &dyn Fn(&crate::Fabric) -> f32| {
            scene.panels.iter().map(|p| value(&p.fabric) * p.count as f32).sum::<f32>() / scene.triangles.len() as f32
        };
        let area = elements.iter().map(|e| e.area).sum::<f32>() / elements.len() as f32;
        let edge = (area * 2.3).sqrt();
        let layer_gap = (average(&|f| f.thickness) + LAYER_GAP).min(0.25 * edge);
        let searcher = Searcher::new(&scene, group.clone());
        let mut drape = Self {
            settings: scene.settings,
            layer_gap,
            layer_stiffness: CONTACT_STIFFNESS * area,
            layer_friction: average(&|f| f.friction),
            seam_stiffness: 0.05 * average(&|f| f.stretch[0]),
            // what stretches the cloth until it locks
            seam_force: average(&|f| f.stretch[0] * f.locking) * edge,
            apart: HeldApart::new(&scene.construction, &scene.pairs, &x),
            seams,
            neighbourhood: Neighbourhood::new(searcher, layer_gap, SLACK * edge),
            v: vec![Vec3A::ZERO; n],
            mass: vec![0.0; n],
            root: (0..n as u32).collect(),
            pattern: Pattern::default(),
            blocks: Vec::new(),
            right: vec![Vec3A::ZERO; n],
            drag: vec![Mat3A::ZERO; elements.len()],
            move_by: vec![Vec3A::ZERO; n],
            stretched: vec![Stretched::default(); elements.len()],
            solver: Solver::default(),
            samples: Vec::new(),
            held: Vec::new(),
            collision_exempt: vec![false; n],
            frozen: vec![false; n],
            offset: vec![0.0; n],
            phase: if scene.pairs.is_empty() && scene.construction.laps.is_empty() { Phase::Falling } else { Phase::Closing },
            steps: 0,
            closing_since: 0,
            free_steps: 0,
            quiet_steps: 0,
            before: x.clone(),
            frame: Vec3A::ZERO,
            swing: Swing::default(),
            grabs: BTreeMap::new(),
            tangles: Vec::new(),
            tangled_since: 0,
            look: true,
            failed: None,
            #[cfg(test)]
            spoilt: 0,
            panel_of: crate::elements::bending::panel_of_triangle(&scene),
            folds: Vec::new(),
            fold_springs: Vec::new(),
            spans: Vec::new(),
            levels: tapes_and_stays::levels(&scene),
            skin_held: skin_holds::held(&scene),
            leashes: Vec::new(),
            grip: Vec::new(),
            gathers: Gathers::new(&scene, &x),
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
    pub fn statistics(&self) -> StepReport {
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
        let mut gaps = self.seams.gaps(&self.x, seams);
        self.apart.widen(&mut gaps, &self.x, &self.root, self.layer_gap);
        gaps
    }
    /// The seam pair farthest apart, with its gap in m; none when all are fused.
    pub fn widest_gap(&self) -> Option<(SeamPair, f32)> {
        self.seams.open_pairs().map(|(_, p)| (p, self.x[p.a as usize].distance(self.x[p.b as usize]))).max_by(|a, b| a.1.total_cmp(&b.1))
    }
    /// A triangle that crosses other cloth, and where, m.
    pub fn tangle(&self) -> Option<(u32, [f32; 3])> {
        self.tangles.first().map(|t| (t.owners[0], self.x[t.edge[0] as usize].to_array()))
    }
    /// A vertex for which the last step had no finite result; that step was left out.
    pub fn failed_at(&self) -> Option<usize> {
        self.failed
    }
    /// Largest principal stretch minus one per triangle, against the cloth as it was cut: a gathered edge takes up less room
    /// than it has, and is no longer than cut.
    pub fn strain(&self) -> Vec<f32> {
        let stretch = |t: &[u32; 3]| {
            let cut = t.map(|v| self.scene.flat[v as usize]);
            crate::triangle_stretch(cut, t.map(|v| self.x[v as usize].to_array()))
        };
        self.scene.triangles.iter().map(stretch).collect()
    }

    /// How fast the cloth that lies on body and things slips along them, m/s: the root mean square.
    pub fn slip(&self) -> f32 {
        let Some(body) = &self.scene.body else { return 0.0 };
        let (mut sum, mut count) = (0.0f64, 0u32);
        for &(v, offset, ..) in self.samples.iter().take_while(|(v, ..)| v[0] == v[1]) {
            let at = self.x[v[0] as usize].into();
            if body.height(at, 2.0 * offset) < 1.5 * offset {
                let (_, normal) = body.distance_and_normal(at);
                let past = self.v[v[0] as usize] - body.velocity_at(at);
                sum += f64::from(past.reject_from_normalized(normal.into()).length_squared());
                count += 1;
            }
        }
        (sum / f64::from(count.max(1))).sqrt() as f32
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

    /// Whether all that is to be sewn, laced or lapped is.
    pub(crate) fn all_sewn(&self) -> bool {
        self.seams.all_fused() && (self.apart.is_empty() || self.apart.is_drawn(&self.x, &self.root, self.layer_gap))
    }

    pub(crate) fn wake(&mut self) {
        self.quiet_steps = 0;
        self.free_steps = 0;
        if self.phase == Phase::AtRest {
            self.phase = Phase::Falling;
        }
    }

    pub(crate) fn report(&self, solver_iterations: usize, held_back: usize) -> StepReport {
        let (fastest, mean_speed) = self.speeds();
        let open_pairs = self.seams.open_pairs().count();
        StepReport {
            time: self.time(),
            phase: self.phase,
            fastest,
            mean_speed,
            solver_iterations,
            held_back,
            open_pairs,
            tangles: self.tangles.len(),
        }
    }
}
