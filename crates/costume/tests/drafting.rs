//! What drafting does to lengths, angles and areas, against closed forms.

mod common;

use common::{area, curve, done, drawing, edge, length, line, node, shoelace, two_panels};
use costume::{
    AllowanceCorner, Anchor, Arrangement, Basic, Costume, CutPlan, Edit, Finish, LineEnd, LineId, Mark, NodeId, Piece, PieceId, Pleat,
    Point, Purpose, Run, Spot, SpreadBy, apply, read, resolve,
};
use kurbo::{ParamCurve, ParamCurveCurvature, Shape as _};
use proptest::prelude::*;
use std::f64::consts::PI;

fn rectangle(width: f64, height: f64) -> Costume {
    done(&Costume::new("Test"), common::add("Panel", 0.0, &[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]))
}

fn first(costume: &Costume) -> &Piece {
    &costume.pieces[0]
}

fn around(costume: &Costume, piece: usize) -> f64 {
    (0..drawing(&costume.pieces[piece]).outline.len()).map(|k| length(&costume.pieces[piece], k)).sum()
}

/// Every document that is made here obeys all rules when it is read again.
#[track_caller]
fn sound(costume: &Costume) {
    assert_eq!(&read(&common::text(costume)).expect("readable"), costume);
}

fn near(a: f64, b: f64, within: f64) -> bool {
    (a - b).abs() <= within
}

#[test]
fn basic_shapes_have_the_areas_of_their_formulas() {
    let of = |basic| {
        let costume = done(&Costume::new("Test"), Edit::AddBasic { name: "Shape".into(), at: Point::new(0.0, 0.0), basic });
        sound(&costume);
        (area(&costume, first(&costume).id), resolve(&costume).pieces[0].outline_path().perimeter(1e-6))
    };
    assert!(near(of(Basic::Rectangle { width: 120.0, height: 70.0 }).0, 8400.0, 1e-9));
    let (disc, round) = of(Basic::Ellipse { width: 800.0, height: 800.0 });
    assert!(near(disc, PI * 160_000.0, 5.0) && near(round, PI * 800.0, 0.01), "{disc} {round}");
    assert!(near(of(Basic::Ellipse { width: 300.0, height: 200.0 }).0, PI * 15_000.0, 1.0));
    // a ring, and the half circle of a skirt with its arcs and both straight edges
    assert!(near(of(Basic::Sector { outer: 700.0, inner: 120.0, degrees: 360.0 }).0, PI * (490_000.0 - 14_400.0), 20.0));
    let (half, way) = of(Basic::Sector { outer: 700.0, inner: 110.0, degrees: 180.0 });
    assert!(near(half, PI / 2.0 * (490_000.0 - 12_100.0), 20.0) && near(way, PI * 810.0 + 2.0 * 590.0, 0.02), "{half} {way}");
    assert!(near(of(Basic::Sector { outer: 400.0, inner: 0.0, degrees: 90.0 }).0, PI * 40_000.0, 5.0));
    let refused = |basic| apply(&Costume::new("Test"), &Edit::AddBasic { name: "S".into(), at: Point::new(0.0, 0.0), basic }).is_err();
    assert!(
        refused(Basic::Sector { outer: 100.0, inner: 100.0, degrees: 90.0 }) && refused(Basic::Ellipse { width: f64::NAN, height: 5.0 })
    );
}

#[test]
fn a_bent_line_passes_the_pointer_and_exact_lengths_and_angles_are_exact() {
    let costume = rectangle(300.0, 200.0);
    let (piece, top) = (first(&costume).id, line(first(&costume), 2));
    for t in [0.2, 0.5, 0.85] {
        let to = Point::new(300.0 - 300.0 * t, 170.0);
        let bent = done(&costume, Edit::BendLine { piece, line: top, at: t, to });
        let p = curve(first(&bent), 2).eval(t);
        assert!((p - kurbo::Point::new(to.x, to.y)).hypot() < 1e-9);
        for moves in [LineEnd::From, LineEnd::To] {
            let longer = done(&bent, Edit::SetLength { piece, line: top, length: 287.3, moves });
            assert!(near(length(first(&longer), 2), 287.3, 1e-3));
            let fixed = if moves == LineEnd::To { 2 } else { 3 };
            assert_eq!(drawing(first(&longer)).node(node(first(&longer), fixed)), drawing(first(&bent)).node(node(first(&bent), fixed)));
        }
    }
    let turned = done(&costume, Edit::SetAngle { piece, line: top, degrees: 170.0, moves: LineEnd::To });
    let chord = curve(first(&turned), 2);
    assert!(near((chord.end() - chord.start()).atan2().to_degrees(), 170.0, 1e-9) && near(length(first(&turned), 2), 300.0, 1e-9));
    let level = done(&turned, Edit::LevelLine { piece, line: top, plumb: false, moves: LineEnd::To });
    assert_eq!(drawing(first(&level)).node(node(first(&level), 3)).map(|n| n.at.y), Some(200.0));
}

