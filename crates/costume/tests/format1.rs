//! Costumes written by builds of format 1 come to the same outlines, seams and making. What stood in the file is read here
//! by itself, as plain JSON.

use costume::{Finish, LineId, PieceId, Purpose, read, resolve, write};
use kurbo::{CubicBez, Line, ParamCurve, ParamCurveArclen, PathSeg};
use serde_json::Value;

const FILES: [&str; 5] = [
    include_str!("data/format1/ferry-pinafore.ourlet.json"),
    include_str!("data/format1/heron-mantle.ourlet.json"),
    include_str!("data/format1/marsh-jacket.ourlet.json"),
    include_str!("data/format1/rakers-tabard.ourlet.json"),
    include_str!("data/format1/sluice-keepers-breeches.ourlet.json"),
];

fn point(v: &Value) -> kurbo::Point {
    kurbo::Point::new(v["x"].as_f64().expect("x"), v["y"].as_f64().expect("y"))
}

fn list(v: &Value) -> &Vec<Value> {
    v.as_array().expect("a list")
}

/// The edges of a piece of format 1, each with the id of its corner.
fn edges(piece: &Value) -> Vec<(u32, PathSeg)> {
    let corners = list(&piece["corners"]);
    (0..corners.len())
        .map(|k| {
            let (from, to) = (&corners[k], &corners[(k + 1) % corners.len()]);
            let (a, b) = (point(&from["at"]), point(&to["at"]));
            let curve = match from.get("bow").filter(|b| b.is_object()) {
                Some(bow) => PathSeg::Cubic(CubicBez::new(a, point(&bow["leave"]), point(&bow["arrive"]), b)),
                None => PathSeg::Line(Line::new(a, b)),
            };
            (from["id"].as_u64().expect("an id") as u32, curve)
        })
        .collect()
}

#[test]
fn outlines_seams_and_making_are_what_they_were() {
    for text in FILES {
        let old: Value = serde_json::from_str(text).expect("JSON");
        let costume = read(text).unwrap_or_else(|e| panic!("{e}"));
        let pattern = resolve(&costume);
        assert_eq!(costume.name, old["name"].as_str().expect("a name"));
        assert_eq!(pattern.pieces.len(), list(&old["pieces"]).len());
        for (piece, was) in pattern.pieces.iter().zip(list(&old["pieces"])) {
            assert_eq!(
                (piece.name.as_str(), piece.grain),
                (was["name"].as_str().expect("a name"), was["grain"].as_f64().expect("degrees"))
            );
            let before = edges(was);
            assert_eq!(piece.outline.len(), before.len());
            for (&line, (id, curve)) in piece.outline.iter().zip(&before) {
                let line = &piece.lines[line];
                assert_eq!(line.id, LineId(*id));
                for k in 0..=20 {
                    let t = f64::from(k) / 20.0;
                    assert!(line.curve.eval(t).distance(curve.eval(t)) < 0.01, "{}: {id} at {t}", piece.name);
                }
            }
            let finishes: usize = list(&was["corners"]).iter().filter(|c| c.get("finish").is_some()).count();
            assert_eq!(piece.along.iter().filter(|a| a.finish.holds() && (a.from, a.to) == (0.0, 1.0)).count(), finishes);
            let folds = was.get("folds").map_or(0, |f| list(f).len());
            assert_eq!(piece.inside.iter().filter(|p| matches!(p.purpose, Purpose::Fold { .. })).count(), folds);
        }
        let length = |run: &Value| {
            let piece = list(&old["pieces"]).iter().find(|p| p["id"] == run["piece"]).expect("a piece");
            edges(piece).iter().find(|(id, _)| run["edge"] == *id).expect("an edge").1.arclen(1e-4)
        };
        for (seam, was) in pattern.seams.iter().zip(list(&old["seams"])) {
            let lengths = pattern.seam_lengths(seam);
            let [a, b] = ["a", "b"].map(|s| list(&was[s]).iter().map(length).sum::<f64>());
            assert!((lengths.a - a).abs() < 0.01 && (lengths.b - b).abs() < 0.01, "seam {}", seam.tag);
            for (run, before) in seam.a.iter().chain(&seam.b).zip(list(&was["a"]).iter().chain(list(&was["b"]))) {
                assert_eq!(run.from > run.to, before["backwards"].as_bool().unwrap_or(false), "seam {}", seam.tag);
            }
        }
        // from then on it is one of today's format
        assert_eq!(read(&write(&costume).expect("written")).as_ref(), Ok(&costume));
    }
}

#[test]
fn an_elastic_of_format_1_lies_on_its_whole_line() {
    let costume = read(FILES[4]).expect("the breeches");
    let band = costume.piece(PieceId(133)).and_then(|p| p.drawing()).expect("the waistband");
    assert!(band.along.iter().any(|a| a.line == LineId(137) && a.finish == Finish::Elastic { length: 76.0 }), "{:?}", band.along);
}

#[test]
fn what_was_damaged_in_format_1_is_refused_with_its_reason() {
    let text = FILES[3];
    for (from, to, reason) in [
        ("\"corners\"", "\"points\"", "points"),
        ("\"x\": -440.0", "\"x\": 4400.0", "cross"),
        ("\"edge\": 105", "\"edge\": 999", "edge that does not exist"),
        ("\"next_id\": 123", "\"next_id\": 110", "id"),
    ] {
        let refusal = read(&text.replacen(from, to, 1)).expect_err(reason);
        assert!(refusal.to_string().contains(reason), "{refusal}");
    }
}
