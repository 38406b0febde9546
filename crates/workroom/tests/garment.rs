//! One garment through the whole job: hung, draped to rest, checked, carried over, delivered. Coarse, so that it is quick.

mod common;

use cloth::Drape;
use common::{form, rested, tabard};
use costume::{BodyChoice, Costume, Edit, Piece, Point, Print, PrintPlace, apply};
use fit::Surface;
use std::collections::BTreeSet;
use std::collections::HashMap;
use std::sync::LazyLock;
use workroom::{
    Assembly, ContactBody, DeliverOptions, Faces, FileKind, Layout, PictureFiles, Prints, ThickSide, Unit, assemble, carry, carry_error,
    check, deliver, delivery_preview, drape_report,
};

static WOMAN: LazyLock<ContactBody> = LazyLock::new(|| form("woman-38"));

static RESTING: LazyLock<(Assembly, Drape)> = LazyLock::new(|| {
    let mut assembly = assemble(&tabard(36.0), &WOMAN).expect("it hangs");
    let drape = rested(&mut assembly);
    (assembly, drape)
});

fn distance(a: [f32; 3], b: [f32; 3]) -> f64 {
    (0..3).map(|k| f64::from(a[k] - b[k]).powi(2)).sum::<f64>().sqrt()
}

#[test]
fn hung_pieces_keep_their_lengths_and_are_clear_of_the_body() {
    for preset in ["woman-38", "man-50"] {
        let form = form(preset);
        let assembly = assemble(&tabard(30.0), &form).expect("it hangs");
        let at = &assembly.scene.positions;
        for t in &assembly.scene.triangles {
            for k in 0..3 {
                let (i, j) = (t[k] as usize, t[(k + 1) % 3] as usize);
                let (p, q) = (assembly.scene.flat[i], assembly.scene.flat[j]);
                let flat = f64::from((q[0] - p[0]).hypot(q[1] - p[1]));
                // a chord of the wrap is a little shorter than the arc
                assert!((distance(at[i], at[j]) / flat - 1.0).abs() < 0.02);
            }
        }
        let skin = &form.skin;
        let nearest = at.iter().flat_map(|p| skin.positions.iter().map(move |q| distance(*p, *q))).fold(f64::MAX, f64::min);
        assert!(nearest > 0.014, "{preset}: {nearest} m from the skin");
        assert!(
            fit::cloth_body(&Surface::open(at, &assembly.scene.triangles), &Surface::closed(&skin.positions, &skin.triangles)).is_empty()
        );
    }
}

#[test]
fn the_tabard_moves_to_other_bodies_by_its_stations() {
    let made = BodyChoice {
        overrides: [("stature".to_owned(), 1740.0), ("bust".to_owned(), 980.0), ("waist".to_owned(), 830.0)].into(),
        ..BodyChoice::size("woman-42")
    };
    let middle = |assembly: &Assembly, k: usize| {
        let range = &assembly.pieces[k];
        let own = &assembly.scene.positions[range.first_vertex..range.first_vertex + range.flat.points.len()];
        own.iter().map(|p| f64::from(p[1])).sum::<f64>() / own.len() as f64
    };
    let mut heights = Vec::new();
    for choice in [BodyChoice::size("woman-38"), BodyChoice::size("man-50"), made] {
        let costume = Costume { body: choice, ..tabard(36.0) };
        let figure = workroom::figure(&costume.body).expect("a body");
        let form = ContactBody::of(&costume, figure.into(), &BTreeSet::new()).expect("a form");
        let assembly = assemble(&costume, &form).expect("it hangs");
        let skin = &form.skin;
        assert!(
            fit::cloth_body(
                &Surface::open(&assembly.scene.positions, &assembly.scene.triangles),
                &Surface::closed(&skin.positions, &skin.triangles)
            )
            .is_empty()
        );
        let clear = assembly.scene.positions.iter().map(|p| form.grid.distance(glam::Vec3::from(*p))).fold(f32::MAX, f32::min);
        assert!(clear > 0.0149, "{clear} m");
        // the pieces go with the chest of the body
        heights.push(middle(&assembly, 0) - form.posed.station("chest-front").expect("a station").centre.y);
    }
    assert!(heights.iter().all(|h| (h - heights[0]).abs() < 1e-3), "{heights:?}");
}