#[test]
fn a_rounded_corner_is_an_arc_of_its_radius_that_touches_both_lines() {
    let costume = rectangle(300.0, 200.0);
    let piece = first(&costume).id;
    let round = done(&costume, Edit::RoundCorner { piece, node: node(first(&costume), 2), radius: 60.0 });
    sound(&round);
    // the square of the radius less its quarter circle is gone
    assert!(near(area(&round, piece), 60_000.0 - 3600.0 * (1.0 - PI / 4.0), 1.5), "{}", area(&round, piece));
    assert!(near(around(&round, 0), 1000.0 - 120.0 + 30.0 * PI, 0.05));
    let sharp = done(&Costume::new("T"), common::add("Dagger", 0.0, &[(0.0, 0.0), (400.0, 0.0), (0.0, 120.0)]));
    let tip = done(&sharp, Edit::RoundCorner { piece: first(&sharp).id, node: node(first(&sharp), 1), radius: 20.0 });
    let drawn = first(&tip);
    let curved: Vec<usize> = (0..drawing(drawn).outline.len()).filter(|k| common::line_of(drawn, *k).handles.is_some()).collect();
    assert_eq!(curved.len(), 2, "an arc of more than a quarter takes two curves");
    for k in curved {
        let kurbo::PathSeg::Cubic(c) = curve(drawn, k) else { panic!("a curve") };
        for t in [0.1, 0.5, 0.9] {
            assert!(near(1.0 / c.curvature(t).abs(), 20.0, 0.15), "{}", 1.0 / c.curvature(t));
        }
    }
    // between curves, too: both tangents go on
    let bent = done(&costume, Edit::BendLine { piece, line: line(first(&costume), 1), at: 0.5, to: Point::new(330.0, 100.0) });
    let soft = done(&bent, Edit::RoundCorner { piece, node: node(first(&bent), 2), radius: 40.0 });
    let n = drawing(first(&soft)).outline.len();
    let corner = (0..n).map(|k| (curve(first(&soft), k), curve(first(&soft), (k + 1) % n)));
    let turns: Vec<f64> = corner
        .map(|(a, b)| {
            let (u, v) = (a.end() - a.eval(0.999), b.eval(0.001) - b.start());
            u.cross(v).atan2(u.dot(v)).to_degrees()
        })
        .collect();
    assert_eq!(turns.iter().filter(|t| t.abs() > 2.0).count(), 3, "{turns:?}");
    assert!(apply(&costume, &Edit::RoundCorner { piece, node: node(first(&costume), 2), radius: 250.0 }).is_err());
    let cut = done(&costume, Edit::ChamferCorner { piece, node: node(first(&costume), 0), length: 30.0 });
    assert!(near(area(&cut, piece), 60_000.0 - 450.0, 1e-6));
}

#[test]
fn equal_parts_are_equal_and_soft_moves_fall_off() {
    let costume = rectangle(300.0, 200.0);
    let piece = first(&costume).id;
    let bent = done(&costume, Edit::BendLine { piece, line: line(first(&costume), 0), at: 0.4, to: Point::new(120.0, 40.0) });
    let whole = length(first(&bent), 0);
    let parts = done(&bent, Edit::DivideLine { piece, line: line(first(&bent), 0), parts: 5 });
    for k in 0..5 {
        assert!(near(length(first(&parts), k), whole / 5.0, 0.01));
    }
    let middle = node(first(&parts), 2);
    let before: Vec<Point> = drawing(first(&parts)).nodes.iter().map(|n| n.at).collect();
    let moved = done(&parts, Edit::MoveNodes { piece, nodes: vec![middle], by: Point::new(0.0, -12.0), reach: 90.0 });
    let held = drawing(first(&parts)).node(middle).expect("there").at;
    for (b, n) in before.iter().zip(&drawing(first(&moved)).nodes) {
        let d = held.distance(*b);
        let step = n.at.distance(*b);
        assert!(if n.id == middle { near(step, 12.0, 1e-9) } else { step < 12.0 && (step > 0.0) == (d < 90.0) }, "{d} {step}");
    }
}

#[test]
fn a_redrawn_line_follows_its_points_with_few_nodes() {
    let costume = rectangle(300.0, 200.0);
    let (piece, top) = (first(&costume).id, line(first(&costume), 2));
    let wave = |x: f64| 200.0 + 15.0 * (x * PI / 150.0).sin();
    let points: Vec<Point> = (0..=100).map(|k| 300.0 - 3.0 * f64::from(k)).map(|x| Point::new(x, wave(x))).collect();
    let sewn = done(&costume, Edit::AddNotch { piece, line: top, at: 0.5, double: false });
    let drawn = done(&sewn, Edit::RedrawLine { piece, line: top, points, within: 0.3 });
    sound(&drawn);
    let added = drawing(first(&drawn)).nodes.len() - 4;
    assert!(added <= 3, "{added} more nodes");
    for k in 2..3 + added {
        for t in [0.1, 0.4, 0.8] {
            let p = curve(first(&drawn), k).eval(t);
            assert!(near(p.y, wave(p.x), 0.35), "{p:?}");
        }
    }
    let circle: Vec<Point> = (0..200).map(|k| f64::from(k) * PI / 100.0).map(|a| Point::new(150.0 * a.cos(), 150.0 * a.sin())).collect();
    let free = done(&Costume::new("T"), Edit::AddFreehand { name: "Disc".into(), at: Point::new(0.0, 0.0), points: circle, within: 0.5 });
    assert!(near(area(&free, first(&free).id), PI * 22_500.0, 200.0) && drawing(first(&free)).nodes.len() <= 8);
}

#[test]
fn mirror_turn_and_scale_keep_or_multiply_area_and_length() {
    let costume = two_panels();
    let (piece, right) = (costume.pieces[0].id, line(&costume.pieces[0], 1));
    let bent = done(&costume, Edit::BendLine { piece, line: right, at: 0.3, to: Point::new(340.0, 180.0) });
    let sewn = common::join(&bent, (0, 1), (1, 3));
    let (size, way) = (area(&sewn, piece), around(&sewn, 0));
    let over = done(&sewn, Edit::MirrorPiece { piece });
    sound(&over);
    assert!(near(area(&over, piece), size, 1e-9) && near(around(&over, 0), way, 1e-6));
    assert_eq!(common::sides(&over), common::sides(&sewn));
    let back = done(&over, Edit::MirrorPiece { piece });
    assert_eq!((&back.pieces, &back.seams), (&sewn.pieces, &sewn.seams));
    let turned = done(&sewn, Edit::TurnPiece { piece, angle: 33.0 });
    assert_eq!(area(&turned, piece), size);
    let larger = done(&sewn, Edit::ScalePiece { piece, x: 1.1, y: 1.05 });
    assert!(near(area(&larger, piece), size * 1.155, 1e-6));
}

