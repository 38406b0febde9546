//! Edits: what each changes and what it must leave alone, and that no row of edits can break the document.

use costume::{
    Bow, Costume, EdgeFinish, EdgeRef, Edit, Fineness, Handle, Piece, PieceId, Placement, Point, SeamId, apply, edge_curve, edge_length,
    faults, read, signed_area, write,
};
use proptest::prelude::*;

fn done(costume: &Costume, edit: Edit) -> Costume {
    apply(costume, &edit).expect("the edit is accepted")
}

/// Two rectangles of 300 x 500 mm beside each other.
fn two_panels() -> Costume {
    let rectangle = [(0.0, 0.0), (300.0, 0.0), (300.0, 500.0), (0.0, 500.0)].map(|(x, y)| Point::new(x, y)).to_vec();
    let mut costume = Costume::new("Test");
    for (name, x) in [("Left", 0.0), ("Right", 400.0)] {
        costume = done(&costume, Edit::AddPiece { name: name.into(), at: Point::new(x, 0.0), points: rectangle.clone() });
    }
    costume
}

fn edge(piece: &Piece, i: usize) -> EdgeRef {
    EdgeRef { piece: piece.id, edge: piece.corners[i].id }
}

fn outline_length(piece: &Piece) -> f64 {
    (0..piece.corners.len()).map(|i| edge_length(piece, i)).sum()
}

#[test]
fn pieces_run_counter_clockwise_whichever_way_they_are_drawn() {
    let clockwise = vec![Point::new(0.0, 0.0), Point::new(0.0, 100.0), Point::new(200.0, 0.0)];
    let costume = done(&Costume::new("Test"), Edit::AddPiece { name: "Gusset".into(), at: Point::new(5.0, 6.0), points: clockwise });
    assert!((signed_area(&costume.pieces[0]) - 10_000.0).abs() < 1e-6);
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
    let curved = done(&costume, Edit::CurveEdge { piece: piece.id, edge: piece.corners[0].id });
    let moved = done(&curved, Edit::MoveCorner { piece: piece.id, corner: piece.corners[0].id, to: Point::new(-30.0, 12.0) });
    let bow = moved.pieces[0].corners[0].bow.expect("still a curve");
    assert_eq!(bow, Bow { leave: Point::new(70.0, 12.0), arrive: Point::new(200.0, 0.0) });
}

#[test]
fn a_fresh_curve_is_as_long_as_the_straight_edge_and_straightens_back() {
    let costume = two_panels();
    let (id, corner) = (costume.pieces[0].id, costume.pieces[0].corners[1].id);
    let curved = done(&costume, Edit::CurveEdge { piece: id, edge: corner });
    assert!((edge_length(&curved.pieces[0], 1) - 500.0).abs() < 1e-3);
    assert_eq!(done(&curved, Edit::StraightenEdge { piece: id, edge: corner }), costume);
}

#[test]
fn a_handle_bends_the_edge_to_the_closed_form_of_its_cubic() {
    let costume = two_panels();
    let (id, corner) = (costume.pieces[0].id, costume.pieces[0].corners[0].id);
    let curved = done(&costume, Edit::CurveEdge { piece: id, edge: corner });
    let bent = done(&curved, Edit::MoveHandle { piece: id, edge: corner, handle: Handle::Leave, to: Point::new(100.0, -90.0) });
    // B(1/2) = (p0 + 3 p1 + 3 p2 + p3) / 8
    let middle = edge_curve(&bent.pieces[0], 0).point(0.5);
    assert!((middle.x - 150.0).abs() < 1e-9 && (middle.y + 33.75).abs() < 1e-9, "{middle:?}");
}

