//! Surface nets with one vertex per surface patch of a cell, on the half x >= 0, then mirrored.
//!
//! The plane x = 0 runs through the middle of the first cells. Grid nodes are drawn together around hands and
//! feet, so that cells are two to three times smaller there.

use crate::implicit::ellipsoid::smoothstep;
use crate::implicit::field::Field;
use glam::{DVec3, IVec3};
use rayon::prelude::*;
use std::collections::HashMap;

/// A triangle mesh with, for every vertex, the index of its mirror image (itself on x = 0).
pub(crate) struct MirroredMesh {
    /// cm.
    pub points: Vec<DVec3>,
    /// Indices into the points.
    pub triangles: Vec<[u32; 3]>,
    /// The point on the other side of the body; those on its middle are their own.
    pub mirror: Vec<u32>,
}

/// Values of the field at the corners of cells near the surface.
struct Grid {
    size: IVec3,
    nodes: Vec<DVec3>,
    values: Vec<f64>,
}

impl Grid {
    /// Place of a corner.
    fn index(&self, c: IVec3) -> usize {
        ((c.x * self.size.y + c.y) * self.size.z + c.z) as usize
    }
    /// The corner at a place.
    fn cell(&self, index: usize) -> IVec3 {
        let (i, z) = (index as i32 / self.size.z, index as i32 % self.size.z);
        IVec3::new(i / self.size.y, i % self.size.y, z)
    }
}

/// Corner bit of a cell: 4 i + 2 j + k.
fn corner(bit: usize) -> IVec3 {
    IVec3::new((bit >> 2 & 1) as i32, (bit >> 1 & 1) as i32, (bit & 1) as i32)
}

/// The 12 edges of a cell as corner bits.
const EDGES: [(usize, usize); 12] = [(0, 1), (0, 2), (0, 4), (1, 3), (1, 5), (2, 3), (2, 6), (3, 7), (4, 5), (4, 6), (5, 7), (6, 7)];

/// For each of the 256 sign cases: the patch of every edge (255 = not crossed), and the number of patches.
/// On a face with four crossings the inside corners are kept apart, by the same rule for both cells of the face.
fn patch_table() -> Vec<([u8; 12], u8)> {
    (0..256usize).map(patches_of).collect()
}

fn patches_of(case: usize) -> ([u8; 12], u8) {
    let inside = |q: usize| case >> q & 1 == 1;
    let mut parent: [usize; 12] = std::array::from_fn(|n| n);
    fn root(parent: &[usize; 12], mut n: usize) -> usize {
        while parent[n] != n {
            n = parent[n];
        }
        n
    }
    let crossed: Vec<usize> = (0..12).filter(|&n| inside(EDGES[n].0) != inside(EDGES[n].1)).collect();
    for axis in [4, 2, 1] {
        for value in [0, axis] {
            let on_face = |q: usize| q & axis == value;
            let face: Vec<usize> = crossed.iter().copied().filter(|&n| on_face(EDGES[n].0) && on_face(EDGES[n].1)).collect();
            let mut join = |a: usize, b: usize| {
                let (a, b) = (root(&parent, a), root(&parent, b));
                parent[a] = b;
            };
            if face.len() == 2 {
                join(face[0], face[1]);
            } else if face.len() == 4 {
                for q in (0..8).filter(|&q| on_face(q) && inside(q)) {
                    let own: Vec<usize> = face.iter().copied().filter(|&n| EDGES[n].0 == q || EDGES[n].1 == q).collect();
                    join(own[0], own[1]);
                }
            }
        }
    }
    let mut roots: Vec<usize> = crossed.iter().map(|&n| root(&parent, n)).collect();
    roots.sort_unstable();
    roots.dedup();
    let mut table = [255u8; 12];
    for &n in &crossed {
        table[n] = roots.iter().position(|r| *r == root(&parent, n)).unwrap_or(0) as u8;
    }
    (table, roots.len() as u8)
}

