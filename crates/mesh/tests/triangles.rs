//! Invariants of the triangulation, rebuilt from scratch: a disc of counter-clockwise triangles that covers the
//! outline exactly, adds no boundary point, is Delaunay and even.

use kurbo::{CubicBez, Line, PathSeg};
use mesh::{Domain, PlanarMesh, cut, triangulate};
use proptest::prelude::*;
use std::collections::{HashMap, HashSet};

type P = [f64; 2];

fn twice_area(a: P, b: P, c: P) -> f64 {
    (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
}

fn corners(mesh: &PlanarMesh, t: usize) -> [P; 3] {
    mesh.triangles[t].map(|v| mesh.points[v as usize])
}

fn polygon_area(outline: &[P]) -> f64 {
    (0..outline.len()).map(|i| 0.5 * twice_area([0.0, 0.0], outline[i], outline[(i + 1) % outline.len()])).sum()
}

/// Every directed edge belongs to one triangle; those without a partner are the outline, in its order.
fn check_disc(mesh: &PlanarMesh) {
    let mut edges = HashMap::new();
    for t in &mesh.triangles {
        for k in 0..3 {
            assert!(edges.insert((t[k], t[(k + 1) % 3]), ()).is_none(), "an edge is used twice in the same direction");
        }
    }
    let open: HashSet<_> = edges.keys().filter(|(a, b)| !edges.contains_key(&(*b, *a))).copied().collect();
    let n = mesh.boundary as u32;
    let outline: HashSet<_> = (0..n).map(|i| (i, (i + 1) % n)).collect();
    assert_eq!(open, outline);
    // Euler: V - E + F = 1 for a disc
    let undirected = (edges.len() + open.len()) / 2;
    assert_eq!(mesh.points.len() as i64 - undirected as i64 + mesh.triangles.len() as i64, 1);
}

fn check_covers(mesh: &PlanarMesh, outline: &[P]) {
    assert_eq!(&mesh.points[..mesh.boundary], outline, "the outline is kept point for point");
    let areas: Vec<f64> = (0..mesh.triangles.len())
        .map(|t| {
            0.5 * {
                let [a, b, c] = corners(mesh, t);
                twice_area(a, b, c)
            }
        })
        .collect();
    assert!(areas.iter().all(|a| *a > 0.0), "all triangles run counter-clockwise");
    let (sum, whole) = (areas.iter().sum::<f64>(), polygon_area(outline));
    assert!((sum - whole).abs() < 1e-6 * whole, "{sum} against {whole}");
}

/// No vertex of the neighbour lies inside the circle around a triangle, except across the outline.
fn check_delaunay(mesh: &PlanarMesh) {
    let opposite: HashMap<(u32, u32), u32> =
        mesh.triangles.iter().flat_map(|t| (0..3).map(move |k| ((t[k], t[(k + 1) % 3]), t[(k + 2) % 3]))).collect();
    for t in &mesh.triangles {
        for k in 0..3 {
            let Some(d) = opposite.get(&(t[(k + 1) % 3], t[k])) else { continue };
            let [a, b, c] = t.map(|v| mesh.points[v as usize]);
            let d = mesh.points[*d as usize];
            let row = |p: P| [p[0] - d[0], p[1] - d[1], (p[0] - d[0]).powi(2) + (p[1] - d[1]).powi(2)];
            let [r, s, u] = [row(a), row(b), row(c)];
            let det = r[0] * (s[1] * u[2] - s[2] * u[1]) - r[1] * (s[0] * u[2] - s[2] * u[0]) + r[2] * (s[0] * u[1] - s[1] * u[0]);
            let scale = r[2].max(s[2]).max(u[2]);
            assert!(det < 1e-6 * scale * scale, "not Delaunay by {}", det / (scale * scale));
        }
    }
}

/// A star-shaped outline with the given radii, sampled like a piece: every side in parts of about `target`.
fn star(radii: &[f64], target: f64) -> Vec<P> {
    let n = radii.len();
    let at = |i: usize| {
        let angle = i as f64 / n as f64 * std::f64::consts::TAU;
        [radii[i % n] * angle.cos(), radii[i % n] * angle.sin()]
    };
    (0..n)
        .flat_map(|i| {
            let (a, b) = (at(i), at(i + 1));
            let parts = ((b[0] - a[0]).hypot(b[1] - a[1]) / target).round().max(1.0);
            (0..parts as usize).map(move |k| {
                let t = k as f64 / parts;
                [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t]
            })
        })
        .collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]
    #[test]
    fn star_shaped_pieces(radii in prop::collection::vec(120.0..420.0f64, 3..11), target in 14.0..40.0f64) {
        let outline = star(&radii, target);
        let mesh = triangulate(&outline, target).expect("it can be cut");
        check_disc(&mesh);
        check_covers(&mesh, &outline);
        check_delaunay(&mesh);
    }
}

