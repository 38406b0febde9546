//! The laboratory's further tests, each beside what it should read: a hanging strip at any angle to the threads, the shear frame,
//! and the slope on which cloth begins to slide; and all tests of one cloth as a sheet.

use super::{DrapeTest, G, LIMIT, SPECIMENS, bending_length, drape_test, peirce, rectangle, sample_edge, specimen, to_rest};
use cloth::{BodyShape, DistanceGrid, Drape, Fabric, Phase, Settings};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::f64::consts::{FRAC_PI_2, FRAC_PI_4};
use std::sync::Arc;
use ts_rs::TS;

/// Of the shear frame: its side and the edges of its mesh, m, and the angle by which it is pushed over.
const FRAME: f64 = 0.1;
const FRAME_EDGE: f64 = 0.02;
const FRAME_ANGLE: f64 = 0.02;
/// Slopes between which cloth begins to slide, and how often the range is halved.
const SLOPES: [f64; 2] = [0.01, 1.4];
const HALVINGS: usize = 8;
/// Cloth on a slope lies down for so long, s, and slides if it then goes farther than this, m, in as long again; what goes less creeps.
const SETTLING: f64 = 0.4;
const SLID: f64 = 7e-3;
/// A fold of a draped disc stands out or in from the mean of its rim by more than this, mm.
const FOLD: f64 = 2.0;

/// How a strip is cut.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Cut {
    Warp,
    Weft,
    /// Halfway between them.
    Bias,
}

impl Cut {
    /// Of the warp against the length of the strip, turned from x, radians.
    const fn grain(self) -> f64 {
        match self {
            Self::Warp => FRAC_PI_2,
            Self::Weft => 0.0,
            Self::Bias => FRAC_PI_4,
        }
    }
}

/// Elongation under its own weight of a hanging strip 10 cm wide and `length` m long, m; `None` when it cannot be simulated.
pub fn strip_elongation(fabric: &Fabric, cut: Cut, length: f64) -> Option<f64> {
    let mut scene = specimen(&rectangle(0.1, length, 0.02), 0.02, *fabric, |p| [p[0], p[1], 0.0])?;
    scene.panels[0].grain = cut.grain() as f32;
    let top = length as f32 - 1e-4;
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize][1] > top).collect();
    let flat = scene.flat.clone();
    let drape = to_rest(scene, LIMIT)?;
    let hem: Vec<f64> = drape.positions().iter().zip(&flat).filter(|(_, f)| f[1] < 1e-4).map(|(p, _)| -f64::from(p[1])).collect();
    Some(hem.iter().sum::<f64>() / hem.len() as f64)
}

/// What the elongation of a strip should be: rho g L² / 2k; on the bias 1/k is a quarter of 1/k₁ + 1/k₂ + 1/G.
pub fn expected_elongation(fabric: &Fabric, cut: Cut, length: f64) -> f64 {
    let [warp, weft] = fabric.stretch.map(|k| 1.0 / f64::from(k));
    let give = match cut {
        Cut::Warp => warp,
        Cut::Weft => weft,
        Cut::Bias => 0.25 * (warp + weft + 1.0 / f64::from(fabric.shear)),
    };
    0.5 * f64::from(fabric.areal_density) * G * length * length * give
}

/// Shear stiffness as a frame with four hinges reads it, N/m: the force along its top by its width and the angle.
pub fn shear_frame(fabric: &Fabric) -> Option<f64> {
    let (sin, cos) = FRAME_ANGLE.sin_cos();
    let mut scene =
        specimen(&rectangle(FRAME, FRAME, FRAME_EDGE), FRAME_EDGE, *fabric, |p| [p[0] + p[1] * sin as f32, p[1] * cos as f32, 0.0])?;
    let side = |v: f32| f64::from(v) < 1e-4 || f64::from(v) > FRAME - 1e-4;
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| scene.flat[i as usize].into_iter().any(side)).collect();
    scene.settings.gravity = 0.0;
    let flat = scene.flat.clone();
    let drape = to_rest(scene, LIMIT)?;
    let top =
        drape.bearing().pins.iter().zip(&flat).filter(|(_, f)| f64::from(f[1]) > FRAME - 1e-4).map(|(f, _)| f64::from(f[0])).sum::<f64>();
    Some(top / (FRAME * FRAME_ANGLE))
}

/// The slope on which cloth begins to slide over a surface like the body's, radians.
pub fn sliding_slope(fabric: &Fabric) -> Option<f64> {
    let [mut low, mut high] = SLOPES;
    for _ in 0..HALVINGS {
        let between = 0.5 * (low + high);
        if slides(fabric, between)? { high = between } else { low = between }
    }
    Some(0.5 * (low + high))
}

