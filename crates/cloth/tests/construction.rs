//! Folds, tapes, stays and wear order against formulas.

mod common;

use cloth::{Drape, EdgeTape, Fabric, Fold, Phase, Scene, Stay};
use common::{WOVEN, ball, crosses_itself, mean, run, sheet, those, together};

/// Mesh edges between neighbours of a list sorted along y.
fn edges_along(scene: &Scene, vertices: Vec<u32>) -> Vec<[u32; 2]> {
    upwards(scene, vertices).windows(2).map(|w| [w[0], w[1]]).collect()
}

/// Vertices sorted along y.
fn upwards(scene: &Scene, mut vertices: Vec<u32>) -> Vec<u32> {
    vertices.sort_by(|&a, &b| scene.flat[a as usize][1].total_cmp(&scene.flat[b as usize][1]));
    vertices
}

#[test]
fn a_pressed_fold_comes_to_rest_at_its_angle() {
    for degrees in [90.0f32, -60.0] {
        let (a, b) = (sheet(0.1, 0.06, 0.01, WOVEN, |p| [p[0] - 0.1, 0.0, p[1]]), sheet(0.1, 0.06, 0.01, WOVEN, |p| [p[0], 0.0, p[1]]));
        let n = a.positions.len() as u32;
        let (right, left) = (those(&a, |p| p[0] > 0.0999), those(&b, |p| p[0] < 1e-4));
        let mut scene = together(a, b);
        let order = |mut v: Vec<u32>, first: u32| {
            v.sort_by(|&a, &b| scene.flat[(a + first) as usize][1].total_cmp(&scene.flat[(b + first) as usize][1]));
            v.into_iter().map(|i| i + first).collect::<Vec<_>>()
        };
        let (right, left) = (order(right, 0), order(left, n));
        scene.pairs = right.iter().zip(&left).map(|(&a, &b)| cloth::SeamPair { a, b, seam: 0 }).collect();
        scene.construction.folds = vec![Fold { vertices: right.clone(), angle: degrees.to_radians(), press: 30.0 }];
        scene.settings.gravity = 0.0;
        let (one, other) = (those(&scene, |_| true), n);
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 8.0);
        let x = drape.positions();
        let at = |v: u32| glam::DVec3::from_array(x[v as usize].map(f64::from));
        let middle = |range: &dyn Fn(u32) -> bool| {
            let own: Vec<u32> = one.iter().copied().filter(|&i| range(i)).collect();
            own.iter().map(|&i| at(i)).sum::<glam::DVec3>() / own.len() as f64
        };
        let line = right.iter().map(|&i| at(i)).sum::<glam::DVec3>() / right.len() as f64;
        let (u, v) = (middle(&|i| i < other) - line, middle(&|i| i >= other) - line);
        let turned = 180.0 - u.angle_between(v).to_degrees();
        assert!((turned - f64::from(degrees.abs())).abs() < 4.0, "{turned:.1} of {degrees}");
        // the front of these sheets looks down: a positive fold brings the sides together below
        assert_eq!((u + v).y < 0.0, degrees > 0.0, "it folds to the side that was asked for");
    }
}

#[test]
fn a_stay_tape_carries_its_share_of_a_hanging_strip() {
    let soft = Fabric { stretch: [200.0; 2], ..WOVEN };
    let elongation = |tape: f32| {
        let mut scene = sheet(0.1, 1.0, 0.02, soft, |p| [p[0], p[1], 0.0]);
        scene.pins = those(&scene, |p| p[1] > 0.9999);
        let hem = those(&scene, |p| p[1] < 1e-4);
        if tape > 0.0 {
            let sides = [those(&scene, |p| p[0] < 1e-4), those(&scene, |p| p[0] > 0.0999)];
            let tapes = sides.map(|side| EdgeTape { edges: edges_along(&scene, side), length: 1.0, stiffness: tape });
            scene.construction.tapes = tapes.to_vec();
        }
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 10.0);
        -mean(&drape, &hem, 1)
    };
    for tape in [0.0, 15.0] {
        // half the weight hangs on the cloth's and both tapes' stiffness together
        let expected = 0.15 * 9.81 * 0.1 / (2.0 * (200.0 * 0.1 + 2.0 * f64::from(tape)));
        let measured = elongation(tape);
        assert!((measured / expected - 1.0).abs() < 0.05, "{:.3} mm, expected {:.3} mm", measured * 1e3, expected * 1e3);
    }
}