/// Meshes the field with cells of `h` cm.
pub(crate) fn surface_nets(field: &Field, h: f64) -> MirroredMesh {
    let mut grid = build_grid(field, h);
    let table = patch_table();
    for round in 0..=6 {
        let net = connect(&grid, &table);
        if net.overfull.is_empty() || round == 6 {
            return mirrored(net);
        }
        for node in net.overfull {
            grid.values[node] = -1e-3;
        }
    }
    unreachable!("the loop returns in its last round")
}

/// Samples the field with cells of h cm.
fn build_grid(field: &Field, h: f64) -> Grid {
    let f = field.f;
    let arm = &field.arm;
    let tip = arm.shoulder + arm.along * (arm.length + 19.0 * arm.hand_unit);
    let size = IVec3::new(
        ((tip.x + 8.0 * f) / h).ceil() as i32 + 2,
        ((field.stature + 6.0 * h) / h).ceil() as i32,
        ((44.0 * f) / h).ceil() as i32,
    );
    let mut hand = arm.shoulder + arm.along * (arm.length + 9.0 * arm.hand_unit);
    hand.z += 4.0 * f;
    let base = field.leg.foot_base;
    let foot = DVec3::new(base.x + f, 1.5 * f, base.y + 10.0 * f);
    let drawn = [(hand, 0.66), (foot, 0.55)];
    let node = |c: IVec3| {
        let p = DVec3::new((f64::from(c.x) - 0.5) * h, (f64::from(c.y) - 3.0) * h, f64::from(c.z) * h - 20.0 * f);
        let mut moved = p;
        for (centre, strength) in drawn {
            for centre in [centre, DVec3::new(-centre.x, centre.y, centre.z)] {
                let q = p - centre;
                moved -= q * strength * (-q.length_squared() / (12.5 * f * 12.5 * f)).exp();
            }
        }
        moved.x *= 1.0 - thigh_gap(field, p);
        moved
    };
    let count = (size.x * size.y * size.z) as usize;
    let mut grid = Grid { size, nodes: Vec::new(), values: Vec::new() };
    grid.nodes = (0..count).into_par_iter().map(|i| node(grid.cell(i))).collect();
    grid.values = sparse_values(field, &grid, h);
    grid
}

/// How much nodes are drawn towards x = 0: cells must be thinner than the gap between the thighs.
fn thigh_gap(field: &Field, p: DVec3) -> f64 {
    let (f, crotch) = (field.f, field.trunk.crotch);
    let low = smoothstep(crotch - 26.0 * f, crotch - 16.0 * f, p.y);
    let high = 1.0 - smoothstep(crotch + 1.0 * f, crotch + 6.0 * f, p.y);
    0.72 * low * high * (-p.x * p.x / (2.6 * f * 2.6 * f)).exp()
}

/// Every fourth node first, all nodes only where the surface may be near.
fn sparse_values(field: &Field, grid: &Grid, h: f64) -> Vec<f64> {
    const STRIDE: i32 = 4;
    let coarse_size = grid.size.map(|n| (n - 1) / STRIDE + 2);
    let coarse_index = |c: IVec3| ((c.x * coarse_size.y + c.y) * coarse_size.z + c.z) as usize;
    let coarse: Vec<f64> = (0..(coarse_size.x * coarse_size.y * coarse_size.z) as usize)
        .into_par_iter()
        .map(|i| {
            let (j, z) = (i as i32 / coarse_size.z, i as i32 % coarse_size.z);
            let c = (IVec3::new(j / coarse_size.y, j % coarse_size.y, z) * STRIDE).min(grid.size - 1);
            field.distance(grid.nodes[grid.index(c)])
        })
        .collect();
    (0..grid.nodes.len())
        .into_par_iter()
        .map(|i| {
            let near = coarse[coarse_index((grid.cell(i) + STRIDE / 2) / STRIDE)];
            if near.abs() < 5.2 * h + 3.0 { field.distance(grid.nodes[i]) } else { near }
        })
        .collect()
}