/// Where the pieces stand is told by their boxes.
#[test]
fn pieces_line_up_and_spread_with_even_gaps() {
    let mut costume = Costume::new("Test");
    for (x, w) in [(0.0, 100.0), (130.0, 50.0), (400.0, 80.0)] {
        costume = done(&costume, common::add("P", x, &[(0.0, 0.0), (w, 0.0), (w, 60.0 + x), (0.0, 60.0 + x)]));
    }
    let pieces: Vec<PieceId> = costume.pieces.iter().map(|p| p.id).collect();
    let lefts = |c: &Costume| c.pieces.iter().map(|p| p.at.x).collect::<Vec<_>>();
    let aligned = done(&costume, Edit::Arrange { pieces: pieces.clone(), how: Arrangement::Left });
    assert_eq!(lefts(&aligned), [0.0, 0.0, 0.0]);
    let spread = done(&costume, Edit::Arrange { pieces: pieces.clone(), how: Arrangement::SpreadAcross });
    // 480 mm less 230 of cloth in two gaps
    assert_eq!(lefts(&spread), [0.0, 225.0, 400.0]);
    let top = done(&costume, Edit::Arrange { pieces: pieces.clone(), how: Arrangement::Top });
    assert_eq!(top.pieces.iter().map(|p| p.at.y).collect::<Vec<_>>(), [400.0, 270.0, 0.0]);
    let first_last = done(&costume, Edit::OrderPiece { piece: pieces[0], to: 2 });
    assert_eq!(first_last.pieces.iter().map(|p| p.id).collect::<Vec<_>>(), [pieces[1], pieces[2], pieces[0]]);
    let locked = done(&costume, Edit::LockPieces { pieces: pieces[..1].to_vec(), locked: true });
    assert!(apply(&locked, &Edit::MovePiece { piece: pieces[0], at: Point::new(9.0, 9.0) }).expect_err("held").reason.contains("locked"));
    assert!(apply(&locked, &Edit::MovePiece { piece: pieces[1], at: Point::new(9.0, 9.0) }).is_ok());
}

#[test]
fn a_cut_keeps_area_and_seams_and_merging_gives_the_piece_back() {
    let costume = common::join(&two_panels(), (0, 1), (1, 3));
    let piece = costume.pieces[0].id;
    let (bottom, top) = (line(&costume.pieces[0], 0), line(&costume.pieces[0], 2));
    let mark = Edit::AddDrillHole { piece, at: Point::new(280.0, 40.0) };
    let marked = done(&costume, mark);
    let cut = Edit::CutPiece {
        piece,
        from: Spot::On { line: bottom, at: 0.4 },
        to: Spot::On { line: top, at: 0.3 },
        through: vec![Point::new(150.0, 200.0)],
        sew: true,
    };
    let parted = done(&marked, cut);
    sound(&parted);
    assert_eq!(parted.pieces.len(), 3);
    let new = &parted.pieces[2];
    let (a, b) = (area(&parted, piece), area(&parted, new.id));
    assert!(near(a + b, 150_000.0, 1e-6), "{a} {b}");
    // the side seam went along with the side, the mark with its place
    let pattern = resolve(&parted);
    let sides: Vec<(f64, f64)> = pattern.seams.iter().map(|s| (pattern.seam_lengths(s).a, pattern.seam_lengths(s).b)).collect();
    assert!(near(sides[0].0, 500.0, 1e-6) && near(sides[0].1, 500.0, 1e-6), "{sides:?}");
    let of = |id: PieceId| parted.piece(id).map_or(0, |p| drawing(p).marks.len());
    let seam_on = |id: PieceId| parted.seams[0].runs().any(|r| r.piece == id);
    assert_eq!((of(piece) + of(new.id), seam_on(piece) != seam_on(new.id)), (1, true));
    assert_eq!(of(new.id) == 1, seam_on(new.id), "both are on the right");
    let by_parts = 200f64.hypot(30.0) + 300f64.hypot(60.0);
    assert!(near(sides[1].0, by_parts, 1e-6) && near(sides[1].1, by_parts, 1e-6), "{sides:?} {by_parts}");
    let merged = done(&parted, Edit::MergePieces { seam: parted.seams[1].id });
    sound(&merged);
    assert_eq!(merged.pieces.len(), 2);
    assert!(near(area(&merged, piece), 150_000.0, 1e-6) && near(around(&merged, 0), 1600.0, 1e-6));
    assert_eq!(drawing(&merged.pieces[0]).outline.len(), 4, "its edges are straight and whole again");
    assert!(near(common::sides(&merged)[0], 500.0, 1e-6) && merged.seams.len() == 1);
    let across = Edit::CutPiece {
        piece,
        from: Spot::On { line: bottom, at: 0.4 },
        to: Spot::On { line: bottom, at: 0.4 },
        through: vec![],
        sew: false,
    };
    assert!(apply(&costume, &across).is_err());
}

