//! What every document must obey. Files and edits are held to the same rules.

mod body;
mod drawing;
mod fabric;
mod geometry;

pub(crate) use drawing::stroke;
pub(crate) use geometry::{polygon_crosses, turn};
mod seams;
mod size;
mod underlays;

pub use fabric::{check_print, fabric};

use crate::pattern::resolve_after;
use crate::{Costume, Counted, Pattern, Piece, PieceId, Point, Quantity, Refusal, RefusalKind, Shape, limits, resolve};
use std::ops::RangeInclusive;

pub(crate) type Checked = Result<(), Refusal>;

/// Checks the whole document and returns its pattern; the first broken rule is returned. Shapes that are as they were
/// `before`, in a document that obeyed the rules, are not looked at again.
pub(crate) fn check(costume: &Costume, before: Option<(&Costume, &Pattern)>) -> Result<Pattern, Refusal> {
    let known = |id| before.is_some_and(|(old, _)| same_shape(old.piece(id), costume.piece(id)));
    referring(costume, known)?;
    let pattern = match before {
        Some((old, pattern)) => resolve_after(old, pattern, costume),
        None => resolve(costume),
    };
    if pattern.pieces.len() != costume.pieces.len() {
        return Err(Refusal::of("costume file", RefusalKind::BrokenPiece));
    }
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
    referring(costume, |_| false)
}

/// The same, but for the chains of pieces whose shapes are known to be sound.
fn referring(costume: &Costume, known: impl Fn(PieceId) -> bool) -> Checked {
    name("costume", &costume.name)?;
    within("fineness", Quantity::Fineness, costume.fineness.edge_mm(), &limits::FINENESS)?;
    body::check(costume)?;
    underlays::check(costume)?;
    at_most("costume", Counted::Pieces, costume.pieces.len(), limits::PIECES)?;
    at_most("costume", Counted::Seams, costume.seams.len(), limits::SEAMS)?;
    at_most("costume", Counted::Blocks, costume.blocks.len(), limits::BLOCKS)?;
    costume.blocks.iter().try_for_each(|b| block(costume, b))?;
    at_most("costume", Counted::Fabrics, costume.fabrics.len(), limits::FABRICS)?;
    for p in &costume.pieces {
        piece(costume, p, known(p.id))?;
    }
    ids(costume)?;
    costume.fabrics.iter().try_for_each(fabric)?;
    seams::check(costume)
}

pub(crate) fn at_most(item: &str, of: Counted, count: usize, most: usize) -> Checked {
    if count > most { Err(Refusal::of(item, RefusalKind::TooMany { of, count, most })) } else { Ok(()) }
}

/// Refuses numbers outside of a range, and what is no number.
pub(crate) fn within(item: &str, of: Quantity, value: f64, range: &RangeInclusive<f64>) -> Checked {
    if range.contains(&value) {
        return Ok(());
    }
    Err(Refusal::of(item, RefusalKind::OutOfRange { of, value, low: *range.start(), high: *range.end() }))
}

/// Whether a text can be the name of something: 1 to `limits::NAME` characters, not all blank, no control characters.
pub fn is_name(text: &str) -> bool {
    !text.trim().is_empty() && text.chars().count() <= limits::NAME && !text.chars().any(char::is_control)
}

pub(crate) fn name(item: &str, text: &str) -> Checked {
    if !is_name(text) {
        return Err(Refusal::of(item, RefusalKind::Name { longest: limits::NAME }));
    }
    Ok(())
}

/// Every id is below `next_id` and names one thing of its kind. A node and a line may share a number.
fn ids(costume: &Costume) -> Checked {
    if costume.next_id > limits::IDS {
        return Err(Refusal::of("costume file", RefusalKind::IdsBeyond { next: costume.next_id, most: limits::IDS }));
    }
    let drawings = || costume.pieces.iter().filter_map(Piece::drawing);
    let things = costume
        .fabrics
        .iter()
        .map(|f| f.id.0)
        .chain(costume.seams.iter().map(|s| s.id.0))
        .chain(costume.tapes.iter().map(|t| t.id.0))
        .chain(costume.notes.iter().map(|n| n.id.0))
        .chain(costume.underlays.iter().map(|u| u.id.0))
        .chain(costume.blocks.iter().map(|b| b.id.0))
        .chain(costume.pieces.iter().map(|p| p.id.0))
        .chain(drawings().flat_map(|d| d.inside.iter().map(|p| p.id.0)))
        .chain(drawings().flat_map(|d| d.marks.iter().map(|m| m.id().0)))
        .chain(drawings().flat_map(|d| d.along.iter().map(|a| a.id.0)));
    let nodes = drawings().flat_map(|d| d.nodes.iter().map(|n| n.id.0));
    let lines = drawings().flat_map(|d| d.lines.iter().map(|l| l.id.0));
    let all = things.map(|id| (0, id)).chain(nodes.map(|id| (1, id))).chain(lines.map(|id| (2, id)));
    let mut all: Vec<(u8, u32)> = all.collect();
    // sorting is quicker than remembering each
    all.sort_unstable();
    let twice = all.windows(2).find(|w| w[0] == w[1]).map(|w| w[0]);
    if let Some((_, id)) = twice.or_else(|| all.iter().copied().find(|(_, id)| *id >= costume.next_id)) {
        return Err(Refusal::of("costume file", RefusalKind::IdTwice { id }));
    }
    Ok(())
}

