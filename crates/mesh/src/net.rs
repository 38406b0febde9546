//! The constrained Delaunay triangulation of points and edges (spade does the work), and which of its faces are cloth.

use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};
use std::collections::HashSet;

/// The points and edges that a mesh must have.
pub(crate) struct Constraints {
    /// mm; fixed ones first, in the order given.
    pub points: Vec<[f64; 2]>,
    /// The points of each loop, in order, the outline first.
    pub loops: Vec<std::ops::Range<usize>>,
    /// Edges of loops: the cloth ends there.
    pub around: Vec<[u32; 2]>,
    /// Edges within the cloth.
    pub inside: Vec<[u32; 2]>,
}

#[derive(Clone, Copy)]
pub(crate) struct Site {
    /// mm.
    pub at: [f64; 2],
    /// Place among the points of the net.
    pub id: usize,
}

impl HasPosition for Site {
    type Scalar = f64;
    fn position(&self) -> Point2<f64> {
        Point2::new(self.at[0], self.at[1])
    }
}

pub(crate) type Net = ConstrainedDelaunayTriangulation<Site>;

pub(crate) fn delaunay(points: &[[f64; 2]], bounds: &[[usize; 2]]) -> Result<Net, String> {
    let sites = points.iter().enumerate().map(|(id, &at)| Site { at, id }).collect();
    let mut conflict = false;
    let net =
        Net::try_bulk_load_cdt(sites, bounds.to_vec(), |_| conflict = true).map_err(|e| format!("its outline cannot be meshed ({e})"))?;
    if conflict {
        return Err("it is too narrow for this fineness, its sampled outline crosses itself; choose a finer mesh".into());
    }
    if net.num_vertices() != points.len() {
        return Err("two of its outline points coincide".into());
    }
    Ok(net)
}

/// Faces inside the loops: walking in from outside, every edge of a loop leads from outside to inside or back.
pub(crate) fn inner_triangles(net: &Net, around: &[[u32; 2]]) -> Vec<[u32; 3]> {
    let edge = |a: u32, b: u32| (a.min(b), a.max(b));
    let walls: HashSet<(u32, u32)> = around.iter().map(|[a, b]| edge(*a, *b)).collect();
    let mut beside: Vec<Vec<(usize, bool)>> = vec![Vec::new(); net.num_all_faces()];
    for half in net.directed_edges() {
        let [a, b] = half.vertices().map(|v| v.data().id as u32);
        beside[half.face().index()].push((half.rev().face().index(), walls.contains(&edge(a, b))));
    }
    let outside = net.outer_face().index();
    let mut side: Vec<Option<bool>> = vec![None; beside.len()];
    side[outside] = Some(false);
    let mut open = vec![(outside, false)];
    while let Some((face, within)) = open.pop() {
        for &(next, wall) in &beside[face] {
            if side[next].is_none() {
                side[next] = Some(within != wall);
                open.push((next, within != wall));
            }
        }
    }
    let mut triangles: Vec<[u32; 3]> =
        net.inner_faces().filter(|face| side[face.index()] == Some(true)).map(|face| face.vertices().map(|v| v.data().id as u32)).collect();
    triangles.sort_unstable();
    triangles
}

/// A fixed pseudo-random number from 0 to 1 for lattice node (i, j).
pub(crate) fn hash(i: i64, j: i64, salt: i64) -> f64 {
    let mut h = (i as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15)
        ^ (j as u64).wrapping_mul(0xC2B2_AE3D_27D4_EB4F)
        ^ (salt as u64).wrapping_mul(0x1656_67B1_9E37_79F9);
    h ^= h >> 29;
    h = h.wrapping_mul(0xBF58_476D_1CE4_E5B9);
    h ^= h >> 32;
    (h >> 11) as f64 / (1u64 << 53) as f64
}

pub(crate) fn inside(p: [f64; 2], loops: &[&[[f64; 2]]]) -> bool {
    let mut odd = false;
    for around in loops {
        let n = around.len();
        for i in 0..n {
            let (a, b) = (around[i], around[(i + 1) % n]);
            if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < a[0] + (p[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]) {
                odd = !odd;
            }
        }
    }
    odd
}

/// Squared distance to a segment.
pub(crate) fn to_segment(p: [f64; 2], a: [f64; 2], b: [f64; 2]) -> f64 {
    let d = [b[0] - a[0], b[1] - a[1]];
    let t = (((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / (d[0] * d[0] + d[1] * d[1])).clamp(0.0, 1.0);
    let e = [p[0] - a[0] - t * d[0], p[1] - a[1] - t * d[1]];
    e[0] * e[0] + e[1] * e[1]
}
