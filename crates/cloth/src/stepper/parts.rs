//! What a running drape is made of: where its cloth is, what the scene made of it, what holds it, the equations of a step, where cloth
//! is near cloth, and what is watched until it rests. The driver in `step` owns one of each.

use crate::contact::{CONTACT_STIFFNESS, Neighbourhood, Sample, Searcher, Tangle};
use crate::elements::fold::{FoldSpring, FoldedHinge};
use crate::elements::gather::Gathers;
use crate::elements::leash::Leash;
use crate::elements::membrane::{self, Element, Stretched};
use crate::elements::skin_holds::{self, Held};
use crate::elements::tapes_and_stays::{self, Level, TapeSpan};
use crate::linear::matrix::Pattern;
use crate::linear::solve::Solver;
use crate::scene::Scene;
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

/// What changes with every step.
pub(crate) struct State {
    /// m.
    pub x: Vec<Vec3A>,
    /// m/s.
    pub v: Vec<Vec3A>,
    /// The vertex that stands for this one since seams fused them.
    pub root: Vec<u32>,
    /// The past of vertices, for steps that keep swing.
    pub swing: Swing,
    pub phase: Phase,
    pub steps: u64,
    /// The step at which seams began to close.
    pub closing_since: u64,
    /// Steps of free movement.
    pub free_steps: u32,
    /// A vertex whose last step could not be computed.
    pub failed: Option<usize>,
    /// Attempts that are made to fail.
    #[cfg(test)]
    pub spoilt: u32,
}

impl State {
    pub fn new(scene: &Scene) -> Self {
        let n = scene.positions.len();
        Self {
            x: scene.positions.iter().map(|p| Vec3A::from_array(*p)).collect(),
            v: vec![Vec3A::ZERO; n],
            root: (0..n as u32).collect(),
            swing: Swing::default(),
            phase: if scene.pairs.is_empty() && scene.construction.laps.is_empty() { Phase::Falling } else { Phase::Closing },
            steps: 0,
            closing_since: 0,
            free_steps: 0,
            failed: None,
            #[cfg(test)]
            spoilt: 0,
        }
    }
}

/// What the scene makes of the cloth; parts of it change when vertices fuse.
pub(crate) struct Model {
    pub elements: Vec<Element>,
    /// Panel of every triangle.
    pub panel_of: Vec<usize>,
    /// kg by vertex that stands for others.
    pub mass: Vec<f32>,
    /// The vertex that will stand for this one when all seams are closed.
    pub group: Vec<u32>,
    pub pattern: Pattern,
    /// Vertices, then edge middles, that meet the body.
    pub samples: Vec<Sample>,
    /// Distance from the body by vertex, m.
    pub offset: Vec<f32>,
    /// Factor of friction by vertex that stands for others; empty when it is the same everywhere.
    pub grip: Vec<f32>,
    pub folds: Vec<FoldedHinge>,
    pub spans: Vec<TapeSpan>,
    pub layer_gap: f32,
    pub layer_stiffness: f32,
    pub layer_friction: f32,
    /// Most force of a closing pair, N.
    pub seam_force: f32,
}

/// The mean of a value of the fabrics over the triangles of a scene.
fn average(scene: &Scene, value: impl Fn(&crate::Fabric) -> f32) -> f32 {
    scene.panels.iter().map(|p| value(&p.fabric) * p.count as f32).sum::<f32>() / scene.triangles.len() as f32
}

impl Model {
    /// Of a scene whose vertices will be fused by these groups; and its near pairs.
    pub fn new(scene: &Scene, group: Vec<u32>) -> (Self, Meeting) {
        let n = scene.positions.len();
        let elements = membrane::elements(scene);
        let area = elements.iter().map(|e| e.area).sum::<f32>() / elements.len() as f32;
        let edge = (area * 2.3).sqrt();
        let layer_gap = (average(scene, |f| f.thickness) + LAYER_GAP).min(0.25 * edge);
        let searcher = Searcher::new(scene, group.clone());
        let model = Self {
            elements,
            panel_of: crate::elements::bending::panel_of_triangle(scene),
            mass: vec![0.0; n],
            group,
            pattern: Pattern::default(),
            samples: Vec::new(),
            offset: vec![0.0; n],
            grip: Vec::new(),
            folds: Vec::new(),
            spans: Vec::new(),
            layer_gap,
            layer_stiffness: CONTACT_STIFFNESS * area,
            layer_friction: average(scene, |f| f.friction),
            // what stretches the cloth until it locks
            seam_force: average(scene, |f| f.stretch[0] * f.locking) * edge,
        };
        let meeting = Meeting {
            neighbourhood: Neighbourhood::new(searcher, layer_gap, SLACK * edge),
            collision_exempt: vec![false; n],
            tangles: Vec::new(),
            tangled_since: 0,
            nearest: Vec::new(),
            look: true,
        };
        (model, meeting)
    }
}

