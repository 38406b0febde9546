//! A symmetric matrix seen through basis functions: P^T A P, gathered from the half of A on and above its diagonal.

use crate::linear::matrix::CHUNK;
use glam::{Mat3A, Vec3A};
use rayon::prelude::*;

/// Functions that a point belongs to.
pub(crate) const FUNCTIONS: usize = 4;

/// The functions at a point: the node of each and its weight; those without weight come last.
pub(crate) type BasisFunctions = [(u16, f32); FUNCTIONS];

/// Functions at a point that have any weight.
#[inline]
pub(crate) fn at(functions: &BasisFunctions) -> impl Iterator<Item = (u16, f32)> + '_ {
    functions.iter().copied().filter(|f| f.1 > 0.0)
}

/// The strongest functions of those that reach a point, scaled to add up to one.
pub(crate) fn strongest(reach: &[(u16, f32)]) -> BasisFunctions {
    let mut sorted = reach.to_vec();
    sorted.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    sorted.truncate(FUNCTIONS);
    let sum: f32 = sorted.iter().map(|f| f.1).sum();
    let mut functions = [(0, 0.0); FUNCTIONS];
    for (function, (node, weight)) in functions.iter_mut().zip(sorted) {
        *function = (node, if sum > 0.0 { weight / sum } else { 0.0 });
    }
    functions
}

/// Blocks of the rows of a matrix, each with the node it belongs to.
pub(crate) type Blocks = Vec<(u16, Mat3A)>;

/// A P: the nodes that each row of A touches, with their blocks; rows by chunks.
#[derive(Default)]
pub(crate) struct Product {
    parts: Vec<Part>,
}

/// A chunk of rows.
#[derive(Default)]
pub(crate) struct Part {
    /// Where the blocks of each row end.
    ends: Vec<u32>,
    blocks: Blocks,
}

impl Product {
    /// Of `rows` rows; `add` puts the blocks of one into the row that it is given.
    pub fn fill(&mut self, rows: usize, add: impl Fn(usize, &mut Row) + Sync) {
        self.parts.resize_with(rows.div_ceil(CHUNK), Part::default);
        self.parts.par_iter_mut().enumerate().for_each(|(chunk, part)| {
            part.ends.clear();
            part.blocks.clear();
            for i in chunk * CHUNK..((chunk + 1) * CHUNK).min(rows) {
                let start = part.blocks.len();
                add(i, &mut Row { start, blocks: &mut part.blocks });
                part.ends.push(part.blocks.len() as u32);
            }
        });
    }

    fn of(&self, row: usize) -> &[(u16, Mat3A)] {
        let (part, k) = (&self.parts[row / CHUNK], row % CHUNK);
        let start = if k == 0 { 0 } else { part.ends[k - 1] };
        &part.blocks[start as usize..part.ends[k] as usize]
    }
}

/// One row of a product while it is filled.
pub(crate) struct Row<'a> {
    start: usize,
    blocks: &'a mut Blocks,
}

impl Row<'_> {
    /// Adds a block of the matrix whose column lies under these functions.
    #[inline]
    pub fn add(&mut self, functions: &BasisFunctions, block: Mat3A) {
        at(functions).for_each(|(node, weight)| *self.block(node) += block * weight);
    }

    /// Adds the same multiple of the identity.
    #[inline]
    pub fn add_identity(&mut self, functions: &BasisFunctions, factor: f32) {
        for (node, weight) in at(functions) {
            let (block, more) = (self.block(node), factor * weight);
            block.x_axis.x += more;
            block.y_axis.y += more;
            block.z_axis.z += more;
        }
    }

    fn block(&mut self, node: u16) -> &mut Mat3A {
        let found = self.blocks[self.start..].iter().position(|b| b.0 == node);
        let k = found.map_or(self.blocks.len(), |k| self.start + k);
        if found.is_none() {
            self.blocks.push((node, Mat3A::ZERO));
        }
        &mut self.blocks[k].1
    }
}

/// P^T times a product: the blocks of every node's row. With that of the upper half of A, its diagonal halved, A's own is the sum
/// of this and its mirror image.
#[derive(Default)]
pub(crate) struct Projected {
    /// Points under each node's function, with their weights.
    members: Vec<Vec<(u32, f32)>>,
    /// Of each node.
    pub rows: Vec<Blocks>,
}

