//! A piece in four-sided faces along its grain: a right-angled lattice inside, the points of the outline and of lines inside as they are,
//! Delaunay triangles between them, and of these as many pairs as go together, the squarest first.

use crate::PlanarMesh;
use crate::net::{delaunay, inner_triangles, inside, to_segment};
use std::collections::{BTreeMap, BTreeSet, VecDeque};

/// Lattice points keep this share of an edge from the outline and from lines inside.
const CLEAR: f64 = 0.55;
/// No corner of a four-sided face is wider than this, radians (155 degrees).
const WIDEST: f64 = 2.7;
/// Farthest that a pair is sought for a triangle that was left over, in pairs that change hands.
const FARTHEST: usize = 12;

/// A piece in faces of four sides, and of three where they do not go together.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct QuadMesh {
    /// mm in the flat frame; those of the outline and of lines inside come first, as in the mesh before.
    pub points: Vec<[f64; 2]>,
    /// How many of them are as before.
    pub kept: usize,
    /// Counter-clockwise.
    pub quads: Vec<[u32; 4]>,
    pub triangles: Vec<[u32; 3]>,
}

/// Lays four-sided faces of about `edge` (mm) over a piece, along a direction (radians from x).
pub fn quads(mesh: &PlanarMesh, along: f64, edge: f64) -> Result<QuadMesh, String> {
    let kept = mesh.lines.iter().flatten().map(|v| *v as usize + 1).max().unwrap_or(0).max(mesh.boundary);
    let (around, within) = edges(mesh);
    let fixed: Vec<[usize; 2]> = around.iter().chain(&within).map(|e| e.map(|v| v as usize)).collect();
    let mut points = mesh.points[..kept].to_vec();
    let loops = loops(mesh, &around);
    let loops: Vec<&[[f64; 2]]> = loops.iter().map(Vec::as_slice).collect();
    let clear = |p: [f64; 2]| fixed.iter().all(|[a, b]| to_segment(p, mesh.points[*a], mesh.points[*b]) > (CLEAR * edge).powi(2));
    let (sin, cos) = along.sin_cos();
    let turned: Vec<[f64; 2]> = points.iter().map(|p| [cos * p[0] + sin * p[1], cos * p[1] - sin * p[0]]).collect();
    let ends = |k: usize| {
        let (low, high) = turned.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p[k]), h.max(p[k])));
        ((low / edge).floor() as i64, (high / edge).ceil() as i64)
    };
    let ((left, right), (bottom, top)) = (ends(0), ends(1));
    for j in bottom..=top {
        for i in left..=right {
            let (u, v) = (i as f64 * edge, j as f64 * edge);
            let p = [cos * u - sin * v, sin * u + cos * v];
            if inside(p, &loops) && clear(p) {
                points.push(p);
            }
        }
    }
    let triangles = inner_triangles(&delaunay(&points, &fixed)?, &around);
    let walls: BTreeSet<[u32; 2]> = around.iter().chain(&within).map(|[a, b]| [*a.min(b), *a.max(b)]).collect();
    let (quads, triangles) = paired(&points, &triangles, &walls);
    Ok(QuadMesh { points, kept, quads, triangles })
}

/// Edges of the outline and of cut-outs with the piece on their left, and those of lines inside.
fn edges(mesh: &PlanarMesh) -> (Vec<[u32; 2]>, Vec<[u32; 2]>) {
    let directed: BTreeSet<[u32; 2]> = mesh.triangles.iter().flat_map(|t| (0..3).map(|k| [t[k], t[(k + 1) % 3]])).collect();
    let around: Vec<[u32; 2]> = directed.iter().copied().filter(|[a, b]| !directed.contains(&[*b, *a])).collect();
    let on = |e: &[u32; 2]| directed.contains(e) && directed.contains(&[e[1], e[0]]);
    let within: BTreeSet<[u32; 2]> =
        mesh.lines.iter().flat_map(|l| l.windows(2).map(|w| [w[0].min(w[1]), w[0].max(w[1])])).filter(on).collect();
    (around, within.into_iter().collect())
}

