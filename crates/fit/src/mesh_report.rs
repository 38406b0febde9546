//! What a mesh is like, for whoever takes it over: sizes, angles, edges that are open or shared by too many, what is loose, turned
//! over or doubled, and parts that only touch.

use crate::vector::{cross, dot, sub};
use std::collections::{BTreeMap, HashMap};

/// Vertices nearer than this are at the same place, m.
const SAME: f64 = 1e-5;

/// The findings on a mesh.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct MeshReport {
    pub vertices: usize,
    pub triangles: usize,
    /// Shortest, middle and longest edge, m.
    pub edges: [f64; 3],
    /// Smallest and largest angle of all triangles, degrees.
    pub angles: [f64; 2],
    /// Edges of one triangle only.
    pub open_edges: usize,
    /// Edges of more than two.
    pub shared_edges: usize,
    /// Edges whose two triangles face opposite ways.
    pub turned_edges: usize,
    /// Triangles without area.
    pub flat_triangles: usize,
    /// Vertices of no triangle.
    pub loose_vertices: usize,
    /// Groups of vertices at one place.
    pub doubled_vertices: usize,
    /// Triangles of every connected part, the largest first.
    pub parts: Vec<usize>,
    /// Open edges that lie along an open edge of another part, or of the same, without being joined: what would fall apart.
    pub touching: Vec<[u32; 2]>,
}