fn slides(fabric: &Fabric, slope: f64) -> Option<bool> {
    let (sin, cos) = slope.sin_cos();
    let normal = [-sin as f32, cos as f32, 0.0];
    let grid = DistanceGrid::from_fn([-0.6, -0.6, -0.1], [0.3, 0.4, 0.2], 0.02, 0.1, |p| p[0] * normal[0] + p[1] * normal[1]);
    let lift = 3e-3 + 0.5 * fabric.thickness;
    // a limp cloth would crease: the specimen is backed by card, as on the bench
    let backed = Fabric { bending: fabric.bending.map(|b| b.max(1e-3)), ..*fabric };
    let mut scene = specimen(&rectangle(0.1, 0.1, 0.025), 0.025, backed, |p| {
        [p[0] * cos as f32 + normal[0] * lift, p[0] * sin as f32 + normal[1] * lift, p[1]]
    })?;
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    scene.settings = Settings { damping: [0.0; 2], ..scene.settings };
    let mut drape = Drape::new(scene).ok()?;
    let mut wait = |until: f64| {
        // cloth that rests does not move on
        while drape.time() < until && drape.phase() != Phase::AtRest {
            drape.step();
        }
        let positions = drape.positions();
        positions.iter().map(|p| f64::from(p[0]) * cos + f64::from(p[1]) * sin).sum::<f64>() / positions.len() as f64
    };
    Some(wait(SETTLING) - wait(2.0 * SETTLING) > SLID)
}

/// Folds of a draped disc: how often its rim goes out beyond its mean and back, mm.
pub fn nodes(outline: &[[f64; 2]]) -> usize {
    let radii: Vec<f64> = outline.iter().map(|p| p[0].hypot(p[1])).collect();
    let mean = radii.iter().sum::<f64>() / radii.len().max(1) as f64;
    let sides: Vec<bool> = radii.iter().filter(|r| (*r - mean).abs() > FOLD).map(|r| *r > mean).collect();
    (0..sides.len()).filter(|k| sides[*k] && !sides[(k + sides.len() - 1) % sides.len()]).count()
}

/// A test beside what the values of the cloth say that it should read.
#[derive(Clone, Debug, Deserialize, PartialEq, Serialize, TS)]
pub struct LabRow {
    /// Which test, such as `strip-warp`.
    pub test: String,
    pub unit: String,
    /// In the laboratory.
    pub measured: f64,
    /// From the values of the cloth by a formula.
    pub expected: f64,
}

/// All tests of one cloth.
#[derive(Clone, Debug, Deserialize, PartialEq, Serialize, TS)]
pub struct LabSheet {
    /// Drape coefficient of every specimen, percent.
    pub drape: Vec<f64>,
    /// Folds of every specimen.
    pub nodes: Vec<usize>,
    /// Outline of the first specimen from above, mm from the middle of its stand.
    pub outline: Vec<[f64; 2]>,
    /// Bending lengths, strips, shear and slope.
    pub rows: Vec<LabRow>,
}

/// Mesh of the drape test on a sheet, m; limp cloths drape to two percent less than on that of a sample.
const DISC_EDGE: f64 = 0.010;

/// A test by its name, its unit, what it should read, and how it is done.
type Test<'a> = (&'a str, &'a str, f64, &'a (dyn Fn() -> Option<f64> + Sync));

/// Does all tests on a cloth; `None` when it cannot be simulated.
pub fn lab_sheet(fabric: &Fabric) -> Option<LabSheet> {
    let discs: Option<Vec<_>> = (0..SPECIMENS).into_par_iter().map(|k| drape_test(fabric, DISC_EDGE, k)).collect();
    let discs = discs?;
    let outlines: Vec<Vec<[f64; 2]>> = discs.iter().map(DrapeTest::outline).collect();
    let bent = |warp| Some(1000.0 * bending_length(fabric, warp, sample_edge(fabric, warp))?);
    let bends = |warp| 1000.0 * peirce(fabric, warp);
    let sagged = |cut| Some(1000.0 * strip_elongation(fabric, cut, 1.0)?);
    let sags = |cut| 1000.0 * expected_elongation(fabric, cut, 1.0);
    let tests: [Test; 7] = [
        ("bending-warp", "mm", bends(true), &|| bent(true)),
        ("bending-weft", "mm", bends(false), &|| bent(false)),
        ("strip-warp", "mm", sags(Cut::Warp), &|| sagged(Cut::Warp)),
        ("strip-weft", "mm", sags(Cut::Weft), &|| sagged(Cut::Weft)),
        ("strip-bias", "mm", sags(Cut::Bias), &|| sagged(Cut::Bias)),
        ("shear", "N/m", f64::from(fabric.shear), &|| shear_frame(fabric)),
        ("slope", "°", f64::from(fabric.friction).atan().to_degrees(), &|| Some(sliding_slope(fabric)?.to_degrees())),
    ];
    let read = |(test, unit, expected, of): &Test| {
        Some(LabRow { test: (*test).into(), unit: (*unit).into(), measured: of()?, expected: *expected })
    };
    Some(LabSheet {
        drape: discs.iter().map(|d| 100.0 * d.coefficient).collect(),
        nodes: outlines.iter().map(|o| nodes(o)).collect(),
        outline: outlines.into_iter().next()?,
        rows: tests.par_iter().map(read).collect::<Option<_>>()?,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn folds_are_counted_and_what_is_hardly_uneven_is_none() {
        let rim = |folds: f64, high: f64| -> Vec<[f64; 2]> {
            let at = |k: usize| k as f64 / 90.0 * std::f64::consts::TAU;
            (0..90)
                .map(|k| (110.0 + high * (folds * at(k)).cos()) * 1.0)
                .enumerate()
                .map(|(k, r)| [r * at(k).cos(), r * at(k).sin()])
                .collect()
        };
        assert_eq!((nodes(&rim(6.0, 20.0)), nodes(&rim(3.0, 8.0)), nodes(&rim(5.0, 1.0)), nodes(&[])), (6, 3, 0, 0));
    }
}
