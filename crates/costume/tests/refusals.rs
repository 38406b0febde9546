//! Every rule refuses what breaks it, names the item and leaves the document as it was.

mod common;

use common::{done, edge, line, node, points, text as file};
use costume::{
    Anchor, Costume, Edit, Fabric, FabricId, Fineness, LineEnd, LineId, LineRef, NodeId, PathId, PieceId, Placement, Point, Print, Purpose,
    Quantity, Refusal, RefusalKind, Run, SeamId, Shape, apply, limits, read,
};

fn add(name: &str, list: &[(f64, f64)]) -> Edit {
    common::add(name, 0.0, list)
}

const SQUARE: [(f64, f64); 4] = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)];

fn square() -> Costume {
    done(&Costume::new("Test"), add("Patch", &SQUARE))
}

fn refused(costume: &Costume, edit: &Edit) -> Refusal {
    apply(costume, edit).expect_err("it must be refused")
}

#[track_caller]
fn expect(costume: &Costume, edit: Edit, item: &str, reason: &str) {
    let refusal = refused(costume, &edit);
    assert!(refusal.item.contains(item) && refusal.reason.contains(reason), "{refusal}");
    assert!(!refusal.remedy.is_empty());
}

#[test]
fn outlines() {
    let new = Costume::new("Test");
    expect(&new, add("Bow tie", &[(0.0, 0.0), (100.0, 100.0), (100.0, 0.0), (0.0, 100.0)]), "Bow tie", "would cross");
    expect(&new, add("Sliver", &[(0.0, 0.0), (100.0, 0.0)]), "Sliver", "fewer than three corners");
    expect(&new, add("Dot", &[(0.0, 0.0), (100.0, 0.0), (100.0, 0.2)]), "Dot, edge 2", "would have no length");
    expect(&new, add("Far", &[(0.0, 0.0), (1e6, 0.0), (0.0, 100.0)]), "Far", "would leave the table");
    expect(&new, add("Lost", &[(0.0, 0.0), (f64::NAN, 0.0), (0.0, 100.0)]), "Lost", "would leave the table");
    expect(&new, add("Needle", &[(0.0, 0.0), (100.0, 0.0), (50.0, 0.0)]), "Needle", "would cross");
    let star: Vec<_> = (0..=limits::LINES).map(|k| (k as f64 * 0.0157).sin_cos()).map(|(s, c)| (900.0 * c, 900.0 * s)).collect();
    expect(&new, add("Star", &star), "Star", "more than the limit");
}

#[test]
fn moved_corners_and_handles() {
    let costume = square();
    let patch = &costume.pieces[0];
    let (piece, first) = (patch.id, line(patch, 0));
    let to = |x, y| Edit::MoveNode { piece, node: node(patch, 0), to: Point::new(x, y) };
    expect(&costume, to(150.0, 50.0), "Patch", "would cross");
    expect(&costume, to(150.0, 150.0), "Patch", "inside out");
    expect(&costume, to(100.0, 0.5), "Patch, edge 1", "would have no length");
    let handle = Edit::MoveHandle { piece, line: first, end: LineEnd::From, to: Point::new(0.0, 0.0) };
    expect(&costume, handle, "Patch, edge 1", "is straight");
    let curved = done(&costume, Edit::CurveLine { piece, line: first });
    let over = Edit::MoveHandle { piece, line: first, end: LineEnd::From, to: Point::new(50.0, 400.0) };
    expect(&curved, over, "Patch", "would cross");
    expect(&costume, Edit::SplitLine { piece, line: first, fraction: 1.5, by_length: false }, "corner", "share of its length of 1.5");
    expect(&costume, Edit::SplitLine { piece, line: first, fraction: 0.0, by_length: false }, "Patch", "would have no length");
    let three = done(&costume, Edit::RemoveNode { piece, node: node(patch, 0) });
    expect(&three, Edit::RemoveNode { piece, node: node(&three.pieces[0], 0) }, "Patch", "fewer than three");
    expect(&costume, Edit::RemoveNode { piece, node: NodeId(999) }, "corner", "no longer part");
}

