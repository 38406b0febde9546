//! Cloth held to the skin, to a thing beside it, or by its own roughness, against formulas.

mod common;

use cloth::{BodyShape, DistanceGrid, Drape, GripSpot, Motion, Scene, SkinHold, Thing};
use common::{WOVEN, ball, mean, run, sheet, those};
use glam::Vec3;
use std::sync::Arc;

const RADIUS: f32 = 0.12;

/// A sheet of 16 x 10 cm that hangs beside a ball, with its upper edge.
fn beside_a_ball(off: f32) -> (Scene, Vec<u32>) {
    let mut scene = sheet(0.16, 0.1, 0.02, WOVEN, |p| {
        let angle = (p[0] - 0.08) / (RADIUS + off);
        [(RADIUS + off) * angle.sin(), p[1] - 0.1, (RADIUS + off) * angle.cos()]
    });
    scene.body = Some(BodyShape { friction: Arc::new([0.0]), ..ball(RADIUS) });
    scene.settings.self_contact = false;
    let top = those(&scene, |p| p[1] > 0.0999);
    (scene, top)
}

fn hold(vertices: &[u32], stiffness: f32) -> SkinHold {
    SkinHold { vertices: vertices.to_vec(), stiffness: vec![stiffness; vertices.len()], distance: None, slides: false, to: None }
}

/// Distances of vertices from a point, m.
fn from(drape: &Drape, vertices: &[u32], centre: Vec3) -> Vec<f32> {
    let x = drape.positions();
    vertices.iter().map(|v| Vec3::from(x[*v as usize]).distance(centre)).collect()
}

#[test]
fn what_is_held_to_its_spot_carries_the_weight_below_as_springs_do() {
    let (mut scene, top) = beside_a_ball(0.02);
    let stiffness = 30.0;
    scene.construction.skin_holds = vec![hold(&top, stiffness)];
    let mut drape = Drape::new(scene).expect("a scene");
    let before = mean(&drape, &top, 1);
    run(&mut drape, 6.0);
    let sag = before - mean(&drape, &top, 1);
    let expected = 0.15 * 9.81 * 0.16 * 0.1 / (f64::from(stiffness) * top.len() as f64);
    assert!((sag / expected - 1.0).abs() < 0.1, "{:.3} mm, expected {:.3} mm", sag * 1e3, expected * 1e3);
}

#[test]
fn an_edge_is_drawn_to_its_distance_from_the_skin_also_from_far_away() {
    // the second hangs beyond the distances that are sampled
    for off in [0.03, 0.1] {
        let (mut scene, top) = beside_a_ball(off);
        scene.settings.gravity = 0.0;
        scene.construction.skin_holds = vec![SkinHold { distance: Some(0.008), slides: true, ..hold(&top, 60.0) }];
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 6.0);
        let away = from(&drape, &top, Vec3::ZERO);
        assert!(away.iter().all(|d| (d - RADIUS - 0.008).abs() < 1.5e-3), "{away:?}");
    }
}

#[test]
fn what_slides_keeps_its_distance_and_falls() {
    let held = |slides: bool| {
        let (mut scene, top) = beside_a_ball(0.01);
        scene.construction.skin_holds = vec![SkinHold { slides, ..hold(&top, 60.0) }];
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 1.0);
        let off = from(&drape, &top, Vec3::ZERO).into_iter().map(|d| (d - RADIUS - 0.01).abs()).fold(0.0, f32::max);
        (mean(&drape, &top, 1), off)
    };
    let ((fixed, _), (sliding, off)) = (held(false), held(true));
    assert!(fixed > -2e-3 && sliding < -0.05 && off < 4e-3, "fixed at {fixed:.3}, sliding at {sliding:.3} m and {off:.4} m off");
}

/// A ball in another place.
fn ball_at(centre: Vec3) -> Arc<DistanceGrid> {
    let (low, high) = (centre - RADIUS - 0.15, centre + RADIUS + 0.15);
    Arc::new(DistanceGrid::from_fn(low.to_array(), high.to_array(), 0.01, 0.06, |p| (Vec3::from(p) - centre).length() - RADIUS))
}

#[test]
fn what_is_held_goes_with_the_body_and_turns_with_it() {
    let (mut scene, top) = beside_a_ball(0.01);
    scene.construction.skin_holds = vec![hold(&top, 200.0)];
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 2.0);
    let (spots, frames) = (drape.positions(), 60);
    // a quarter turn about the upright through its middle while it goes 24 cm to the side, in half a second
    let (way, turn, seconds) = (Vec3::X * 0.24, std::f32::consts::FRAC_PI_2, 0.5);
    for frame in 1..=frames {
        let centre = way * (frame as f32 / frames as f32);
        let spin = turn / seconds;
        // of a body that turns about its own middle: v = u + w x (p - c)
        let linear = way / seconds - Vec3::new(0.0, spin, 0.0).cross(centre);
        let motion = Arc::new([Motion { linear: linear.to_array(), angular: [0.0, spin, 0.0] }]);
        let grid = ball_at(centre);
        drape.set_body(BodyShape { motion, ..BodyShape::still(grid, Arc::new([0.0])) });
        drape.step();
    }
    drape.set_body(BodyShape::still(ball_at(way), Arc::new([0.0])));
    run(&mut drape, 3.0);
    let now = drape.positions();
    let farthest = top.iter().map(|v| {
        let at = glam::Quat::from_rotation_y(turn) * Vec3::from(spots[*v as usize]) + way;
        at.distance(Vec3::from(now[*v as usize]))
    });
    let farthest = farthest.fold(0.0, f32::max);
    assert!(farthest < 6e-3, "{:.1} mm from where the skin has gone", farthest * 1e3);
}