/// Nodes and quads of the surface.
struct Net {
    points: Vec<DVec3>,
    quads: Vec<[u32; 4]>,
    /// Outside nodes to be filled, because a dual edge would carry more than two quads.
    overfull: Vec<usize>,
}

/// One node for each patch of a cell, one quad for each edge that is crossed.
fn connect(grid: &Grid, table: &[([u8; 12], u8)]) -> Net {
    let cells = grid.size - 1;
    let inside = |c: IVec3| grid.values[grid.index(c)] < 0.0;
    let mut first = vec![u32::MAX; grid.nodes.len()];
    let mut case = vec![0u8; grid.nodes.len()];
    let (mut points, mut owner) = (Vec::new(), Vec::new());
    for x in 0..cells.x {
        for y in 0..cells.y {
            for z in 0..cells.z {
                let c = IVec3::new(x, y, z);
                let code = (0..8).fold(0usize, |code, q| code | usize::from(inside(c + corner(q))) << q);
                if code == 0 || code == 255 {
                    continue;
                }
                let at = grid.index(c);
                (first[at], case[at]) = (points.len() as u32, code as u8);
                let (patch, count) = table[code];
                for k in 0..count {
                    let mut mean = patch_mean(grid, c, &patch, k);
                    if x == 0 {
                        mean.x = 0.0;
                    }
                    points.push(mean);
                    owner.push(c);
                }
            }
        }
    }
    let quads = quads(grid, table, &first, &case);
    let overfull = overfull_nodes(grid, &quads, &owner);
    Net { points, quads, overfull }
}

/// Mean of the linear edge crossings of one patch.
fn patch_mean(grid: &Grid, cell: IVec3, patch: &[u8; 12], k: u8) -> DVec3 {
    let (mut sum, mut count) = (DVec3::ZERO, 0.0);
    for (n, &(p, q)) in EDGES.iter().enumerate().filter(|(n, _)| patch[*n] == k) {
        let _ = n;
        let (a, b) = (grid.index(cell + corner(p)), grid.index(cell + corner(q)));
        let t = grid.values[a] / (grid.values[a] - grid.values[b]);
        sum += grid.nodes[a].lerp(grid.nodes[b], t);
        count += 1.0;
    }
    sum / count
}

/// One quad per crossed grid edge with x > -h/2.
fn quads(grid: &Grid, table: &[([u8; 12], u8)], first: &[u32], case: &[u8]) -> Vec<[u32; 4]> {
    let axes = [IVec3::X, IVec3::Y, IVec3::Z];
    let mut quads = Vec::new();
    for d in 0..3 {
        let (u, w) = (axes[(d + 1) % 3], axes[(d + 2) % 3]);
        let low = IVec3::ONE - axes[d];
        for x in low.x..grid.size.x - 1 {
            for y in low.y..grid.size.y - 1 {
                for z in low.z..grid.size.z - 1 {
                    let node = IVec3::new(x, y, z);
                    let a = grid.values[grid.index(node)] < 0.0;
                    if a == (grid.values[grid.index(node + axes[d])] < 0.0) {
                        continue;
                    }
                    let vertex = |du: i32, dw: i32| {
                        let cell = node + u * du + w * dw;
                        let start = u * -du + w * -dw;
                        let bit = |c: IVec3| (c.x * 4 + c.y * 2 + c.z) as usize;
                        let edge = (bit(start), bit(start + axes[d]));
                        let n = EDGES.iter().position(|e| *e == edge).unwrap_or(0);
                        let at = grid.index(cell);
                        first[at] + u32::from(table[case[at] as usize].0[n])
                    };
                    let mut quad = [vertex(-1, -1), vertex(0, -1), vertex(0, 0), vertex(-1, 0)];
                    if !a {
                        quad.reverse();
                    }
                    quads.push(quad);
                }
            }
        }
    }
    quads
}

