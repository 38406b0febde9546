//! Layers, held pieces, pieces hung again, and edges with tapes and stays, on the demo tabard. Coarse, so that it is quick.

mod common;

use cloth::{Drape, Phase};
use common::to_rest;
use costume::{Anchor, Costume, Edit, Fineness, Finish, Point, Purpose, apply, resolve};
use fit::Surface;
use std::ops::Range;
use std::sync::LazyLock;
use workroom::{Assembly, ContactBody, Fitting, KeptMesh, assemble, check, meshes};

static WOMAN: LazyLock<ContactBody> = LazyLock::new(|| common::form("woman-38"));

fn tabard() -> Costume {
    common::tabard(36.0)
}

fn done(costume: &Costume, edit: Edit) -> Costume {
    apply(costume, &edit).expect("the edit is accepted")
}

fn vertices(assembly: &Assembly, k: usize) -> Range<usize> {
    assembly.pieces[k].vertices()
}

/// The tabard with a copy of its front panel as an inner layer, drawn after it.
fn with_lining() -> Costume {
    let costume = tabard();
    let copied = done(&costume, Edit::CopyPiece { piece: costume.pieces[0].id, at: Point::new(0.0, 2000.0) });
    let lining = copied.pieces[2].id;
    let mut placed = done(&copied, Edit::Place { piece: lining, placement: costume.pieces[0].placement.clone() });
    for k in 0..2 {
        placed = done(&placed, Edit::SetWear { piece: costume.pieces[k].id, wear: 2 });
    }
    placed
}

#[test]
fn wear_order_decides_who_hangs_inside_whatever_was_drawn_first() {
    let assembly = assemble(&with_lining(), &WOMAN).expect("it hangs");
    assert_eq!(assembly.scene.construction.wear, vec![1, 2, 2]);
    let depth = |k: usize| assembly.scene.positions[vertices(&assembly, k)].iter().map(|p| p[2]).fold(f32::MIN, f32::max);
    let (lining, front) = (0, 1);
    assert_eq!(assembly.pieces[front].piece, tabard().pieces[0].id);
    assert!(depth(front) > depth(lining) + 0.005, "{} over {}", depth(front), depth(lining));
}

#[test]
fn an_outer_piece_at_another_station_hangs_outside_of_the_inner_ones() {
    let costume = tabard();
    let front = &costume.pieces[0];
    let copied = done(&costume, Edit::CopyPiece { piece: front.id, at: Point::new(0.0, 2000.0) });
    let over = copied.pieces[2].id;
    for station in ["waist-front", "hips-front"] {
        let placement =
            Some(costume::Placement { station: station.into(), shift: Point::new(0.0, -100.0), turn: 0.0, ..Default::default() });
        let placed = done(&done(&copied, Edit::Place { piece: over, placement }), Edit::SetWear { piece: over, wear: 2 });
        let assembly = assemble(&placed, &WOMAN).expect("it hangs");
        let at = &assembly.scene.positions;
        let k = assembly.pieces.iter().position(|p| p.piece == over).expect("the outer piece");
        let inner = assembly.pieces.iter().position(|p| p.piece == front.id).expect("the front");
        // at the middle of the body, level by level
        for p in at[vertices(&assembly, k)].iter().filter(|p| p[0].abs() < 0.1) {
            let beneath = at[vertices(&assembly, inner)].iter().filter(|q| (q[0] - p[0]).abs() < 0.03 && (q[1] - p[1]).abs() < 0.03);
            assert!(beneath.clone().all(|q| q[2] < p[2] + 2e-3), "{station}: {p:?}");
        }
        assert!(fit::cloth_cloth(&Surface::open(at, &assembly.scene.triangles)).is_empty(), "{station}");
    }
}

