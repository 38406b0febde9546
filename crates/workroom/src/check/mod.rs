//! Checks on a drape: crossings with the body and of cloth with cloth, strain, girths beside the body's, hems.

use crate::{Assembly, ContactBody};
use cloth::Drape;
use costume::PieceId;
use fit::Surface;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

mod apart;
mod bearers;
mod drags;
mod girths;
mod hang;
mod hems;
mod maps;
mod mends;
mod stretch;

pub use apart::apart;
pub use bearers::{BearerRow, Carried, carried};
pub use drags::DragLine;
pub use girths::GirthRow;
pub(crate) use girths::girth_plane;
pub use hang::{BalanceRow, HangReport, LengthRow};
pub use hems::HemRow;
pub use maps::{CheckMap, check_map};
pub use mends::pushed_out;
pub use stretch::StretchRow;

/// Stretches of the curve of one place that are told, at most.
pub const MOST_STRETCHES: usize = 2000;

/// What crosses what.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum CrossingKind {
    ClothBody,
    ClothCloth,
    /// A part of the body that is left out: cloth is let through it, and it is told.
    ClothLeftOut,
}

/// One place where triangles cross.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct CrossingPlace {
    /// What crosses what.
    pub kind: CrossingKind,
    /// m, on the stand.
    pub at: [f32; 3],
    /// The pieces that take part, each once.
    pub pieces: Vec<PieceId>,
    /// Crossing triangle pairs; 0 for cloth that lies inside the body altogether.
    pub pairs: usize,
    /// Of the line along which surfaces cross, mm.
    pub length: f64,
    /// How deep it goes, mm.
    pub depth: f64,
    /// Where surfaces cross, m: stretches of the curve without order, [`MOST_STRETCHES`] at most.
    #[serde(default)]
    pub curve: Vec<[[f32; 3]; 2]>,
    /// Key of the part of the body, if it is left out.
    pub part: Option<String>,
    /// Key of the part of the body that is nearest.
    pub near: Option<String>,
    /// Which choice most likely has brought the cloth there, in words.
    pub cause: String,
}

/// The findings on one drape.
#[derive(Clone, Debug, Serialize, TS)]
pub struct CheckReport {
    /// One entry for each connected place, the worst first.
    pub crossings: Vec<CrossingPlace>,
    /// Largest principal strain per vertex, averaged: 0.02 is 2 %.
    pub tension: Vec<f32>,
    /// How far each fabric is stretched.
    pub stretch: Vec<StretchRow>,
    /// Mean of the largest principal strain of all triangles; 0.02 is 2 %.
    pub strain_mean: f64,
    pub strain_p99: f64,
    /// The largest.
    pub strain_max: f64,
    /// Girths beside the body's, from the neck down.
    pub girths: Vec<GirthRow>,
    /// Hems that go around the body, the lowest first.
    pub hems: Vec<HemRow>,
    /// How it hangs.
    pub hang: HangReport,
}

/// Exact triangle tests and tension on the present state.
pub fn check(assembly: &Assembly, drape: &Drape) -> CheckReport {
    let (positions, triangles) = (drape.positions(), &assembly.scene.triangles);
    let cloth = Surface::sewn(&positions, triangles, drape.fused_with());
    let strain = drape.strain();
    let figures = fit::spread(&strain);
    let tension = fit::vertex_tension(triangles, &strain, drape.fused_with());
    let strains = maps::strains_of(assembly, drape);
    let mut crossings = places(assembly, &cloth);
    for place in &mut crossings {
        place.near = mends::part_at(assembly, place.at);
        place.cause = mends::cause(assembly, place, &tension, &positions);
    }
    CheckReport {
        crossings,
        tension,
        stretch: stretch::stretches(assembly, &strains),
        strain_mean: figures.mean,
        strain_p99: figures.p99,
        strain_max: figures.max,
        girths: girths::girths(assembly, &cloth),
        hems: hems::hems(assembly, &cloth),
        hang: hang::hang_report(assembly, &cloth, &strains),
    }
}

/// Where a drape crosses something, without the rest of the check and without causes.
pub fn crossings(assembly: &Assembly, drape: &Drape) -> Vec<CrossingPlace> {
    places(assembly, &Surface::sewn(&drape.positions(), &assembly.scene.triangles, drape.fused_with()))
}

fn places(assembly: &Assembly, cloth: &Surface) -> Vec<CrossingPlace> {
    let place = |kind, part: Option<&String>| {
        let part = part.cloned();
        move |c: fit::Crossing| {
            let mut pieces: Vec<PieceId> = c.triangles.iter().map(|t| assembly.piece_of_triangle(*t as usize).piece).collect();
            pieces.sort_unstable();
            pieces.dedup();
            let (length, depth) = (1000.0 * c.length, 1000.0 * c.depth);
            let curve = c.curve.into_iter().take(MOST_STRETCHES).collect();
            let (part, cause) = (part.clone(), String::new());
            CrossingPlace { kind, at: c.at, pieces, pairs: c.pairs, length, depth, curve, part, near: None, cause }
        }
    };
    let Skins { met, left_out } = skins(&assembly.form);
    let surface = &assembly.form.posed.surface.positions;
    let met = match &met {
        Some(met) => Surface::closed(surface, met),
        None => Surface::closed(&assembly.form.skin.positions, &assembly.form.skin.triangles),
    };
    let mut crossings: Vec<CrossingPlace> = fit::cloth_body(cloth, &met).into_iter().map(place(CrossingKind::ClothBody, None)).collect();
    let own = fit::cloth_cloth(cloth);
    crossings.extend(own.into_iter().map(place(CrossingKind::ClothCloth, None)));
    for (part, skin) in &left_out {
        crossings
            .extend(fit::cloth_body(cloth, &Surface::open(surface, skin)).into_iter().map(place(CrossingKind::ClothLeftOut, Some(part))));
    }
    crossings
}

/// The triangles of the whole body, as it is delivered, by what cloth does there.
struct Skins<'a> {
    /// Those that cloth meets; none when it meets a lighter skin in their place.
    met: Option<Vec<[u32; 3]>>,
    left_out: Vec<(&'a String, Vec<[u32; 3]>)>,
}

fn skins(form: &ContactBody) -> Skins<'_> {
    let (figure, all) = (&form.figure, &form.posed.surface.triangles);
    let part = |v: u32| figure.part_of_vertex.get(v as usize).and_then(|p| figure.parts.get(*p as usize));
    // a triangle across the border belongs to the side that is met
    let is_out = |t: &[u32; 3]| t.iter().all(|v| part(*v).is_some_and(|p| form.out.contains(p)));
    let met = figure.light.is_none().then(|| all.iter().copied().filter(|t| !is_out(t)).collect());
    let of = |key: &String| all.iter().copied().filter(|t| is_out(t) && part(t[0]) == Some(key)).collect();
    Skins { met, left_out: form.out.iter().map(|key| (key, of(key))).collect() }
}
