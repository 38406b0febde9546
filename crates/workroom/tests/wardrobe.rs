//! The demo costumes drape to rest, sewn and without crossings, on bodies other than the one they were cut for.

mod common;

use cloth::Drape;
use common::{delivered, edges_through, hung, rested};
use fit::Surface;
use workroom::{Assembly, drape_report};

const PINAFORE: &str = include_str!("../../../demo/ferry-pinafore.ourlet.json");
const BREECHES: &str = include_str!("../../../demo/sluice-keepers-breeches.ourlet.json");
const MANTLE: &str = include_str!("../../../demo/heron-mantle.ourlet.json");

/// Drapes it on two bodies, on the second coarsely; `judge` sees what rests.
fn rests(text: &str, judge: impl Fn(&Assembly, &Drape)) {
    for (preset, fineness) in [("woman-38", None), ("man-50", Some(22.0))] {
        let mut assembly = hung(text, preset, fineness);
        let at = &assembly.scene.positions;
        assert!(
            fit::cloth_cloth(&Surface::open(at, &assembly.scene.triangles)).is_empty(),
            "{preset}: hung pieces are clear of each other"
        );
        let drape = rested(&mut assembly);
        let report = drape_report(&assembly, &drape, 1.0);
        let (cloth, body) = delivered(&assembly, &drape);
        assert_eq!(edges_through(&cloth, &body), 0, "{preset}: an outside reader finds cloth through the skin");
        assert!(report.is_good() && report.seams.iter().all(|s| s.max_gap_mm < 1.0), "{preset}: {report:?}");
        judge(&assembly, &drape);
    }
}

/// Lowest, middle and highest of a piece along an axis, m.
fn span(assembly: &Assembly, at: &[[f32; 3]], piece: &str, axis: usize) -> [f32; 3] {
    let range = assembly.pieces.iter().find(|p| p.name == piece).expect("the piece").vertices();
    let values: Vec<f32> = at[range].iter().map(|p| p[axis]).collect();
    let (low, high) = values.iter().fold((f32::MAX, f32::MIN), |(l, h), v| (l.min(*v), h.max(*v)));
    [low, values.iter().sum::<f32>() / values.len() as f32, high]
}

fn level(assembly: &Assembly, station: &str) -> f32 {
    assembly.form.posed.station(station).expect("a station").centre.y as f32
}

#[test]
fn a_pinafore_hangs_from_its_straps_with_its_skirt_gathered_at_the_waist() {
    rests(PINAFORE, |assembly, drape| {
        let at = &drape.positions();
        let (waist, bust) = (level(assembly, "waist-front"), level(assembly, "chest-front"));
        let skirt = span(assembly, at, "Skirt front", 1);
        assert!((skirt[2] - waist).abs() < 0.08, "the skirt begins at {} m, the waist is at {waist}", skirt[2]);
        for strap in ["Left strap", "Right strap"] {
            assert!(span(assembly, at, strap, 1)[2] > bust + 0.1, "{strap} lies on the shoulder");
        }
        // what was 750 mm wide on the table is drawn together at the waist
        let waist_edge = assembly.pieces.iter().find(|p| p.name == "Skirt front").expect("the skirt").line_vertices(2);
        let across = (at[waist_edge[0] as usize][0] - at[waist_edge[waist_edge.len() - 1] as usize][0]).abs();
        assert!(across < 0.6, "750 mm are gathered, {across} m from side to side");
    });
}

#[test]
fn breeches_close_around_both_legs() {
    rests(BREECHES, |assembly, drape| {
        let at = &drape.positions();
        let (left, right) = (span(assembly, at, "Left knee band", 0), span(assembly, at, "Right knee band", 0));
        assert!(left[0] > 0.0 && right[2] < 0.0, "one band on each leg: {left:?} {right:?}");
        for (band, station) in [("Left knee band", "knee-left"), ("Right knee band", "knee-right")] {
            let knee = assembly.form.posed.station(station).expect("a station").centre;
            let (x, z) = (span(assembly, at, band, 0), span(assembly, at, band, 2));
            // the shin below the knee still runs through the ring
            assert!(x[2] - x[0] > 0.06 && z[0] < knee.z as f32 && z[2] > knee.z as f32, "{band}: {x:?} {z:?}, knee at {knee}");
        }
        let band = span(assembly, at, "Waistband front", 1);
        assert!((band[1] - level(assembly, "waist-front")).abs() < 0.06, "the waist stay holds the band up: {band:?}");
    });
}

#[test]
fn a_mantle_lies_on_the_shoulders_with_its_collar_around_the_neck() {
    rests(MANTLE, |assembly, drape| {
        let at = &drape.positions();
        let neck = assembly.form.posed.station("neck-back").expect("a station").centre;
        let (x, z) = (span(assembly, at, "Collar", 0), span(assembly, at, "Collar", 2));
        assert!(x[0] < -0.04 && x[2] > 0.04 && z[0] < neck.z as f32 && z[2] > neck.z as f32, "{x:?} {z:?} around {neck}");
        let back = span(assembly, at, "Back", 1);
        assert!(back[2] > level(assembly, "chest-back") + 0.1 && back[0] < level(assembly, "hips-back") + 0.1, "{back:?}");
        let back = span(assembly, at, "Back", 0);
        assert!(back[2] > 0.3 && back[0] < -0.3, "spread over both arms: {back:?}");
        takes_the_hands_in(assembly, drape);
    });
}

/// It falls over the hands; none of them is left out.
fn takes_the_hands_in(assembly: &Assembly, drape: &Drape) {
    assert!(assembly.form.out.is_empty(), "nothing is left out: {:?}", assembly.form.out);
    // the outside reader can find something: the same cloth against a body that was moved into it
    let (cloth, body) = delivered(assembly, drape);
    let moved: String = body
        .lines()
        .map(|l| match l.strip_prefix("v ") {
            Some(rest) => {
                let n: Vec<f64> = rest.split(' ').map(|v| v.parse().expect("a number")).collect();
                format!("v {} {} {}\n", n[0] + 0.05, n[1], n[2])
            }
            None => format!("{l}\n"),
        })
        .collect();
    assert!(edges_through(&cloth, &moved) > 100);
}

/// A hand that is left out by hand stays out, and what goes through it is told apart.
#[test]
fn a_hand_that_is_left_out_stays_out() {
    let mut costume = hung(MANTLE, "woman-38", Some(30.0)).costume;
    let out = costume::PartContact { left_out: true, offset: 0.0, friction: 1.0 };
    costume.body.contact.parts.insert("hand-left".into(), out);
    let text = costume::write(&costume).expect("a file");
    let mut by_hand = hung(&text, "woman-38", Some(30.0));
    let drape = rested(&mut by_hand);
    let report = drape_report(&by_hand, &drape, 1.0);
    assert_eq!(by_hand.form.out.iter().map(String::as_str).collect::<Vec<_>>(), ["hand-left"]);
    assert!(report.left_out["hand-left"] > 0 && report.crossings.cloth_body == 0 && report.is_good(), "{report:?}");
    assert!(report.findings.iter().any(|f| f.words.contains("hand, left") && !f.is_fault), "{:?}", report.findings);
}