#[test]
fn a_held_layer_stands_as_body_for_the_next_one() {
    let assembly = assemble(&tabard(), &WOMAN).expect("it hangs");
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    to_rest(&mut drape);
    let held = vertices(&assembly, 1);
    drape.freeze(held.clone(), true);
    let before = drape.positions();
    // a storm moves what is free only
    drape.set_conditions(cloth::Conditions { wind: [0.0, 0.0, 9.0], ..cloth::Conditions::default() });
    for _ in 0..40 {
        drape.step();
    }
    let after = drape.positions();
    let moved =
        |range: Range<usize>| range.map(|i| (0..3).map(|k| (after[i][k] - before[i][k]).abs()).fold(0.0, f32::max)).fold(0.0, f32::max);
    assert_eq!(moved(held.clone()), 0.0);
    assert!(moved(vertices(&assembly, 0)) > 0.01, "the free panel flies");
    assert!(check(&assembly, &drape).crossings.is_empty());
    drape.freeze(held.clone(), false);
    for _ in 0..20 {
        drape.step();
    }
    let later = drape.positions();
    assert!(held.into_iter().any(|i| later[i] != after[i]), "released cloth moves again");
}

#[test]
fn a_piece_hung_again_leaves_its_seams_and_is_sewn_anew() {
    let assembly = assemble(&tabard(), &WOMAN).expect("it hangs");
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    to_rest(&mut drape);
    let (front, back) = (vertices(&assembly, 0), vertices(&assembly, 1));
    let kept = drape.positions();
    drape.put(front.start, &assembly.scene.positions[front.clone()]);
    assert_eq!(drape.phase(), Phase::Closing);
    assert_eq!(drape.positions()[front.clone()], assembly.scene.positions[front.clone()]);
    assert_eq!(drape.positions()[back.clone()], kept[back], "the other panel stays as it is draped");
    to_rest(&mut drape);
    assert_eq!(drape.statistics().open_pairs, 0);
    assert!(check(&assembly, &drape).crossings.is_empty());
}

#[test]
fn finished_edges_reach_the_scene_as_tapes_and_stays() {
    let costume = tabard();
    let piece = &costume.pieces[0];
    let drawing = piece.drawing().expect("drawn");
    let finish = |costume: &Costume, corner: usize, finish| {
        let line = drawing.outline[corner];
        done(costume, Edit::FinishLine { piece: piece.id, line, from: 0.0, to: 1.0, finish: Some(finish) })
    };
    let elastic = finish(&costume, 0, Finish::Elastic { length: 60.0 });
    let made = finish(&finish(&elastic, 4, Finish::Stay), 2, Finish::StayTape);
    let pressed = done(&made, Edit::FoldSeam { seam: made.seams[0].id, fold: Some(120.0) });
    let assembly = assemble(&pressed, &WOMAN).expect("it hangs");
    let construction = &assembly.scene.construction;
    assert_eq!((construction.tapes.len(), construction.stays.len(), construction.folds.len()), (2, 1, 1));
    let length = |edges: &[[u32; 2]]| {
        let at = |v: u32| assembly.scene.flat[v as usize];
        edges.iter().map(|[a, b]| f64::from((at(*a)[0] - at(*b)[0]).hypot(at(*a)[1] - at(*b)[1]))).sum::<f64>() * 1000.0
    };
    let drafted = resolve(&costume).pieces[0].lines[0].length;
    let taped = length(&construction.tapes[0].edges);
    assert!((taped / drafted - 1.0).abs() < 0.01, "{taped:.1} mm under the tape, {drafted:.1} mm drafted");
    // the elastic draws the hem in
    let plain = {
        let mut drape = Drape::new(assemble(&costume, &WOMAN).expect("it hangs").scene).expect("a scene");
        to_rest(&mut drape);
        drape.positions()
    };
    let mut drape = Drape::new(assemble(&elastic, &WOMAN).expect("it hangs").scene).expect("a scene");
    to_rest(&mut drape);
    let drawn = drape.positions();
    let hem = assembly.pieces[0].line_vertices(0);
    let reach = |x: &[[f32; 3]]| {
        let at = |v: u32| glam::Vec3::from(x[v as usize]);
        hem.windows(2).map(|w| at(w[0]).distance(at(w[1]))).sum::<f32>()
    };
    assert!(reach(&drawn) < 0.85 * reach(&plain), "the hem is {:.3} m long, {:.3} m without elastic", reach(&drawn), reach(&plain));
}

