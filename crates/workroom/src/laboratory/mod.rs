//! The textile laboratory: what a cloth does in the tests that its values come from.
//!
//! Strip: elongation under its own weight. Cantilever: Peirce's bending length (BS 3356). Drape coefficient: a disc of
//! 30 cm over a stand of 18 cm (BS 5058); the share of the overhanging ring that its shadow covers.

mod asked;
mod benches;
mod numbers;

pub use asked::ClothAsked;
pub use benches::{Cut, LabRow, LabSheet, expected_elongation, lab_sheet, nodes, shear_frame, sliding_slope, strip_elongation};
pub use numbers::{LabFit, LabNumbers, LabResidual, fabric_from, lab_numbers};

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Panel, Phase, Scene, Settings};
use rayon::prelude::*;
use serde::Serialize;
use std::f64::consts::{FRAC_PI_2, TAU};
use std::sync::Arc;
use ts_rs::TS;

/// Radii of specimen and stand of the drape test, m.
const SPECIMEN: f64 = 0.15;
const STAND: f64 = 0.09;
/// Gravity, m/s².
const G: f64 = 9.81;
/// Longest time of a test, simulated seconds.
const LIMIT: f64 = 20.0;
/// Specimens of a drape coefficient, as the standard asks.
const SPECIMENS: usize = 6;

/// A flat piece of cloth, edge length `edge` m, with its warp along y. `None` when the outline cannot be meshed.
pub fn specimen(outline: &[[f64; 2]], edge: f64, fabric: Fabric, place: impl Fn([f32; 2]) -> [f32; 3]) -> Option<Scene> {
    let mm: Vec<[f64; 2]> = outline.iter().map(|p| p.map(|v| v * 1000.0)).collect();
    let cut = mesh::triangulate(&mm, edge * 1000.0).ok()?;
    let flat: Vec<[f32; 2]> = cut.points.iter().map(|p| p.map(|v| (v / 1000.0) as f32)).collect();
    let count = cut.triangles.len();
    Some(Scene {
        positions: flat.iter().map(|p| place(*p)).collect(),
        flat,
        triangles: cut.triangles,
        panels: vec![Panel { name: "specimen".into(), fabric, grain: FRAC_PI_2 as f32, first: 0, count }],
        pairs: Vec::new(),
        body: None,
        pins: Vec::new(),
        construction: Default::default(),
        settings: Settings { air: 0.0, self_contact: false, ..Settings::default() },
    })
}

/// Outline of a rectangle, m, counter-clockwise from its lower left corner, cut into edges of about `edge` m.
pub fn rectangle(width: f64, height: f64, edge: f64) -> Vec<[f64; 2]> {
    let along = |length: f64| {
        let n = (length / edge).round().max(1.0);
        (0..n as usize).map(move |k| k as f64 / n)
    };
    let mut points: Vec<[f64; 2]> = along(width).map(|t| [t * width, 0.0]).collect();
    points.extend(along(height).map(|t| [width, t * height]));
    points.extend(along(width).map(|t| [width * (1.0 - t), height]));
    points.extend(along(height).map(|t| [0.0, height * (1.0 - t)]));
    points
}

/// Drapes until the cloth rests, or for `limit` simulated seconds.
pub(crate) fn to_rest(scene: Scene, limit: f64) -> Option<Drape> {
    let mut drape = Drape::new(scene).ok()?;
    while drape.time() < limit && drape.phase() != Phase::AtRest {
        drape.step();
    }
    Some(drape)
}

/// Bending length in m as the cantilever test reads it, the mean of three overhangs (Peirce 1930: the chord from the
/// clamp to the tip hangs at an angle a when c = L (cos(a/2) / (8 tan a))^(1/3)).
pub fn bending_length(fabric: &Fabric, warp: bool, edge: f64) -> Option<f64> {
    bending_length_near(fabric, warp, edge, peirce(fabric, warp))
}

