//! The coarse space of the two-level preconditioner: smooth hats over the sewn cloth, moved as a whole.
//!
//! Block-Jacobi alone is blind to slow, smooth motion, which then takes most iterations and stays inexact. The
//! coarse space carries just that: nodes spread evenly over the cloth (farthest-point sampling along the mesh, across
//! seams), hats that add up to one, and the system seen through them, factorised every few steps.

use crate::linear::link::Link;
use crate::linear::matrix::{CHUNK, Pattern};
use glam::{Mat3A, Vec3A};
use rayon::prelude::*;
use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// Vertices per node, and fewest and most nodes.
const SHARE: usize = 60;
const FEWEST: usize = 8;
const MOST: usize = 160;
/// Fewer vertices need no coarse space.
const LEAST: usize = 40;
/// BasisFunctions that a vertex belongs to.
const HATS: usize = 4;
/// Steps that a factorisation is used for.
const KEEP: u32 = 4;

type BasisFunctions = [(u16, f32); HATS];

/// Nodes, hats and the factorised coarse matrix.
#[derive(Default)]
pub(crate) struct Coarse {
    nodes: usize,
    hats: Vec<BasisFunctions>,
    /// Vertices of each node's hat with their weights.
    members: Vec<Vec<(u32, f32)>>,
    image: Product,
    /// Lower triangular factor, row by row.
    factor: Vec<f32>,
    work: Vec<f32>,
    /// Steps since it was made.
    pub age: u32,
    /// The last matrix could not be factorised; the space is left out until the next.
    failed: bool,
}

/// The rows of a matrix times the hats: the nodes each row touches, with their blocks; rows by chunks.
#[derive(Default)]
struct Product {
    parts: Vec<ProductPart>,
}

#[derive(Default)]
struct ProductPart {
    /// Where the blocks of each row end.
    ends: Vec<u32>,
    blocks: Vec<(u16, Mat3A)>,
}

impl Product {
    fn of(&self, row: usize) -> &[(u16, Mat3A)] {
        let (part, k) = (&self.parts[row / CHUNK], row % CHUNK);
        let start = if k == 0 { 0 } else { part.ends[k - 1] };
        &part.blocks[start as usize..part.ends[k] as usize]
    }
}

impl ProductPart {
    /// The block of a node in the row that begins at `start`.
    fn at(&mut self, start: usize, node: u16) -> &mut Mat3A {
        let found = self.blocks[start..].iter().position(|b| b.0 == node);
        let k = found.map_or(self.blocks.len(), |k| start + k);
        if found.is_none() {
            self.blocks.push((node, Mat3A::ZERO));
        }
        &mut self.blocks[k].1
    }
}

impl Coarse {
    /// `group` names the vertex that stands for each one when all seams are closed; `edges` join such vertices.
    pub fn new(group: &[u32], edges: &[(u32, u32, f32)]) -> Self {
        let count = group.iter().enumerate().filter(|(i, g)| *i == **g as usize).count();
        if count < LEAST {
            return Self::default();
        }
        let net = Net::new(group.len(), edges);
        let (centres, radius) = net.spread(group, (count / SHARE).clamp(FEWEST, MOST));
        let mut reach: Vec<Vec<(u16, f32)>> = vec![Vec::new(); group.len()];
        for (node, &centre) in centres.iter().enumerate() {
            for (vertex, distance) in net.within(centre, 2.0 * radius) {
                reach[vertex as usize].push((node as u16, (1.0 - distance / (2.0 * radius)).powi(2)));
            }
        }
        let hats = group.iter().map(|&g| strongest(&reach[g as usize])).collect();
        Self { nodes: centres.len(), hats, age: u32::MAX, ..Self::default() }
    }

    /// Whether the mesh is large enough for it to help.
    pub fn is_used(&self) -> bool {
        self.nodes > 0 && !self.failed
    }

    /// Grows older by a step; whether it is time to refresh.
    pub fn is_due(&mut self) -> bool {
        self.age = self.age.saturating_add(1);
        self.nodes > 0 && self.age >= KEEP
    }

