//! Twins and halves on the fold: what is mirrored, what follows, and what becomes of it.

mod common;

use common::*;
use costume::{Anchor, Costume, CutPlan, Edit, LineRef, Pattern, PieceId, Placement, Point, Purpose, Run, apply, point_at, resolve};

/// A sleeve-like piece that is no mirror image of itself, its twin, and a body panel of 400 x 500 mm.
fn twins() -> (Costume, PieceId, PieceId) {
    let shape = [(0.0, 0.0), (260.0, 20.0), (210.0, 300.0), (30.0, 280.0)];
    let mut costume = done(&Costume::new("Twins"), add("Sleeve", 0.0, &shape));
    let sleeve = costume.pieces[0].id;
    let placement = Some(Placement { station: "upper-arm-left".into(), shift: Point::new(15.0, 40.0), turn: 8.0, ..Default::default() });
    costume = done(&costume, Edit::Place { piece: sleeve, placement });
    costume = done(&costume, Edit::AddTwin { piece: sleeve, at: Point::new(600.0, 0.0) });
    let twin = costume.pieces[1].id;
    (costume, sleeve, twin)
}

fn image(p: Point) -> Point {
    Point::new(-p.x, p.y)
}

/// Every line of the twin lies where the mirror shows that of its partner.
fn check_mirror(pattern: &Pattern, a: PieceId, b: PieceId) {
    let (a, b) = (pattern.piece(a).expect("a piece"), pattern.piece(b).expect("a twin"));
    assert!((a.area() - b.area()).abs() < 1e-6 && a.outline.len() == b.outline.len());
    for line in &a.lines {
        let other = b.lines.iter().find(|l| l.id == line.id && l.image == line.image).expect("the same line");
        for k in 0..=8 {
            let s = f64::from(k) / 8.0;
            assert!(image(point_at(&line.curve, s)).distance(point_at(&other.curve, 1.0 - s)) < 1e-6);
        }
    }
}

#[test]
fn a_twin_mirrors_its_partner_and_hangs_on_the_other_side() {
    let (costume, sleeve, twin) = twins();
    let pattern = resolve(&costume);
    check_mirror(&pattern, sleeve, twin);
    let at = pattern.piece(twin).and_then(|p| p.placement.clone()).expect("a place");
    assert_eq!((at.station.as_str(), at.shift, at.turn), ("upper-arm-right", Point::new(-15.0, 40.0), -8.0));
    // the warp seen in the mirror
    let grained = done(&costume, Edit::SetGrain { piece: sleeve, degrees: 60.0 });
    let other = done(&grained, Edit::AddTwin { piece: sleeve, at: Point::new(900.0, 0.0) });
    assert_eq!(other.pieces[2].grain, 120.0);
}

#[test]
fn an_edit_of_either_changes_both() {
    let (costume, sleeve, twin) = twins();
    let corner = node(&costume.pieces[0], 2);
    let on_twin = done(&costume, Edit::MoveNode { piece: twin, node: corner, to: Point::new(-230.0, 340.0) });
    let on_partner = done(&costume, Edit::MoveNode { piece: sleeve, node: corner, to: Point::new(230.0, 340.0) });
    assert_eq!(on_twin.pieces[0], on_partner.pieces[0]);
    check_mirror(&resolve(&on_twin), sleeve, twin);
    // a share of a line is counted as the piece shows it
    let edge = line(&costume.pieces[0], 1);
    let [a, b] = [(twin, 0.25), (sleeve, 0.75)]
        .map(|(piece, fraction)| done(&costume, Edit::SplitLine { piece, line: edge, fraction, by_length: true }));
    let at = |c: &Costume| drawing(&c.pieces[0]).nodes.iter().max_by_key(|n| n.id).expect("a node").at;
    assert!(at(&a).distance(at(&b)) < 1e-6);
    let folded = done(
        &a,
        Edit::AddInside {
            piece: twin,
            points: vec![Anchor::At(Point::new(-100.0, 100.0)), Anchor::At(Point::new(-100.0, 200.0))],
            purpose: Purpose::StyleLine,
        },
    );
    check_mirror(&resolve(&folded), sleeve, twin);
    assert!(apply(&costume, &Edit::AddTwin { piece: twin, at: Point::new(0.0, 0.0) }).expect_err("refused").reason.contains("twin itself"));
}

