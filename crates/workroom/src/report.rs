//! The figures of a finished drape, as the command line writes them.

use crate::standing::{Finding, standing};
use crate::{Assembly, CheckReport, CrossingKind, CrossingPlace, GirthRow, HangReport, HemRow, StretchRow, check};
use cloth::{Drape, Phase};
use glam::Vec3;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// How far a seam is open.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct SeamGap {
    /// Its letter.
    pub tag: String,
    /// The widest pair, mm; 0 when all are fused.
    pub max_gap_mm: f64,
}

/// Principal strain, 0.02 is 2 %.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct StrainFigures {
    /// Over all triangles; 0.02 is 2 %.
    pub mean: f64,
    pub p99: f64,
    /// Of the worst triangle.
    pub max: f64,
}

/// Edges of one mesh that pass through a triangle of another.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct CrossingCount {
    /// Cloth through skin.
    pub cloth_body: usize,
    /// Cloth through cloth.
    pub cloth_cloth: usize,
}

/// Written by `ourlet drape --report`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct DrapeReport {
    /// Its name.
    pub costume: String,
    /// Key of the size, such as `woman-38`, or the hash of a figure.
    pub body: String,
    /// Wanted edge length of the triangles, mm.
    pub edge_mm: f64,
    /// Of the cloth, before seams are fused.
    pub vertices: usize,
    /// Of the cloth.
    pub triangles: usize,
    /// Time in the cloth.
    pub simulated_seconds: f64,
    /// Time it took.
    pub wall_seconds: f64,
    /// Whether it came to rest.
    pub at_rest: bool,
    /// One for each seam, images too.
    pub seams: Vec<SeamGap>,
    /// How far each fabric is stretched, by its own limits.
    pub stretch: Vec<StretchRow>,
    /// Largest principal strain of the triangles.
    pub strain: StrainFigures,
    /// What passes through what.
    pub crossings: CrossingCount,
    /// Where, the worst first.
    pub places: Vec<CrossingPlace>,
    /// Of a vertex below the skin, mm.
    pub deepest_penetration_mm: f64,
    /// Keys of the parts of the body that cloth passes through, and crossing triangle pairs by part.
    pub left_out: BTreeMap<String, usize>,
    /// Girths beside the body's, mm, from the neck down.
    pub girths: Vec<GirthRow>,
    /// Hems that go around the body, the lowest first, mm.
    pub hems: Vec<HemRow>,
    /// How it hangs.
    pub hang: HangReport,
    /// All that is the matter, in words.
    pub findings: Vec<Finding>,
}

impl DrapeReport {
    /// Nothing is the matter: at rest, closed, free of crossings and outside of the body.
    pub fn is_good(&self) -> bool {
        self.findings.iter().all(|f| !f.is_fault)
    }
}

/// Checks the drape and gathers its figures.
pub fn drape_report(assembly: &Assembly, drape: &Drape, wall_seconds: f64) -> DrapeReport {
    report_of(assembly, drape, check(assembly, drape), wall_seconds)
}

/// Gathers the figures of a drape that was checked.
pub fn report_of(assembly: &Assembly, drape: &Drape, checked: CheckReport, wall_seconds: f64) -> DrapeReport {
    let count = |kind| checked.crossings.iter().filter(|c| c.kind == kind).map(|c| c.pairs.max(1)).sum();
    let through = |part: &String| {
        let there = checked.crossings.iter().filter(|c| c.part.as_ref() == Some(part));
        there.map(|c| c.pairs).sum()
    };
    let positions = drape.positions();
    let deepest = positions.iter().map(|p| assembly.form.grid.distance(Vec3::from(*p))).fold(f32::MAX, f32::min);
    let gaps = drape.seam_gaps(assembly.seam_tags.len());
    DrapeReport {
        costume: assembly.costume.name.clone(),
        body: assembly.form.figure.key.clone(),
        edge_mm: assembly.costume.fineness.edge_mm(),
        vertices: positions.len(),
        triangles: assembly.scene.triangles.len(),
        simulated_seconds: drape.time(),
        wall_seconds,
        at_rest: drape.phase() == Phase::AtRest,
        seams: assembly
            .seam_tags
            .iter()
            .zip(gaps)
            .map(|(tag, gap)| SeamGap { tag: tag.clone(), max_gap_mm: f64::from(gap) * 1000.0 })
            .collect(),
        strain: StrainFigures { mean: checked.strain_mean, p99: checked.strain_p99, max: checked.strain_max },
        crossings: CrossingCount { cloth_body: count(CrossingKind::ClothBody), cloth_cloth: count(CrossingKind::ClothCloth) },
        deepest_penetration_mm: f64::from((-deepest).max(0.0)) * 1000.0,
        left_out: assembly.form.out.iter().map(|part| (part.clone(), through(part))).collect(),
        findings: standing(assembly, drape, Some(&checked)),
        places: checked.crossings,
        girths: checked.girths,
        hems: checked.hems,
        hang: checked.hang,
        stretch: checked.stretch,
    }
}