#[test]
fn a_half_on_the_fold_is_cut_and_opened_and_closed_again() {
    let half =
        done(&Costume::new("T"), common::add("Front", 0.0, &[(0.0, 0.0), (250.0, 0.0), (220.0, 400.0), (90.0, 420.0), (0.0, 380.0)]));
    let piece = first(&half).id;
    let fold = line(first(&half), 4);
    let folded = done(&half, Edit::SetCut { piece, cut: CutPlan { count: 1, on_fold: Some(fold) } });
    let whole = area(&folded, piece);
    // a yoke: from the fold to the side, both parts lie on the fold
    let yoke = Edit::CutPiece {
        piece,
        from: Spot::On { line: fold, at: 0.4 },
        to: Spot::On { line: line(first(&half), 1), at: 0.5 },
        through: vec![],
        sew: true,
    };
    let parted = done(&folded, yoke);
    sound(&parted);
    assert!(parted.pieces.len() == 2 && parted.pieces.iter().all(|p| p.cut.on_fold.is_some()));
    assert!(near(area(&parted, piece) + area(&parted, parted.pieces[1].id), whole, 1e-6));
    // a strip off the side is cut twice
    let strip = Edit::CutPiece {
        piece,
        from: Spot::On { line: line(first(&half), 0), at: 0.7 },
        to: Spot::Node(node(first(&half), 3)),
        through: vec![],
        sew: true,
    };
    let three = done(&folded, strip);
    sound(&three);
    assert_eq!(three.pieces.len(), 3);
    assert!(near(three.pieces.iter().map(|p| area(&three, p.id)).sum::<f64>(), whole, 1e-6));
    assert_eq!(resolve(&three).seams.len(), 2, "the seam and its image");
    let open = done(&folded, Edit::OpenFold { piece });
    sound(&open);
    assert!(near(area(&open, piece), whole, 1e-6) && first(&open).cut.on_fold.is_none());
    let mirrored: Vec<(PieceId, usize)> = open.pieces.iter().map(|p| (p.id, drawing(p).nodes.len())).collect();
    assert_eq!(mirrored, [(piece, 8)]);
    let at = |x: f64, y: f64| drawing(first(&open)).nodes.iter().find(|n| n.at.distance(Point::new(x, y)) < 1e-9).expect("a corner").id;
    let one = apply(&open, &Edit::CloseFold { piece, from: at(0.0, 0.0), to: at(0.0, 380.0) }).expect("alike");
    sound(&one);
    assert!(near(area(&one, piece), whole, 1e-6) && first(&one).cut.on_fold.is_some());
    let moved = done(&open, Edit::MoveNode { piece, node: at(250.0, 0.0), to: Point::new(260.0, 0.0) });
    assert!(apply(&moved, &Edit::CloseFold { piece, from: at(0.0, 0.0), to: at(0.0, 380.0) }).is_err(), "halves that differ");
}

#[test]
fn opening_a_front_opens_the_back_it_is_sewn_to_and_keeps_every_seam() {
    let measures = [
        ("bust", 880.0),
        ("neck", 350.0),
        ("shoulder-width", 385.0),
        ("back-waist", 410.0),
        ("upper-arm", 280.0),
        ("wrist", 160.0),
        ("arm-length", 590.0),
        ("waist", 700.0),
    ];
    let measures = measures.map(|(key, mm)| (key.to_owned(), mm)).into();
    let at = Point::new(0.0, 0.0);
    let tee = done(&Costume::new("Tee"), Edit::AddBlock { recipe: "tee".into(), values: Default::default(), measures, at });
    // both sides, both shoulders, two armholes of two halves, two sleeves
    let lengths = |c: &Costume| {
        let pattern = resolve(c);
        let of = |r: &costume::PatternRun| pattern.pieces[r.piece].lines[r.line].length * (r.to - r.from).abs();
        let mut found: Vec<i64> = pattern.seams.iter().map(|s| s.a.iter().map(of).sum::<f64>().round() as i64).collect();
        found.sort_unstable();
        found
    };
    assert_eq!(lengths(&tee).len(), 10);
    let open = done(&tee, Edit::OpenFold { piece: tee.pieces[0].id });
    sound(&open);
    assert!(open.pieces.iter().all(|p| p.cut.on_fold.is_none()));
    assert_eq!(lengths(&open), lengths(&tee));
    // cloth beyond lines that go on straight where the outline begins overlaps nowhere
    let back = open.pieces.iter().find(|p| p.name == "Back").expect("a back");
    let mut allowed = open.clone();
    for line in &drawing(back).outline {
        let finish = Some(Finish::Allowance { width: 10.0, corner: AllowanceCorner::Pointed });
        allowed = done(&allowed, Edit::FinishLine { piece: back.id, line: *line, from: 0.0, to: 1.0, finish });
    }
    let told = costume::diagnostics(&allowed, &resolve(&allowed));
    assert!(!told.iter().any(|d| matches!(d.kind, costume::DiagnosticKind::AllowancesOverlap { .. })), "{told:?}");
    assert!(near(open.pieces.iter().map(|p| area(&open, p.id)).sum(), tee.pieces.iter().map(|p| area(&tee, p.id)).sum(), 1e-6));
}

/// Lengths of both legs and the angle between them.
fn dart(costume: &Costume, tip: NodeId) -> (f64, f64, f64) {
    let drawn = drawing(first(costume));
    let at = |n: NodeId| drawn.node(n).expect("a node").at;
    let arrives = drawn.lines.iter().find(|l| l.to == tip).expect("a leg").from;
    let leaves = drawn.lines.iter().find(|l| l.from == tip).expect("a leg").to;
    let (c, p, q) = (at(tip), at(arrives), at(leaves));
    let angle = ((q.y - c.y).atan2(q.x - c.x) - (p.y - c.y).atan2(p.x - c.x)).rem_euclid(2.0 * PI);
    (p.distance(c), q.distance(c), angle.min(2.0 * PI - angle))
}

fn newest(costume: &Costume) -> NodeId {
    // the point of the last dart: where the legs of the last seam meet
    let seam = costume.seams.last().expect("legs");
    let drawn = drawing(first(costume));
    drawn.line(seam.a[0].line).expect("a leg").to
}

