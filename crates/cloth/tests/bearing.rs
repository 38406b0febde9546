//! What bears cloth at rest, against closed forms.

mod common;

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Scene, Stay};
use common::{WOVEN, run, sheet};
use std::f32::consts::FRAC_PI_2;
use std::sync::Arc;

const G: f32 = 9.81;
/// Of the cylinder, m.
const RADIUS: f32 = 0.1;

/// A strip 8 cm wide over a level cylinder along x, hanging down evenly on both sides, at rest.
fn over_a_cylinder(length: f32, friction: f32) -> Drape {
    let grid = DistanceGrid::from_fn([-0.1, -0.6, -0.2], [0.1, 0.2, 0.2], 0.005, 0.04, |p| p[1].hypot(p[2]) - RADIUS);
    let round = RADIUS + 0.0035;
    // so soft that its tension does not hang on hundredths of a millimetre of the grid
    let fabric = Fabric { friction, bending: [1e-7; 2], stretch: [60.0; 2], shear: 10.0, ..WOVEN };
    let mut scene: Scene = sheet(0.08, length.into(), 0.01, fabric, |[x, y]| {
        let s = y - 0.5 * length;
        let arc = FRAC_PI_2 * round;
        let (angle, below) = (s.clamp(-arc, arc) / round, (s.abs() - arc).max(0.0));
        [x - 0.04, round * angle.cos() - below, round * angle.sin()]
    });
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 6.0);
    drape
}

#[test]
fn a_strip_over_a_cylinder_presses_with_its_tension_over_the_radius() {
    // hardly any friction, which would take up a part of the tension
    let length = 0.9;
    let drape = over_a_cylinder(length, 0.002);
    let bearing = drape.bearing();
    let up: f32 = bearing.body.iter().map(|f| f[1]).sum();
    assert!((up / bearing.weight - 1.0).abs() < 0.02, "{up} N bear {} N", bearing.weight);
    // without friction the tension at an angle from the top is the weight of what hangs lower: sigma g (R cos + h)
    let round = RADIUS + 3e-3 + 0.5 * WOVEN.thickness;
    let hangs = 0.5 * length - FRAC_PI_2 * round;
    let (mut found, mut expected, mut count) = (0.0, 0.0, 0);
    for (p, pressure) in drape.positions().iter().zip(&bearing.pressure) {
        let angle = p[2].atan2(p[1]);
        // away from the borders, whose vertices have half the cloth around them
        if angle.abs() < 0.9 && p[0].abs() < 0.03 {
            found += pressure;
            expected += WOVEN.areal_density * G * (2.0 * angle.cos() + hangs / round);
            count += 1;
        }
    }
    assert!(count > 60 && (found / expected - 1.0).abs() < 0.05, "{} Pa instead of {}", found / count as f32, expected / count as f32);
}

#[test]
fn friction_bears_no_more_than_it_can() {
    // on a steep slope friction bears the weight along it: sin 20 of cos 20 times 0.5
    let slope = 20.0f32.to_radians();
    let grid = DistanceGrid::from_fn([-0.4; 3], [0.4; 3], 0.01, 0.06, |p| p[1] * slope.cos() - p[2] * slope.sin());
    let lift = 3e-3 + 0.5 * WOVEN.thickness;
    let mut scene = sheet(0.2, 0.2, 0.02, Fabric { friction: 0.5, ..WOVEN }, |[x, y]| {
        let along = y - 0.1;
        [x - 0.1, along * slope.sin() + lift / slope.cos(), along * slope.cos()]
    });
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    let mut drape = Drape::new(scene).expect("a scene");
    run(&mut drape, 3.0);
    let bearing = drape.bearing();
    let share = bearing.weight * slope.sin() / bearing.friction.iter().sum::<f32>();
    assert!((share - slope.tan() / 0.5).abs() < 0.03, "{share} of what friction can bear");
}

#[test]
fn stays_and_pins_carry_what_hangs_from_them() {
    let hung = |stay: bool| {
        let mut scene = sheet(0.2, 0.3, 0.02, WOVEN, |[x, y]| [x, y + 1.0, 0.0]);
        let top: Vec<u32> = (0..scene.flat.len() as u32).filter(|v| scene.flat[*v as usize][1] > 0.299).collect();
        if stay {
            scene.construction.stays = vec![Stay { vertices: top, height: None }];
        } else {
            scene.pins = top;
        }
        let mut drape = Drape::new(scene).expect("a scene");
        run(&mut drape, 8.0);
        drape.bearing()
    };
    let sum = |f: &[[f32; 3]]| f.iter().map(|f| f[1]).sum::<f32>();
    let pinned = hung(false);
    assert!((sum(&pinned.pins) / pinned.weight - 1.0).abs() < 0.02, "{} N of {}", sum(&pinned.pins), pinned.weight);
    let stayed = hung(true);
    assert!((sum(&stayed.stays) / stayed.weight - 1.0).abs() < 0.02, "{} N of {}", sum(&stayed.stays), stayed.weight);
    assert!((pinned.weight / (0.15 * 0.06 * G) - 1.0).abs() < 1e-3);
}
