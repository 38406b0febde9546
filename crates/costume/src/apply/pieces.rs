//! Edits of whole pieces, of their cut-outs and paths inside, and of what lies along their lines.

use super::{drawing, find, fresh, fresh_along, missing, references};
use crate::curve::line_curve;
use crate::mirror::{mirrored, mirrored_grain, mirrored_run};
use crate::{
    Along, Costume, CutPlan, Drawing, Edit, InsidePath, Line, LineId, LoopPoint, Mark, Node, NodeId, NodeKind, PathId, Piece, PieceId,
    Point, PrintPlace, Purpose, Refusal, RefusalKind, Shape, Thing, limits,
};
use kurbo::{BezPath, Shape as _};
use std::collections::{HashMap, HashSet};

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::AddPiece { name, at, points, fold } => {
            add(costume, name, *at, points)?;
            if let (Some(fold), Some(piece)) = (fold, costume.pieces.last_mut()) {
                // a line has the number of the node it leaves
                let line = piece.drawing().and_then(|d| d.nodes.get(*fold as usize)).map(|n| LineId(n.id.0));
                piece.cut.on_fold = Some(line.ok_or_else(|| missing(Thing::Edge))?);
            }
        }
        Edit::RemovePiece { piece } => remove(costume, *piece)?,
        Edit::CopyPiece { piece, at } => copy(costume, *piece, *at)?,
        Edit::AddTwin { piece, at } => add_twin(costume, *piece, *at)?,
        Edit::SeparateTwin { piece } => separate(costume, *piece)?,
        Edit::RenamePiece { piece, name } => find(costume, *piece)?.name.clone_from(name),
        Edit::MovePiece { piece, at } => find(costume, *piece)?.at = *at,
        Edit::TurnPiece { piece, angle } => find(costume, *piece)?.angle = *angle,
        Edit::SetGrain { piece, degrees } => find(costume, *piece)?.grain = *degrees,
        Edit::SetFabric { piece, fabric } => find(costume, *piece)?.fabric = *fabric,
        Edit::SetCut { piece, cut } => set_cut(costume, *piece, *cut)?,
        Edit::SetWear { piece, wear } => find(costume, *piece)?.wear = *wear,
        Edit::PlacePrint { piece, place } => find(costume, *piece)?.print_at = *place,
        Edit::Place { piece, placement } => find(costume, *piece)?.placement.clone_from(placement),
        Edit::Park { piece, parked } => find(costume, *piece)?.parked = *parked,
        Edit::AddCutout { piece, points } => add_cutout(costume, *piece, points)?,
        Edit::RemoveCutout { piece, line } => {
            let owner = costume.owner(*piece);
            let (drawing, _) = drawing(costume, *piece)?;
            let k = drawing.cutouts.iter().position(|c| c.contains(line)).ok_or_else(|| missing(Thing::CutOut))?;
            let gone = drawing.cutouts.remove(k);
            take_lines(costume, owner, &gone)?;
        }
        Edit::SetPurpose { piece, path, purpose } => {
            let (drawing, _) = drawing(costume, *piece)?;
            drawing.inside.iter_mut().find(|p| p.id == *path).ok_or_else(|| missing(Thing::InsideLine))?.purpose = *purpose;
        }
        Edit::RemoveInside { piece, path } => remove_inside(costume, costume.owner(*piece), *path)?,
        Edit::FinishLine { piece, line, from, to, finish } => {
            let id = fresh_along(costume);
            let (drawing, is_mirrored) = drawing(costume, *piece)?;
            let (from, to) = if is_mirrored { (1.0 - to, 1.0 - from) } else { (*from, *to) };
            // what held this stretch gives way; parts beside it stay
            let gives_way = |a: &Along| a.line == *line && finish.map_or_else(|| a.finish.holds(), |f| f.replaces(&a.finish));
            let (old, kept): (Vec<Along>, Vec<Along>) = drawing.along.iter().copied().partition(gives_way);
            drawing.along = kept;
            drawing.along.extend(finish.map(|finish| Along { id, line: *line, from, to, finish }));
            for a in old {
                let parts = [(a.from, a.to.min(from)), (a.from.max(to), a.to)].into_iter().filter(|(from, to)| to - from > 1e-9);
                for (k, (from, to)) in parts.enumerate() {
                    let id = if k == 0 { a.id } else { fresh_along(costume) };
                    super::drawing(costume, *piece)?.0.along.push(Along { id, from, to, ..a });
                }
            }
        }
        _ => {}
    }
    Ok(())
}

