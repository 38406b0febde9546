//! The mannequin against the golden values of its specification and the promises of its mesh.

use body::{Body, Field, Measure, Preset, Request, SheetFault, mannequin, presets};
use fit::Surface;
use glam::DVec3;
use std::collections::HashMap;
use std::sync::LazyLock;

/// Every size, made once.
static BODIES: LazyLock<Vec<(Preset, Body)>> =
    LazyLock::new(|| presets().into_iter().map(|p| (p.clone(), mannequin(&Request::size(&p.key)).expect("a size"))).collect());

fn golden() -> serde_json::Value {
    serde_json::from_str(include_str!("../data/golden.json")).expect("golden values are well formed")
}

#[test]
fn field_values_agree_with_the_golden_points() {
    let golden = golden();
    for (name, key) in [("Woman 38", "woman-38"), ("Man 58", "man-58"), ("Child 128", "child-128")] {
        let field = Field::preset(key).expect("preset exists");
        let row = &golden[name];
        let points = row["points"].as_array().expect("points");
        let mut worst = 0.0f64;
        for (p, expected) in points.iter().zip(row["field"].as_array().expect("field")) {
            let p = DVec3::new(p[0].as_f64().unwrap_or(0.0), p[1].as_f64().unwrap_or(0.0), p[2].as_f64().unwrap_or(0.0));
            worst = worst.max((field.distance(p) - expected.as_f64().unwrap_or(f64::NAN)).abs());
        }
        assert!(worst < 1e-3, "{name}: {worst} cm");
    }
}

#[test]
fn landmark_levels_agree_with_the_golden_values() {
    let golden = golden();
    let field = Field::preset("woman-38").expect("preset exists");
    for (level, expected) in golden["Woman 38"]["levels"].as_object().expect("levels") {
        assert!((field.levels[level] - expected.as_f64().unwrap_or(f64::NAN)).abs() < 1e-3, "{level}");
    }
}

#[test]
fn meshes_are_closed_even_and_mirror_symmetric() {
    for key in ["woman-38", "man-50"] {
        let m = mannequin(&Request::size(key)).expect("preset exists");
        let s = &m.surface;
        let mut edges: HashMap<(u32, u32), i32> = HashMap::new();
        let mut lengths = Vec::new();
        for t in &s.triangles {
            for k in 0..3 {
                let (a, b) = (t[k], t[(k + 1) % 3]);
                *edges.entry((a, b)).or_default() += 1;
                lengths.push(
                    DVec3::from(s.positions[a as usize].map(f64::from)).distance(DVec3::from(s.positions[b as usize].map(f64::from))),
                );
            }
        }
        for (&(a, b), &n) in &edges {
            assert_eq!(n, 1, "{key}: edge {a}-{b} is walked {n} times");
            assert_eq!(edges.get(&(b, a)), Some(&1), "{key}: edge {a}-{b} is open");
        }
        let euler = s.positions.len() as i64 - edges.len() as i64 / 2 + s.triangles.len() as i64;
        assert_eq!(euler, 2, "{key}: one closed surface without handles");
        assert!((17_000..25_000).contains(&s.triangles.len()), "{key}: {} triangles", s.triangles.len());
        lengths.sort_by(f64::total_cmp);
        let share = |q: f64| lengths[(q * (lengths.len() - 1) as f64) as usize];
        assert!((0.012..0.016).contains(&share(0.5)) && share(0.99) < 0.025, "{key}: {} {}", share(0.5), share(0.99));
        assert!(s.volume() > 0.05 && s.volume() < 0.09, "{key}: {} m3, outward", s.volume());
        let mirrored = s.positions.iter().all(|p| s.positions.contains(&[-p[0], p[1], p[2]]) || p[0] == 0.0);
        assert!(mirrored, "{key} is not symmetric");
        assert!(s.positions.iter().all(|p| p[1] > -0.005));
    }
}