#[test]
fn an_elastic_gathers_an_edge_to_its_own_length() {
    let mut scene = sheet(0.3, 0.1, 0.01, Fabric { bending: [2e-6; 2], ..WOVEN }, |p| [p[0], p[1], 0.002 * (p[0] * 90.0).sin()]);
    let mut top = those(&scene, |p| p[1] > 0.0999);
    top.sort_by(|&a, &b| scene.flat[a as usize][0].total_cmp(&scene.flat[b as usize][0]));
    let edges = top.windows(2).map(|w| [w[0], w[1]]).collect();
    scene.construction.tapes = vec![EdgeTape { edges, length: 0.7, stiffness: 20.0 }];
    scene.settings.gravity = 0.0;
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 6.0);
    let x = drape.positions();
    let at = |i: u32| glam::Vec3::from(x[i as usize]);
    let along: f32 = top.windows(2).map(|w| at(w[0]).distance(at(w[1]))).sum();
    let reach = at(top[0]).distance(at(top[top.len() - 1]));
    // the mesh edges themselves resist being shortened; the elastic wins within a few percent, or the edge ruffles
    assert!(along < 0.3 && reach < 0.24, "the edge reaches {reach:.3} m of 0.3, {along:.3} m along it");
    let hem = those(drape.scene(), |p| p[1] < 1e-4);
    let ends = [hem[0], hem[hem.len() - 1]].map(at);
    assert!(ends[0].distance(ends[1]) > reach, "the free edge stays wider than the gathered one");
}

#[test]
fn an_elastic_that_is_held_long_pulls_with_its_whole_force() {
    // a heavy strip of the softest cloth hangs on an elastic along either side: the cloth is slack, the elastics carry all
    let (width, length, stiffness, share) = (0.1, 0.8, 12.0, 0.7);
    let fabric = Fabric { areal_density: 5.0, stretch: [30.0; 2], shear: 1.0, ..WOVEN };
    let mut scene = sheet(width, length, 0.02, fabric, |p| [p[0], share * p[1], 0.0]);
    scene.pins = those(&scene, |p| p[1] > length as f32 - 1e-4);
    let side = |x: f32| {
        let mut v = those(&scene, |p| (p[0] - x).abs() < 1e-4);
        v.sort_by(|a, b| scene.flat[*a as usize][1].total_cmp(&scene.flat[*b as usize][1]));
        v.windows(2).map(|w| [w[0], w[1]]).collect::<Vec<_>>()
    };
    let tape = |edges| EdgeTape { edges, length: share, stiffness };
    scene.construction.tapes = vec![tape(side(0.0)), tape(side(width as f32))];
    let hem = those(&scene, |p| p[1] < 1e-4 && (p[0] < 1e-4 || p[0] > width as f32 - 1e-4));
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 20.0);
    // each carries half the weight below: the strain grows to w L / 2 k at the top, half of that on the whole
    let strain = 0.5 * (5.0 * width * length * 9.81 / 2.0) / f64::from(stiffness);
    let expected = f64::from(share) * length * (1.0 + strain);
    let hangs = f64::from(share) * length - mean(&drape, &hem, 1);
    assert!(strain > 0.07 && (hangs / expected - 1.0).abs() < 0.05, "{hangs:.4} m, expected {expected:.4} m at a strain of {strain:.2}");
}

