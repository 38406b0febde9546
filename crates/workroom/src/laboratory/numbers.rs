//! A fabric from lab numbers: what a laboratory measured becomes the values of the simulated cloth, each found from the test that asks
//! for it, with the simulator in place of the laboratory.
//!
//! Weight and thickness are taken as they are. Stretch is load over extension. Bending comes from the cantilever (Peirce 1930: rigidity
//! is weight times the cube of the bending length), corrected by what the simulated cantilever reads. Shear comes from the extension of
//! a strip cut on the bias: a load F stretches it by F/4 (1/k₁ + 1/k₂ + 1/G). Where that was not measured it is what the drape
//! coefficient answers to when all else is known, which tells it less surely: several shears can drape alike.

use super::{G, Specimens, bending_length_near, drape_coefficient_of, peirce};
use cloth::Fabric;
use costume::{CLOTH_VALUES, Refusal, Swatch};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// What a laboratory measured on a cloth.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct LabNumbers {
    /// g/m².
    pub weight: f64,
    /// mm.
    pub thickness: f64,
    /// Along warp and weft, mm.
    pub bending_length: [f64; 2],
    /// Along warp and weft, percent under the load.
    pub extension: [f64; 2],
    /// Of a strip on the bias under the same load, percent.
    #[serde(default)]
    #[ts(optional)]
    pub bias: Option<f64>,
    /// Under which the extension was read, N/m.
    pub load: f64,
    /// Of a disc of 30 cm over one of 18 cm, percent.
    pub drape: f64,
}

/// A test of the laboratory beside what the fitted cloth does in it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct LabResidual {
    /// Which test.
    pub name: String,
    pub unit: String,
    pub measured: f64,
    pub fitted: f64,
}

/// The values found.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct LabFit {
    /// By the keys of the swatch book, in its units.
    pub values: BTreeMap<String, f64>,
    pub residuals: Vec<LabResidual>,
}

/// Mesh edge of the drape tests, m, and their number.
const EDGE: f64 = 0.014;
const SPECIMENS: usize = 2;
/// Mesh edges to a bending length in the cantilever.
const ROWS: f64 = 6.0;
/// Rounds in which the cantilever corrects the bending rigidity.
const ROUNDS: usize = 5;
/// Factors of the first guess between which shear is looked for, and in how many steps first.
const SHEARS: [f64; 2] = [0.2, 5.0];
const STEPS: usize = 6;
/// Halvings of the bracket afterwards.
const HALVINGS: usize = 5;
/// Numbers that a laboratory can measure.
const RANGES: [(&str, f64, f64); 7] = [
    ("weight", 10.0, 2000.0),
    ("thickness", 0.02, 20.0),
    ("bending length", 3.0, 120.0),
    ("extension", 0.01, 200.0),
    ("bias extension", 0.01, 400.0),
    ("load", 0.5, 5000.0),
    ("drape coefficient", 3.0, 99.0),
];

impl LabNumbers {
    /// Refuses numbers beyond those of cloths.
    fn check(&self) -> Result<(), Refusal> {
        let all = [
            [self.weight; 2],
            [self.thickness; 2],
            self.bending_length,
            self.extension,
            [self.bias.unwrap_or(1.0); 2],
            [self.load; 2],
            [self.drape; 2],
        ];
        for ((name, low, high), values) in RANGES.iter().zip(all) {
            if let Some(value) = values.iter().find(|v| !(*low..=*high).contains(*v)) {
                let remedy = format!("write one from {low} to {high}");
                return Err(Refusal::elsewhere("lab numbers", format!("cannot have a {name} of {value}"), remedy));
            }
        }
        Ok(())
    }
}

/// What the laboratory would measure on a cloth; `None` when it cannot be simulated.
pub fn lab_numbers(cloth: &Swatch, load: f64) -> Option<LabNumbers> {
    let fabric = crate::cloth_fabric(cloth);
    let extension = |k: usize| 100.0 * load / f64::from(fabric.stretch[k]);
    let read = |warp| read_bending(&fabric, warp, 1000.0 * peirce(&fabric, warp));
    let lengths = [read(true)?, read(false)?];
    Some(LabNumbers {
        weight: cloth.areal_density,
        thickness: cloth.thickness,
        bending_length: lengths,
        extension: [extension(0), extension(1)],
        bias: Some(bias(cloth, load)),
        load,
        drape: drape(&fabric)?,
    })
}

/// Extension of a strip on the bias, percent.
fn bias(cloth: &Swatch, load: f64) -> f64 {
    25.0 * load * (1.0 / cloth.stretch_stiffness_warp + 1.0 / cloth.stretch_stiffness_weft + 1.0 / cloth.shear)
}

/// By the cantilever, mm; `about` is what is expected, mm, from which the overhangs follow.
fn read_bending(fabric: &Fabric, warp: bool, about: f64) -> Option<f64> {
    // overhangs are whole edges long: so many that a breath of difference in what is expected makes none
    let length = (about / 4.0).round().max(1.0) * 4e-3;
    Some(1000.0 * bending_length_near(fabric, warp, length / ROWS, length)?)
}

fn drape(fabric: &Fabric) -> Option<f64> {
    Some(100.0 * drape_coefficient_of(fabric, EDGE, Specimens(SPECIMENS))?.mean())
}

