//! Maps on pieces: what a stroke paints against its formula, and that the paint stays on its cloth.

mod common;

use common::{done, drawing, edge, line, node, two_panels};
use costume::{Costume, CutPlan, Edit, PaintKind, PaintUse, PieceId, Point, Raster, SkinHold, Spot, Stroke, apply, read, resolve, write};
use kurbo::Shape as _;
use proptest::prelude::*;

fn paint(costume: &Costume, piece: PieceId, stroke: Stroke) -> Costume {
    done(costume, Edit::Paint { piece, kind: PaintKind::Skin, stroke })
}

/// How much is painted at a point of a piece's frame.
fn value(costume: &Costume, piece: PieceId, at: (f64, f64)) -> f64 {
    let pattern = resolve(costume);
    let piece = pattern.pieces.iter().find(|p| p.id == piece).expect("the piece");
    piece.painted(PaintKind::Skin).map_or(0.0, |(_, value)| value(Point::new(at.0, at.1)))
}

fn brush(points: &[(f64, f64)], radius: f64, soft: f64, value: f64) -> Stroke {
    Stroke::Brush { points: points.iter().map(|&(x, y)| Point::new(x, y)).collect(), radius, soft, value }
}

/// A panel of 300 x 500 mm.
fn panel() -> (Costume, PieceId) {
    let costume = two_panels();
    let id = costume.pieces[0].id;
    (costume, id)
}

#[test]
fn a_stroke_is_full_in_its_middle_and_fades_to_its_rim() {
    let (costume, id) = panel();
    let painted = paint(&costume, id, brush(&[(50.0, 100.0), (250.0, 100.0)], 40.0, 0.5, 1.0));
    for (x, y) in [(50.0f64, 100.0f64), (150.0, 100.0), (250.0, 115.0), (250.0, 140.5), (150.0, 155.0), (15.0, 100.0)] {
        let off = (y - 100.0).hypot((50.0 - x).max(x - 250.0).max(0.0)) / 40.0;
        let t = ((1.0 - off) / 0.5).clamp(0.0, 1.0);
        let expected = t * t * (3.0 - 2.0 * t);
        let found = value(&painted, id, (x, y));
        assert!((found - expected).abs() < 0.03, "{found:.3} of {expected:.3} at {x}, {y}");
    }
    // half as much over it, and the other way round: the eraser
    let erased = paint(&painted, id, brush(&[(150.0, 100.0)], 20.0, 0.0, 0.25));
    assert!((value(&erased, id, (150.0, 100.0)) - 0.25).abs() < 0.01 && value(&erased, id, (60.0, 100.0)) > 0.99);
}

#[test]
fn gradients_fillings_and_smoothing_follow_their_formulas() {
    let (costume, id) = panel();
    let (from, to) = (Point::new(0.0, 100.0), Point::new(0.0, 300.0));
    let sloped = paint(&costume, id, Stroke::Gradient { from, to, values: [1.0, 0.2] });
    for (y, expected) in [(20.0, 1.0), (100.0, 1.0), (150.0, 0.8), (200.0, 0.6), (300.0, 0.2), (480.0, 0.2)] {
        assert!((value(&sloped, id, (120.0, y)) - expected).abs() < 0.01, "at {y}");
    }
    // a straight slope stays as it is when it is evened out, its corners are rounded
    let smooth = paint(&sloped, id, Stroke::Smooth { radius: 20.0 });
    assert!((value(&smooth, id, (120.0, 200.0)) - 0.6).abs() < 0.01);
    assert!(value(&smooth, id, (120.0, 100.0)) < 0.985);
    let full = paint(&smooth, id, Stroke::Fill { value: 0.5 });
    for at in [(1.0, 1.0), (299.0, 499.0), (150.0, 250.0)] {
        assert!((value(&full, id, at) - 0.5).abs() < 0.01);
    }
    let even = paint(&full, id, Stroke::Smooth { radius: 60.0 });
    assert!((value(&even, id, (2.0, 2.0)) - 0.5).abs() < 0.01, "what is even stays so up to the edge");
    assert_eq!(value(&full, id, (-30.0, 250.0)), 0.0, "nothing beside the cloth");
}

