//! Edits of whole pieces on the table: mirrored, scaled, lined up, ordered, grouped, locked, pasted.

use super::cutting::middle;
use super::pieces::{copy_name, transform};
use super::{find, fresh, missing};
use crate::mirror::{mirrored, mirrored_grain, mirrored_run};
use crate::pattern::mirrored_placement;
use crate::{Arrangement, Costume, Edit, FabricId, PieceId, Point, Quantity, Refusal, RefusalKind, Shape, Thing, limits, resolve, rules};
use kurbo::{Affine, Rect, Shape as _};
use std::collections::{HashMap, HashSet};

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::MirrorPiece { piece } => mirror(costume, *piece),
        Edit::ScalePiece { piece, x, y } => scale(costume, *piece, [*x, *y]),
        Edit::Arrange { pieces, how } => arrange(costume, pieces, *how),
        Edit::OrderPiece { piece, to } => order(costume, *piece, *to),
        Edit::LockPieces { pieces, locked } => pieces.iter().try_for_each(|p| find(costume, *p).map(|p| p.locked = *locked)),
        Edit::GroupPieces { pieces, together } => {
            let group = together.then(|| fresh(costume));
            pieces.iter().try_for_each(|p| find(costume, *p).map(|p| p.group = group))
        }
        Edit::Paste { clip, by } => paste(costume, clip, *by),
        _ => Ok(()),
    }
}

/// Turns a piece over: a piece of its own becomes its mirror image; a twin's partner does, and the twin with it.
fn mirror(costume: &mut Costume, id: PieceId) -> Result<(), Refusal> {
    let owner = costume.owner(id);
    let piece = find(costume, owner)?;
    let Shape::Drawn(drawing) = &piece.shape else { return Err(missing(Thing::Drawing)) };
    piece.shape = Shape::Drawn(mirrored(drawing));
    piece.grain = mirrored_grain(piece.grain);
    piece.angle = -piece.angle;
    piece.placement = piece.placement.as_ref().map(mirrored_placement);
    let shown = super::references::shown_by(costume, owner);
    for run in costume.seams.iter_mut().flat_map(|s| s.runs_mut()).filter(|r| shown.contains(&r.piece)) {
        *run = mirrored_run(*run);
    }
    for twin in costume.pieces.iter_mut().filter(|p| p.twin_of() == Some(owner)) {
        twin.grain = mirrored_grain(twin.grain);
        twin.angle = -twin.angle;
        twin.placement = twin.placement.as_ref().map(mirrored_placement);
    }
    Ok(())
}

/// By these factors about its middle.
fn scale(costume: &mut Costume, id: PieceId, factors: [f64; 2]) -> Result<(), Refusal> {
    let owner = costume.owner(id);
    let piece = find(costume, owner)?;
    for f in factors {
        rules::within(&piece.name, Quantity::Scale, f, &(0.01..=100.0))?;
    }
    let Shape::Drawn(drawing) = &mut piece.shape else { return Err(missing(Thing::Drawing)) };
    let m = middle(drawing);
    transform(drawing, |p| Point::new(m.x + (p.x - m.x) * factors[0], m.y + (p.y - m.y) * factors[1]));
    Ok(())
}