/// A block has a recipe, numbers within reason, and pieces that are there.
fn block(costume: &Costume, block: &crate::BlockUse) -> Checked {
    name("block", &block.recipe)?;
    let numbers = block.values.len() + block.measures.len();
    at_most(&block.recipe, Counted::Measures, numbers, 2 * limits::MEASURES)?;
    for (key, value) in block.values.iter().chain(&block.measures) {
        name("measure", key)?;
        within(&block.recipe, Quantity::Measure, *value, &(-limits::TABLE..=limits::TABLE))?;
    }
    if block.pieces.is_empty() || !block.pieces.iter().all(|p| costume.piece(*p).is_some()) {
        return Err(Refusal::of("costume file", RefusalKind::BrokenPiece));
    }
    Ok(())
}

/// Checks one piece by itself, without its geometry; of a shape that is known only what it refers to.
fn piece(costume: &Costume, piece: &Piece, known: bool) -> Checked {
    name("piece", &piece.name)?;
    on_table(&piece.name, piece.at)?;
    within(&piece.name, Quantity::Grain, piece.grain, &limits::ANGLE)?;
    within(&piece.name, Quantity::TableAngle, piece.angle, &limits::ANGLE)?;
    if let Some(placement) = &piece.placement {
        name("station", &placement.station)?;
        on_table(&piece.name, placement.shift)?;
        within(&piece.name, Quantity::StationTurn, placement.turn, &limits::ANGLE)?;
        within(&piece.name, Quantity::Lean, placement.lean, &limits::LEAN)?;
        within(&piece.name, Quantity::HungAt, placement.clearance.unwrap_or(0.0), &limits::HUNG)?;
    }
    let wear = f64::from(*limits::WEAR.start())..=f64::from(*limits::WEAR.end());
    within(&piece.name, Quantity::WearOrder, f64::from(piece.wear), &wear)?;
    if let Some(place) = &piece.print_at {
        on_table(&piece.name, place.at)?;
        within(&piece.name, Quantity::PrintTurn, place.turn, &limits::ANGLE)?;
    }
    if piece.cut.count == 0 {
        return Err(Refusal::of(&piece.name, RefusalKind::CutNoTimes));
    }
    if costume.fabric(piece.fabric).is_none() {
        return Err(Refusal::of(&piece.name, RefusalKind::NoFabric));
    }
    match &piece.shape {
        Shape::Drawn(drawing) if known => drawing::purposes(costume, piece, drawing),
        Shape::Drawn(drawing) => drawing::check(costume, piece, drawing),
        Shape::Twin { of } => {
            if costume.piece(*of).and_then(Piece::drawing).is_none() {
                return Err(Refusal::of(&piece.name, RefusalKind::TwinOfUndrawn));
            }
            if piece.cut.on_fold.is_some() {
                return Err(Refusal::of(&piece.name, RefusalKind::TwinOnFold));
            }
            Ok(())
        }
    }
}

/// Whether a text names a stored file by its content.
pub(crate) fn is_hash(text: &str) -> bool {
    text.len() == 64 && text.bytes().all(|c| c.is_ascii_digit() || (b'a'..=b'f').contains(&c))
}

/// Words that a designer writes on a pattern.
fn text(item: &str, words: &str) -> Checked {
    if words.trim().is_empty() || words.chars().count() > limits::TEXT || words.chars().any(char::is_control) {
        return Err(Refusal::of(item, RefusalKind::Text { longest: limits::TEXT }));
    }
    Ok(())
}

fn on_table(item: &str, p: Point) -> Checked {
    if !(p.x.abs() <= limits::TABLE && p.y.abs() <= limits::TABLE) {
        return Err(Refusal::of(item, RefusalKind::OffTable { metres: limits::TABLE / 1000.0 }));
    }
    Ok(())
}