#[test]
fn joined_edges_run_against_each_other_and_a_flip_turns_one_round() {
    let costume = two_panels();
    let (a, b) = (edge(&costume.pieces[0], 1), edge(&costume.pieces[1], 3));
    let joined = done(&costume, Edit::Join { a, b });
    let seam = &joined.seams[0];
    assert_eq!((seam.tag.as_str(), seam.a[0].backwards, seam.b[0].backwards), ("A", false, true));
    let flipped = done(&joined, Edit::FlipSeam { seam: seam.id });
    assert!(!flipped.seams[0].b[0].backwards);
    assert_eq!(done(&flipped, Edit::FlipSeam { seam: seam.id }), joined);
    assert!(done(&joined, Edit::Unpick { seam: seam.id }).seams.is_empty());
}

#[test]
fn a_corner_on_a_sewn_edge_keeps_the_seam_whole() {
    let costume = two_panels();
    let (a, b) = (edge(&costume.pieces[0], 1), edge(&costume.pieces[1], 3));
    let joined = done(&costume, Edit::Join { a, b });
    for target in [a, b] {
        let split = done(&joined, Edit::AddCorner { piece: target.piece, edge: target.edge, fraction: 0.25, by_length: false });
        let lengths = costume::seam_lengths(&split, &split.seams[0]);
        assert!((lengths.a - 500.0).abs() < 1e-6 && (lengths.b - 500.0).abs() < 1e-6);
        assert_eq!(split.seams[0].runs().count(), 3);
        // and taking it out again leaves what was there
        let piece = split.piece(target.piece).expect("it stays");
        let added = piece.corners.iter().find(|c| c.id.0 == split.next_id - 1).expect("the new corner").id;
        let back = done(&split, Edit::RemoveCorner { piece: target.piece, corner: added });
        assert_eq!((back.pieces, back.seams), (joined.pieces.clone(), joined.seams.clone()));
    }
}

#[test]
fn a_removed_piece_takes_its_seams_along_and_a_copy_brings_none() {
    let costume = two_panels();
    let joined = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    let copied = done(&joined, Edit::CopyPiece { piece: joined.pieces[0].id, at: Point::new(0.0, 700.0) });
    assert_eq!((copied.pieces.len(), copied.seams.len()), (3, 1));
    assert!((signed_area(&copied.pieces[2]) - 150_000.0).abs() < 1e-6);
    let removed = done(&copied, Edit::RemovePiece { piece: joined.pieces[0].id });
    assert_eq!((removed.pieces.len(), removed.seams.len()), (2, 0));
}

