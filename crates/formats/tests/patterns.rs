//! Pattern files of many hands: units, arcs, splines, blocks, nested groups, no units, damage. Areas are closed forms.

mod mutate;

use formats::{FlatKind, PlainPattern, PlainPiece, ReadFault, dxf, pattern_limits, read_pattern, svg};
use kurbo::{BezPath, Shape};
use mutate::{Rounds, mutate};
use std::f64::consts::PI;

fn svg_of(head: &str, body: &str) -> Result<PlainPattern, ReadFault> {
    read_pattern("a.svg", format!("<svg xmlns=\"http://www.w3.org/2000/svg\" {head}>{body}</svg>").as_bytes())
}

fn dxf_of(pairs: &str) -> Result<PlainPattern, ReadFault> {
    let lines: String = pairs.split_whitespace().map(|t| format!("{}\n", t.replace('_', " "))).collect();
    read_pattern("a.dxf", lines.as_bytes())
}

fn area(piece: &PlainPiece) -> f64 {
    piece.outline.area().abs() - piece.cutouts.iter().map(|c| c.area().abs()).sum::<f64>()
}

fn near(found: f64, wanted: f64) {
    assert!((found / wanted - 1.0).abs() < 1e-3, "{found} and {wanted}");
}

#[test]
fn svg_units_and_view_boxes_are_lengths() {
    let square = "<path d='M0 0h10v10h-10z'/>";
    for (head, side) in [
        ("width='100mm' height='100mm' viewBox='0 0 10 10'", 100.0),
        ("width='20cm' height='20cm' viewBox='0 0 100 100'", 20.0),
        ("width='1in' height='1in' viewBox='0 0 10 10'", 25.4),
        ("width='72pt' height='72pt' viewBox='0 0 10 10'", 25.4),
    ] {
        let found = svg_of(head, square).expect(head);
        near(area(&found.pieces[0]), side * side);
        assert!(found.left_out.is_empty(), "{head}: {:?}", found.left_out);
    }
    let found = svg_of("viewBox='0 0 96 96' width='96' height='96'", square).expect("no unit");
    near(area(&found.pieces[0]), (10.0 * 25.4 / 96.0f64).powi(2));
    assert!(found.left_out[0].contains("no unit of length"), "{:?}", found.left_out);
}

#[test]
fn svg_groups_are_pieces_with_arcs_transforms_and_what_lies_on_them() {
    let found = svg_of(
        "width='1000mm' height='1000mm' viewBox='0 0 1000 1000'",
        "<g transform='scale(2)'>
           <g id='Yoke'><path d='M10 10 A50 50 0 0 1 110 10 Z'/></g>
           <g transform='rotate(90 60 60)'><title>Cuff &amp; co</title>
             <rect x='20' y='20' width='80' height='40'/><circle cx='40' cy='40' r='5'/><path d='M70 25V55' fill='none' stroke='black'/></g>
         </g>
         <g><path d='M500 500h200v100h-200z'/><path d='M510 510h180v80h-180z'/></g>
         <path d='M800 800 L900 900' fill='none' stroke='red'/>
         <text x='1' y='1'>Yoke</text>
         <g display='none'><path d='M0 0h90v90h-90z'/></g>",
    )
    .expect("readable");
    let named: Vec<&str> = found.pieces.iter().map(|p| p.name.as_str()).collect();
    assert_eq!(named[..2], ["Yoke", "Cuff & co"]);
    assert_eq!(found.pieces.len(), 3, "what is not displayed is not read");
    near(area(&found.pieces[0]), 4.0 * PI * 50.0 * 50.0 / 2.0);
    near(area(&found.pieces[1]), 4.0 * (80.0 * 40.0 - PI * 25.0));
    assert_eq!((found.pieces[1].cutouts.len(), found.pieces[1].inside.len()), (1, 1));
    assert_eq!(found.pieces[1].inside[0].0, FlatKind::Inside);
    // an outline within one that is little larger is the sewing line
    near(area(&found.pieces[2]), 180.0 * 80.0);
    assert_eq!(found.pieces[2].cutting.len(), 1);
    let told = found.left_out.join("\n");
    assert!(told.contains("text is not read") && told.contains("an open line on no piece"), "{told}");
    assert!(told.lines().all(|l| l.starts_with("line ")), "each is told with its line: {told}");
}