#[test]
fn parts_left_out_and_stand_ins_change_what_the_cloth_meets() {
    let crown = glam::Vec3::new(0.0, 1.60, 0.0);
    assert!(WOMAN.grid.distance(crown) < 0.0, "cloth from the chest meets the head");
    let mut costume = tabard(36.0);
    for piece in &mut costume.pieces {
        piece.placement.as_mut().expect("it hangs").station = "hips-front".into();
    }
    let plain = ContactBody::of(&costume, WOMAN.figure.clone(), &BTreeSet::new()).expect("a form");
    assert_eq!(plain.out.iter().map(String::as_str).collect::<Vec<_>>(), ["hand-left", "hand-right", "head"]);
    assert!(plain.grid.distance(crown) > 0.04, "the head is not there");
    costume.body.contact.parts.insert("head".into(), costume::PartContact { left_out: false, offset: 0.0, friction: 1.0 });
    costume.body.contact.parts.insert("trunk".into(), costume::PartContact { left_out: false, offset: 6.0, friction: 0.5 });
    let at = |y: f32, z: f32| glam::Vec3::new(0.0, y, z);
    costume.body.contact.shapes.push(costume::StandIn {
        shape: costume::StandInShape::Box,
        bone: "pelvis".into(),
        at: [0.0, 950.0, -300.0],
        turn: [0.0; 3],
        size: [100.0, 50.0, 80.0],
    });
    let form = ContactBody::of(&costume, plain.figure.clone(), &BTreeSet::new()).expect("a form");
    assert!(form.grid.distance(crown) < 0.0, "the head counts");
    // a box is exact: 20 mm behind its back face
    assert!((form.grid.distance(at(0.95, -0.40)) - 0.02).abs() < 1e-3, "{}", form.grid.distance(at(0.95, -0.40)));
    // the trunk is 6 mm thicker, and half as rough
    let waist = at(1.05, 0.11);
    assert!((plain.grid.distance(waist) - form.grid.distance(waist) - 0.006).abs() < 1e-3);
    assert!(form.still().friction.contains(&0.5));
    let posed = costume::Costume {
        body: BodyChoice { pose: [("pelvis".to_owned(), [0.0, 0.0, 90.0])].into(), ..costume.body.clone() },
        ..costume.clone()
    };
    let turned = ContactBody::of(&posed, plain.figure.clone(), &BTreeSet::new()).expect("a form");
    assert!(turned.grid.distance(glam::Vec3::new(-0.40, 0.95, 0.0)).abs() < 0.05, "the stand-in goes with its bone");
    // a joint beyond its limit is refused by name
    let wrong = costume::Costume {
        body: BodyChoice { pose: [("forearm-left".to_owned(), [170.0, 0.0, 0.0])].into(), ..BodyChoice::size("woman-38") },
        ..tabard(36.0)
    };
    assert!(ContactBody::of(&wrong, plain.figure.clone(), &BTreeSet::new()).err().is_some_and(|e| e.to_string().contains("forearm-left")));
}

#[test]
fn the_tabard_comes_to_rest_sewn_on_both_shoulders_without_crossings() {
    let (assembly, drape) = &*RESTING;
    let report = drape_report(assembly, drape, 1.0);
    assert!(report.is_good(), "{report:?}");
    assert!(report.seams.len() == 4 && report.seams.iter().all(|s| s.max_gap_mm < 1.0), "{:?}", report.seams);
    assert!(report.deepest_penetration_mm < 0.5 && report.strain.mean < 0.01, "{report:?}");
    // the highest cloth lies over each shoulder, above the chest
    let at = drape.positions();
    let top = |side: f32| at.iter().filter(|p| p[0] * side > 0.06 && p[0] * side < 0.2).map(|p| p[1]).fold(f32::MIN, f32::max);
    let chest = assembly.form.posed.station("chest-front").expect("a station").centre.y as f32;
    assert!(top(1.0) > chest + 0.05 && top(-1.0) > chest + 0.05, "{} {} over {chest}", top(1.0), top(-1.0));
    assert!((top(1.0) - top(-1.0)).abs() < 0.02);
    // the front panel is in front
    let mean = |k: usize| {
        let range = &assembly.pieces[k];
        let own = &at[range.first_vertex..range.first_vertex + range.flat.points.len()];
        own.iter().map(|p| p[2]).sum::<f32>() / own.len() as f32
    };
    assert!(mean(0) > 0.03 && mean(1) < -0.03, "{} {}", mean(0), mean(1));
}

#[test]
fn a_second_run_is_equal_bit_for_bit() {
    let (assembly, drape) = &*RESTING;
    let again = rested(&mut assembly.clone());
    assert_eq!(drape.positions(), again.positions());
    assert_eq!(drape.time().to_bits(), again.time().to_bits());
}

#[test]
fn a_drape_is_carried_over_to_a_finer_cut_and_a_changed_outline() {
    let (assembly, drape) = &*RESTING;
    let at = drape.positions();
    let same = carry(assembly, &at, assembly).expect("the same body");
    assert!(same.iter().zip(&at).all(|(a, b)| distance(*a, *b) < 1e-5));
    let finer = assemble(&tabard(18.0), &WOMAN).expect("it hangs");
    let carried = carry(assembly, &at, &finer).expect("the same body");
    // every carried vertex lies on the old surface: no farther from an old vertex than the long side of a triangle
    let far = carried.iter().map(|p| at.iter().map(|q| distance(*p, *q)).fold(f64::MAX, f64::min)).fold(0.0, f64::max);
    assert!(far < 0.036, "{far} m off the old cloth");
    // a new triangle cuts the sharpest fold short by half its side, a finer one by less
    let error = carry_error(assembly, &at, &finer, &carried);
    assert!(error > 0.0 && error < 9e-3, "{error} m");
    let finest = assemble(&tabard(12.0), &WOMAN).expect("it hangs");
    let carried = carry(assembly, &at, &finest).expect("the same body");
    let less = carry_error(assembly, &at, &finest, &carried);
    assert!(less < error, "{less} m at 12 mm, {error} m at 18 mm");
    assert!(carry_error(assembly, &at, assembly, &same) < 1e-6);
    let front = &assembly.costume.pieces[0];
    let corner = front.drawing().expect("drawn").nodes[0];
    let longer = Edit::MoveNode { piece: front.id, node: corner.id, to: Point::new(corner.at.x, corner.at.y - 60.0) };
    let changed = assemble(&apply(&tabard(36.0), &longer).expect("a longer front"), &WOMAN).expect("it hangs");
    let moved = carry(assembly, &at, &changed).expect("the same body");
    assert!(moved.iter().flatten().all(|v| v.is_finite() && v.abs() < 3.0));
    let mut drape = Drape::new(cloth::Scene { positions: moved, ..changed.scene }).expect("a scene");
    for _ in 0..40 {
        drape.step();
    }
    assert!(drape.positions().iter().flatten().all(|v| v.is_finite() && v.abs() < 3.0));
}