/// Nodes and lines of a closed loop with fresh ids.
fn closed(costume: &mut Costume, points: &[LoopPoint]) -> (Vec<Line>, Vec<Node>, Vec<LineId>) {
    let nodes: Vec<Node> = points.iter().map(|p| Node { id: NodeId(fresh(costume)), at: p.at(), kind: NodeKind::Corner }).collect();
    // a line has the number of the node it leaves
    let lines: Vec<Line> = (0..nodes.len())
        .map(|k| Line { id: LineId(nodes[k].id.0), from: nodes[k].id, to: nodes[(k + 1) % nodes.len()].id, handles: points[k].handles })
        .collect();
    let chain = lines.iter().map(|l| l.id).collect();
    (lines, nodes, chain)
}

/// A closed loop of holes in the cloth, either way round.
pub(super) fn add_cutout(costume: &mut Costume, piece: PieceId, points: &[LoopPoint]) -> Result<(), Refusal> {
    let (lines, nodes, chain) = closed(costume, points);
    let (drawing, is_mirrored) = drawing(costume, piece)?;
    let mut made = Drawing { nodes, lines, outline: chain, ..Drawing::default() };
    if is_mirrored {
        made = mirrored(&made);
    }
    if area(&made) > 0.0 {
        turn(&mut made);
    }
    drawing.nodes.extend(made.nodes);
    drawing.lines.extend(made.lines);
    drawing.cutouts.push(made.outline);
    Ok(())
}

/// Moves everything of a drawing.
pub(super) fn transform(drawing: &mut Drawing, image: impl Fn(Point) -> Point) {
    drawing.nodes.iter_mut().for_each(|n| n.at = image(n.at));
    drawing.lines.iter_mut().for_each(|l| l.handles = l.handles.map(|h| h.map(&image)));
    for mark in &mut drawing.marks {
        if let Mark::DrillHole { at, .. } | Mark::Text { at, .. } = mark {
            *at = image(*at);
        }
    }
    drawing.paint.iter_mut().for_each(|p| *p = p.moved(&image));
}

/// Moves some lines of a drawing with their nodes; what else meets there is drawn along.
pub(super) fn transform_lines(drawing: &mut Drawing, lines: &HashSet<LineId>, image: impl Fn(Point) -> Point) {
    let nodes: HashSet<NodeId> = drawing.lines.iter().filter(|l| lines.contains(&l.id)).flat_map(|l| [l.from, l.to]).collect();
    drawing.nodes.iter_mut().filter(|n| nodes.contains(&n.id)).for_each(|n| n.at = image(n.at));
    drawing.lines.iter_mut().filter(|l| lines.contains(&l.id)).for_each(|l| l.handles = l.handles.map(|h| h.map(&image)));
}

/// Adds a number to all ids of a drawing.
pub(super) fn shift_ids(drawing: &mut Drawing, by: u32) {
    drawing.nodes.iter_mut().for_each(|n| n.id.0 += by);
    for l in &mut drawing.lines {
        (l.id.0, l.from.0, l.to.0) = (l.id.0 + by, l.from.0 + by, l.to.0 + by);
    }
    drawing.outline.iter_mut().chain(drawing.cutouts.iter_mut().flatten()).for_each(|l| l.0 += by);
    for path in &mut drawing.inside {
        path.id.0 += by;
        path.lines.iter_mut().for_each(|l| l.0 += by);
        if let Purpose::Placement { of } = &mut path.purpose {
            of.0 += by;
        }
    }
    for mark in &mut drawing.marks {
        match mark {
            Mark::Notch { id, line, .. } => (id.0, line.0) = (id.0 + by, line.0 + by),
            Mark::DrillHole { id, .. } | Mark::Text { id, .. } => id.0 += by,
        }
    }
    for a in &mut drawing.along {
        (a.id.0, a.line.0) = (a.id.0 + by, a.line.0 + by);
    }
}

/// Signed area of the outline in mm².
fn area(drawing: &Drawing) -> f64 {
    let curves = drawing.outline.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?));
    let mut path = BezPath::from_path_segments(curves);
    path.close_path();
    path.area()
}

/// Walks the outline the other way round.
fn turn(drawing: &mut Drawing) {
    drawing.outline.reverse();
    for line in &mut drawing.lines {
        (line.from, line.to) = (line.to, line.from);
        line.handles = line.handles.map(|[a, b]| [b, a]);
    }
}

