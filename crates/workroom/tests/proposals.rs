//! Proposals of seams, and places found for pieces: from the bare pieces of the demo costumes back to what their makers sewed.

use costume::{Costume, Run, resolve};
use std::collections::BTreeSet;
use std::sync::Arc;
use workroom::ContactBody;

const DEMOS: [&str; 7] = [
    include_str!("../../../demo/rakers-tabard.ourlet.json"),
    include_str!("../../../demo/sluice-keepers-breeches.ourlet.json"),
    include_str!("../../../demo/ferry-pinafore.ourlet.json"),
    include_str!("../../../demo/marsh-jacket.ourlet.json"),
    include_str!("../../../demo/heron-mantle.ourlet.json"),
    include_str!("../../../demo/brine-carriers-shirt.ourlet.json"),
    include_str!("../../../demo/gull-skirt.ourlet.json"),
];

fn form(costume: &Costume) -> ContactBody {
    let figure = Arc::new(workroom::figure(&costume.body).expect("a preset"));
    ContactBody::of(costume, figure, &BTreeSet::new()).expect("a form")
}

/// The pairs of lines that a seam brings together, by thirds of its length: enough to tell any two seams apart.
fn joined(costume: &Costume, a: &[Run], b: &[Run]) -> BTreeSet<[(u32, u32); 2]> {
    let pattern = resolve(costume);
    let length = |r: &Run| {
        let p = pattern.piece(r.piece).expect("a piece");
        p.lines[p.line(r.line).expect("a line")].length * (r.to - r.from).abs()
    };
    let on = |side: &[Run], share: f64| {
        let mut left = share * side.iter().map(length).sum::<f64>();
        let found = side.iter().find(|r| {
            left -= length(r);
            left < 0.0
        });
        let r = found.unwrap_or(&side[side.len() - 1]);
        (r.piece.0, r.line.0)
    };
    [0.08, 0.46, 0.92].iter().map(|&s| [on(a, s), on(b, s)]).map(|[p, q]| [p.min(q), p.max(q)]).collect()
}

/// All that seams of a costume join, with the images on twins.
fn all_joined(costume: &Costume) -> BTreeSet<[(u32, u32); 2]> {
    let pattern = resolve(costume);
    let plain = |r: &costume::PatternRun| {
        let p = &pattern.pieces[r.piece];
        let turned = p.lines[r.line].turned;
        let share = |s: f64| if turned { 1.0 - s } else { s };
        Run { piece: p.id, line: p.lines[r.line].id, from: share(r.from), to: share(r.to) }
    };
    let side = |s: &[costume::PatternRun]| s.iter().map(plain).collect::<Vec<_>>();
    pattern.seams.iter().flat_map(|s| joined(costume, &side(&s.a), &side(&s.b))).collect()
}

#[test]
fn what_fits_finds_the_seams_of_the_demos_from_their_bare_pieces_and_sews_nothing_wrong() {
    let (mut there, mut found, mut shown, mut wrong) = (0, 0, 0, Vec::new());
    for text in DEMOS {
        let costume = costume::read(text).expect("a demo");
        let mut bare = costume.clone();
        bare.seams.clear();
        let proposals = workroom::what_fits(&bare, &form(&costume));
        let mut taken = bare.clone();
        for p in proposals.iter().filter(|p| p.sure) {
            taken = workroom::apply(&taken, &costume::Edit::Sew { a: p.a.clone(), b: p.b.clone() }).expect("it is sewn");
        }
        let (meant, got) = (all_joined(&costume), all_joined(&taken));
        // what is shown besides waits for the designer's tick: each by itself
        let mut offered = got.clone();
        for p in proposals.iter().filter(|p| !p.sure) {
            if let Ok(sewn) = workroom::apply(&taken, &costume::Edit::Sew { a: p.a.clone(), b: p.b.clone() }) {
                offered.extend(all_joined(&sewn));
            }
        }
        shown += meant.intersection(&offered).count();
        let hits = meant.iter().filter(|j| got.contains(*j)).count();
        there += meant.len();
        found += hits;
        let offers = meant.intersection(&offered).count();
        println!("{}: {hits} of {} joins, {offers} with those shown, {} proposals", costume.name, meant.len(), proposals.len());
        let name = |(piece, line): &(u32, u32)| costume.line_name(costume::PieceId(*piece), costume::LineId(*line));
        for j in meant.iter().filter(|j| !offered.contains(*j)) {
            println!("   missed {} with {}", name(&j[0]), name(&j[1]));
        }
        for j in got.iter().filter(|j| !meant.contains(*j)) {
            println!("   WRONG {} with {}", name(&j[0]), name(&j[1]));
            wrong.push(format!("{}: {} with {}", costume.name, name(&j[0]), name(&j[1])));
        }
    }
    assert!(wrong.is_empty(), "{wrong:?}");
    // what the pieces alone do not tell stays for the designer: which front is closed, what opens
    println!("{found} taken, {shown} shown of {there}");
    assert!(found * 100 >= there * 65 && shown * 100 >= there * 65, "{found} taken, {shown} shown of {there}");
}

