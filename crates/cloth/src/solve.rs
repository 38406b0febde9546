//! Conjugate gradients for one step, with a two-level preconditioner: block-Jacobi plus the coarse space.

use crate::coarse::{Coarse, KEEP};
use crate::fold::FoldSpring;
use crate::link::Link;
use crate::matrix::{CHUNK, Pattern, dot, multiply};
use crate::stage::{Stage, Watch};
use glam::{Mat3A, Vec3A};
use rayon::prelude::*;

/// Work vectors, kept from step to step.
#[derive(Default)]
pub(crate) struct Solver {
    residual: Vec<Vec3A>,
    direction: Vec<Vec3A>,
    image: Vec<Vec3A>,
    conditioned: Vec<Vec3A>,
    inverse: Vec<Mat3A>,
    sums: Vec<f64>,
    /// r · z at the start of the step's first solve; 0 before it.
    scale: f64,
    pub coarse: Coarse,
    nodes: Vec<Vec3A>,
}

/// The linear system of one step: stored blocks plus links.
pub(crate) struct System<'a> {
    pub pattern: &'a Pattern,
    pub blocks: &'a [Mat3A],
    /// Factor of the ring's bending coefficients.
    pub bend: f32,
    /// Rows of vertices that do not move.
    pub held: &'a [bool],
    pub links: &'a [Link],
    pub folds: &'a [FoldSpring],
    pub right: &'a [Vec3A],
}

impl Solver {
    /// The next solve is the first of a step.
    pub fn begin(&mut self) {
        self.scale = 0.0;
    }

    /// Improves `x` until the residual has fallen to `tolerance` of that at the start of the step, or its energy below
    /// `floor` (J); returns the iterations used.
    pub fn solve(&mut self, system: &System, x: &mut [Vec3A], tolerance: f64, floor: f64, limit: usize, watch: Watch) -> usize {
        let n = x.len();
        for v in [&mut self.residual, &mut self.direction, &mut self.image, &mut self.conditioned] {
            v.resize(n, Vec3A::ZERO);
        }
        watch(Stage::Coarse);
        self.precondition(system);
        watch(Stage::Solve);
        product(system, x, &mut self.image);
        for i in 0..n {
            self.residual[i] = system.right[i] - self.image[i];
            self.conditioned[i] = self.inverse[i] * self.residual[i];
        }
        let mut rz = dot(&self.residual, &self.conditioned) + self.correct();
        self.direction.fill(Vec3A::ZERO);
        self.turn(0.0, system.held);
        if self.scale <= 0.0 {
            self.scale = rz;
        }
        let goal = (self.scale * tolerance * tolerance).max(floor);
        for iteration in 0..limit {
            if rz <= goal {
                return iteration;
            }
            product(system, &self.direction, &mut self.image);
            let curvature = dot(&self.direction, &self.image);
            if curvature <= 0.0 {
                return iteration;
            }
            let step = (rz / curvature) as f32;
            let next = self.advance(x, step) + self.correct();
            let ratio = (next / rz) as f32;
            rz = next;
            self.turn(ratio, system.held);
        }
        limit
    }

    /// The coarse correction of the residual; returns its share of r · z.
    fn correct(&mut self) -> f64 {
        if self.coarse.is_used() { self.coarse.correct(&self.residual, &mut self.nodes) } else { 0.0 }
    }

    /// The new direction: the conditioned residual plus `ratio` of the old one.
    fn turn(&mut self, ratio: f32, held: &[bool]) {
        let (coarse, nodes) = (&self.coarse, &self.nodes);
        let given = self.conditioned.par_chunks(CHUNK).zip(held.par_chunks(CHUNK)).enumerate();
        self.direction.par_chunks_mut(CHUNK).zip(given).for_each(|(direction, (chunk, (conditioned, held)))| {
            for i in 0..direction.len() {
                let smooth = if coarse.is_used() && !held[i] { coarse.at(chunk * CHUNK + i, nodes) } else { Vec3A::ZERO };
                direction[i] = conditioned[i] + smooth + direction[i] * ratio;
            }
        });
    }

    /// Goes `step` along the direction; returns the new r · z, summed in a fixed order.
    fn advance(&mut self, x: &mut [Vec3A], step: f32) -> f64 {
        let moved = x.par_chunks_mut(CHUNK).zip(self.residual.par_chunks_mut(CHUNK)).zip(self.conditioned.par_chunks_mut(CHUNK));
        let given = self.direction.par_chunks(CHUNK).zip(self.image.par_chunks(CHUNK)).zip(self.inverse.par_chunks(CHUNK));
        moved
            .zip(given)
            .map(|(((x, r), z), ((d, a), inverse))| {
                let mut sum = 0.0;
                for i in 0..x.len() {
                    x[i] += d[i] * step;
                    r[i] -= a[i] * step;
                    z[i] = inverse[i] * r[i];
                    sum += f64::from(r[i].dot(z[i]));
                }
                sum
            })
            .collect_into_vec(&mut self.sums);
        self.sums.iter().sum()
    }

    fn precondition(&mut self, system: &System) {
        if self.scale <= 0.0 && self.coarse.is_used() {
            self.coarse.age = self.coarse.age.saturating_add(1);
            if self.coarse.age >= KEEP {
                self.coarse.refresh(system.pattern, system.blocks, system.bend, system.held, system.links);
            }
        }
        let n = system.right.len();
        self.inverse.clear();
        self.inverse.extend((0..n).map(|i| system.blocks[system.pattern.row[i] as usize]));
        for link in system.links {
            let k = link.stiffness();
            for c in 0..4 {
                let w = link.weights[c];
                self.inverse[link.vertices[c] as usize] += k * (w * w);
            }
        }
        for fold in system.folds {
            for (k, &v) in fold.vertices.iter().enumerate() {
                self.inverse[v as usize] += fold.block(k);
            }
        }
        self.inverse.par_iter_mut().with_min_len(CHUNK).for_each(|m| *m = m.inverse());
    }
}

fn product(system: &System, x: &[Vec3A], y: &mut [Vec3A]) {
    multiply(system.pattern, system.blocks, system.bend, system.held, x, y);
    for link in system.links {
        link.multiply_into(x, y);
    }
    for fold in system.folds {
        fold.multiply_into(x, y);
    }
}