#[test]
fn darts_take_their_width_and_turning_keeps_angles_and_outlines() {
    let costume = rectangle(300.0, 400.0);
    let (piece, waist) = (first(&costume).id, line(first(&costume), 0));
    let made = done(&costume, Edit::AddDart { piece, line: waist, at: 0.5, width: 30.0, depth: 140.0 });
    sound(&made);
    assert!(near(area(&made, piece), 120_000.0 - 0.5 * 30.0 * 140.0, 1e-6));
    let tip = newest(&made);
    let (l, m, angle) = dart(&made, tip);
    assert!(near(l, m, 1e-9) && near(angle, 2.0 * (15f64 / 140.0).atan(), 1e-9));
    let sides = common::sides(&made);
    assert!(near(sides[0], l, 1e-6) && near(sides[1], l, 1e-6));
    // to the side: two thirds, then the rest
    let side = line(
        first(&made),
        drawing(first(&made))
            .outline
            .iter()
            .position(|l| {
                common::line_of(first(&made), 0).id != *l && {
                    let c = drawing(first(&made)).line(*l).expect("a line");
                    drawing(first(&made)).node(c.from).is_some_and(|n| n.at.x > 299.0)
                        && drawing(first(&made)).node(c.to).is_some_and(|n| n.at.x > 299.0)
                }
            })
            .expect("the right side"),
    );
    let to = Spot::On { line: side, at: 0.6 };
    let part = done(&made, Edit::TurnDart { piece, tip, to, share: 2.0 / 3.0, gathers: false });
    sound(&part);
    let second = newest(&part);
    let (kept, new) = (dart(&part, tip), dart(&part, second));
    assert!(near(kept.2, angle / 3.0, 1e-9), "{kept:?} {new:?}");
    // the new one takes what the old one gave, seen from the point about which the cloth was turned; it ends 5 mm before it
    let reach = drawing(first(&part)).node(tip).expect("there").at.distance(Point::new(300.0, 240.0));
    let mouth = 2.0 * new.0 * (0.5 * new.2).sin();
    assert!(near(2.0 * (0.5 * mouth / reach).asin(), angle * 2.0 / 3.0, 1e-9) && near(new.0, new.1, 1e-6), "{mouth} {reach}");
    let whole = done(&made, Edit::TurnDart { piece, tip, to, share: 1.0, gathers: false });
    sound(&whole);
    assert!(near(dart(&whole, newest(&whole)).2, angle, 1e-9));
    // the outline without the legs stays as long as it was
    let without = |c: &Costume, legs: f64| around(c, 0) - legs;
    let turned = dart(&whole, newest(&whole));
    assert!(near(without(&made, l + m), without(&whole, turned.0 + turned.1), 1e-6));
    assert!(near(area(&whole, piece), area(&made, piece), 1e-6));
    assert_eq!(whole.seams.len(), 1, "the old legs are gone");
    // into gathers the edge is longer by the mouth
    let full = done(&made, Edit::TurnDart { piece, tip, to, share: 1.0, gathers: true });
    sound(&full);
    assert!(near(around(&full, 0), around(&made, 0) - l - m + turned.0 * 2.0 * (angle / 2.0).sin(), 1e-6));
    let inner =
        done(&costume, Edit::AddInsideDart { piece, at: Point::new(150.0, 200.0), width: 24.0, up: 90.0, down: 110.0, degrees: 0.0 });
    sound(&inner);
    assert!(near(area(&inner, piece), 120_000.0 - 0.5 * 24.0 * 200.0, 1e-6));
    let legs = common::sides(&inner);
    assert!(near(legs[0], 90f64.hypot(12.0) + 110f64.hypot(12.0), 1e-6) && near(legs[0], legs[1], 1e-9));
    assert!(apply(&costume, &Edit::AddDart { piece, line: waist, at: 0.02, width: 30.0, depth: 140.0 }).is_err());
    assert!(apply(&made, &Edit::TurnDart { piece, tip: node(first(&made), 0), to, share: 1.0, gathers: false }).is_err());
}