#[test]
fn a_fold_line_inside_a_piece_is_cut_into_the_mesh_and_pressed_in_the_scene() {
    let costume = tabard();
    let front = &costume.pieces[0];
    let nodes = &front.drawing().expect("drawn").nodes;
    let points = [1, 4].map(|k| Anchor::Node(nodes[k].id)).to_vec();
    let folded = done(&costume, Edit::AddInside { piece: front.id, points, purpose: Purpose::Fold { angle: 120.0 } });
    let assembly = assemble(&folded, &WOMAN).expect("it hangs");
    let fold = &assembly.scene.construction.folds[0];
    assert!((fold.angle - 120f32.to_radians()).abs() < 1e-6);
    let range = assembly.pieces.iter().find(|p| p.piece == front.id).expect("the front");
    let ends = [0, fold.vertices.len() - 1].map(|k| range.flat.points[fold.vertices[k] as usize - range.first_vertex]);
    for (end, corner) in ends.iter().zip([1, 4]) {
        let at = nodes[corner].at;
        assert!((end[0] - at.x).hypot(end[1] - at.y) < 1e-6, "from corner to corner");
    }
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    to_rest(&mut drape);
    // the panel is creased along the line
    let bent = |assembly: &Assembly, drape: &Drape, line: &[u32]| {
        let x = drape.positions();
        let on = |v: &u32| line.contains(v);
        let normal = |t: &[u32; 3]| {
            let [a, b, c] = t.map(|v| glam::Vec3::from(x[v as usize]));
            (b - a).cross(c - a).normalize()
        };
        let sides = line.windows(2).filter_map(|w| {
            let both: Vec<_> =
                assembly.scene.triangles.iter().filter(|t| w.iter().all(|v| t.contains(v)) && t.iter().any(|v| !on(v))).collect();
            (both.len() == 2).then(|| normal(both[0]).angle_between(normal(both[1])))
        });
        let angles: Vec<f32> = sides.collect();
        angles.iter().sum::<f32>() / angles.len() as f32
    };
    let creased = bent(&assembly, &drape, &fold.vertices);
    assert!(creased > 0.6, "{:.0} degrees", creased.to_degrees());
}

#[test]
fn a_kept_drape_brings_its_mesh_and_is_carried_over_to_a_newer_one() {
    let costume = tabard();
    let assembly = assemble(&costume, &WOMAN).expect("it hangs");
    let mesh = KeptMesh::of(&assembly);
    let bytes = mesh.to_bytes();
    assert_eq!(KeptMesh::from_bytes(&bytes).as_ref(), Some(&mesh));
    for cut in (0..bytes.len()).step_by(997) {
        assert_ne!(KeptMesh::from_bytes(&bytes[..cut]).as_ref(), Some(&mesh), "a part is not the whole");
    }
    let positions: Vec<[f32; 3]> = assembly.scene.positions.iter().map(|p| [p[0] + 0.01, p[1], p[2]]).collect();
    let kept = Fitting { costume: costume.clone(), positions: positions.clone(), at_rest: true, mesh: Some(mesh) };
    assert_eq!(kept.positions_on(&assembly).as_ref(), Some(&positions), "the same mesh: bit for bit");
    // another mesh of the same pieces: every vertex lies on the kept cloth, and both sides of a seam as near as they were
    let mut finer = costume;
    finer.fineness = Fineness::Custom(27.0);
    let other = assemble(&finer, &WOMAN).expect("it hangs");
    let carried = kept.positions_on(&other).expect("the same pieces");
    let gap = |at: &[[f32; 3]], a: u32, b: u32| glam::Vec3::from(at[a as usize]).distance(glam::Vec3::from(at[b as usize]));
    let widest = |at: &[[f32; 3]], pairs: &[cloth::SeamPair]| pairs.iter().map(|p| gap(at, p.a, p.b)).fold(0.0, f32::max);
    let (was, is) = (widest(&positions, &assembly.scene.pairs), widest(&carried, &other.scene.pairs));
    assert!(is < was + 1e-3, "{was} m wide, {is} m after");
    let unfit = Fitting { positions: positions[1..].to_vec(), ..kept };
    assert!(unfit.positions_on(&assembly).is_none());
}

