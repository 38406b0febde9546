//! What is wrong with a foreign mesh, and its mending: points welded, faces turned outwards, holes closed, loose parts gone.

use crate::posing::parts::{cap, rims};
use glam::{DVec3, I64Vec3};
use std::collections::{HashMap, HashSet};

/// Points nearer than this are one, m.
const SAME: f64 = 1e-5;
/// Parts with less than this share of the largest part's area are loose.
const LOOSE: f64 = 0.05;

/// Findings on a mesh; all zero is a clean one.
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, ts_rs::TS)]
pub struct Flaws {
    /// Vertices that lie on another one.
    pub duplicates: usize,
    /// Faces without area or given twice.
    pub empty: usize,
    /// Faces that look inwards.
    pub flipped: usize,
    /// Loops of edges with a triangle on one side only.
    pub holes: usize,
    /// Edges with more than two faces.
    pub crowded: usize,
    /// Parts that hang together with nothing else and are small.
    pub loose: usize,
}

impl Flaws {
    /// Nothing was found.
    pub fn is_clean(&self) -> bool {
        *self == Self::default()
    }
}

/// A mesh with the old vertex of every one; caps have the vertex of their rim.
pub(crate) struct Mesh {
    /// m.
    pub positions: Vec<DVec3>,
    /// Indices into the positions.
    pub triangles: Vec<[u32; 3]>,
    /// For every vertex the one of the file it came from.
    pub old: Vec<u32>,
}

impl Mesh {
    /// As it came.
    pub fn plain(positions: &[DVec3], triangles: &[[u32; 3]]) -> Self {
        Self { positions: positions.to_vec(), triangles: triangles.to_vec(), old: (0..positions.len() as u32).collect() }
    }
}

/// A mesh after what could be mended was.
pub(crate) struct Mended {
    /// Free of what could be mended.
    pub mesh: Mesh,
    /// What was found before.
    pub flaws: Flaws,
}

/// Looks at a mesh as it stands, metres.
pub fn inspect(positions: &[DVec3], triangles: &[[u32; 3]]) -> Flaws {
    mend(positions, triangles).flaws
}

/// Welds doubled points, turns faces outwards, closes holes and drops loose parts.
pub(crate) fn mend(positions: &[DVec3], triangles: &[[u32; 3]]) -> Mended {
    let mut flaws = Flaws::default();
    let (mut mesh, mut faces) = welded(positions, triangles, &mut flaws);
    let neighbours = paired(&mut faces, &mut flaws);
    let part = orient(&mesh.positions, &mut faces, &neighbours, &mut flaws);
    let kept = large_parts(&mesh.positions, &faces, &part, &mut flaws);
    faces = faces.into_iter().zip(&part).filter(|(_, p)| kept.contains(p)).map(|(t, _)| t).collect();
    let mut normals = vec![[0.0f32; 3]; mesh.positions.len()];
    let mut single: Vec<[f32; 3]> = mesh.positions.iter().map(|p| p.as_vec3().to_array()).collect();
    for rim in rims(&faces) {
        flaws.holes += 1;
        cap(&rim, &mut single, &mut normals, &mut faces);
        let middle = rim.iter().map(|&v| mesh.positions[v as usize]).sum::<DVec3>() / rim.len() as f64;
        mesh.positions.push(middle);
        mesh.old.push(mesh.old[rim[0] as usize]);
    }
    mesh.triangles = faces;
    Mended { mesh: used(mesh), flaws }
}

/// Points on one place become one; faces that lose their area or come twice go.
fn welded(positions: &[DVec3], triangles: &[[u32; 3]], flaws: &mut Flaws) -> (Mesh, Vec<[u32; 3]>) {
    let mut cells: HashMap<I64Vec3, u32> = HashMap::new();
    let mut mesh = Mesh { positions: Vec::new(), triangles: Vec::new(), old: Vec::new() };
    let mut new = Vec::with_capacity(positions.len());
    let mut named = vec![false; positions.len()];
    triangles.iter().flatten().for_each(|v| named[*v as usize] = true);
    for (v, p) in positions.iter().enumerate() {
        let cell = (*p / SAME).round().as_i64vec3();
        let next = mesh.positions.len() as u32;
        let own = *cells.entry(cell).or_insert(next);
        if own == next {
            mesh.positions.push(*p);
            mesh.old.push(v as u32);
        } else if named[v] {
            flaws.duplicates += 1;
        }
        new.push(own);
    }
    let mut seen = HashSet::new();
    let mut faces = Vec::with_capacity(triangles.len());
    for t in triangles {
        let t = t.map(|v| new[v as usize]);
        let mut sorted = t;
        sorted.sort_unstable();
        if sorted[0] == sorted[1] || sorted[1] == sorted[2] || !seen.insert(sorted) {
            flaws.empty += 1;
        } else {
            faces.push(t);
        }
    }
    (mesh, faces)
}