#[test]
fn cutouts_and_paths_inside() {
    let costume = square();
    let piece = costume.pieces[0].id;
    let cut = |list: &[(f64, f64)]| Edit::AddCutout { piece, points: points(list) };
    expect(&costume, cut(&[(20.0, 20.0), (140.0, 20.0), (60.0, 60.0)]), "Patch", "would cross");
    expect(&costume, cut(&[(220.0, 20.0), (240.0, 20.0), (230.0, 60.0)]), "Patch, cut-out 1", "within the cloth");
    let holed = done(&costume, cut(&[(20.0, 20.0), (60.0, 20.0), (40.0, 60.0)]));
    expect(&holed, cut(&[(30.0, 25.0), (50.0, 25.0), (40.0, 40.0)]), "Patch, cut-out 2", "within the cloth");
    let path = |a: (f64, f64), b: (f64, f64)| {
        let points = [a, b].map(|(x, y)| Anchor::At(Point::new(x, y))).to_vec();
        Edit::AddInside { piece, points, purpose: Purpose::Stitching }
    };
    expect(&costume, path((50.0, 50.0), (150.0, 50.0)), "Patch, stitching line", "within the outline");
    expect(&holed, path((10.0, 30.0), (90.0, 30.0)), "Patch, stitching line", "within the outline");
    expect(&costume, Edit::AddInside { piece, points: vec![], purpose: Purpose::StyleLine }, "inside line", "0 points");
    expect(&costume, Edit::RemoveInside { piece, path: PathId(7) }, "inside line", "no longer part");
    expect(&costume, Edit::RemoveCutout { piece, line: LineId(7) }, "cut-out", "no longer part");
    expect(&costume, Edit::AddNotch { piece, line: line(&costume.pieces[0], 0), at: 1.2, double: false }, "Patch, notch", "does not lie");
    expect(&costume, Edit::AddText { piece, at: Point::new(0.0, 0.0), text: "\u{7}".into() }, "Patch, text", "cannot be read");
}

#[test]
fn seams() {
    let costume = square();
    let patch = &costume.pieces[0];
    expect(&costume, Edit::Join { a: edge(patch, 0), b: edge(patch, 0) }, "Patch, edge 1", "sewn to itself");
    let run = |from, to| Run { from, to, ..Run::whole(patch.id, line(patch, 0)) };
    expect(&costume, Edit::Sew { a: vec![run(0.0, 0.6)], b: vec![run(1.0, 0.5)] }, "Patch, edge 1", "sewn to itself");
    expect(&costume, Edit::Sew { a: vec![run(0.0, 0.5)], b: vec![run(0.7, 0.7)] }, "Patch, edge 1", "would have no length");
    expect(&costume, Edit::Sew { a: vec![run(0.0, 0.5)], b: vec![run(0.7, 1.7)] }, "seam A", "beyond the ends");
    expect(&costume, Edit::Sew { a: vec![], b: vec![run(0.0, 0.5)] }, "seam A", "empty side");
    // an edge may be closed onto itself from both ends, as a band's end is
    assert!(apply(&costume, &Edit::Sew { a: vec![run(0.0, 0.5)], b: vec![run(1.0, 0.5)] }).is_ok());
    let nowhere = LineRef { piece: PieceId(77), line: line(patch, 0) };
    expect(&costume, Edit::Join { a: edge(patch, 0), b: nowhere }, "seam", "does not exist");
    expect(&costume, Edit::FlipSeam { seam: SeamId(50) }, "seam", "no longer part");
    expect(&costume, Edit::Unpick { seam: SeamId(50) }, "seam", "no longer part");
}

#[test]
fn names_numbers_and_choices() {
    let costume = square();
    let piece = costume.pieces[0].id;
    expect(&costume, Edit::RenameCostume { name: "  ".into() }, "costume", "readable name");
    expect(&costume, Edit::RenamePiece { piece, name: "x".repeat(limits::NAME + 1) }, "piece", "readable name");
    expect(&costume, Edit::RenamePiece { piece: PieceId(77), name: "Cuff".into() }, "piece", "no longer part");
    expect(&costume, Edit::ChooseFineness { fineness: Fineness::Custom(0.5) }, "fineness", "mesh edge of 0.5 mm");
    expect(&costume, Edit::ChooseFineness { fineness: Fineness::Custom(f64::NAN) }, "fineness", "no number");
    expect(&costume, Edit::SetGrain { piece, degrees: f64::INFINITY }, "Patch", "a grain that is no number");
    expect(&costume, Edit::SetFabric { piece, fabric: costume::FabricId(88) }, "Patch", "fabric that the costume does not have");
    let placement = |turn, x| Some(Placement { station: "chest-front".into(), shift: Point::new(x, 0.0), turn, ..Default::default() });
    expect(&costume, Edit::Place { piece, placement: placement(f64::NAN, 0.0) }, "Patch", "a turn at its station that is no number");
    expect(&costume, Edit::Place { piece, placement: placement(0.0, 1e9) }, "Patch", "leave the table");
}