#[test]
fn another_body_hangs_the_cloth_afresh() {
    let (assembly, drape) = &*RESTING;
    let mut costume = tabard(36.0);
    costume.body.preset = "man-50".into();
    let other = assemble(&costume, &form("man-50")).expect("it hangs");
    assert!(carry(assembly, &drape.positions(), &other).is_none());
}

#[test]
fn what_cannot_hang_names_the_piece_and_the_mend() {
    let refusal = |change: &dyn Fn(&mut Piece)| {
        let mut costume = tabard(40.0);
        change(&mut costume.pieces[1]);
        assemble(&costume, &WOMAN).map(|_| ()).expect_err("it must be refused").to_string()
    };
    assert_eq!(refusal(&|p| p.placement = None), "Back panel: has no station on the body. Choose a station for it, or park it.");
    let unknown = refusal(&|p| p.placement.as_mut().expect("placed").station = "tail".into());
    assert!(unknown.contains("Back panel") && unknown.contains("no station `tail`"), "{unknown}");
    let wide = refusal(&|p| p.drawing_mut().expect("drawn").nodes.iter_mut().for_each(|n| n.at.x *= 20.0));
    assert!(wide.contains("Back panel"), "{wide}");
    let mut nobody = tabard(40.0);
    nobody.body.preset = "giant-99".into();
    let found = workroom::diagnostics(&nobody);
    assert!(found.iter().any(|f| f.reason.contains("giant-99") && f.remedy.contains("woman-38")), "{found:?}");
    assert!(workroom::figure(&BodyChoice::size("giant-99")).is_err());
    let edit = Edit::ChooseBody { body: nobody.body };
    assert!(workroom::apply(&tabard(40.0), &edit).is_err());
}

#[test]
fn a_parked_piece_stays_out_and_its_seams_stay_open() {
    let mut costume = tabard(40.0);
    costume.pieces[1].parked = true;
    let assembly = assemble(&costume, &WOMAN).expect("it hangs");
    assert_eq!((assembly.pieces.len(), assembly.scene.pairs.len()), (1, 0));
}

#[test]
fn pieces_at_one_station_hang_in_layers() {
    let mut costume = tabard(40.0);
    let copy = Edit::CopyPiece { piece: costume.pieces[0].id, at: Point::new(0.0, 2000.0) };
    costume = apply(&costume, &copy).expect("a copy");
    costume.pieces[2].placement = costume.pieces[0].placement.clone();
    let assembly = assemble(&costume, &WOMAN).expect("it hangs");
    let depth = |k: usize| {
        let r = &assembly.pieces[k];
        assembly.scene.positions[r.first_vertex..r.first_vertex + r.flat.points.len()].iter().map(|p| p[2]).fold(f32::MIN, f32::max)
    };
    assert!(depth(2) > depth(0) + 0.005, "{} over {}", depth(2), depth(0));
    assert!(check(&assembly, &Drape::new(assembly.scene.clone()).expect("a scene")).crossings.is_empty());
}

fn delivered(kind: FileKind, welded: bool, layout: Layout, with_body: bool) -> Vec<(String, Vec<u8>)> {
    let (assembly, drape) = &*RESTING;
    let options = DeliverOptions { kind, welded, layout, with_body, ..DeliverOptions::default() };
    deliver(assembly, &drape.positions(), drape.fused_with(), &options, &Prints::default(), "tabard").expect("a delivery").files
}

fn read_obj(files: &[(String, Vec<u8>)]) -> Vec<tobj::Model> {
    let options = tobj::LoadOptions { triangulate: false, single_index: false, ..Default::default() };
    let (models, materials) = tobj::load_obj_buf(&mut files[0].1.as_slice(), &options, |name| {
        assert_eq!(name.to_str(), Some(files[1].0.as_str()));
        tobj::load_mtl_buf(&mut files[1].1.as_slice())
    })
    .expect("readable");
    assert!(!materials.expect("materials").is_empty());
    models
}

/// Edges that belong to one triangle only, by the face lines of the file.
fn open_edges(files: &[(String, Vec<u8>)]) -> usize {
    let text = std::str::from_utf8(&files[0].1).expect("text");
    let mut count: HashMap<[u32; 2], usize> = HashMap::new();
    for line in text.lines().filter_map(|l| l.strip_prefix("f ")) {
        let t: Vec<u32> = line.split(' ').map(|c| c.split('/').next().and_then(|v| v.parse().ok()).expect("a vertex")).collect();
        assert_eq!(t.len(), 3);
        for k in 0..3 {
            *count.entry([t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3])]).or_default() += 1;
        }
    }
    assert!(count.values().all(|n| *n <= 2), "an edge of more than two triangles");
    count.values().filter(|n| **n == 1).count()
}

