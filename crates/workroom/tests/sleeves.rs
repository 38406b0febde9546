//! Garments with sleeves: cut in one with the body, and sewn in.

mod common;

use common::{hung, rested};
use fit::Surface;
use workroom::{Assembly, drape_report};

const JACKET: &str = include_str!("../../../demo/marsh-jacket.ourlet.json");
/// T-shaped: front, back and two straight sleeves that close around the raised arms.
const TUNIC: &str = include_str!("data/tunic.ourlet.json");

/// The middle of a piece's vertices, m.
fn middle(assembly: &Assembly, at: &[[f32; 3]], name: &str) -> [f32; 3] {
    let own = &at[assembly.pieces.iter().find(|p| p.name == name).expect("the piece").vertices()];
    [0, 1, 2].map(|k| own.iter().map(|p| p[k]).sum::<f32>() / own.len() as f32)
}

#[test]
fn a_piece_wider_than_its_side_of_the_body_hangs_close_in_front_of_it() {
    let assembly = hung(JACKET, "woman-38", Some(30.0));
    let deep = assembly.scene.positions.iter().map(|p| p[2].abs()).fold(0.0, f32::max);
    assert!(deep < 0.35, "{deep} m from the middle of the body");
    let skin = &assembly.form.skin;
    assert!(
        fit::cloth_body(
            &Surface::open(&assembly.scene.positions, &assembly.scene.triangles),
            &Surface::closed(&skin.positions, &skin.triangles)
        )
        .is_empty()
    );
}

#[test]
fn a_jacket_with_kimono_sleeves_closes_around_the_arms_of_other_bodies() {
    for preset in ["woman-38", "man-50"] {
        let mut assembly = hung(JACKET, preset, Some(30.0));
        let drape = rested(&mut assembly);
        let report = drape_report(&assembly, &drape, 1.0);
        assert!(report.is_good() && report.seams.iter().all(|s| s.max_gap_mm < 1.0), "{preset}: {report:?}");
        // it hangs from the shoulders, and its sleeves reach down the arms
        let at = drape.positions();
        let (low, high) = at.iter().fold((f32::MAX, f32::MIN), |(l, h), p| (l.min(p[0]), h.max(p[0])));
        let elbow = assembly.form.posed.station("upper-arm-left").expect("a station").centre.x as f32;
        assert!(high > elbow + 0.1 && low < -elbow - 0.1, "{preset}: {low} to {high}, upper arm at {elbow}");
    }
}

#[test]
fn sewn_in_sleeves_close_around_the_arms_before_they_are_drawn_to_the_armholes() {
    let mut assembly = hung(TUNIC, "woman-38", Some(30.0));
    let drape = rested(&mut assembly);
    let report = drape_report(&assembly, &drape, 1.0);
    assert!(report.is_good() && report.seams.iter().all(|s| s.max_gap_mm < 1.0), "{report:?}");
    let at = drape.positions();
    let (left, right) = (middle(&assembly, &at, "Left sleeve"), middle(&assembly, &at, "Right sleeve"));
    assert!(left[0] > 0.2 && right[0] < -0.2, "{left:?} {right:?}");
    assert!((left[0] + right[0]).abs() < 0.04 && (left[1] - right[1]).abs() < 0.04, "alike on both sides: {left:?} {right:?}");
    // the arms are in the sleeves: the body's upper arm runs through the middle of each
    for station in ["upper-arm-left", "upper-arm-right"] {
        let arm = assembly.form.posed.station(station).expect("a station");
        let around = |side: f64| {
            at.iter().any(|p| {
                let d = glam::DVec3::new(f64::from(p[0]), f64::from(p[1]), f64::from(p[2])) - arm.centre;
                d.dot(arm.up).abs() < 0.04 && d.length() < 0.16 && d.dot(arm.out) * side > 0.03
            })
        };
        assert!(around(1.0) && around(-1.0), "{station}");
    }
}
