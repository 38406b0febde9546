//! The simulator against formulas.

mod common;

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Phase, Scene, Settings};
use common::{WOVEN, crosses_itself, run, sheet, together};
use std::sync::Arc;

#[test]
fn a_hanging_strip_stretches_by_rho_g_l_squared_over_2k() {
    for (stretch, grain) in [([2000.0, 900.0], 90.0f32), ([900.0, 2000.0], 0.0)] {
        let fabric = Fabric { stretch, ..WOVEN };
        let mut scene = sheet(0.1, 1.0, 0.02, fabric, |p| [p[0], p[1], 0.0]);
        scene.panels[0].grain = grain.to_radians();
        scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] > 0.9999).collect();
        let flat = scene.flat.clone();
        let mut drape = Drape::new(scene).expect("valid scene");
        run(&mut drape, 6.0);
        let hem: Vec<f64> = drape.positions().iter().zip(&flat).filter(|(_, f)| f[1] < 1e-4).map(|(p, _)| f64::from(p[1])).collect();
        let stretched = -hem.iter().sum::<f64>() / hem.len() as f64;
        let expected = 0.15 * 9.81 / (2.0 * 2000.0);
        assert!((stretched / expected - 1.0).abs() < 0.03, "grain {grain}: {:.4} mm, expected {:.4} mm", stretched * 1e3, expected * 1e3);
    }
}

#[test]
fn a_sheet_falls_freely_without_air() {
    let scene = sheet(0.2, 0.2, 0.02, WOVEN, |p| [p[0], 10.0, p[1]]);
    let settings = Settings { damping: [0.0, 0.0], ..scene.settings };
    let mut drape = Drape::new(Scene { settings, ..scene }).expect("valid scene");
    run(&mut drape, 0.5);
    let t = drape.time();
    // implicit Euler falls g h t / 2 farther than the parabola
    let expected = 10.0 - 0.5 * 9.81 * t * (t + 1.0 / 120.0);
    let mean = drape.positions().iter().map(|p| f64::from(p[1])).sum::<f64>() / drape.positions().len() as f64;
    assert!((mean - expected).abs() < 1e-3, "{mean} {expected}");
}

#[test]
fn air_brings_a_falling_sheet_to_its_terminal_speed() {
    let scene = sheet(0.2, 0.2, 0.02, Fabric { bending: [1e-2, 1e-2], ..WOVEN }, |p| [p[0], 0.0, p[1]]);
    let settings = Settings { damping: [0.0, 0.0], air: 1.2, ..scene.settings };
    let mut drape = Drape::new(Scene { settings, ..scene }).expect("valid scene");
    run(&mut drape, 1.0);
    let before = drape.positions();
    let (h, start) = (1.0 / 120.0, drape.time());
    run(&mut drape, start + 12.0 * h);
    let mean = |p: &[[f32; 3]]| p.iter().map(|p| f64::from(p[1])).sum::<f64>() / p.len() as f64;
    let speed = (mean(&before) - mean(&drape.positions())) / (drape.time() - start);
    let expected = (2.0 * 0.15 * 9.81 / 1.2f64).sqrt();
    assert!((speed / expected - 1.0).abs() < 0.03, "{speed} {expected}");
}

/// A stiff small sheet on a slope given by its angle; friction 0.4.
fn slide(angle: f64) -> f64 {
    let (sin, cos) = angle.sin_cos();
    let normal = [-sin as f32, cos as f32, 0.0];
    let grid = DistanceGrid::from_fn([-1.0, -1.0, -0.2], [1.0, 1.0, 0.4], 0.02, 0.1, |p| p[0] * normal[0] + p[1] * normal[1]);
    let fabric = Fabric { friction: 0.4, bending: [1e-3, 1e-3], ..WOVEN };
    let lift = 3.2e-3;
    let mut scene = sheet(0.1, 0.1, 0.02, fabric, |p| {
        let s = p[0];
        [s * cos as f32 + normal[0] * lift, s * sin as f32 + normal[1] * lift, p[1]]
    });
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings.damping = [0.0, 0.0];
    let along = |p: &[[f32; 3]]| p.iter().map(|p| f64::from(p[0]) * cos + f64::from(p[1]) * sin).sum::<f64>() / p.len() as f64;
    let mut drape = Drape::new(scene).expect("valid scene");
    let speed = |drape: &mut Drape| {
        let (a, t) = (along(&drape.positions()), drape.time());
        run(drape, t + 4.0 / 120.0);
        (a - along(&drape.positions())) / (4.0 / 120.0)
    };
    run(&mut drape, 0.4);
    let (v1, t1) = (speed(&mut drape), drape.time());
    run(&mut drape, 0.6);
    let (v2, t2) = (speed(&mut drape), drape.time());
    (v2 - v1) / (t2 - t1)
}