/// Faces of four sides: nearly all, nearly square, sewn as before; with thickness a closed body of faces with four sides.
fn four_sided_faces_follow_the_grain_and_meet_at_seams(assembly: &Assembly, resting: &Drape) {
    let (positions, fused) = (resting.positions(), resting.fused_with());
    let options = DeliverOptions { kind: FileKind::Obj, welded: true, faces: Faces::Quads, ..DeliverOptions::default() };
    let made = |options: &DeliverOptions| {
        deliver(assembly, &positions, fused, options, &Prints::default(), "tabard").expect("delivered").files.remove(0).1
    };
    let text = String::from_utf8(made(&options)).expect("text");
    let faces: Vec<Vec<usize>> = text
        .lines()
        .filter_map(|l| l.strip_prefix("f "))
        .map(|l| l.split(' ').map(|w| w.split('/').next().and_then(|v| v.parse::<usize>().ok()).expect("a corner") - 1).collect())
        .collect();
    let four: Vec<&Vec<usize>> = faces.iter().filter(|f| f.len() == 4).collect();
    assert!(four.len() as f64 >= 0.95 * faces.len() as f64, "{} of {}", four.len(), faces.len());
    let read = formats::read_figure("tabard.obj", text.as_bytes()).expect("it is read");
    let whole = fit::mesh_report(&read.positions, &read.triangles);
    assert_eq!((whole.parts.len(), whole.shared_edges, whole.turned_edges, whole.touching.len(), whole.flat_triangles), (1, 0, 0, 0, 0));
    let plain = fit::mesh_report(&positions, &assembly.scene.triangles.iter().map(|t| t.map(|v| fused[v as usize])).collect::<Vec<_>>());
    assert_eq!(whole.open_edges, plain.open_edges, "edges and seams keep their vertices");
    let places: Vec<glam::Vec3> = text
        .lines()
        .filter_map(|l| l.strip_prefix("v "))
        .map(|l| glam::Vec3::from_slice(&l.split(' ').map(|w| w.parse().expect("a number")).collect::<Vec<f32>>()))
        .collect();
    let at = |v: usize| places[v];
    let corners = four.iter().flat_map(|f| (0..4).map(move |k| [f[(k + 3) % 4], f[k], f[(k + 1) % 4]]));
    let angles: Vec<f32> = corners.map(|[a, b, c]| (at(a) - at(b)).angle_between(at(c) - at(b)).to_degrees()).collect();
    let square = angles.iter().filter(|a| (45.0..=135.0).contains(*a)).count();
    assert!(square as f64 >= 0.99 * angles.len() as f64, "{square} of {} corners", angles.len());

    let thick = DeliverOptions { thickness: 2.0, ..options.clone() };
    let read = formats::read_figure("tabard.obj", &made(&thick)).expect("it is read");
    let closed = fit::mesh_report(&read.positions, &read.triangles);
    assert_eq!((closed.open_edges, closed.turned_edges, closed.shared_edges), (0, 0, 0));
    let told = delivery_preview(assembly, &positions, fused, &thick, &Prints::default(), "tabard").expect("it is told");
    assert_eq!((told.triangles, told.vertices), (read.triangles.len(), read.positions.len()));
    assert!(2 * told.quads as u64 * 100 >= 95 * told.triangles as u64);
    let both = DeliverOptions { smooth: 1, ..options };
    assert!(deliver(assembly, &positions, fused, &both, &Prints::default(), "tabard").is_err_and(|r| r.remedy.contains("triangles")));
}

