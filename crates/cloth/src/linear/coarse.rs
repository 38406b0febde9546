//! The coarse space of the preconditioner: smooth basis functions over the sewn cloth, moved as a whole.
//!
//! Block-Jacobi alone is blind to slow, smooth motion, which then takes most iterations and stays inexact. The
//! coarse space carries just that: nodes spread evenly over the cloth (farthest-point sampling along the mesh, across
//! seams), functions that add up to one, and the system seen through them, factorised every few steps. A large cloth has a level
//! between: many narrow functions, of which the system's diagonal blocks are inverted, and the wide ones over their nodes.
//!
//! With P the functions and Q the wide ones at P's nodes, the correction is P (D1^-1 + Q A2^-1 Q^T) P^T, or P A1^-1 P^T without the
//! level between; A1 = P^T A P, D1 its diagonal blocks, A2 = Q^T A1 Q.

use crate::linear::cholesky::{factorise, solve};
use crate::linear::galerkin::{BasisFunctions, Product, Projected, gathered, interpolate, strongest};
use crate::linear::link::Link;
use crate::linear::matrix::{CHUNK, Pattern};
use crate::linear::net::Net;
use glam::{Mat3A, Vec3A};

/// Vertices per node, and fewest and most nodes, of the level that is factorised.
const SHARE: usize = 60;
const FEWEST: usize = 8;
const MOST: usize = 160;
/// Fewer vertices need no coarse space.
const LEAST: usize = 40;
/// Vertices per node of the level between; it pays where it has more than so many nodes.
const NARROW_SHARE: usize = 20;
const NARROW_LEAST: usize = 2 * MOST;
/// With the level between, the energy that the solve watches is nearer to that of its error: it may stop so much sooner.
const NARROW_TOLERANCE: f64 = 1.25;
/// Steps that a factorisation is used for.
const KEEP: u32 = 4;

/// Nodes, functions and the factorised coarse matrix.
#[derive(Default)]
pub(crate) struct Coarse {
    nodes: usize,
    /// By vertex.
    functions: Vec<BasisFunctions>,
    chunks: Chunks,
    product: Product,
    projected: Projected,
    between: Option<Between>,
    /// Lower triangular factor, row by row.
    factor: Vec<f32>,
    work: Vec<f32>,
    /// Steps since it was made.
    pub age: u32,
    /// The last matrix could not be factorised; the space is left out until the next.
    failed: bool,
}

/// The nodes that each chunk of vertices sees, and the functions of the vertices by their place among these.
#[derive(Default)]
struct Chunks {
    nodes: Vec<Vec<u16>>,
    functions: Vec<BasisFunctions>,
    /// Most nodes of a chunk.
    widest: usize,
}

/// The wide functions over the nodes of the narrow ones.
#[derive(Default)]
struct Between {
    tops: usize,
    /// By node.
    functions: Vec<BasisFunctions>,
    /// Inverse diagonal blocks, by node; zero where nothing moves.
    inverse: Vec<Mat3A>,
    product: Product,
    projected: Projected,
    moved: Vec<Vec3A>,
}

impl Coarse {
    /// `group` names the vertex that stands for each one when all seams are closed; `edges` join such vertices.
    pub fn new(group: &[u32], edges: &[(u32, u32, f32)]) -> Self {
        Self::with_levels(group, edges, NARROW_LEAST)
    }

