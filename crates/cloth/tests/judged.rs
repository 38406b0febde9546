//! By what the cloth is judged, on small meshes: strips on the bias, rest shapes that do not depend on the step or the
//! mesh, cloth that never crosses, and cloth that starts in trouble.

mod common;

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Phase, Scene};
use common::{WOVEN, ball, crosses_itself, mean, run, sheet, those, together};
use std::sync::Arc;

/// Stiffness along a direction between warp and weft, from the strip's energy 1/2 ku (|wu|-1)² + 1/2 kv (|wv|-1)² +
/// 1/2 ks (wu·wv)²: with strain e along a direction at angle a to the warp and t across it (no shear in that frame),
/// the strains are eu = e c² + t s², ev = e s² + t c², shear g = 2 (e - t) s c; t is free, so it takes the value that
/// costs least.
fn along_the_bias(ku: f64, kv: f64, ks: f64, angle: f64) -> f64 {
    let energy = |shape: [f64; 3]| {
        let ([e, t, g], (s, c)) = (shape, angle.sin_cos());
        let (u, v) = (e * c * c + t * s * s - g * s * c, e * s * s + t * c * c + g * s * c);
        let shear = 2.0 * (e - t) * s * c + g * (c * c - s * s);
        0.5 * (ku * u * u + kv * v * v + ks * shear * shear)
    };
    // the energy is quadratic: descend in t and g for e = 1
    let (mut t, mut g) = (0.0, 0.0);
    for _ in 0..20_000 {
        let h = 1e-4;
        t -= (energy([1.0, t + h, g]) - energy([1.0, t - h, g])) / (2.0 * h) / (2.0 * (ku + kv + ks));
        g -= (energy([1.0, t, g + h]) - energy([1.0, t, g - h])) / (2.0 * h) / (2.0 * (ku + kv + ks));
    }
    2.0 * energy([1.0, t, g])
}

#[test]
fn a_strip_on_the_bias_stretches_as_its_shear_and_weave_say() {
    let fabric = Fabric { stretch: [2000.0, 1200.0], shear: 300.0, bending: [4e-5; 2], ..WOVEN };
    let (width, length) = (0.06, 0.8);
    let mut scene = sheet(width, length, 0.012, fabric, |p| [p[0], p[1], 0.0]);
    scene.panels[0].grain = 45f32.to_radians();
    scene.pins = those(&scene, |p| p[1] > 0.7999);
    // measured well away from the clamp, which keeps the strip from narrowing
    let (high, low) = (those(&scene, |p| (p[1] - 0.6).abs() < 0.02), those(&scene, |p| (p[1] - 0.1).abs() < 0.02));
    let flat = |scene: &Scene, of: &[u32]| of.iter().map(|&i| f64::from(scene.flat[i as usize][1])).sum::<f64>() / of.len() as f64;
    let (from, to) = (flat(&scene, &high), flat(&scene, &low));
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 10.0);
    let stretched = (mean(&drape, &high, 1) - mean(&drape, &low, 1)) - (from - to);
    // weight below a height pulls: the integral of w g y / k between the two heights
    let k = along_the_bias(2000.0, 1200.0, 300.0, std::f64::consts::FRAC_PI_4);
    let expected = 0.15 * 9.81 * (from * from - to * to) / (2.0 * k);
    assert!((stretched / expected - 1.0).abs() < 0.06, "{:.4} mm, expected {:.4} mm", stretched * 1e3, expected * 1e3);
}

/// A small cloth over a ball at a time step and an edge length: its vertices' flat places and rest positions.
fn over_ball(step: f32, edge: f64) -> (Scene, Drape) {
    let fabric = Fabric { bending: [8e-5; 2], ..WOVEN };
    let mut scene = sheet(0.36, 0.36, edge, fabric, |p| [p[0] - 0.18, 0.104, p[1] - 0.18]);
    scene.body = Some(ball(0.1));
    scene.settings.time_step = step;
    scene.settings.self_contact = true;
    let mut drape = Drape::new(scene.clone()).expect("a scene");
    run(&mut drape, 8.0);
    (scene, drape)
}