#[test]
fn a_stay_keeps_its_level_and_lets_cloth_slide_around() {
    let mut scene = sheet(0.2, 0.2, 0.02, WOVEN, |p| [p[0], p[1], 0.0]);
    let top = those(&scene, |p| p[1] > 0.1999);
    scene.construction.stays = vec![Stay { vertices: top.clone(), height: None }];
    scene.settings.conditions = cloth::Conditions { wind: [0.0, 0.0, 1.0], ..cloth::Conditions::default() };
    scene.settings.air = 1.2;
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 1.0);
    assert!((mean(&drape, &top, 1) - 0.2).abs() < 2e-3, "the stay is at {:.4} m", mean(&drape, &top, 1));
    assert!(mean(&drape, &top, 2) > 0.05, "the wind takes it along");
}

#[test]
fn two_layers_pushed_through_each_other_come_apart_in_wear_order() {
    // the outer sheet starts partly below the inner one, on a ball
    let inner = sheet(0.3, 0.3, 0.02, WOVEN, |p| [0.15 - p[0], 0.156 + 0.01 * p[1], p[1] - 0.15]);
    let outer = sheet(0.3, 0.3, 0.02, WOVEN, |p| [0.153 - p[0], 0.15 + 0.06 * p[0], p[1] - 0.146 + 0.02 * p[0]]);
    let n = inner.positions.len();
    let mut scene = together(inner, outer);
    scene.body = Some(ball(0.15));
    scene.settings.self_contact = true;
    scene.construction.wear = vec![1, 2];
    let triangles = scene.triangles.clone();
    assert!(crosses_itself(&scene.positions, &triangles, &(0..scene.positions.len() as u32).collect::<Vec<_>>()));
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 6.0);
    let x = drape.positions();
    assert!(!crosses_itself(&x, &triangles, drape.fused_with()), "{} edges still cross", drape.statistics().tangles);
    let height = |range: std::ops::Range<usize>| {
        let near: Vec<f32> = x[range].iter().filter(|p| p[0].hypot(p[2]) < 0.05).map(|p| p[1]).collect();
        near.iter().sum::<f32>() / near.len() as f32
    };
    assert!(height(n..x.len()) > height(0..n), "the outer layer lies outside");
    assert!(x.iter().flatten().all(|v| v.is_finite() && v.abs() < 1.5));
    assert_eq!(drape.phase(), Phase::AtRest);
}

#[test]
fn a_band_that_is_too_short_stays_open_outside_the_body() {
    const RADIUS: f32 = 0.1;
    let closed = |share: f32| {
        let length = share * 2.0 * std::f32::consts::PI * (RADIUS + 0.003);
        let fabric = Fabric { locking: 0.06, ..WOVEN };
        let around = |p: [f32; 2]| {
            let angle = (p[0] - 0.5 * length) / (RADIUS + 0.02);
            [(RADIUS + 0.02) * angle.sin(), p[1] - 0.02, (RADIUS + 0.02) * angle.cos()]
        };
        let mut scene = sheet(f64::from(length), 0.04, 0.01, fabric, around);
        let (first, last) = (those(&scene, |p| p[0] < 1e-4), those(&scene, |p| p[0] > length - 1e-4));
        scene.pairs =
            upwards(&scene, first).into_iter().zip(upwards(&scene, last)).map(|(a, b)| cloth::SeamPair { a, b, seam: 0 }).collect();
        scene.body = Some(ball(RADIUS));
        scene.settings.gravity = 0.0;
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 4.0);
        let least = drape.positions().iter().map(|p| glam::Vec3::from(*p).length()).fold(f32::MAX, f32::min);
        assert!(least > RADIUS, "{share}: {least} m from the middle of a ball of {RADIUS} m");
        let strain = drape.strain().into_iter().fold(0.0f32, f32::max);
        // it may be drawn until the cloth locks, where it is ten times as stiff
        assert!(strain < 0.12, "{share}: {strain}");
        drape.seam_gaps(1)[0]
    };
    assert_eq!(closed(1.04), 0.0);
    let gap = closed(0.8);
    assert!(gap > 0.05, "a fifth of {:.3} m is missing, {gap} m are open", 2.0 * std::f32::consts::PI * RADIUS);
}