#[test]
fn a_thing_beside_the_body_holds_cloth_that_the_skin_does_not() {
    let (mut scene, top) = beside_a_ball(0.03);
    scene.settings.gravity = 0.0;
    // a bar along x in front of the upper edge
    let bar = |p: Vec3| Vec3::new(0.0, p.y, p.z - 0.22).length() - 0.01;
    let body = scene.body.take().expect("a ball");
    scene.body = Some(BodyShape { things: Arc::new([Thing { distance: Arc::new(bar), region: 0 }]), ..body });
    scene.construction.skin_holds = vec![SkinHold { distance: Some(0.005), slides: true, to: Some(0), ..hold(&top, 60.0) }];
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 6.0);
    let x = drape.positions();
    let off: Vec<f32> = top.iter().map(|v| bar(x[*v as usize].into()) - 0.005).collect();
    assert!(off.iter().all(|d| d.abs() < 2e-3), "{off:?}");
}

#[test]
fn rough_places_of_cloth_or_body_stop_what_would_slide() {
    // on a slope of 25 degrees a friction of 0.3 does not hold: sin 25 > 0.3 cos 25; twice as much does
    let slope = 25f32.to_radians();
    let up = Vec3::new(-slope.sin(), slope.cos(), 0.0);
    let slid = |grip: Option<f32>, spot: Option<f32>| {
        let grid = DistanceGrid::from_fn([-1.0; 3], [1.0; 3], 0.025, 0.06, |p| Vec3::from(p).dot(up));
        let along = Vec3::new(slope.cos(), slope.sin(), 0.0);
        let mut scene = sheet(0.2, 0.2, 0.04, cloth::Fabric { bending: [1e-2; 2], ..WOVEN }, |p| {
            (along * (p[0] - 0.1) + Vec3::Z * (0.1 - p[1]) + up * 0.0032).to_array()
        });
        let grips: Vec<GripSpot> = spot.map(|factor| GripSpot { centre: [0.0; 3], radius: 0.2, factor }).into_iter().collect();
        scene.body = Some(BodyShape { grips: grips.into(), ..BodyShape::still(Arc::new(grid), Arc::new([1.0])) });
        scene.construction.grip = grip.map_or_else(Vec::new, |g| vec![g; scene.positions.len()]);
        scene.settings.damping = [0.0; 2];
        let all = those(&scene, |_| true);
        let mut drape = Drape::new(scene).expect("a scene");
        let before = mean(&drape, &all, 0);
        run(&mut drape, 0.5);
        before - mean(&drape, &all, 0)
    };
    let (plain, cloth, body) = (slid(None, None), slid(Some(2.0), None), slid(None, Some(2.0)));
    assert!(plain > 0.05 && cloth < 5e-3 && body < 5e-3, "plain {plain:.3}, rough cloth {cloth:.4}, rough skin {body:.4} m");
}

#[test]
fn a_pin_in_cloth_on_the_skin_goes_with_the_body() {
    let speed = 0.3;
    let grid = Arc::new(DistanceGrid::from_fn([-1.0, -0.1, -1.0], [1.0, 0.1, 1.0], 0.02, 0.05, |p| p[1]));
    let mut scene = sheet(0.2, 0.2, 0.04, WOVEN, |p| [p[0], 0.0032, p[1]]);
    scene.pins = vec![0];
    let motion = Arc::new([Motion { linear: [speed, 0.0, 0.0], angular: [0.0; 3] }]);
    scene.body = Some(BodyShape { motion, ..BodyShape::still(grid, Arc::new([0.0])) });
    let mut drape = Drape::new(scene).expect("a scene");
    let start = drape.positions()[0][0];
    run(&mut drape, 0.5);
    let expected = speed * drape.time() as f32;
    assert!((drape.positions()[0][0] - start - expected).abs() < 1e-3, "{} of {expected} m", drape.positions()[0][0] - start);
}

#[test]
fn holds_that_cannot_be_simulated_are_refused() {
    for stiffness in [-1.0, f32::NAN, 1e9] {
        let (mut scene, top) = beside_a_ball(0.01);
        scene.construction.skin_holds = vec![hold(&top, stiffness)];
        assert!(Drape::new(scene).is_err(), "{stiffness} N/m");
    }
    let (mut scene, top) = beside_a_ball(0.01);
    scene.construction.skin_holds = vec![SkinHold { distance: Some(f32::NAN), ..hold(&top, 1.0) }];
    assert!(Drape::new(scene).is_err(), "a distance that is no number");
    let (mut scene, _) = beside_a_ball(0.01);
    scene.construction.grip = vec![1.0];
    assert!(Drape::new(scene).is_err(), "a factor for one vertex of many");
}
