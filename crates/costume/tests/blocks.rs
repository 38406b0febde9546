//! Blocks: their measures equal the formulas of docs/blocks.md, and they follow the body until they are changed by hand.

mod common;

use common::{done, drawing, node};
use costume::{Costume, Edit, Pattern, PatternPiece, Point, RECIPES, Refusal, apply, read, resolve};
use std::collections::BTreeMap;

type Numbers = BTreeMap<String, f64>;

fn numbers(list: &[(&str, f64)]) -> Numbers {
    list.iter().map(|(k, v)| ((*k).to_owned(), *v)).collect()
}

/// Measures of the sizes that blocks are promised for, mm.
fn sizes() -> Vec<(&'static str, Numbers)> {
    let keys = [
        "bust",
        "waist",
        "hip",
        "neck",
        "shoulder-width",
        "back-waist",
        "arm-length",
        "upper-arm",
        "wrist",
        "waist-height",
        "inseam",
        "ankle",
        "thigh",
        "knee",
        "calf",
        "stature",
    ];
    let rows: [(&str, [f64; 16]); 6] = [
        ("woman-34", [800.0, 635.0, 895.0, 328.0, 362.0, 402.0, 562.0, 252.0, 152.0, 1040.0, 778.0, 215.0, 520.0, 348.0, 340.0, 1680.0]),
        ("woman-38", [880.0, 720.0, 970.0, 345.0, 370.0, 405.0, 565.0, 280.0, 160.0, 1040.0, 775.0, 225.0, 565.0, 370.0, 360.0, 1680.0]),
        ("woman-50", [1120.0, 975.0, 1195.0, 398.0, 392.0, 412.0, 572.0, 362.0, 182.0, 1040.0, 768.0, 255.0, 700.0, 438.0, 420.0, 1680.0]),
        ("man-60", [1200.0, 1135.0, 1185.0, 451.0, 434.0, 466.0, 619.0, 378.0, 194.0, 1116.0, 832.0, 270.0, 679.0, 440.0, 429.0, 1830.0]),
        ("child-104", [565.0, 530.0, 590.0, 265.0, 246.0, 246.0, 330.0, 178.0, 122.0, 615.0, 445.0, 165.0, 330.0, 248.0, 225.0, 1040.0]),
        ("teen-164", [820.0, 665.0, 870.0, 330.0, 360.0, 395.0, 545.0, 255.0, 153.0, 1015.0, 760.0, 220.0, 505.0, 355.0, 340.0, 1640.0]),
    ];
    rows.iter().map(|(name, row)| (*name, keys.iter().zip(row).map(|(k, v)| ((*k).to_owned(), *v)).collect())).collect()
}

fn laid(recipe: &str, values: &[(&str, f64)], measures: &Numbers) -> Result<Costume, Refusal> {
    let edit = Edit::AddBlock { recipe: recipe.into(), values: numbers(values), measures: measures.clone(), at: Point::new(0.0, 0.0) };
    apply(&Costume::new("Block"), &edit)
}

fn piece<'a>(pattern: &'a Pattern, name: &str) -> &'a PatternPiece {
    pattern.pieces.iter().find(|p| p.name == name).unwrap_or_else(|| panic!("no {name}"))
}

#[test]
fn every_block_obeys_the_rules_on_every_size_and_its_seams_fit() {
    for (size, measures) in sizes() {
        for recipe in RECIPES {
            let costume = laid(recipe.key, &[], &measures).unwrap_or_else(|e| panic!("{} on {size}: {e}", recipe.key));
            assert_eq!(read(&common::text(&costume)).expect("readable"), costume, "{} on {size}", recipe.key);
            let pattern = resolve(&costume);
            for seam in &pattern.seams {
                let l = pattern.seam_lengths(seam);
                let share = l.difference().abs() / l.a.min(l.b);
                // gathers and eased caps are meant; all others meet to 3 mm or 1 %
                let meant = ["gathered-skirt", "trousers", "leggings", "tee"].contains(&recipe.key);
                assert!(l.is_even() || (meant && share < 2.5), "{} on {size}, seam {}: {} and {} mm", recipe.key, seam.tag, l.a, l.b);
            }
        }
    }
}