#[test]
fn the_meshes_of_all_demo_costumes_are_as_even_as_promised() {
    for text in [
        include_str!("../../../demo/rakers-tabard.ourlet.json"),
        include_str!("../../../demo/heron-mantle.ourlet.json"),
        include_str!("../../../demo/marsh-jacket.ourlet.json"),
        include_str!("../../../demo/ferry-pinafore.ourlet.json"),
        include_str!("../../../demo/sluice-keepers-breeches.ourlet.json"),
    ] {
        let mut costume = costume::read(text).expect("a demo");
        for fineness in [Fineness::Toile, Fineness::Sample] {
            costume.fineness = fineness;
            let (mut all, mut in_range) = (0.0, 0.0);
            for (piece, mesh) in meshes(&costume).expect("it can be cut") {
                let q = mesh::quality(&mesh, fineness.edge_mm());
                let what = format!("{}, {} at {} mm: {q:?}", costume.name, costume.piece_name(piece), fineness.edge_mm());
                assert!(q.angle_p1 >= 25.0 && q.least_angle >= 12.0, "{what}");
                (all, in_range) = (all + q.triangles as f64, in_range + q.edges_in_range * q.triangles as f64);
            }
            // a collar of 200 edges has four beside its short ends, so the edges are judged over the costume
            assert!(in_range / all >= 0.99, "{}: {:.2} % of the edges", costume.name, 100.0 * in_range / all);
        }
    }
}

/// A bib of 24 x 30 cm on the chest that nothing is sewn to.
fn bib() -> Costume {
    let mut costume = tabard();
    for piece in tabard().pieces {
        costume = done(&costume, Edit::RemovePiece { piece: piece.id });
    }
    let corners = [(-120.0, 0.0), (120.0, 0.0), (120.0, 300.0), (-120.0, 300.0)];
    let points = corners.map(|(x, y)| Point::new(x, y).into()).to_vec();
    costume = done(&costume, Edit::AddPiece { name: "Bib".into(), at: Point::new(0.0, 0.0), points, fold: None });
    let piece = costume.pieces[0].id;
    costume = done(&costume, Edit::Place { piece, placement: Some(costume::Placement::at("chest-front")) });
    costume.fineness = Fineness::Custom(20.0);
    costume
}

/// How the vertices of the bib above a height lie: mean height and farthest from the skin, m.
fn above(assembly: &Assembly, drape: &Drape, mm: f64) -> (f32, f32) {
    let of = |k: &usize| assembly.pieces[0].flat.points[*k][1] > mm;
    let x = drape.positions();
    let those: Vec<[f32; 3]> = (0..x.len()).filter(of).map(|k| x[k]).collect();
    let off = those.iter().map(|p| assembly.form.grid.distance(glam::Vec3::from(*p))).fold(0.0, f32::max);
    (those.iter().map(|p| p[1]).sum::<f32>() / those.len() as f32, off)
}