/// What holds the cloth besides itself: sewing, notions, pins and hands.
pub(crate) struct Constraints {
    pub seams: Seams,
    /// Of closing seams, N/m.
    pub seam_stiffness: f32,
    /// What is laced or lapped.
    pub apart: HeldApart,
    pub gathers: Gathers,
    pub levels: Vec<Level>,
    pub skin_held: Vec<Held>,
    /// What is carried, each vertex that stands for others once.
    pub leashes: Vec<Leash>,
    /// Hands that tug, by number.
    pub grabs: BTreeMap<u32, Grab>,
    pub pinned: Vec<bool>,
    /// Of pieces that stand still as if they were body.
    pub frozen: Vec<bool>,
    /// Pinned, or standing for nothing because it is fused with another.
    pub held: Vec<bool>,
}

impl Constraints {
    pub fn new(scene: &Scene, seams: Seams, x: &[Vec3A]) -> Self {
        let mut pinned = vec![false; x.len()];
        scene.pins.iter().for_each(|&p| pinned[p as usize] = true);
        Self {
            seams,
            seam_stiffness: 0.05 * average(scene, |f| f.stretch[0]),
            apart: HeldApart::new(&scene.construction, &scene.pairs, x),
            gathers: Gathers::new(scene, x),
            levels: tapes_and_stays::levels(scene),
            skin_held: skin_holds::held(scene),
            leashes: Vec::new(),
            grabs: BTreeMap::new(),
            pinned,
            frozen: vec![false; x.len()],
            held: Vec::new(),
        }
    }
}

/// The equations of one step, kept so that no step allocates them.
pub(crate) struct Equations {
    pub blocks: Vec<Mat3A>,
    pub right: Vec<Vec3A>,
    /// Air drag of every triangle, N s/m.
    pub drag: Vec<Mat3A>,
    pub stretched: Vec<Stretched>,
    pub fold_springs: Vec<FoldSpring>,
    /// Their solution: displacements, m.
    pub move_by: Vec<Vec3A>,
    pub solver: Solver,
    /// Factor of the tolerance of a solve: 1 as a rule, less where forces are asked for rather than motion.
    pub exactness: f64,
}

impl Equations {
    pub fn new(vertices: usize, triangles: usize) -> Self {
        Self {
            blocks: Vec::new(),
            right: vec![Vec3A::ZERO; vertices],
            drag: vec![Mat3A::ZERO; triangles],
            stretched: vec![Stretched::default(); triangles],
            fold_springs: Vec::new(),
            move_by: vec![Vec3A::ZERO; vertices],
            solver: Solver::default(),
            exactness: 1.0,
        }
    }
}

/// Where cloth is near cloth, and where it crosses it.
pub(crate) struct Meeting {
    pub neighbourhood: Neighbourhood,
    pub collision_exempt: Vec<bool>,
    /// Where cloth crosses cloth, and whether that is to be looked at in this step.
    pub tangles: Vec<Tangle>,
    /// The step at which no cloth was last seen to cross.
    pub tangled_since: u64,
    pub look: bool,
    /// By vertex, the triangle of a moving skin that was the nearest when it was last looked for.
    pub nearest: Vec<u32>,
}

/// What is watched until the cloth rests.
pub(crate) struct RestWatch {
    /// Steps in which hardly anything moved.
    pub quiet_steps: u32,
    /// Positions at the start of the present window, m.
    pub before: Vec<Vec3A>,
}