/// The closed rows of points that border edges make.
fn loops(mesh: &PlanarMesh, around: &[[u32; 2]]) -> Vec<Vec<[f64; 2]>> {
    let mut next: BTreeMap<u32, u32> = around.iter().map(|[a, b]| (*a, *b)).collect();
    let mut found: Vec<Vec<[f64; 2]>> = Vec::new();
    while let Some((&start, _)) = next.first_key_value() {
        let (mut row, mut at) = (Vec::new(), start);
        while let Some(to) = next.remove(&at) {
            row.push(mesh.points[at as usize]);
            at = to;
        }
        found.push(row);
    }
    // the outline encloses all others
    found.sort_by(|a, b| crate::planar::polygon_area(b).abs().total_cmp(&crate::planar::polygon_area(a).abs()));
    found
}

/// Pairs of triangles over their common edge, without those over walls.
fn paired(points: &[[f64; 2]], triangles: &[[u32; 3]], walls: &BTreeSet<[u32; 2]>) -> (Vec<[u32; 4]>, Vec<[u32; 3]>) {
    let mut sides: BTreeMap<[u32; 2], Vec<usize>> = BTreeMap::new();
    for (t, corners) in triangles.iter().enumerate() {
        for k in 0..3 {
            let (a, b) = (corners[k], corners[(k + 1) % 3]);
            sides.entry([a.min(b), a.max(b)]).or_default().push(t);
        }
    }
    let mut offers: Vec<(f64, usize, usize)> = Vec::new();
    let mut beside: Vec<Vec<usize>> = vec![Vec::new(); triangles.len()];
    for (edge, both) in &sides {
        let ([s, t], false) = (&both[..], walls.contains(edge)) else { continue };
        if let Some(off) = off_square(points, joined(triangles[*s], triangles[*t])) {
            offers.push((off, *s, *t));
            beside[*s].push(*t);
            beside[*t].push(*s);
        }
    }
    offers.sort_by(|a, b| a.0.total_cmp(&b.0).then((a.1, a.2).cmp(&(b.1, b.2))));
    let mut partner: Vec<Option<usize>> = vec![None; triangles.len()];
    for (_, s, t) in offers {
        if partner[s].is_none() && partner[t].is_none() {
            (partner[s], partner[t]) = (Some(t), Some(s));
        }
    }
    for t in 0..triangles.len() {
        if partner[t].is_none() {
            hand_on(t, &beside, &mut partner);
        }
    }
    let mut quads = Vec::new();
    let mut left = Vec::new();
    for (t, corners) in triangles.iter().enumerate() {
        match partner[t] {
            Some(other) if other > t => quads.push(joined(*corners, triangles[other])),
            Some(_) => {}
            None => left.push(*corners),
        }
    }
    (quads, left)
}

/// Finds another triangle that was left over, along a row of pairs that each change their partner, and pairs all anew.
fn hand_on(start: usize, beside: &[Vec<usize>], partner: &mut [Option<usize>]) {
    // from which triangle each one was reached; only every second of a row is entered
    let mut from: BTreeMap<usize, (usize, usize)> = BTreeMap::new();
    let mut queue = VecDeque::from([(start, 0)]);
    let mut seen: BTreeSet<usize> = [start].into();
    while let Some((t, depth)) = queue.pop_front() {
        for &next in &beside[t] {
            if !seen.insert(next) {
                continue;
            }
            match partner[next] {
                None => {
                    // back along the row, each pair anew
                    let (mut one, mut other) = (t, next);
                    loop {
                        (partner[one], partner[other]) = (Some(other), Some(one));
                        match from.get(&one) {
                            Some(&(before, middle)) => (one, other) = (before, middle),
                            None => return,
                        }
                    }
                }
                Some(far) if depth < FARTHEST && seen.insert(far) => {
                    from.insert(far, (t, next));
                    queue.push_back((far, depth + 1));
                }
                Some(_) => {}
            }
        }
    }
}

/// The corners of two triangles with a common edge, around both; the first corner lies on the edge.
fn joined(s: [u32; 3], t: [u32; 3]) -> [u32; 4] {
    let apart = |a: [u32; 3], b: [u32; 3]| (0..3).find(|k| !b.contains(&a[*k])).unwrap_or(0);
    let (k, far) = (apart(s, t), t[apart(t, s)]);
    [s[(k + 1) % 3], far, s[(k + 2) % 3], s[k]]
}