/// A print is drawn into the texture of a layout where the cloth has it, and repeats on coordinates of its own elsewhere.
fn prints_lie_where_the_cloth_was_printed(assembly: &Assembly, resting: &Drape) {
    let mut assembly = assembly.clone();
    let print = Print { turn: 20.0, half_drop: true, height: Some(90.0), ..Print::of_motif("floats", 120.0, "#ffffff") };
    assembly.costume.fabrics.iter_mut().for_each(|f| (f.colour, f.print) = ("#102030".into(), Some(print.clone())));
    let moved = PrintPlace { at: Point::new(31.0, -17.0), turn: 5.0 };
    assembly.costume.pieces[0].print_at = Some(moved);
    let prints = Prints::of(&assembly.costume, &PictureFiles::new()).expect("prints");
    let (positions, fused) = (resting.positions(), resting.fused_with());
    let made = |options: &DeliverOptions| deliver(&assembly, &positions, fused, options, &prints, "tabard").expect("delivered").files;
    let tiled = DeliverOptions { kind: FileKind::Obj, layout: Layout::Tile, texture: 1024, welded: true, ..DeliverOptions::default() };
    let files = made(&tiled);
    let told = delivery_preview(&assembly, &positions, fused, &tiled, &prints, "tabard").expect("it is told");
    let names: Vec<&str> = files.iter().map(|(n, _)| n.as_str()).collect();
    assert_eq!((names.as_slice(), told.files.len()), (["tabard.obj", "tabard.mtl", "cloth-1.png"].as_slice(), 3));
    assert!(String::from_utf8_lossy(&files[1].1).contains("map_Kd cloth-1.png"));
    let read = formats::read_figure("tabard.obj", &files[0].1).expect("it is read");
    let drawn = formats::scan_colours(&files[2].1).expect("a picture");
    // by formula: the middle of a triangle on its piece, turned to grain and print, within one of the four discs of two columns
    let inked = |range: &workroom::PieceRange, at: [f64; 2]| {
        let piece = assembly.costume.piece(range.piece).expect("a piece");
        let place = piece.print_at.unwrap_or_default();
        let turn = (piece.grain - 90.0 + 20.0 + place.turn).to_radians();
        let (x, y) = (at[0] - place.at.x, at[1] - place.at.y);
        let (u, v) = ((x * turn.cos() + y * turn.sin()) / 120.0, (y * turn.cos() - x * turn.sin()) / 90.0);
        let (u, v) = (u, if u.floor() as i64 % 2 == 0 { v } else { v + 0.5 });
        let near = |a: f64, b: f64| (a - b) - (a - b).round();
        let out = [(0.25, 0.25, 0.13), (0.75, 0.75, 0.13), (0.75, 0.25, 0.05), (0.25, 0.75, 0.05)];
        out.iter().map(|(x, y, r)| near(u, *x).hypot(near(v, *y)) - r).fold(f64::MAX, f64::min)
    };
    let (mut seen, mut wrong) = (0, 0);
    for range in &assembly.pieces {
        for (t, corners) in range.flat.triangles.iter().enumerate() {
            let mean = [0, 1].map(|k| corners.iter().map(|v| range.flat.points[*v as usize][k]).sum::<f64>() / 3.0);
            let off = inked(range, mean);
            let uv = read.uv_triangles[range.first_triangle + t].map(|v| read.uvs[v as usize]);
            let [u, v] = [0, 1].map(|k| uv.iter().map(|p| p[k]).sum::<f32>() / 3.0);
            let pixel = drawn.pixels[((1.0 - v) * 1024.0) as usize * 1024 + (u * 1024.0) as usize];
            // a pixel is 1 to 2 mm wide
            if off.abs() > 0.03 {
                seen += 1;
                wrong += usize::from((pixel[0] > 130) != (off < 0.0));
            }
        }
    }
    assert!(seen > read.triangles.len() / 2 && wrong == 0, "{wrong} of {seen}");
    let usd = made(&DeliverOptions { kind: FileKind::Usda, ..DeliverOptions::default() });
    let text = String::from_utf8_lossy(&usd[0].1).into_owned();
    assert!(usd.len() == 2 && text.contains(&format!("@./{}@", usd[1].0)) && text.contains("primvars:print"), "{:?}", usd[1].0);
    let plain = made(&DeliverOptions { kind: FileKind::Obj, ..DeliverOptions::default() });
    assert!(plain.len() == 2, "there is no room for a print where the layout is in metres");
    let large = DeliverOptions { layout: Layout::PieceTiles, texture: 16384, ..tiled };
    assert!(deliver(&assembly, &positions, fused, &large, &prints, "tabard").is_err_and(|r| r.remedy.contains("smaller texture")));
}

/// In one tile, in one for each fabric or piece: every piece to one scale, with its grain upright, apart by the margin.
fn packed_layouts_are_even_and_nothing_lies_on_anything(assembly: &Assembly, resting: &Drape) {
    let (positions, fused) = (resting.positions(), resting.fused_with());
    for (layout, turn, tiles) in
        [(Layout::Tile, false, 1), (Layout::Tile, true, 1), (Layout::FabricTiles, false, 1), (Layout::PieceTiles, true, 2)]
    {
        let options = DeliverOptions { kind: FileKind::Obj, welded: true, layout, turn, texture: 1024, ..DeliverOptions::default() };
        let files = deliver(assembly, &positions, fused, &options, &Prints::default(), "tabard").expect("delivered");
        let read = formats::read_figure("tabard.obj", &files.files[0].1).expect("it is read");
        let flat = fit::uv_report(&read.positions, &read.triangles, &read.uvs, &read.uv_triangles);
        assert_eq!((flat.islands, flat.overlapping.len(), flat.mirrored, flat.flat_triangles), (2, 0, 0, 0), "{layout:?}");
        assert!(read.uvs.iter().all(|[u, v]| (0.0..tiles as f32).contains(u) && (0.0..1.0).contains(v)), "{layout:?}");
        // against the cloth as it was cut: one scale for all
        let cut: Vec<[f32; 3]> = assembly.scene.flat.iter().map(|p| [p[0], p[1], 0.0]).collect();
        let even = fit::uv_report(&cut, &assembly.scene.triangles, &read.uvs, &read.uv_triangles);
        assert!(even.density[2] / even.density[0] < 1.01 && even.distortion < 1.01, "{layout:?}: {even:?}");
        let told = delivery_preview(assembly, &positions, fused, &options, &Prints::default(), "tabard").expect("it is told");
        let tiled = told.tiles.expect("tiles");
        assert_eq!((tiled.tiles, told.vertices, told.triangles), (tiles, read.positions.len(), read.triangles.len()));
        assert!(
            (tiled.texels_per_cm / (1024.0 * even.density[1] / 100.0) - 1.0).abs() < 0.01 && tiled.used > 0.3 && tiled.used < 1.0,
            "{tiled:?}"
        );
    }
    // levels of detail: half as fine each, welded and laid out as before
    let levels = DeliverOptions { kind: FileKind::Obj, welded: true, levels: 3, ..DeliverOptions::default() };
    let files = deliver(assembly, &positions, fused, &levels, &Prints::default(), "tabard").expect("delivered").files;
    let told = delivery_preview(assembly, &positions, fused, &levels, &Prints::default(), "tabard").expect("it is told");
    assert_eq!(told.files, files.iter().map(|(name, _)| name.clone()).collect::<Vec<_>>());
    let read: Vec<_> =
        files.iter().filter(|(n, _)| n.ends_with("obj")).map(|(n, b)| formats::read_figure(n, b).expect("it is read")).collect();
    let counts: Vec<usize> = read.iter().map(|m| m.triangles.len()).collect();
    assert!(counts.len() == 4 && counts.windows(2).all(|w| w[1] <= w[0].div_ceil(2) + 1), "{counts:?}");
    for level in &read {
        let (whole, flat) = (
            fit::mesh_report(&level.positions, &level.triangles),
            fit::uv_report(&level.positions, &level.triangles, &level.uvs, &level.uv_triangles),
        );
        assert_eq!((whole.parts.len(), whole.shared_edges, whole.turned_edges, whole.touching.len()), (1, 0, 0, 0));
        assert_eq!((flat.mirrored, flat.flat_triangles), (0, 0));
    }
    let wide = DeliverOptions { layout: Layout::Tile, texture: 256, margin: 100, ..DeliverOptions::default() };
    assert!(deliver(assembly, &positions, fused, &wide, &Prints::default(), "tabard").is_err_and(|r| r.remedy.contains("sixteenth")));
    let usd = DeliverOptions { kind: FileKind::Usdz, welded: true, unit: Unit::Cm, ..DeliverOptions::default() };
    let archive = deliver(assembly, &positions, fused, &usd, &Prints::default(), "tabard").expect("delivered").files.remove(0);
    assert!(archive.0 == "tabard.usdz" && archive.1.starts_with(b"PK") && archive.1.windows(16).any(|w| w == b"metersPerUnit = "));
}

