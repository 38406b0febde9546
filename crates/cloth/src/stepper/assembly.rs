//! Forces and matrix of one step, gathered row by row from triangles and bending coefficients.

use crate::elements::air;
use crate::linear::matrix::{CHUNK, Pattern};
use crate::stepper::drape::Drape;
use glam::{Mat3A, Vec3A};
use rayon::prelude::*;

/// Stiffness-proportional damping times, s: in plane and bending.
const IN_PLANE_DAMPING: f32 = 1.5e-3;
pub(crate) const BENDING_DAMPING: f32 = 4e-3;

/// Diagonal of a row that is held, N/m.
const HELD: f32 = 1e9;

/// What every row is made of.
struct Step {
    /// Time step, s.
    h: f32,
    gravity: Vec3A,
    wind: Vec3A,
    /// Mass-proportional damping, 1/s.
    alpha: f32,
    /// Factors of stiffness for damping in plane and in bending.
    in_plane: f32,
    bend: f32,
}

impl Drape {
    /// Fills the stored blocks and the right side for the displacement of this step.
    pub(crate) fn assemble(&mut self) {
        let h = self.settings.time_step;
        let step = Step {
            h,
            gravity: self.gravity(),
            wind: self.settings.conditions.wind_at(self.time()),
            alpha: self.damping(),
            in_plane: 1.0 + IN_PLANE_DAMPING / h,
            bend: 1.0 + BENDING_DAMPING / h,
        };
        let (x, v, air) = (&self.state.x, &self.state.v, self.settings.air);
        let out = self.equations.stretched.par_chunks_mut(CHUNK).zip(self.equations.drag.par_chunks_mut(CHUNK));
        out.zip(self.model.elements.par_chunks(CHUNK)).for_each(|((stretched, drag), elements)| {
            for ((s, d), e) in stretched.iter_mut().zip(drag).zip(elements) {
                *s = e.stretched(e.vertices.map(|v| x[v as usize]));
                *d = air::drag(e, x, v, step.wind, air);
            }
        });
        let (mut right, mut blocks) = (std::mem::take(&mut self.equations.right), std::mem::take(&mut self.equations.blocks));
        let this: &Self = self;
        // rows own disjoint runs of blocks, so both can be filled by the same task
        split_rows(&this.model.pattern, &mut right, &mut blocks).into_par_iter().for_each(|(first, right, mut blocks)| {
            for (k, out) in right.iter_mut().enumerate() {
                let (own, rest) = blocks.split_at_mut(this.model.pattern.blocks(first + k).len());
                *out = this.fill_row(first + k, &step, own);
                blocks = rest;
            }
        });
        (self.equations.right, self.equations.blocks) = (right, blocks);
    }

    /// Fills the stored blocks of one row and returns its right side.
    fn fill_row(&self, i: usize, step: &Step, blocks: &mut [Mat3A]) -> Vec3A {
        let (pattern, x) = (&self.model.pattern, &self.state.x);
        if self.constraints.held[i] {
            blocks.fill(Mat3A::ZERO);
            blocks[0] = Mat3A::IDENTITY * HELD;
            return Vec3A::ZERO;
        }
        let slots = pattern.blocks(i);
        let start = slots.start;
        // still drapes take the plain steps of implicit Euler, to the bit
        let (push, factor) = if self.state.swing.is_on() {
            let inertia = self.state.swing.inertia(i, self.state.v[i], step.h);
            (inertia.ahead * (inertia.factor * self.model.mass[i] / (step.h * step.h)), inertia.factor)
        } else {
            (self.state.v[i] * (self.model.mass[i] / step.h), 1.0)
        };
        // the diagonal block has every triangle at this vertex, with each of its corners there
        let corners = pattern.sources(start).iter().filter(|s| (*s % 9) / 3 == *s % 3);
        let drag = corners.fold(Mat3A::ZERO, |sum, source| sum + self.equations.drag[(source / 9) as usize]);
        let mut force = self.model.mass[i] * step.gravity + push + drag * step.wind;
        for slot in slots {
            let mut block = Mat3A::ZERO;
            for &source in pattern.sources(slot) {
                let (t, corner) = ((source / 9) as usize, (source % 9) as usize);
                let (e, s) = (&self.model.elements[t], &self.equations.stretched[t]);
                block += e.block(s, corner / 3, corner % 3);
                if slot == start {
                    force -= e.gradient(s, corner / 3);
                }
            }
            let b = pattern.bending[slot];
            // the coefficients of a row add up to nothing, so differences lose no digits
            force -= (x[pattern.column[slot] as usize] - x[i]) * b;
            blocks[slot - start] = block * step.in_plane + Mat3A::IDENTITY * (b * step.bend);
        }
        for &(j, b) in pattern.ring(i) {
            force -= (x[j as usize] - x[i]) * b;
        }
        blocks[0] += Mat3A::IDENTITY * (self.model.mass[i] * (factor / step.h + step.alpha) / step.h) + drag * (1.0 / step.h);
        force
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