/// The face across every edge; faces that would be the third at an edge go.
fn paired(faces: &mut Vec<[u32; 3]>, flaws: &mut Flaws) -> Vec<[Option<u32>; 3]> {
    let edge = |t: &[u32; 3], k: usize| {
        let (a, b) = (t[k], t[(k + 1) % 3]);
        (a.min(b), a.max(b))
    };
    let mut count: HashMap<(u32, u32), u8> = HashMap::new();
    let mut crowded = HashSet::new();
    faces.retain(|t| {
        let full = (0..3).filter(|k| count.get(&edge(t, *k)).is_some_and(|n| *n >= 2)).collect::<Vec<_>>();
        crowded.extend(full.iter().map(|k| edge(t, *k)));
        if full.is_empty() {
            (0..3).for_each(|k| *count.entry(edge(t, k)).or_default() += 1);
        }
        full.is_empty()
    });
    flaws.crowded = crowded.len();
    let mut open: HashMap<(u32, u32), (usize, usize)> = HashMap::new();
    let mut across = vec![[None; 3]; faces.len()];
    for (f, t) in faces.iter().enumerate() {
        for k in 0..3 {
            match open.remove(&edge(t, k)) {
                None => drop(open.insert(edge(t, k), (f, k))),
                Some((g, j)) => {
                    across[f][k] = Some(g as u32);
                    across[g][j] = Some(f as u32);
                }
            }
        }
    }
    across
}

/// Turns faces so that neighbours agree and every part looks outwards; returns the part of every face.
fn orient(positions: &[DVec3], faces: &mut [[u32; 3]], across: &[[Option<u32>; 3]], flaws: &mut Flaws) -> Vec<u32> {
    let mut part = vec![u32::MAX; faces.len()];
    let mut turned = vec![false; faces.len()];
    let mut count = 0;
    for seed in 0..faces.len() {
        if part[seed] != u32::MAX {
            continue;
        }
        let mut members = vec![seed];
        part[seed] = count;
        let mut at = 0;
        while at < members.len() {
            let f = members[at];
            at += 1;
            let t = faces[f];
            for (k, next) in across[f].iter().enumerate() {
                let Some(g) = next.map(|g| g as usize).filter(|g| part[*g] == u32::MAX) else { continue };
                let (a, b) = (t[k], t[(k + 1) % 3]);
                // as the file has them, neighbours walk their common edge in opposite directions
                let same_way = (0..3).any(|j| faces[g][j] == a && faces[g][(j + 1) % 3] == b);
                turned[g] = turned[f] != same_way;
                part[g] = count;
                members.push(g);
            }
        }
        let volume: f64 = members
            .iter()
            .map(|&f| if turned[f] { -1.0 } else { 1.0 } * signed_volume(positions, faces[f], positions[faces[seed][0] as usize]))
            .sum();
        for &f in &members {
            turned[f] ^= volume < 0.0;
        }
        count += 1;
    }
    for (t, turn) in faces.iter_mut().zip(&turned) {
        if *turn {
            t.swap(1, 2);
            flaws.flipped += 1;
        }
    }
    part
}

/// Of the tetrahedron with the origin; positive when the triangle faces away from it.
fn signed_volume(positions: &[DVec3], t: [u32; 3], origin: DVec3) -> f64 {
    let [a, b, c] = t.map(|v| positions[v as usize] - origin);
    a.dot(b.cross(c)) / 6.0
}

/// Parts that are not loose.
fn large_parts(positions: &[DVec3], faces: &[[u32; 3]], part: &[u32], flaws: &mut Flaws) -> HashSet<u32> {
    let mut area: HashMap<u32, f64> = HashMap::new();
    for (t, p) in faces.iter().zip(part) {
        let [a, b, c] = t.map(|v| positions[v as usize]);
        *area.entry(*p).or_default() += 0.5 * (b - a).cross(c - a).length();
    }
    let largest = area.values().fold(0.0f64, |a, b| a.max(*b));
    flaws.loose = area.values().filter(|a| **a < LOOSE * largest).count();
    area.into_iter().filter(|(_, a)| *a >= LOOSE * largest).map(|(p, _)| p).collect()
}

/// Without vertices that no face names.
fn used(mesh: Mesh) -> Mesh {
    let mut number = vec![u32::MAX; mesh.positions.len()];
    let mut out = Mesh { positions: Vec::new(), triangles: mesh.triangles, old: Vec::new() };
    for v in out.triangles.iter_mut().flatten() {
        let slot = &mut number[*v as usize];
        if *slot == u32::MAX {
            *slot = out.positions.len() as u32;
            out.positions.push(mesh.positions[*v as usize]);
            out.old.push(mesh.old[*v as usize]);
        }
        *v = *slot;
    }
    out
}
