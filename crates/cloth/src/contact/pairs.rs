//! Candidate pairs: vertex-triangle and edge-edge whose moving boxes meet.

use super::bvh::{Aabb, Bvh, SweptAabb};
use super::closest::{Separation, edge_edge, vertex_triangle};
use super::closing::SeamExemption;
use super::smooth::NormalConeCulling;
use crate::scene::{Scene, SeamPair};
use crate::sewing::topology::{Edges, edges};
use glam::{DVec3, Vec3A};
use rayon::prelude::*;

/// Vertex lists of candidate pairs, in a fixed order.
#[derive(Default)]
pub(crate) struct Candidates {
    /// Vertex, then the triangle's corners.
    pub vertex_triangle: Vec<[u32; 4]>,
    /// Ends of the first, then of the second edge.
    pub edge_edge: Vec<[u32; 4]>,
}

/// How many steps of the present motion a search looks ahead.
const AHEAD: u32 = 5;

/// Candidates that stay valid while every vertex stays within the slack of where its present motion takes it, step by
/// step; all vertices at the same step, so that cloth which flies along together stays as quick to search as still cloth.
pub(crate) struct Neighbourhood {
    searcher: Searcher,
    space: Space,
    /// Steps since the search.
    age: u32,
    found: Candidates,
}

/// Where the vertices are and may get to until the next search.
pub(crate) struct Space {
    at: Vec<Vec3A>,
    /// Expected way in one step, m.
    moves: Vec<Vec3A>,
    /// The box around each vertex's expected way.
    ways: Vec<SweptAabb>,
    /// Distance at which pairs matter, and how far a vertex may stray from its expected way, m.
    gap: f32,
    slack: f32,
}

impl Space {
    fn expected(&self, i: usize, age: u32) -> Vec3A {
        self.at[i] + self.moves[i] * age.min(AHEAD) as f32
    }

    /// Whether all vertices are where they are expected, but for a way that all have gone together.
    fn holds(&self, age: u32, positions: &[Vec3A]) -> bool {
        let part =
            |(chunk, p): (usize, &[Vec3A])| -> Vec3A { p.iter().enumerate().map(|(k, p)| *p - self.expected(chunk * TASK + k, age)).sum() };
        let parts: Vec<Vec3A> = positions.par_chunks(TASK).enumerate().map(part).collect();
        let together = parts.into_iter().sum::<Vec3A>() / positions.len() as f32;
        let within = |i: usize| (self.expected(i, age) + together).distance_squared(positions[i]) <= self.slack * self.slack;
        (0..positions.len()).into_par_iter().with_min_len(TASK).all(within)
    }

    /// Expects every vertex to go on as from `from` to `to`.
    fn expect(&mut self, from: &[Vec3A], to: &[Vec3A]) {
        self.at.clear();
        self.at.extend_from_slice(from);
        self.moves.clear();
        self.moves.extend(from.iter().zip(to).map(|(a, b)| *b - *a));
        let more = self.slack + 0.5 * self.gap;
        let around = |p: Vec3A| Aabb::EMPTY.grow(p).inflated(more);
        let way = |(p, m): (&Vec3A, &Vec3A)| SweptAabb { start: around(*p), end: around(*p + *m * AHEAD as f32) };
        self.ways.clear();
        self.ways.extend(self.at.iter().zip(&self.moves).map(way));
    }

    /// The box around the expected way of some vertices.
    fn motion_bounds(&self, of: &[u32]) -> SweptAabb {
        of.iter().fold(SweptAabb::EMPTY, |way, &v| way.join(self.ways[v as usize]))
    }

    /// Whether two features may come within the gap. In a smooth sheet the boxes of near features meet, but they
    /// themselves stay well apart; this keeps them out of every later look.
    fn may_meet(&self, v: [u32; 4], split: usize, separate: fn([DVec3; 4]) -> Separation) -> bool {
        let mut apart = 0.0f32;
        for &a in &v[..split] {
            for &b in &v[split..] {
                apart = apart.max(self.moves[a as usize].distance_squared(self.moves[b as usize]));
            }
        }
        let reach = f64::from(self.gap + apart.sqrt() * AHEAD as f32 + 2.0 * self.slack);
        let s = separate(v.map(|i| self.at[i as usize].as_dvec3()));
        s.vector.length_squared() <= reach * reach
    }
}