/// The same with overhangs for a cloth whose bending length is about `expected` m.
fn bending_length_near(fabric: &Fabric, warp: bool, edge: f64, expected: f64) -> Option<f64> {
    let read = |overhang: f64| -> Option<f64> {
        let (clamp, free) = (2.0 * edge, (overhang * expected / edge).round().max(3.0) * edge);
        let mut scene = specimen(&rectangle(8.0 * edge, clamp + free, edge), edge, *fabric, |p| [p[0], 0.0, p[1]])?;
        if !warp {
            scene.panels[0].grain = 0.0;
        }
        scene.settings.damping = [2.0, 4.0];
        scene.pins = (0..scene.flat.len() as u32).filter(|&i| f64::from(scene.flat[i as usize][1]) < clamp + 1e-4).collect();
        let flat = scene.flat.clone();
        let drape = to_rest(scene, LIMIT)?;
        let bends = clamp - half_row(&drape, clamp);
        let tip: Vec<[f32; 3]> =
            drape.positions().iter().zip(&flat).filter(|(_, f)| f64::from(f[1]) > clamp + free - 1e-4).map(|(p, _)| *p).collect();
        let mean = |k: usize| tip.iter().map(|p| f64::from(p[k])).sum::<f64>() / tip.len().max(1) as f64;
        let angle = (-mean(1)).atan2(mean(2) - bends);
        Some((clamp + free - bends) * ((0.5 * angle).cos() / (8.0 * angle.tan())).cbrt())
    };
    let lengths: Vec<Option<f64>> = [1.7, 2.1, 2.5].into_par_iter().map(read).collect();
    Some(lengths.into_iter().collect::<Option<Vec<f64>>>()?.iter().sum::<f64>() / 3.0)
}

/// How far behind the clamp a strip along z begins to bend, m. A hinge stands for half of the triangle on either side of
/// it; at the clamp the half on the held side bends as well, which cloth under a real clamp does not.
fn half_row(drape: &Drape, clamp: f64) -> f64 {
    let scene = drape.scene();
    let along = |v: u32| f64::from(scene.flat[v as usize][1]);
    let behind = |t: &[u32; 3]| {
        let (low, high) = t.iter().map(|v| along(*v)).fold((f64::MAX, f64::MIN), |(l, h), y| (l.min(y), h.max(y)));
        // triangles that lie against the clamp line from behind
        (high > clamp - 1e-4 && high < clamp + 1e-4).then_some(high - low)
    };
    let rows: Vec<f64> = scene.triangles.iter().filter_map(behind).collect();
    0.5 * rows.iter().sum::<f64>() / rows.len().max(1) as f64
}

/// Peirce's bending length, m: the cube root of flexural rigidity over weight.
pub fn peirce(fabric: &Fabric, warp: bool) -> f64 {
    (f64::from(fabric.bending[usize::from(!warp)]) / (f64::from(fabric.areal_density) * G)).cbrt()
}

/// A disc of cloth fallen over a round stand.
pub struct DrapeTest {
    /// m.
    pub positions: Vec<[f32; 3]>,
    /// Indices into the positions.
    pub triangles: Vec<[u32; 3]>,
    /// 0 hangs straight down, 1 stands out flat.
    pub coefficient: f64,
    /// Whether the specimen came to rest within its time.
    pub at_rest: bool,
    /// The rim of the specimen, in order around it.
    pub rim: Vec<[f32; 3]>,
}

impl DrapeTest {
    /// The rim from above, mm from the middle of the stand.
    fn outline(&self) -> Vec<[f64; 2]> {
        self.rim.iter().map(|p| [f64::from(p[0]) * 1000.0, f64::from(p[2]) * 1000.0]).collect()
    }
}

/// What the drape tests of one cloth say together.
pub struct DrapeCoefficient {
    /// Of every specimen; which folds form differs from one to the next.
    pub each: Vec<f64>,
    /// Whether all specimens came to rest.
    pub at_rest: bool,
}

impl DrapeCoefficient {
    /// Mean drape coefficient of the specimens, percent.
    pub fn mean(&self) -> f64 {
        self.each.iter().sum::<f64>() / self.each.len() as f64
    }
}

/// The drape coefficient at a mesh of `edge` m, of six specimens.
pub fn drape_coefficient(fabric: &Fabric, edge: f64) -> Option<DrapeCoefficient> {
    drape_coefficient_of(fabric, edge, Specimens(SPECIMENS))
}

/// How many specimens are draped.
struct Specimens(usize);

fn drape_coefficient_of(fabric: &Fabric, edge: f64, specimens: Specimens) -> Option<DrapeCoefficient> {
    let tests: Vec<Option<DrapeTest>> = (0..specimens.0).into_par_iter().map(|k| drape_test(fabric, edge, k)).collect();
    let tests = tests.into_iter().collect::<Option<Vec<_>>>()?;
    Some(DrapeCoefficient { each: tests.iter().map(|t| t.coefficient).collect(), at_rest: tests.iter().all(|t| t.at_rest) })
}