fn overfull_nodes(grid: &Grid, quads: &[[u32; 4]], owner: &[IVec3]) -> Vec<usize> {
    let mut uses: HashMap<(u32, u32), u32> = HashMap::new();
    for quad in quads {
        for k in 0..4 {
            let (a, b) = (quad[k], quad[(k + 1) % 4]);
            *uses.entry((a.min(b), a.max(b))).or_default() += 1;
        }
    }
    let mut bad = Vec::new();
    for (&(a, b), _) in uses.iter().filter(|(_, n)| **n > 2) {
        let (ca, cb) = (owner[a as usize], owner[b as usize]);
        let step = (ca - cb).abs();
        let high = ca.max(cb);
        let (u, w) = if step.x == 1 {
            (IVec3::Y, IVec3::Z)
        } else if step.y == 1 {
            (IVec3::Z, IVec3::X)
        } else {
            (IVec3::X, IVec3::Y)
        };
        let face = [high, high + u, high + w, high + u + w].map(|c| grid.index(c));
        let weakest = face.into_iter().filter(|&i| grid.values[i] >= 0.0).min_by(|&i, &j| grid.values[i].total_cmp(&grid.values[j]));
        if let Some(node) = weakest {
            bad.push(node);
            // the node columns 0 and 1 are mirror images
            let c = grid.cell(node);
            if c.x < 2 {
                bad.push(grid.index(IVec3::new(1 - c.x, c.y, c.z)));
            }
        }
    }
    bad
}

/// Splits quads along their shorter diagonal, mirrors, and drops all but the largest component.
fn mirrored(net: Net) -> MirroredMesh {
    let n = net.points.len();
    let mut points = net.points;
    let mut mirror: Vec<u32> = (0..n as u32).collect();
    for i in 0..n {
        let p = points[i];
        if p.x != 0.0 {
            mirror[i] = points.len() as u32;
            mirror.push(i as u32);
            points.push(DVec3::new(-p.x, p.y, p.z));
        }
    }
    let mut triangles = Vec::with_capacity(net.quads.len() * 4);
    for q in &net.quads {
        let p = q.map(|i| points[i as usize]);
        let short = (p[0] - p[2]).length_squared() <= (p[1] - p[3]).length_squared();
        triangles.extend(if short { [[q[0], q[1], q[2]], [q[0], q[2], q[3]]] } else { [[q[0], q[1], q[3]], [q[1], q[2], q[3]]] });
    }
    let half = triangles.len();
    for i in 0..half {
        let [a, b, c] = triangles[i].map(|v| mirror[v as usize]);
        triangles.push([c, b, a]);
    }
    largest_component(MirroredMesh { points, triangles, mirror })
}

/// The body without crumbs.
fn largest_component(mesh: MirroredMesh) -> MirroredMesh {
    let n = mesh.points.len();
    let mut parent: Vec<u32> = (0..n as u32).collect();
    fn root(parent: &mut [u32], mut i: u32) -> u32 {
        while parent[i as usize] != i {
            parent[i as usize] = parent[parent[i as usize] as usize];
            i = parent[i as usize];
        }
        i
    }
    for t in &mesh.triangles {
        for k in [1, 2] {
            let (a, b) = (root(&mut parent, t[0]), root(&mut parent, t[k]));
            parent[a.max(b) as usize] = a.min(b);
        }
    }
    let label: Vec<u32> = (0..n as u32).map(|i| root(&mut parent, i)).collect();
    let mut count = vec![0u32; n];
    label.iter().for_each(|l| count[*l as usize] += 1);
    let best = (0..n).max_by_key(|&i| (count[i], n - i)).unwrap_or(0) as u32;
    let mut renumbered = vec![u32::MAX; n];
    let mut points = Vec::new();
    for i in (0..n).filter(|&i| label[i] == best) {
        renumbered[i] = points.len() as u32;
        points.push(mesh.points[i]);
    }
    let triangles = mesh.triangles.iter().filter(|t| label[t[0] as usize] == best).map(|t| t.map(|v| renumbered[v as usize])).collect();
    let mirror = (0..n).filter(|&i| label[i] == best).map(|i| renumbered[mesh.mirror[i] as usize]).collect();
    MirroredMesh { points, triangles, mirror }
}
