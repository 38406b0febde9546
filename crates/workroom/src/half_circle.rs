//! A half-circle of cloth hung over a stand, to look at: how a cloth folds, falls and stands off.

use crate::delivery::cloth_material;
use crate::laboratory::{specimen, to_rest};
use cloth::{BodyShape, DistanceGrid, Fabric, Phase, Settings};
use costume::Look;
use formats::{ExportMesh, Group, Material, View};
use std::f64::consts::PI;
use std::sync::Arc;

/// Radius of the half-circle, m.
const RADIUS: f64 = 0.75;
/// Height of the stand's top, m; radii of its head and of its post.
const TOP: f32 = 1.0;
const HEAD: f32 = 0.14;
const POST: f32 = 0.05;
/// Longest time, simulated seconds.
const LIMIT: f64 = 15.0;

/// A half-circle that hangs.
pub struct HalfCircle {
    /// m; cloth first, then the stand it hangs on.
    pub positions: Vec<[f32; 3]>,
    /// Indices into the positions.
    pub triangles: Vec<[u32; 3]>,
    /// Whether it came to rest within its time.
    pub at_rest: bool,
    /// Places where cloth crosses cloth.
    pub crossings: usize,
}

/// Distance from the stand: a ball on a post.
fn stand(p: [f32; 3]) -> f32 {
    let across = p[0].hypot(p[2]);
    let ball = across.hypot(p[1] - (TOP - HEAD)) - HEAD;
    ball.min((across - POST).max(p[1] - (TOP - HEAD)))
}

/// Lays a half-circle, cut at `edge` m with its warp along its straight side, over a stand by its middle of gravity and
/// lets it fall until it rests; its warp runs along x. `None` when it cannot be simulated.
pub fn half_circle(fabric: &Fabric, edge: f64) -> Option<HalfCircle> {
    let along = (2.0 * RADIUS / edge).round();
    let mut outline: Vec<[f64; 2]> = (0..along as usize).map(|k| [RADIUS * (2.0 * k as f64 / along - 1.0), 0.0]).collect();
    let around = (PI * RADIUS / edge).round();
    outline.extend((0..around as usize).map(|k| (k as f64 / around * PI).sin_cos()).map(|(s, c)| [RADIUS * c, RADIUS * s]));
    let middle = (4.0 * RADIUS / (3.0 * PI)) as f32;
    // a breath of unevenness, so that folds may begin anywhere
    let height = |p: [f32; 2]| TOP + 0.006 + 2e-4 * (31.0 * p[0]).sin() * (23.0 * p[1] + 0.5).sin();
    let mut scene = specimen(&outline, edge, *fabric, |p| [p[0], height(p), p[1] - middle])?;
    scene.panels[0].grain = 0.0;
    let grid = DistanceGrid::from_fn([-0.2, 0.0, -0.2], [0.2, TOP + 0.06, 0.2], 0.006, 0.03, stand);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings = Settings::default();
    let drape = to_rest(scene, LIMIT)?;
    let triangles = drape.scene().triangles.clone();
    let positions = drape.positions();
    let crossings = fit::cloth_cloth(&fit::Surface::open(&positions, &triangles)).len();
    Some(HalfCircle { at_rest: drape.phase() == Phase::AtRest, positions, triangles, crossings })
}

impl HalfCircle {
    /// A picture of it on its stand (PNG), seen from a little to the left.
    pub fn picture(&self, colour: [f32; 3], look: Look, side: usize) -> Vec<u8> {
        let mesh = |material: Material, positions: Vec<[f32; 3]>, triangles: Vec<[u32; 3]>| ExportMesh {
            name: material.name.clone(),
            normals: ExportMesh::smooth_normals(&positions, &triangles),
            groups: vec![Group { name: material.name.clone(), first: 0, count: triangles.len(), material }],
            positions,
            triangles,
            ..ExportMesh::default()
        };
        let (positions, triangles) = turned_post();
        let meshes = [
            mesh(cloth_material("cloth".into(), colour, look), self.positions.clone(), self.triangles.clone()),
            mesh(cloth_material("stand".into(), [0.35, 0.30, 0.24], Look::Plain), positions, triangles),
        ];
        formats::picture(&meshes, &View { width: side, height: side, turn: -25.0, middle: 0.56, span: 1.16 })
    }
}

/// The stand as a mesh: its profile turned about its axis.
fn turned_post() -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
    const SIDES: u32 = 48;
    const RINGS: u32 = 24;
    let foot = (POST / HEAD).asin();
    let mut profile = vec![[POST, 0.0]];
    // over the ball from where the post meets it to its top
    profile.extend((0..=RINGS).map(|k| {
        let angle = (std::f32::consts::PI - foot) * (1.0 - k as f32 / RINGS as f32);
        [HEAD * angle.sin(), TOP - HEAD + HEAD * angle.cos()]
    }));
    let around = |[r, y]: [f32; 2], k: u32| {
        let (s, c) = (k as f32 / SIDES as f32 * std::f32::consts::TAU).sin_cos();
        [r * c, y, r * s]
    };
    let positions = profile.iter().flat_map(|&p| (0..SIDES).map(move |k| around(p, k))).collect();
    let quad = |ring: u32, k: u32| {
        let at = |ring: u32, k: u32| ring * SIDES + k % SIDES;
        [[at(ring, k), at(ring + 1, k), at(ring, k + 1)], [at(ring, k + 1), at(ring + 1, k), at(ring + 1, k + 1)]]
    };
    let triangles = (0..profile.len() as u32 - 1).flat_map(|ring| (0..SIDES).flat_map(move |k| quad(ring, k))).collect();
    (positions, triangles)
}