    /// The same; there is a level between where it has more nodes than `narrow_least`.
    pub(crate) fn with_levels(group: &[u32], edges: &[(u32, u32, f32)], narrow_least: usize) -> Self {
        let count = group.iter().enumerate().filter(|(i, g)| *i == **g as usize).count();
        if count < LEAST {
            return Self::default();
        }
        let net = Net::new(group.len(), edges);
        let (tops, radius) = net.spread(group, (count / SHARE).clamp(FEWEST, MOST));
        let wide = functions(&net, &tops, radius, group);
        let narrow = (count / NARROW_SHARE > narrow_least).then(|| net.spread(group, count / NARROW_SHARE));
        let (nodes, functions, between) = match narrow.filter(|(nodes, _)| nodes.len() < usize::from(u16::MAX)) {
            None => (tops.len(), wide, None),
            Some((nodes, radius)) => {
                let over = nodes.iter().map(|&v| wide[v as usize]).collect();
                let between = Between { tops: tops.len(), functions: over, ..Between::default() };
                (nodes.len(), functions(&net, &nodes, radius, group), Some(between))
            }
        };
        Self { nodes, chunks: Chunks::of(&functions, nodes), functions, between, age: u32::MAX, ..Self::default() }
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

    /// Factor of the tolerance of a solve, for the same error.
    pub fn tolerance(&self) -> f64 {
        if self.between.is_some() && self.is_used() { NARROW_TOLERANCE } else { 1.0 }
    }

    /// Gathers and factorises the coarse matrix of a system; vertices that are held take no part.
    pub fn refresh(&mut self, pattern: &Pattern, blocks: &[Mat3A], bend: f32, held: &[bool], links: &[Link]) {
        self.multiply(pattern, blocks, bend, held);
        let points = self.functions.iter().zip(held).map(|(f, held)| (!held).then_some(f));
        self.projected.fill(self.nodes, points, &self.product);
        if let Some(between) = &mut self.between {
            between.refresh(&self.projected);
        }
        let top = self.between.as_ref().map_or(&self.projected, |b| &b.projected);
        let size = 3 * top.rows.len();
        self.factor.clear();
        self.factor.resize(size * size, 0.0);
        for (a, row) in top.rows.iter().enumerate() {
            // the half that was seen, and its mirror image; the lower triangle is enough
            for &(b, block) in row {
                let b = b as usize;
                if b <= a {
                    put(&mut self.factor, size, (a, b), block);
                }
                if a <= b {
                    put(&mut self.factor, size, (b, a), block.transpose());
                }
            }
        }
        self.put_links(links, held, size);
        // a node under which nothing moves stands for itself
        (0..size)
            .filter(|&k| self.factor[k * size + k] == 0.0)
            .collect::<Vec<_>>()
            .into_iter()
            .for_each(|k| self.factor[k * size + k] = 1.0);
        if let Some(between) = &mut self.between {
            between.invert();
        }
        self.failed = !factorise(&mut self.factor, size);
        self.work.resize(size, 0.0);
        self.age = 0;
    }

    /// Every row of the upper half of the matrix, with half its diagonal, seen through the functions.
    fn multiply(&mut self, pattern: &Pattern, blocks: &[Mat3A], bend: f32, held: &[bool]) {
        let functions = &self.functions;
        self.product.fill(functions.len(), |i, row| {
            if held[i] {
                return;
            }
            for slot in pattern.blocks(i) {
                let (j, block) = (pattern.column[slot] as usize, blocks[slot]);
                if j == i {
                    row.add(&functions[i], block * 0.5);
                } else if j > i && !held[j] {
                    row.add(&functions[j], block);
                }
            }
            for &(j, b) in pattern.ring(i).iter().filter(|r| r.0 as usize > i && !held[r.0 as usize]) {
                row.add_identity(&functions[j as usize], b * bend);
            }
        });
    }

    /// Adds what links join, to the matrix that is factorised and to the blocks of the level between.
    fn put_links(&mut self, links: &[Link], held: &[bool], size: usize) {
        let (mut sums, mut over) = (Vec::with_capacity(16), Vec::with_capacity(16));
        for link in links {
            let points = link.vertices.iter().zip(link.weights).filter(|(v, w)| *w != 0.0 && !held[**v as usize]);
            gathered(points.map(|(v, w)| (&self.functions[*v as usize], w)), &mut sums);
            let stiffness = link.stiffness();
            if let Some(between) = &mut self.between {
                sums.iter().for_each(|&(node, w)| between.inverse[node as usize] += stiffness * (w * w));
                gathered(sums.iter().map(|&(node, w)| (&between.functions[node as usize], w)), &mut over);
                std::mem::swap(&mut sums, &mut over);
            }
            for &(a, u) in &sums {
                for &(b, v) in sums.iter().filter(|s| s.0 <= a) {
                    put(&mut self.factor, size, (a as usize, b as usize), stiffness * (u * v));
                }
            }
        }
    }

    /// Room for what chunks of vertices gather for the nodes they see.
    pub fn room(&self, vertices: usize, gathered: &mut Vec<Vec3A>) {
        gathered.resize(vertices.div_ceil(CHUNK) * self.chunks.widest, Vec3A::ZERO);
    }

    /// Sums to a chunk.
    pub fn sums(&self) -> usize {
        self.chunks.widest
    }

    /// Adds the residual of a vertex to the sums of its chunk.
    #[inline]
    pub fn gather(&self, vertex: usize, residual: Vec3A, sums: &mut [Vec3A]) {
        for &(place, w) in &self.chunks.functions[vertex] {
            sums[place as usize] += residual * w;
        }
    }

    /// The coarse correction of a residual that was gathered: fills `nodes` with the motion of each node and returns its
    /// share of r · z.
    pub fn correct(&mut self, gathered: &[Vec3A], nodes: &mut Vec<Vec3A>) -> f64 {
        nodes.clear();
        nodes.resize(self.nodes, Vec3A::ZERO);
        for (part, seen) in gathered.chunks_exact(self.chunks.widest).zip(&self.chunks.nodes) {
            seen.iter().zip(part).for_each(|(node, more)| nodes[*node as usize] += *more);
        }
        match &mut self.between {
            Some(between) => between.correct(&self.factor, &mut self.work, nodes),
            None => correct(&self.factor, &mut self.work, nodes),
        }
    }

    /// The correction at one vertex.
    #[inline]
    pub fn at(&self, vertex: usize, nodes: &[Vec3A]) -> Vec3A {
        interpolate(&self.functions[vertex], nodes)
    }
}

impl Chunks {
    fn of(functions: &[BasisFunctions], nodes: usize) -> Self {
        let mut chunks = Self { functions: functions.to_vec(), ..Self::default() };
        let mut places = vec![u16::MAX; nodes];
        for part in chunks.functions.chunks_mut(CHUNK) {
            let mut seen: Vec<u16> = Vec::new();
            for (node, _) in part.iter_mut().flatten() {
                let place = &mut places[*node as usize];
                if *place == u16::MAX {
                    *place = seen.len() as u16;
                    seen.push(*node);
                }
                *node = *place;
            }
            seen.iter().for_each(|node| places[*node as usize] = u16::MAX);
            chunks.widest = chunks.widest.max(seen.len());
            chunks.nodes.push(seen);
        }
        chunks
    }
}

impl Between {
    fn refresh(&mut self, narrow: &Projected) {
        let functions = &self.functions;
        self.product.fill(functions.len(), |a, row| narrow.rows[a].iter().for_each(|&(b, block)| row.add(&functions[b as usize], block)));
        self.projected.fill(self.tops, functions.iter().map(Some), &self.product);
        self.inverse.clear();
        self.inverse.extend(narrow.diagonal());
    }

