//! Symmetric block-sparse matrix (3 x 3 blocks by rows, diagonal first) and the sources each block is gathered from.

use glam::{Mat3A, Vec3A};
use rayon::prelude::*;

/// Rows handled by one task; fixed, so that results do not depend on the number of threads.
pub(crate) const CHUNK: usize = 512;

/// The pattern: full blocks between vertices that share a triangle, with the triangle corners that contribute and a
/// constant bending coefficient; and the ring of farther vertices that only bending couples, a coefficient each.
#[derive(Default)]
pub(crate) struct Pattern {
    /// Where the blocks of each row begin; one more than rows.
    pub row: Vec<u32>,
    /// Of each block, ascending within a row.
    pub column: Vec<u32>,
    /// Range of `sources` per block.
    source: Vec<u32>,
    /// Triangle * 9 + corner i * 3 + corner j.
    sources: Vec<u32>,
    /// N/m: coefficient of the identity.
    pub bending: Vec<f32>,
    ring_row: Vec<u32>,
    /// Column and coefficient (N/m).
    ring: Vec<(u32, f32)>,
}

/// Adds of bending coefficients (i, j, value).
pub(crate) type BendingTerms = Vec<(u32, u32, f32)>;

impl Pattern {
    /// From who shares a triangle or a hinge.
    pub fn new(count: usize, triangles: &[[u32; 3]], bending: &BendingTerms) -> Self {
        // neighbours of every vertex with repetitions, in one array
        let mut starts = vec![0u32; count + 1];
        triangles.iter().flatten().for_each(|v| starts[*v as usize + 1] += 2);
        (0..count).for_each(|i| starts[i + 1] += starts[i]);
        let (mut fill, mut around) = (starts.clone(), vec![0u32; starts[count] as usize]);
        for t in triangles {
            for (i, j) in [(0, 1), (1, 2), (2, 0), (1, 0), (2, 1), (0, 2)] {
                let slot = &mut fill[t[i] as usize];
                around[*slot as usize] = t[j];
                *slot += 1;
            }
        }
        let mut pattern = Self { row: Vec::with_capacity(count + 1), column: Vec::with_capacity(around.len()), ..Self::default() };
        pattern.row.push(0);
        for i in 0..count {
            let row = &mut around[starts[i] as usize..starts[i + 1] as usize];
            row.sort_unstable();
            pattern.column.push(i as u32);
            let mut last = i as u32;
            for &j in row.iter().filter(|j| **j != i as u32) {
                if j != last {
                    pattern.column.push(j);
                    last = j;
                }
            }
            pattern.row.push(pattern.column.len() as u32);
        }
        pattern.bend(count, bending);
        pattern.gather(triangles);
        pattern
    }

    /// Which corners of triangles add to each block, in the order of the triangles.
    fn gather(&mut self, triangles: &[[u32; 3]]) {
        let mut slots: Vec<u32> = Vec::with_capacity(triangles.len() * 9);
        for t in triangles {
            let of = |i: usize, j: usize| self.slot(t[i], t[j]).unwrap_or_default() as u32;
            slots.extend((0..9).map(|k| of(k / 3, k % 3)));
        }
        self.source = vec![0; self.column.len() + 1];
        slots.iter().for_each(|slot| self.source[*slot as usize + 1] += 1);
        for k in 0..self.column.len() {
            self.source[k + 1] += self.source[k];
        }
        let mut fill = self.source.clone();
        self.sources = vec![0; slots.len()];
        for (source, slot) in slots.into_iter().enumerate() {
            let place = &mut fill[slot as usize];
            self.sources[*place as usize] = source as u32;
            *place += 1;
        }
    }

    /// Sorts the bending terms into those of full blocks and those of the ring.
    fn bend(&mut self, count: usize, terms: &BendingTerms) {
        self.bending = vec![0.0; self.column.len()];
        let mut ring: Vec<Vec<(u32, f32)>> = vec![Vec::new(); count];
        for &(i, j, value) in terms {
            match self.slot(i, j) {
                Some(slot) => self.bending[slot] += value,
                None => match ring[i as usize].iter_mut().find(|(k, _)| *k == j) {
                    Some((_, sum)) => *sum += value,
                    None => ring[i as usize].push((j, value)),
                },
            }
        }
        self.ring_row = vec![0];
        for mut row in ring {
            row.sort_unstable_by_key(|(j, _)| *j);
            self.ring.extend(row);
            self.ring_row.push(self.ring.len() as u32);
        }
    }

    /// The farther vertices that bending couples to a row, with their coefficients (N/m).
    pub fn ring(&self, row: usize) -> &[(u32, f32)] {
        &self.ring[self.ring_row[row] as usize..self.ring_row[row + 1] as usize]
    }

    /// Slots of a row.
    pub fn blocks(&self, row: usize) -> std::ops::Range<usize> {
        self.row[row] as usize..self.row[row + 1] as usize
    }

    /// Where the block of two vertices that share a triangle is stored.
    pub fn slot(&self, row: u32, column: u32) -> Option<usize> {
        self.blocks(row as usize).find(|&slot| self.column[slot] == column)
    }

    /// Triangles that add to a slot.
    pub fn sources(&self, slot: usize) -> &[u32] {
        &self.sources[self.source[slot] as usize..self.source[slot + 1] as usize]
    }
}

/// y = A x: the stored blocks, and `bend` times the ring of those rows that are not held; fills `sums` with x · y by chunks.
pub(crate) fn multiply(pattern: &Pattern, blocks: &[Mat3A], bend: f32, held: &[bool], x: &[Vec3A], y: &mut [Vec3A], sums: &mut Vec<f64>) {
    let product = |row: usize| {
        let mut sum = Vec3A::ZERO;
        let slots = pattern.blocks(row);
        for (block, &j) in blocks[slots.clone()].iter().zip(&pattern.column[slots]) {
            sum += *block * x[j as usize];
        }
        if !held[row] {
            let mut far = Vec3A::ZERO;
            for &(j, b) in pattern.ring(row) {
                far += x[j as usize] * b;
            }
            sum += far * bend;
        }
        sum
    };
    let chunks = y.par_chunks_mut(CHUNK).enumerate().map(|(chunk, rows)| {
        let first = chunk * CHUNK;
        rows.iter_mut().enumerate().for_each(|(k, out)| *out = product(first + k));
        dot(&x[first..first + rows.len()], rows)
    });
    chunks.collect_into_vec(sums);
}

/// Sum of a · b in a fixed order, f64; a few products at a time in f32.
pub(crate) fn dot(a: &[Vec3A], b: &[Vec3A]) -> f64 {
    let few = |(a, b): (&[Vec3A], &[Vec3A])| {
        let sum = a.iter().zip(b).fold(Vec3A::ZERO, |sum, (a, b)| sum + *a * *b);
        f64::from(sum.x + sum.y + sum.z)
    };
    a.chunks(8).zip(b.chunks(8)).map(few).sum()
}