/// The drape test at a mesh of `edge` m; every `mounting` begins with another breath of unevenness.
pub fn drape_test(fabric: &Fabric, edge: f64, mounting: usize) -> Option<DrapeTest> {
    let rim = (TAU * SPECIMEN / edge).round();
    let outline: Vec<[f64; 2]> =
        (0..rim as usize).map(|k| (k as f64 / rim * TAU).sin_cos()).map(|(s, c)| [SPECIMEN * c, SPECIMEN * s]).collect();
    let height = |p: [f32; 2]| {
        // a breath of unevenness, so that folds may begin anywhere
        let angle = f64::from(p[1]).atan2(f64::from(p[0]));
        let turn = 1.7 * mounting as f64;
        (0.004 + 2e-4 * (7.0 * angle + 1.0 + turn).sin() + 1e-4 * (4.0 * angle + 0.6 * turn).sin()) as f32
    };
    let mut scene = specimen(&outline, edge, *fabric, |p| [p[0], height(p), p[1]])?;
    let round = |p: [f32; 3]| {
        let (r, y) = ((p[0] * p[0] + p[2] * p[2]).sqrt() - STAND as f32 + 0.003, p[1] + 0.003);
        r.max(y).min(0.0) + r.max(0.0).hypot(y.max(0.0)) - 0.003
    };
    let grid = DistanceGrid::from_fn([-0.13, -0.2, -0.13], [0.13, 0.03, 0.13], 0.004, 0.03, round);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings = Settings { clearance: 1e-3, self_contact: true, ..Settings::default() };
    // the specimen is held under a weight
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][0].hypot(scene.flat[i as usize][1]) < 0.075).collect();
    let triangles = scene.triangles.clone();
    let count = rim as usize;
    let drape = to_rest(scene, LIMIT)?;
    let positions = drape.positions();
    // the outline comes first among the vertices of a cut piece
    let rim = positions[..count].to_vec();
    let ring = |r: f64| 0.5 * TAU * r * r;
    let coefficient = (shadow(&positions, &triangles) - ring(STAND)) / (ring(SPECIMEN) - ring(STAND));
    Some(DrapeTest { coefficient, at_rest: drape.phase() == Phase::AtRest, rim, positions, triangles })
}

/// What a cloth does in the laboratory, at a coarse mesh so that it is soon known.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Sample {
    /// Percent.
    pub drape: f64,
    /// Outline of the draped specimen from above, mm from the middle of its stand.
    pub outline: Vec<[f64; 2]>,
    /// Elongation of a strip of 1 m under its own weight along warp and weft, mm.
    pub strip: [f64; 2],
    /// Along the warp, mm.
    pub bending_length: f64,
}

impl Sample {
    /// Mesh edge of a sample, m.
    const EDGE: f64 = 0.014;
}

/// Mesh edges to a bending length in the cantilever of a sample, and the shortest edge that is worth its time, m.
const SAMPLE_ROWS: f64 = 6.0;
const SHORTEST: f64 = 2e-3;

/// Mesh edge of the cantilever of a sample, m.
fn sample_edge(fabric: &Fabric, warp: bool) -> f64 {
    (peirce(fabric, warp) / SAMPLE_ROWS).clamp(SHORTEST, Sample::EDGE)
}

/// The laboratory's quick tests on one cloth; `None` when it cannot be simulated.
pub fn sample(fabric: &Fabric) -> Option<Sample> {
    let test = drape_test(fabric, Sample::EDGE, 0)?;
    let strip = |cut| Some(1000.0 * strip_elongation(fabric, cut, 1.0)?);
    Some(Sample {
        drape: 100.0 * test.coefficient,
        outline: test.outline(),
        strip: [strip(Cut::Warp)?, strip(Cut::Weft)?],
        bending_length: 1000.0 * bending_length(fabric, true, sample_edge(fabric, true))?,
    })
}

/// Area of the shadow from straight above, m².
fn shadow(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> f64 {
    const CELL: f64 = 5e-4;
    const SIDE: usize = 720;
    let mut dark = vec![false; SIDE * SIDE];
    let place = |v: f32| f64::from(v) / CELL + 0.5 * SIDE as f64;
    for t in triangles {
        let [a, b, c] = t.map(|v| [place(positions[v as usize][0]), place(positions[v as usize][2])]);
        let cross = |p: [f64; 2], q: [f64; 2], r: [f64; 2]| (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
        let turn = cross(a, b, c).signum();
        let range = |k: usize| {
            let (low, high) = (a[k].min(b[k]).min(c[k]), a[k].max(b[k]).max(c[k]));
            (low.floor().max(0.0) as usize)..=(high.ceil().clamp(0.0, SIDE as f64 - 1.0) as usize)
        };
        for x in range(0) {
            for y in range(1) {
                let p = [x as f64, y as f64];
                if [cross(a, b, p), cross(b, c, p), cross(c, a, p)].iter().all(|v| v * turn >= 0.0) {
                    dark[x * SIDE + y] = true;
                }
            }
        }
    }
    dark.iter().filter(|d| **d).count() as f64 * CELL * CELL
}