#[test]
fn a_picture_lies_upright_over_the_piece_and_goes_out_as_it_came_in() {
    let (costume, id) = panel();
    let image = Raster::new(2, 2, vec![255, 0, 0, 51]).expect("four cells");
    let laid = paint(&costume, id, Stroke::Picture { image });
    for (at, expected) in [((60.0, 400.0), 1.0), ((240.0, 400.0), 0.0), ((60.0, 100.0), 0.0), ((240.0, 100.0), 0.2), ((299.0, 1.0), 0.2)] {
        assert!((value(&laid, id, at) - expected).abs() < 0.02, "{:.3} of {expected} at {at:?}", value(&laid, id, at));
    }
    let map = &drawing(&laid.pieces[0]).paint[0];
    let out = Raster::read(&map.image.png()).expect("a PNG");
    assert_eq!(out, map.image);
    assert_eq!(read(&write(&laid).expect("text")).expect("a costume"), laid);
}

#[test]
fn twins_and_halves_are_painted_alike() {
    let (costume, id) = panel();
    let twins = done(&costume, Edit::AddTwin { piece: id, at: Point::new(900.0, 0.0) });
    let twin = twins.pieces.last().expect("a twin").id;
    let painted = paint(&twins, twin, brush(&[(-60.0, 80.0)], 30.0, 0.2, 1.0));
    assert!(value(&painted, twin, (-60.0, 80.0)) > 0.99 && value(&painted, id, (60.0, 80.0)) > 0.99);
    assert_eq!(value(&painted, id, (240.0, 80.0)), 0.0);
    // on the fold: a spot on the half that is added
    let on_fold = Some(line(&costume.pieces[0], 3));
    let half = done(&costume, Edit::SetCut { piece: id, cut: CutPlan { count: 1, on_fold } });
    let painted = paint(&half, id, brush(&[(-100.0, 200.0), (-100.0, 260.0)], 25.0, 0.2, 1.0));
    let sloped = paint(&half, id, Stroke::Gradient { from: Point::new(-300.0, 0.0), to: Point::new(-100.0, 0.0), values: [1.0, 0.0] });
    for costume in [&painted, &done(&painted, Edit::OpenFold { piece: id })] {
        for x in [-100.0, 100.0] {
            assert!(value(costume, id, (x, 230.0)) > 0.99 && value(costume, id, (x, 300.0)) < 0.01, "at {x}");
        }
    }
    for x in [-200.0, 200.0] {
        assert!((value(&sloped, id, (x, 30.0)) - 0.5).abs() < 0.02, "half way at {x}");
    }
}

#[test]
fn what_is_cut_merged_or_scaled_keeps_its_paint() {
    let (costume, id) = panel();
    let spots = brush(&[(60.0, 120.0), (240.0, 380.0)], 30.0, 0.3, 1.0);
    let painted = paint(&costume, id, spots);
    let piece = &painted.pieces[0];
    let cut = Edit::CutPiece {
        piece: id,
        from: Spot::On { line: line(piece, 1), at: 0.5 },
        to: Spot::On { line: line(piece, 3), at: 0.5 },
        through: vec![],
        sew: true,
    };
    let parts = done(&painted, cut);
    let other = parts.pieces.iter().find(|p| !painted.pieces.iter().any(|q| q.id == p.id)).expect("a second part");
    let both = |c: &Costume, a: PieceId, b: PieceId| [(a, (60.0, 120.0)), (b, (240.0, 380.0))].map(|(p, at)| value(c, p, at));
    let (lower, upper) = if value(&parts, id, (60.0, 120.0)) > 0.5 { (id, other.id) } else { (other.id, id) };
    assert!(both(&parts, lower, upper).iter().all(|v| *v > 0.95), "{:?}", both(&parts, lower, upper));
    let merged = done(&parts, Edit::MergePieces { seam: parts.seams.last().expect("the cut is sewn").id });
    let whole = merged.pieces.iter().find(|p| p.id == id || p.id == other.id).expect("one piece");
    let corner = |c: &Costume, p: PieceId| {
        let pattern = resolve(c);
        let bounds = pattern.pieces.iter().find(|q| q.id == p).expect("a piece").outline_path().bounding_box();
        (bounds.x0, bounds.y0)
    };
    // the merged piece has the frame of one of both
    let (before, after) = (corner(&painted, id), corner(&merged, whole.id));
    let shift = (after.0 - before.0, after.1 - before.1);
    for (x, y) in [(60.0, 120.0), (240.0, 380.0), (150.0, 250.0)] {
        let (was, is) = (value(&painted, id, (x, y)), value(&merged, whole.id, (x + shift.0, y + shift.1)));
        assert!((was - is).abs() < 0.06, "{was:.2} became {is:.2} at {x}, {y}");
    }
    let wide = done(&painted, Edit::ScalePiece { piece: id, x: 2.0, y: 1.0 });
    let from = corner(&wide, id);
    let at = |x: f64, y: f64| (from.0 + 2.0 * (x - before.0), from.1 + y - before.1);
    assert!(value(&wide, id, at(60.0, 120.0)) > 0.99 && value(&wide, id, at(240.0, 380.0)) > 0.99);
    assert!(value(&wide, id, at(60.0 - 36.0, 120.0)) < 0.01);
    // corners beyond the old map: painted there after it grew
    let longer = done(&painted, Edit::MoveNode { piece: id, node: node(&painted.pieces[0], 2), to: Point::new(300.0, 700.0) });
    let more = paint(&longer, id, brush(&[(280.0, 600.0)], 20.0, 0.2, 1.0));
    assert!(value(&more, id, (280.0, 600.0)) > 0.95 && value(&more, id, (60.0, 120.0)) > 0.9);
}