#[test]
fn girths_are_the_measures_with_their_ease() {
    for (size, m) in sizes() {
        let skirt = resolve(&laid("circle-skirt", &[("ease", 30.0), ("share", 50.0), ("length", 600.0)], &m).expect("laid"));
        let waist: f64 = skirt.seams.iter().filter(|s| s.b.len() == 1 && s.a.len() == 4).map(|s| skirt.seam_lengths(s).a).sum();
        assert!((waist - m["waist"] - 30.0).abs() < 0.1, "{size}: {waist}");
        // half a circle: the waist is half the round of its radius
        let radius = (m["waist"] + 30.0) / std::f64::consts::PI;
        let panel = piece(&skirt, "Skirt front");
        let area = std::f64::consts::PI / 4.0 * ((radius + 600.0).powi(2) - radius.powi(2));
        assert!((panel.area() / area - 1.0).abs() < 1e-4, "{size}");
        let tee = resolve(&laid("tee", &[("ease", 90.0)], &m).expect("laid"));
        let chest = piece(&tee, "Front").size()[0] + piece(&tee, "Back").size()[0];
        let least = 4.0 * (0.5 * m["shoulder-width"] + 13.0);
        assert!((chest - (m["bust"] + 90.0).max(least)).abs() < 1.0, "{size}: {chest}");
        let band = resolve(&laid("waistband", &[("ease", 12.0)], &m).expect("laid"));
        let round: f64 = band.pieces.iter().map(|p| p.size()[0]).sum();
        assert!((round - m["waist"] - 12.0).abs() < 1e-6, "{size}");
    }
}

#[test]
fn tubes_have_the_girths_they_are_asked_for_above_and_below() {
    let run = |p: &PatternPiece, lines: std::ops::Range<usize>| lines.map(|l| p.lines[p.outline[l]].length).sum::<f64>();
    for (size, m) in sizes() {
        for flare in [0.0, 400.0, 1500.0, 4000.0] {
            let asked = [("ease", 30.0), ("length", 500.0), ("flare", flare)];
            let tube = resolve(&laid("waist-tube", &asked, &m).expect("laid"));
            let (above, below): (f64, f64) =
                tube.pieces.iter().map(|p| (run(p, 5..9), run(p, 0..4))).fold((0.0, 0.0), |s, l| (s.0 + l.0, s.1 + l.1));
            let waist = m["waist"] + 30.0;
            assert!((above - waist).abs() < 0.3, "{size}, flare {flare}: {above} for {waist}");
            // no wider than half a disc
            let hem = waist + flare.min(std::f64::consts::PI * 500.0);
            assert!((below - hem).abs() < 2e-4 * hem, "{size}, flare {flare}: {below} for {hem}");
        }
        let disc = resolve(&laid("neck-disc", &[("ease", 100.0), ("length", 400.0), ("share", 100.0)], &m).expect("laid"));
        let radius = (m["neck"] + 100.0) / std::f64::consts::TAU;
        let area = std::f64::consts::PI * ((radius + 400.0).powi(2) - radius.powi(2));
        assert!((disc.pieces.iter().map(PatternPiece::area).sum::<f64>() / area - 1.0).abs() < 2e-3, "{size}");
        // tilted, the front is shorter in its middle by half the tilt, the sides as long as before
        let tilted = resolve(&laid("chest-tube", &[("length", 400.0), ("flare", 0.0), ("tilt", 100.0)], &m).expect("laid"));
        let front = piece(&tilted, "Tube front");
        assert!((kurbo::ParamCurve::start(&front.lines[front.outline[7]].curve).y + 50.0).abs() < 1e-6, "{size}");
        assert!((run(front, 4..5) - 400.0).abs() < 1e-6 && (piece(&tilted, "Tube back").size()[1] - 450.0).abs() < 1e-6, "{size}");
    }
}

/// How wide the cloth of a piece is at a level of its own frame, mm.
fn width_at(p: &PatternPiece, y: f64) -> f64 {
    let places = |l: &costume::PatternLine| {
        let at = |k: usize| kurbo::ParamCurve::eval(&l.curve, k as f64 / 2000.0);
        (0..2000).filter(|k| (at(*k).y - y) * (at(k + 1).y - y) <= 0.0).map(|k| at(k).x).collect::<Vec<_>>()
    };
    let all: Vec<f64> = p.outline.iter().flat_map(|l| places(&p.lines[*l])).collect();
    all.iter().copied().fold(f64::MIN, f64::max) - all.iter().copied().fold(f64::MAX, f64::min)
}