#[test]
fn tags_go_on_after_z() {
    let mut costume = Costume::new("Many seams");
    for k in 0..27 {
        for x in [0.0, 1.0] {
            let points = [(0.0, 0.0), (20.0, 0.0), (0.0, 20.0)].map(|(x, y)| Point::new(x, y)).to_vec();
            let at = Point::new(60.0 * x, 60.0 * f64::from(k));
            costume = done(&costume, Edit::AddPiece { name: "Patch".into(), at, points });
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
    let names = |c: &Costume| faults(c).into_iter().map(|f| format!("{} {}", f.item, f.reason)).collect::<Vec<_>>();
    assert_eq!(names(&costume), ["Left has no station on the body", "Right has no station on the body"]);
    let placement = Some(Placement { station: "chest-front".into(), shift: Point::new(0.0, 0.0), turn: 0.0 });
    let placed = done(&costume, Edit::Place { piece: costume.pieces[0].id, placement });
    let parked = done(&placed, Edit::Park { piece: costume.pieces[1].id, parked: true });
    assert!(names(&parked).is_empty());
    let shorter = Edit::MoveCorner { piece: costume.pieces[1].id, corner: costume.pieces[1].corners[3].id, to: Point::new(0.0, 460.0) };
    let uneven = done(&done(&placed, shorter), Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    assert!(names(&uneven).contains(&"Seam A its sides differ by 4.0 cm".to_owned()), "{:?}", names(&uneven));
    assert_eq!(names(&Costume::new("Bare")), ["Bare has no piece to hang"]);
}

#[test]
fn the_file_gives_back_the_same_costume() {
    let costume = two_panels();
    let joined = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    let curved = done(&joined, Edit::CurveEdge { piece: joined.pieces[0].id, edge: joined.pieces[0].corners[0].id });
    let fine = done(&curved, Edit::ChooseFineness { fineness: Fineness::Custom(12.5) });
    assert_eq!(read(&text(&fine)).expect("readable"), fine);
}

/// Any edit on whatever pieces and seams there are; many are refused.
fn any_edit() -> impl Strategy<Value = (usize, usize, usize, f64, f64)> {
    (0..14usize, 0..6usize, 0..8usize, -600.0..600.0f64, -600.0..600.0f64)
}

fn make(costume: &Costume, (kind, p, c, x, y): (usize, usize, usize, f64, f64)) -> Edit {
    let at = Point::new(x, y);
    let piece = costume.pieces.get(p);
    let id = piece.map_or(PieceId(9999), |q| q.id);
    let corner = piece.and_then(|q| q.corners.get(c % q.corners.len().max(1))).map_or(costume::CornerId(9999), |k| k.id);
    let other = costume.pieces.get(c % costume.pieces.len().max(1));
    let seam = costume.seams.get(c).map_or(SeamId(9999), |s| s.id);
    match kind {
        0 => Edit::AddPiece { name: "New".into(), at, points: vec![Point::new(0.0, 0.0), Point::new(x, 0.0), at] },
        1 => Edit::RemovePiece { piece: id },
        2 => Edit::CopyPiece { piece: id, at },
        3 => Edit::MovePiece { piece: id, at },
        4 | 5 => Edit::MoveCorner { piece: id, corner, to: at },
        6 => Edit::CurveEdge { piece: id, edge: corner },
        7 => Edit::MoveHandle { piece: id, edge: corner, handle: if x < y { Handle::Leave } else { Handle::Arrive }, to: at },
        8 => Edit::StraightenEdge { piece: id, edge: corner },
        9 => Edit::AddCorner { piece: id, edge: corner, fraction: (x + 700.0) / 1300.0, by_length: false },
        10 => Edit::RemoveCorner { piece: id, corner },
        11 => Edit::FlipSeam { seam },
        12 => Edit::Unpick { seam },
        _ => Edit::Join {
            a: EdgeRef { piece: id, edge: corner },
            b: other.map_or(EdgeRef { piece: id, edge: corner }, |q| edge(q, (p + c) % q.corners.len())),
        },
    }
}

proptest! {
    #[test]
    fn no_row_of_edits_breaks_the_document(edits in prop::collection::vec(any_edit(), 1..40)) {
        let mut costume = two_panels();
        for values in edits {
            let edit = make(&costume, values);
            let before = costume.clone();
            match apply(&costume, &edit) {
                Ok(next) => {
                    // the file reader holds every document to all rules again
                    prop_assert_eq!(&read(&text(&next)).map_err(|e| TestCaseError::fail(format!("{edit:?}: {e}")))?, &next);
                    prop_assert!(next.pieces.iter().all(|p| signed_area(p) > 0.0));
                    costume = next;
                }
                Err(refusal) => prop_assert!(!refusal.item.is_empty() && !refusal.reason.is_empty() && !refusal.mend.is_empty()),
            }
            prop_assert!(costume.next_id >= before.next_id, "ids are never used twice");
        }
    }

    #[test]
    fn an_added_corner_keeps_length_area_and_shape(fraction in 0.05..0.95f64, x in -80.0..380.0f64, y in -120.0..120.0f64) {
        let costume = two_panels();
        let (id, corner) = (costume.pieces[0].id, costume.pieces[0].corners[0].id);
        let curved = done(&costume, Edit::CurveEdge { piece: id, edge: corner });
        let Ok(bent) = apply(&curved, &Edit::MoveHandle { piece: id, edge: corner, handle: Handle::Arrive, to: Point::new(x, y) }) else { return Ok(()) };
        let Ok(split) = apply(&bent, &Edit::AddCorner { piece: id, edge: corner, fraction, by_length: false }) else { return Ok(()) };
        let (a, b) = (&bent.pieces[0], &split.pieces[0]);
        prop_assert!((outline_length(a) - outline_length(b)).abs() < 0.01);
        prop_assert!((signed_area(a) - signed_area(b)).abs() < 1e-4);
        let at = edge_curve(a, 0).point(fraction * 0.5);
        let same = edge_curve(b, 0).point(0.5);
        prop_assert!(at.distance(same) < 1e-9);
    }
}

#[test]
fn edges_seams_and_pieces_carry_their_making_and_bad_values_are_refused() {
    let costume = two_panels();
    let joined = done(&costume, Edit::Join { a: edge(&costume.pieces[0], 1), b: edge(&costume.pieces[1], 3) });
    let (piece, corner, seam) = (joined.pieces[0].id, joined.pieces[0].corners[0].id, joined.seams[0].id);
    let finish = |finish| Edit::FinishEdge { piece, edge: corner, finish };
    let taped = done(&joined, finish(Some(EdgeFinish::Elastic { length: 70.0 })));
    let pressed = done(&taped, Edit::FoldSeam { seam, fold: Some(90.0) });
    let layered = done(&pressed, Edit::SetWear { piece, wear: 2 });
    assert_eq!(read(&text(&layered)).expect("readable"), layered);
    assert!(!text(&joined).contains("wear") && !text(&joined).contains("finish"), "plain pieces write nothing of it");
    let split = done(&taped, Edit::AddCorner { piece, edge: corner, fraction: 0.4, by_length: false });
    assert_eq!(split.pieces[0].corners[1].finish, Some(EdgeFinish::Elastic { length: 70.0 }), "both parts keep the elastic");
    let refused = |edit: Edit| apply(&joined, &edit).expect_err("refused").reason;
    assert!(refused(finish(Some(EdgeFinish::Elastic { length: 5.0 }))).contains("elastic"));
    assert!(refused(Edit::FoldSeam { seam, fold: Some(f64::NAN) }).contains("pressed"));
    assert!(refused(Edit::SetWear { piece, wear: 0 }).contains("layer"));
    assert_eq!(done(&taped, finish(None)), joined);
}

#[test]
fn a_fold_line_follows_its_corners_and_goes_with_them() {
    let costume = two_panels();
    let (id, c) = (costume.pieces[0].id, costume.pieces[0].corners.iter().map(|c| c.id).collect::<Vec<_>>());
    let press = |costume: &Costume, from: usize, to: usize, angle: Option<f64>| {
        apply(costume, &Edit::FoldPiece { piece: id, from: c[from], to: c[to], angle })
    };
    let folded = press(&costume, 0, 2, Some(90.0)).expect("a diagonal");
    assert_eq!(folded.pieces[0].folds.len(), 1);
    let again = press(&folded, 2, 0, Some(-30.0)).expect("the same line, the other way round");
    assert_eq!(again.pieces[0].folds.iter().map(|f| f.angle).collect::<Vec<_>>(), [-30.0]);
    assert_eq!(read(&text(&again)).expect("its own file"), again);
    assert!(press(&again, 0, 2, None).expect("taken out").pieces[0].folds.is_empty());

    // a copy folds along its own corners
    let copied = done(&again, Edit::CopyPiece { piece: id, at: Point::new(0.0, 900.0) });
    let copy = copied.pieces.last().expect("a copy");
    assert!(copy.folds.iter().all(|f| copy.index(f.from).is_some() && copy.index(f.to).is_some()));

    for (from, to, angle, reason) in [
        (1, 3, 20.0, "crosses another fold line"),
        (0, 1, 20.0, "does not lie within the outline"),
        (0, 0, 20.0, "does not lie within the outline"),
        (0, 2, 190.0, "cannot be pressed to 190°"),
    ] {
        let refusal = press(&again, from, to, Some(angle)).expect_err(reason);
        assert!(refusal.reason.contains(reason), "{refusal}");
    }
    // a corner pulled in so far that the line would leave the piece is refused; one taken out takes its folds along
    let notch = done(&again, Edit::AddCorner { piece: id, edge: c[2], fraction: 0.5, by_length: false });
    let new = notch.pieces[0].corners[3].id;
    let refusal = apply(&notch, &Edit::MoveCorner { piece: id, corner: new, to: Point::new(200.0, 150.0) }).expect_err("beyond the fold");
    assert!(refusal.reason.contains("within the outline"), "{refusal}");
    let gone = done(&notch, Edit::RemoveCorner { piece: id, corner: c[2] });
    assert!(gone.pieces[0].folds.is_empty());
}

#[test]
fn a_piece_that_stands_like_a_board_is_named() {
    let costume = two_panels();
    let stiffened = |bend: f64| {
        let mut changed = costume.clone();
        changed.fabrics[0].own = [("bend-warp".to_owned(), bend), ("bend-weft".to_owned(), bend)].into();
        faults(&changed).into_iter().filter(|f| f.reason.contains("too stiff for its size")).count()
    };
    // calico of 140 g/m² bends over the cube root of its rigidity by its weight: 25 cm, half the length of the panels, at 0.0215 N·m
    assert_eq!(stiffened(20_000.0), 0);
    let mut heavy = costume.clone();
    heavy.fabrics[0].own = [("bend-warp", 20_000.0), ("bend-weft", 20_000.0), ("density", 100.0)].map(|(k, v)| (k.to_owned(), v)).into();
    let told = faults(&heavy).into_iter().find(|f| f.reason.contains("too stiff for its size")).expect("told");
    assert!(told.item == "Left" && told.reason.contains("500 mm long") && told.reason.contains("273 mm"), "{told:?}");
}

fn text(costume: &Costume) -> String {
    write(costume).expect("it can be written")
}

#[test]
fn a_corner_in_the_middle_halves_the_length_and_taking_it_out_brings_the_curve_back() {
    let costume = two_panels();
    let (piece, edge) = (costume.pieces[0].id, costume.pieces[0].corners[0].id);
    let curved = done(&costume, Edit::CurveEdge { piece, edge });
    let bow = curved.pieces[0].corners[0].bow.expect("a curve");
    let bent = Edit::MoveHandle { piece, edge, handle: Handle::Leave, to: Point::new(bow.leave.x, bow.leave.y - 180.0) };
    let bent = done(&curved, bent);
    let split = done(&bent, Edit::AddCorner { piece, edge, fraction: 0.5, by_length: true });
    let lengths = [0, 1].map(|k| costume::edge_length(&split.pieces[0], k));
    assert!((lengths[0] - lengths[1]).abs() < 0.01, "{lengths:?}");
    let corner = split.pieces[0].corners[1].id;
    let whole = done(&split, Edit::RemoveCorner { piece, corner });
    let (was, is) = (bent.pieces[0].corners[0].bow.expect("a curve"), whole.pieces[0].corners[0].bow.expect("still a curve"));
    assert!(was.leave.distance(is.leave) < 0.01 && was.arrive.distance(is.arrive) < 0.01, "{was:?} {is:?}");
    // what is sewn to one of the edges is not dropped with their corner
    let taped = done(&split, Edit::FinishEdge { piece, edge: corner, finish: Some(EdgeFinish::StayTape) });
    let refusal = apply(&taped, &Edit::RemoveCorner { piece, corner }).expect_err("it would be lost");
    assert!(refusal.reason.contains("finished differently"), "{refusal}");
}

#[test]
fn the_box_around_a_piece_holds_its_curves() {
    let costume = two_panels();
    let (piece, corner) = (costume.pieces[0].id, costume.pieces[0].corners[0].clone());
    let bow = Bow {
        leave: Point::new(corner.at.x, corner.at.y - 100.0),
        arrive: Point::new(costume.pieces[0].corners[1].at.x, corner.at.y - 100.0),
    };
    let mut curved = done(&costume, Edit::CurveEdge { piece, edge: corner.id });
    let [_, before] = costume::size(&curved.pieces[0]);
    curved.pieces[0].corners[0].bow = Some(bow);
    // a cubic with both handles 100 mm away bulges by three quarters of that
    assert!((costume::size(&curved.pieces[0])[1] - before - 75.0).abs() < 1e-6);
}
