//! Laying blocks on the table, and drafting them anew when the body or a value changes.

use super::{change as apply_one, fresh, missing};
use crate::blocks::{Draft, PieceDraft};
use crate::{
    BlockId, BlockUse, Costume, Edit, LineId, Piece, PieceId, Placement, Point, Refusal, RefusalKind, Run, Shape, Thing, limits, recipe,
    resolve, rules,
};
use kurbo::Shape as _;
use std::collections::BTreeMap;

/// Between pieces on the table, mm.
const GAP: f64 = 60.0;

type Numbers = BTreeMap<String, f64>;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::AddBlock { recipe, values, measures, at } => add(costume, recipe, values, measures, *at),
        Edit::ChangeBlock { block, values, measures } => redraft(costume, *block, values, measures),
        Edit::DetachBlock { block } => super::removed(&mut costume.blocks, Thing::Block, |b| b.id == *block),
        _ => Ok(()),
    }
}

/// The measures that a recipe is drafted from.
fn own(recipe: &crate::Recipe, measures: &Numbers) -> Numbers {
    measures.iter().filter(|(k, _)| recipe.measures.contains(&k.as_str())).map(|(k, v)| (k.clone(), *v)).collect()
}

/// Blocks whose pieces an edit changes by hand follow the body no longer.
pub(super) fn detach(costume: &mut Costume, edit: &Edit) {
    let by_hand = !matches!(edit, Edit::MovePiece { .. } | Edit::TurnPiece { .. });
    if let Some(piece) = super::locks::changed(edit).filter(|_| by_hand) {
        let owner = costume.owner(piece);
        costume.blocks.retain(|b| !b.pieces.contains(&piece) && !b.pieces.contains(&owner));
    }
    if let Edit::SeparateTwin { piece } = edit {
        costume.blocks.retain(|b| !b.pieces.contains(piece));
    }
    if let Edit::MergePieces { .. } = edit {
        let there = costume.pieces.iter().map(|p| p.id).collect::<Vec<_>>();
        costume.blocks.retain(|b| b.pieces.iter().all(|p| there.contains(p)));
    }
}

fn drafted(key: &str, values: &Numbers, measures: &Numbers) -> Result<Draft, Refusal> {
    let found = recipe(key).ok_or_else(|| Refusal::of("block", RefusalKind::NoRecipe { key: key.to_owned() }))?;
    found.draft(measures, values)
}

fn add(costume: &mut Costume, key: &str, values: &Numbers, measures: &Numbers, at: Point) -> Result<(), Refusal> {
    rules::at_most("costume", crate::Counted::Blocks, costume.blocks.len() + 1, limits::BLOCKS)?;
    let draft = drafted(key, values, measures)?;
    let mut pieces = Vec::with_capacity(draft.pieces.len());
    let mut twins = Vec::with_capacity(draft.pieces.len());
    let mut x = at.x;
    for piece in &draft.pieces {
        let (id, twin) = add_piece(costume, piece, Point::new(x, at.y))?;
        let width = resolve(costume).piece(id).map_or(0.0, |p| p.size()[0]);
        x += width + GAP + twin.map_or(0.0, |_| width + GAP);
        pieces.push(id);
        twins.push(twin);
    }
    for sides in &draft.seams {
        let runs = |side: &[crate::blocks::Side]| side.iter().map(|s| run(costume, &pieces, &twins, s)).collect::<Result<Vec<_>, _>>();
        let (a, b) = (runs(&sides[0])?, runs(&sides[1])?);
        apply_one(costume, &Edit::Sew { a, b })?;
    }
    finish(costume, &draft, &pieces)?;
    let id = BlockId(fresh(costume));
    let measures = recipe(key).map_or_else(Numbers::new, |r| own(r, measures));
    let all = pieces.iter().copied().chain(twins.into_iter().flatten()).collect();
    costume.blocks.push(BlockUse { id, recipe: key.to_owned(), values: values.clone(), measures, pieces: all });
    Ok(())
}

/// A piece of the draft with its twin; its outline has the box's lower left corner at the place given.
fn add_piece(costume: &mut Costume, draft: &PieceDraft, at: Point) -> Result<(PieceId, Option<PieceId>), Refusal> {
    let (points, fold) = (draft.points.clone(), draft.fold);
    apply_one(costume, &Edit::AddPiece { name: draft.name.into(), at, points, fold })?;
    let id = costume.pieces.last().map(|p| p.id).ok_or_else(|| missing(Thing::Piece))?;
    let around = resolve(costume).piece(id).map(|p| p.outline_path().bounding_box()).ok_or_else(|| missing(Thing::Piece))?;
    if let Some(piece) = costume.pieces.iter_mut().find(|p| p.id == id) {
        piece.at = Point::new(at.x - around.x0, at.y - around.y0);
        piece.placement = draft.hang.map(|(station, anchor)| placed(station, anchor, around.center()));
    }
    if !draft.twin {
        return Ok((id, None));
    }
    // the twin lies beside it, turned over
    let right = at.x + around.width() + GAP;
    apply_one(costume, &Edit::AddTwin { piece: id, at: Point::new(right + around.x1, at.y - around.y0) })?;
    Ok((id, costume.pieces.last().map(|p| p.id)))
}