#[test]
fn spreads_and_pleats_add_exactly_what_was_asked() {
    let costume = common::join(&two_panels(), (0, 1), (1, 3));
    let piece = costume.pieces[0].id;
    let (bottom, top) = (line(&costume.pieces[0], 0), line(&costume.pieces[0], 2));
    let across = |at: f64| [Spot::On { line: top, at: 1.0 - at }, Spot::On { line: bottom, at }];
    let panel = done(
        &costume,
        Edit::Sew { a: vec![Run::whole(piece, bottom)], b: vec![Run::whole(costume.pieces[1].id, line(&costume.pieces[1], 0)).turned()] },
    );
    let wide = done(&panel, Edit::Spread { piece, cuts: vec![across(0.25)], amount: 60.0, by: SpreadBy::Parallel });
    sound(&wide);
    assert!(near(area(&wide, piece), 180_000.0, 1e-6));
    assert_eq!(drawing(&wide.pieces[0]).outline.len(), 4, "straight edges stay whole");
    assert!(near(resolve(&wide).seam_lengths(&resolve(&wide).seams[1]).a, 360.0, 1e-6), "the seam goes over what was let in");
    // three hinges at the top: the hem is longer by three mouths, the top stays
    let cuts = [0.25, 0.5, 0.75].map(|at| [Spot::On { line: bottom, at }, Spot::On { line: top, at: 1.0 - at }]).to_vec();
    // spots of one line are taken one after another, so they are written from the end of the line
    let cuts: Vec<[Spot; 2]> = cuts.into_iter().take(1).collect();
    let flared = done(&panel, Edit::Spread { piece, cuts, amount: 60.0, by: SpreadBy::Hinge });
    sound(&flared);
    let added = 0.5 * 500.0 * 500.0 * 2.0 * (0.5f64 * 60.0 / 500.0).asin().sin().asin();
    let wedge = 0.5 * 60.0 * (500.0f64.powi(2) - 30.0f64.powi(2)).sqrt();
    assert!(near(area(&flared, piece), 150_000.0 + wedge, 1e-6), "{} {added}", area(&flared, piece));
    let hem = resolve(&flared).seam_lengths(&resolve(&flared).seams[1]).a;
    assert!(near(hem, 360.0, 1e-6), "{hem}");

    for (pleat, folds, cloth) in [(Pleat::Knife, 2, 2.0), (Pleat::Box, 4, 4.0), (Pleat::Inverted, 4, 4.0)] {
        let [from, to] = across(0.3);
        let laid = done(&costume, Edit::AddPleats { piece, from, to, count: 2, depth: 25.0, spacing: 60.0, pleat });
        sound(&laid);
        assert!(near(area(&laid, piece), 150_000.0 + 2.0 * cloth * 25.0 * 500.0, 1e-6), "{pleat:?}: {}", area(&laid, piece));
        let pressed = drawing(&laid.pieces[0]).inside.iter().filter(|p| matches!(p.purpose, Purpose::Fold { .. })).count();
        assert_eq!(pressed, 2 * folds, "{pleat:?}");
        // layers of the same width lie on each other
        let pattern = resolve(&laid);
        assert!(pattern.seams[1..].iter().all(|s| near(pattern.seam_lengths(s).difference(), 0.0, 1e-6)), "{pleat:?}");
        assert_eq!(pattern.seams.len() - 1, if pleat == Pleat::Knife { 4 } else { 8 });
    }
}

#[test]
fn parallels_keep_their_distance_and_paths_reach_the_outline() {
    let costume = rectangle(300.0, 200.0);
    let piece = first(&costume).id;
    let bent = done(&costume, Edit::BendLine { piece, line: line(first(&costume), 0), at: 0.5, to: Point::new(150.0, 40.0) });
    let lined = done(&bent, Edit::AddParallel { piece, line: line(first(&bent), 0), distance: 25.0, purpose: Purpose::Stitching });
    sound(&lined);
    let pattern = resolve(&lined);
    let p = &pattern.pieces[0];
    let edge: Vec<kurbo::Point> = (0..=2000).map(|k| curve(first(&bent), 0).eval(f64::from(k) / 2000.0)).collect();
    for &l in &p.inside[0].lines {
        for t in [0.2, 0.5, 0.8] {
            let q = p.lines[l].curve.eval(t);
            let d = edge.iter().map(|e| (*e - q).hypot()).fold(f64::MAX, f64::min);
            assert!(near(d, 25.0, 0.05), "{d}");
        }
    }
    let loose = Edit::AddInside {
        piece,
        points: vec![Anchor::At(Point::new(60.0, 100.0)), Anchor::At(Point::new(200.0, 120.0))],
        purpose: Purpose::StyleLine,
    };
    let free = done(&costume, loose);
    let path = drawing(first(&free)).inside[0].id;
    let out =
        done(&done(&free, Edit::ExtendInside { piece, path, end: LineEnd::To }), Edit::ExtendInside { piece, path, end: LineEnd::From });
    sound(&out);
    let lines = resolve(&out).pieces[0].inside[0].lines.len();
    assert_eq!(lines, 1, "a straight path stays one line");
    let l = &resolve(&out).pieces[0].lines[resolve(&out).pieces[0].inside[0].lines[0]].curve;
    assert!(near(l.start().x, 0.0, 1e-6) && near(l.end().x, 300.0, 1e-6) && near(l.start().y, 100.0 - 60.0 / 7.0, 1e-6), "{l:?}");
    let on = Edit::AddInside {
        piece,
        points: vec![Anchor::On { line: line(first(&costume), 0), at: 0.5 }, Anchor::On { line: line(first(&costume), 2), at: 0.5 }],
        purpose: Purpose::Fold { angle: 90.0 },
    };
    sound(&done(&costume, on));
}

#[test]
fn notches_of_a_seam_meet_and_pasted_pieces_are_their_own() {
    let costume = common::join(&two_panels(), (0, 1), (1, 3));
    let notched = done(&costume, Edit::AddSeamNotch { seam: costume.seams[0].id, at: 120.0, double: true });
    let pattern = resolve(&notched);
    let heights: Vec<f64> = pattern
        .pieces
        .iter()
        .flat_map(|p| {
            p.marks.iter().filter_map(|m| match m.mark {
                Mark::Notch { at, .. } => m.line.map(|l| p.lines[l].curve.eval(at).y),
                _ => None,
            })
        })
        .collect();
    assert_eq!(heights, [120.0, 120.0]);
    assert!(apply(&costume, &Edit::AddSeamNotch { seam: costume.seams[0].id, at: 620.0, double: false }).is_err());
    let both = done(&notched, Edit::Paste { clip: Box::new(notched.clone()), by: Point::new(0.0, 700.0) });
    sound(&both);
    assert_eq!((both.pieces.len(), both.seams.len(), both.fabrics.len()), (4, 2, 1));
    let moved = done(&both, Edit::MoveNode { piece: both.pieces[2].id, node: node(&both.pieces[2], 0), to: Point::new(-40.0, 0.0) });
    assert_eq!(moved.pieces[0], notched.pieces[0], "the pattern that was copied is untouched");
    let mut broken = notched.clone();
    broken.seams[0].a[0].line = LineId(9999);
    assert!(apply(&costume, &Edit::Paste { clip: Box::new(broken), by: Point::new(0.0, 0.0) }).is_err());
    let _ = edge;
}