#[test]
fn cloth_on_a_slope_sticks_below_the_friction_angle_and_slides_above_it() {
    let friction_angle = 0.4f64.atan();
    assert!(slide(friction_angle - 0.07).abs() < 0.02, "sticks: {}", slide(friction_angle - 0.07));
    let steep = friction_angle + 0.2;
    let expected = 9.81 * (steep.sin() - 0.4 * steep.cos());
    let measured = slide(steep);
    assert!((measured / expected - 1.0).abs() < 0.05, "slides at {measured}, expected {expected}");
}

#[test]
fn a_sheet_on_a_sphere_rests_outside_it_and_does_not_slip_off() {
    let grid = DistanceGrid::from_fn([-0.4; 3], [0.4; 3], 0.01, 0.06, |p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.2);
    let mut scene = sheet(0.8, 0.8, 0.03, WOVEN, |p| [p[0] - 0.4, 0.215, p[1] - 0.4]);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings.self_contact = true;
    scene.settings.air = 1.2;
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 6.0);
    assert_eq!(drape.phase(), Phase::AtRest);
    let x = drape.positions();
    let deepest = x.iter().map(|p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.2).fold(f32::MAX, f32::min);
    assert!(deepest > 0.0005, "every vertex keeps off the sphere: {deepest}");
    let top = x.iter().map(|p| p[1]).fold(f32::MIN, f32::max);
    assert!(top > 0.195 && top < 0.21, "the sheet still lies on the top: {top}");
}

#[test]
fn results_are_bit_equal_for_one_and_two_threads() {
    let result = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("pool");
        pool.install(|| {
            let grid = DistanceGrid::from_fn([-0.4; 3], [0.4; 3], 0.02, 0.06, |p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.2);
            let mut scene = sheet(0.6, 0.6, 0.02, WOVEN, |p| [p[0] - 0.25, 0.25, p[1] - 0.3]);
            scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
            scene.settings.self_contact = true;
            let mut drape = Drape::new(scene).expect("valid scene");
            run(&mut drape, 0.6);
            drape.positions()
        })
    };
    let (one, two) = (result(1), result(2));
    assert!(one.iter().flatten().zip(two.iter().flatten()).all(|(a, b)| a.to_bits() == b.to_bits()));
}

#[test]
fn a_cantilever_bends_by_its_flexural_rigidity() {
    // A stiff strip sags little enough for the beam formula: tip = w g L^4 / (8 B) per unit width.
    let (length, rigidity) = (0.10, 2e-3);
    let fabric = Fabric { bending: [rigidity as f32; 2], stretch: [2e4, 2e4], ..WOVEN };
    let mut scene = sheet(0.06, length, 0.005, fabric, |p| [p[0], 0.0, p[1]]);
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] < 0.0101).collect();
    let flat = scene.flat.clone();
    scene.settings.damping = [4.0, 8.0];
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 6.0);
    let tip: Vec<f64> =
        drape.positions().iter().zip(&flat).filter(|(_, f)| f64::from(f[1]) > length - 1e-4).map(|(p, _)| -f64::from(p[1])).collect();
    let sag = tip.iter().sum::<f64>() / tip.len() as f64;
    // the hinges at the clamp stand for half a row on either side of it, and the half behind it bends as well; rows of
    // even triangles lie sqrt(3)/2 of an edge apart
    let free = length - 0.01 + 0.5 * 0.866 * 0.005;
    let expected = 0.15 * 9.81 * f64::powi(free, 4) / (8.0 * rigidity);
    assert!((sag / expected - 1.0).abs() < 0.10, "{:.3} mm, expected {:.3} mm", sag * 1e3, expected * 1e3);
}