fn placed(station: &str, anchor: Point, middle: kurbo::Point) -> Placement {
    Placement { station: station.to_owned(), shift: Point::new(middle.x - anchor.x, middle.y - anchor.y), ..Placement::default() }
}

/// The line of a drafted piece before darts were cut into it.
fn line(costume: &Costume, piece: PieceId, k: usize) -> Result<LineId, Refusal> {
    let drawing = costume.piece(piece).and_then(Piece::drawing).ok_or_else(|| missing(Thing::Drawing))?;
    // a line has the number of the node it leaves, and nodes are in the order of the draft
    drawing.nodes.get(k).map(|n| LineId(n.id.0)).ok_or_else(|| missing(Thing::Edge))
}

fn run(costume: &Costume, pieces: &[PieceId], twins: &[Option<PieceId>], side: &crate::blocks::Side) -> Result<Run, Refusal> {
    let owner = *pieces.get(side.piece).ok_or_else(|| missing(Thing::Piece))?;
    let piece = if side.twin { twins[side.piece].ok_or_else(|| missing(Thing::Piece))? } else { owner };
    let run = Run::whole(piece, line(costume, owner, side.line)?);
    Ok(if side.back { run.turned() } else { run })
}

/// What lies along lines, notches and darts; darts last, as they part their lines.
fn finish(costume: &mut Costume, draft: &Draft, pieces: &[PieceId]) -> Result<(), Refusal> {
    for (piece, id) in draft.pieces.iter().zip(pieces) {
        for (k, finish) in &piece.along {
            let line = line(costume, *id, *k)?;
            apply_one(costume, &Edit::FinishLine { piece: *id, line, from: 0.0, to: 1.0, finish: Some(*finish) })?;
        }
        for (k, at) in &piece.notches {
            let line = line(costume, *id, *k)?;
            apply_one(costume, &Edit::AddNotch { piece: *id, line, at: *at, double: false })?;
        }
        for (k, at, width, depth) in &piece.darts {
            let line = line(costume, *id, *k)?;
            apply_one(costume, &Edit::AddDart { piece: *id, line, at: *at, width: *width, depth: *depth })?;
        }
    }
    Ok(())
}

/// The block drafted again: its pieces keep their ids, their places and all that was sewn to them.
fn redraft(costume: &mut Costume, block: BlockId, values: &Numbers, measures: &Numbers) -> Result<(), Refusal> {
    let used = costume.blocks.iter().find(|b| b.id == block).cloned().ok_or_else(|| missing(Thing::Block))?;
    let draft = drafted(&used.recipe, values, measures)?;
    // on a table of its own, in the order in which the pieces were laid
    let mut scratch = Costume::new("Block");
    add(&mut scratch, &used.recipe, values, measures, Point::new(0.0, 0.0))?;
    let owners: Vec<PieceId> = used.pieces.iter().copied().filter(|p| costume.owner(*p) == *p).collect();
    let made: Vec<&Piece> = scratch.pieces.iter().filter(|p| p.twin_of().is_none()).collect();
    if owners.len() != made.len() {
        return Err(Refusal::of("block", RefusalKind::BlockDiffers));
    }
    for ((id, new), piece) in owners.into_iter().zip(made).zip(&draft.pieces) {
        let Some(old) = costume.pieces.iter_mut().find(|p| p.id == id) else { continue };
        let (Shape::Drawn(drawing), Some(fresh)) = (&mut old.shape, new.drawing()) else { continue };
        // a dart more or less is another drawing
        if drawing.nodes.len() != fresh.nodes.len() || drawing.lines.len() != fresh.lines.len() {
            return Err(Refusal::of(&old.name, RefusalKind::BlockDiffers));
        }
        for (node, n) in drawing.nodes.iter_mut().zip(&fresh.nodes) {
            node.at = n.at;
        }
        for (line, l) in drawing.lines.iter_mut().zip(&fresh.lines) {
            line.handles = l.handles;
        }
        if let (Some(hang), Some(new)) = (piece.hang, &new.placement)
            && let Some(placement) = &mut old.placement
            && placement.station == hang.0
        {
            placement.shift = new.shift;
        }
    }
    if let Some(found) = costume.blocks.iter_mut().find(|b| b.id == block) {
        let known = recipe(&used.recipe).map_or_else(Numbers::new, |r| own(r, measures));
        (found.values, found.measures) = (values.clone(), known);
    }
    Ok(())
}