impl Projected {
    /// Of as many nodes, with functions given by point; points without functions take no part.
    pub fn fill<'a>(&mut self, nodes: usize, points: impl Iterator<Item = Option<&'a BasisFunctions>>, product: &Product) {
        self.members.resize_with(nodes, Vec::new);
        self.members.iter_mut().for_each(Vec::clear);
        self.rows.resize_with(nodes, Vec::new);
        for (i, functions) in points.enumerate() {
            for (node, weight) in functions.into_iter().flat_map(at) {
                self.members[node as usize].push((i as u32, weight));
            }
        }
        // where the block of a node stands in the row at hand, and one more
        let places = || vec![0u16; nodes];
        self.members.par_iter().zip(&mut self.rows).for_each_init(places, |places, (members, row)| {
            row.clear();
            for &(i, weight) in members {
                for &(other, block) in product.of(i as usize) {
                    let place = &mut places[other as usize];
                    if *place == 0 {
                        row.push((other, Mat3A::ZERO));
                        *place = row.len() as u16;
                    }
                    row[*place as usize - 1].1 += block * weight;
                }
            }
            row.iter().for_each(|b| places[b.0 as usize] = 0);
        });
    }

    /// The blocks on the diagonal of the whole, by node.
    pub fn diagonal(&self) -> impl Iterator<Item = Mat3A> + '_ {
        self.rows.iter().enumerate().map(|(a, row)| {
            let half = row.iter().find(|b| b.0 as usize == a).map_or(Mat3A::ZERO, |b| b.1);
            half + half.transpose()
        })
    }
}

/// Weights of nodes, each named once, of what is joined by some points with weights.
pub(crate) fn gathered<'a>(points: impl Iterator<Item = (&'a BasisFunctions, f32)>, sums: &mut Vec<(u16, f32)>) {
    sums.clear();
    for (functions, factor) in points {
        for (node, weight) in at(functions) {
            match sums.iter_mut().find(|s| s.0 == node) {
                Some(sum) => sum.1 += weight * factor,
                None => sums.push((node, weight * factor)),
            }
        }
    }
}

/// What the nodes move a point by.
#[inline]
pub(crate) fn interpolate(functions: &BasisFunctions, nodes: &[Vec3A]) -> Vec3A {
    functions.iter().fold(Vec3A::ZERO, |sum, &(node, weight)| sum + nodes[node as usize] * weight)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blocks_between_nodes_are_those_of_the_dense_product() {
        // numbers made by a fixed rule stand for a symmetric matrix of 700 points (more than a chunk) under 9 nodes
        let (points, nodes) = (700usize, 9usize);
        let number = |a: usize, b: usize, c: usize| ((a * 31 + b * 17 + c * 7) % 23) as f32 / 23.0 - 0.5;
        let near = |i: usize, j: usize| i.abs_diff(j) < 4;
        let block = |i: usize, j: usize| {
            let (low, high) = (i.min(j), i.max(j));
            let m = Mat3A::from_cols_array(&std::array::from_fn(|k| number(low, high, k)));
            if i == j {
                m + m.transpose()
            } else if i < j {
                m
            } else {
                m.transpose()
            }
        };
        let functions: Vec<BasisFunctions> = (0..points)
            .map(|i| {
                strongest(&[((i * nodes / points) as u16, 0.7), (((i * nodes / points) + 1).min(nodes - 1) as u16, number(i, 3, 1) + 0.6)])
            })
            .collect();
        let weight = |i: usize, node: usize| functions[i].iter().filter(|f| f.0 as usize == node).map(|f| f.1).sum::<f32>();
        let (mut product, mut projected) = (Product::default(), Projected::default());
        product.fill(points, |i, row| {
            for j in (i..points).filter(|j| near(i, *j)) {
                row.add(&functions[j], block(i, j) * if i == j { 0.5 } else { 1.0 });
            }
        });
        projected.fill(nodes, functions.iter().map(Some), &product);
        let half = |a: usize, b: usize| projected.rows[a].iter().find(|r| r.0 as usize == b).map_or(Mat3A::ZERO, |r| r.1);
        for a in 0..nodes {
            for b in 0..nodes {
                let mut dense = Mat3A::ZERO;
                for i in 0..points {
                    for j in (0..points).filter(|j| near(i, *j)) {
                        dense += block(i, j) * (weight(i, a) * weight(j, b));
                    }
                }
                assert!((half(a, b) + half(b, a).transpose()).abs_diff_eq(dense, 1e-3), "{a} {b}");
            }
            assert!(projected.diagonal().nth(a).is_some_and(|d| d.abs_diff_eq(half(a, a) + half(a, a).transpose(), 1e-6)));
        }
    }
}
