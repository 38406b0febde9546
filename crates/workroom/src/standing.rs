//! How a drape stands: all that is open, crossed, out of its limits or unfinished, in one wording. The command line, the
//! read-out on the stand, the tape and the delivery tell nothing else.

use crate::{Assembly, CheckReport, CrossingKind};
use cloth::{Drape, Phase};
use glam::Vec3;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// Widest gap of a seam that counts as closed, m.
pub(crate) const OPEN: f32 = 1e-3;
/// Depth below the skin that counts as inside the body, m.
pub(crate) const DEEP: f32 = 4e-3;
/// Strain beyond any cloth.
pub(crate) const TORN: f32 = 0.25;

/// What is the matter.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum FindingKind {
    /// The cloth still moves, or was stopped before it rested.
    NotAtRest,
    OpenSeams,
    InsideBody,
    /// The way of a seam's threads goes through the body, before it is sewn.
    ThreadsThroughBody,
    CrossesBody,
    CrossesCloth,
    /// Cloth is stretched beyond what it could bear.
    Overstretched,
    /// Cloth passes through a part that is left out.
    CrossesLeftOut,
    /// Nobody has looked for crossings since the cloth last moved.
    NotChecked,
}

/// One finding with its words.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct Finding {
    /// What it is, as a value.
    pub kind: FindingKind,
    /// A few words that stand by themselves: \"2 seams open by up to 11.3 cm\".
    pub words: String,
    /// The drape is not good while this holds.
    pub is_fault: bool,
}

impl Finding {
    fn fault(kind: FindingKind, words: impl Into<String>) -> Self {
        Self { kind, words: words.into(), is_fault: true }
    }
}

fn counted(n: usize, one: &str) -> String {
    if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") }
}

/// All findings, gravest first; an empty list is a good drape. `checked` are the crossings of the present state, if they
/// were looked for since the cloth last moved.
pub fn standing(assembly: &Assembly, drape: &Drape, checked: Option<&CheckReport>) -> Vec<Finding> {
    use FindingKind::*;
    let mut found = Vec::new();
    let gaps = drape.seam_gaps(assembly.seam_tags.len());
    let widest = gaps.iter().copied().fold(0.0, f32::max);
    let open = gaps.iter().filter(|g| **g > OPEN).count();
    if open > 0 {
        found.push(Finding::fault(OpenSeams, format!("{} open by up to {:.1}\u{a0}cm", counted(open, "seam"), widest * 100.0)));
    }
    let depth = |p: &[f32; 3]| assembly.form.grid.distance(Vec3::from(*p));
    let deepest = drape.positions().iter().map(depth).fold(f32::MAX, f32::min);
    if deepest < -DEEP {
        found.push(Finding::fault(InsideBody, format!("cloth up to {:.0}\u{a0}mm inside the body", -deepest * 1000.0)));
    }
    if let Some(report) = checked {
        let places = |kind| report.crossings.iter().filter(move |c| c.kind == kind);
        let count = |kind| places(kind).count();
        for (kind, crossing, what) in
            [(CrossesBody, CrossingKind::ClothBody, "the body"), (CrossesCloth, CrossingKind::ClothCloth, "cloth")]
        {
            if count(crossing) > 0 {
                found.push(Finding::fault(kind, format!("{} with {what}", counted(count(crossing), "crossing"))));
            }
        }
        let mut parts: BTreeMap<&str, usize> = BTreeMap::new();
        for c in places(CrossingKind::ClothLeftOut) {
            *parts.entry(c.part.as_deref().unwrap_or("a part")).or_default() += c.pairs;
        }
        if !parts.is_empty() {
            let each: Vec<String> = parts.iter().map(|(key, n)| format!("{} ({n})", body::in_words(key).to_lowercase())).collect();
            let words = format!("passes through what is left out: {}", each.join(", "));
            found.push(Finding { kind: CrossesLeftOut, words, is_fault: false });
        }
    }
    let strain = drape.strain().into_iter().fold(0.0, f32::max);
    if strain > TORN {
        found.push(Finding::fault(Overstretched, format!("cloth stretched by up to {:.0}\u{a0}%", strain * 100.0)));
    }
    if drape.phase() != Phase::AtRest {
        found.push(Finding::fault(NotAtRest, "not at rest"));
    }
    if checked.is_none() {
        found.push(Finding { kind: NotChecked, words: "not checked since it moved".into(), is_fault: false });
    }
    found
}

/// What a costume that only hangs would have to be told before it is draped: seams that pull through the body.
pub fn before_draping(assembly: &Assembly) -> Vec<Finding> {
    let through = seams_through_body(assembly);
    if through.is_empty() {
        return Vec::new();
    }
    let tags: Vec<&str> = through.iter().map(|s| assembly.seam_tags[*s].as_str()).collect();
    let pull = if tags.len() == 1 { "pulls" } else { "pull" };
    let words = format!("{} {pull} through the body: {}", counted(tags.len(), "seam"), tags.join(", "));
    vec![Finding { kind: FindingKind::ThreadsThroughBody, words, is_fault: false }]
}

/// Threads are looked at in so many places.
const PLACES: usize = 12;
/// So deep in the body a thread would pull cloth through it, m; what lies less deep slips around.
const THROUGH: f32 = 0.05;
/// The trunk reaches so far below the level of the hips, m.
const BELOW: f32 = 0.03;
/// A seam is told when this share of its threads goes through.
const MANY: f32 = 0.3;

fn seams_through_body(assembly: &Assembly) -> Vec<usize> {
    let mut threads = vec![(0u32, 0u32); assembly.seam_tags.len()];
    let piece_of = |v: u32| assembly.pieces.partition_point(|p| p.first_vertex <= v as usize);
    // what is sewn to itself goes around and closes on the other side
    let crosses = |p: &&cloth::SeamPair| piece_of(p.a) != piece_of(p.b);
    // beside a leg or an arm cloth slips around to the side where its seam is
    let lowest = assembly.form.posed.station("hips-front").map_or(f32::MIN, |s| s.centre.y as f32 - BELOW);
    for pair in assembly.scene.pairs.iter().filter(crosses) {
        let [a, b] = [pair.a, pair.b].map(|v| Vec3::from(assembly.scene.positions[v as usize]));
        let places = (1..PLACES).map(|k| a.lerp(b, k as f32 / PLACES as f32)).filter(|p| p.y > lowest);
        let deepest = places.map(|p| assembly.form.grid.distance(p)).fold(f32::MAX, f32::min);
        let told = &mut threads[pair.seam as usize];
        told.0 += 1;
        told.1 += u32::from(deepest < -THROUGH);
    }
    (0..threads.len()).filter(|s| threads[*s].1 as f32 > MANY * threads[*s].0 as f32).collect()
}
