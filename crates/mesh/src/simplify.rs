//! Lighter meshes: edges collapsed onto one of their ends, the one that changes the surface least first (Garland and Heckbert 1997,
//! quadrics of planes). No new places arise, so that texture coordinates stay exact. Borders and seams of the layout are thinned along
//! themselves only, their corners and meetings stay, and no triangle turns over, in space or in the layout.

use glam::DVec3;
use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap};

/// Weight of the planes that stand on borders and seams, against those of triangles.
const EDGE_WEIGHT: f64 = 10.0;
/// Borders that turn by more than this keep their corner: the cosine.
const CORNER: f64 = 0.8;
/// Least cosine between a triangle's normal before and after.
const TURNED: f64 = 0.25;
/// Least height of a triangle over its longest edge.
const SLIVER: f64 = 0.02;

/// A mesh with its layout: a triangle of `flat` (corners in `uvs`) for every one in space.
#[derive(Clone, Copy, Debug)]
pub struct LaidMesh<'a> {
    pub positions: &'a [[f32; 3]],
    pub triangles: &'a [[u32; 3]],
    pub uvs: &'a [[f32; 2]],
    pub flat: &'a [[u32; 3]],
}

/// The triangles that are left, in the order of those they come from; corners are vertices of the mesh before.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Simplified {
    pub triangles: Vec<[u32; 3]>,
    pub flat: Vec<[u32; 3]>,
    /// The triangle that each comes from.
    pub of: Vec<u32>,
}

/// What a vertex may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Kind {
    /// Goes to any neighbour.
    Inner,
    /// Goes along the border, or along the seam.
    Line,
    /// Stays.
    Fixed,
}

/// Collapses edges until there are `budget` triangles at most, or none can go.
pub fn simplify(mesh: &LaidMesh, budget: usize) -> Simplified {
    let mut work = Work::new(mesh);
    let mut queue = BinaryHeap::new();
    for v in 0..mesh.positions.len() as u32 {
        work.offer(v, &mut queue);
    }
    let mut left = work.alive.iter().filter(|a| **a).count();
    while left > budget {
        let Some(Reverse(next)) = queue.pop() else { break };
        if next.stamp != work.stamps[next.from as usize] {
            continue;
        }
        let Some(removed) = work.collapse(next.from, next.to) else { continue };
        left -= removed;
        for v in work.neighbours(next.to).into_iter().chain([next.to]) {
            work.stamps[v as usize] += 1;
            work.offer(v, &mut queue);
        }
    }
    let of: Vec<u32> = (0..work.triangles.len() as u32).filter(|t| work.alive[*t as usize]).collect();
    Simplified {
        triangles: of.iter().map(|t| work.triangles[*t as usize]).collect(),
        flat: of.iter().map(|t| work.flat[*t as usize]).collect(),
        of,
    }
}

/// A collapse that is thought of; the cheapest first, equal ones by number.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Offer {
    cost: f64,
    from: u32,
    to: u32,
    stamp: u32,
}

impl Eq for Offer {}

impl Ord for Offer {
    fn cmp(&self, other: &Self) -> std::cmp::Ordering {
        self.cost.total_cmp(&other.cost).then(self.from.cmp(&other.from)).then(self.to.cmp(&other.to))
    }
}

impl PartialOrd for Offer {
    fn partial_cmp(&self, other: &Self) -> Option<std::cmp::Ordering> {
        Some(self.cmp(other))
    }
}

/// Sum of squared distances from planes: the upper triangle of a symmetric 4 by 4 matrix.
#[derive(Clone, Copy, Default)]
struct Quadric([f64; 10]);

impl Quadric {
    fn plane(n: DVec3, d: f64, weight: f64) -> Self {
        Self([n.x * n.x, n.x * n.y, n.x * n.z, n.x * d, n.y * n.y, n.y * n.z, n.y * d, n.z * n.z, n.z * d, d * d].map(|v| v * weight))
    }

    fn add(&mut self, other: &Self) {
        self.0.iter_mut().zip(other.0).for_each(|(a, b)| *a += b);
    }

    fn at(&self, p: DVec3) -> f64 {
        let q = &self.0;
        p.x * p.x * q[0]
            + 2.0 * p.x * (p.y * q[1] + p.z * q[2] + q[3])
            + p.y * p.y * q[4]
            + 2.0 * p.y * (p.z * q[5] + q[6])
            + p.z * p.z * q[7]
            + 2.0 * p.z * q[8]
            + q[9]
    }
}

/// The triangles on an edge with the texture corners of both ends.
type Sides = Vec<(u32, [u32; 2])>;