    /// Gathers and factorises the coarse matrix of a system; vertices that are held take no part.
    pub fn refresh(&mut self, pattern: &Pattern, blocks: &[Mat3A], bend: f32, held: &[bool], links: &[Link]) {
        let size = 3 * self.nodes;
        self.members = vec![Vec::new(); self.nodes];
        for (i, hats) in self.hats.iter().enumerate().filter(|(i, _)| !held[*i]) {
            for &(node, weight) in hats.iter().filter(|h| h.1 > 0.0) {
                self.members[node as usize].push((i as u32, weight));
            }
        }
        self.multiply(pattern, blocks, bend, held);
        let (nodes, image) = (self.nodes, &self.image);
        let rows: Vec<Vec<Mat3A>> = self
            .members
            .par_iter()
            .map(|members| {
                let mut row = vec![Mat3A::ZERO; nodes];
                for &(i, weight) in members {
                    for (other, block) in image.of(i as usize) {
                        row[*other as usize] += *block * weight;
                    }
                }
                row
            })
            .collect();
        self.factor.clear();
        self.factor.resize(size * size, 0.0);
        for (a, row) in rows.iter().enumerate() {
            // the half that was seen, and its mirror image; the lower triangle is enough
            for (b, block) in row.iter().enumerate().take(a + 1) {
                self.put(a, b, *block + rows[b][a].transpose());
            }
        }
        for link in links {
            self.put_link(link, held);
        }
        self.failed = !factorise(&mut self.factor, size);
        self.work.resize(size, 0.0);
        self.age = 0;
    }

    /// Every row of the upper half of the matrix, with half its diagonal, seen through the hats.
    fn multiply(&mut self, pattern: &Pattern, blocks: &[Mat3A], bend: f32, held: &[bool]) {
        let hats = &self.hats;
        let seen = |i: usize, part: &mut ProductPart| {
            let start = part.blocks.len();
            let mut add = |j: usize, block: Mat3A| {
                hats[j].iter().filter(|h| h.1 > 0.0).for_each(|h| *part.at(start, h.0) += block * h.1);
            };
            for slot in pattern.blocks(i) {
                let (j, block) = (pattern.column[slot] as usize, blocks[slot]);
                if j == i {
                    add(i, block * 0.5);
                } else if j > i && !held[j] {
                    add(j, block);
                }
            }
            for &(j, b) in pattern.ring(i).iter().filter(|r| r.0 as usize > i && !held[r.0 as usize]) {
                for h in hats[j as usize].iter().filter(|h| h.1 > 0.0) {
                    let (block, more) = (part.at(start, h.0), b * bend * h.1);
                    block.x_axis.x += more;
                    block.y_axis.y += more;
                    block.z_axis.z += more;
                }
            }
        };
        self.image.parts.resize_with(hats.len().div_ceil(CHUNK), ProductPart::default);
        self.image.parts.par_iter_mut().enumerate().for_each(|(chunk, part)| {
            part.ends.clear();
            part.blocks.clear();
            for i in chunk * CHUNK..((chunk + 1) * CHUNK).min(hats.len()) {
                if !held[i] {
                    seen(i, part);
                }
                part.ends.push(part.blocks.len() as u32);
            }
        });
    }

    fn put(&mut self, a: usize, b: usize, block: Mat3A) {
        let size = 3 * self.nodes;
        let columns = block.to_cols_array_2d();
        for r in 0..3 {
            for c in 0..3 {
                self.factor[(3 * a + r) * size + 3 * b + c] += columns[c][r];
            }
        }
    }

    fn put_link(&mut self, link: &Link, held: &[bool]) {
        let mut sums: Vec<(u16, f32)> = Vec::with_capacity(16);
        for k in 0..4 {
            let v = link.vertices[k] as usize;
            if link.weights[k] == 0.0 || held[v] {
                continue;
            }
            for &(node, weight) in self.hats[v].iter().filter(|h| h.1 > 0.0) {
                match sums.iter_mut().find(|s| s.0 == node) {
                    Some(sum) => sum.1 += weight * link.weights[k],
                    None => sums.push((node, weight * link.weights[k])),
                }
            }
        }
        let stiffness = link.stiffness();
        for &(a, u) in &sums {
            for &(b, v) in &sums {
                self.put(a as usize, b as usize, stiffness * (u * v));
            }
        }
    }

    /// Room for what chunks of vertices gather for the nodes: as many sums to a chunk as there are nodes.
    pub fn room(&self, vertices: usize, gathered: &mut Vec<Vec3A>) {
        gathered.resize(vertices.div_ceil(CHUNK) * self.nodes, Vec3A::ZERO);
    }

    /// Sums to a chunk.
    pub fn nodes(&self) -> usize {
        self.nodes
    }

    /// Adds the residual of a vertex to the sums of its nodes.
    #[inline]
    pub fn gather(&self, vertex: usize, residual: Vec3A, sums: &mut [Vec3A]) {
        for &(node, w) in &self.hats[vertex] {
            sums[node as usize] += residual * w;
        }
    }

