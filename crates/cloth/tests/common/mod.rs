//! Sheets, running and looking, shared by the tests of the simulator.
#![allow(dead_code)]

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Panel, Phase, Scene, Settings};
use std::sync::Arc;

pub const WOVEN: Fabric = Fabric {
    areal_density: 0.15,
    stretch: [2000.0, 2000.0],
    shear: 100.0,
    bending: [10e-6, 10e-6],
    thickness: 3e-4,
    friction: 0.3,
    locking: f32::INFINITY,
};

/// A sheet `width` x `height` m cut into triangles of about `edge` m; `place` hangs its flat points.
pub fn sheet(width: f64, height: f64, edge: f64, fabric: Fabric, place: impl Fn([f32; 2]) -> [f32; 3]) -> Scene {
    let outline = outline(width * 1000.0, height * 1000.0, edge * 1000.0);
    let flat = mesh::triangulate(&outline, edge * 1000.0).expect("a rectangle can be meshed");
    let points: Vec<[f32; 2]> = flat.points.iter().map(|p| p.map(|v| (v / 1000.0) as f32)).collect();
    let count = flat.triangles.len();
    Scene {
        positions: points.iter().map(|p| place(*p)).collect(),
        flat: points,
        triangles: flat.triangles,
        panels: vec![Panel { name: "sheet".into(), fabric, grain: std::f32::consts::FRAC_PI_2, first: 0, count }],
        pairs: Vec::new(),
        body: None,
        pins: Vec::new(),
        construction: Default::default(),
        settings: Settings { air: 0.0, self_contact: false, ..Settings::default() },
    }
}

pub fn outline(width: f64, height: f64, edge: f64) -> Vec<[f64; 2]> {
    let (nx, ny) = ((width / edge).round().max(1.0), (height / edge).round().max(1.0));
    let along = |n: f64| (0..n as usize).map(move |k| k as f64 / n);
    let mut points: Vec<[f64; 2]> = along(nx).map(|t| [t * width, 0.0]).collect();
    points.extend(along(ny).map(|t| [width, t * height]));
    points.extend(along(nx).map(|t| [width * (1.0 - t), height]));
    points.extend(along(ny).map(|t| [0.0, height * (1.0 - t)]));
    points
}

pub fn run(drape: &mut Drape, seconds: f64) {
    while drape.time() < seconds && drape.phase() != Phase::AtRest {
        drape.step();
    }
}

/// Two scenes as one.
pub fn together(mut a: Scene, b: Scene) -> Scene {
    let (n, t) = (a.positions.len() as u32, a.triangles.len());
    a.positions.extend(b.positions);
    a.flat.extend(b.flat);
    a.triangles.extend(b.triangles.iter().map(|v| v.map(|i| i + n)));
    a.panels.extend(b.panels.into_iter().map(|p| Panel { first: p.first + t, ..p }));
    a
}

/// Whether any edge of one triangle goes through another that shares no vertex with it.
pub fn crosses_itself(x: &[[f32; 3]], triangles: &[[u32; 3]], fused: &[u32]) -> bool {
    let at = |v: u32| glam::DVec3::from_array(x[v as usize].map(f64::from));
    let root = |t: &[u32; 3]| t.map(|v| fused[v as usize]);
    let boxes: Vec<_> = triangles.iter().map(|t| t.map(at)).map(|[a, b, c]| (a.min(b).min(c), a.max(b).max(c))).collect();
    let through = |p: glam::DVec3, q: glam::DVec3, [a, b, c]: [glam::DVec3; 3]| {
        let volume = |a: glam::DVec3, b: glam::DVec3, c: glam::DVec3, d: glam::DVec3| (b - a).cross(c - a).dot(d - a);
        let sides = [volume(p, q, a, b), volume(p, q, b, c), volume(p, q, c, a)];
        volume(a, b, c, p) * volume(a, b, c, q) < 0.0 && (sides.iter().all(|s| *s > 0.0) || sides.iter().all(|s| *s < 0.0))
    };
    triangles.iter().enumerate().any(|(i, t)| {
        triangles.iter().enumerate().any(|(j, o)| {
            let near = (boxes[i].0.max(boxes[j].0) - boxes[i].1.min(boxes[j].1)).max_element() < 0.0;
            near && root(t).iter().all(|v| !root(o).contains(v)) && (0..3).any(|k| through(at(t[k]), at(t[(k + 1) % 3]), o.map(at)))
        })
    })
}

/// A ball around the origin.
pub fn ball(radius: f32) -> BodyShape {
    let reach = radius + 0.15;
    let grid = DistanceGrid::from_fn([-reach; 3], [reach; 3], 0.01, 0.06, |p| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - radius);
    BodyShape::still(Arc::new(grid), Arc::new([1.0]))
}

/// Vertices whose flat place meets a condition.
pub fn those(scene: &Scene, is: impl Fn([f32; 2]) -> bool) -> Vec<u32> {
    (0..scene.flat.len() as u32).filter(|&i| is(scene.flat[i as usize])).collect()
}

/// Mean of a coordinate over vertices, m.
pub fn mean(drape: &Drape, of: &[u32], axis: usize) -> f64 {
    let x = drape.positions();
    of.iter().map(|&i| f64::from(x[i as usize][axis])).sum::<f64>() / of.len() as f64
}