impl Neighbourhood {
    /// Finds pairs closer than `gap`; boxes are larger by `slack`, so that they hold for several steps. m.
    pub fn new(searcher: Searcher, gap: f32, slack: f32) -> Self {
        let space = Space { at: Vec::new(), moves: Vec::new(), ways: Vec::new(), gap, slack };
        Self { searcher, space, age: 0, found: Candidates::default() }
    }

    /// Another searcher, for when other vertices are to become one.
    pub fn regroup(&mut self, searcher: Searcher) {
        self.searcher = searcher;
        self.space.at.clear();
    }

    /// The searcher, for other questions; the pairs at hand stay valid.
    pub fn searcher(&mut self) -> &mut Searcher {
        &mut self.searcher
    }

    /// Takes up the triangles as they are now connected, and which pairs are not.
    pub fn connect(&mut self, triangles: &[[u32; 3]], edges: &Edges, open: impl Iterator<Item = (usize, SeamPair)>) {
        self.searcher.connect(triangles, edges);
        self.searcher.closing.connect(open);
        self.space.at.clear();
    }

    /// A time step was taken.
    pub fn next_step(&mut self) {
        self.age += 1;
    }

    /// Whether the pairs at hand hold all that come within the gap between `from` and `to`, also when some vertices
    /// stop on their way.
    pub fn covers(&self, from: &[Vec3A], to: &[Vec3A]) -> bool {
        self.space.at.len() == from.len() && self.space.holds(self.age, from) && self.space.holds(self.age + 1, to)
    }

    /// The pairs of the last search.
    pub fn found(&self) -> &Candidates {
        &self.found
    }

    /// All pairs that come within the gap while the vertices move straight from `from` to `to`, all at the same pace. Where
    /// `strict`, patches that are stretched or squeezed are searched too, as cloth that moves with a body needs it.
    pub fn pairs(&mut self, from: &[Vec3A], to: &[Vec3A], strict: bool) -> &Candidates {
        if !self.covers(from, to) {
            self.age = 0;
            self.space.expect(from, to);
            self.found = self.searcher.search(&self.space, strict);
        }
        &self.found
    }
}

/// Finds candidates.
pub(crate) struct Searcher {
    triangles: Vec<[u32; 3]>,
    /// Vertices that seams will make one have the same group.
    group: Vec<u32>,
    closing: SeamExemption,
    /// Which corners (bits 0-2) and edges (bits 3-5) a triangle tests on behalf of all.
    owned: Vec<u8>,
    /// Over the pieces on the flat.
    tree: Bvh,
    smooth: NormalConeCulling,
    boxes: Vec<SweptAabb>,
}

/// Triangles, and leaves of the tree, of one task.
const TASK: usize = 256;
const LEAVES: usize = 64;

impl Searcher {
    /// Prepares the scene; `group` names the vertex that stands for each when all seams are closed.
    pub fn new(scene: &Scene, group: Vec<u32>) -> Self {
        let (tree, smooth) = NormalConeCulling::tree(scene);
        let boxes = vec![SweptAabb::EMPTY; scene.triangles.len()];
        let closing = SeamExemption::new(scene, &group, smooth.edge());
        let mut searcher = Self { triangles: Vec::new(), closing, group, owned: Vec::new(), tree, smooth, boxes };
        searcher.connect(&scene.triangles, &edges(&scene.triangles));
        searcher
    }

    fn connect(&mut self, triangles: &[[u32; 3]], edges: &Edges) {
        self.owned = vec![0u8; triangles.len()];
        let mut taken = vec![false; self.group.len()];
        for (t, triangle) in triangles.iter().enumerate() {
            for k in 0..3 {
                if !std::mem::replace(&mut taken[triangle[k] as usize], true) {
                    self.owned[t] |= 1 << k;
                }
            }
        }
        for &(t, k) in &edges.all {
            self.owned[t as usize] |= 8 << k;
        }
        self.triangles = triangles.to_vec();
    }

