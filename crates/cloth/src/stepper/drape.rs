//! A running drape, and what others may ask of it. What it is made of stands in `parts`, how it moves stands in `step`, how seams fuse in
//! `connect`, when it is at rest in `rest`, what holds it from outside in `kinematic`.

use crate::elements::air::Conditions;
use crate::scene::{Scene, SceneFault, SeamPair, Settings};
use crate::sewing::seams::Seams;
use crate::stepper::parts::{Constraints, Equations, Meeting, Model, Phase, RestWatch, State};
use glam::Vec3A;

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
    pub(crate) state: State,
    pub(crate) model: Model,
    pub(crate) constraints: Constraints,
    pub(crate) equations: Equations,
    pub(crate) meeting: Meeting,
    pub(crate) rest: RestWatch,
    /// Acceleration of the frame in which positions are told, m/s².
    pub(crate) frame: Vec3A,
    /// Cloth is kept out of the body more closely, at a price.
    pub(crate) careful: bool,
}

impl Drape {
    /// Prepares the scene; refuses scenes that cannot be simulated.
    pub fn new(scene: Scene) -> Result<Self, SceneFault> {
        scene.check()?;
        let seams = Seams::new(&scene);
        let (model, meeting) = Model::new(&scene, seams.groups(scene.positions.len()));
        let state = State::new(&scene);
        let mut drape = Self {
            settings: scene.settings,
            constraints: Constraints::new(&scene, seams, &state.x),
            equations: Equations::new(state.x.len(), model.elements.len()),
            rest: RestWatch { quiet_steps: 0, before: state.x.clone() },
            frame: Vec3A::ZERO,
            careful: false,
            state,
            model,
            meeting,
            scene,
        };
        drape.connect();
        drape.equations.solver.coarse = drape.coarse();
        drape.fuse();
        Ok(drape)
    }

    pub fn scene(&self) -> &Scene {
        &self.scene
    }
    pub fn phase(&self) -> Phase {
        self.state.phase
    }
    /// Simulated seconds.
    pub fn time(&self) -> f64 {
        self.state.steps as f64 * f64::from(self.settings.time_step)
    }
    /// The present figures without taking a step.
    pub fn statistics(&self) -> StepReport {
        self.report(0, 0)
    }
    /// Takes the present shape as resting, as when a finished drape is opened again.
    pub fn rest(&mut self) {
        self.state.v.fill(Vec3A::ZERO);
        self.state.phase = Phase::AtRest;
    }
    /// Positions of all vertices in m; fused vertices coincide.
    pub fn positions(&self) -> Vec<[f32; 3]> {
        self.state.x.iter().map(Vec3A::to_array).collect()
    }
    /// For every vertex the one it is fused with (itself when it is not).
    pub fn fused_with(&self) -> &[u32] {
        &self.state.root
    }
    /// Widest gap per seam, m.
    pub fn seam_gaps(&self, seams: usize) -> Vec<f32> {
        let mut gaps = self.constraints.seams.gaps(&self.state.x, seams);
        self.constraints.apart.widen(&mut gaps, &self.state.x, &self.state.root, self.model.layer_gap);
        gaps
    }
    /// The seam pair farthest apart, with its gap in m; none when all are fused.
    pub fn widest_gap(&self) -> Option<(SeamPair, f32)> {
        self.constraints
            .seams
            .open_pairs()
            .map(|(_, p)| (p, self.state.x[p.a as usize].distance(self.state.x[p.b as usize])))
            .max_by(|a, b| a.1.total_cmp(&b.1))
    }
    /// A triangle that crosses other cloth, and where, m.
    pub fn tangle(&self) -> Option<(u32, [f32; 3])> {
        self.meeting.tangles.first().map(|t| (t.owners[0], self.state.x[t.edge[0] as usize].to_array()))
    }
    /// A vertex for which the last step had no finite result; that step was left out.
    pub fn failed_at(&self) -> Option<usize> {
        self.state.failed
    }
    /// Largest principal stretch minus one per triangle, against the cloth as it was cut: a gathered edge takes up less room
    /// than it has, and is no longer than cut.
    pub fn strain(&self) -> Vec<f32> {
        let stretch = |t: &[u32; 3]| {
            let cut = t.map(|v| self.scene.flat[v as usize]);
            crate::triangle_stretch(cut, t.map(|v| self.state.x[v as usize].to_array()))
        };
        self.scene.triangles.iter().map(stretch).collect()
    }

    /// How fast the cloth that lies on body and things slips along them, m/s: the root mean square.
    pub fn slip(&self) -> f32 {
        let Some(body) = &self.scene.body else { return 0.0 };
        let (mut sum, mut count) = (0.0f64, 0u32);
        for &(v, offset, ..) in self.model.samples.iter().take_while(|(v, ..)| v[0] == v[1]) {
            let at = self.state.x[v[0] as usize].into();
            if body.height(at, 2.0 * offset) < 1.5 * offset {
                let (_, normal) = body.distance_and_normal(at);
                let past = self.state.v[v[0] as usize] - body.velocity_at(at);
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
        self.constraints.seams.all_fused()
            && (self.constraints.apart.is_empty() || self.constraints.apart.is_drawn(&self.state.x, &self.state.root, self.model.layer_gap))
    }

    pub(crate) fn wake(&mut self) {
        self.rest.quiet_steps = 0;
        self.state.free_steps = 0;
        if self.state.phase == Phase::AtRest {
            self.state.phase = Phase::Falling;
        }
    }

    pub(crate) fn report(&self, solver_iterations: usize, held_back: usize) -> StepReport {
        let (fastest, mean_speed) = self.speeds();
        let open_pairs = self.constraints.seams.open_pairs().count();
        StepReport {
            time: self.time(),
            phase: self.state.phase,
            fastest,
            mean_speed,
            solver_iterations,
            held_back,
            open_pairs,
            tangles: self.meeting.tangles.len(),
        }
    }
}