#[test]
fn settings_are_changed_and_maps_removed() {
    let (costume, id) = panel();
    let purpose = PaintUse::Skin(SkinHold { distance: Some(4.0), strength: 80.0, slides: true, to: None });
    assert!(apply(&costume, &Edit::SetPaint { piece: id, purpose }).is_err(), "there is no map yet");
    let painted = done(&paint(&costume, id, Stroke::Fill { value: 1.0 }), Edit::SetPaint { piece: id, purpose });
    assert_eq!(resolve(&painted).pieces[0].painted(PaintKind::Skin).map(|(p, _)| p), Some(purpose));
    let grip = done(&painted, Edit::Paint { piece: id, kind: PaintKind::Grip, stroke: Stroke::Fill { value: 1.0 } });
    let gone = done(&grip, Edit::RemovePaint { piece: id, kind: PaintKind::Skin });
    assert!(resolve(&gone).pieces[0].painted(PaintKind::Skin).is_none() && resolve(&gone).pieces[0].painted(PaintKind::Grip).is_some());
    assert!(apply(&gone, &Edit::RemovePaint { piece: id, kind: PaintKind::Skin }).is_err());
}

#[test]
fn strokes_and_maps_beyond_their_limits_are_refused_whole() {
    let (costume, id) = panel();
    let many: Vec<(f64, f64)> = (0..501).map(|k| (f64::from(k) / 10.0, 9.0)).collect();
    let bad = [
        brush(&[(1.0, 1.0)], f64::NAN, 0.5, 1.0),
        brush(&[(1.0, 1.0)], 0.0, 0.5, 1.0),
        brush(&[(1.0, f64::INFINITY)], 10.0, 0.5, 1.0),
        brush(&[(1.0, 1.0)], 10.0, 1.5, 1.0),
        brush(&[(1.0, 1.0)], 10.0, 0.5, -0.1),
        brush(&many, 10.0, 0.5, 1.0),
        Stroke::Fill { value: 1.1 },
        Stroke::Gradient { from: Point::new(0.0, 0.0), to: Point::new(1e9, 0.0), values: [0.0, 1.0] },
        Stroke::Smooth { radius: 1e6 },
    ];
    for stroke in bad {
        let edit = Edit::Paint { piece: id, kind: PaintKind::Skin, stroke };
        assert!(apply(&costume, &edit).is_err(), "{edit:?}");
    }
    assert!(apply(&costume, &Edit::Paint { piece: PieceId(9999), kind: PaintKind::Grip, stroke: Stroke::Fill { value: 1.0 } }).is_err());
    let half = Edit::Paint { piece: id, kind: PaintKind::Skin, stroke: brush(&many[..251], 10.0, 0.5, 1.0) };
    assert!(apply(&costume, &Edit::Batch { edits: vec![half.clone(), half] }).is_err(), "no more in a batch than in one");
    // nothing where nothing was drawn
    let none = paint(&costume, id, brush(&[], 10.0, 0.5, 1.0));
    assert_eq!(value(&none, id, (10.0, 10.0)), 0.0);
    let text = write(&paint(&costume, id, Stroke::Fill { value: 1.0 })).expect("text");
    let wide = {
        let mut bytes = Vec::new();
        let mut encoder = png::Encoder::new(&mut bytes, 4000, 4000);
        encoder.set_color(png::ColorType::Grayscale);
        encoder.write_header().expect("a header").write_image_data(&vec![0; 16_000_000]).expect("pixels");
        bytes
    };
    assert!(Raster::read(&wide).is_err_and(|e| e.contains("4000")));
    assert!(Raster::read(b"no picture").is_err() && Raster::read(&wide[..40]).is_err());
    let start = text.find("\"image\":").expect("a map") + 8;
    let quote = start + text[start..].find('"').expect("a text");
    for broken in ["", "AAAA", "%%%%"] {
        let end = quote + 1 + text[quote + 1..].find('"').expect("its end");
        let changed = format!("{}{broken}{}", &text[..=quote], &text[end..]);
        assert!(read(&changed).is_err(), "{broken:?}");
    }
    for flat in ["\"right\":{\"x\":0.0,\"y\":0.0}", "\"right\":{\"x\":1e300,\"y\":0.0}"] {
        let plain: String = text.chars().filter(|c| !c.is_whitespace()).collect();
        let at = plain.find("\"right\":").expect("a map");
        let end = at + plain[at..].find('}').expect("its end");
        assert!(read(&format!("{}{flat}{}", &plain[..at], &plain[end + 1..])).is_err(), "{flat}");
    }
}