struct Work<'a> {
    mesh: LaidMesh<'a>,
    at: Vec<DVec3>,
    triangles: Vec<[u32; 3]>,
    flat: Vec<[u32; 3]>,
    alive: Vec<bool>,
    /// Living triangles of every vertex.
    around: Vec<Vec<u32>>,
    kinds: Vec<Kind>,
    quadrics: Vec<Quadric>,
    stamps: Vec<u32>,
}

impl<'a> Work<'a> {
    fn new(mesh: &LaidMesh<'a>) -> Self {
        let count = mesh.positions.len();
        let at: Vec<DVec3> = mesh.positions.iter().map(|p| DVec3::from(p.map(f64::from))).collect();
        let mut work = Self {
            mesh: *mesh,
            at,
            triangles: mesh.triangles.to_vec(),
            flat: mesh.flat.to_vec(),
            alive: mesh.triangles.iter().map(|[a, b, c]| a != b && b != c && c != a).collect(),
            around: vec![Vec::new(); count],
            kinds: vec![Kind::Inner; count],
            quadrics: vec![Quadric::default(); count],
            stamps: vec![0; count],
        };
        for (k, t) in mesh.triangles.iter().enumerate().filter(|(k, _)| work.alive[*k]) {
            t.iter().for_each(|v| work.around[*v as usize].push(k as u32));
            let [a, b, c] = t.map(|v| work.at[v as usize]);
            let n = (b - a).cross(c - a);
            if let Some(unit) = n.try_normalize() {
                let plane = Quadric::plane(unit, -unit.dot(a), n.length());
                t.iter().for_each(|v| work.quadrics[*v as usize].add(&plane));
            }
        }
        work.classify();
        work
    }

    /// By edge its triangles: what is a border or a seam gets planes that stand on it, and its vertices their kinds.
    fn classify(&mut self) {
        let mut edges: BTreeMap<[u32; 2], Sides> = BTreeMap::new();
        for (k, (t, f)) in self.triangles.iter().zip(&self.flat).enumerate().filter(|(k, _)| self.alive[*k]) {
            for i in 0..3 {
                let j = (i + 1) % 3;
                let (edge, ends) = if t[i] < t[j] { ([t[i], t[j]], [f[i], f[j]]) } else { ([t[j], t[i]], [f[j], f[i]]) };
                edges.entry(edge).or_default().push((k as u32, ends));
            }
        }
        // by vertex, its neighbours along borders and along seams
        let mut lines: Vec<[Vec<u32>; 2]> = vec![Default::default(); self.at.len()];
        for ([a, b], sides) in &edges {
            let line = match &sides[..] {
                [_] => 0,
                [(_, one), (_, other)] if one == other => continue,
                [_, _] => 1,
                // more than two surfaces meet
                _ => {
                    self.kinds[*a as usize] = Kind::Fixed;
                    self.kinds[*b as usize] = Kind::Fixed;
                    continue;
                }
            };
            lines[*a as usize][line].push(*b);
            lines[*b as usize][line].push(*a);
            for (t, _) in sides {
                let [p, q, r] = self.triangles[*t as usize].map(|v| self.at[v as usize]);
                let (from, to) = (self.at[*a as usize], self.at[*b as usize]);
                let normal = (q - p).cross(r - p);
                if let Some(n) = (to - from).cross(normal).try_normalize() {
                    let plane = Quadric::plane(n, -n.dot(from), EDGE_WEIGHT * (to - from).length_squared());
                    self.quadrics[*a as usize].add(&plane);
                    self.quadrics[*b as usize].add(&plane);
                }
            }
        }
        for (v, [border, seam]) in lines.iter().enumerate() {
            let straight = |ends: &[u32]| {
                let [a, b] = [ends[0], ends[1]].map(|w| (self.at[w as usize] - self.at[v]).normalize_or_zero());
                -a.dot(b) > CORNER
            };
            let kind = match (border.len(), seam.len()) {
                (0, 0) => continue,
                (2, 0) if straight(border) => Kind::Line,
                (0, 2) if straight(seam) => Kind::Line,
                _ => Kind::Fixed,
            };
            if self.kinds[v] == Kind::Inner {
                self.kinds[v] = kind;
            }
        }
    }

    /// The triangles on an edge with the texture corners of both ends.
    fn sides(&self, from: u32, to: u32) -> Sides {
        let on = |t: &u32| {
            let (corners, flat) = (self.triangles[*t as usize], self.flat[*t as usize]);
            let i = corners.iter().position(|v| *v == from)?;
            let j = corners.iter().position(|v| *v == to)?;
            Some((*t, [flat[i], flat[j]]))
        };
        self.around[from as usize].iter().filter_map(on).collect()
    }