#[test]
fn a_bib_is_held_by_paint_by_its_edge_and_by_a_level_and_falls_without() {
    let costume = bib();
    let piece = costume.pieces[0].id;
    let line = costume.pieces[0].drawing().expect("drawn").outline[2];
    let finish = |f| done(&costume, Edit::FinishLine { piece, line, from: 0.0, to: 1.0, finish: Some(f) });
    let draped = |costume: &Costume| {
        let assembly = assemble(costume, &WOMAN).expect("it hangs");
        let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
        let steps = |drape: &mut Drape, n: usize| (0..n).for_each(|_| _ = drape.step());
        // once it is drawn to the skin it stays there
        steps(&mut drape, 60);
        let before = above(&assembly, &drape, 281.0);
        steps(&mut drape, 180);
        let after = above(&assembly, &drape, 281.0);
        (before.0 - after.0, after.1, assembly, drape)
    };
    let (fell, ..) = draped(&costume);
    assert!(fell > 0.3, "nothing holds it: it fell on by {fell:.2} m");
    let snug = costume::SkinHold { distance: Some(6.0), strength: 60.0, slides: false, to: None };
    let brush = |y: f64| [Point::new(-120.0, y), Point::new(120.0, y)].to_vec();
    let stroke = costume::Stroke::Brush { points: brush(285.0), radius: 30.0, soft: 0.3, value: 1.0 };
    let painted = done(&costume, Edit::Paint { piece, kind: costume::PaintKind::Skin, stroke });
    let painted = done(&painted, Edit::SetPaint { piece, purpose: costume::PaintUse::Skin(snug) });
    for (what, held) in [("paint", painted), ("its edge", finish(Finish::Skin(snug)))] {
        let (fell, off, ..) = draped(&held);
        assert!(fell.abs() < 0.006 && off < 0.02, "{what} holds it: {fell:.3} m lower, {off:.3} m off the skin");
    }
    // drawn to the waist, and to a height
    let waist = WOMAN.posed.station("waist-front").expect("a waist").centre.y as f32;
    for (level, height) in [(costume::BandLevel::Waist, waist), (costume::BandLevel::Height(1200.0), 1.2)] {
        let (.., assembly, drape) = draped(&finish(Finish::Level { at: level }));
        let at = above(&assembly, &drape, 299.0).0;
        assert!((at - height).abs() < 8e-3, "{level:?}: {at:.3} of {height:.3} m");
    }
}

#[test]
fn what_is_held_goes_with_the_body_into_a_pose() {
    let snug = costume::SkinHold { distance: Some(6.0), strength: 80.0, slides: false, to: None };
    let costume = bib();
    let line = costume.pieces[0].drawing().expect("drawn").outline[2];
    let edit = Edit::FinishLine { piece: costume.pieces[0].id, line, from: 0.0, to: 1.0, finish: Some(Finish::Skin(snug)) };
    let costume = done(&costume, edit);
    let assembly = assemble(&costume, &WOMAN).expect("it hangs");
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    for _ in 0..120 {
        drape.step();
    }
    let before = above(&assembly, &drape, 299.0).0;
    // a bow from the waist
    let mut bowed = costume.body.clone();
    for spine in ["spine-1", "spine-2"] {
        bowed.pose.insert(spine.into(), [25.0, 0.0, 0.0]);
    }
    let out = WOMAN.out.clone();
    let mut motion = workroom::PoseMotion::new(WOMAN.figure.clone(), &costume.body, &bowed, out.clone(), 0).expect("a pose");
    while let Some(body) = motion.advance(1.0 / 60.0) {
        drape.set_body(body);
        for _ in 0..workroom::STEPS_A_FRAME {
            drape.step();
        }
    }
    let arrived = ContactBody::new(WOMAN.figure.clone(), &bowed, out).expect("a form");
    drape.set_body(arrived.still());
    for _ in 0..60 {
        drape.step();
    }
    let x = drape.positions();
    let top = assembly.pieces[0].line_vertices(2);
    let off = top.iter().map(|v| arrived.grid.distance(glam::Vec3::from(x[*v as usize]))).fold(0.0, f32::max);
    let after = top.iter().map(|v| x[*v as usize][1]).sum::<f32>() / top.len() as f32;
    assert!(off < 0.014, "{off:.3} m off the skin that has bowed");
    assert!(before - after > 0.03, "it went along: {before:.3} to {after:.3} m");
}