#[test]
fn a_square_metre_has_even_triangles() {
    let outline = star(&[707.1; 4], 20.0);
    let mesh = triangulate(&outline, 20.0).expect("it can be cut");
    let mut worst: f64 = 180.0;
    let mut lengths = Vec::new();
    for t in 0..mesh.triangles.len() {
        let c = corners(&mesh, t);
        for k in 0..3 {
            let (p, q, r) = (c[k], c[(k + 1) % 3], c[(k + 2) % 3]);
            let (u, v) = ([q[0] - p[0], q[1] - p[1]], [r[0] - p[0], r[1] - p[1]]);
            worst = worst.min((u[0] * v[1] - u[1] * v[0]).atan2(u[0] * v[0] + u[1] * v[1]).to_degrees());
            lengths.push(u[0].hypot(u[1]));
        }
    }
    assert!(worst > 25.0, "sharpest corner {worst}");
    let mean = lengths.iter().sum::<f64>() / lengths.len() as f64;
    assert!((mean - 20.0).abs() < 2.0, "mean edge {mean} mm");
}

#[test]
fn the_same_outline_gives_the_same_mesh() {
    let outline = star(&[300.0, 210.0, 380.0, 260.0, 330.0], 18.0);
    assert_eq!(triangulate(&outline, 18.0).ok(), triangulate(&outline, 18.0).ok());
}

#[test]
fn what_cannot_be_cut_says_why() {
    let inside_out: Vec<P> = star(&[300.0; 5], 20.0).into_iter().rev().collect();
    assert!(triangulate(&inside_out, 20.0).expect_err("refused").contains("no area"));
    assert!(triangulate(&star(&[9e3; 4], 4000.0), 1.0).expect_err("refused").contains("coarser mesh"));
    let crossed = [[0.0, 0.0], [200.0, 0.0], [200.0, 100.0], [0.0, 100.0], [0.0, 60.0], [150.0, -20.0], [0.0, 20.0]];
    assert!(triangulate(&crossed, 20.0).is_err());
    // and the cutter names the piece
    let line = |a: (f64, f64), b: (f64, f64)| PathSeg::Line(Line::new(a, b));
    let good = Domain::from_outline(&[line((0.0, 0.0), (90.0, 0.0)), line((90.0, 0.0), (0.0, 90.0)), line((0.0, 90.0), (0.0, 0.0))]);
    let bad = Domain::from_outline(&[line((0.0, 0.0), (0.0, 90.0)), line((0.0, 90.0), (90.0, 0.0)), line((90.0, 0.0), (0.0, 0.0))]);
    assert_eq!(cut(&[good, bad], &[], 20.0).expect_err("refused").piece, 1);
}

#[test]
fn curved_edges_are_sampled_at_equal_arc_length() {
    let k = 0.552_284_749_8 * 200.0;
    let arc = PathSeg::Cubic(CubicBez::new((200.0, 0.0), (200.0, k), (k, 200.0), (0.0, 200.0)));
    let back = [PathSeg::Line(Line::new((0.0, 200.0), (0.0, 0.0))), PathSeg::Line(Line::new((0.0, 0.0), (200.0, 0.0)))];
    let piece = Domain::from_outline(&[arc, back[0], back[1]]);
    let mesh = &cut(&[piece], &[], 20.0).expect("it can be cut").pieces[0];
    // a quarter circle of radius 200 measures 314.16 mm: 16 parts
    let parts = 16;
    let chord = 2.0 * 200.0 * (std::f64::consts::FRAC_PI_2 / parts as f64 / 2.0).sin();
    for i in 0..parts {
        let (p, q) = (mesh.points[i], mesh.points[i + 1]);
        let length = (q[0] - p[0]).hypot(q[1] - p[1]);
        assert!((length - chord).abs() < 0.02, "part {i}: {length} against {chord}");
    }
}
