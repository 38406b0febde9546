//! What carries a garment at rest: places of the body, stays and pins, in N, and whether friction alone keeps it there.

use crate::Assembly;
use cloth::{Bearing, Drape};
use fit::Nearest;
use serde::Serialize;
use std::collections::BTreeMap;
use ts_rs::TS;

/// Forces below this share of the weight are not told.
const SLIGHT: f64 = 0.01;

/// One that carries.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct BearerRow {
    /// Such as `Waist`.
    pub name: String,
    /// What it bears, upwards, N.
    pub force: f64,
    /// Of the garment's weight.
    pub share: f64,
    /// Of the friction that there can be, the share that is used; near 1 the cloth is about to slip. None for stays and pins.
    pub grip: Option<f64>,
}

/// What carries a drape, and the pressure on the skin by vertex, Pa.
#[derive(Clone, Debug)]
pub struct Carried {
    /// The strongest first.
    pub bearers: Vec<BearerRow>,
    /// The garment's weight, N.
    pub weight: f64,
    /// By vertex, Pa.
    pub pressure: Vec<f32>,
    /// Cloth that lies on the skin, cm².
    pub touching: f64,
    /// The highest pressure, kPa.
    pub highest: f64,
}

/// Sums of one place.
#[derive(Default)]
struct Sums {
    up: f64,
    across: [f64; 3],
    friction: f64,
}

/// Looks at what bears a drape.
pub fn carried(assembly: &Assembly, drape: &Drape) -> Carried {
    let bearing = drape.bearing();
    let weight = f64::from(bearing.weight);
    let mut rows: Vec<BearerRow> = on_the_body(assembly, drape, &bearing)
        .into_iter()
        .map(|(name, sums)| {
            let across = sums.across.iter().map(|a| a * a).sum::<f64>().sqrt();
            let grip = (sums.friction > 0.0).then(|| across / sums.friction);
            BearerRow { name: name.to_owned(), force: sums.up, share: sums.up / weight, grip }
        })
        .collect();
    let up = |forces: &[[f32; 3]]| forces.iter().map(|f| f64::from(f[1])).sum::<f64>();
    for (name, force) in [("Stays and holds", up(&bearing.stays)), ("Pins", up(&bearing.pins))] {
        rows.push(BearerRow { name: name.into(), force, share: force / weight, grip: None });
    }
    rows.retain(|row| row.share.abs() > SLIGHT);
    rows.sort_by(|a, b| b.force.total_cmp(&a.force));
    let fused = drape.fused_with();
    let pressure: Vec<f32> = fused.iter().map(|root| bearing.pressure[*root as usize]).collect();
    let highest = 1e-3 * f64::from(pressure.iter().copied().fold(0.0, f32::max));
    Carried { bearers: rows, weight, touching: touching(assembly, &pressure), highest, pressure }
}

/// A third of every triangle for each of its corners that is pressed, cm².
fn touching(assembly: &Assembly, pressure: &[f32]) -> f64 {
    let pressed = |t: &[u32; 3]| t.iter().filter(|v| pressure[**v as usize] > 0.0).count() as f64 / 3.0;
    1e4 * assembly.scene.triangles.iter().enumerate().map(|(k, t)| assembly.cut_area(k) * pressed(t)).sum::<f64>()
}

/// Forces of the body by the place of its skin that is nearest.
fn on_the_body(assembly: &Assembly, drape: &Drape, bearing: &Bearing) -> BTreeMap<&'static str, Sums> {
    let (figure, surface) = (&assembly.form.figure, &assembly.form.posed.surface);
    let nearest = Nearest::new(&surface.positions, &surface.triangles);
    let bone = |at: [f32; 3]| {
        let triangle = nearest.place(at)?.1;
        let weights = figure.rig.weights.get(surface.triangles[triangle][0] as usize)?;
        figure.rig.skeleton.bones.get(weights.joint_indices[0] as usize).map(|bone| bone.name.as_str())
    };
    let mut sums: BTreeMap<&'static str, Sums> = BTreeMap::new();
    for (k, at) in drape.positions().into_iter().enumerate().filter(|(k, _)| bearing.body[*k] != [0.0; 3]) {
        let one = sums.entry(place(bone(at).unwrap_or_default())).or_default();
        one.up += f64::from(bearing.body[k][1]);
        one.friction += f64::from(bearing.friction[k]);
        (0..3).for_each(|i| one.across[i] += f64::from(bearing.across[k][i]));
    }
    sums
}

/// A bone's place in the words of a fitting.
fn place(bone: &str) -> &'static str {
    let stem = bone.trim_end_matches("-left").trim_end_matches("-right");
    match stem {
        "pelvis" => "Hips",
        "spine-1" => "Waist",
        "spine-2" | "spine-3" => "Chest and back",
        "collar" | "neck" | "head" => "Neck and shoulders",
        "upper-arm" => "Upper arms",
        "forearm" | "hand" => "Forearms and hands",
        "thigh" => "Thighs",
        "shin" | "foot" | "toes" => "Legs below the knee",
        _ => "Body",
    }
}
