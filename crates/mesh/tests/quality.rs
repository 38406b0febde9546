//! The quality that a mesh promises: least angle at least 25 degrees for 99 % of triangles and 12 for all, edges within 0.6
//! and 1.6 of the wanted length for 99 %. What is wanted grows steadily from finely sampled lines.

use kurbo::{CubicBez, Line, PathSeg};
use mesh::{Domain, DomainLine, EdgeRun, PlanarMesh, SeamSpec, cut, quality};

fn polygon(c: &[(f64, f64)]) -> Domain {
    let n = c.len();
    Domain::from_outline(&(0..n).map(|i| PathSeg::Line(Line::new(c[i], c[(i + 1) % n]))).collect::<Vec<_>>())
}

#[track_caller]
fn check(what: &str, mesh: &PlanarMesh, target: f64) {
    let q = quality(mesh, target);
    println!(
        "{what}: {} triangles, least angle {:.1}, 1 % below {:.1}, edges in range {:.4}",
        q.triangles, q.least_angle, q.angle_p1, q.edges_in_range
    );
    assert!(q.angle_p1 >= 25.0, "{what}: 1 % of the triangles have less than {:.1} degrees", q.angle_p1);
    assert!(q.least_angle >= 12.0, "{what}: {:.1} degrees", q.least_angle);
    assert!(q.edges_in_range >= 0.99, "{what}: {:.2} % of the edges", 100.0 * q.edges_in_range);
}

/// A circle of four cubics, clockwise around a hole or counter-clockwise as an outline.
fn circle(r: f64, clockwise: bool) -> Vec<PathSeg> {
    let k = 0.552_284_749_8 * r;
    let quarters = [
        [(r, 0.0), (r, k), (k, r), (0.0, r)],
        [(0.0, r), (-k, r), (-r, k), (-r, 0.0)],
        [(-r, 0.0), (-r, -k), (-k, -r), (0.0, -r)],
        [(0.0, -r), (k, -r), (r, -k), (r, 0.0)],
    ];
    let curves = quarters.map(|[a, b, c, d]| PathSeg::Cubic(CubicBez::new(a, b, c, d)));
    if clockwise { curves.iter().rev().map(PathSeg::reverse).collect() } else { curves.to_vec() }
}

#[test]
fn a_gather_of_three_to_one() {
    let pieces = [
        polygon(&[(0.0, 0.0), (300.0, 0.0), (300.0, 240.0), (0.0, 240.0)]),
        polygon(&[(0.0, 0.0), (900.0, 0.0), (900.0, 200.0), (0.0, 200.0)]),
    ];
    let gather = SeamSpec { a: vec![EdgeRun::whole(0, 0, false)], b: vec![EdgeRun::whole(1, 2, true)], ..SeamSpec::default() };
    let made = cut(&pieces, &[gather], 20.0).expect("it can be cut");
    check("short side", &made.pieces[0], 20.0);
    check("long side", &made.pieces[1], 20.0);
}

#[test]
fn a_gather_onto_a_line_inside() {
    let mut panel = polygon(&[(0.0, 0.0), (500.0, 0.0), (500.0, 600.0), (0.0, 600.0)]);
    panel.lines.push(DomainLine { curve: PathSeg::Line(Line::new((100.0, 300.0), (400.0, 300.0))), from: 20, to: 21 });
    panel.inside = vec![4];
    let frill = polygon(&[(0.0, 0.0), (900.0, 0.0), (900.0, 110.0), (0.0, 110.0)]);
    let gather = SeamSpec { a: vec![EdgeRun::whole(0, 4, false)], b: vec![EdgeRun::whole(1, 2, true)], ..SeamSpec::default() };
    let made = cut(&[panel, frill], &[gather], 20.0).expect("it can be cut");
    check("panel with a line", &made.pieces[0], 20.0);
    check("frill", &made.pieces[1], 20.0);
}

#[test]
fn bands_of_eight_millimetres() {
    for target in [10.0, 20.0] {
        let band = polygon(&[(0.0, 0.0), (620.0, 0.0), (620.0, 8.0), (0.0, 8.0)]);
        let made = cut(&[band], &[], target).expect("it can be cut");
        check("band", &made.pieces[0], target);
    }
}

#[test]
fn darts() {
    // 30 mm wide at the edge and 120 mm deep: its tip opens by 14 degrees on the outside, and the cloth on both sides of it
    let c = [(0.0, 0.0), (400.0, 0.0), (400.0, 300.0), (215.0, 300.0), (200.0, 180.0), (185.0, 300.0), (0.0, 300.0)];
    let dart = SeamSpec { a: vec![EdgeRun::whole(0, 3, true)], b: vec![EdgeRun::whole(0, 4, false)], ..SeamSpec::default() };
    let made = cut(&[polygon(&c)], &[dart], 20.0).expect("it can be cut");
    check("dart", &made.pieces[0], 20.0);
}

#[test]
fn a_disc_with_a_hole() {
    let mut disc = Domain::from_outline(&circle(300.0, false));
    for (k, curve) in (0u64..).zip(circle(40.0, true)) {
        disc.lines.push(DomainLine { curve, from: 10 + k, to: 10 + (k + 1) % 4 });
    }
    disc.cutouts = vec![vec![4, 5, 6, 7]];
    for target in [12.0, 20.0, 30.0] {
        let made = cut(std::slice::from_ref(&disc), &[], target).expect("it can be cut");
        check("disc", &made.pieces[0], target);
    }
}