#[test]
fn no_size_crosses_itself() {
    for (preset, m) in BODIES.iter() {
        let crossings = fit::cloth_cloth(&Surface::closed(&m.surface.positions, &m.surface.triangles));
        assert!(crossings.is_empty(), "{}: {crossings:?}", preset.key);
    }
}

/// How far a measure taken on the mesh may be from what was asked, mm.
fn tolerance(measure: Measure) -> f64 {
    if measure.is_length() { 5.0 } else { 3.0 }
}

#[test]
fn a_tape_around_the_mesh_reads_what_was_asked_for_every_size() {
    let mut off = Vec::new();
    for (preset, m) in BODIES.iter() {
        // under the breasts the tape goes through them; the mesh cannot show that
        for t in m.taken.iter().filter(|t| t.measure != Measure::Underbust) {
            if t.off().abs() > tolerance(t.measure) {
                off.push(format!(
                    "{} {}: asked {:.1} mm, measured {:.1} mm",
                    preset.key,
                    t.measure.key(),
                    t.asked.unwrap_or_default(),
                    t.measured
                ));
            }
        }
    }
    assert!(off.is_empty(), "{off:#?}");
}

#[test]
fn stations_stand_on_the_body_and_face_outwards() {
    let m = mannequin(&Request::size("woman-38")).expect("preset exists");
    let field = Field::preset("woman-38").expect("preset exists");
    assert_eq!(m.stations.len(), body::station_names().len());
    for s in &m.stations {
        assert!(field.distance(s.centre * 100.0) < 0.0, "{}: its axis lies inside the body", s.key);
        assert!(field.distance((s.centre + s.out * (s.radii.1 + 0.02)) * 100.0) > 0.5, "{}: just outside its radius it is free", s.key);
        assert!(s.right.cross(s.up).distance(s.out) < 1e-9, "{}: right-handed frame", s.key);
    }
}

#[test]
fn an_unknown_body_names_what_is_on_offer() {
    let message = mannequin(&Request::size("giant")).err().map(|e| e.to_string()).unwrap_or_default();
    assert!(message.contains("giant") && message.contains("woman-38"), "{message}");
}

#[test]
fn a_body_is_made_to_measure() {
    let set = vec![(Measure::Waist, 760.0), (Measure::Hip, 990.0), (Measure::Stature, 1740.0), (Measure::UpperArm, 300.0)];
    let m = mannequin(&Request { preset: "woman-38".into(), set: set.clone() }).expect("a plausible woman");
    for (measure, asked) in set {
        let taken = m.taken.iter().find(|t| t.measure == measure).expect("it is taken");
        assert!((taken.measured - asked).abs() < tolerance(measure), "{}: {:.1} mm instead of {asked} mm", measure.key(), taken.measured);
    }
    let top = m.surface.positions.iter().map(|p| p[1]).fold(f32::MIN, f32::max);
    assert!((top - 1.74).abs() < 0.005, "she stands {top} m tall");
    // lengths that were not given follow the stature
    let inseam = m.taken.iter().find(|t| t.measure == Measure::Inseam).expect("taken").measured;
    assert!((inseam - 775.0 * 174.0 / 168.0).abs() < 5.0, "{inseam}");
}

#[test]
fn what_cannot_be_a_body_is_refused_with_the_limit() {
    let fault = |set: Vec<(Measure, f64)>| mannequin(&Request { preset: "woman-38".into(), set }).map(|_| ()).expect_err("refused");
    assert!(matches!(fault(vec![(Measure::Waist, 2000.0)]), SheetFault::OutOfRange { name: "waist", .. }));
    assert!(matches!(fault(vec![(Measure::Neck, f64::NAN)]), SheetFault::OutOfRange { name: "neck", .. }));
    let message = fault(vec![(Measure::Waist, 990.0), (Measure::Hip, 780.0)]).to_string();
    assert!(message.contains("waist is too large for the hip") && message.contains("93.6 cm"), "{message}");
    let message = fault(vec![(Measure::Thigh, 700.0)]).to_string();
    assert!(message.contains("thigh is too large for the hip"), "{message}");
}
