//! Cutting lines: distances, areas and corners of cloth beyond the lines of any piece, by readings that know nothing of how
//! the line was made.

mod common;

use common::{done, drawing, shoelace};
use costume::{AllowanceCorner, Basic, Costume, DiagnosticKind, Edit, Finish, LoopPoint, Pattern, PatternPiece, PieceId, Point, resolve};
use kurbo::{ParamCurve, ParamCurveArclen};
use proptest::prelude::*;
use std::f64::consts::{PI, TAU};

fn finished(costume: &Costume, line: usize, finish: Finish) -> Costume {
    let piece = &costume.pieces[0];
    done(costume, Edit::FinishLine { piece: piece.id, line: drawing(piece).outline[line], from: 0.0, to: 1.0, finish: Some(finish) })
}

fn allowed(costume: &Costume, width: f64) -> Pattern {
    let lines = drawing(&costume.pieces[0]).outline.len();
    let finish = Finish::Allowance { width, corner: AllowanceCorner::Pointed };
    resolve(&(0..lines).fold(costume.clone(), |c, k| finished(&c, k, finish)))
}

fn laid(points: Vec<LoopPoint>) -> Costume {
    done(&Costume::new("T"), Edit::AddPiece { name: "Piece".into(), at: Point::new(0.0, 0.0), points, fold: None })
}

/// Points all along the outline, mm.
fn around(piece: &PatternPiece) -> Vec<Point> {
    let lines = piece.outline.iter().map(|l| piece.lines[*l].curve);
    lines.flat_map(|c| (0..250).map(move |k| c.eval(f64::from(k) / 250.0))).map(|p| Point::new(p.x, p.y)).collect()
}

/// From a point to a closed polygon.
fn away(p: Point, polygon: &[Point]) -> f64 {
    let n = polygon.len();
    let stretch = |i: usize| {
        let (a, b) = (polygon[i], polygon[(i + 1) % n]);
        let (u, w) = ((b.x - a.x, b.y - a.y), (p.x - a.x, p.y - a.y));
        let t = ((u.0 * w.0 + u.1 * w.1) / (u.0 * u.0 + u.1 * u.1).max(1e-18)).clamp(0.0, 1.0);
        (w.0 - t * u.0).hypot(w.1 - t * u.1)
    };
    (0..n).map(stretch).fold(f64::MAX, f64::min)
}

/// How often a polygon goes around a point.
fn winding(p: Point, polygon: &[Point]) -> i32 {
    let n = polygon.len();
    let angle = |i: usize| {
        let (a, b) = (polygon[i], polygon[(i + 1) % n]);
        let (a, b) = ((a.x - p.x, a.y - p.y), (b.x - p.x, b.y - p.y));
        (a.0 * b.1 - a.1 * b.0).atan2(a.0 * b.0 + a.1 * b.1)
    };
    ((0..n).map(angle).sum::<f64>() / TAU).round() as i32
}

#[test]
fn cloth_around_an_ellipse_has_the_area_of_steiners_formula() {
    for (width, height, beyond) in [(300.0, 200.0, 10.0), (500.0, 120.0, 15.0), (160.0, 160.0, 40.0)] {
        let basic = Basic::Ellipse { width, height };
        let disc = done(&Costume::new("T"), Edit::AddBasic { name: "Disc".into(), at: Point::new(0.0, 0.0), basic });
        let pattern = allowed(&disc, beyond);
        let cut = &pattern.pieces[0].cutting_lines()[0];
        // area, and length times width, and the disc of the width
        let length: f64 = pattern.pieces[0].outline.iter().map(|l| pattern.pieces[0].lines[*l].curve.arclen(1e-6)).sum();
        let expected = pattern.pieces[0].area() + length * beyond + PI * beyond * beyond;
        // the line is a polygon whose corners are on the curve, within 0.02 mm of it
        let missing = expected - shoelace(cut);
        assert!((-1e-3..0.02 * (length + TAU * beyond)).contains(&missing), "{width} x {height}: {missing} of {expected}");
    }
}