#[test]
fn welded_seams_leave_only_the_hems_open() {
    let (assembly, _) = &*RESTING;
    let outline: usize = assembly.pieces.iter().map(|p| p.flat.boundary).sum();
    // pairs count vertices; along a seam of n pairs there are n - 1 edges on either side
    let sewn: usize = (0..4).map(|s| assembly.scene.pairs.iter().filter(|p| p.seam == s).count() - 1).sum();
    assert_eq!(open_edges(&delivered(FileKind::Obj, true, Layout::Metres, false)), outline - 2 * sewn);
    assert_eq!(open_edges(&delivered(FileKind::Obj, false, Layout::Metres, false)), outline);
}

#[test]
fn the_layout_follows_the_flat_pieces_in_metres_or_in_the_unit_square() {
    for (layout, scale) in [(Layout::Metres, Some(1.0)), (Layout::Unit, None)] {
        let models = read_obj(&delivered(FileKind::Obj, true, layout, false));
        let mut ratios = Vec::new();
        for (model, range) in models.iter().zip(&RESTING.0.pieces) {
            let uv = |i: u32| [model.mesh.texcoords[2 * i as usize], model.mesh.texcoords[2 * i as usize + 1]];
            for (t, flat) in model.mesh.texcoord_indices.chunks(3).zip(&range.flat.triangles) {
                let (a, b) = (uv(t[0]), uv(t[1]));
                let (p, q) = (range.flat.points[flat[0] as usize], range.flat.points[flat[1] as usize]);
                ratios.push(f64::from((b[0] - a[0]).hypot(b[1] - a[1])) / ((q[0] - p[0]).hypot(q[1] - p[1]) / 1000.0));
            }
            let inside = |v: &f32| *v >= -1e-6 && (layout == Layout::Metres || *v <= 1.0 + 1e-6);
            assert!(model.mesh.texcoords.iter().all(inside));
        }
        let expected = scale.unwrap_or(ratios[0]);
        assert!(ratios.iter().all(|r| (r / expected - 1.0).abs() < 1e-3), "one scale for all pieces");
    }
}

#[test]
fn a_glb_with_the_body_is_valid_and_faces_outwards() {
    let files = delivered(FileKind::Glb, true, Layout::Unit, true);
    let (document, buffers, _) = gltf::import_slice(&files[0].1).expect("valid glTF");
    assert_eq!(document.meshes().count(), 2);
    let mut volume = 0.0;
    for mesh in document.meshes() {
        for primitive in mesh.primitives() {
            let reader = primitive.reader(|b| Some(&buffers[b.index()]));
            let at: Vec<[f32; 3]> = reader.read_positions().expect("positions").collect();
            let normals: Vec<[f32; 3]> = reader.read_normals().expect("normals").collect();
            assert!(at.iter().flatten().all(|v| v.is_finite()) && normals.len() == at.len());
            let indices: Vec<u32> = reader.read_indices().expect("indices").into_u32().collect();
            if mesh.index() == 1 {
                volume += indices
                    .chunks(3)
                    .map(|t| {
                        let [a, b, c] = [at[t[0] as usize], at[t[1] as usize], at[t[2] as usize]].map(|p| p.map(f64::from));
                        (a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])) / 6.0
                    })
                    .sum::<f64>();
            }
        }
    }
    // a woman of 168 cm displaces 50 to 70 litres
    assert!((0.045..0.075).contains(&volume), "{volume} m3");
}

