//! Edits: what each changes and what it must leave alone, and that no row of edits can break the document.

mod common;

use common::*;
use costume::{
    Along, Anchor, Arrangement, Basic, Closure, Costume, CutPlan, Ease, Edit, Fineness, Finish, LineEnd, LineId, LineRef, Mark, MarkId,
    NodeId, NodeKind, PaintKind, PathId, PieceId, Placement, Pleat, Point, PrintPlace, Purpose, Run, SeamId, Spot, SpreadBy, Stroke,
    Underlay, UnderlayId, apply, apply_on, diagnostics, point_at, read, resolve,
};
use kurbo::ParamCurve;
use proptest::prelude::*;

fn findings(costume: &Costume) -> Vec<costume::Diagnostic> {
    diagnostics(costume, &resolve(costume))
}

#[test]
fn pieces_run_counter_clockwise_whichever_way_they_are_drawn() {
    let costume = done(&Costume::new("Test"), add("Gusset", 5.0, &[(0.0, 0.0), (0.0, 100.0), (200.0, 0.0)]));
    assert!((area(&costume, costume.pieces[0].id) - 10_000.0).abs() < 1e-6);
}

#[test]
fn moving_a_piece_changes_nothing_but_its_place() {
    let before = two_panels();
    let after = done(&before, Edit::MovePiece { piece: before.pieces[0].id, at: Point::new(-70.0, 31.0) });
    let mut expected = before.clone();
    expected.pieces[0].at = Point::new(-70.0, 31.0);
    assert_eq!(after, expected);
}

#[test]
fn a_moved_corner_takes_its_handles_along() {
    let costume = two_panels();
    let piece = costume.pieces[0].clone();
    let curved = done(&costume, Edit::CurveLine { piece: piece.id, line: line(&piece, 0) });
    let moved = done(&curved, Edit::MoveNode { piece: piece.id, node: node(&piece, 0), to: Point::new(-30.0, 12.0) });
    let handles = line_of(&moved.pieces[0], 0).handles.expect("still a curve");
    assert_eq!(handles, [Point::new(70.0, 12.0), Point::new(200.0, 0.0)]);
}

#[test]
fn a_fresh_curve_is_as_long_as_the_straight_edge_and_straightens_back() {
    let costume = two_panels();
    let (id, corner) = (costume.pieces[0].id, line(&costume.pieces[0], 1));
    let curved = done(&costume, Edit::CurveLine { piece: id, line: corner });
    assert!((length(&curved.pieces[0], 1) - 500.0).abs() < 1e-3);
    assert_eq!(done(&curved, Edit::StraightenLine { piece: id, line: corner }), costume);
}

#[test]
fn a_handle_bends_the_edge_to_the_closed_form_of_its_cubic() {
    let costume = two_panels();
    let (id, corner) = (costume.pieces[0].id, line(&costume.pieces[0], 0));
    let curved = done(&costume, Edit::CurveLine { piece: id, line: corner });
    let bent = done(&curved, Edit::MoveHandle { piece: id, line: corner, end: LineEnd::From, to: Point::new(100.0, -90.0) });
    // B(1/2) = (p0 + 3 p1 + 3 p2 + p3) / 8
    let middle = curve(&bent.pieces[0], 0).eval(0.5);
    assert!((middle.x - 150.0).abs() < 1e-9 && (middle.y + 33.75).abs() < 1e-9, "{middle:?}");
}

#[test]
fn joined_edges_run_against_each_other_and_a_flip_turns_one_round() {
    let costume = two_panels();
    let (a, b) = (edge(&costume.pieces[0], 1), edge(&costume.pieces[1], 3));
    let joined = done(&costume, Edit::Join { a, b });
    let seam = &joined.seams[0];
    assert_eq!((seam.tag.as_str(), seam.a[0].is_backwards(), seam.b[0].is_backwards()), ("A", false, true));
    let flipped = done(&joined, Edit::FlipSeam { seam: seam.id });
    assert!(!flipped.seams[0].b[0].is_backwards());
    assert_eq!(done(&flipped, Edit::FlipSeam { seam: seam.id }), joined);
    assert!(done(&joined, Edit::Unpick { seam: seam.id }).seams.is_empty());
}

#[test]
fn a_corner_on_a_sewn_edge_keeps_the_seam_whole() {
    let costume = two_panels();
    let (a, b) = (edge(&costume.pieces[0], 1), edge(&costume.pieces[1], 3));
    let joined = done(&costume, Edit::Join { a, b });
    for target in [a, b] {
        let split = done(&joined, Edit::SplitLine { piece: target.piece, line: target.line, fraction: 0.25, by_length: false });
        let lengths = sides(&split);
        assert!(lengths.iter().all(|l| (l - 500.0).abs() < 1e-6), "{lengths:?}");
        assert_eq!(split.seams[0].runs().count(), 3);
        // and taking it out again leaves what was there
        let piece = split.piece(target.piece).expect("it stays");
        let added = drawing(piece).nodes.iter().max_by_key(|n| n.id).expect("the new corner").id;
        let back = done(&split, Edit::RemoveNode { piece: target.piece, node: added });
        assert_eq!((back.pieces, back.seams), (joined.pieces.clone(), joined.seams.clone()));
    }
}