pub(super) fn add(costume: &mut Costume, name: &str, at: Point, points: &[LoopPoint]) -> Result<(), Refusal> {
    let fabric = costume.fabrics.first().map(|f| f.id).ok_or_else(|| missing(Thing::Fabric))?;
    let id = PieceId(fresh(costume));
    let (lines, nodes, outline) = closed(costume, points);
    let mut drawing = Drawing { nodes, lines, outline, ..Drawing::default() };
    if area(&drawing) < 0.0 {
        turn(&mut drawing);
    }
    costume.pieces.push(Piece {
        id,
        name: name.to_owned(),
        at,
        angle: 0.0,
        shape: Shape::Drawn(drawing),
        fabric,
        grain: 90.0,
        placement: None,
        parked: false,
        locked: false,
        group: None,
        wear: 1,
        cut: CutPlan::default(),
        print_at: None,
    });
    Ok(())
}

/// Removes the piece and unpicks what held it. Its first twin takes over the drawing.
pub(super) fn remove(costume: &mut Costume, id: PieceId) -> Result<(), Refusal> {
    find(costume, id)?;
    let heir = costume.pieces.iter().find(|p| p.twin_of() == Some(id)).map(|p| p.id);
    if let Some(heir) = heir {
        hand_over(costume, id, heir)?;
    }
    costume.pieces.retain(|p| p.id != id);
    references::drop_runs(costume, |r| r.piece == id);
    for piece in &mut costume.pieces {
        if let Some(drawing) = piece.drawing_mut() {
            let of = |p: &InsidePath| matches!(p.purpose, Purpose::Placement { of } if of == id);
            drawing.inside.iter_mut().filter(|p| of(p)).for_each(|p| p.purpose = Purpose::StyleLine);
        }
    }
    Ok(())
}

/// The twin gets the drawing as its own, its lines keep their ids; further twins are separated first.
fn hand_over(costume: &mut Costume, from: PieceId, heir: PieceId) -> Result<(), Refusal> {
    let further: Vec<PieceId> = costume.pieces.iter().filter(|p| p.twin_of() == Some(from) && p.id != heir).map(|p| p.id).collect();
    for id in further {
        separate(costume, id)?;
    }
    draw_own(costume, heir, from)
}

/// A twin gets what it shows of its partner as its own; its lines keep their ids.
fn draw_own(costume: &mut Costume, id: PieceId, of: PieceId) -> Result<(), Refusal> {
    let partner = find(costume, of)?;
    let (on_fold, drawing) = (partner.cut.on_fold, mirrored(partner.drawing().ok_or_else(|| missing(Thing::Drawing))?));
    let placement = crate::resolve(costume).piece(id).and_then(|p| p.placement.clone());
    let piece = find(costume, id)?;
    piece.shape = Shape::Drawn(drawing);
    piece.cut.on_fold = on_fold;
    piece.placement = placement;
    for run in costume.seams.iter_mut().flat_map(|s| s.runs_mut()).filter(|r| r.piece == id) {
        *run = mirrored_run(*run);
    }
    Ok(())
}

/// Ids of its own for a drawing: nodes and lines as given, all else anew.
pub(super) fn rename(costume: &mut Costume, drawing: &mut Drawing, nodes: &HashMap<NodeId, NodeId>, lines: &HashMap<LineId, LineId>) {
    let line = |l: &mut LineId| *l = lines.get(l).copied().unwrap_or(*l);
    let node = |n: &mut NodeId| *n = nodes.get(n).copied().unwrap_or(*n);
    drawing.nodes.iter_mut().for_each(|n| node(&mut n.id));
    for l in &mut drawing.lines {
        line(&mut l.id);
        node(&mut l.from);
        node(&mut l.to);
    }
    drawing.outline.iter_mut().chain(drawing.cutouts.iter_mut().flatten()).for_each(line);
    for path in &mut drawing.inside {
        path.id = PathId(fresh(costume));
        path.lines.iter_mut().for_each(line);
    }
    for mark in &mut drawing.marks {
        match mark {
            Mark::Notch { id, line: on, .. } => {
                *id = crate::MarkId(fresh(costume));
                line(on);
            }
            Mark::DrillHole { id, .. } | Mark::Text { id, .. } => *id = crate::MarkId(fresh(costume)),
        }
    }
    for a in &mut drawing.along {
        a.id = fresh_along(costume);
        line(&mut a.line);
    }
}