/// Finds the values of a cloth that does in the tests what was measured; what the numbers do not tell (friction, locking) is that of
/// `base`.
pub fn fabric_from(numbers: &LabNumbers, base: &Swatch) -> Result<LabFit, Refusal> {
    numbers.check()?;
    let lost = || Refusal::elsewhere("lab numbers", "make a cloth that cannot be simulated", "look for a number in another unit");
    let mut cloth = *base;
    cloth.areal_density = numbers.weight;
    cloth.thickness = numbers.thickness;
    cloth.stretch_stiffness_warp = 100.0 * numbers.load / numbers.extension[0];
    cloth.stretch_stiffness_weft = 100.0 * numbers.load / numbers.extension[1];
    match numbers.bias {
        Some(measured) => {
            let left = measured / (25.0 * numbers.load) - 1.0 / cloth.stretch_stiffness_warp - 1.0 / cloth.stretch_stiffness_weft;
            if left <= 0.0 {
                let reason = "have a bias that stretches less than the threads let it";
                return Err(Refusal::elsewhere("lab numbers", reason, "look at the extensions once more"));
            }
            cloth.shear = 1.0 / left;
            bent(&mut cloth, numbers).ok_or_else(lost)?;
        }
        None => {
            // a strip that bends is hardly sheared
            bent(&mut cloth, numbers).ok_or_else(lost)?;
            cloth.shear = sheared(&cloth, numbers.drape).ok_or_else(lost)?;
        }
    }
    let fabric = crate::cloth_fabric(&cloth);
    let row = |name: &str, unit: &str, measured, fitted| LabResidual { name: name.into(), unit: unit.into(), measured, fitted };
    let mut residuals = vec![
        row(
            "bending length, warp",
            "mm",
            numbers.bending_length[0],
            read_bending(&fabric, true, numbers.bending_length[0]).ok_or_else(lost)?,
        ),
        row(
            "bending length, weft",
            "mm",
            numbers.bending_length[1],
            read_bending(&fabric, false, numbers.bending_length[1]).ok_or_else(lost)?,
        ),
        row("extension, warp", "%", numbers.extension[0], 100.0 * numbers.load / cloth.stretch_stiffness_warp),
        row("extension, weft", "%", numbers.extension[1], 100.0 * numbers.load / cloth.stretch_stiffness_weft),
        row("drape coefficient", "%", numbers.drape, drape(&fabric).ok_or_else(lost)?),
    ];
    if let Some(measured) = numbers.bias {
        residuals.insert(4, row("extension, bias", "%", measured, bias(&cloth, numbers.load)));
    }
    let mut value = |v: &costume::ClothValue| Some((v.key.to_owned(), *cloth.value(v.key)?));
    Ok(LabFit { values: CLOTH_VALUES.iter().filter_map(&mut value).collect(), residuals })
}

/// Bending rigidities with which the cantilever reads what was measured. A strip of one bends a little by the other too, so that both
/// are found together.
fn bent(cloth: &mut Swatch, numbers: &LabNumbers) -> Option<()> {
    for warp in [true, false] {
        // µN·m: g/m² times m/s² times mm³
        *bending(cloth, warp) = 1e-6 * numbers.weight * G * numbers.bending_length[usize::from(!warp)].powi(3);
    }
    for _ in 0..ROUNDS {
        for warp in [true, false] {
            let measured = numbers.bending_length[usize::from(!warp)];
            *bending(cloth, warp) *= (measured / read_bending(&crate::cloth_fabric(cloth), warp, measured)?).powi(3);
        }
    }
    Some(())
}

fn bending(cloth: &mut Swatch, warp: bool) -> &mut f64 {
    if warp { &mut cloth.bending_rigidity_warp } else { &mut cloth.bending_rigidity_weft }
}

/// The shear stiffness with which the cloth drapes as it should, N/m: from a row of trials the two between which it lies, then halved.
fn sheared(cloth: &Swatch, wanted: f64) -> Option<f64> {
    let off = |factor: f64| {
        let mut tried = *cloth;
        tried.shear = cloth.shear * factor;
        Some(drape(&crate::cloth_fabric(&tried))? - wanted)
    };
    let ratio = (SHEARS[1] / SHEARS[0]).powf(1.0 / (STEPS - 1) as f64);
    let factors: Vec<f64> = (0..STEPS).map(|k| SHEARS[0] * ratio.powi(k as i32)).collect();
    let offs: Vec<f64> = factors.iter().map(|f| off(*f)).collect::<Option<_>>()?;
    let nearest = (0..STEPS).min_by(|a, b| offs[*a].abs().total_cmp(&offs[*b].abs()))?;
    // of the places where it goes through what is wanted, the one nearest to no change at all
    let through = (1..STEPS).filter(|k| offs[k - 1] * offs[*k] <= 0.0);
    let middle = |k: &usize| (0.5 * (factors[k - 1].ln() + factors[*k].ln())).abs();
    let Some(k) = through.min_by(|a, b| middle(a).total_cmp(&middle(b))) else { return Some(cloth.shear * factors[nearest]) };
    let (mut low, mut high) = ((factors[k - 1], offs[k - 1]), (factors[k], offs[k]));
    let mut best = if low.1.abs() < high.1.abs() { low } else { high };
    for _ in 0..HALVINGS {
        let between = (low.0 * high.0).sqrt();
        let now = (between, off(between)?);
        if now.1.abs() < best.1.abs() {
            best = now;
        }
        if low.1 * now.1 <= 0.0 {
            high = now;
        } else {
            low = now;
        }
    }
    Some(cloth.shear * best.0)
}
