//! The mannequin against the golden values of its specification and the promises of its mesh.

use body::{Field, mannequin};
use glam::DVec3;
use std::collections::HashMap;

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
        let m = mannequin(key).expect("preset exists");
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
fn a_tape_around_the_mesh_reads_what_was_asked() {
    for preset in body::presets() {
        let m = mannequin(&preset.key).expect("preset exists");
        for (what, measured) in &m.measured {
            let asked = preset.measures.iter().find(|(k, _)| k == what).map_or(f64::NAN, |(_, v)| *v);
            assert!((measured - asked).abs() < 3.0, "{} {what}: asked {asked} mm, measured {measured:.1} mm", preset.key);
        }
    }
}

#[test]
fn stations_stand_on_the_body_and_face_outwards() {
    let m = mannequin("woman-38").expect("preset exists");
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
    let message = mannequin("giant").err().map(|e| e.to_string()).unwrap_or_default();
    assert!(message.contains("giant") && message.contains("woman-38"), "{message}");
}