/// How far the worst corner is from a right angle, radians; none when it is not a face that may be.
fn off_square(points: &[[f64; 2]], quad: [u32; 4]) -> Option<f64> {
    let corner = |k: usize| {
        let [before, at, after] = [quad[(k + 3) % 4], quad[k], quad[(k + 1) % 4]].map(|v| points[v as usize]);
        let (u, v) = ([after[0] - at[0], after[1] - at[1]], [before[0] - at[0], before[1] - at[1]]);
        (u[0] * v[1] - u[1] * v[0]).atan2(u[0] * v[0] + u[1] * v[1])
    };
    let angles = [0, 1, 2, 3].map(corner);
    let right = std::f64::consts::FRAC_PI_2;
    angles.iter().all(|a| *a > 0.0 && *a < WIDEST).then(|| angles.iter().map(|a| (a - right).abs()).fold(0.0, f64::max))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn area(points: &[[f64; 2]], face: &[u32]) -> f64 {
        let outline: Vec<[f64; 2]> = face.iter().map(|v| points[*v as usize]).collect();
        crate::planar::polygon_area(&outline)
    }

    /// A disc or another round shape as the mesher cuts it, with its line as it would be in a piece.
    fn cut(outline: &[[f64; 2]], edge: f64) -> PlanarMesh {
        let mut mesh = crate::triangulate(outline, edge).expect("it is cut");
        mesh.lines = vec![(0..outline.len() as u32).chain([0]).collect()];
        mesh
    }

    #[test]
    fn a_rectangle_is_squares_and_a_disc_nearly_so() {
        let rectangle: Vec<[f64; 2]> = {
            let row = |n: usize, at: &dyn Fn(f64) -> [f64; 2]| (0..n).map(|k| at(k as f64 / n as f64)).collect::<Vec<_>>();
            let sides: [Vec<[f64; 2]>; 4] = [
                row(20, &|t| [400.0 * t, 0.0]),
                row(15, &|t| [400.0, 300.0 * t]),
                row(20, &|t| [400.0 - 400.0 * t, 300.0]),
                row(15, &|t| [0.0, 300.0 - 300.0 * t]),
            ];
            sides.concat()
        };
        let disc: Vec<[f64; 2]> =
            (0..60).map(|k| (f64::from(k) / 60.0 * std::f64::consts::TAU).sin_cos()).map(|(s, c)| [200.0 * c, 200.0 * s]).collect();
        for (outline, along, whole) in [(&rectangle, 0.0, 1.0), (&rectangle, 0.5, 0.87), (&disc, 0.3, 0.9)] {
            let mesh = cut(outline, 20.0);
            let made = quads(&mesh, along, 20.0).expect("quads");
            assert_eq!(made.points[..made.kept], mesh.points[..made.kept], "the outline stays");
            let share = made.quads.len() as f64 / (made.quads.len() + made.triangles.len()) as f64;
            assert!(share >= whole, "{share} along {along}: {} quads, {} triangles", made.quads.len(), made.triangles.len());
            // all faces the right way round, and together the whole piece
            let areas: Vec<f64> =
                made.quads.iter().map(|q| area(&made.points, q)).chain(made.triangles.iter().map(|t| area(&made.points, t))).collect();
            assert!(areas.iter().all(|a| *a > 0.0));
            let total = crate::planar::polygon_area(outline);
            assert!((areas.iter().sum::<f64>() / total - 1.0).abs() < 1e-9);
            let wide = made.quads.iter().filter(|q| off_square(&made.points, **q).is_none_or(|off| off > 45f64.to_radians())).count();
            assert!((wide as f64) < 0.1 * made.quads.len() as f64, "{wide} of {}", made.quads.len());
        }
    }

    #[test]
    fn pairs_change_hands_so_that_none_is_left_over() {
        // a row of six: paired from the middle the two ends would be left
        let beside = vec![vec![1], vec![0, 2], vec![1, 3], vec![2, 4], vec![3, 5], vec![4]];
        let mut partner = vec![None, Some(2), Some(1), Some(4), Some(3), None];
        hand_on(0, &beside, &mut partner);
        assert_eq!(partner, [Some(1), Some(0), Some(3), Some(2), Some(5), Some(4)]);
    }
}
