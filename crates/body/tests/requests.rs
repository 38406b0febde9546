//! Random plausible wearers: each becomes one closed body that measures as asked, or says what it could not meet.

use body::{Measure, Request, check, mannequin_with, presets};
use fit::Surface;
use glam::DVec3;
use proptest::prelude::*;
use proptest::test_runner::{RngAlgorithm, TestRng, TestRunner};
use std::collections::HashMap;

/// Cells of the quick mesh, cm.
const COARSE: f64 = 2.6;

fn any_request() -> impl Strategy<Value = Request> {
    let sizes = presets();
    (0..sizes.len(), prop::collection::vec((0..Measure::ALL.len(), 0.94..1.07f64), 0..5)).prop_filter_map(
        "contradicts itself",
        move |(k, changes)| {
            let size = &sizes[k];
            let mut set: Vec<(Measure, f64)> = Vec::new();
            for (m, ratio) in changes {
                let measure = Measure::ALL[m];
                let own = size.measures.iter().find(|(known, _)| *known == measure)?.1;
                if set.iter().all(|(known, _)| *known != measure) {
                    set.push((measure, own * ratio));
                }
            }
            let request = Request { preset: size.key.clone(), set };
            check(&request).is_ok().then_some(request)
        },
    )
}

/// One closed surface without handles, facing outwards.
fn is_a_body(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> Result<(), String> {
    let mut edges: HashMap<(u32, u32), u32> = HashMap::new();
    for t in triangles {
        for k in 0..3 {
            *edges.entry((t[k], t[(k + 1) % 3])).or_default() += 1;
        }
    }
    if edges.iter().any(|(&(a, b), &n)| n != 1 || edges.get(&(b, a)) != Some(&1)) {
        return Err("it is open, or an edge has more than two triangles".into());
    }
    let euler = positions.len() as i64 - edges.len() as i64 / 2 + triangles.len() as i64;
    if euler != 2 {
        return Err(format!("its Euler number is {euler}"));
    }
    let at = |v: u32| DVec3::from(positions[v as usize].map(f64::from));
    let volume: f64 = triangles.iter().map(|t| at(t[0]).dot(at(t[1]).cross(at(t[2]))) / 6.0).sum();
    if !(0.012..0.14).contains(&volume) {
        return Err(format!("it displaces {volume} m3"));
    }
    Ok(())
}

/// A wearer's body, or what is wrong with it.
fn judge(request: &Request) -> Result<(), TestCaseError> {
    let m = mannequin_with(request, COARSE).expect("it was checked");
    is_a_body(&m.surface.positions, &m.surface.triangles).map_err(|e| TestCaseError::fail(format!("{request:?}: {e}")))?;
    prop_assert!(m.surface.positions.iter().all(|p| p[1] > -0.006 && p.iter().all(|v| v.is_finite())));
    let crossings = fit::cloth_cloth(&Surface::closed(&m.surface.positions, &m.surface.triangles));
    prop_assert!(crossings.is_empty(), "{request:?} crosses itself: {crossings:?}");
    // what could not be met is named and is never far off
    for u in &m.unmet {
        prop_assert!((u.measured - u.asked).abs() < 0.08 * u.asked, "{request:?}: {u:?}");
    }
    for t in m.taken.iter().filter(|t| t.measure.is_length() && m.unmet.iter().all(|u| u.measure != t.measure)) {
        // cells this coarse close the gap between heavy thighs; the full mesh is measured for every size
        prop_assert!(t.measure == Measure::Inseam || t.off().abs() < 5.0, "{request:?}: {t:?}");
    }
    Ok(())
}

#[test]
fn wearers_become_closed_bodies_of_their_measures() {
    // the same wearers every time; set OURLET_WEARERS for more
    let cases = std::env::var("OURLET_WEARERS").ok().and_then(|n| n.parse().ok()).unwrap_or(60);
    let config = ProptestConfig { cases, failure_persistence: None, ..ProptestConfig::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    runner.run(&any_request(), |request| judge(&request)).unwrap_or_else(|e| panic!("{e}"));
}