/// Area within a polygon.
#[test]
fn cutting_lines_are_offsets_with_the_corners_that_are_asked_for() {
    let costume = rectangle(300.0, 200.0);
    let piece = first(&costume).id;
    let all = |costume: &Costume, finish: Finish| {
        let lines = drawing(first(costume)).outline.clone();
        lines
            .into_iter()
            .fold(costume.clone(), |c, line| done(&c, Edit::FinishLine { piece, line, from: 0.0, to: 1.0, finish: Some(finish) }))
    };
    assert!(resolve(&costume).pieces[0].cutting_lines().is_empty());
    let even = all(&costume, Finish::Allowance { width: 10.0, corner: AllowanceCorner::Pointed });
    let cut = resolve(&even).pieces[0].cutting_lines();
    assert!(cut.len() == 1 && cut[0].len() == 12 && near(shoelace(&cut[0]), 320.0 * 220.0, 1e-6), "{cut:?}");
    // a half disc: its arc becomes one of a greater radius, its straight edge is moved aside, both meet at their corners
    let basic = Basic::Sector { outer: 200.0, inner: 0.0, degrees: 180.0 };
    let disc = done(&Costume::new("T"), Edit::AddBasic { name: "Half".into(), at: Point::new(0.0, 0.0), basic });
    let lines = drawing(first(&disc)).outline.clone();
    let on = first(&disc).id;
    let wide = lines.into_iter().fold(disc, |c, line| {
        done(
            &c,
            Edit::FinishLine {
                piece: on,
                line,
                from: 0.0,
                to: 1.0,
                finish: Some(Finish::Allowance { width: 12.0, corner: AllowanceCorner::Pointed }),
            },
        )
    });
    let around = &resolve(&wide).pieces[0].cutting_lines()[0];
    for p in around.iter().filter(|p| p.y < -1.0) {
        assert!(near(p.x.hypot(p.y), 212.0, 0.05), "{p:?}");
    }
    assert!(near(shoelace(around), PI * 212.0 * 212.0 / 2.0 + 12.0 * 424.0, 14.0), "{}", shoelace(around));
    // a hem under slanting sides: the cloth that is turned up is the mirror image of what it lies on
    let skirt = done(&Costume::new("T"), common::add("Skirt", 0.0, &[(0.0, 0.0), (400.0, 0.0), (300.0, 500.0), (100.0, 500.0)]));
    let id = first(&skirt).id;
    let hemmed = done(
        &skirt,
        Edit::FinishLine { piece: id, line: line(first(&skirt), 0), from: 0.0, to: 1.0, finish: Some(Finish::Hem { width: 40.0 }) },
    );
    let around = &resolve(&hemmed).pieces[0].cutting_lines()[0];
    let low: Vec<f64> = around.iter().filter(|p| near(p.y, -40.0, 1e-9)).map(|p| p.x).collect();
    let inset = 40.0 * 100.0 / 500.0;
    assert!(low.iter().all(|x| near(*x, inset, 1e-6) || near(*x, 400.0 - inset, 1e-6)), "{around:?}");
    assert!(low.iter().any(|x| near(*x, inset, 1e-6)) && low.iter().any(|x| near(*x, 400.0 - inset, 1e-6)), "{around:?}");
    // inner corners with curves that leave them steeply: nothing of the cutting line comes nearer than its width
    let dips = [
        ((0.0, 0.0), None),
        ((300.0, 0.0), None),
        ((300.0, 150.0), None),
        ((200.0, 150.0), Some([(190.0, 130.0), (110.0, 130.0)])),
        ((100.0, 150.0), None),
        ((0.0, 150.0), None),
    ];
    let points = dips.map(|((x, y), handles)| costume::LoopPoint { x, y, handles: handles.map(|h| h.map(|(x, y)| Point::new(x, y))) });
    let bib =
        done(&Costume::new("T"), Edit::AddPiece { name: "Bib".into(), at: Point::new(0.0, 0.0), points: points.to_vec(), fold: None });
    let bib = resolve(&all(&bib, Finish::Allowance { width: 14.0, corner: AllowanceCorner::Pointed }));
    let around = &bib.pieces[0].cutting_lines()[0];
    let away = |p: &Point| {
        let lines = bib.pieces[0].lines.iter().flat_map(|l| (0..=400).map(|k| l.curve.eval(f64::from(k) / 400.0)));
        lines.map(|q| (q.x - p.x).hypot(q.y - p.y)).fold(f64::MAX, f64::min)
    };
    assert!(around.iter().all(|p| away(p) > 13.97), "{around:?}");
    // a wide allowance beside a line that is cut as it is: that line goes on to the cutting line, which begins there
    let slanted = done(&Costume::new("T"), common::add("Facing", 0.0, &[(0.0, 0.0), (70.0, 0.0), (70.0, 500.0), (0.0, 420.0)]));
    let id = first(&slanted).id;
    let finish = Finish::Allowance { width: 10.0, corner: AllowanceCorner::Pointed };
    let one = done(&slanted, Edit::FinishLine { piece: id, line: line(first(&slanted), 3), from: 0.0, to: 1.0, finish: Some(finish) });
    let around = &resolve(&one).pieces[0].cutting_lines()[0];
    assert!(near(shoelace(around), 70.0 * 460.0 + 10.0 * 0.5 * (420.0 + 420.0 - 80.0 / 7.0), 1e-6), "{around:?}");
    assert!(near(around.iter().filter(|p| p.x < -1.0).map(|p| p.y).fold(f64::MIN, f64::max), 420.0 - 80.0 / 7.0, 1e-9), "{around:?}");
    // a square end of one allowance beside another
    let slanted = done(&Costume::new("T"), common::add("Slant", 0.0, &[(0.0, 0.0), (200.0, 0.0), (260.0, 150.0), (0.0, 150.0)]));
    let id = first(&slanted).id;
    let finish = |c: &Costume, k: usize, corner| {
        done(
            c,
            Edit::FinishLine {
                piece: id,
                line: line(first(c), k),
                from: 0.0,
                to: 1.0,
                finish: Some(Finish::Allowance { width: 10.0, corner }),
            },
        )
    };
    let squared = finish(&finish(&slanted, 1, AllowanceCorner::Square), 2, AllowanceCorner::Pointed);
    let around = &resolve(&squared).pieces[0].cutting_lines()[0];
    // from where the seam line meets the other cutting line, square to it by its width
    let d = 60f64.hypot(150.0);
    let met = Point::new(260.0 + 60.0 / 150.0 * 10.0, 160.0);
    let tip = Point::new(met.x + 150.0 / d * 10.0, met.y - 60.0 / d * 10.0);
    assert!([met, tip].iter().all(|w| around.iter().any(|p| p.distance(*w) < 1e-6)), "{around:?}");
}