#[test]
fn a_removed_piece_takes_its_seams_along_and_a_copy_brings_none() {
    let costume = two_panels();
    let joined = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    let copied = done(&joined, Edit::CopyPiece { piece: joined.pieces[0].id, at: Point::new(0.0, 700.0) });
    assert_eq!((copied.pieces.len(), copied.seams.len()), (3, 1));
    assert!((area(&copied, copied.pieces[2].id) - 150_000.0).abs() < 1e-6);
    let removed = done(&copied, Edit::RemovePiece { piece: joined.pieces[0].id });
    assert_eq!((removed.pieces.len(), removed.seams.len()), (2, 0));
}

#[test]
fn tags_go_on_after_z() {
    let mut costume = Costume::new("Many seams");
    for k in 0..27 {
        for x in [0.0, 1.0] {
            let points = points(&[(0.0, 0.0), (20.0, 0.0), (0.0, 20.0)]);
            let at = Point::new(60.0 * x, 60.0 * f64::from(k));
            costume = done(&costume, Edit::AddPiece { name: "Patch".into(), at, points, fold: None });
        }
        let n = costume.pieces.len();
        let (a, b) = (edge(&costume.pieces[n - 2], 0), edge(&costume.pieces[n - 1], 0));
        costume = done(&costume, Edit::Join { a, b });
    }
    let tags: Vec<_> = costume.seams.iter().map(|s| s.tag.as_str()).collect();
    assert_eq!((tags[0], tags[25], tags[26]), ("A", "Z", "AA"));
}