    /// The vertices with which one shares an edge, ascending.
    fn neighbours(&self, vertex: u32) -> Vec<u32> {
        let corners = self.around[vertex as usize].iter().flat_map(|t| self.triangles[*t as usize]);
        let mut all: Vec<u32> = corners.filter(|v| *v != vertex).collect();
        all.sort_unstable();
        all.dedup();
        all
    }

    /// Whether `from` may go to `to` by what lies between them.
    fn may(&self, from: u32, to: u32) -> bool {
        match self.kinds[from as usize] {
            Kind::Fixed => false,
            Kind::Inner => true,
            Kind::Line => match &self.sides(from, to)[..] {
                // along a border, or along a seam
                [_] => true,
                [(_, one), (_, other)] => one != other,
                _ => false,
            },
        }
    }

    /// Puts the cheapest collapse of a vertex in the queue.
    fn offer(&self, from: u32, queue: &mut BinaryHeap<Reverse<Offer>>) {
        let stamp = self.stamps[from as usize];
        let cost = |to: u32| {
            let short = (self.at[to as usize] - self.at[from as usize]).length_squared();
            // among equals the shortest edge goes
            self.quadrics[from as usize].at(self.at[to as usize]).max(0.0) + 1e-9 * short
        };
        queue.extend(
            self.neighbours(from).into_iter().filter(|to| self.may(from, *to)).map(|to| Reverse(Offer { cost: cost(to), from, to, stamp })),
        );
    }

    /// Moves a vertex onto its neighbour; how many triangles went, or none when it cannot be.
    fn collapse(&mut self, from: u32, to: u32) -> Option<usize> {
        let sides = self.sides(from, to);
        if sides.is_empty() || sides.len() > 2 || !self.may(from, to) {
            return None;
        }
        // what both know must be what lies across the edge alone, or the surface would fold onto itself
        let (mine, theirs) = (self.neighbours(from), self.neighbours(to));
        if mine.iter().filter(|v| theirs.binary_search(v).is_ok()).count() != sides.len() {
            return None;
        }
        let across = |f: u32| sides.iter().find(|(_, [a, _])| *a == f).map(|(_, [_, b])| *b);
        let going: Vec<u32> = sides.iter().map(|(t, _)| *t).collect();
        let mut moved: Vec<(u32, [u32; 3], [u32; 3])> = Vec::new();
        for t in self.around[from as usize].iter().filter(|t| !going.contains(t)) {
            let k = self.triangles[*t as usize].iter().position(|v| *v == from)?;
            let (mut corners, mut flat) = (self.triangles[*t as usize], self.flat[*t as usize]);
            corners[k] = to;
            flat[k] = across(flat[k])?;
            if !self.keeps(*t, corners, flat) {
                return None;
            }
            moved.push((*t, corners, flat));
        }
        for (t, corners, flat) in moved {
            self.triangles[t as usize] = corners;
            self.flat[t as usize] = flat;
            self.around[to as usize].push(t);
        }
        for t in &going {
            self.alive[*t as usize] = false;
            for v in self.triangles[*t as usize] {
                self.around[v as usize].retain(|other| other != t);
            }
        }
        self.around[from as usize].clear();
        let gone = self.quadrics[from as usize];
        self.quadrics[to as usize].add(&gone);
        Some(going.len())
    }

