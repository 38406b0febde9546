//! Tracing: what is drawn on a sheet and scanned is found again, with few corners, at true scale.

use costume::{BodyChoice, Costume, Edit, PatternPiece, Point, Projective, Underlay, UnderlayId, apply, read, resolve};
use formats::{PlainPiece, Scanning, sheet};
use kurbo::{Affine, Shape as _};
use std::collections::BTreeMap;
use trace::Grey;
use workroom::{TracedOutline, plain_pieces, ruler_ticks, trace_outline};

/// Pieces of a block on its size, as they are laid.
fn block(recipe: &str) -> Costume {
    let at = Point::new(0.0, 0.0);
    let on = apply(&Costume::new("Drawn"), &Edit::ChooseBody { body: BodyChoice::size("child-104") }).expect("made");
    workroom::apply(&on, &Edit::AddBlock { recipe: recipe.into(), values: BTreeMap::new(), measures: BTreeMap::new(), at }).expect("made")
}

/// A scanned sheet laid at true scale: its corners on the table.
fn laid(picture: &Grey, onto: Affine) -> Underlay {
    let (w, h) = (picture.width() as f64, picture.height() as f64);
    let back = onto.inverse();
    let corners = [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)].map(|(x, y)| back * kurbo::Point::new(x, y)).map(|p| Point::new(p.x, p.y));
    let pixels = [picture.width() as u32, picture.height() as u32];
    Underlay { id: UnderlayId(1), name: "Sheet".into(), asset: "0".repeat(64), page: 0, pixels, corners, fade: 0.0, locked: false }
}

/// A traced outline as a piece like any other.
fn as_piece(name: &str, traced: TracedOutline) -> PatternPiece {
    let laid = Edit::AddPiece { name: name.into(), at: traced.at, points: traced.points, fold: None };
    resolve(&apply(&Costume::new("Traced"), &laid).expect("made")).pieces.remove(0)
}

/// Every piece traced from its middle: within a share of its area, with at most two corners more.
fn found_again(pieces: &[PlainPiece], picture: &Grey, underlay: &Underlay, share: f64) {
    for piece in pieces {
        let middle = piece.outline.bounding_box().center();
        let traced = trace_outline(picture, underlay, Point::new(middle.x, middle.y)).unwrap_or_else(|e| panic!("{}: {e}", piece.name));
        let (corners, bridged) = (traced.points.len(), traced.bridged);
        let laid = as_piece(&piece.name, traced);
        let (exact, found) = (piece.outline.area().abs(), laid.area());
        let drawn = piece.outline.segments().count();
        println!("{:<14} {:+.3} %  {corners} of {drawn} corners", piece.name, 100.0 * (found / exact - 1.0));
        assert!((found / exact - 1.0).abs() < share, "{}: {found:.0} and {exact:.0} mm²", piece.name);
        assert!(corners <= drawn + 2, "{}: {corners} corners, drawn with {drawn}", piece.name);
        assert!(bridged < 0.1, "{}: {bridged}", piece.name);
        // it lies where it was drawn
        let corner = piece.outline.bounding_box();
        assert!((laid.at.x - corner.x0).hypot(laid.at.y - corner.y0) < 0.5, "{}", piece.name);
    }
}

#[test]
fn pieces_on_a_scanned_sheet_are_found_again() {
    for (recipe, dpi, tilt, grain) in [
        ("tee", 150.0, 1.7, 3),
        ("shirt-collar", 150.0, -0.8, 0),
        ("sleeve", 110.0, 4.0, 6),
        ("trousers", 100.0, 0.0, 2),
        ("hood", 200.0, 0.3, 4),
    ] {
        println!("{recipe}");
        let costume = block(recipe);
        let pieces = plain_pieces(&costume);
        let (picture, onto) = sheet(&pieces, &Scanning { dpi, tilt, grain }).expect("made");
        found_again(&pieces, &picture, &laid(&picture, onto), 0.005);
    }
}