#[test]
fn half_the_time_step_rests_in_the_same_shape_and_a_finer_mesh_hangs_as_low() {
    let hem = |(scene, drape): &(Scene, Drape)| {
        let x = drape.positions();
        let rim: Vec<f64> =
            (0..x.len()).filter(|&i| scene.flat[i].iter().any(|v| *v < 1e-4 || *v > 0.3599)).map(|i| f64::from(x[i][1])).collect();
        rim.iter().sum::<f64>() / rim.len() as f64
    };
    let (full, half, fine) = (over_ball(1.0 / 120.0, 0.02), over_ball(1.0 / 240.0, 0.02), over_ball(1.0 / 120.0, 0.013));
    // folds may stand at other places; heights over the flat radius do not depend on that
    let profile = |(scene, drape): &(Scene, Drape)| {
        let x = drape.positions();
        let mut rings = [(0.0f64, 0u32); 9];
        for (p, f) in x.iter().zip(&scene.flat) {
            let ring = (((f[0] - 0.18).hypot(f[1] - 0.18) / 0.02) as usize).min(8);
            rings[ring].0 += f64::from(p[1]);
            rings[ring].1 += 1;
        }
        rings.map(|(sum, count)| sum / f64::from(count.max(1)))
    };
    let (a, b) = (profile(&full), profile(&half));
    let rms = (a.iter().zip(&b).map(|(a, b)| (a - b).powi(2)).sum::<f64>() / a.len() as f64).sqrt();
    assert!(rms < 2e-3, "half the step changes the heights by {:.2} mm: {a:?} {b:?}", rms * 1e3);
    let (coarse, fine) = (hem(&full), hem(&fine));
    assert!((coarse - fine).abs() < 3e-3, "the hem is at {:.2} and {:.2} mm", coarse * 1e3, fine * 1e3);
}

/// Steps a drape and looks for crossings and sunken vertices after every few steps.
fn never_crosses(mut drape: Drape, steps: usize, mut each: impl FnMut(&mut Drape, usize), depth: impl Fn([f32; 3]) -> f32) {
    let triangles = drape.scene().triangles.clone();
    for k in 0..steps {
        each(&mut drape, k);
        drape.step();
        if k % 10 == 0 {
            let x = drape.positions();
            assert!(!crosses_itself(&x, &triangles, drape.fused_with()), "step {k}");
            assert!(x.iter().all(|p| depth(*p) > -1e-3), "step {k}: {}", x.iter().map(|p| depth(*p)).fold(f32::MAX, f32::min));
        }
    }
}

#[test]
fn cloth_folded_over_itself_never_crosses() {
    // a strip rolled up to a loose spiral falls together on a floor
    let grid = DistanceGrid::from_fn([-0.6, -0.1, -0.6], [0.6, 0.3, 0.6], 0.02, 0.05, |p| p[1]);
    let mut scene = sheet(0.1, 0.6, 0.02, WOVEN, |p| {
        let angle = 9.0 * p[1];
        let r = 0.03 + 0.05 * p[1] / 0.6;
        [p[0], 0.13 + r * angle.sin(), r * angle.cos()]
    });
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings.self_contact = true;
    never_crosses(Drape::new(scene).expect("a scene"), 240, |_, _| {}, |p| p[1]);
}

#[test]
fn a_wrung_tube_never_crosses() {
    // a tube sewn of two halves, one end pinned, the other turned by pins that walk round
    let radius = 0.06f32;
    let half = |turn: f32| {
        move |p: [f32; 2]| {
            let angle = turn + p[0] / radius;
            [radius * angle.cos(), p[1], -radius * angle.sin()]
        }
    };
    let width = f64::from(radius) * std::f64::consts::PI;
    let (a, b) = (sheet(width, 0.3, 0.02, WOVEN, half(0.0)), sheet(width, 0.3, 0.02, WOVEN, half(std::f32::consts::PI)));
    let n = a.positions.len() as u32;
    let side = |scene: &Scene, right: bool, first: u32| {
        let mut v = those(scene, |p| if right { p[0] > width as f32 - 1e-4 } else { p[0] < 1e-4 });
        v.sort_by(|&i, &j| scene.flat[i as usize][1].total_cmp(&scene.flat[j as usize][1]));
        v.into_iter().map(|i| i + first).collect::<Vec<_>>()
    };
    let seams = [(side(&a, true, 0), side(&b, false, n)), (side(&b, true, n), side(&a, false, 0))];
    let mut scene = together(a, b);
    for (k, (one, other)) in seams.iter().enumerate() {
        scene.pairs.extend(one.iter().zip(other).map(|(&a, &b)| cloth::SeamPair { a, b, seam: k as u32 }));
    }
    scene.settings.self_contact = true;
    scene.settings.gravity = 0.0;
    let (low, high) = (those(&scene, |p| p[1] < 1e-4), those(&scene, |p| p[1] > 0.2999));
    scene.pins = low;
    let start = scene.positions.clone();
    let drape = Drape::new(scene).expect("a scene");
    // hands at the upper rim walk round it
    let turn = move |drape: &mut Drape, k: usize| {
        if k == 0 {
            for (hand, &v) in high.iter().enumerate() {
                drape.grab(hand as u32, v, 0.011);
            }
        }
        let (sin, cos) = (k as f32 * 0.01).sin_cos();
        for (hand, &v) in high.iter().enumerate() {
            let p = start[v as usize];
            drape.pull_to(hand as u32, [p[0] * cos + p[2] * sin, p[1], p[2] * cos - p[0] * sin]);
        }
    };
    never_crosses(drape, 300, turn, |_| 1.0);
}