/// Lines pieces up by the boxes around them on the table, or spreads them with even gaps.
fn arrange(costume: &mut Costume, pieces: &[PieceId], how: Arrangement) -> Result<(), Refusal> {
    let pattern = resolve(costume);
    let mut boxes: Vec<(PieceId, Rect)> = Vec::with_capacity(pieces.len());
    for id in pieces {
        let piece = pattern.piece(*id).ok_or_else(|| missing(Thing::Piece))?;
        let on_table: Affine = piece.on_table();
        boxes.push((*id, (on_table * piece.outline_path()).bounding_box()));
    }
    let Some(all) = boxes.iter().map(|b| b.1).reduce(|a, b| a.union(b)) else { return Ok(()) };
    let spread = |boxes: &mut Vec<(PieceId, Rect)>, side: fn(&Rect) -> (f64, f64)| -> Vec<(PieceId, f64)> {
        boxes.sort_by(|a, b| side(&a.1).0.total_cmp(&side(&b.1).0));
        let whole = boxes.iter().map(|b| side(&b.1).1).fold(f64::MIN, f64::max) - side(&boxes[0].1).0;
        let gap = (whole - boxes.iter().map(|b| side(&b.1).1 - side(&b.1).0).sum::<f64>()) / (boxes.len().max(2) - 1) as f64;
        let mut at = side(&boxes[0].1).0;
        boxes
            .iter()
            .map(|(id, b)| {
                let step = at - side(b).0;
                at += side(b).1 - side(b).0 + gap;
                (*id, step)
            })
            .collect()
    };
    let steps: Vec<(PieceId, Point)> = match how {
        Arrangement::SpreadAcross => spread(&mut boxes, |b| (b.x0, b.x1)).into_iter().map(|(id, x)| (id, Point::new(x, 0.0))).collect(),
        Arrangement::SpreadUp => spread(&mut boxes, |b| (b.y0, b.y1)).into_iter().map(|(id, y)| (id, Point::new(0.0, y))).collect(),
        _ => boxes
            .iter()
            .map(|(id, b)| {
                let (x, y) = match how {
                    Arrangement::Left => (all.x0 - b.x0, 0.0),
                    Arrangement::Right => (all.x1 - b.x1, 0.0),
                    Arrangement::Centre => (all.center().x - b.center().x, 0.0),
                    Arrangement::Top => (0.0, all.y1 - b.y1),
                    Arrangement::Bottom => (0.0, all.y0 - b.y0),
                    _ => (0.0, all.center().y - b.center().y),
                };
                (*id, Point::new(x, y))
            })
            .collect(),
    };
    for (id, step) in steps {
        let piece = find(costume, id)?;
        piece.at = Point::new(piece.at.x + step.x, piece.at.y + step.y);
    }
    Ok(())
}

/// Puts a piece at another place in the order in which they lie on the table.
fn order(costume: &mut Costume, id: PieceId, to: usize) -> Result<(), Refusal> {
    let from = costume.pieces.iter().position(|p| p.id == id).ok_or_else(|| missing(Thing::Piece))?;
    let piece = costume.pieces.remove(from);
    let to = to.min(costume.pieces.len());
    costume.pieces.insert(to, piece);
    Ok(())
}

/// Puts the pieces of another document in, with their seams and fabrics, all with new ids.
fn paste(costume: &mut Costume, clip: &Costume, by: Point) -> Result<(), Refusal> {
    rules::check(clip, None)?;
    if costume.next_id.checked_add(clip.next_id).is_none_or(|next| next > limits::IDS) {
        let kind = RefusalKind::IdsBeyond { next: clip.next_id, most: limits::IDS - costume.next_id.min(limits::IDS) };
        return Err(Refusal::of("clip", kind));
    }
    let shift = costume.next_id;
    costume.next_id += clip.next_id;
    let mut clip = clip.clone();
    let mut fabrics: HashMap<FabricId, FabricId> = HashMap::new();
    for fabric in &clip.fabrics {
        let like = costume.fabrics.iter().find(|f| crate::Fabric { id: fabric.id, ..(*f).clone() } == *fabric).map(|f| f.id);
        let id = like.unwrap_or(FabricId(fabric.id.0 + shift));
        if like.is_none() {
            costume.fabrics.push(crate::Fabric { id, ..fabric.clone() });
        }
        fabrics.insert(fabric.id, id);
    }
    let taken: HashSet<String> = costume.pieces.iter().map(|p| p.name.clone()).collect();
    for piece in &mut clip.pieces {
        piece.id.0 += shift;
        piece.at = Point::new(piece.at.x + by.x, piece.at.y + by.y);
        piece.fabric = fabrics.get(&piece.fabric).copied().unwrap_or(piece.fabric);
        piece.group = piece.group.map(|g| g + shift);
        if taken.contains(&piece.name) {
            piece.name = copy_name(&piece.name, "copy");
        }
        if let Some(fold) = &mut piece.cut.on_fold {
            fold.0 += shift;
        }
        match &mut piece.shape {
            Shape::Twin { of } => of.0 += shift,
            Shape::Drawn(drawing) => super::pieces::shift_ids(drawing, shift),
        }
    }
    for seam in &mut clip.seams {
        seam.id.0 += shift;
        seam.tag = super::seams::free_tag(costume);
        for run in seam.runs_mut() {
            run.piece.0 += shift;
            run.line.0 += shift;
        }
        costume.seams.push(seam.clone());
    }
    for block in &mut clip.blocks {
        block.id.0 += shift;
        block.pieces.iter_mut().for_each(|p| p.0 += shift);
    }
    costume.blocks.append(&mut clip.blocks);
    costume.pieces.append(&mut clip.pieces);
    Ok(())
}