    /// Pairs of features that may come within the gap, given the box each vertex stays in.
    pub fn search(&mut self, space: &Space, strict: bool) -> Candidates {
        let triangles = &self.triangles;
        self.boxes.par_chunks_mut(TASK).enumerate().for_each(|(chunk, boxes)| {
            for (k, b) in boxes.iter_mut().enumerate() {
                *b = space.motion_bounds(&triangles[chunk * TASK + k]);
            }
        });
        self.tree.refit(&self.boxes);
        self.smooth.refit(&self.tree, triangles, &space.at, &space.moves, AHEAD as f32, strict);
        let found = self.by_task(|leaf, node| self.smooth.apart(&self.tree, leaf, node), |a, b, found| self.features(a, b, space, found));
        let mut all = Candidates::default();
        for mut part in found {
            all.vertex_triangle.append(&mut part.vertex_triangle);
            all.edge_edge.append(&mut part.edge_edge);
        }
        all
    }

    /// Edges whose boxes meet those of triangles they have no vertex in common with: owner, edge, triangle's number, triangle.
    pub fn edges_at_triangles(&mut self, x: &[Vec3A]) -> Vec<(u32, [u32; 2], u32, [u32; 3])> {
        for (b, t) in self.boxes.iter_mut().zip(&self.triangles) {
            *b = SweptAabb::still(t.iter().fold(Aabb::EMPTY, |b, &v| b.grow(x[v as usize])));
        }
        self.tree.refit(&self.boxes);
        let found = self.by_task(
            |_, _| false,
            |s, t, found: &mut Vec<_>| {
                for (one, other) in [(s, t), (t, s)] {
                    let (own, face) = (self.triangles[one], self.triangles[other]);
                    for k in (0..3).filter(|k| self.owned[one] & (8 << k) != 0) {
                        let edge = [own[k], own[(k + 1) % 3]];
                        let shares = edge.iter().any(|&v| face.iter().any(|&f| self.group[v as usize] == self.group[f as usize]));
                        let span = SweptAabb::still(edge.iter().fold(Aabb::EMPTY, |b, &v| b.grow(x[v as usize])));
                        if !shares && span.meets(&self.boxes[other]) {
                            found.push((one as u32, edge, other as u32, face));
                        }
                    }
                }
            },
        );
        found.into_iter().flatten().collect()
    }

    /// Visits all pairs of triangles whose boxes meet, but for leaves and nodes that are known to be apart; what is found,
    /// task by task in a fixed order.
    fn by_task<T: Default + Send>(
        &self,
        apart: impl Fn(usize, usize) -> bool + Sync,
        visit: impl Fn(usize, usize, &mut T) + Sync,
    ) -> Vec<T> {
        let leaves = self.tree.leaves();
        let task = |chunk: usize| {
            let mut found = T::default();
            for leaf in chunk * LEAVES..((chunk + 1) * LEAVES).min(leaves) {
                self.tree.pairs_of_leaf(leaf, &self.boxes, &apart, |a, b| visit(a as usize, b as usize, &mut found));
            }
            found
        };
        (0..leaves.div_ceil(LEAVES)).into_par_iter().map(task).collect()
    }

    fn features(&self, s: usize, t: usize, space: &Space, found: &mut Candidates) {
        let edge = |a: u32, b: u32| space.motion_bounds(&[a, b]);
        let same = |a: u32, b: u32| self.group[a as usize] == self.group[b as usize] || self.closing.exempts(a, b);
        for (one, other) in [(s, t), (t, s)] {
            let corners = self.triangles[other];
            for k in (0..3).filter(|k| self.owned[one] & (1 << k) != 0) {
                let v = self.triangles[one][k];
                let pair = [v, corners[0], corners[1], corners[2]];
                if !corners.iter().any(|&c| same(v, c))
                    && space.motion_bounds(&[v]).meets(&self.boxes[other])
                    && space.may_meet(pair, 1, vertex_triangle)
                {
                    found.vertex_triangle.push(pair);
                }
            }
        }
        for i in (0..3).filter(|i| self.owned[s] & (8 << i) != 0) {
            let (a, b) = (self.triangles[s][i], self.triangles[s][(i + 1) % 3]);
            let box_a = edge(a, b);
            if !box_a.meets(&self.boxes[t]) {
                continue;
            }
            for j in (0..3).filter(|j| self.owned[t] & (8 << j) != 0) {
                let (c, d) = (self.triangles[t][j], self.triangles[t][(j + 1) % 3]);
                if same(a, c) || same(a, d) || same(b, c) || same(b, d) {
                    continue;
                }
                if box_a.meets(&edge(c, d)) && space.may_meet([a, b, c, d], 2, edge_edge) {
                    found.edge_edge.push([a, b, c, d]);
                }
            }
        }
    }
}