#[test]
fn a_drape_of_another_pattern_is_not_delivered() {
    let (assembly, drape) = &*RESTING;
    let options =
        DeliverOptions { kind: FileKind::Glb, welded: true, layout: Layout::Metres, with_body: false, ..DeliverOptions::default() };
    let short = &drape.positions()[1..];
    assert!(deliver(assembly, short, drape.fused_with(), &options, &Prints::default(), "x").is_err());
    let mut broken = drape.positions();
    broken[3][1] = f32::NAN;
    assert!(deliver(assembly, &broken, drape.fused_with(), &options, &Prints::default(), "x").is_err());
}

#[test]
fn fabrics_of_one_name_stay_two_materials() {
    let mut costume = tabard(44.0);
    let first = costume.fabrics[0].clone();
    let add = Edit::AddFabric { name: first.name.clone(), swatch: "denim".into(), colour: "#203040".into() };
    costume = apply(&costume, &add).expect("a second fabric");
    let set = Edit::SetFabric { piece: costume.pieces[1].id, fabric: costume.fabrics[1].id };
    let assembly = assemble(&apply(&costume, &set).expect("on the back"), &WOMAN).expect("it hangs");
    let options =
        DeliverOptions { kind: FileKind::Obj, welded: true, layout: Layout::Metres, with_body: false, ..DeliverOptions::default() };
    let fused: Vec<u32> = (0..assembly.scene.positions.len() as u32).collect();
    let files = deliver(&assembly, &assembly.scene.positions, &fused, &options, &Prints::default(), "two").expect("a delivery").files;
    let materials = String::from_utf8(files[1].1.clone()).expect("text");
    assert_eq!(materials.matches("newmtl").count(), 2, "{materials}");
    let models = read_obj(&files);
    assert!(models[0].mesh.material_id.is_some() && models[0].mesh.material_id != models[1].mesh.material_id);
}

#[test]
fn a_moving_body_knows_how_fast_its_bones_go_and_cloth_stays_outside() {
    let (assembly, rested) = &*RESTING;
    let pose = body::poses().into_iter().find(|p| p.key == "arms-down").expect("a pose").pose;
    // a third of the way, which takes a third of the frames
    let bones = pose.bones.into_iter().map(|(bone, angles)| (bone, angles.map(|a| a / 3.0))).collect();
    let choice = BodyChoice { pose: bones, ..BodyChoice::size("woman-38") };
    let figure = WOMAN.figure.clone();
    let mut motion =
        workroom::PoseMotion::new(figure.clone(), &BodyChoice::size("woman-38"), &choice, WOMAN.out.clone(), 0).expect("a motion");
    let skeleton = &figure.rig.skeleton;
    let (hand, still) = (skeleton.index("forearm-left").expect("a bone"), skeleton.index("spine-1").expect("a bone"));
    let to = skeleton.rotations(&workroom::pose(&choice));
    let neutral = vec![glam::DQuat::IDENTITY; skeleton.bones.len()];
    let mut drape = Drape::new(cloth::Scene { positions: rested.positions(), ..assembly.scene.clone() }).expect("a scene");
    let seconds = workroom::STEPS_A_FRAME as f64 / 120.0;
    let (mut frames, mut before) = (0, motion.share());
    while let Some(body) = motion.advance(seconds) {
        let placed = |share: f64| figure.stand(&body::blend(&neutral, &to, share)).placed[hand];
        let (then, now) = (placed(before), placed(motion.share()));
        let joint = skeleton.bones[hand].joint + glam::DVec3::new(0.1, -0.1, 0.0);
        let way = (now.transform_point3(joint) - then.transform_point3(joint)) / seconds;
        let told = body.motion[hand + 1];
        let at = now.transform_point3(joint).as_vec3();
        let told = glam::Vec3::from(told.linear) + glam::Vec3::from(told.angular).cross(at);
        assert!((told - way.as_vec3()).length() < 0.02 + 0.05 * way.length() as f32, "{told} and {way}");
        assert!(glam::Vec3::from(body.motion[still + 1].linear).length() < 0.02);
        before = motion.share();
        drape.set_body(body);
        (0..workroom::STEPS_A_FRAME).for_each(|_| assert!(drape.step().time > 0.0));
        frames += 1;
    }
    assert_eq!(frames, motion.frames());
    assert!((motion.share() - 1.0).abs() < 1e-12);
    let turned = Costume { body: choice, ..tabard(36.0) };
    let form = ContactBody::of(&turned, figure, &BTreeSet::new()).expect("a form");
    drape.set_body(form.still());
    (0..60).for_each(|_| assert!(drape.step().time > 0.0));
    let deepest = drape.positions().iter().map(|p| form.grid.distance(glam::Vec3::from(*p))).fold(f32::MAX, f32::min);
    assert!(deepest > -1e-3, "{deepest} m inside");
}