#[test]
fn a_line_is_held_in_one_way_and_taped_in_another() {
    let (costume, id) = panel();
    let edge = edge(&costume.pieces[0], 2);
    let lay = |c: &Costume, finish| done(c, Edit::FinishLine { piece: id, line: edge.line, from: 0.0, to: 1.0, finish: Some(finish) });
    use costume::{BandLevel, Finish};
    let all = [Finish::Elastic { length: 80.0 }, Finish::Stay, Finish::Level { at: BandLevel::Waist }, Finish::Skin(SkinHold::default())];
    let held = all.iter().fold(costume.clone(), |c, f| lay(&c, *f));
    let left: Vec<Finish> = drawing(&held.pieces[0]).along.iter().map(|a| a.finish).collect();
    assert_eq!(left, [all[0], all[3]]);
    for bad in [
        Finish::Level { at: BandLevel::Height(-1.0) },
        Finish::Skin(SkinHold { distance: Some(1e4), ..SkinHold::default() }),
        Finish::Skin(SkinHold { strength: 0.0, ..SkinHold::default() }),
    ] {
        let edit = Edit::FinishLine { piece: id, line: edge.line, from: 0.0, to: 1.0, finish: Some(bad) };
        assert!(apply(&costume, &edit).is_err(), "{bad:?}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    #[test]
    fn strokes_never_leave_the_range_and_stay_where_they_are_drawn(
        ways in prop::collection::vec((0.0..300.0f64, 0.0..500.0f64, 2.0..120.0f64, 0.0..=1.0f64, 0.0..=1.0f64), 1..5)
    ) {
        let (costume, id) = panel();
        let mut now = costume;
        for (x, y, radius, soft, v) in &ways {
            now = paint(&now, id, brush(&[(*x, *y), (*y / 2.0, *x)], *radius, *soft, *v));
        }
        let cell = 2.5 + 1e-9;
        for (x, y) in (0..10).flat_map(|i| (0..10).map(move |j| (f64::from(i) * 33.0, f64::from(j) * 55.0))) {
            let v = value(&now, id, (x, y));
            prop_assert!((0.0..=1.0).contains(&v));
            let near = ways.iter().any(|(a, b, r, ..)| {
                let (p, q, at) = (Point::new(*a, *b), Point::new(*b / 2.0, *a), Point::new(x, y));
                let t = (((at.x - p.x) * (q.x - p.x) + (at.y - p.y) * (q.y - p.y)) / p.distance(q).powi(2).max(1e-12)).clamp(0.0, 1.0);
                at.distance(p.lerp(q, t)) < r + 1.5 * cell
            });
            prop_assert!(near || v == 0.0);
        }
    }
}