#[test]
fn a_sleeve_closes_before_it_is_drawn_to_its_armhole() {
    // a strip bent to a tube, and a patch to be sewn to its side
    let around = |p: [f32; 2]| [0.05 * (p[0] / 0.05).sin(), p[1], 0.05 * (p[0] / 0.05).cos()];
    let (tube, patch) = (sheet(0.28, 0.1, 0.02, WOVEN, around), sheet(0.1, 0.1, 0.02, WOVEN, |p| [p[0] + 0.3, p[1], 0.0]));
    let n = tube.positions.len() as u32;
    let side = |scene: &Scene, at: f32| upwards(scene, those(scene, |p| (p[0] - at).abs() < 1e-4));
    let pair = |a: Vec<u32>, b: Vec<u32>, seam| a.into_iter().zip(b).map(move |(a, b)| cloth::SeamPair { a, b, seam });
    let own = pair(side(&tube, 0.0), side(&tube, 0.28), 0);
    let other = pair(side(&tube, 0.28), side(&patch, 0.0).into_iter().map(|v| v + n).collect(), 1);
    let pairs = own.chain(other).collect();
    let mut scene = together(tube, patch);
    scene.pairs = pairs;
    let mut drape = Drape::new(scene).expect("a scene");
    let before = drape.seam_gaps(2)[1];
    while drape.seam_gaps(2)[0] > 0.0 {
        assert!(drape.seam_gaps(2)[1] > 0.8 * before, "the patch waits");
        drape.step();
    }
    run(&mut drape, 3.0);
    assert_eq!(drape.seam_gaps(2), [0.0, 0.0]);
}

/// Two sheets side by side with a gap, `left` and `right` m high and cut into as many edges, to be sewn along it.
fn side_by_side(left: f64, right: f64, gap: f32) -> Scene {
    let middle = |height: f64| move |y: f32| y - 0.5 * height as f32;
    let (low, high) = (middle(left), middle(right));
    let a = sheet(0.2, left, left / 12.0, WOVEN, |p| [p[0] - 0.2 - 0.5 * gap, low(p[1]), 0.3 * (p[0] - 0.2).powi(2)]);
    let b = sheet(0.2, right, right / 12.0, WOVEN, |p| [p[0] + 0.5 * gap, high(p[1]), -0.3 * p[0].powi(2)]);
    let n = a.positions.len() as u32;
    let (ends, starts) = (upwards(&a, those(&a, |p| p[0] > 0.1999)), upwards(&b, those(&b, |p| p[0] < 1e-4)));
    let pairs = ends.into_iter().zip(starts).map(|(a, b)| cloth::SeamPair { a, b: b + n, seam: 0 }).collect();
    let mut scene = together(a, b);
    scene.pairs = pairs;
    scene.settings.self_contact = true;
    scene.settings.gravity = 0.0;
    scene
}

fn closes_without_crossings(scene: Scene, seconds: f64) {
    let triangles = scene.triangles.clone();
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, seconds);
    assert_eq!(drape.seam_gaps(1), [0.0]);
    assert!(!crosses_itself(&drape.positions(), &triangles, drape.fused_with()), "{} edges cross", drape.statistics().tangles);
}

#[test]
fn a_long_edge_is_gathered_into_a_short_one() {
    let scene = side_by_side(0.36, 0.24, 0.1);
    assert_eq!(scene.pairs.len(), 13);
    closes_without_crossings(scene, 12.0);
}

#[test]
fn a_seam_with_a_scrap_of_cloth_between_its_sides_closes_and_the_scrap_comes_free() {
    let scrap = sheet(0.08, 0.06, 0.02, WOVEN, |p| [0.004 * (p[0] * 60.0).sin(), p[1] - 0.03, p[0] - 0.04]);
    closes_without_crossings(together(side_by_side(0.24, 0.24, 0.06), scrap), 15.0);
}