    /// The coarse correction of a residual that was gathered: fills `nodes` with the motion of each node and returns its
    /// share of r · z.
    pub fn correct(&mut self, gathered: &[Vec3A], nodes: &mut Vec<Vec3A>) -> f64 {
        nodes.clear();
        nodes.resize(self.nodes, Vec3A::ZERO);
        for part in gathered.chunks_exact(self.nodes) {
            nodes.iter_mut().zip(part).for_each(|(sum, more)| *sum += *more);
        }
        let size = 3 * self.nodes;
        for (out, sum) in self.work.chunks_exact_mut(3).zip(nodes.iter()) {
            out.copy_from_slice(&sum.to_array());
        }
        solve(&self.factor, size, &mut self.work);
        let mut energy = 0.0;
        for (node, moved) in nodes.iter_mut().zip(self.work.chunks_exact(3)) {
            let moved = Vec3A::from_slice(moved);
            energy += f64::from(node.dot(moved));
            *node = moved;
        }
        energy
    }

    /// The correction at one vertex.
    #[inline]
    pub fn at(&self, vertex: usize, nodes: &[Vec3A]) -> Vec3A {
        self.hats[vertex].iter().fold(Vec3A::ZERO, |sum, &(node, w)| sum + nodes[node as usize] * w)
    }
}

/// The strongest hats, scaled to add up to one.
fn strongest(reach: &[(u16, f32)]) -> BasisFunctions {
    let mut sorted = reach.to_vec();
    sorted.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    sorted.truncate(HATS);
    let sum: f32 = sorted.iter().map(|h| h.1).sum();
    let mut hats = [(0, 0.0); HATS];
    for (hat, (node, weight)) in hats.iter_mut().zip(sorted) {
        *hat = (node, if sum > 0.0 { weight / sum } else { 0.0 });
    }
    hats
}

/// The mesh as a net of lengths.
struct Net {
    first: Vec<u32>,
    ends: Vec<(u32, f32)>,
}

impl Net {
    fn new(count: usize, edges: &[(u32, u32, f32)]) -> Self {
        let mut first = vec![0u32; count + 1];
        for &(a, b, _) in edges {
            first[a as usize + 1] += 1;
            first[b as usize + 1] += 1;
        }
        for i in 0..count {
            first[i + 1] += first[i];
        }
        let mut next = first.clone();
        let mut ends = vec![(0, 0.0); 2 * edges.len()];
        for &(a, b, length) in edges {
            for (from, to) in [(a, b), (b, a)] {
                ends[next[from as usize] as usize] = (to, length);
                next[from as usize] += 1;
            }
        }
        Self { first, ends }
    }

    /// Lowers `distance` around a vertex as far as the way from it is shorter than what stands there.
    fn relax(&self, from: u32, distance: &mut [f32], mut seen: impl FnMut(u32)) {
        // lengths are positive, so their bits sort like the numbers
        let mut queue = BinaryHeap::from([(Reverse(0u32), from)]);
        distance[from as usize] = 0.0;
        seen(from);
        while let Some((Reverse(bits), vertex)) = queue.pop() {
            let so_far = f32::from_bits(bits);
            if so_far > distance[vertex as usize] {
                continue;
            }
            for &(to, length) in &self.ends[self.first[vertex as usize] as usize..self.first[vertex as usize + 1] as usize] {
                let way = so_far + length;
                if way < distance[to as usize] {
                    distance[to as usize] = way;
                    seen(to);
                    queue.push((Reverse(way.to_bits()), to));
                }
            }
        }
    }

    /// Evenly spread vertices, each the farthest from those before it, and the largest distance that is left.
    fn spread(&self, group: &[u32], count: usize) -> (Vec<u32>, f32) {
        let own = |i: usize| group[i] as usize == i;
        let mut distance = vec![f32::MAX; group.len()];
        let farthest =
            |distance: &[f32]| (0..group.len()).filter(|&i| own(i)).max_by(|&a, &b| distance[a].total_cmp(&distance[b]).then(b.cmp(&a)));
        let mut centres = Vec::with_capacity(count);
        while let Some(next) = farthest(&distance) {
            if centres.len() >= count && distance[next] < f32::MAX {
                return (centres, distance[next]);
            }
            centres.push(next as u32);
            self.relax(next as u32, &mut distance, |_| {});
        }
        (centres, 0.0)
    }

    /// The vertices within a way of a centre, with their distances.
    fn within(&self, centre: u32, radius: f32) -> Vec<(u32, f32)> {
        let mut distance = vec![radius; self.first.len() - 1];
        let mut seen = Vec::new();
        self.relax(centre, &mut distance, |v| seen.push(v));
        seen.sort_unstable();
        seen.dedup();
        seen.into_iter().map(|v| (v, distance[v as usize])).collect()
    }
}

