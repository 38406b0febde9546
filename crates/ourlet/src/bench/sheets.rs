//! The two sheets whose speed and strain are measured: hung by two corners, and fallen over a ball.

use cloth::{BodyShape, DistanceGrid, Fabric, Scene, Settings};
use std::sync::Arc;
use workroom::laboratory::{rectangle, specimen};

const WOVEN: Fabric =
    Fabric { areal_density: 0.15, stretch: [2000.0; 2], shear: 100.0, bending: [10e-6; 2], thickness: 3e-4, friction: 0.3, locking: 1.0 };

/// Name and scene of every sheet, at about so many triangles; `None` when one cannot be meshed.
pub fn sheets(triangles: f64) -> Option<[(&'static str, Scene); 2]> {
    let edge = (1.0 / triangles * 2.31).sqrt();
    Some([("S1 corners", hung(edge)?), ("S2 ball", over_ball(edge)?)])
}

/// A sheet of one square metre, with air and self-contact.
fn sheet(edge: f64, place: impl Fn([f32; 2]) -> [f32; 3]) -> Option<Scene> {
    let scene = specimen(&rectangle(1.0, 1.0, edge), edge, WOVEN, place)?;
    Some(Scene { settings: Settings::default(), ..scene })
}

fn hung(edge: f64) -> Option<Scene> {
    let mut scene = sheet(edge, |p| [p[0], 0.0, p[1]])?;
    let corner = |p: &[f32; 2]| p[1] < 1e-4 && (p[0] < 1e-4 || p[0] > 0.9999);
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| corner(&scene.flat[i as usize])).collect();
    Some(scene)
}

fn over_ball(edge: f64) -> Option<Scene> {
    let mut scene = sheet(edge, |p| [p[0] - 0.5, 0.27, p[1] - 0.5])?;
    let ball = |p: [f32; 3]| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.25;
    let grid = DistanceGrid::from_fn([-0.32; 3], [0.32; 3], 0.008, 0.045, ball);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    Some(scene)
}
