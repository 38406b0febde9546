//! Edits of nodes and lines.

use super::{drawing, fresh, missing, own_frame, references};
use crate::curve::{self, arc_length, from_kurbo, line_curve};
use crate::{Costume, Drawing, Edit, Line, LineEnd, LineId, Node, NodeId, NodeKind, PieceId, Point, Quantity, Refusal, RefusalKind, Thing};
use kurbo::ParamCurve;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::MoveNode { piece, node, to } => {
            let (drawing, mirrored) = drawing(costume, *piece)?;
            move_node(drawing, *node, own_frame(*to, mirrored))
        }
        Edit::SetNodeKind { piece, node, kind } => {
            let (drawing, _) = drawing(costume, *piece)?;
            drawing.nodes.iter_mut().find(|n| n.id == *node).ok_or_else(|| missing(Thing::Corner))?.kind = *kind;
            if *kind == NodeKind::Smooth {
                smooth(drawing, *node, None);
            }
            Ok(())
        }
        Edit::MoveHandle { piece, line, end, to } => {
            let name = costume.line_name(*piece, *line);
            let (drawing, mirrored) = drawing(costume, *piece)?;
            move_handle(drawing, *line, *end, own_frame(*to, mirrored), name)
        }
        Edit::SplitLine { piece, line, fraction, by_length } => split(costume, *piece, *line, *fraction, *by_length).map(|_| ()),
        Edit::RemoveNode { piece, node } => remove_node(costume, *piece, *node),
        Edit::CurveLine { piece, line } => {
            let (drawing, _) = drawing(costume, *piece)?;
            let found = *drawing.line(*line).ok_or_else(|| missing(Thing::Edge))?;
            let (from, to) = (at(drawing, found.from)?, at(drawing, found.to)?);
            line_mut(drawing, *line)?.handles.get_or_insert([from.lerp(to, 1.0 / 3.0), from.lerp(to, 2.0 / 3.0)]);
            Ok(())
        }
        Edit::StraightenLine { piece, line } => {
            let (drawing, _) = drawing(costume, *piece)?;
            line_mut(drawing, *line)?.handles = None;
            Ok(())
        }
        _ => Ok(()),
    }
}

pub(super) fn at(drawing: &Drawing, node: NodeId) -> Result<Point, Refusal> {
    Ok(drawing.node(node).ok_or_else(|| missing(Thing::Corner))?.at)
}

pub(super) fn line_mut(drawing: &mut Drawing, id: LineId) -> Result<&mut Line, Refusal> {
    drawing.lines.iter_mut().find(|l| l.id == id).ok_or_else(|| missing(Thing::Edge))
}

/// The handles at the node move along with it.
pub(super) fn move_node(drawing: &mut Drawing, node: NodeId, to: Point) -> Result<(), Refusal> {
    let before = at(drawing, node)?;
    let step = Point::new(to.x - before.x, to.y - before.y);
    let shift = |p: &mut Point| *p = Point::new(p.x + step.x, p.y + step.y);
    drawing.nodes.iter_mut().filter(|n| n.id == node).for_each(|n| n.at = to);
    for line in &mut drawing.lines {
        let (starts, ends) = (line.from == node, line.to == node);
        if let Some([leave, arrive]) = &mut line.handles {
            if starts {
                shift(leave);
            }
            if ends {
                shift(arrive);
            }
        }
    }
    Ok(())
}

fn move_handle(drawing: &mut Drawing, line: LineId, end: LineEnd, to: Point, name: String) -> Result<(), Refusal> {
    let found = line_mut(drawing, line)?;
    let node = if end == LineEnd::From { found.from } else { found.to };
    let handles = found.handles.as_mut().ok_or_else(|| Refusal::of(name, RefusalKind::Straight))?;
    handles[if end == LineEnd::From { 0 } else { 1 }] = to;
    if drawing.node(node).is_some_and(|n| n.kind == NodeKind::Smooth) {
        smooth(drawing, node, Some(line));
    }
    Ok(())
}

/// Brings the handles on both sides of a node into a row; that of the line `leader` stays, the other keeps its length.
pub(super) fn smooth(drawing: &mut Drawing, node: NodeId, leader: Option<LineId>) {
    let Some(middle) = drawing.node(node).map(|n| n.at) else { return };
    let sides: Vec<(usize, usize)> = drawing
        .lines
        .iter()
        .enumerate()
        .flat_map(|(i, l)| [(l.from == node).then_some((i, 0)), (l.to == node).then_some((i, 1))])
        .flatten()
        .collect();
    let [first, second] = sides[..] else { return };
    let lead_is_second = leader.is_some_and(|id| drawing.lines[second.0].id == id);
    let (lead, other) = if lead_is_second { (second, first) } else { (first, second) };
    let (Some(towards), Some(away)) =
        (drawing.lines[lead.0].handles.map(|h| h[lead.1]), drawing.lines[other.0].handles.map(|h| h[other.1]))
    else {
        return;
    };
    let (reach, length) = (towards.distance(middle), away.distance(middle));
    if reach < 1e-9 {
        return;
    }
    let opposite = middle.lerp(towards, -length / reach);
    if let Some(handles) = &mut drawing.lines[other.0].handles {
        handles[other.1] = opposite;
    }
}

/// Splits a line; seams, notches and what lies along it keep their places.
pub(super) fn split(
    costume: &mut Costume,
    piece: PieceId,
    line: LineId,
    fraction: f64,
    by_length: bool,
) -> Result<(NodeId, LineId), Refusal> {
    if !(0.0..=1.0).contains(&fraction) {
        return Err(Refusal::of("corner", RefusalKind::OutOfRange { of: Quantity::CornerShare, value: fraction, low: 0.0, high: 1.0 }));
    }
    if costume.piece(costume.owner(piece)).is_some_and(|p| p.cut.on_fold == Some(line)) {
        return Err(Refusal::of(costume.line_name(piece, line), RefusalKind::OnTheFold));
    }
    split_any(costume, piece, line, fraction, by_length)
}