/// Cholesky factorisation in place (lower triangle, row by row); false when the matrix is not positive definite.
fn factorise(a: &mut [f32], size: usize) -> bool {
    for i in 0..size {
        let (above, rest) = a.split_at_mut(i * size);
        let row = &mut rest[..size];
        for j in 0..i {
            let other = &above[j * size..j * size + j + 1];
            row[j] = (row[j] - dot(&row[..j], &other[..j])) / other[j];
        }
        let pivot = row[i] - dot(&row[..i], &row[..i]);
        if pivot <= 0.0 || !pivot.is_finite() {
            return false;
        }
        row[i] = pivot.sqrt();
    }
    true
}

/// Solves with the factor, in place.
fn solve(factor: &[f32], size: usize, x: &mut [f32]) {
    for i in 0..size {
        let row = &factor[i * size..i * size + i + 1];
        x[i] = (x[i] - dot(&row[..i], &x[..i])) / row[i];
    }
    for i in (0..size).rev() {
        let row = &factor[i * size..i * size + i + 1];
        x[i] /= row[i];
        let known = x[i];
        for (v, l) in x[..i].iter_mut().zip(row) {
            *v -= known * l;
        }
    }
}

/// In eight lanes, so that it is quick and always summed alike.
fn dot(a: &[f32], b: &[f32]) -> f32 {
    let mut lanes = [0.0f32; 8];
    let (whole, tail) = (a.chunks_exact(8), a.chunks_exact(8).remainder());
    let others = b.chunks_exact(8);
    let rest: f32 = tail.iter().zip(others.remainder()).map(|(a, b)| a * b).sum();
    for (a, b) in whole.zip(others) {
        for k in 0..8 {
            lanes[k] += a[k] * b[k];
        }
    }
    lanes.iter().sum::<f32>() + rest
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_factorised_matrix_solves_its_equations() {
        // B B^T + I of fixed pseudo-random numbers is positive definite
        let size = 37;
        let b: Vec<f32> = (0..size * size).map(|k| ((k * k + 3 * k) % 17) as f32 / 17.0 - 0.5).collect();
        let entry = |i: usize, j: usize| (0..size).map(|k| b[i * size + k] * b[j * size + k]).sum::<f32>() + if i == j { 1.0 } else { 0.0 };
        let mut a: Vec<f32> = (0..size * size).map(|k| entry(k / size, k % size)).collect();
        let x: Vec<f32> = (0..size).map(|i| (i as f32 * 0.7).sin()).collect();
        let mut y: Vec<f32> = (0..size).map(|i| (0..size).map(|j| entry(i, j) * x[j]).sum()).collect();
        assert!(factorise(&mut a, size));
        solve(&a, size, &mut y);
        assert!(x.iter().zip(&y).all(|(a, b)| (a - b).abs() < 1e-4));
        let mut singular = vec![0.0; 9];
        assert!(!factorise(&mut singular, 3));
    }

    #[test]
    fn hats_add_up_to_one_and_cover_both_sides_of_a_seam() {
        // two strips of squares, sewn along one side
        let (width, height) = (12usize, 40usize);
        let id = |strip: usize, i: usize, j: usize| (strip * width * height + j * width + i) as u32;
        let mut group: Vec<u32> = (0..(2 * width * height) as u32).collect();
        for j in 0..height {
            group[id(1, 0, j) as usize] = id(0, width - 1, j);
        }
        let mut edges = Vec::new();
        for strip in 0..2 {
            for j in 0..height {
                for i in 0..width {
                    let at = |i, j| group[id(strip, i, j) as usize];
                    if i + 1 < width {
                        edges.push((at(i, j), at(i + 1, j), 0.02));
                    }
                    if j + 1 < height {
                        edges.push((at(i, j), at(i, j + 1), 0.02));
                    }
                }
            }
        }
        let coarse = Coarse::new(&group, &edges);
        assert!(coarse.is_used());
        for hats in &coarse.hats {
            assert!((hats.iter().map(|h| h.1).sum::<f32>() - 1.0).abs() < 1e-5);
        }
        assert!((0..height).all(|j| coarse.hats[id(1, 0, j) as usize] == coarse.hats[id(0, width - 1, j) as usize]));
        let shared = |node: u16| {
            (0..2).all(|s| (0..width * height).any(|k| coarse.hats[s * width * height + k].iter().any(|h| h.0 == node && h.1 > 0.0)))
        };
        assert!((0..coarse.nodes as u16).any(shared), "some hat lies across the seam");
    }
}
