//! What goes wrong in a running drape: which piece, where, since when, why, and what mends it.

use crate::Assembly;
use crate::standing::{DEEP, OPEN, TORN};
use cloth::{Drape, Phase};
use costume::PieceId;
use glam::Vec3;
use serde::Serialize;
use std::collections::BTreeMap;
use ts_rs::TS;

/// Simulated seconds after which cloth inside the body did not start there.
const EARLY: f64 = 2.0;
/// Share of a piece's lesser side over which its cloth bends when it is too stiff to be closed around something.
const BOARD: f64 = 0.25;
/// Seconds that a trouble must last before it is told; cloth that moves fast is given time.
const PATIENCE: f64 = 0.75;

/// What is the matter.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Cause {
    /// A step could not be computed and was left out.
    Failed,
    /// Cloth is below the skin.
    InsideBody,
    /// Cloth crosses cloth.
    Tangled,
    /// A seam does not close.
    SeamCaught,
    /// Cloth is stretched beyond what it could bear.
    Overstretched,
}

/// One trouble, with the words to tell it.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct SimulationIssue {
    /// What it is, as a value.
    pub cause: Cause,
    /// Piece or seam.
    pub item: String,
    /// In words.
    pub reason: String,
    /// What can be done.
    pub remedy: String,
    /// The piece that hanging again would help.
    pub piece: Option<PieceId>,
    /// m, on the stand.
    pub at: [f32; 3],
    /// Simulated seconds at which it began.
    pub since: f64,
}

/// Remembers since when each trouble lasts.
#[derive(Default)]
pub struct IssueMonitor {
    since: BTreeMap<Cause, f64>,
}

impl IssueMonitor {
    /// The gravest trouble that lasts; call a few times a second.
    pub fn look(&mut self, assembly: &Assembly, drape: &Drape) -> Option<SimulationIssue> {
        let found = found(assembly, drape);
        self.since.retain(|cause, _| found.iter().any(|t| t.cause == *cause));
        let (now, resting) = (drape.time(), drape.phase() == Phase::AtRest);
        found
            .into_iter()
            .map(|t| SimulationIssue { since: *self.since.entry(t.cause).or_insert(now), ..t })
            .find(|t| t.cause == Cause::Failed || resting || now - t.since >= PATIENCE)
    }
}

/// Whether the piece of a triangle stands like a board.
fn too_stiff(assembly: &Assembly, triangle: usize) -> bool {
    let costume = &assembly.costume;
    let Some(piece) = assembly.pattern.piece(assembly.piece_of_triangle(triangle).piece) else { return false };
    let bends = costume.fabric(piece.fabric).and_then(costume::Fabric::cloth).map_or(0.0, |cloth| cloth.bending_length());
    bends > BOARD * piece.extents()[0]
}

/// All troubles of the moment, gravest first.
fn found(assembly: &Assembly, drape: &Drape) -> Vec<SimulationIssue> {
    let x = drape.positions();
    let shown = |cause, triangle: Option<usize>, at: [f32; 3], reason: String, remedy: &str| {
        let piece = triangle.map(|t| assembly.piece_of_triangle(t));
        let item = piece.map_or_else(|| assembly.costume.name.clone(), |p| p.name.clone());
        SimulationIssue { cause, item, reason, remedy: remedy.into(), piece: piece.map(|p| p.piece), at, since: 0.0 }
    };
    let owner = |v: usize| assembly.scene.triangles.iter().position(|t| t.contains(&(v as u32)));
    let mut list = Vec::new();
    if let Some(v) = drape.failed_at() {
        list.push(shown(
            Cause::Failed,
            owner(v),
            x[v],
            "could not be computed for a moment".into(),
            "go back to the last good state, or choose a coarser mesh",
        ));
    }
    let depth = |p: &[f32; 3]| assembly.form.grid.distance(Vec3::from(*p));
    if let Some((v, d)) = x.iter().map(depth).enumerate().min_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, d)| *d < -DEEP) {
        let how = if drape.time() < EARLY { "starts" } else { "is" };
        let reason = format!("{how} {:.0} mm inside the body", -d * 1000.0);
        list.push(shown(Cause::InsideBody, owner(v), x[v], reason, "hang it again, farther out, or tug it free"));
    }
    if let Some((triangle, at)) = drape.tangle() {
        let reason = format!("crosses other cloth at {} places", drape.statistics().tangles);
        list.push(shown(Cause::Tangled, Some(triangle as usize), at, reason, "wait, tug it apart, or hang it again"));
    }
    if drape.phase() != Phase::Closing
        && let Some((pair, gap)) = drape.widest_gap().filter(|(_, gap)| *gap > OPEN)
    {
        let tag = &assembly.seam_tags[pair.seam as usize];
        let why = if owner(pair.b as usize).is_some_and(|t| too_stiff(assembly, t)) { "too stiff to bend that far" } else { "too small" };
        let reason = format!("stays open by {:.0} mm: it is {why}, or something lies between its sides", gap * 1000.0);
        let caught = shown(
            Cause::SeamCaught,
            owner(pair.b as usize),
            x[pair.a as usize],
            reason,
            "tug the cloth free, make it larger, or hang the piece again",
        );
        list.push(SimulationIssue { item: format!("Seam {tag}"), ..caught });
    }
    if let Some((t, strain)) = drape.strain().into_iter().enumerate().max_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, s)| *s > TORN) {
        let at = x[assembly.scene.triangles[t][0] as usize];
        let reason = format!("is stretched by {:.0} %, squeezed or too small", strain * 100.0);
        list.push(shown(Cause::Overstretched, Some(t), at, reason, "make it larger, choose a cloth that gives, or hang it again"));
    }
    list
}
