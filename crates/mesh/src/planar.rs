//! Constrained Delaunay triangulation of one piece with even triangles and no added boundary points.
//!
//! Interior points start on a jittered hexagonal lattice and are relaxed by a few rounds of averaging with a new
//! triangulation each (spade does the Delaunay work).

use crate::net::{Constraints, Net, delaunay, hash, inner_triangles, inside, to_segment};
use crate::size::SizeField;
use spade::Triangulation;

/// Rounds of averaging.
const ROUNDS: usize = 6;
/// A least angle below this asks for another way of filling, radians (17 degrees).
const SHARP: f64 = 0.3;
/// Most triangles one piece may be cut into.
const LIMIT: f64 = 400_000.0;

/// A triangulated piece. The points of its loops come first, the outline in order, then those of lines inside.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PlanarMesh {
    /// mm in the flat frame of the piece.
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
    let filled = || -> Result<PlanarMesh, String> {
        let points = crate::refine::fill(given, &bounds, &field)?;
        let triangles = inner_triangles(&delaunay(&points, &bounds)?, &given.around);
        Ok(PlanarMesh { points, triangles, boundary, ..PlanarMesh::default() })
    };
    if graded && !field.is_even() {
        return filled();
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
    let mesh = PlanarMesh { points, triangles, boundary, ..PlanarMesh::default() };
    // a corner that the lattice met badly: filled point by point instead, where that is better
    if graded && least(&mesh) < SHARP {
        let other = filled()?;
        if least(&other) > least(&mesh) {
            return Ok(other);
        }
    }
    Ok(mesh)
}

/// The least angle of a mesh, radians.
fn least(mesh: &PlanarMesh) -> f64 {
    let angle = |t: &[u32; 3]| {
        let [a, b, c] = t.map(|v| mesh.points[v as usize]);
        crate::refine::least_angle(a, b, c)
    };
    mesh.triangles.iter().map(angle).fold(f64::MAX, f64::min)
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

/// Distance to the nearest loop.
fn clearance(p: [f64; 2], loops: &[&[[f64; 2]]]) -> f64 {
    let to = |around: &&[[f64; 2]]| {
        let n = around.len();
        (0..n).map(|i| to_segment(p, around[i], around[(i + 1) % n])).fold(f64::MAX, f64::min)
    };
    loops.iter().map(to).fold(f64::MAX, f64::min).sqrt()
}