/// A star-shaped piece: corners around the middle, some of its lines bent out or in.
fn star() -> impl Strategy<Value = Vec<LoopPoint>> {
    let corner = (130.0..240.0f64, -0.2..0.2f64, prop::option::of(-0.14..0.14f64));
    prop::collection::vec(corner, 4..9).prop_map(|corners| {
        let n = corners.len();
        let at = |k: usize| {
            let (radius, off, _) = corners[k % n];
            let angle = (k as f64 + off) / n as f64 * TAU;
            Point::new(radius * angle.cos(), radius * angle.sin())
        };
        let point = |k: usize| {
            let (a, b) = (at(k), at(k + 1));
            let (dx, dy) = (b.x - a.x, b.y - a.y);
            // to the right of the way is beyond the cloth
            let bent = |share: f64, by: f64| Point::new(a.x + share * dx + by * dy, a.y + share * dy - by * dx);
            LoopPoint { x: a.x, y: a.y, handles: corners[k].2.map(|by| [bent(0.3, by), bent(0.7, by)]) }
        };
        (0..n).map(point).collect()
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, ..ProptestConfig::default() })]

    /// No cloth is narrower than it was asked to be, none of the piece lies outside, and the line does not cross itself.
    #[test]
    fn an_even_allowance_keeps_its_width_everywhere(points in star(), width in 4.0..14.0f64) {
        let Ok(costume) = costume::apply(&Costume::new("T"), &Edit::AddPiece { name: "Star".into(), at: Point::new(0.0, 0.0), points, fold: None })
        else { return Ok(()) };
        let pattern = allowed(&costume, width);
        let cut = &pattern.pieces[0].cutting_lines()[0];
        let outline = around(&pattern.pieces[0]);
        for p in cut {
            prop_assert!(away(*p, &outline) > width - 0.1, "{} mm at {:?}", away(*p, &outline), p);
        }
        for p in outline.iter().step_by(17) {
            prop_assert_eq!(winding(*p, cut), 1);
            prop_assert!(away(*p, cut) > width - 0.1, "{} mm at {:?}", away(*p, cut), p);
        }
        let faults: Vec<DiagnosticKind> = costume::diagnostics(&costume, &pattern).into_iter().map(|d| d.kind).collect();
        let overlap = |k: &DiagnosticKind| matches!(k, DiagnosticKind::AllowancesOverlap { .. });
        prop_assert!(!faults.iter().any(overlap), "{:?}", faults);
    }

    /// A hem that is turned up lies within the piece: mirrored about its line, its ends are on the sides.
    #[test]
    fn a_hem_turned_up_ends_on_the_sides(left in -90.0..90.0f64, right in -90.0..90.0f64, hem in 15.0..60.0f64) {
        let skirt = laid(common::points(&[(0.0, 0.0), (400.0, 0.0), (400.0 + right, 300.0), (left, 300.0)]));
        let pattern = resolve(&finished(&skirt, 0, Finish::Hem { width: hem }));
        let cut = &pattern.pieces[0].cutting_lines()[0];
        let low: Vec<&Point> = cut.iter().filter(|p| p.y < -0.5 * hem).collect();
        prop_assert!(low.iter().all(|p| (p.y + hem).abs() < 1e-6), "{:?}", cut);
        // at the height of the hem above its line
        let side = |x: f64| hem / 300.0 * x;
        let ends = [low.iter().map(|p| p.x).fold(f64::MAX, f64::min), low.iter().map(|p| p.x).fold(f64::MIN, f64::max)];
        prop_assert!((ends[0] - side(left)).abs() < 1e-6 && (ends[1] - 400.0 - side(right)).abs() < 1e-6, "{:?}", ends);
        prop_assert!((shoelace(cut) - pattern.pieces[0].area() - hem * (400.0 + 0.5 * (side(right) - side(left)))).abs() < 1e-3);
    }
}

#[test]
fn a_cut_out_has_a_line_of_its_own_only_with_an_allowance() {
    let sheet = laid(common::points(&[(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)]));
    let id: PieceId = sheet.pieces[0].id;
    let hole = common::points(&[(100.0, 80.0), (100.0, 120.0), (160.0, 120.0), (160.0, 80.0)]);
    let holed = done(&sheet, Edit::AddCutout { piece: id, points: hole });
    let finish = Finish::Allowance { width: 8.0, corner: AllowanceCorner::Pointed };
    assert_eq!(resolve(&holed).pieces[0].cutting_lines().len(), 0);
    let outer = finished(&holed, 0, finish);
    assert_eq!(resolve(&outer).pieces[0].cutting_lines().len(), 1, "the hole is cut along its own line");
    let lines = drawing(&holed.pieces[0]).cutouts[0].clone();
    let inner =
        lines.iter().fold(outer, |c, line| done(&c, Edit::FinishLine { piece: id, line: *line, from: 0.0, to: 1.0, finish: Some(finish) }));
    let cut = resolve(&inner).pieces[0].cutting_lines();
    assert_eq!(cut.len(), 2);
    // the allowance of a hole lies in the hole
    assert!((shoelace(&cut[1]).abs() - 44.0 * 24.0).abs() < 1e-6, "{:?}", cut[1]);
}
