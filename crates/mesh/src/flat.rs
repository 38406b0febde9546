//! Constrained Delaunay triangulation of one outline with even triangles and no added boundary points.
//!
//! Interior points start on a jittered hexagonal lattice and are relaxed by a few rounds of averaging with a new
//! triangulation each (spade does the Delaunay work).

use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};

/// Rounds of averaging.
const ROUNDS: usize = 6;
/// Most triangles one piece may be cut into.
const LIMIT: f64 = 400_000.0;

/// A triangulated piece. The first `boundary` points are the outline in order, counter-clockwise like the triangles.
#[derive(Clone, Debug, PartialEq)]
pub struct FlatMesh {
    pub points: Vec<[f64; 2]>,
    pub triangles: Vec<[u32; 3]>,
    pub boundary: usize,
    /// The points along every inside line, from one end to the other; mesh edges run between them.
    pub lines: Vec<Vec<u32>>,
}

#[derive(Clone, Copy)]
struct Site {
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
pub fn triangulate(outline: &[[f64; 2]], target: f64) -> Result<FlatMesh, String> {
    triangulate_with_lines(outline, &[], target)
}

/// The same with straight lines inside, each from one point of the outline to another, along which mesh edges run.
pub fn triangulate_with_lines(outline: &[[f64; 2]], lines: &[[usize; 2]], target: f64) -> Result<FlatMesh, String> {
    let area = polygon_area(outline);
    if area <= 0.0 || !area.is_finite() {
        return Err("its outline has no area".into());
    }
    if area / (0.433 * target * target) > LIMIT {
        return Err(format!("it would need more than {LIMIT} triangles; choose a coarser mesh"));
    }
    let boundary = outline.len();
    let mut points = outline.to_vec();
    let lines: Vec<Vec<u32>> = lines.iter().map(|ends| sample_line(*ends, &mut points, target)).collect();
    let fixed = points.len();
    let mut bounds: Vec<[usize; 2]> = (0..boundary).map(|i| [i, (i + 1) % boundary]).collect();
    bounds.extend(lines.iter().flat_map(|line| line.windows(2).map(|w| [w[0] as usize, w[1] as usize])));
    let spans: Vec<[[f64; 2]; 2]> = lines.iter().map(|line| [line[0], line[line.len() - 1]].map(|v| points[v as usize])).collect();
    let clear = |p: [f64; 2], by: f64| spans.iter().all(|[a, b]| to_segment(p, *a, *b) > by * by);
    points.extend(seeds(outline, target).into_iter().filter(|p| clear(*p, 0.6 * target)));
    let mut net = delaunay(&points, &bounds)?;
    for _ in 0..ROUNDS {
        relax(&mut points, &net, fixed, &|p| inside(p, outline) && clearance(p, outline) > 0.35 * target && clear(p, 0.35 * target));
        net = delaunay(&points, &bounds)?;
    }
    let triangles = inner_triangles(&net, &points, outline, target);
    Ok(FlatMesh { points, triangles, boundary, lines })
}

/// Adds evenly spaced points between two points; returns all along the line.
fn sample_line([from, to]: [usize; 2], points: &mut Vec<[f64; 2]>, target: f64) -> Vec<u32> {
    let (a, b) = (points[from], points[to]);
    let parts = ((b[0] - a[0]).hypot(b[1] - a[1]) / target).round().max(1.0) as usize;
    let mut along = vec![from as u32];
    for k in 1..parts {
        let t = k as f64 / parts as f64;
        along.push(points.len() as u32);
        points.push([a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t]);
    }
    along.push(to as u32);
    along
}

type Net = ConstrainedDelaunayTriangulation<Site>;

fn delaunay(points: &[[f64; 2]], bounds: &[[usize; 2]]) -> Result<Net, String> {
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
fn seeds(outline: &[[f64; 2]], target: f64) -> Vec<[f64; 2]> {
    let (low, high) = bounds(outline);
    let row = target * 0.75f64.sqrt();
    let (columns, rows) = (((high[0] - low[0]) / target) as i64 + 2, ((high[1] - low[1]) / row) as i64 + 2);
    let mut found = Vec::new();
    for j in 0..rows {
        for i in 0..columns {
            let shift = if j % 2 == 0 { 0.25 } else { 0.75 };
            let jitter = |salt: i64| (hash(i, j, salt) - 0.5) * 0.5 * target;
            let p = [low[0] + (i as f64 + shift) * target + jitter(1), low[1] + (j as f64 + 0.5) * row + jitter(2)];
            if inside(p, outline) && clearance(p, outline) > 0.6 * target {
                found.push(p);
            }
        }
    }
    found
}

/// A fixed pseudo-random number from 0 to 1 for lattice node (i, j).
fn hash(i: i64, j: i64, salt: i64) -> f64 {
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

/// Faces inside the outline. Rounding leaves hair-thin faces outside of straight edges; they have no area and are left out.
fn inner_triangles(net: &Net, points: &[[f64; 2]], outline: &[[f64; 2]], target: f64) -> Vec<[u32; 3]> {
    let mut triangles: Vec<[u32; 3]> = net
        .inner_faces()
        .map(|face| face.vertices().map(|v| v.data().id as u32))
        .filter(|t| {
            let [a, b, c] = t.map(|i| points[i as usize]);
            let twice = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
            twice > 1e-6 * target * target && inside([(a[0] + b[0] + c[0]) / 3.0, (a[1] + b[1] + c[1]) / 3.0], outline)
        })
        .collect();
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

fn inside(p: [f64; 2], outline: &[[f64; 2]]) -> bool {
    let n = outline.len();
    let mut odd = false;
    for i in 0..n {
        let (a, b) = (outline[i], outline[(i + 1) % n]);
        if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < a[0] + (p[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]) {
            odd = !odd;
        }
    }
    odd
}

/// Distance to the outline.
fn clearance(p: [f64; 2], outline: &[[f64; 2]]) -> f64 {
    let n = outline.len();
    (0..n).map(|i| to_segment(p, outline[i], outline[(i + 1) % n])).fold(f64::MAX, f64::min).sqrt()
}

/// Squared distance to a segment.
fn to_segment(p: [f64; 2], a: [f64; 2], b: [f64; 2]) -> f64 {
    let d = [b[0] - a[0], b[1] - a[1]];
    let t = (((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / (d[0] * d[0] + d[1] * d[1])).clamp(0.0, 1.0);
    let e = [p[0] - a[0] - t * d[0], p[1] - a[1] - t * d[1]];
    e[0] * e[0] + e[1] * e[1]
}
