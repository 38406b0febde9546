//! Constrained Delaunay triangulation of one piece with even triangles and no added boundary points.
//!
//! Interior points start on a jittered hexagonal lattice and are relaxed by a few rounds of averaging with a new
//! triangulation each (spade does the Delaunay work).

use crate::size::SizeField;
use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};
use std::collections::HashSet;

/// Rounds of averaging.
const ROUNDS: usize = 6;
/// Most triangles one piece may be cut into.
const LIMIT: f64 = 400_000.0;

/// A triangulated piece. The points of its loops come first, the outline in order, then those of lines inside.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PlanarMesh {
    pub points: Vec<[f64; 2]>,
    /// Counter-clockwise.
    pub triangles: Vec<[u32; 3]>,
    /// How many points lie on the outline and on cut-outs.
    pub boundary: usize,
    /// The points along every line of the piece, from its start to its end; none for lines that the mesh does not follow.
    pub lines: Vec<Vec<u32>>,
    /// The shares of arc length at which they lie.
    pub shares: Vec<Vec<f64>>,
}

/// The points and edges that a mesh must have.
pub(crate) struct Constraints {
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
    at: [f64; 2],
    id: usize,
}

impl HasPosition for Site {
    type Scalar = f64;
    fn position(&self) -> Point2<f64> {
        Point2::new(self.at[0], self.at[1])
    }
}

/// Triangulates a simple counter-clockwise polygon with interior edges of about `target` (mm).
pub fn triangulate(outline: &[[f64; 2]], target: f64) -> Result<PlanarMesh, String> {
    let n = outline.len();
    let around = (0..n).map(|i| [i as u32, ((i + 1) % n) as u32]).collect();
    let whole = std::iter::once(0..n).collect();
    triangulate_domain(&Constraints { points: outline.to_vec(), loops: whole, around, inside: Vec::new() }, target, true)
}

/// Triangulates the inside of the loops; mesh edges run along all constraints, and grow steadily from finely sampled ones
/// where that is asked for.
pub(crate) fn triangulate_domain(given: &Constraints, target: f64, graded: bool) -> Result<PlanarMesh, String> {
    let loops: Vec<&[[f64; 2]]> = given.loops.iter().map(|range| &given.points[range.clone()]).collect();
    let area: f64 = loops.iter().map(|l| polygon_area(l)).sum();
    if area <= 0.0 || !area.is_finite() {
        return Err("its outline has no area".into());
    }
    if area / (0.433 * target * target) > LIMIT {
        return Err(format!("it would need more than {LIMIT} triangles; choose a coarser mesh"));
    }
    let boundary = given.loops.last().map_or(0, |l| l.end);
    let mut points = given.points.clone();
    let fixed = points.len();
    let bounds: Vec<[usize; 2]> = given.around.iter().chain(&given.inside).map(|e| e.map(|v| v as usize)).collect();
    let field = SizeField::new(given, target);
    if graded && !field.is_even() {
        let points = crate::refine::fill(given, &bounds, &field)?;
        let triangles = inner_triangles(&delaunay(&points, &bounds)?, &given.around);
        return Ok(PlanarMesh { points, triangles, boundary, ..PlanarMesh::default() });
    }
    let spans: Vec<[[f64; 2]; 2]> = given.inside.iter().map(|e| e.map(|v| given.points[v as usize])).collect();
    let clear = |p: [f64; 2], by: f64| spans.iter().all(|[a, b]| to_segment(p, *a, *b) > by * by);
    points.extend(seeds(&loops, target).into_iter().filter(|p| clear(*p, 0.6 * target)));
    let mut net = delaunay(&points, &bounds)?;
    for _ in 0..ROUNDS {
        relax(&mut points, &net, fixed, &|p| inside(p, &loops) && clearance(p, &loops) > 0.35 * target && clear(p, 0.35 * target));
        net = delaunay(&points, &bounds)?;
    }
    let triangles = inner_triangles(&net, &given.around);
    Ok(PlanarMesh { points, triangles, boundary, ..PlanarMesh::default() })
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

/// Jittered lattice points well inside the outline; the jitter is a fixed hash, so the mesh is the same every time.
fn seeds(loops: &[&[[f64; 2]]], target: f64) -> Vec<[f64; 2]> {
    let (low, high) = bounds(loops[0]);
    let row = target * 0.75f64.sqrt();
    let (columns, rows) = (((high[0] - low[0]) / target) as i64 + 2, ((high[1] - low[1]) / row) as i64 + 2);
    let mut found = Vec::new();
    for j in 0..rows {
        for i in 0..columns {
            let shift = if j % 2 == 0 { 0.25 } else { 0.75 };
            let jitter = |salt: i64| (hash(i, j, salt) - 0.5) * 0.5 * target;
            let p = [low[0] + (i as f64 + shift) * target + jitter(1), low[1] + (j as f64 + 0.5) * row + jitter(2)];
            if inside(p, loops) && clearance(p, loops) > 0.6 * target {
                found.push(p);
            }
        }
    }
    found
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

/// Moves points that are not fixed to the middle of their neighbours, where that is allowed.
fn relax(points: &mut [[f64; 2]], net: &Net, fixed: usize, allowed: &dyn Fn([f64; 2]) -> bool) {
    for vertex in net.vertices() {
        let id = vertex.data().id;
        if id < fixed {
            continue;
        }
        let (mut sum, mut count) = ([0.0, 0.0], 0.0);
        for edge in vertex.out_edges() {
            let p = edge.to().data().at;
            sum = [sum[0] + p[0], sum[1] + p[1]];
            count += 1.0;
        }
        let moved = [sum[0] / count, sum[1] / count];
        if allowed(moved) {
            points[id] = moved;
        }
    }
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

pub(crate) fn polygon_area(outline: &[[f64; 2]]) -> f64 {
    let n = outline.len();
    (0..n)
        .map(|i| {
            let (p, q) = (outline[i], outline[(i + 1) % n]);
            0.5 * (p[0] * q[1] - q[0] * p[1])
        })
        .sum()
}

fn bounds(points: &[[f64; 2]]) -> ([f64; 2], [f64; 2]) {
    points.iter().fold(([f64::MAX; 2], [f64::MIN; 2]), |(l, h), p| ([l[0].min(p[0]), l[1].min(p[1])], [h[0].max(p[0]), h[1].max(p[1])]))
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

/// Distance to the nearest loop.
fn clearance(p: [f64; 2], loops: &[&[[f64; 2]]]) -> f64 {
    let to = |around: &&[[f64; 2]]| {
        let n = around.len();
        (0..n).map(|i| to_segment(p, around[i], around[(i + 1) % n])).fold(f64::MAX, f64::min)
    };
    loops.iter().map(to).fold(f64::MAX, f64::min).sqrt()
}

/// Squared distance to a segment.
pub(crate) fn to_segment(p: [f64; 2], a: [f64; 2], b: [f64; 2]) -> f64 {
    let d = [b[0] - a[0], b[1] - a[1]];
    let t = (((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / (d[0] * d[0] + d[1] * d[1])).clamp(0.0, 1.0);
    let e = [p[0] - a[0] - t * d[0], p[1] - a[1] - t * d[1]];
    e[0] * e[0] + e[1] * e[1]
}
