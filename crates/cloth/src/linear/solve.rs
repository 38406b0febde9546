//! Conjugate gradients for one step, with an additive preconditioner: block-Jacobi plus the coarse space.

use crate::elements::fold::FoldSpring;
use crate::linear::coarse::Coarse;
use crate::linear::link::Link;
use crate::linear::matrix::{CHUNK, Pattern, dot, multiply};
use crate::stepper::stage::{Stage, Watch};
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
    /// The coarse space that speeds it up.
    pub coarse: Coarse,
    nodes: Vec<Vec3A>,
    /// The residual as the nodes of the coarse space see it, by chunks.
    gathered: Vec<Vec3A>,
}

/// A chunk of the displacements, the residual and its conditioned form, of direction, image and inverse, and of what is held.
type Chunk<'a> = ((Moved<'a>, ((&'a [Vec3A], &'a [Vec3A]), &'a [Mat3A])), &'a [bool]);
type Moved<'a> = ((&'a mut [Vec3A], &'a mut [Vec3A]), &'a mut [Vec3A]);

/// The linear system of one step: stored blocks plus links.
pub(crate) struct System<'a> {
    /// Where blocks are.
    pub pattern: &'a Pattern,
    /// Stored blocks by slot of the pattern.
    pub blocks: &'a [Mat3A],
    /// Factor of the ring's bending coefficients.
    pub bend: f32,
    /// Rows of vertices that do not move.
    pub held: &'a [bool],
    /// Added without being stored.
    pub links: &'a [Link],
    /// Added without being stored.
    pub folds: &'a [FoldSpring],
    /// Right-hand side, N.
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
        product(system, x, &mut self.image, &mut self.sums);
        self.residual.copy_from_slice(system.right);
        self.direction.fill(Vec3A::ZERO);
        let mut rz = self.advance(x, 1.0, system.held) + self.correct();
        self.turn(0.0, system.held);
        if self.scale <= 0.0 {
            self.scale = rz;
        }
        let tolerance = tolerance * self.coarse.tolerance();
        let goal = (self.scale * tolerance * tolerance).max(floor);
        for iteration in 0..limit {
            if rz <= goal {
                return iteration;
            }
            let curvature = product(system, &self.direction, &mut self.image, &mut self.sums);
            if curvature <= 0.0 {
                return iteration;
            }
            let step = (rz / curvature) as f32;
            let next = self.advance(x, step, system.held) + self.correct();
            let ratio = (next / rz) as f32;
            rz = next;
            self.turn(ratio, system.held);
        }
        limit
    }

    /// The coarse correction of the residual; returns its share of r · z.
    fn correct(&mut self) -> f64 {
        if self.coarse.is_used() { self.coarse.correct(&self.gathered, &mut self.nodes) } else { 0.0 }
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

    /// Goes `step` along the direction and gathers the residual for the coarse space; returns the new r · z of
    /// block-Jacobi, summed in a fixed order.
    fn advance(&mut self, x: &mut [Vec3A], step: f32, held: &[bool]) -> f64 {
        let coarse = &self.coarse;
        coarse.room(x.len(), &mut self.gathered);
        let moved = x.par_chunks_mut(CHUNK).zip(self.residual.par_chunks_mut(CHUNK)).zip(self.conditioned.par_chunks_mut(CHUNK));
        let given = self.direction.par_chunks(CHUNK).zip(self.image.par_chunks(CHUNK)).zip(self.inverse.par_chunks(CHUNK));
        let sums = self.gathered.par_chunks_mut(coarse.sums().max(1));
        let chunks = moved.zip(given).zip(held.par_chunks(CHUNK)).enumerate();
        let go = |(chunk, ((((x, r), z), ((d, a), inverse)), held)): (usize, Chunk), sums: &mut [Vec3A]| {
            sums.fill(Vec3A::ZERO);
            for i in 0..x.len() {
                x[i] += d[i] * step;
                r[i] -= a[i] * step;
                z[i] = inverse[i] * r[i];
                if !sums.is_empty() && !held[i] {
                    coarse.gather(chunk * CHUNK + i, r[i], sums);
                }
            }
            dot(r, z)
        };
        if coarse.is_used() {
            chunks.zip(sums).map(|(chunk, sums)| go(chunk, sums)).collect_into_vec(&mut self.sums);
        } else {
            chunks.map(|chunk| go(chunk, &mut [])).collect_into_vec(&mut self.sums);
        }
        self.sums.iter().sum()
    }

    fn precondition(&mut self, system: &System) {
        if self.scale <= 0.0 && self.coarse.is_due() {
            self.coarse.refresh(system.pattern, system.blocks, system.bend, system.held, system.links);
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

/// y = A x; returns x · y.
fn product(system: &System, x: &[Vec3A], y: &mut [Vec3A], sums: &mut Vec<f64>) -> f64 {
    multiply(system.pattern, system.blocks, system.bend, system.held, x, y, sums);
    let joined: f64 = system.links.iter().map(|link| link.multiply_into(x, y)).sum();
    let folded: f64 = system.folds.iter().map(|fold| fold.multiply_into(x, y)).sum();
    sums.iter().sum::<f64>() + joined + folded
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A sheet of squares, each cut in two, as springs between neighbours with a little mass, pulled smoothly.
    struct Sheet {
        side: usize,
        pattern: Pattern,
        blocks: Vec<Mat3A>,
        right: Vec<Vec3A>,
        edges: Vec<(u32, u32, f32)>,
    }

    fn sheet(side: usize) -> Sheet {
        let id = |i: usize, j: usize| (j * side + i) as u32;
        let cells = (0..side - 1).flat_map(|j| (0..side - 1).map(move |i| (i, j)));
        let halves = |(i, j)| [[id(i, j), id(i + 1, j), id(i, j + 1)], [id(i + 1, j), id(i + 1, j + 1), id(i, j + 1)]];
        let triangles: Vec<[u32; 3]> = cells.flat_map(halves).collect();
        let pattern = Pattern::new(side * side, &triangles, &Vec::new());
        let mut blocks = vec![Mat3A::ZERO; pattern.column.len()];
        let mut edges = Vec::new();
        for i in 0..side * side {
            let slots = pattern.blocks(i);
            let neighbours = slots.len() as f32 - 1.0;
            for slot in slots {
                let j = pattern.column[slot] as usize;
                blocks[slot] = if i == j { Mat3A::IDENTITY * (neighbours + 1e-3) } else { -Mat3A::IDENTITY };
                if j > i {
                    edges.push((i as u32, j as u32, 0.01));
                }
            }
        }
        let right = (0..side * side).map(|i| Vec3A::new((i as f32 * 0.01).sin(), 1.0, (i % side) as f32 / side as f32)).collect();
        Sheet { side, pattern, blocks, right, edges }
    }

    impl Sheet {
        /// The displacements, and the iterations they took.
        fn solve(&self, coarse: Coarse, links: &[Link]) -> (Vec<Vec3A>, usize) {
            let count = self.side * self.side;
            let (held, mut x) = (vec![false; count], vec![Vec3A::ZERO; count]);
            let mut solver = Solver { coarse, ..Solver::default() };
            let system =
                System { pattern: &self.pattern, blocks: &self.blocks, bend: 0.0, held: &held, links, folds: &[], right: &self.right };
            let iterations = solver.solve(&system, &mut x, 1e-5, 0.0, 2000, &mut |_| {});
            (x, iterations)
        }
    }

    #[test]
    fn each_level_takes_fewer_iterations_to_the_same_displacements() {
        let sheet = sheet(60);
        let group: Vec<u32> = (0..3600).collect();
        // two far places are joined, as where layers touch
        let link = Link::round([0, 0, 3599, 3599], [1.0, 0.0, -1.0, 0.0], 5.0, Vec3A::ZERO);
        for links in [&[][..], &[link][..]] {
            let (exact, without) = sheet.solve(Coarse::default(), links);
            let (two, with_two) = sheet.solve(Coarse::with_levels(&group, &sheet.edges, usize::MAX), links);
            let (three, with_three) = sheet.solve(Coarse::with_levels(&group, &sheet.edges, 0), links);
            let largest = exact.iter().map(|x| x.length()).fold(0.0, f32::max);
            let apart = |other: &[Vec3A]| exact.iter().zip(other).map(|(a, b)| a.distance(*b)).fold(0.0, f32::max) / largest;
            assert!(apart(&two) < 1e-3 && apart(&three) < 1e-3, "{} {}", apart(&two), apart(&three));
            assert!(with_two * 2 < without && with_three < with_two, "{without} {with_two} {with_three}");
        }
    }
}