#[test]
fn damaged_svg_is_refused_with_its_place() {
    for (text, said) in [
        ("<svg", "root node"),
        ("<svg xmlns='http://www.w3.org/2000/svg'>\n<g>\n</svg>", "3:"),
        ("<svg xmlns='http://www.w3.org/2000/svg' width='9mm'><path d='M0 0'/></svg>", "no closed path"),
        ("<!DOCTYPE a [<!ENTITY b 'bbbb'>]><svg xmlns='http://www.w3.org/2000/svg'>&b;</svg>", "DTD"),
        ("<svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'><path d='M0 0h1e30v1e30z'/></svg>", ""),
    ] {
        let fault = read_pattern("a.svg", text.as_bytes()).expect_err(text);
        assert!(fault.to_string().contains(said), "{text}: {fault}");
    }
    assert!(matches!(read_pattern("a.svg", &[0xff, 0xfe, 0, 1]), Err(ReadFault::Damaged(_))));
    assert!(matches!(read_pattern("a.cdr", b""), Err(ReadFault::Ending(_))));
    let deep = format!("{}{}", "<g>".repeat(5000), "</g>".repeat(5000));
    assert!(svg_of("width='9mm'", &deep).is_err());
    assert!(matches!(read_pattern("a.svg", &vec![b' '; pattern_limits::FILE_BYTES + 1]), Err(ReadFault::TooMany { .. })));
}

/// A drawing of loose lines, an arc and an ellipse: no blocks, no units.
#[test]
fn dxf_lines_arcs_ellipses_and_splines_join_into_loops() {
    let found = dxf_of(
        "0 SECTION 2 ENTITIES
         0 LINE 8 A 10 0 20 0 11 100 21 0
         0 LINE 8 A 10 100 20 0 11 100 21 50
         0 ARC 8 A 10 50 20 50 40 50 50 0 51 180
         0 LINE 8 A 10 0 20 50 11 0 21 0
         0 ELLIPSE 8 B 10 300 20 0 11 40 21 0 40 0.5 41 0 42 6.283185307179586
         0 SPLINE 8 C 70 1 71 2 72 6 73 3 74 0 40 0 40 0 40 0 40 1 40 1 40 1 10 400 20 0 10 450 20 100 10 500 20 0
         0 LINE 8 C 10 500 20 0 11 400 21 0
         0 3DFACE 8 D 10 0 20 0 30 0
         0 LINE 8 A 10 900 20 900 11 950 21 900
         0 ENDSEC 0 EOF",
    )
    .expect("readable");
    let mut areas: Vec<f64> = found.pieces.iter().map(area).collect();
    areas.sort_by(f64::total_cmp);
    assert_eq!(areas.len(), 3, "{:?}", found.left_out);
    // a parabola over its chord: two thirds of base and height
    near(areas[0], PI * 40.0 * 20.0);
    near(areas[1], 2.0 / 3.0 * 100.0 * 50.0);
    near(areas[2], 5000.0 + PI * 1250.0);
    let told = found.left_out.join("\n");
    assert!(told.contains("names no unit") && told.contains("Face3D is not read") && told.contains("an open line on no piece"), "{told}");
}

#[test]
fn dxf_blocks_are_put_in_where_they_belong_in_their_unit() {
    // inches by the header; a block in a block, scaled, turned and mirrored; bulges of half circles
    let found = dxf_of(
        "0 SECTION 2 HEADER 9 $ACADVER 1 AC1015 9 $INSUNITS 70 1 0 ENDSEC
         0 SECTION 2 BLOCKS
         0 BLOCK 8 0 2 INNER 70 0 10 1 20 1 0 LWPOLYLINE 8 X 90 2 70 1 10 0 20 0 42 1 10 4 20 0 42 1 0 ENDBLK
         0 BLOCK 8 0 2 OUTER 70 0 10 0 20 0 0 INSERT 8 X 2 INNER 10 5 20 5 41 -1 42 2 50 30 0 ENDBLK
         0 ENDSEC
         0 SECTION 2 ENTITIES 0 INSERT 8 0 2 OUTER 10 0 20 0 0 INSERT 8 0 2 MISSING 10 0 20 0 0 ENDSEC 0 EOF",
    )
    .expect("readable");
    assert_eq!(found.pieces.len(), 1);
    assert_eq!(found.pieces[0].name, "OUTER");
    near(area(&found.pieces[0]), PI * 4.0 * 2.0 * 25.4 * 25.4);
    assert!(found.left_out.join("").contains("MISSING"));
}