/// Gives a piece's nodes, lines, paths and marks ids of their own.
fn renumber(costume: &mut Costume, id: PieceId) {
    let Some(mut drawing) = costume.piece(id).and_then(|p| p.drawing()).cloned() else { return };
    let nodes: HashMap<NodeId, NodeId> = drawing.nodes.iter().map(|n| (n.id, NodeId(fresh(costume)))).collect();
    let lines: HashMap<LineId, LineId> = drawing.lines.iter().map(|l| (l.id, LineId(fresh(costume)))).collect();
    rename(costume, &mut drawing, &nodes, &lines);
    let line = |l: &mut LineId| *l = lines.get(l).copied().unwrap_or(*l);
    for run in costume.seams.iter_mut().flat_map(|s| s.runs_mut()).filter(|r| r.piece == id) {
        line(&mut run.line);
    }
    if let Some(piece) = costume.pieces.iter_mut().find(|p| p.id == id) {
        if let Some(fold) = &mut piece.cut.on_fold {
            line(fold);
        }
        piece.shape = Shape::Drawn(drawing);
    }
}

pub(super) fn copy_name(name: &str, what: &str) -> String {
    format!("{name} {what}").chars().take(limits::NAME).collect()
}

fn copy(costume: &mut Costume, id: PieceId, at: Point) -> Result<(), Refusal> {
    let source = find(costume, id)?.clone();
    let shown = costume.owner(id);
    let (drawing, is_mirrored) = drawing(costume, id)?;
    let drawing = if is_mirrored { mirrored(drawing) } else { drawing.clone() };
    let on_fold = costume.piece(shown).and_then(|p| p.cut.on_fold);
    let copy = Piece {
        id: PieceId(fresh(costume)),
        name: copy_name(&source.name, "copy"),
        at,
        placement: None,
        shape: Shape::Drawn(drawing),
        cut: CutPlan { on_fold, ..source.cut },
        ..source
    };
    let id = copy.id;
    costume.pieces.push(copy);
    renumber(costume, id);
    Ok(())
}

pub(super) fn add_twin(costume: &mut Costume, id: PieceId, at: Point) -> Result<(), Refusal> {
    let partner = find(costume, id)?.clone();
    if partner.twin_of().is_some() {
        return Err(Refusal::of(partner.name, RefusalKind::TwinOfTwin));
    }
    let twin = Piece {
        id: PieceId(fresh(costume)),
        name: copy_name(&partner.name, "twin"),
        at,
        angle: -partner.angle,
        shape: Shape::Twin { of: id },
        grain: mirrored_grain(partner.grain),
        placement: None,
        cut: CutPlan { on_fold: None, ..partner.cut },
        print_at: partner.print_at.map(|p| PrintPlace { at: Point::new(-p.at.x, p.at.y), turn: -p.turn }),
        ..partner
    };
    costume.pieces.push(twin);
    Ok(())
}

fn separate(costume: &mut Costume, id: PieceId) -> Result<(), Refusal> {
    let piece = find(costume, id)?;
    let of = piece.twin_of().ok_or_else(|| Refusal::of(&piece.name, RefusalKind::NoTwin))?;
    // the images of seams become seams of their own
    for (a, b, of) in crate::pattern::images(costume, id) {
        let id = crate::SeamId(fresh(costume));
        let tag = super::seams::free_tag(costume);
        let like = costume.seam(of).cloned();
        costume.seams.extend(like.map(|seam| crate::Seam { id, tag, a, b, ..seam }));
    }
    draw_own(costume, id, of)?;
    renumber(costume, id);
    Ok(())
}

fn set_cut(costume: &mut Costume, id: PieceId, cut: CutPlan) -> Result<(), Refusal> {
    let piece = find(costume, id)?;
    if piece.twin_of().is_some() && cut.on_fold.is_some() {
        return Err(Refusal::of(&piece.name, RefusalKind::TwinOnFold));
    }
    piece.cut = cut;
    // a seam on the fold has nothing to hold any more
    if let Some(fold) = cut.on_fold {
        references::drop_lines(costume, id, &[fold]);
    }
    Ok(())
}

/// Lines, their nodes that nothing else uses, and what lay on them.
fn take_lines(costume: &mut Costume, owner: PieceId, gone: &[LineId]) -> Result<(), Refusal> {
    let (drawing, _) = drawing(costume, owner)?;
    drawing.lines.retain(|l| !gone.contains(&l.id));
    let used: Vec<NodeId> = drawing.lines.iter().flat_map(|l| [l.from, l.to]).collect();
    drawing.nodes.retain(|n| used.contains(&n.id));
    references::drop_lines(costume, owner, gone);
    Ok(())
}

pub(super) fn remove_inside(costume: &mut Costume, owner: PieceId, path: PathId) -> Result<(), Refusal> {
    let (drawing, _) = drawing(costume, owner)?;
    let k = drawing.inside.iter().position(|p| p.id == path).ok_or_else(|| missing(Thing::InsideLine))?;
    let gone = drawing.inside.remove(k).lines;
    take_lines(costume, owner, &gone)
}
