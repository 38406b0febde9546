//! What every document must obey. Files and edits are held to the same rules.

mod body;
mod drawing;
mod fabric;
mod geometry;
mod seams;
mod size;

pub use fabric::fabric;

use crate::pattern::resolve_after;
use crate::{Costume, Fineness, Pattern, Piece, Point, Refusal, Shape, limits, resolve};
use std::collections::HashSet;

pub(crate) type Checked = Result<(), Refusal>;

/// Checks the whole document and returns its pattern; the first broken rule is returned. Shapes that are as they were
/// `before`, in a document that obeyed the rules, are not looked at again.
pub(crate) fn check(costume: &Costume, before: Option<(&Costume, &Pattern)>) -> Result<Pattern, Refusal> {
    references(costume)?;
    let pattern = match before {
        Some((old, pattern)) => resolve_after(old, pattern, costume),
        None => resolve(costume),
    };
    if pattern.pieces.len() != costume.pieces.len() {
        return Err(Refusal::new(
            "costume file",
            "has a piece that refers to a node or line that does not exist",
            "restore it from a copy",
        ));
    }
    let known = |id| before.is_some_and(|(old, _)| same_shape(old.piece(id), costume.piece(id)));
    // twins are mirror images of what is checked
    pattern.pieces.iter().filter(|p| p.twin_of.is_none() && !known(p.id)).try_for_each(geometry::piece)?;
    geometry::embedded(costume, &pattern)?;
    seams::lengths(costume, &pattern)?;
    size::file(costume)?;
    Ok(pattern)
}

fn same_shape(old: Option<&Piece>, new: Option<&Piece>) -> bool {
    matches!((old, new), (Some(old), Some(new)) if old.shape == new.shape && old.cut == new.cut)
}

/// Names, numbers, counts, ids and what refers to what; no geometry.
pub(crate) fn references(costume: &Costume) -> Checked {
    name("costume", &costume.name)?;
    fineness(costume.fineness)?;
    body::check(costume)?;
    at_most("costume", "pieces", costume.pieces.len(), limits::PIECES)?;
    at_most("costume", "seams", costume.seams.len(), limits::SEAMS)?;
    at_most("costume", "fabrics", costume.fabrics.len(), limits::FABRICS)?;
    for p in &costume.pieces {
        piece(costume, p)?;
    }
    ids(costume)?;
    costume.fabrics.iter().try_for_each(fabric)?;
    seams::check(costume)
}

pub(crate) fn at_most(item: &str, what: &str, count: usize, limit: usize) -> Checked {
    if count > limit {
        return Err(Refusal::new(item, format!("has {count} {what}, more than the limit of {limit}"), format!("keep to {limit} {what}")));
    }
    Ok(())
}

/// Whether a text can be the name of something: 1 to `limits::NAME` characters, not all blank, no control characters.
pub fn is_name(text: &str) -> bool {
    !text.trim().is_empty() && text.chars().count() <= limits::NAME && !text.chars().any(char::is_control)
}

pub(crate) fn name(item: &str, text: &str) -> Checked {
    if !is_name(text) {
        return Err(Refusal::new(item, "needs a readable name", format!("give it 1 to {} characters", limits::NAME)));
    }
    Ok(())
}

fn fineness(fineness: Fineness) -> Checked {
    let mm = fineness.edge_mm();
    if !limits::FINENESS.contains(&mm) {
        let (low, high) = (limits::FINENESS.start(), limits::FINENESS.end());
        return Err(Refusal::new(
            "fineness",
            format!("{mm} mm is outside {low} to {high} mm"),
            format!("choose an edge length from {low} to {high} mm"),
        ));
    }
    Ok(())
}

/// Every id is below `next_id` and names one thing of its kind. A node and a line may share a number.
fn ids(costume: &Costume) -> Checked {
    if costume.next_id > limits::IDS {
        let reason = format!("counts its ids up to {}, beyond {}", costume.next_id, limits::IDS);
        return Err(Refusal::new("costume file", reason, "restore the file from a copy"));
    }
    let drawings = || costume.pieces.iter().filter_map(Piece::drawing);
    let things = costume
        .fabrics
        .iter()
        .map(|f| f.id.0)
        .chain(costume.seams.iter().map(|s| s.id.0))
        .chain(costume.tapes.iter().map(|t| t.id.0))
        .chain(costume.pieces.iter().map(|p| p.id.0))
        .chain(drawings().flat_map(|d| d.inside.iter().map(|p| p.id.0)))
        .chain(drawings().flat_map(|d| d.marks.iter().map(|m| m.id().0)))
        .chain(drawings().flat_map(|d| d.along.iter().map(|a| a.id.0)));
    let nodes = drawings().flat_map(|d| d.nodes.iter().map(|n| n.id.0));
    let lines = drawings().flat_map(|d| d.lines.iter().map(|l| l.id.0));
    let mut seen = HashSet::new();
    let all = things.map(|id| (0, id)).chain(nodes.map(|id| (1, id))).chain(lines.map(|id| (2, id)));
    for (kind, id) in all {
        if !seen.insert((kind, id)) || id >= costume.next_id {
            return Err(Refusal::new("costume file", format!("uses the id {id} twice or beyond next_id"), "restore the file from a copy"));
        }
    }
    Ok(())
}

/// Checks one piece by itself, without its geometry.
fn piece(costume: &Costume, piece: &Piece) -> Checked {
    name("piece", &piece.name)?;
    on_table(&piece.name, piece.at)?;
    let remedy = format!("give it in degrees, from {} to {}", limits::ANGLE.start(), limits::ANGLE.end());
    if !limits::ANGLE.contains(&piece.grain) {
        return Err(Refusal::new(&piece.name, "has no grain direction", remedy));
    }
    if !limits::ANGLE.contains(&piece.angle) {
        return Err(Refusal::new(&piece.name, "has no angle on the table", remedy));
    }
    if let Some(placement) = &piece.placement {
        name("station", &placement.station)?;
        on_table(&piece.name, placement.shift)?;
        if !limits::ANGLE.contains(&placement.turn) {
            return Err(Refusal::new(&piece.name, "has no turn at its station", remedy));
        }
    }
    if !limits::WEAR.contains(&piece.wear) {
        let (low, high) = (limits::WEAR.start(), limits::WEAR.end());
        let reason = format!("cannot have the wear order {}", piece.wear);
        return Err(Refusal::new(&piece.name, reason, format!("give it one from {low} to {high}")));
    }
    if piece.cut.count == 0 {
        return Err(Refusal::new(&piece.name, "is cut no times", "cut it once or more"));
    }
    if costume.fabric(piece.fabric).is_none() {
        return Err(Refusal::new(&piece.name, "is cut from a fabric that the costume does not have", "choose one of its fabrics"));
    }
    match &piece.shape {
        Shape::Drawn(drawing) => drawing::check(costume, piece, drawing),
        Shape::Twin { of } => {
            if costume.piece(*of).and_then(Piece::drawing).is_none() {
                return Err(Refusal::new(&piece.name, "is the twin of a piece that is not drawn", "make it from a drawn piece"));
            }
            if piece.cut.on_fold.is_some() {
                return Err(Refusal::new(&piece.name, "is a twin", "lay its partner on the fold"));
            }
            Ok(())
        }
    }
}

fn on_table(item: &str, p: Point) -> Checked {
    if !(p.x.abs() <= limits::TABLE && p.y.abs() <= limits::TABLE) {
        return Err(Refusal::new(item, "would leave the table", format!("stay within {} m of its middle", limits::TABLE / 1000.0)));
    }
    Ok(())
}