#[test]
fn the_practice_sheet_is_traced_within_half_a_percent() {
    let bytes = std::fs::read(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/practice-sheet.png")).expect("made");
    let picture = formats::scan_grey(&bytes, 0).expect("made");
    let page = formats::scan_pages(&bytes).expect("made")[0];
    assert_eq!(page.dpi.map(f64::round), Some(150.0));
    let practice = read(include_str!("../../../demo/tracing-practice.ourlet.json")).expect("made");
    // the sheet was drawn from these pieces; where they lie is told by the drawing of the same sheet
    let drawn = read(include_str!("fixtures/practice.ourlet.json")).expect("made");
    let pieces = plain_pieces(&drawn);
    let (again, onto) = sheet(&pieces, &Scanning { dpi: 150.0, tilt: 1.4, grain: 0 }).expect("made");
    assert_eq!(again, picture, "the sheet of the demo is drawn from its pieces");
    found_again(&pieces, &picture, &laid(&picture, onto), 0.005);
    // the costume of the demo shows the same picture at its true scale
    let underlay = &practice.underlays[0];
    assert_eq!(underlay.pixels, [picture.width() as u32, picture.height() as u32]);
    assert!((25.4 / underlay.pixel() - 150.0).abs() < 0.1);
}

#[test]
fn a_ruler_tells_the_scale_and_a_rectangle_straightens_the_sheet() {
    let costume = block("pocket");
    let pieces = plain_pieces(&costume);
    let (picture, onto) = sheet(&pieces, &Scanning { dpi: 150.0, tilt: 2.0, grain: 2 }).expect("made");
    let true_scale = laid(&picture, onto);
    // the ruler is 25 and half of 45 mm below the pieces
    let around = pieces.iter().map(|p| p.outline.bounding_box()).reduce(|a, b| a.union(b)).expect("made");
    let foot = Point::new(around.x0 + 0.5, around.y0 - 47.5 + 2.0);
    let found = ruler_ticks(&picture, &true_scale, foot, Point::new(foot.x + 40.0, foot.y)).expect("made");
    assert!((found.spacing - 1.0).abs() < 0.004 && found.count >= 39, "{found:?}");
    // laid at 96 dpi, its millimetres are too long; scaled by the ruler it is true again
    let mut worn = Costume::new("Scaled");
    worn = apply(&worn, &Edit::LayUnderlay { underlay: Box::new(true_scale.clone()) }).expect("made");
    let id = worn.underlays[0].id;
    worn = apply(&worn, &Edit::SetUnderlayDpi { underlay: id, dpi: 96.0 }).expect("made");
    assert!((25.4 / worn.underlays[0].pixel() - 96.0).abs() < 1e-9);
    let onto = Projective::between(true_scale.corners, worn.underlays[0].corners).expect("made");
    let (a, b) = (onto.at(foot), onto.at(Point::new(foot.x + 40.0, foot.y)));
    let wrong = ruler_ticks(&picture, &worn.underlays[0], a, b).expect("made");
    worn = apply(&worn, &Edit::ScaleUnderlay { underlay: id, from: a, to: b, length: a.distance(b) / wrong.spacing }).expect("made");
    assert!((25.4 / worn.underlays[0].pixel() / 150.0 - 1.0).abs() < 0.004);
    let refused = ruler_ticks(&picture, &true_scale, Point::new(around.x0, around.y1 + 5.0), Point::new(around.x1, around.y1 + 5.0));
    assert!(refused.is_err());

    // photographed from the side; the four corners of a known rectangle lay it flat again
    let camera = [(0.0, 0.0), (310.0, 12.0), (290.0, -240.0), (18.0, -225.0)].map(|(x, y)| Point::new(x, y));
    let seen = Underlay { corners: camera, ..true_scale.clone() };
    let view = Projective::between(true_scale.corners, camera).expect("made");
    let rectangle = [(0.0, 0.0), (120.0, 0.0), (120.0, 80.0), (0.0, 80.0)].map(|(x, y)| Point::new(x, y));
    let mut photo = apply(&Costume::new("Photo"), &Edit::LayUnderlay { underlay: Box::new(seen) }).expect("made");
    let id = photo.underlays[0].id;
    let corners = rectangle.map(|p| view.at(p));
    photo = apply(&photo, &Edit::StraightenUnderlay { underlay: id, corners, width: 120.0, height: 80.0 }).expect("made");
    // up to where it lies, it is the sheet as it was scanned
    let flat = Projective::between(true_scale.corners, photo.underlays[0].corners).expect("made");
    let (p, q) = (Point::new(10.0, 20.0), Point::new(-60.0, 75.0));
    assert!((flat.at(p).distance(flat.at(q)) - p.distance(q)).abs() < 1e-6);
    let locked = apply(&photo, &Edit::ShowUnderlay { underlay: id, fade: 0.5, locked: true }).expect("made");
    for edit in [
        Edit::MoveUnderlay { underlay: id, by: Point::new(1.0, 0.0) },
        Edit::TurnUnderlay { underlay: id, by: 3.0 },
        Edit::SetUnderlayDpi { underlay: id, dpi: 100.0 },
    ] {
        assert!(apply(&locked, &edit).expect_err("refused").to_string().contains("held"));
    }
    let dented = [(0.0, 0.0), (100.0, 0.0), (20.0, 20.0), (0.0, 100.0)].map(|(x, y)| Point::new(x, y));
    assert!(apply(&photo, &Edit::StraightenUnderlay { underlay: id, corners: dented, width: 120.0, height: 80.0 }).is_err());
}

#[test]
fn places_without_an_outline_are_refused_with_what_helps() {
    let costume = block("pocket");
    let pieces = plain_pieces(&costume);
    let (picture, onto) = sheet(&pieces, &Scanning { dpi: 100.0, tilt: 0.0, grain: 0 }).expect("made");
    let underlay = laid(&picture, onto);
    let around = pieces[0].outline.bounding_box();
    let refused = |x: f64, y: f64| trace_outline(&picture, &underlay, Point::new(x, y)).expect_err("refused").to_string();
    assert!(refused(around.x0 - 10.0, around.y0).contains("no closed line"));
    assert!(refused(around.x0 - 500.0, around.y0).contains("does not lie under"));
    let coarse = Underlay { corners: underlay.corners.map(|c| Point::new(8.0 * c.x, 8.0 * c.y)), ..underlay.clone() };
    let middle = around.center();
    assert!(
        trace_outline(&picture, &coarse, Point::new(8.0 * middle.x, 8.0 * middle.y)).expect_err("refused").to_string().contains("coarse")
    );
    let other = Underlay { pixels: [10, 10], ..underlay.clone() };
    assert!(trace_outline(&picture, &other, Point::new(0.0, 0.0)).is_err());
    // a gap of 5 mm in the line is bridged, and told
    let mut pixels = picture.pixels().to_vec();
    let gap = onto * kurbo::Point::new(middle.x, around.y0);
    for y in (gap.y as usize - 4)..(gap.y as usize + 5) {
        for x in (gap.x as usize - 10)..(gap.x as usize + 10) {
            pixels[y * picture.width() + x] = 235;
        }
    }
    let broken = Grey::new(picture.width(), picture.height(), pixels).expect("made");
    let traced = trace_outline(&broken, &underlay, Point::new(middle.x, middle.y)).expect("made");
    assert!(traced.bridged > 5.0, "{}", traced.bridged);
    assert!((as_piece("Pocket", traced).area() / pieces[0].outline.area().abs() - 1.0).abs() < 0.005);
}