    /// The blocks on the diagonal are whole: inverts them.
    fn invert(&mut self) {
        for block in &mut self.inverse {
            let inverse = block.inverse();
            *block = if inverse.is_finite() { inverse } else { Mat3A::ZERO };
        }
    }

    fn correct(&mut self, factor: &[f32], work: &mut [f32], nodes: &mut [Vec3A]) -> f64 {
        self.moved.clear();
        self.moved.resize(self.tops, Vec3A::ZERO);
        for (functions, residual) in self.functions.iter().zip(nodes.iter()) {
            functions.iter().for_each(|&(top, w)| self.moved[top as usize] += *residual * w);
        }
        let mut energy = correct(factor, work, &mut self.moved);
        for ((functions, inverse), node) in self.functions.iter().zip(&self.inverse).zip(nodes) {
            let own = *inverse * *node;
            energy += f64::from(node.dot(own));
            *node = own + interpolate(functions, &self.moved);
        }
        energy
    }
}

/// The functions of some centres at every vertex.
fn functions(net: &Net, centres: &[u32], radius: f32, group: &[u32]) -> Vec<BasisFunctions> {
    let mut reach: Vec<Vec<(u16, f32)>> = vec![Vec::new(); group.len()];
    net.each_within(centres, 2.0 * radius, |node, vertex, distance| {
        reach[vertex as usize].push((node as u16, (1.0 - distance / (2.0 * radius)).powi(2)));
    });
    group.iter().map(|&g| strongest(&reach[g as usize])).collect()
}

fn put(matrix: &mut [f32], size: usize, (a, b): (usize, usize), block: Mat3A) {
    let columns = block.to_cols_array_2d();
    for r in 0..3 {
        for c in 0..3 {
            matrix[(3 * a + r) * size + 3 * b + c] += columns[c][r];
        }
    }
}

/// Replaces the residuals of nodes by their motion; returns the product of both.
fn correct(factor: &[f32], work: &mut [f32], nodes: &mut [Vec3A]) -> f64 {
    for (out, sum) in work.chunks_exact_mut(3).zip(nodes.iter()) {
        out.copy_from_slice(&sum.to_array());
    }
    solve(factor, 3 * nodes.len(), work);
    let mut energy = 0.0;
    for (node, moved) in nodes.iter_mut().zip(work.chunks_exact(3)) {
        let moved = Vec3A::from_slice(moved);
        energy += f64::from(node.dot(moved));
        *node = moved;
    }
    energy
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn functions_add_up_to_one_and_cover_both_sides_of_a_seam() {
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
        for functions in &coarse.functions {
            assert!((functions.iter().map(|h| h.1).sum::<f32>() - 1.0).abs() < 1e-5);
        }
        assert!((0..height).all(|j| coarse.functions[id(1, 0, j) as usize] == coarse.functions[id(0, width - 1, j) as usize]));
        let shared = |node: u16| {
            (0..2).all(|s| (0..width * height).any(|k| coarse.functions[s * width * height + k].iter().any(|h| h.0 == node && h.1 > 0.0)))
        };
        assert!((0..coarse.nodes as u16).any(shared), "some function lies across the seam");
    }
}