#[test]
fn the_hips_have_their_ease_at_the_level_of_the_hips() {
    for (size, m) in sizes() {
        let level = -0.72 * (m["waist-height"] - m["inseam"]) + 20.0;
        for (recipe, ease) in [("straight-skirt", 40.0), ("panelled-skirt", 50.0), ("trousers", 110.0), ("leggings", 60.0)] {
            let block = resolve(&laid(recipe, &[("hip-ease", ease), ("ease", 0.0), ("band", 40.0)], &m).expect("laid"));
            let legs = block.pieces.iter().filter(|p| !p.name.starts_with("Waistband"));
            let girth: f64 = legs.map(|p| width_at(p, level)).sum();
            // a waist that is wider than the hips stays as wide
            let least = m["waist"].max(m["hip"] + ease);
            assert!(
                (girth - least).abs() < 7.0 || (girth > least && m["waist"] > 0.95 * m["hip"]),
                "{recipe} on {size}: {girth} for {least}"
            );
        }
    }
}

#[test]
fn the_cap_of_a_sleeve_is_longer_than_its_armhole_by_the_ease() {
    for (size, m) in sizes() {
        for ease in [0.0, 8.0, 30.0] {
            let tee = resolve(&laid("tee", &[("cap-ease", ease)], &m).expect("laid"));
            // both armholes of one side against the cap: seams of one line each that join body and sleeve
            let on = |r: &costume::PatternRun, name: &str| tee.pieces[r.piece].name == name;
            let caps: Vec<_> =
                tee.seams.iter().filter(|s| !s.image && (on(&s.a[0], "Front") || on(&s.a[0], "Back")) && on(&s.b[0], "Sleeve")).collect();
            let (holes, cap) = caps.iter().fold((0.0, 0.0), |(a, b), s| (a + tee.seam_lengths(s).a, b + tee.seam_lengths(s).b));
            assert!(caps.len() == 2 && (cap - holes - ease).abs() < 1.0, "{size}: {cap} - {holes}");
        }
    }
}

#[test]
fn the_newer_blocks_obey_their_formulas() {
    let side = |p: &Pattern, s: &costume::PatternSeam| p.seam_lengths(s);
    for (size, m) in sizes() {
        // the cap of the sleeve alone and those of the two parts are as long as the tee's with the same ease
        let armhole = {
            let tee = resolve(&laid("tee", &[("ease", 90.0), ("cap-ease", 0.0)], &m).expect("laid"));
            let holes = tee
                .seams
                .iter()
                .filter(|s| !s.image && tee.pieces[s.b[0].piece].name == "Sleeve" && tee.pieces[s.a[0].piece].name != "Sleeve");
            holes.map(|s| side(&tee, s).a).sum::<f64>()
        };
        let of = |p: &PatternPiece, lines: &[usize]| lines.iter().map(|l| costume::arc_length(&p.lines[*l].curve)).sum::<f64>();
        let sleeve = resolve(&laid("sleeve", &[("cap-ease", 20.0)], &m).expect("laid"));
        let cap = of(piece(&sleeve, "Sleeve"), &[2, 3]);
        assert!((cap - armhole - 20.0).abs() < 1.0, "{size}: {cap} for {armhole}");
        let two = resolve(&laid("two-piece-sleeve", &[("cap-ease", 20.0)], &m).expect("laid"));
        // the caps are their only curves
        let curves = |name: &str| {
            let cap = piece(&two, name).lines.iter().filter(|l| matches!(l.curve, kurbo::PathSeg::Cubic(_)));
            cap.map(|l| costume::arc_length(&l.curve)).sum::<f64>()
        };
        let parted = curves("Upper sleeve") + curves("Under sleeve");
        assert!((parted - armhole - 20.0).abs() < 1.0, "{size}: {parted} for {armhole}");
        // six panels make up the waist
        let skirt = resolve(&laid("panelled-skirt", &[("ease", 20.0)], &m).expect("laid"));
        let waists: f64 = skirt
            .seams
            .iter()
            .filter(|s| s.b.len() == 1 && skirt.pieces[s.b[0].piece].name.starts_with("Waistband") && s.a.len() == 2)
            .map(|s| side(&skirt, s).a)
            .sum();
        assert!((waists - m["waist"] - 20.0).abs() < 1.0, "{size}: {waists}");
        // the neck of the cape is an arc of its circle
        let cape = resolve(&laid("cape", &[("ease", 120.0), ("share", 60.0), ("length", 500.0)], &m).expect("laid"));
        let radius = (m["neck"] + 120.0) / (1.2 * std::f64::consts::PI);
        let sector = 0.6 * std::f64::consts::PI * ((radius + 500.0).powi(2) - radius.powi(2));
        let cloth: f64 = cape.pieces.iter().map(PatternPiece::area).sum();
        assert!((cloth / sector - 1.0).abs() < 1e-3, "{size}: {cloth} and {sector}");
        let collar = resolve(&laid("shirt-collar", &[("ease", 30.0)], &m).expect("laid"));
        let chord = piece(&collar, "Stand").lines[0].curve;
        assert!((kurbo::ParamCurve::end(&chord).distance(kurbo::ParamCurve::start(&chord)) - m["neck"] - 30.0).abs() < 1e-6, "{size}");
    }
}