#[test]
fn fabrics() {
    let costume = square();
    let fabric = |swatch: &str, colour: &str, print| Edit::ChangeFabric {
        fabric: costume.fabrics[0].id,
        name: "Sailcloth".into(),
        swatch: swatch.into(),
        colour: colour.into(),
        print,
        own: Default::default(),
    };
    let print = |repeat| Some(Print::of_motif("salt-crystals", repeat, "#ffffff"));
    expect(&costume, fabric("chain-mail", "#102030", None), "Sailcloth", "no `chain-mail`");
    expect(&costume, fabric("calico", "teal", None), "Sailcloth", "not a colour");
    expect(&costume, fabric("calico", "#102030", print(0.0)), "Sailcloth", "print repeat");
    assert!(apply(&costume, &fabric("denim", "#102030", print(80.0))).is_ok());
    let own = |key: &str, value: f64| {
        let mut edit = fabric("denim", "#102030", None);
        if let Edit::ChangeFabric { own, .. } = &mut edit {
            own.insert(key.to_owned(), value);
        }
        edit
    };
    expect(&costume, own("bounce", 1.0), "Sailcloth", "`bounce`");
    expect(&costume, own("bend-warp", 0.0), "Sailcloth", "bend, warp of 0");
    expect(&costume, own("thickness", f64::NAN), "Sailcloth", "thickness");
    let changed = apply(&costume, &own("bend-warp", 300.0)).expect("a plausible value");
    let cloth = changed.fabrics[0].cloth().expect("a cloth");
    assert_eq!((cloth.bending_rigidity_warp, cloth.bending_rigidity_weft), (300.0, 60.0));
    // Peirce: the cube root of rigidity over weight
    assert!((cloth.bending_length() - 1000.0 * (180e-6f64 / (0.41 * 9.81)).cbrt()).abs() < 1e-9);
}

#[test]
fn files() {
    let costume = square();
    let text = file(&costume);
    let reason = |t: &str| read(t).expect_err("it must be refused").reason;
    assert!(reason("").contains("cannot be read"));
    assert!(reason(&text[..text.len() / 2]).contains("cannot be read"));
    assert!(reason(&text.replace("\"format\": 2", "\"format\": 9")).contains("format 9"));
    assert!(reason(&text.replace("\"fabrics\"", "\"textiles\"")).contains("textiles"));
    assert!(reason(&" ".repeat(limits::FILE_BYTES + 1)).contains("more than a costume may have"));
    let mut twice = costume.clone();
    twice.pieces.push(twice.pieces[0].clone());
    assert!(reason(&file(&twice)).contains("twice"));
    let mut bare = costume.clone();
    bare.fabrics.clear();
    assert!(reason(&file(&bare)).contains("fabric"));
    let mut inside_out = costume;
    if let Shape::Drawn(drawing) = &mut inside_out.pieces[0].shape {
        drawing.outline.reverse();
        drawing.lines.iter_mut().for_each(|l| (l.from, l.to) = (l.to, l.from));
    }
    assert!(reason(&file(&inside_out)).contains("inside out"));
    let mut broken = square();
    broken.pieces[0].drawing_mut().expect("drawn").outline.swap(0, 1);
    assert!(reason(&file(&broken)).contains("closed outlines"));
    let mut orphan = square();
    orphan.pieces[0].drawing_mut().expect("drawn").nodes[0].id = NodeId(1);
    assert!(reason(&file(&orphan)).contains("closed outlines"));
    let mut twin = square();
    twin.pieces[0].shape = Shape::Twin { of: twin.pieces[0].id };
    assert!(reason(&file(&twin)).contains("twin of a piece that is not drawn"));
}

/// What a file with one word exchanged is refused for.
fn refused_file(costume: &Costume, word: &str, by: &str) -> String {
    let text = file(costume);
    assert!(text.contains(word), "{word} stands in the file");
    read(&text.replacen(word, by, 1)).expect_err("refused").to_string()
}