#[test]
fn scenes_that_cannot_be_simulated_are_refused() {
    let good = sheet(0.1, 0.1, 0.02, WOVEN, |p| [p[0], p[1], 0.0]);
    let refused = |change: &dyn Fn(&mut Scene)| {
        let mut scene = good.clone();
        change(&mut scene);
        Drape::new(scene).err().map(|e| e.to_string()).unwrap_or_default()
    };
    assert!(refused(&|s| s.positions[3][1] = f32::NAN).contains("vertex 3"));
    assert!(refused(&|s| s.triangles.clear()).contains("no triangles") || refused(&|s| s.triangles.clear()).contains("range"));
    assert!(refused(&|s| s.triangles[0][0] = 9999).contains("range"));
    assert!(refused(&|s| s.panels[0].fabric.areal_density = 0.0).contains("sheet"));
    assert!(
        refused(&|s| {
            let t = s.triangles[0];
            s.flat[t[1] as usize] = s.flat[t[0] as usize];
        })
        .contains("flat to nothing")
    );
}

#[test]
fn a_seam_closes_two_hanging_sheets_and_lets_nothing_cross() {
    let edge = |x: f32| move |p: &[f32; 2]| (p[0] - x).abs() < 1e-5;
    let left = sheet(0.3, 0.4, 0.02, WOVEN, |p| [p[0] - 0.34, p[1], 0.02]);
    let right = sheet(0.3, 0.4, 0.02, WOVEN, |p| [p[0] + 0.04, p[1], -0.01]);
    let n = left.positions.len() as u32;
    let side = |scene: &Scene, x: f32, first: u32| {
        let mut along: Vec<u32> = (0..scene.flat.len() as u32).filter(|&i| edge(x)(&scene.flat[i as usize])).collect();
        along.sort_by(|&a, &b| scene.flat[a as usize][1].total_cmp(&scene.flat[b as usize][1]));
        along.into_iter().map(|i| i + first).collect::<Vec<_>>()
    };
    let (a, b) = (side(&left, 0.3, 0), side(&right, 0.0, n));
    let top = |scene: &Scene, first: u32| {
        (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] > 0.3999).map(|i| i + first).collect::<Vec<_>>()
    };
    // only the outer thirds of the upper hem are held, so that the seam can close
    let pins: Vec<u32> = top(&left, 0)
        .into_iter()
        .filter(|&i| left.flat[i as usize][0] < 0.1)
        .chain(top(&right, n).into_iter().filter(|&i| right.flat[(i - n) as usize][0] > 0.2))
        .collect();
    let mut scene = together(left, right);
    scene.pairs = a.iter().zip(&b).map(|(&a, &b)| cloth::SeamPair { a, b, seam: 0 }).collect();
    scene.pins = pins;
    scene.settings.self_contact = true;
    let triangles = scene.triangles.clone();
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 12.0);
    assert_eq!(drape.phase(), Phase::AtRest);
    let x = drape.positions();
    assert!(a.iter().zip(&b).all(|(&a, &b)| x[a as usize] == x[b as usize]), "both sides of the seam are one");
    assert_eq!(drape.seam_gaps(1), vec![0.0]);
    assert!(!crosses_itself(&x, &triangles, drape.fused_with()));
}