/// Whom the pieces are hung on: a size, or a figure read from a file (a mannequin of another size in cm, Z upwards).
enum Wearer {
    Size(&'static str),
    FromElsewhere(&'static str),
}

fn wearer(wearer: &Wearer, costume: &mut Costume) -> ContactBody {
    match wearer {
        Wearer::Size(preset) => {
            costume.body = costume::BodyChoice::size(preset);
            form(costume)
        }
        Wearer::FromElsewhere(preset) => {
            costume.body = costume::BodyChoice::size(preset);
            let surface = workroom::figure(&costume.body).expect("a size").surface;
            let mut text = String::new();
            for [x, y, z] in &surface.positions {
                text += &format!("v {} {} {}\n", x * 100.0, -z * 100.0, y * 100.0);
            }
            for t in &surface.triangles {
                text += &format!("f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
            }
            let arrival = workroom::read_arrival("figure.obj", text.as_bytes()).expect("it reads");
            let figure = workroom::foreign_figure("0a", &arrival.raw, &arrival.sheet).expect("it stands");
            ContactBody::new(Arc::new(figure), &costume.body, BTreeSet::new()).expect("a form")
        }
    }
}

#[test]
fn every_piece_of_the_demos_finds_its_side_of_the_body_from_seams_and_names() {
    let (mut pieces, mut right, mut hung) = (0, 0, 0);
    let wearers = [Wearer::Size("woman-38"), Wearer::Size("woman-46"), Wearer::Size("man-50"), Wearer::FromElsewhere("woman-42")];
    for (who, text) in wearers.iter().flat_map(|who| DEMOS.iter().map(move |text| (who, text))) {
        let mut costume = costume::read(text).expect("a demo");
        let form = wearer(who, &mut costume);
        let mut bare = costume.clone();
        bare.pieces.iter_mut().for_each(|p| p.placement = None);
        let places = workroom::hang_by_seams(&bare, &form, false);
        for p in &places {
            bare = workroom::apply(&bare, &costume::Edit::Place { piece: p.piece, placement: Some(p.placement.clone()) })
                .expect("it is placed");
        }
        // which side of the body: by the direction in which the station looks
        let out = |c: &Costume, piece: costume::PieceId| {
            let station = c.piece(piece).and_then(|p| p.placement.clone()).and_then(|p| form.posed.station(&p.station).cloned());
            station.map(|s| (s.out, s.centre))
        };
        for p in costume.pieces.iter().filter(|p| p.placement.is_some()) {
            pieces += 1;
            let (Some(meant), Some(got)) = (out(&costume, p.id), out(&bare, p.id)) else { continue };
            let same = meant.0.dot(got.0) > 0.0 && meant.1.distance(got.1) < 0.45;
            right += usize::from(same);
            if !same {
                println!("{}: {} at {:?}", costume.name, p.name, bare.piece(p.id).and_then(|p| p.placement.as_ref()).map(|p| &p.station));
            }
        }
        match workroom::assemble(&bare, &form) {
            Ok(assembly) => {
                // what is told of threads before the drape is no false alarm
                assert_eq!(workroom::before_draping(&assembly), [], "{}", bare.name);
                hung += 1;
                // nothing touches the body before the drape
                let at = &assembly.scene.positions;
                assert!(at.iter().all(|p| form.grid.distance(glam::Vec3::from(*p)) > 0.0), "{}", costume.name);
            }
            Err(refusal) => println!("{}: {refusal}", costume.name),
        }
    }
    println!("{right} of {pieces} on the right side, {hung} of {} hang", wearers.len() * DEMOS.len());
    assert!(right == pieces && hung == wearers.len() * DEMOS.len(), "{right} of {pieces}, {hung} hang");
}