#[test]
fn numbers_ids_and_names_from_outside_are_bounded() {
    let mut placed = square();
    placed.pieces[0].placement =
        Some(Placement { station: "chest-front".into(), shift: Point::new(0.0, 0.0), turn: 0.0, ..Default::default() });
    assert!(refused_file(&placed, "\"grain\": 90.0", "\"grain\": 1e41").contains("a grain of 1e41°"));
    assert!(refused_file(&placed, "\"turn\": 0.0", "\"turn\": 1e30").contains("a turn at its station of 1e30°"));
    assert!(refused_file(&placed, "chest-front", "chest\\u0000front").contains("readable name"));
    assert!(refused_file(&placed, "woman-38", "woman\\u0007").contains("readable name"));
    let next = format!("\"next_id\": {}", placed.next_id);
    assert!(refused_file(&placed, &next, "\"next_id\": 4294967295").contains("counts its ids"));
    let mut many = square();
    for k in 0..limits::FABRICS as u32 {
        many.fabrics.push(Fabric { id: FabricId(10_000 + k), ..many.fabrics[0].clone() });
    }
    many.next_id = 20_000;
    assert!(read(&file(&many)).expect_err("too many").to_string().contains("fabrics"));
}

/// A costume of so many copies of a piece of 400 bowed corners.
fn rings(count: usize) -> Costume {
    let around = |k: f64| {
        let (sin, cos) = (k / 400.0 * std::f64::consts::TAU).sin_cos();
        Point::new(900.0 * cos, 900.0 * sin)
    };
    let mut points: Vec<_> = (0..400).map(|k| costume::LoopPoint::from(around(f64::from(k)))).collect();
    for (k, p) in (0..).map(f64::from).zip(&mut points) {
        p.handles = Some([around(k + 0.3), around(k + 0.7)]);
    }
    let ring = Edit::AddPiece { name: "Ring".into(), at: Point::new(0.0, 0.0), points, fold: None };
    let mut costume = done(&Costume::new("Archive"), ring);
    for _ in 1..count {
        let piece = costume.pieces[0].clone();
        let shift = costume.next_id - piece.id.0;
        let mut copy = piece.clone();
        copy.id.0 += shift;
        if let Shape::Drawn(d) = &mut copy.shape {
            d.nodes.iter_mut().for_each(|n| n.id.0 += shift);
            d.lines.iter_mut().for_each(|l| (l.id.0, l.from.0, l.to.0) = (l.id.0 + shift, l.from.0 + shift, l.to.0 + shift));
            d.outline.iter_mut().for_each(|l| l.0 += shift);
        }
        costume.next_id += 401;
        costume.pieces.push(copy);
    }
    costume
}

#[test]
fn no_edit_makes_a_document_that_cannot_be_read_back() {
    let one = file(&rings(2)).len() - file(&rings(1)).len();
    let full = rings(limits::FILE_BYTES / (one + one / 50));
    assert!(full.pieces.len() >= 60 && read(&file(&full)).expect("it fits") == full);
    let mut costume = full;
    for _ in 0..8 {
        let more = Edit::CopyPiece { piece: costume.pieces[0].id, at: Point::new(0.0, 0.0) };
        match apply(&costume, &more) {
            Ok(next) => costume = next,
            Err(e) => {
                assert!(e.to_string().contains("more than the 16777216 of a costume file"), "{e}");
                assert_eq!(read(&file(&costume)).expect("the last good one"), costume);
                return;
            }
        }
    }
    panic!("all pieces fit, so the limit was not met");
}

#[test]
fn refusals_are_values_with_ids_and_numbers() {
    let costume = square();
    let patch = &costume.pieces[0];
    let crossed = refused(&costume, &Edit::MoveNode { piece: patch.id, node: node(patch, 0), to: Point::new(150.0, 50.0) });
    let RefusalKind::Crosses { lines, .. } = &*crossed.kind else { panic!("{crossed:?}") };
    assert!(lines.iter().all(|l| patch.drawing().is_some_and(|d| d.line(*l).is_some())), "{crossed:?}");
    let worn = refused(&costume, &Edit::SetWear { piece: patch.id, wear: 12 });
    assert_eq!(*worn.kind, RefusalKind::OutOfRange { of: Quantity::WearOrder, value: 12.0, low: 1.0, high: 9.0 });
    assert_eq!(worn.to_string(), "Patch: cannot have a wear order of 12. Choose one from 1 to 9.");
    let json = serde_json::to_value(&worn).expect("JSON");
    assert_eq!((&json["kind"]["is"], &json["kind"]["of"]), (&"out-of-range".into(), &"wear-order".into()));
}