#[test]
fn a_sheet_dropped_on_another_stays_above_it() {
    let grid = DistanceGrid::from_fn([-0.3; 3], [0.3; 3], 0.01, 0.06, |p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.12);
    let lower = sheet(0.4, 0.4, 0.025, WOVEN, |p| [p[0] - 0.2, 0.13, p[1] - 0.2]);
    let upper = sheet(0.36, 0.36, 0.025, WOVEN, |p| [p[0] - 0.18, 0.17, p[1] - 0.18]);
    let n = lower.positions.len();
    let mut scene = together(lower, upper);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings.self_contact = true;
    let triangles = scene.triangles.clone();
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 6.0);
    let x = drape.positions();
    assert!(!crosses_itself(&x, &triangles, drape.fused_with()));
    let top = |range: std::ops::Range<usize>| x[range].iter().filter(|p| p[0].hypot(p[2]) < 0.03).map(|p| p[1]).sum::<f32>();
    let count = |range: std::ops::Range<usize>| x[range].iter().filter(|p| p[0].hypot(p[2]) < 0.03).count() as f32;
    let (low, high) = (top(0..n) / count(0..n), top(n..x.len()) / count(n..x.len()));
    assert!(high > low, "the upper sheet lies at {high}, the lower at {low}");
}

#[test]
fn pins_hold_and_a_tugged_sheet_follows_the_hand_and_falls_back() {
    let mut scene = sheet(0.3, 0.4, 0.02, WOVEN, |p| [p[0], p[1], 0.0]);
    scene.settings.air = 1.2;
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] > 0.3999).collect();
    let (pins, start) = (scene.pins.clone(), scene.positions.clone());
    let lowest = (0..scene.flat.len() as u32).find(|&i| scene.flat[i as usize] == [0.0, 0.0]).expect("a corner");
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 6.0);
    let hanging = drape.positions()[lowest as usize];
    drape.grab(0, lowest, 0.04);
    drape.pull_to(0, [hanging[0], hanging[1] + 0.05, 0.15]);
    for _ in 0..240 {
        drape.step();
    }
    let pulled = drape.positions()[lowest as usize];
    assert!((pulled[2] - 0.15).abs() < 0.03, "the corner follows the hand: {pulled:?}");
    drape.pull_to(0, [f32::NAN; 3]);
    drape.step();
    assert!(drape.positions().iter().flatten().all(|v| v.is_finite()), "a hand nowhere is not followed");
    drape.let_go(None);
    run(&mut drape, 30.0);
    assert_eq!(drape.phase(), Phase::AtRest);
    let back = drape.positions()[lowest as usize];
    assert!((0..3).all(|k| (back[k] - hanging[k]).abs() < 0.01), "{hanging:?} became {back:?}");
    assert!(pins.iter().all(|&p| drape.positions()[p as usize] == start[p as usize]), "pins never move");
}

#[test]
fn wind_holds_a_hanging_strip_at_the_angle_where_it_balances_its_weight() {
    let mut scene = sheet(0.1, 0.4, 0.02, WOVEN, |p| [p[0], p[1], 0.0]);
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] > 0.3999).collect();
    scene.settings.air = 1.2;
    scene.settings.conditions = cloth::Conditions { wind: [0.0, 0.0, 2.0], ..cloth::Conditions::default() };
    let flat = scene.flat.clone();
    let mut drape = Drape::new(scene).expect("valid scene");
    run(&mut drape, 8.0);
    let hem: Vec<[f32; 3]> = drape.positions().iter().zip(&flat).filter(|(_, f)| f[1] < 1e-4).map(|(p, _)| *p).collect();
    let mean = |k: usize| hem.iter().map(|p| f64::from(p[k])).sum::<f64>() / hem.len() as f64;
    let angle = mean(2).atan2(0.4 - mean(1));
    // across the strip: 1/2 rho c v² cos² a = w g sin a (drag along it is small)
    let (drag, weight) = (0.5 * 1.2 * 4.0, 0.15 * 9.81);
    let (mut low, mut high) = (0.0f64, 1.5f64);
    for _ in 0..60 {
        let a = 0.5 * (low + high);
        if drag * a.cos().powi(2) > weight * a.sin() { low = a } else { high = a }
    }
    assert!((angle - low).abs() < 0.06, "{:.1} degrees, expected {:.1}", angle.to_degrees(), low.to_degrees());
}