/// The same, be it the fold that the piece is cut on. Returns the new node, and the line behind it.
pub(super) fn split_any(
    costume: &mut Costume,
    piece: PieceId,
    line: LineId,
    fraction: f64,
    by_length: bool,
) -> Result<(NodeId, LineId), Refusal> {
    let owner = costume.owner(piece);
    let (node, new) = (NodeId(fresh(costume)), LineId(fresh(costume)));
    let (drawing, mirrored) = drawing(costume, piece)?;
    // on a twin the line is walked the other way round
    let fraction = if mirrored { 1.0 - fraction } else { fraction };
    let found = *drawing.line(line).ok_or_else(|| missing(Thing::Edge))?;
    let whole = line_curve(drawing, &found).ok_or_else(|| missing(Thing::Corner))?;
    let (t, share) = if by_length { (curve::parameter(&whole, fraction), fraction) } else { (fraction, curve::share(&whole, fraction)) };
    let (first, second) = curve::split(&whole, t);
    drawing.nodes.push(Node { id: node, at: from_kurbo(second.start()), kind: NodeKind::Corner });
    *line_mut(drawing, line)? = Line { to: node, handles: curve::handles(&first), ..found };
    let at = drawing.lines.iter().position(|l| l.id == line).unwrap_or_default();
    drawing.lines.insert(at + 1, Line { id: new, from: node, to: found.to, handles: curve::handles(&second) });
    let chains = std::iter::once(&mut drawing.outline).chain(&mut drawing.cutouts).chain(drawing.inside.iter_mut().map(|p| &mut p.lines));
    for chain in chains {
        if let Some(k) = chain.iter().position(|l| *l == line) {
            chain.insert(k + 1, new);
        }
    }
    let mut next = costume.next_id;
    references::split(costume, owner, line, new, share, || {
        next += 1;
        next - 1
    });
    costume.next_id = next;
    Ok((node, new))
}

/// Joins the two lines at a node into one; paths inside that end there go.
pub(super) fn remove_node(costume: &mut Costume, piece: PieceId, node: NodeId) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let on_fold = costume.piece(owner).and_then(|p| p.cut.on_fold);
    let name = costume.piece_name(piece);
    let (drawing, _) = drawing(costume, piece)?;
    if drawing.node(node).is_none() {
        return Err(missing(Thing::Corner));
    }
    // of a path inside, an end goes with its line
    let ends: Vec<_> = drawing.inside.iter().filter(|p| ends_at(drawing, &p.lines, node)).map(|p| p.id).collect();
    let joins = joined_at(drawing, node);
    if joins.is_none() && ends.is_empty() {
        return Err(missing(Thing::Corner));
    }
    for path in ends {
        super::pieces::remove_inside(costume, owner, path)?;
    }
    let (drawing, _) = super::drawing(costume, owner)?;
    let Some((kept, gone)) = joined_at(drawing, node) else { return Ok(()) };
    if [kept, gone].map(Some).contains(&on_fold) {
        return Err(Refusal::of(name, RefusalKind::EndOfFold));
    }
    if kept == gone {
        return Err(Refusal::of(name, RefusalKind::TooFewCorners { removing: true }));
    }
    let (first, second) =
        (*drawing.line(kept).ok_or_else(|| missing(Thing::Edge))?, *drawing.line(gone).ok_or_else(|| missing(Thing::Edge))?);
    let (a, b) = (line_curve(drawing, &first), line_curve(drawing, &second));
    let (a, b) = a.zip(b).ok_or_else(|| missing(Thing::Corner))?;
    let at = arc_length(&a) / (arc_length(&a) + arc_length(&b)).max(f64::MIN_POSITIVE);
    *line_mut(drawing, kept)? = Line { to: second.to, handles: curve::handles(&curve::joined(&a, &b)), ..first };
    drawing.lines.retain(|l| l.id != gone);
    drawing.nodes.retain(|n| n.id != node);
    drawing.outline.retain(|l| *l != gone);
    drawing.cutouts.iter_mut().for_each(|c| c.retain(|l| *l != gone));
    drawing.inside.iter_mut().for_each(|p| p.lines.retain(|l| *l != gone));
    references::join(costume, owner, kept, gone, at);
    Ok(())
}

pub(super) fn ends_at(drawing: &Drawing, lines: &[LineId], node: NodeId) -> bool {
    let first = lines.first().and_then(|l| drawing.line(*l));
    let last = lines.last().and_then(|l| drawing.line(*l));
    first.is_some_and(|l| l.from == node) || last.is_some_and(|l| l.to == node)
}

/// The line that arrives at a node and the one that leaves it, of one loop or one path.
pub(super) fn joined_at(drawing: &Drawing, node: NodeId) -> Option<(LineId, LineId)> {
    let inner = drawing.inside.iter().map(|p| (&p.lines, false));
    for (chain, closed) in drawing.loops().map(|l| (l, true)).chain(inner) {
        let n = chain.len();
        for k in 0..n {
            if !closed && k + 1 == n {
                break;
            }
            let next = chain[(k + 1) % n];
            if drawing.line(chain[k]).is_some_and(|l| l.to == node) && drawing.line(next).is_some_and(|l| l.from == node) {
                return Some((chain[k], next));
            }
        }
    }
    None
}