#[test]
fn seams_of_twins_sew_as_twins_until_they_are_separated() {
    let (costume, sleeve, twin) = twins();
    // the underarm seam of the sleeve: its image closes the twin
    let closed = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[0], 3) });
    let pattern = resolve(&closed);
    assert_eq!(pattern.seams.len(), 2);
    let seam = &pattern.seams[1];
    assert!(seam.image && seam.tag == "A'" && seam.a.iter().chain(&seam.b).all(|r| pattern.pieces[r.piece].id == twin));
    let (a, b) = (pattern.seam_lengths(&pattern.seams[0]), pattern.seam_lengths(seam));
    assert!((a.a - b.a).abs() < 1e-6 && (a.b - b.b).abs() < 1e-6);
    // twins sewn to each other along the same line: one seam, not two
    let middle = LineRef { piece: sleeve, line: line(&costume.pieces[0], 0) };
    let joined = done(&closed, Edit::Join { a: middle, b: LineRef { piece: twin, ..middle } });
    assert_eq!(resolve(&joined).seams.len(), 3);

    // separated, the twin keeps its shape, its place and its seams
    let alone = done(&joined, Edit::SeparateTwin { piece: twin });
    let after = resolve(&alone);
    assert_eq!((after.seams.len(), after.seams.iter().filter(|s| s.image).count()), (3, 0));
    let before = resolve(&joined);
    let (was, is) = (before.piece(twin).expect("a twin"), after.piece(twin).expect("a piece"));
    assert!(was.placement == is.placement && (was.area() - is.area()).abs() < 1e-9 && is.twin_of.is_none());
    let ends = |p: &Pattern, s: usize| {
        let seam = &p.seams[s];
        seam.a
            .iter()
            .chain(&seam.b)
            .flat_map(|r| [r.from, r.to].map(|f| point_at(&p.pieces[r.piece].lines[r.line].curve, f)))
            .collect::<Vec<_>>()
    };
    let sewn = |p: &Pattern| {
        let mut all: Vec<String> = (0..p.seams.len()).map(|s| format!("{:.3?}", ends(p, s))).collect();
        all.sort();
        all
    };
    assert_eq!(sewn(&before), sewn(&after), "every seam is where it was");
    // and an edit of the partner leaves it alone
    let moved = done(&alone, Edit::MoveNode { piece: sleeve, node: node(&alone.pieces[0], 2), to: Point::new(230.0, 340.0) });
    assert_eq!(resolve(&moved).piece(twin), Some(is));
}

#[test]
fn a_twin_takes_over_when_its_partner_goes() {
    let (costume, sleeve, twin) = twins();
    let closed = done(
        &costume,
        Edit::Sew {
            a: vec![Run::whole(twin, line(&costume.pieces[0], 1))],
            b: vec![Run::whole(twin, line(&costume.pieces[0], 3)).turned()],
        },
    );
    let before = resolve(&closed);
    let left = done(&closed, Edit::RemovePiece { piece: sleeve });
    let after = resolve(&left);
    assert_eq!((after.pieces.len(), after.seams.len()), (1, 1));
    let (was, is) = (before.piece(twin).expect("a twin"), after.piece(twin).expect("its own"));
    assert!(is.twin_of.is_none() && was.placement == is.placement && (was.area() - is.area()).abs() < 1e-9);
    let lengths = after.seam_lengths(&after.seams[0]);
    let was = before.seam_lengths(before.seams.iter().find(|s| !s.image).expect("the seam"));
    assert!((lengths.a - was.a).abs() < 1e-6 && (lengths.b - was.b).abs() < 1e-6);
}

#[test]
fn a_half_on_the_fold_is_opened_with_all_that_lies_on_it() {
    let half = [(0.0, 0.0), (200.0, 0.0), (150.0, 300.0), (0.0, 300.0)];
    let mut costume = done(&Costume::new("Fold"), add("Front", 0.0, &half));
    costume = done(&costume, add("Strip", 600.0, &[(0.0, 0.0), (40.0, 0.0), (40.0, 310.0), (0.0, 310.0)]));
    let piece = costume.pieces[0].id;
    costume = done(&costume, Edit::AddCutout { piece, points: points(&[(60.0, 60.0), (100.0, 60.0), (80.0, 110.0)]) });
    let cut = CutPlan { count: 1, on_fold: Some(line(&costume.pieces[0], 3)) };
    let opened = done(&costume, Edit::SetCut { piece, cut });
    let front = resolve(&opened).pieces[0].clone();
    // a trapezium 400 and 300 mm wide, less two holes
    assert!((front.area() - (350.0 * 300.0 - 2.0 * 1000.0)).abs() < 1e-6, "{}", front.area());
    assert_eq!((front.outline.len(), front.cutouts.len()), (6, 2));
    // a seam on one side is sewn on the other side as well only where its partner has an image too
    let sewn = join(&opened, (0, 1), (1, 3));
    assert_eq!(resolve(&sewn).seams.len(), 1);
    let twin = done(&sewn, Edit::AddTwin { piece: sewn.pieces[1].id, at: Point::new(900.0, 0.0) });
    let both = resolve(&twin);
    assert_eq!(both.seams.len(), 2);
    let image = &both.seams[1];
    assert!(both.pieces[image.a[0].piece].lines[image.a[0].line].image && both.pieces[image.b[0].piece].twin_of.is_some());
    // the fold itself is no edge that can be sewn or split
    let fold = cut.on_fold.expect("a line");
    let refused = |edit: &Edit| apply(&opened, edit).expect_err("refused").to_string();
    assert!(refused(&Edit::SplitLine { piece, line: fold, fraction: 0.5, by_length: false }).contains("lies on the fold"));
    assert!(
        refused(&Edit::Join { a: LineRef { piece, line: fold }, b: edge(&opened.pieces[1], 0) }).contains("fold that a piece is cut on")
    );
    // a half that reaches over its fold would lie on itself
    let over = Edit::MoveNode { piece, node: node(&opened.pieces[0], 2), to: Point::new(-60.0, 200.0) };
    assert!(apply(&opened, &over).is_err());
}