#[test]
fn a_moving_body_takes_cloth_along_by_friction() {
    // a sheet on a plate that moves at constant speed gains mu g t until it rides along
    let speed = 0.5f32;
    let grid = Arc::new(DistanceGrid::from_fn([-1.0, -0.1, -1.0], [1.0, 0.1, 1.0], 0.02, 0.05, |p| p[1]));
    let mut scene = sheet(0.2, 0.2, 0.04, Fabric { bending: [1e-2, 1e-2], ..WOVEN }, |p| [p[0], 0.0032, p[1]]);
    let motion = [cloth::Motion { linear: [speed, 0.0, 0.0], angular: [0.0; 3] }];
    scene.body = Some(BodyShape { motion: Arc::new(motion), ..BodyShape::still(grid, Arc::new([1.0])) });
    scene.settings.damping = [0.0, 0.0];
    let mut drape = Drape::new(scene).expect("valid scene");
    let at = |d: &Drape| d.positions().iter().map(|p| f64::from(p[0])).sum::<f64>() / d.positions().len() as f64;
    // let it come to lie
    run(&mut drape, 0.6);
    let (before, t) = (at(&drape), drape.time());
    run(&mut drape, 0.9);
    let now = (at(&drape) - before) / (drape.time() - t);
    assert!((now - f64::from(speed)).abs() < 0.02, "{now:.3} m/s on a plate that moves at {speed}");
}

#[test]
fn a_pinned_vertex_stays_and_an_unpinned_one_falls() {
    let scene = sheet(0.2, 0.2, 0.04, WOVEN, |p| [p[0], 0.0, p[1]]);
    let mut drape = Drape::new(scene).expect("valid scene");
    let start = drape.positions()[0];
    drape.pin(0);
    run(&mut drape, 0.5);
    assert_eq!((drape.positions()[0], drape.pins()), (start, vec![0]));
    drape.unpin(0);
    run(&mut drape, 0.8);
    assert!(drape.positions()[0][1] < start[1] - 0.2 && drape.pins().is_empty());
}

#[test]
fn values_at_their_limits_neither_explode_nor_become_no_numbers() {
    let ball = DistanceGrid::from_fn([-0.3; 3], [0.3; 3], 0.02, 0.06, |p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.15);
    let grid = Arc::new(ball);
    let light =
        Fabric { areal_density: 1e-3, stretch: [20.0; 2], shear: 1.0, bending: [5e-8; 2], thickness: 2e-5, friction: 0.0, locking: 0.01 };
    let heavy =
        Fabric { areal_density: 5.0, stretch: [5e4; 2], shear: 1e4, bending: [2e-2; 2], thickness: 1e-2, friction: 2.0, locking: 2.0 };
    let mixed = [
        light,
        heavy,
        Fabric { areal_density: 5.0, ..light },
        Fabric { areal_density: 1e-3, ..heavy },
        Fabric { stretch: [5e4, 20.0], ..light },
        Fabric { bending: [2e-2, 5e-8], ..WOVEN },
    ];
    for (k, fabric) in mixed.into_iter().enumerate() {
        for edge in [0.05, 0.012] {
            let mut scene = sheet(0.4, 0.4, edge, fabric, |p| [p[0] - 0.2, 0.2, p[1] - 0.17]);
            scene.body = Some(BodyShape::still(grid.clone(), Arc::new([1.0])));
            scene.settings.self_contact = true;
            scene.settings.air = 1.2;
            scene.settings.conditions = cloth::Conditions { wind: [20.0, 0.0, 5.0], gusts: 1.0, ..cloth::Conditions::default() };
            let mut drape = Drape::new(scene).expect("valid scene");
            while drape.time() < 0.5 {
                let report = drape.step();
                assert!(drape.failed_at().is_none(), "fabric {k}, edge {edge}: no step at {} s", report.time);
                // nothing moves faster than the wind with its gusts, and what it gains by falling
                let most = 2.0 * 20f32.hypot(5.0) + 5.0;
                assert!(report.fastest < most, "fabric {k}, edge {edge}: {} m/s at {} s", report.fastest, report.time);
            }
            let inside = drape.positions().iter().map(|p| glam::Vec3::from(*p).length() - 0.15).fold(f32::MAX, f32::min);
            assert!(inside > -4e-3, "fabric {k}, edge {edge}: {inside} m inside the ball");
        }
    }
}