    /// Whether a triangle keeps its side and some height, in space and in the layout.
    fn keeps(&self, t: u32, corners: [u32; 3], flat: [u32; 3]) -> bool {
        let normal = |corners: [u32; 3]| {
            let [a, b, c] = corners.map(|v| self.at[v as usize]);
            let longest = (b - a).length_squared().max((c - b).length_squared()).max((a - c).length_squared());
            ((b - a).cross(c - a), longest)
        };
        let ((before, _), (after, longest)) = (normal(self.triangles[t as usize]), normal(corners));
        if after.length() < SLIVER * longest || before.dot(after) < TURNED * before.length() * after.length() {
            return false;
        }
        let area = |f: [u32; 3]| {
            let [a, b, c] = f.map(|v| self.mesh.uvs[v as usize].map(f64::from));
            (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
        };
        self.mesh.uvs.is_empty() || area(self.flat[t as usize]) * area(flat) > 0.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Positions, places in the layout, triangles of both.
    type Lattice = (Vec<[f32; 3]>, Vec<[f32; 2]>, Vec<[u32; 3]>);

    /// A lattice of n by n squares in the plane, 1 m wide, laid out as it is; bent by `shape`.
    fn lattice(n: u32, shape: impl Fn(f32, f32) -> [f32; 3]) -> Lattice {
        let side = n + 1;
        let at = |k: u32| [(k % side) as f32 / n as f32, (k / side) as f32 / n as f32];
        let uvs: Vec<[f32; 2]> = (0..side * side).map(at).collect();
        let squares = (0..n * n).map(|k| k % n + k / n * side);
        let triangles = squares.flat_map(|a| [[a, a + 1, a + side + 1], [a, a + side + 1, a + side]]).collect();
        (uvs.iter().map(|[u, v]| shape(*u, *v)).collect(), uvs, triangles)
    }

    fn area(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> f64 {
        let of = |t: &[u32; 3]| {
            let [a, b, c] = t.map(|v| DVec3::from(positions[v as usize].map(f64::from)));
            0.5 * (b - a).cross(c - a).length()
        };
        triangles.iter().map(of).sum()
    }

    #[test]
    fn a_plane_needs_few_triangles_and_keeps_its_area_and_layout() {
        let (positions, uvs, triangles) = lattice(16, |u, v| [u, v, 0.0]);
        let found = simplify(&LaidMesh { positions: &positions, triangles: &triangles, uvs: &uvs, flat: &triangles }, 10);
        assert!(found.triangles.len() <= 10, "{}", found.triangles.len());
        assert!((area(&positions, &found.triangles) - 1.0).abs() < 1e-9);
        assert_eq!(found.triangles, found.flat, "corners keep their places in the layout");
        assert!(found.of.is_sorted());
    }

    #[test]
    fn a_bent_sheet_stays_near_itself() {
        let (positions, uvs, triangles) = lattice(40, |u, v| {
            let angle = 2.0 * (u - 0.5);
            [angle.sin(), v, angle.cos()]
        });
        let mesh = LaidMesh { positions: &positions, triangles: &triangles, uvs: &uvs, flat: &triangles };
        for (share, off) in [(2, 2e-4), (8, 3e-3)] {
            let found = simplify(&mesh, triangles.len() / share);
            assert!(found.triangles.len() <= triangles.len() / share, "to the budget: {}", found.triangles.len());
            // corners are on the cylinder; middles of triangles as near as chords are
            for t in &found.triangles {
                let middle: DVec3 = t.iter().map(|v| DVec3::from(positions[*v as usize].map(f64::from))).sum::<DVec3>() / 3.0;
                assert!(middle.x.hypot(middle.z) > 1.0 - off * 4.0, "{middle}");
            }
            assert!((area(&positions, &found.triangles) / area(&positions, &triangles) - 1.0).abs() < off);
        }
    }

    #[test]
    fn seams_are_thinned_on_both_sides_alike_and_borders_stay_closed() {
        // the right half has texture corners of its own
        let n = 12u32;
        let (positions, mut uvs, triangles) = lattice(n, |u, v| [u, v, (3.0 * u).sin() * 0.1]);
        let own = uvs.len() as u32;
        uvs.extend(uvs.clone().iter().map(|[u, v]| [u + 2.0, *v]));
        let right = |t: &[u32; 3]| t.iter().map(|v| positions[*v as usize][0]).sum::<f32>() > 1.5;
        let flat: Vec<[u32; 3]> = triangles.iter().map(|t| if right(t) { t.map(|v| v + own) } else { *t }).collect();
        let found = simplify(&LaidMesh { positions: &positions, triangles: &triangles, uvs: &uvs, flat: &flat }, 60);
        assert!(found.triangles.len() <= 60);
        let mut edges: BTreeMap<[u32; 2], usize> = BTreeMap::new();
        for t in &found.triangles {
            (0..3).for_each(|k| *edges.entry([t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3])]).or_default() += 1);
        }
        assert!(edges.values().all(|n| *n <= 2));
        // every open edge lies on the border: no crack along the seam
        let open = edges.iter().filter(|(_, n)| **n == 1).all(|([a, b], _)| {
            let on = |k: usize, at: f32| [a, b].iter().all(|v| (positions[**v as usize][k] - at).abs() < 1e-6);
            on(0, 0.0) || on(0, 1.0) || on(1, 0.0) || on(1, 1.0)
        });
        assert!(open, "{edges:?}");
        // triangles keep their side of the seam
        for (t, f) in found.triangles.iter().zip(&found.flat) {
            assert!(t.iter().zip(f).all(|(v, f)| *f == *v || *f == *v + own), "{t:?} {f:?}");
            assert!(f.iter().all(|c| (*c >= own) == (f[0] >= own)), "{f:?}");
        }
    }
}