/// Looks at a mesh, m.
pub fn mesh_report(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> MeshReport {
    let at = |v: u32| positions[v as usize].map(f64::from);
    let distance = |a: u32, b: u32| {
        let d = sub(at(a), at(b));
        dot(d, d).sqrt()
    };
    let mut report = MeshReport { vertices: positions.len(), triangles: triangles.len(), ..MeshReport::default() };
    // of every edge, how often it is walked in its own direction and against it
    let mut walked: BTreeMap<[u32; 2], [usize; 2]> = BTreeMap::new();
    let mut used = vec![false; positions.len()];
    let mut angles = [180.0f64, 0.0];
    for t in triangles {
        let [a, b, c] = t.map(at);
        let n = cross(sub(b, a), sub(c, a));
        if dot(n, n) == 0.0 {
            report.flat_triangles += 1;
        }
        for k in 0..3 {
            let (a, b, c) = (t[k], t[(k + 1) % 3], t[(k + 2) % 3]);
            used[a as usize] = true;
            walked.entry([a.min(b), a.max(b)]).or_default()[usize::from(a > b)] += 1;
            let (to, from) = (sub(at(b), at(a)), sub(at(c), at(a)));
            let cos = dot(to, from) / (dot(to, to) * dot(from, from)).sqrt();
            if cos.is_finite() {
                let angle = cos.clamp(-1.0, 1.0).acos().to_degrees();
                angles = [angles[0].min(angle), angles[1].max(angle)];
            }
        }
    }
    report.angles = if triangles.is_empty() { [0.0; 2] } else { angles };
    let mut lengths: Vec<f64> = walked.keys().map(|[a, b]| distance(*a, *b)).collect();
    lengths.sort_by(f64::total_cmp);
    if let (Some(first), Some(last)) = (lengths.first(), lengths.last()) {
        report.edges = [*first, lengths[lengths.len() / 2], *last];
    }
    for [with, against] in walked.values() {
        match with + against {
            1 => report.open_edges += 1,
            2 if with != against => report.turned_edges += 1,
            0 | 2 => {}
            _ => report.shared_edges += 1,
        }
    }
    report.loose_vertices = used.iter().filter(|u| !**u).count();
    let place = places(positions);
    let mut together: HashMap<u32, usize> = HashMap::new();
    place.iter().for_each(|p| *together.entry(*p).or_default() += 1);
    report.doubled_vertices = together.values().filter(|n| **n > 1).count();
    report.parts = parts(positions.len(), triangles);
    let open: Vec<[u32; 2]> = walked.iter().filter(|(_, w)| w[0] + w[1] == 1).map(|(e, _)| *e).collect();
    let ends = |e: &[u32; 2]| {
        let [a, b] = e.map(|v| place[v as usize]);
        [a.min(b), a.max(b)]
    };
    let mut along: HashMap<[u32; 2], usize> = HashMap::new();
    open.iter().for_each(|e| *along.entry(ends(e)).or_default() += 1);
    report.touching = open.into_iter().filter(|e| along[&ends(e)] > 1).collect();
    report
}

/// By vertex, the first that lies at the same place.
fn places(positions: &[[f32; 3]]) -> Vec<u32> {
    let cell = |p: &[f32; 3]| p.map(|v| (f64::from(v) / SAME).floor() as i64);
    let mut cells: HashMap<[i64; 3], Vec<u32>> = HashMap::new();
    let mut found = Vec::with_capacity(positions.len());
    for (i, p) in positions.iter().enumerate() {
        let home = cell(p);
        let near = (0..27).filter_map(|k| cells.get(&[home[0] + k % 3 - 1, home[1] + k / 3 % 3 - 1, home[2] + k / 9 - 1]));
        let same = |v: &&u32| {
            let d = sub(positions[**v as usize].map(f64::from), p.map(f64::from));
            dot(d, d) < SAME * SAME
        };
        let first = near.flatten().filter(same).min().copied();
        found.push(first.unwrap_or(i as u32));
        if first.is_none() {
            cells.entry(home).or_default().push(i as u32);
        }
    }
    found
}

/// Triangles of every part that hangs together by vertices, the largest first.
pub(crate) fn parts(count: usize, triangles: &[[u32; 3]]) -> Vec<usize> {
    let mut sets = crate::sets::Sets::new(count);
    triangles.iter().for_each(|[a, b, c]| {
        sets.join(*b, *a);
        sets.join(*c, *a);
    });
    let mut sizes: BTreeMap<u32, usize> = BTreeMap::new();
    triangles.iter().for_each(|t| *sizes.entry(sets.root(t[0])).or_default() += 1);
    let mut sizes: Vec<usize> = sizes.into_values().collect();
    sizes.sort_unstable_by(|a, b| b.cmp(a));
    sizes
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_squares_that_only_touch_would_fall_apart() {
        let square = |x: f32| [[x, 0.0, 0.0], [x + 1.0, 0.0, 0.0], [x + 1.0, 1.0, 0.0], [x, 1.0, 0.0]];
        let points = [square(0.0), square(1.0)].concat();
        let report = mesh_report(&points, &[[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]]);
        assert_eq!((report.parts, report.open_edges, report.doubled_vertices), (vec![2, 2], 8, 2));
        assert_eq!(report.touching, vec![[1, 2], [4, 7]]);
        assert!((report.angles[0] - 45.0).abs() < 1e-9 && (report.angles[1] - 90.0).abs() < 1e-9);
        assert_eq!((report.edges[0], report.edges[2]), (1.0, 2.0f64.sqrt()));
    }

    #[test]
    fn what_is_turned_over_shared_flat_or_loose_is_counted() {
        let points = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [9.0, 9.0, 9.0]];
        // the second walks the first edge the same way as the first does
        let turned = mesh_report(&points, &[[0, 1, 2], [0, 1, 3]]);
        assert_eq!((turned.turned_edges, turned.loose_vertices, turned.shared_edges), (1, 2, 0));
        let three = mesh_report(&points, &[[0, 1, 2], [1, 0, 3], [0, 1, 4], [0, 1, 1]]);
        assert_eq!((three.shared_edges, three.flat_triangles), (1, 1));
    }

    #[test]
    fn a_closed_box_has_no_open_edges_and_is_one_part() {
        let points: Vec<[f32; 3]> = (0..8).map(|k| [k & 1, (k >> 1) & 1, (k >> 2) & 1].map(|b| b as f32)).collect();
        let faces = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
        let triangles: Vec<[u32; 3]> = faces.iter().flat_map(|[a, b, c, d]| [[*a, *b, *c], [*a, *c, *d]]).collect();
        let report = mesh_report(&points, &triangles);
        assert_eq!((report.open_edges, report.turned_edges, report.shared_edges, report.parts), (0, 0, 0, vec![12]));
        assert!(report.touching.is_empty() && report.doubled_vertices == 0);
    }
}