#[test]
fn a_sleeve_pushed_through_the_body_comes_out_or_stays_quiet() {
    let mut scene = sheet(0.3, 0.3, 0.02, WOVEN, |p| [p[0] - 0.15, 0.02, p[1] - 0.15]);
    scene.body = Some(ball(0.1));
    scene.settings.self_contact = true;
    let mut drape = Drape::new(scene).expect("a scene");
    for _ in 0..360 {
        let before = drape.positions();
        let fastest = drape.step().fastest;
        // what is deep inside, the cloth about it as well, comes out at the pace of a push; nearer the skin the cloth
        // outside draws at it
        for (a, b) in before.iter().zip(drape.positions()).filter(|(a, _)| glam::Vec3::from(**a).length() < 0.06) {
            let out = glam::Vec3::from(b).length() - glam::Vec3::from(*a).length();
            assert!(out < 3.0 * 0.4 / 120.0, "{:.1} mm outwards in a step from {a:?}", out * 1e3);
        }
        assert!(drape.positions().iter().flatten().all(|v| v.is_finite()) && fastest < 8.0, "nothing explodes: {fastest} m/s");
    }
    let deepest = drape.positions().iter().map(|p| glam::Vec3::from(*p).length() - 0.1).fold(f32::MAX, f32::min);
    assert!(deepest > -1e-3, "no vertex stays inside: {deepest}");
}

/// Potential and kinetic energy, J, of a sheet of a mass, from the positions of two steps.
fn energy(now: &[[f32; 3]], before: &[[f32; 3]], mass: f64) -> f64 {
    let of = |(a, b): (&[f32; 3], &[f32; 3])| {
        let v: f64 = (0..3).map(|c| f64::from(a[c] - b[c]) * 120.0).map(|v| v * v).sum();
        9.81 * f64::from(a[1]) + 0.5 * v
    };
    mass / now.len() as f64 * now.iter().zip(before).map(of).sum::<f64>()
}

/// Steps a drape and looks that its energy never grows, over windows long enough for stretch to take and give back.
fn energy_never_grows(mut drape: Drape, mass: f64, steps: usize) {
    let mut before = drape.positions();
    let mut last = f64::INFINITY;
    for k in 0..steps {
        drape.step();
        let now = drape.positions();
        let energy = energy(&now, &before, mass);
        if k % 30 == 29 {
            assert!(energy <= last + 2e-4, "step {k}: {energy} J after {last} J");
            last = energy;
        }
        before = now;
    }
    assert_ne!(drape.phase(), Phase::Closing);
}

#[test]
fn the_energy_of_swinging_cloth_never_grows() {
    let mut scene = sheet(0.3, 0.3, 0.03, WOVEN, |p| [p[0], 0.0, p[1]]);
    scene.pins = those(&scene, |p| p[1] < 1e-4);
    scene.settings.damping = [0.0, 0.0];
    scene.settings.calm_after = 100.0;
    energy_never_grows(Drape::new(scene).expect("a scene"), 0.15 * 0.09, 240);
}

#[test]
fn the_energy_of_cloth_that_meets_a_body_and_itself_never_grows() {
    let mut scene = sheet(0.3, 0.3, 0.02, WOVEN, |p| [p[0] - 0.1, 0.13, p[1] - 0.15]);
    scene.body = Some(ball(0.1));
    scene.settings.damping = [0.0, 0.0];
    scene.settings.calm_after = 100.0;
    scene.settings.self_contact = true;
    energy_never_grows(Drape::new(scene).expect("a scene"), 0.15 * 0.09, 240);
}