#[test]
fn damaged_dxf_is_refused_with_its_line() {
    for text in ["0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nten\n", "hello\nthere\n", "0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n", ""] {
        assert!(read_pattern("a.dxf", text.as_bytes()).is_err(), "{text:?}");
    }
    let fault = read_pattern("a.dxf", b"0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nten\n").expect_err("no number").to_string();
    assert!(fault.contains("line/offset") || fault.contains("8"), "{fault}");
    // a block that puts itself in
    let own = "0 SECTION 2 BLOCKS 0 BLOCK 8 0 2 A 70 0 10 0 20 0 0 INSERT 8 0 2 A 10 1 20 1 0 INSERT 8 0 2 A 10 2 20 1 0 ENDBLK 0 ENDSEC
        0 SECTION 2 ENTITIES 0 INSERT 8 0 2 A 10 0 20 0 0 ENDSEC 0 EOF";
    assert!(matches!(dxf_of(own), Err(ReadFault::TooMany { .. })));
}

#[test]
fn every_mark_of_a_piece_survives_both_formats() {
    let path = |d: &str| BezPath::from_svg(d).expect("a path");
    let piece = PlainPiece {
        name: "Ærmel 1".into(),
        count: Some(2),
        outline: path("M0 0 L200 0 C230 60 230 140 200 200 L0 200 Z"),
        cutting: vec![path("M-10 -10 L206 -10 C242 55 242 145 206 210 L-10 210 Z")],
        cutouts: vec![path("M40 40 L40 80 L80 80 Z")],
        inside: vec![(FlatKind::Inside, path("M0 100 L120 110"))],
        notches: vec![(kurbo::Point::new(100.0, 0.0), false), (kurbo::Point::new(0.0, 120.0), true)],
        holes: vec![kurbo::Point::new(150.0, 150.0)],
        grain: Some([kurbo::Point::new(100.0, 60.0), kurbo::Point::new(100.0, 140.0)]),
        ..PlainPiece::default()
    };
    let pieces = [piece.clone()];
    for (file, bytes) in [("a.svg", svg("Test", &pieces).into_bytes()), ("a.dxf", dxf("Test", &pieces))] {
        let found = read_pattern(file, &bytes).expect(file);
        let read = &found.pieces[0];
        assert_eq!(read.name, piece.name, "{file}");
        near(area(read), area(&piece));
        near(read.cutting[0].area().abs(), piece.cutting[0].area().abs());
        assert_eq!((read.cutouts.len(), read.inside.len(), read.notches.len(), read.holes.len()), (1, 1, 2, 1), "{file}");
        assert_eq!(read.notches.iter().filter(|n| n.1).count(), 1, "{file}: one of them is double");
        // the origin of a drawing is its own
        let from = |p: &PlainPiece, at: kurbo::Point| at - kurbo::Vec2::new(p.outline.bounding_box().x0, p.outline.bounding_box().y0);
        let kept = |at: kurbo::Point, was: kurbo::Point| from(read, at).distance(from(&piece, was)) < 0.01;
        assert!(read.notches.iter().any(|(p, _)| kept(*p, kurbo::Point::new(100.0, 0.0))), "{file}: {:?}", read.notches);
        assert!(kept(read.holes[0], piece.holes[0]), "{file}");
        let [a, b] = read.grain.expect("a grain");
        assert!(((b - a).atan2().to_degrees() - 90.0).abs() < 1e-3, "{file}");
    }
    // a name cannot break a line of the file
    let odd = PlainPiece { name: "a\n0\nEOF".into(), ..piece };
    assert_eq!(read_pattern("a.dxf", &dxf("b\r\n0", &[odd])).expect("readable").pieces.len(), 1);
}

#[test]
fn noise_in_valid_files_never_panics() {
    let piece =
        PlainPiece { name: "A".into(), outline: BezPath::from_svg("M0 0 L90 0 L90 90 Z").expect("a path"), ..PlainPiece::default() };
    let seeds = [("a.svg", svg("T", std::slice::from_ref(&piece)).into_bytes()), ("a.dxf", dxf("T", &[piece]))];
    let mut rounds = Rounds::new();
    while rounds.goes_on(1500) {
        for (file, bytes) in &seeds {
            let changed = mutate(bytes, &mut rounds.dice);
            rounds.keep(file, &changed);
            let _ = read_pattern(file, &changed);
        }
    }
}