#[test]
fn a_tabard_goes_along_into_a_stride_and_never_crosses() {
    let (assembly, resting) = &*RESTING;
    let stride = body::poses().into_iter().find(|p| p.key == "stride").expect("a pose").pose.bones;
    let mut drape = Drape::new(cloth::Scene { positions: resting.positions(), ..assembly.scene.clone() }).expect("a scene");
    let figure = WOMAN.figure.clone();
    let (before, choice) = (BodyChoice::size("woman-38"), BodyChoice { pose: stride, ..BodyChoice::size("woman-38") });
    let mut motion = workroom::PoseMotion::new(figure, &before, &choice, WOMAN.out.clone(), 0).expect("a motion");
    while let Some(body) = motion.advance(workroom::STEPS_A_FRAME as f64 / 120.0) {
        let grid = body.grid.clone();
        drape.set_body(body);
        for _ in 0..workroom::STEPS_A_FRAME {
            drape.step();
            let at = drape.positions();
            assert!(
                fit::cloth_cloth(&Surface::sewn(&at, &assembly.scene.triangles, drape.fused_with())).is_empty(),
                "after {:.2} s",
                drape.time()
            );
            let deepest = at.iter().map(|p| grid.distance(glam::Vec3::from(*p))).fold(f32::MAX, f32::min);
            assert!(deepest > -1e-3, "{deepest} m inside after {:.2} s", drape.time());
        }
    }
    let worst = drape.strain().into_iter().fold(0.0, f32::max);
    assert!(worst < 0.25, "stretched by {:.0} %", 100.0 * worst);
}

/// Volume within a closed surface, and how often an edge is not walked once each way.
fn enclosed(mesh: &formats::ImportedMesh) -> (f64, usize) {
    let at = |v: u32| glam::DVec3::from(mesh.positions[v as usize].map(f64::from));
    let mut ways: HashMap<(u32, u32), i32> = HashMap::new();
    let mut volume = 0.0;
    for t in &mesh.triangles {
        let [a, b, c] = t.map(at);
        volume += a.dot(b.cross(c)) / 6.0;
        (0..3).for_each(|k| *ways.entry((t[k], t[(k + 1) % 3])).or_default() += 1);
    }
    let wrong = ways.iter().filter(|((a, b), n)| **n != 1 || ways.get(&(*b, *a)) != Some(&1)).count();
    (volume, wrong)
}

#[test]
fn thick_cloth_is_closed_and_files_in_other_units_and_axes_hold_the_same_garment() {
    let (assembly, resting) = &*RESTING;
    let made = |options: DeliverOptions| {
        let made = deliver(assembly, &resting.positions(), resting.fused_with(), &options, &Prints::default(), "tabard").expect("made");
        let (name, bytes) = &made.files[0];
        formats::read_figure(name, bytes).expect("it is read back")
    };
    let plain = DeliverOptions { kind: FileKind::Ply, welded: true, ..DeliverOptions::default() };
    let single = made(plain.clone());
    let area_of = |mesh: &formats::ImportedMesh| -> f64 {
        let one = |t: &[u32; 3]| {
            let [a, b, c] = t.map(|v| glam::DVec3::from(mesh.positions[v as usize].map(f64::from)));
            0.5 * (b - a).cross(c - a).length()
        };
        mesh.triangles.iter().map(one).sum()
    };
    let area = area_of(&single);
    for side in [ThickSide::Outwards, ThickSide::Inwards, ThickSide::Both] {
        let thick = made(DeliverOptions { thickness: 1.5, side, ..plain.clone() });
        let (volume, wrong) = enclosed(&thick);
        assert_eq!((wrong, thick.positions.len()), (0, 2 * single.positions.len()), "{side:?}: a closed surface");
        assert!((volume / (area * 0.0015) - 1.0).abs() < 0.03, "{side:?}: {volume} m³ for {} m³", area * 0.0015);
    }
    // four times as fine it is a little smaller, as folds are rounded, and its thick surface is closed too
    let fine = made(DeliverOptions { smooth: 1, ..plain.clone() });
    assert_eq!(fine.triangles.len(), 4 * single.triangles.len());
    assert!((0.9..1.01).contains(&(area_of(&fine) / area)), "{} of {area}", area_of(&fine));
    let (volume, wrong) = enclosed(&made(DeliverOptions { smooth: 1, thickness: 1.5, ..plain.clone() }));
    assert!(wrong == 0 && (volume / (area_of(&fine) * 0.0015) - 1.0).abs() < 0.03, "{volume}");
    let refused = deliver(
        assembly,
        &resting.positions(),
        resting.fused_with(),
        &DeliverOptions { smooth: 9, ..plain.clone() },
        &Prints::default(),
        "tabard",
    );
    assert!(refused.is_err_and(|r| r.reason.contains("smooth 9 times")));
    // centimetres with z up: y of the file is the back
    let turned = made(DeliverOptions { unit: Unit::Cm, z_up: true, ..plain.clone() });
    for (a, b) in single.positions.iter().zip(&turned.positions) {
        assert!((b[0] - 100.0 * a[0]).abs() < 1e-3 && (b[1] + 100.0 * a[2]).abs() < 1e-3 && (b[2] - 100.0 * a[1]).abs() < 1e-3);
    }
    packed_layouts_are_even_and_nothing_lies_on_anything(assembly, resting);
    prints_lie_where_the_cloth_was_printed(assembly, resting);
    four_sided_faces_follow_the_grain_and_meet_at_seams(assembly, resting);
    let refused = deliver(
        assembly,
        &resting.positions(),
        resting.fused_with(),
        &DeliverOptions { thickness: f64::NAN, ..plain },
        &Prints::default(),
        "tabard",
    );
    assert!(refused.is_err_and(|r| r.reason.contains("thickness")));
}