#[test]
fn faults_name_what_keeps_the_costume_from_hanging() {
    let costume = two_panels();
    let names = |c: &Costume| findings(c).into_iter().map(|f| format!("{} {}", f.item, f.reason)).collect::<Vec<_>>();
    assert_eq!(names(&costume), ["Left has no station on the body", "Right has no station on the body"]);
    let placement = Some(Placement { station: "chest-front".into(), shift: Point::new(0.0, 0.0), turn: 0.0, ..Default::default() });
    let placed = done(&costume, Edit::Place { piece: costume.pieces[0].id, placement });
    let parked = done(&placed, Edit::Park { piece: costume.pieces[1].id, parked: true });
    assert!(names(&parked).is_empty());
    let shorter = Edit::MoveNode { piece: costume.pieces[1].id, node: node(&costume.pieces[1], 3), to: Point::new(0.0, 460.0) };
    let uneven = done(&done(&placed, shorter), Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    assert!(
        names(&uneven).contains(&"Seam A its sides differ by 4.0 cm, more than the cloth can be eased".to_owned()),
        "{:?}",
        names(&uneven)
    );
    assert_eq!(names(&Costume::new("Bare")), ["Bare has no piece to hang"]);
}

#[test]
fn the_file_gives_back_the_same_costume() {
    let costume = two_panels();
    let joined = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    let curved = done(&joined, Edit::CurveLine { piece: joined.pieces[0].id, line: line(&joined.pieces[0], 0) });
    let fine = done(&curved, Edit::ChooseFineness { fineness: Fineness::Custom(12.5) });
    assert_eq!(read(&text(&fine)).expect("readable"), fine);
}

/// Any edit on whatever there is; many are refused.
fn any_edit() -> impl Strategy<Value = (usize, usize, usize, f64, f64)> {
    (0..=KINDS, 0..6usize, 0..8usize, -600.0..600.0f64, -600.0..600.0f64)
}

const KINDS: usize = 84;

#[allow(clippy::too_many_lines)]
fn make(costume: &Costume, (kind, p, c, x, y): (usize, usize, usize, f64, f64)) -> Edit {
    let at = Point::new(x, y);
    let share = ((x + 600.0) / 1200.0).clamp(0.0, 1.0);
    let chosen = costume.pieces.get(p % costume.pieces.len().max(1));
    let piece = chosen.map_or(PieceId(9999), |q| q.id);
    let shown = costume.drawing(piece).map(|(d, _)| d.clone()).unwrap_or_default();
    let line = shown.lines.get(c % shown.lines.len().max(1)).map_or(LineId(9999), |l| l.id);
    let node = shown.nodes.get(c % shown.nodes.len().max(1)).map_or(NodeId(9999), |n| n.id);
    let across = shown.nodes.get((c + 2) % shown.nodes.len().max(1)).map_or(NodeId(9999), |n| n.id);
    let path = shown.inside.first().map_or(PathId(9999), |p| p.id);
    let mark = shown.marks.first().map_or(MarkId(9999), |m| m.id());
    let other = costume.pieces.get(c % costume.pieces.len().max(1)).map_or(PieceId(9999), |q| q.id);
    let other_line = costume.drawing(other).and_then(|(d, _)| d.lines.get((p + c) % d.lines.len())).map_or(LineId(9999), |l| l.id);
    let seam = costume.seams.get(c % costume.seams.len().max(1)).map_or(SeamId(9999), |s| s.id);
    let underlay = costume.underlays.get(c % costume.underlays.len().max(1)).map_or(UnderlayId(9999), |u| u.id);
    let end = if x < y { LineEnd::From } else { LineEnd::To };
    let purpose = [Purpose::Fold { angle: x / 4.0 }, Purpose::StyleLine, Purpose::DartLeg, Purpose::Placement { of: other }][c % 4];
    let outer = |k: usize| shown.outline.get(k % shown.outline.len().max(1)).copied().unwrap_or(LineId(9999));
    let spot = |k: usize| if k.is_multiple_of(3) { Spot::Node(node) } else { Spot::On { line: outer(k), at: share } };
    let finish = [Finish::StayTape, Finish::Elastic { length: 70.0 }, Finish::Hem { width: 20.0 }][c % 3];
    match kind {
        0 => add("New", x, &[(0.0, 0.0), (x, 0.0), (x, y)]),
        // an empty table would refuse nearly all that follows
        1 if costume.pieces.len() > 2 => Edit::RemovePiece { piece },
        1 => add("Other", y, &[(0.0, 0.0), (90.0, 0.0), (0.0, 70.0)]),
        2 => Edit::CopyPiece { piece, at },
        3 => Edit::MovePiece { piece, at },
        4..=7 => Edit::MoveNode { piece, node, to: at },
        8 => Edit::CurveLine { piece, line },
        9 => Edit::MoveHandle { piece, line, end, to: at },
        10 => Edit::StraightenLine { piece, line },
        11 | 12 => Edit::SplitLine { piece, line, fraction: share, by_length: c.is_multiple_of(2) },
        13 => Edit::RemoveNode { piece, node },
        14 => Edit::FlipSeam { seam },
        15 => Edit::Unpick { seam },
        16 | 17 => Edit::Join { a: LineRef { piece, line }, b: LineRef { piece: other, line: other_line } },
        18 => Edit::Sew {
            a: vec![Run { piece, line, from: share, to: 1.0 - share / 3.0 }],
            b: vec![Run { piece: other, line: other_line, from: 1.0, to: share / 2.0 }],
        },
        19 => Edit::AddTwin { piece, at },
        20 => Edit::SeparateTwin { piece },
        21 => Edit::TurnPiece { piece, angle: x },
        22 => Edit::SetNodeKind { piece, node, kind: if c.is_multiple_of(2) { NodeKind::Smooth } else { NodeKind::Corner } },
        23 => Edit::AddCutout { piece, points: points(&[(x, y), (x + 40.0, y), (x, y + 30.0)]) },
        24 => Edit::RemoveCutout { piece, line },
        25 => Edit::AddInside { piece, points: vec![Anchor::Node(node), Anchor::Node(across)], purpose },
        26 => Edit::AddInside { piece, points: vec![Anchor::At(at), Anchor::At(Point::new(150.0, 250.0)), Anchor::Node(node)], purpose },
        27 => Edit::SetPurpose { piece, path, purpose },
        28 => Edit::RemoveInside { piece, path },
        29 => Edit::AddNotch { piece, line, at: share, double: c.is_multiple_of(2) },
        30 => Edit::AddDrillHole { piece, at },
        31 => Edit::AddText { piece, at, text: "Straight grain".into() },
        32 => Edit::ChangeMark { piece, mark: Mark::DrillHole { id: mark, at } },
        33 => Edit::RemoveMark { piece, mark },
        34 => Edit::FinishLine { piece, line, from: share / 2.0, to: 1.0 - share / 3.0, finish: Some(finish) },
        35 => Edit::FinishLine { piece, line, from: 0.0, to: 1.0, finish: None },
        36 => Edit::SetCut { piece, cut: CutPlan { count: c as u8, on_fold: (c.is_multiple_of(2)).then_some(line) } },
        37 => Edit::FoldSeam { seam, fold: Some(x / 4.0) },
        38 => Edit::CloseSeam { seam, closure: Some(Closure { open: share, by: Default::default() }) },
        39 => Edit::EaseSeam { seam, ease: Ease::BetweenNotches },
        40 => Edit::SetWear { piece, wear: c as u8 },
        41 => Edit::Place { piece, placement: Some(Placement { station: "chest-front".into(), shift: at, turn: x, ..Default::default() }) },
        42 => Edit::SetGrain { piece, degrees: x },
        43 => Edit::BendLine { piece, line, at: share, to: at },
        76 => Edit::LayUnderlay {
            underlay: Box::new(Underlay {
                id: UnderlayId(0),
                name: "Scan".into(),
                asset: "0a".repeat(32),
                page: 0,
                pixels: [800, 600],
                corners: [(x, y + 300.0), (x + 400.0, y + 300.0), (x + 400.0, y), (x, y)].map(|(x, y)| Point::new(x, y)),
                fade: share,
                locked: false,
            }),
        },
        77 => Edit::MoveUnderlay { underlay, by: at },
        78 => Edit::TurnUnderlay { underlay, by: x },
        79 if c.is_multiple_of(2) => Edit::SetUnderlayDpi { underlay, dpi: x.abs() },
        79 => Edit::ScaleUnderlay { underlay, from: at, to: Point::new(y, x), length: x.abs() },
        80 => Edit::StraightenUnderlay {
            underlay,
            corners: [at, Point::new(x + 200.0, y + 5.0), Point::new(x + 190.0, y + 130.0), Point::new(x - 9.0, y + 120.0)],
            width: 180.0,
            height: 90.0 + x.abs() / 10.0,
        },
        81 if c.is_multiple_of(3) => Edit::TakeUnderlay { underlay },
        81 => Edit::ShowUnderlay { underlay, fade: share, locked: c.is_multiple_of(2) },
        82 => {
            let stroke = Stroke::Brush { points: vec![at, Point::new(y, x)], radius: 20.0 + x.abs(), soft: share, value: share };
            Edit::Paint { piece, kind: if c < 4 { PaintKind::Skin } else { PaintKind::Grip }, stroke }
        }
        83 if c.is_multiple_of(3) => Edit::RemovePaint { piece, kind: PaintKind::Skin },
        83 => {
            Edit::Paint { piece, kind: PaintKind::Skin, stroke: Stroke::Gradient { from: at, to: Point::new(y, x), values: [share, 1.0] } }
        }
        75 => Edit::AddEase { piece, line, amount: x / 10.0 },
        44 => Edit::SetLength { piece, line, length: x.abs(), moves: end },
        45 => Edit::SetAngle { piece, line, degrees: x, moves: end },
        46 => Edit::LevelLine { piece, line, plumb: c.is_multiple_of(2), moves: end },
        47 => Edit::RoundCorner { piece, node, radius: x.abs() / 8.0 },
        48 => Edit::ChamferCorner { piece, node, length: x.abs() / 8.0 },
        49 => Edit::DivideLine { piece, line, parts: c as u8 },
        50 => Edit::MoveNodes { piece, nodes: vec![node, across], by: Point::new(x / 20.0, y / 20.0), reach: 120.0 },
        51 => Edit::RedrawLine { piece, line, points: vec![at, Point::new(x / 2.0, y), Point::new(x, y / 2.0), at], within: 0.5 },
        52 => Edit::AddFreehand {
            name: "Free".into(),
            at,
            points: vec![at, Point::new(x + 200.0, y), Point::new(x + 90.0, y + 150.0)],
            within: 1.0,
        },
        53 => Edit::AddBasic {
            name: "Basic".into(),
            at,
            basic: Basic::Sector { outer: x.abs(), inner: y.abs() / 4.0, degrees: 60.0 * c as f64 },
        },
        54 => Edit::MirrorPiece { piece },
        55 => Edit::ScalePiece { piece, x: 1.0 + x / 1200.0, y: 1.0 + y / 1200.0 },
        56 => Edit::Arrange { pieces: vec![piece, other], how: [Arrangement::Left, Arrangement::Middle, Arrangement::SpreadAcross][c % 3] },
        57 => Edit::OrderPiece { piece, to: c },
        58 => Edit::LockPieces { pieces: vec![piece], locked: c == 0 },
        59 => Edit::GroupPieces { pieces: vec![piece, other], together: c.is_multiple_of(2) },
        60 if costume.pieces.len() < 4 => Edit::Paste { clip: Box::new(costume.clone()), by: at },
        60 | 61 => Edit::CutPiece { piece, from: spot(c), to: spot(c + 2), through: vec![], sew: c.is_multiple_of(2) },
        62 => Edit::MergePieces { seam },
        63 => Edit::OpenFold { piece },
        64 => Edit::CloseFold { piece, from: node, to: across },
        65 => Edit::AddDart { piece, line, at: share, width: 20.0, depth: 60.0 + x.abs() / 6.0 },
        66 => Edit::AddInsideDart { piece, at, width: 16.0, up: 40.0, down: 50.0, degrees: x },
        67 | 68 => Edit::TurnDart { piece, tip: node, to: spot(c + 1), share: share.max(0.2), gathers: c.is_multiple_of(2) },
        69 => Edit::Spread {
            piece,
            cuts: vec![[spot(c), spot(c + 2)]],
            amount: 30.0,
            by: if c.is_multiple_of(2) { SpreadBy::Hinge } else { SpreadBy::Parallel },
        },
        70 => Edit::AddPleats {
            piece,
            from: spot(c),
            to: spot(c + 2),
            count: 1 + (c % 2) as u8,
            depth: 15.0,
            spacing: 40.0,
            pleat: [Pleat::Knife, Pleat::Box, Pleat::Inverted][c % 3],
        },
        71 => Edit::AddParallel { piece, line, distance: x / 20.0, purpose },
        72 => Edit::ExtendInside { piece, path, end },
        84 => Edit::PlacePrint { piece, place: (x < y).then_some(PrintPlace { at, turn: y }) },
        73 => Edit::AddSeamNotch { seam, at: x.abs() / 2.0, double: c.is_multiple_of(2) },
        _ => Edit::Batch { edits: vec![Edit::MoveNode { piece, node, to: at }, Edit::AddNotch { piece, line, at: share, double: false }] },
    }
}

/// Every line of a twin is the image of its partner's, walked the other way.
fn twins_are_mirror_images(pattern: &costume::Pattern) -> bool {
    let image = |p: kurbo::Point| kurbo::Point::new(-p.x, p.y);
    pattern.pieces.iter().filter_map(|p| Some((p, pattern.piece(p.twin_of?)?))).all(|(twin, partner)| {
        twin.lines.len() == partner.lines.len()
            && twin.lines.iter().zip(&partner.lines).all(|(t, p)| {
                t.id == p.id
                    && (t.curve.start() - image(p.curve.end())).hypot() < 1e-9
                    && (t.curve.eval(0.3) - image(p.curve.eval(0.7))).hypot() < 1e-9
            })
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn no_row_of_edits_breaks_the_document(edits in prop::collection::vec(any_edit(), 200)) {
        let first = two_panels();
        let mut history = vec![first.clone()];
        for values in edits {
            let costume = history.last().expect("the first").clone();
            let edit = make(&costume, values);
            let before = costume.clone();
            match apply(&costume, &edit) {
                Ok(next) => {
                    // the file reader holds every document to all rules again
                    prop_assert_eq!(&read(&text(&next)).map_err(|e| TestCaseError::fail(format!("{edit:?}: {e}")))?, &next);
                    prop_assert!(next.next_id >= before.next_id, "ids are never used twice");
                    // what is resolved from the document on its way is what is resolved from the one that was kept
                    let pattern = resolve(&next);
                    let (tried, on_the_way) = apply_on(&costume, &resolve(&costume), &edit).expect("again");
                    prop_assert_eq!((&tried, &on_the_way), (&next, &pattern));
                    prop_assert!(pattern.pieces.len() == next.pieces.len() && pattern.pieces.iter().all(|p| p.area() > 0.0));
                    prop_assert!(twins_are_mirror_images(&pattern), "{edit:?}");
                    history.push(next);
                }
                Err(refusal) => prop_assert!(!refusal.item.is_empty() && !refusal.reason.is_empty() && !refusal.remedy.is_empty()),
            }
            prop_assert_eq!(&costume, &before, "a document that was kept is never touched");
        }
        prop_assert!(history.len() > 20, "edits are done");
        prop_assert_eq!(&history[0], &first);
    }

    #[test]
    fn an_added_corner_keeps_length_area_and_shape(fraction in 0.05..0.95f64, x in -80.0..380.0f64, y in -120.0..120.0f64) {
        let costume = two_panels();
        let (piece, bent_line) = (costume.pieces[0].id, line(&costume.pieces[0], 0));
        let curved = done(&costume, Edit::CurveLine { piece, line: bent_line });
        let Ok(bent) = apply(&curved, &Edit::MoveHandle { piece, line: bent_line, end: LineEnd::To, to: Point::new(x, y) }) else { return Ok(()) };
        let Ok(split) = apply(&bent, &Edit::SplitLine { piece, line: bent_line, fraction, by_length: false }) else { return Ok(()) };
        let around = |c: &Costume| (0..drawing(&c.pieces[0]).outline.len()).map(|k| length(&c.pieces[0], k)).sum::<f64>();
        prop_assert!((around(&bent) - around(&split)).abs() < 0.01);
        prop_assert!((area(&bent, piece) - area(&split, piece)).abs() < 1e-4);
        let at = curve(&bent.pieces[0], 0).eval(fraction * 0.5);
        prop_assert!((at - curve(&split.pieces[0], 0).eval(0.5)).hypot() < 1e-9);
    }

    /// Whatever lies along a line lies at the same place of the cloth after the line is split, and after it is whole again.
    #[test]
    fn what_lies_on_a_line_stays_in_its_place(at in 0.1..0.9f64, from in 0.0..0.9f64, reach in 0.05..1.0f64, notch in 0.0..1.0f64, back: bool) {
        let to = (from + reach).min(1.0);
        let costume = two_panels();
        let (piece, on) = (costume.pieces[0].id, line(&costume.pieces[0], 1));
        let other = line(&costume.pieces[1], 3);
        let bent = done(&done(&costume, Edit::CurveLine { piece, line: on }), Edit::MoveHandle { piece, line: on, end: LineEnd::From, to: Point::new(360.0, 90.0) });
        let (a, b) = if back { (to, from) } else { (from, to) };
        let sewn = Edit::Sew { a: vec![Run { piece, line: on, from: a, to: b }], b: vec![Run { to: to - from, ..Run::whole(costume.pieces[1].id, other) }] };
        let made = Edit::Batch { edits: vec![
            sewn,
            Edit::AddNotch { piece, line: on, at: notch, double: true },
            Edit::FinishLine { piece, line: on, from, to, finish: Some(Finish::StayTape) },
        ] };
        let whole = done(&bent, made);
        // within a millimetre of the end of a run a split is refused, as it would leave a seam without length
        let Ok(split) = apply(&whole, &Edit::SplitLine { piece, line: on, fraction: at, by_length: true }) else { return Ok(()) };
        let places = |c: &Costume| {
            let pattern = resolve(c);
            let p = &pattern.pieces[0];
            let ends = |r: &costume::PatternRun| [r.from, r.to].map(|s| point_at(&p.lines[r.line].curve, s));
            let runs: Vec<Point> = pattern.seams[0].a.iter().flat_map(ends).collect();
            let marks: Vec<Point> = p.marks.iter().map(|m| match m.mark {
                Mark::Notch { at, .. } => point_at(&p.lines[m.line.expect("a line")].curve, at),
                _ => unreachable!("a notch"),
            }).collect();
            let along: Vec<Point> = p.along.iter().flat_map(|a| [a.from, a.to].map(|s| point_at(&p.lines[a.line].curve, s))).collect();
            let first_last = |v: Vec<Point>| [v[0], v[v.len() - 1]];
            (first_last(runs), marks[0], first_last(along))
        };
        let near = |a: Point, b: Point| a.distance(b) < 0.01;
        let (was, is) = (places(&whole), places(&split));
        prop_assert!(near(was.0[0], is.0[0]) && near(was.0[1], is.0[1]) && near(was.1, is.1) && near(was.2[0], is.2[0]) && near(was.2[1], is.2[1]), "{was:?} {is:?}");
        let added = drawing(&split.pieces[0]).nodes.iter().max_by_key(|n| n.id).expect("the new corner").id;
        let back = done(&split, Edit::RemoveNode { piece, node: added });
        let again = places(&back);
        prop_assert!(near(was.0[0], again.0[0]) && near(was.0[1], again.0[1]) && near(was.1, again.1) && near(was.2[0], again.2[0]) && near(was.2[1], again.2[1]), "{was:?} {again:?}");
        prop_assert_eq!(back.seams[0].a.len(), 1, "one run again");
        prop_assert_eq!(drawing(&back.pieces[0]).along.len(), 1, "one tape again");
    }
}

#[test]
fn edges_seams_and_pieces_carry_their_making_and_bad_values_are_refused() {
    let joined = join(&two_panels(), (0, 1), (1, 3));
    let (piece, hem, seam) = (joined.pieces[0].id, line(&joined.pieces[0], 0), joined.seams[0].id);
    let finish = |finish| Edit::FinishLine { piece, line: hem, from: 0.0, to: 1.0, finish };
    let taped = done(&joined, finish(Some(Finish::Elastic { length: 70.0 })));
    let pressed = done(&taped, Edit::FoldSeam { seam, fold: Some(90.0) });
    let layered = done(&pressed, Edit::SetWear { piece, wear: 2 });
    assert_eq!(read(&text(&layered)).expect("readable"), layered);
    assert!(!text(&joined).contains("wear") && !text(&joined).contains("along"), "plain pieces write nothing of it");
    let split = done(&taped, Edit::SplitLine { piece, line: hem, fraction: 0.4, by_length: false });
    let along: Vec<&Along> = drawing(&split.pieces[0]).along.iter().collect();
    assert!(
        along.len() == 2 && along.iter().all(|a| a.finish == Finish::Elastic { length: 70.0 } && (a.from, a.to) == (0.0, 1.0)),
        "{along:?}"
    );
    let refused = |edit: Edit| apply(&joined, &edit).expect_err("refused").reason;
    assert!(refused(finish(Some(Finish::Elastic { length: 5.0 }))).contains("elastic"));
    assert!(refused(finish(Some(Finish::Hem { width: f64::NAN }))).contains("a hem or allowance that is no number"));
    assert!(refused(Edit::FoldSeam { seam, fold: Some(f64::NAN) }).contains("a pressed angle that is no number"));
    assert!(refused(Edit::SetWear { piece, wear: 0 }).contains("wear order"));
    assert!(refused(Edit::CloseSeam { seam, closure: Some(Closure { open: 1.5, by: Default::default() }) }).contains("open of 1.5"));
    let bare = done(&taped, finish(None));
    assert_eq!(bare.pieces, joined.pieces);
}

#[test]
fn a_finish_gives_way_only_where_another_of_its_kind_lies() {
    let costume = two_panels();
    let (piece, on) = (costume.pieces[0].id, line(&costume.pieces[0], 0));
    let lay = |c: &Costume, from, to, finish| done(c, Edit::FinishLine { piece, line: on, from, to, finish: Some(finish) });
    let taped = lay(&lay(&costume, 0.0, 1.0, Finish::StayTape), 0.0, 1.0, Finish::Hem { width: 30.0 });
    let both = lay(&taped, 0.25, 0.5, Finish::Elastic { length: 80.0 });
    let mut along: Vec<(f64, f64, Finish)> = drawing(&both.pieces[0]).along.iter().map(|a| (a.from, a.to, a.finish)).collect();
    along.sort_by(|a, b| (a.0, a.1).partial_cmp(&(b.0, b.1)).expect("numbers"));
    let expected = [
        (0.0, 0.25, Finish::StayTape),
        (0.0, 1.0, Finish::Hem { width: 30.0 }),
        (0.25, 0.5, Finish::Elastic { length: 80.0 }),
        (0.5, 1.0, Finish::StayTape),
    ];
    assert_eq!(along, expected);
}

#[test]
fn a_fold_line_follows_its_corners_and_goes_with_them() {
    let costume = two_panels();
    let piece = costume.pieces[0].id;
    let corners: Vec<NodeId> = (0..4).map(|k| node(&costume.pieces[0], k)).collect();
    let press = |costume: &Costume, from: usize, to: usize, angle: f64| {
        let points = vec![Anchor::Node(corners[from]), Anchor::Node(corners[to])];
        apply(costume, &Edit::AddInside { piece, points, purpose: Purpose::Fold { angle } })
    };
    let folded = press(&costume, 0, 2, 90.0).expect("a diagonal");
    let path = drawing(&folded.pieces[0]).inside[0].id;
    let again = done(&folded, Edit::SetPurpose { piece, path, purpose: Purpose::Fold { angle: -30.0 } });
    assert_eq!(read(&text(&again)).expect("its own file"), again);
    assert!(drawing(&done(&again, Edit::RemoveInside { piece, path }).pieces[0]) == drawing(&costume.pieces[0]));

    // a copy folds along its own corners
    let copied = done(&again, Edit::CopyPiece { piece, at: Point::new(0.0, 900.0) });
    let copy = drawing(copied.pieces.last().expect("a copy"));
    assert!(copy.line(copy.inside[0].lines[0]).is_some_and(|l| copy.node(l.from).is_some() && copy.node(l.to).is_some()));

    for (from, to, angle, reason) in [
        (1, 3, 20.0, "crosses another fold line"),
        (2, 0, 20.0, "lies on another fold line"),
        (0, 1, 20.0, "does not lie within the outline"),
        (0, 2, 190.0, "a pressed angle of 190°"),
    ] {
        let refusal = press(&again, from, to, angle).expect_err(reason);
        assert!(refusal.reason.contains(reason), "{refusal}");
    }
    // a corner pulled in so far that the line would leave the piece is refused; one taken out takes its folds along
    let notch = done(&again, Edit::SplitLine { piece, line: line(&again.pieces[0], 2), fraction: 0.5, by_length: false });
    let new = node(&notch.pieces[0], 3);
    let refusal = apply(&notch, &Edit::MoveNode { piece, node: new, to: Point::new(200.0, 150.0) }).expect_err("beyond the fold");
    assert!(refusal.reason.contains("within the outline"), "{refusal}");
    let gone = done(&notch, Edit::RemoveNode { piece, node: corners[2] });
    assert!(drawing(&gone.pieces[0]).inside.is_empty());
}

#[test]
fn a_piece_that_stands_like_a_board_is_named() {
    let costume = two_panels();
    let stiffened = |bend: f64| {
        let mut changed = costume.clone();
        changed.fabrics[0].overrides = [("bend-warp".to_owned(), bend), ("bend-weft".to_owned(), bend)].into();
        findings(&changed).into_iter().filter(|f| f.reason.contains("too stiff for its size")).count()
    };
    // calico of 140 g/m² bends over the cube root of its rigidity by its weight: 25 cm, half the length of the panels, at 0.0215 N·m
    assert_eq!(stiffened(20_000.0), 0);
    let mut heavy = costume.clone();
    heavy.fabrics[0].overrides =
        [("bend-warp", 20_000.0), ("bend-weft", 20_000.0), ("density", 100.0)].map(|(k, v)| (k.to_owned(), v)).into();
    let told = findings(&heavy).into_iter().find(|f| f.reason.contains("too stiff for its size")).expect("told");
    assert!(told.item == "Left" && told.reason.contains("500 mm long") && told.reason.contains("273 mm"), "{told:?}");
}

#[test]
fn a_corner_in_the_middle_halves_the_length_and_taking_it_out_brings_the_curve_back() {
    let costume = two_panels();
    let (piece, on) = (costume.pieces[0].id, line(&costume.pieces[0], 0));
    let curved = done(&costume, Edit::CurveLine { piece, line: on });
    let bent = done(&curved, Edit::MoveHandle { piece, line: on, end: LineEnd::From, to: Point::new(100.0, -180.0) });
    let split = done(&bent, Edit::SplitLine { piece, line: on, fraction: 0.5, by_length: true });
    let lengths = [0, 1].map(|k| length(&split.pieces[0], k));
    assert!((lengths[0] - lengths[1]).abs() < 0.01, "{lengths:?}");
    let whole = done(&split, Edit::RemoveNode { piece, node: node(&split.pieces[0], 1) });
    let [was, is] = [&bent, &whole].map(|c| line_of(&c.pieces[0], 0).handles.expect("a curve"));
    assert!(was[0].distance(is[0]) < 0.01 && was[1].distance(is[1]) < 0.01, "{was:?} {is:?}");
}

#[test]
fn the_box_around_a_piece_holds_its_curves() {
    let costume = two_panels();
    let (piece, on) = (costume.pieces[0].id, line(&costume.pieces[0], 0));
    let bend = |end, x| Edit::MoveHandle { piece, line: on, end, to: Point::new(x, -100.0) };
    let edits = vec![Edit::CurveLine { piece, line: on }, bend(LineEnd::From, 0.0), bend(LineEnd::To, 300.0)];
    let curved = done(&costume, Edit::Batch { edits });
    // a cubic with both handles 100 mm away bulges by three quarters of that
    let [_, height] = resolve(&curved).pieces[0].size();
    assert!((height - 575.0).abs() < 1e-6);
}

#[test]
fn handles_of_a_smooth_corner_stay_in_a_row() {
    let costume = two_panels();
    let piece = costume.pieces[0].id;
    let [before, after] = [line(&costume.pieces[0], 0), line(&costume.pieces[0], 1)];
    let corner = node(&costume.pieces[0], 1);
    let edits = vec![
        Edit::CurveLine { piece, line: before },
        Edit::CurveLine { piece, line: after },
        Edit::SetNodeKind { piece, node: corner, kind: NodeKind::Smooth },
        Edit::MoveHandle { piece, line: before, end: LineEnd::To, to: Point::new(240.0, -80.0) },
    ];
    let smooth = done(&costume, Edit::Batch { edits });
    let [leave, _] = line_of(&smooth.pieces[0], 1).handles.expect("a curve");
    // on the other side of (300, 0), at the distance it had: a third of 500 mm
    let reach = 500.0 / 3.0;
    assert!(leave.distance(Point::new(300.0 + 0.6 * reach, 0.8 * reach)) < 1e-9, "{leave:?}");
}

#[test]
fn a_batch_is_done_whole_or_not_at_all() {
    let costume = two_panels();
    let piece = costume.pieces[0].id;
    let good = Edit::RenamePiece { piece, name: "Cuff".into() };
    let bad = Edit::RenamePiece { piece: PieceId(999), name: "Cuff".into() };
    assert!(apply(&costume, &Edit::Batch { edits: vec![good.clone(), bad] }).is_err());
    let nested = Edit::Batch { edits: vec![Edit::Batch { edits: vec![good.clone()] }] };
    assert!(apply(&costume, &nested).expect_err("refused").reason.contains("another batch"));
    assert_eq!(done(&costume, Edit::Batch { edits: vec![good] }).pieces[0].name, "Cuff");
}