#[test]
fn a_half_is_drawn_across_its_fold() {
    let points = common::points(&[(0.0, 0.0), (150.0, 0.0), (120.0, 300.0), (0.0, 300.0)]);
    let drawn = done(&Costume::new("T"), Edit::AddPiece { name: "Back".into(), at: Point::new(0.0, 0.0), points, fold: Some(3) });
    assert!(near(area(&drawn, first(&drawn).id), 2.0 * 300.0 * 135.0, 1e-6));
    sound(&drawn);
    let bad = Edit::AddPiece {
        name: "Back".into(),
        at: Point::new(0.0, 0.0),
        points: common::points(&[(0.0, 0.0), (9.0, 0.0), (0.0, 9.0)]),
        fold: Some(7),
    };
    assert!(apply(&Costume::new("T"), &bad).is_err());
}

proptest! {
    /// Wherever a piece is cut, its parts have its area, and laid together again they have its outline.
    #[test]
    fn a_cut_and_a_merge_are_each_others_opposite(a in 0.05..0.95f64, b in 0.05..0.95f64, x in 60.0..240.0f64, y in 120.0..380.0f64, straight: bool) {
        let costume = two_panels();
        let piece = costume.pieces[0].id;
        let through = if straight { vec![] } else { vec![Point::new(x, y)] };
        let [from, to] = [(0, a), (2, b)].map(|(k, at)| Spot::On { line: line(&costume.pieces[0], k), at });
        let parted = done(&costume, Edit::CutPiece { piece, from, to, through, sew: true });
        sound(&parted);
        let new = parted.pieces[2].id;
        prop_assert!(near(area(&parted, piece) + area(&parted, new), 150_000.0, 1e-6));
        let lengths = common::sides(&parted);
        prop_assert!(near(lengths[0], lengths[1], 1e-9), "the cut is as long on both sides");
        let merged = done(&parted, Edit::MergePieces { seam: parted.seams[0].id });
        sound(&merged);
        prop_assert!(near(area(&merged, piece), 150_000.0, 1e-6) && near(around(&merged, 0), 1600.0, 1e-6));
    }

    /// A spread lets in a strip of its width, or a wedge, wherever it is laid.
    #[test]
    fn a_spread_lets_in_what_was_asked(a in 0.1..0.9f64, b in 0.1..0.9f64, amount in 5.0..150.0f64) {
        let costume = rectangle(300.0, 500.0);
        let piece = first(&costume).id;
        let [from, to] = [(0, a), (2, b)].map(|(k, at)| Spot::On { line: line(first(&costume), k), at });
        let length = 500f64.hypot(300.0 * (a - (1.0 - b)));
        let even = done(&costume, Edit::Spread { piece, cuts: vec![[from, to]], amount, by: SpreadBy::Parallel });
        sound(&even);
        prop_assert!(near(area(&even, piece), 150_000.0 + amount * length, 1e-6));
        let hinged = done(&costume, Edit::Spread { piece, cuts: vec![[from, to]], amount, by: SpreadBy::Hinge });
        sound(&hinged);
        let wedge = 0.5 * amount * (length * length - 0.25 * amount * amount).sqrt();
        prop_assert!(near(area(&hinged, piece), 150_000.0 + wedge, 1e-6));
    }
}

#[test]
fn ease_makes_a_line_longer_by_exactly_as_much_and_leaves_its_ends() {
    let costume = rectangle(300.0, 200.0);
    let piece = first(&costume).id;
    for line in 0..4 {
        let id = drawing(first(&costume)).lines[line].id;
        let before = length(first(&costume), line);
        let more = done(&costume, Edit::AddEase { piece, line: id, amount: 12.5 });
        assert!(near(length(first(&more), line), before + 12.5, 1e-3), "line {line}");
        assert_eq!(drawing(first(&more)).nodes, drawing(first(&costume)).nodes);
        // the cloth grows, as the line bows outwards
        assert!(resolve(&more).pieces[0].area() > resolve(&costume).pieces[0].area());
        // and back again, as far as a straight line is short
        let less = done(&more, Edit::AddEase { piece, line: id, amount: -6.0 });
        assert!(near(length(first(&less), line), before + 6.5, 1e-3), "line {line}");
        assert!(
            costume::apply(&costume, &Edit::AddEase { piece, line: id, amount: -1.0 }).is_err(),
            "a straight line is as short as it can be"
        );
        assert!(costume::apply(&costume, &Edit::AddEase { piece, line: id, amount: f64::NAN }).is_err());
    }
}