#[test]
fn usual_lengths_follow_the_body_until_they_are_chosen() {
    let sizes = sizes();
    let tee = laid("tee", &[], &sizes[1].1).expect("laid");
    assert_eq!(tee.blocks[0].all_values()["length"], 620.0);
    let child = laid("tee", &[("sleeve", 150.0)], &sizes[4].1).expect("laid");
    let values = child.blocks[0].all_values();
    assert_eq!((values["length"], values["sleeve"], values["ease"]), (375.0, 150.0, 60.0));
    assert!(child.blocks[0].values.len() == 1, "only what was chosen is kept");
}

#[test]
fn a_block_follows_the_measures_until_it_is_changed_by_hand() {
    let sizes = sizes();
    let (small, large) = (&sizes[1].1, &sizes[2].1);
    let tee = laid("tee", &[], small).expect("laid");
    let block = tee.blocks[0].id;
    let grown = done(&tee, Edit::ChangeBlock { block, values: numbers(&[("length", 700.0)]), measures: large.clone() });
    let anew = laid("tee", &[("length", 700.0)], large).expect("laid");
    let outline = |c: &Costume, k: usize| drawing(&c.pieces[k]).nodes.iter().map(|n| n.at).collect::<Vec<_>>();
    for k in 0..2 {
        assert_eq!(outline(&grown, k), outline(&anew, k), "the same as laid on that body at once");
    }
    assert_eq!(grown.seams, tee.seams, "and still sewn");
    assert_eq!(read(&common::text(&grown)).expect("readable"), grown);
    // moving a piece on the table is no change of its shape; moving a corner is
    let moved = done(&tee, Edit::MovePiece { piece: tee.pieces[0].id, at: Point::new(900.0, 0.0) });
    assert_eq!(moved.blocks.len(), 1);
    let by_hand = done(&tee, Edit::MoveNode { piece: tee.pieces[0].id, node: node(&tee.pieces[0], 0), to: Point::new(0.0, -700.0) });
    assert!(by_hand.blocks.is_empty());
    assert!(apply(&by_hand, &Edit::ChangeBlock { block, values: numbers(&[]), measures: large.clone() }).is_err());
}

#[test]
fn values_beyond_their_ranges_and_missing_measures_are_refused() {
    let m = &sizes()[1].1;
    let reason = |r: Result<Costume, Refusal>| r.expect_err("refused").to_string();
    assert!(reason(laid("tee", &[("length", 5000.0)], m)).contains("length from the shoulder of 5000"));
    assert!(reason(laid("tee", &[("bounce", 1.0)], m)).contains("`bounce`"));
    assert!(reason(laid("toga", &[], m)).contains("no recipe `toga`"));
    assert!(reason(laid("tee", &[], &numbers(&[("bust", 880.0)]))).contains("needs the measure"));
    assert!(reason(laid("tee", &[("ease", f64::NAN)], m)).contains("no number"));
}
