//! Cutting a piece in two along a drawn line, and laying two together along a seam.

use super::lines::split_any;
use super::{drawing, find, fresh, missing, own_frame, references, seams};
use crate::curve::{arc_length, line_curve};
use crate::{
    Costume, CutPlan, Drawing, Edit, Line, LineId, Mark, Node, NodeId, NodeKind, Piece, PieceId, Point, Refusal, RefusalKind, Run, SeamId,
    Shape, Spot, Thing, limits,
};
use kurbo::{BezPath, ParamCurve, Shape as _};
use std::collections::{HashMap, HashSet};

/// How far two edges may be from each other where they are laid together, mm.
const ALIKE: f64 = 0.5;
/// Distance to which the new part is moved away on the table, mm.
const APART: f64 = 40.0;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::CutPiece { piece, from, to, through, sew } => cut(costume, *piece, *from, *to, through, *sew),
        Edit::MergePieces { seam } => merge(costume, *seam),
        _ => Ok(()),
    }
}

/// The node at a spot of an outline or path; a line is split there if it has none.
pub(super) fn node_at(costume: &mut Costume, piece: PieceId, spot: Spot) -> Result<NodeId, Refusal> {
    match spot {
        Spot::Node(node) => {
            drawing(costume, piece)?.0.node(node).ok_or_else(|| missing(Thing::Corner))?;
            Ok(node)
        }
        Spot::On { line, at } => {
            let owner = costume.owner(piece);
            let (drawing, mirrored) = drawing(costume, piece)?;
            let found = *drawing.line(line).ok_or_else(|| missing(Thing::Edge))?;
            let at = if mirrored { 1.0 - at } else { at };
            let length = arc_length(&line_curve(drawing, &found).ok_or_else(|| missing(Thing::Corner))?);
            // a spot that is as good as an end is the end
            if at * length < limits::EDGE {
                return Ok(found.from);
            }
            if (1.0 - at) * length < limits::EDGE {
                return Ok(found.to);
            }
            Ok(split_any(costume, owner, line, at, true)?.0)
        }
    }
}

/// The lines of the outline from one node to another, in its direction.
pub(super) fn chain(drawing: &Drawing, from: NodeId, to: NodeId) -> Option<Vec<LineId>> {
    let n = drawing.outline.len();
    let ends: Vec<(NodeId, NodeId)> = drawing.outline.iter().filter_map(|l| drawing.line(*l)).map(|l| (l.from, l.to)).collect();
    let start = ends.iter().position(|e| e.0 == from)?;
    let mut found = Vec::new();
    for k in 0..n {
        let i = (start + k) % n;
        found.push(drawing.outline[i]);
        if ends[i].1 == to {
            return Some(found);
        }
    }
    None
}

fn cut(costume: &mut Costume, piece: PieceId, from: Spot, to: Spot, through: &[Point], sew: bool) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let name = costume.piece_name(owner);
    if through.len() > limits::LINES {
        return Err(Refusal::of(name, RefusalKind::PathPoints { count: through.len(), most: limits::LINES }));
    }
    let mirrored = drawing(costume, piece)?.1;
    let (p, q) = (node_at(costume, piece, from)?, node_at(costume, piece, to)?);
    let across = || Refusal::of(&name, RefusalKind::CutNotAcross);
    let (drawing, _) = drawing(costume, owner)?;
    let (kept, gone) = chain(drawing, p, q).zip(chain(drawing, q, p)).filter(|_| p != q).ok_or_else(across)?;
    let [a, b] = [p, q].map(|n| drawing.node(n).map_or(Point::new(0.0, 0.0), |n| n.at));
    let way: Vec<Point> = through.iter().map(|p| own_frame(*p, mirrored)).collect();
    let fold = costume.piece(owner).and_then(|p| p.cut.on_fold);
    // nodes of the cut on the kept part, and their doubles on the new one
    let made = |costume: &mut Costume, at: Point| Node { id: NodeId(fresh(costume)), at, kind: NodeKind::Corner };
    let kept_stops: Vec<Node> = way.iter().map(|w| made(costume, *w)).collect();
    let doubles: Vec<Node> = std::iter::once(a).chain(way.iter().copied()).chain([b]).map(|w| made(costume, w)).collect();
    // the kept part goes p -> q along its outline and back q -> p along the cut; the new one the other way round
    let kept_ids: Vec<NodeId> = std::iter::once(p).chain(kept_stops.iter().map(|n| n.id)).chain([q]).collect();
    let mut back = lines_along(costume, &kept_ids);
    back.reverse();
    back.iter_mut().for_each(|l| (l.from, l.to) = (l.to, l.from));
    let there = lines_along(costume, &doubles.iter().map(|n| n.id).collect::<Vec<_>>());

    let source = find(costume, owner)?.clone();
    let whole = source.drawing().cloned().ok_or_else(|| missing(Thing::Drawing))?;
    let double = HashMap::from([(p, doubles[0].id), (q, doubles[doubles.len() - 1].id)]);
    let mut new = Drawing::default();
    let mut rest = whole.clone();
    rest.outline = kept.iter().copied().chain(back.iter().map(|l| l.id)).collect();
    new.outline = gone.iter().copied().chain(there.iter().map(|l| l.id)).collect();
    // what lies on the new part goes with it
    let moved = region(&whole, &gone, &way);
    let goes = |at: Point| moved.contains(kurbo::Point::new(at.x, at.y));
    let lies =
        |line: &LineId| whole.line(*line).and_then(|l| line_curve(&whole, l)).is_some_and(|c| goes(crate::curve::from_kurbo(c.eval(0.5))));
    let mut taken: HashSet<LineId> = gone.iter().copied().collect();
    rest.cutouts.retain(|c| keep_or_move(c, &lies, &mut taken, |c| new.cutouts.push(c.clone())));
    let mut inside = Vec::new();
    rest.inside.retain(|path| keep_or_move(&path.lines, &lies, &mut taken, |_| inside.push(path.clone())));
    new.inside = inside;
    let on_new = |mark: &Mark| match mark {
        Mark::Notch { line, .. } => taken.contains(line),
        Mark::DrillHole { at, .. } | Mark::Text { at, .. } => goes(*at),
    };
    (new.marks, rest.marks) = rest.marks.drain(..).partition(on_new);
    new.paint.clone_from(&rest.paint);
    (new.along, rest.along) = rest.along.drain(..).partition(|a| taken.contains(&a.line));
    (new.lines, rest.lines) = rest.lines.drain(..).partition(|l| taken.contains(&l.id));
    for line in &mut new.lines {
        for end in [&mut line.from, &mut line.to] {
            *end = double.get(end).copied().unwrap_or(*end);
        }
    }
    rest.lines.extend(back.iter().copied());
    new.lines.extend(there.iter().copied());
    let used = |lines: &[Line]| lines.iter().flat_map(|l| [l.from, l.to]).collect::<HashSet<_>>();
    let (of_rest, of_new) = (used(&rest.lines), used(&new.lines));
    rest.nodes.extend(kept_stops);
    new.nodes = whole.nodes.iter().copied().chain(doubles).filter(|n| of_new.contains(&n.id)).collect();
    rest.nodes.retain(|n| of_rest.contains(&n.id));

    // the cut runs from fold to edge: the line of the fold was parted, and each part lies on the fold along its own
    let folds = fold.map(|f| if taken.contains(&f) { (fold_of(&whole, &kept, f), Some(f)) } else { (Some(f), fold_of(&whole, &gone, f)) });
    let id = PieceId(fresh(costume));
    let (kept_middle, new_middle) = (middle(&rest), middle(&new));
    let away = away(a, b, new_middle, source.angle);
    let fold_kept = folds.and_then(|f| f.0);
    let fold_new = folds.and_then(|f| f.1);
    let placed = |to: Point| {
        let of = source.placement.as_ref()?;
        let from = middle(&whole);
        let (sin, cos) = of.turn.to_radians().sin_cos();
        let d = Point::new(to.x - from.x, to.y - from.y);
        let shift = Point::new(of.shift.x + d.x * cos - d.y * sin, of.shift.y + d.x * sin + d.y * cos);
        Some(crate::Placement { shift, ..of.clone() })
    };
    let part = Piece {
        id,
        name: super::pieces::copy_name(&source.name, "part"),
        at: Point::new(source.at.x + away.x, source.at.y + away.y),
        shape: Shape::Drawn(new),
        placement: placed(new_middle),
        cut: CutPlan { on_fold: fold_new, ..source.cut },
        ..source.clone()
    };
    {
        let piece = find(costume, owner)?;
        piece.placement = placed(kept_middle);
        piece.cut.on_fold = fold_kept;
        piece.shape = Shape::Drawn(rest);
    }
    costume.pieces.push(part);
    // twins are cut as their partner is
    let twins: Vec<Piece> = costume.pieces.iter().filter(|p| p.twin_of() == Some(owner)).cloned().collect();
    let mut becomes = HashMap::from([(owner, id)]);
    for twin in twins {
        let other = PieceId(fresh(costume));
        becomes.insert(twin.id, other);
        let at = Point::new(twin.at.x - away.x, twin.at.y + away.y);
        let name = super::pieces::copy_name(&twin.name, "part");
        costume.pieces.push(Piece {
            id: other,
            name,
            at,
            shape: Shape::Twin { of: id },
            placement: None,
            cut: CutPlan { on_fold: None, ..twin.cut },
            ..twin
        });
    }
    for run in costume.seams.iter_mut().flat_map(|s| s.runs_mut()).filter(|r| taken.contains(&r.line)) {
        run.piece = becomes.get(&run.piece).copied().unwrap_or(run.piece);
    }
    // a half that lost its fold is cut twice
    if fold.is_some() {
        for (part, on) in [(owner, fold_kept), (id, fold_new)] {
            if on.is_none() {
                let at = find(costume, part)?.at;
                super::pieces::add_twin(costume, part, Point::new(at.x + 2.0 * APART, at.y))?;
            }
        }
    }
    if sew {
        let forth = there.iter().map(|l| Run::whole(id, l.id)).collect();
        // side a in the direction of the cut, along which the kept part runs backwards
        let kept = back.iter().rev().map(|l| Run::whole(owner, l.id).turned()).collect();
        seams::sew(costume, kept, forth);
    }
    Ok(())
}

/// Straight lines from node to node.
fn lines_along(costume: &mut Costume, stops: &[NodeId]) -> Vec<Line> {
    stops.windows(2).map(|w| Line { id: LineId(fresh(costume)), from: w[0], to: w[1], handles: None }).collect()
}

/// Keeps a chain of lines unless its first line lies on the part that goes; then notes it and hands it over.
fn keep_or_move(
    chain: &Vec<LineId>,
    lies: &dyn Fn(&LineId) -> bool,
    taken: &mut HashSet<LineId>,
    hand_over: impl FnOnce(&Vec<LineId>),
) -> bool {
    if !chain.first().is_some_and(lies) {
        return true;
    }
    taken.extend(chain);
    hand_over(chain);
    false
}

/// The part of the fold that a chain of the outline holds besides the one that kept its id.
fn fold_of(drawing: &Drawing, chain: &[LineId], fold: LineId) -> Option<LineId> {
    let line = drawing.line(fold)?;
    // the other part of a parted fold begins or ends where this one does, on the same straight line
    let ends = |l: &Line| Some((drawing.node(l.from)?.at, drawing.node(l.to)?.at));
    let (a, b) = ends(line)?;
    let on = |p: Point| ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)).abs() < 1e-6 * a.distance(b).max(1.0);
    chain.iter().copied().find(|id| {
        let touches = |l: &Line| l.from == line.to || l.to == line.from;
        drawing.line(*id).is_some_and(|l| l.handles.is_none() && touches(l) && ends(l).is_some_and(|(p, q)| on(p) && on(q)))
    })
}

/// The cloth between a chain of the outline and the way of the cut, which goes on where the chain ends.
fn region(drawing: &Drawing, chain: &[LineId], way: &[Point]) -> BezPath {
    let curves = chain.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?));
    let mut path = BezPath::from_path_segments(curves);
    for p in way {
        path.line_to((p.x, p.y));
    }
    path.close_path();
    path
}

/// The middle of the box around an outline.
pub(super) fn middle(drawing: &Drawing) -> Point {
    let curves = drawing.outline.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?));
    let middle = BezPath::from_path_segments(curves).bounding_box().center();
    Point::new(middle.x, middle.y)
}

/// The way on the table by which the new part leaves the cut.
fn away(a: Point, b: Point, middle: Point, angle: f64) -> Point {
    let (dx, dy) = (b.x - a.x, b.y - a.y);
    let length = dx.hypot(dy).max(1e-9);
    let mut n = Point::new(-dy / length, dx / length);
    if n.x * (middle.x - a.x) + n.y * (middle.y - a.y) < 0.0 {
        n = Point::new(-n.x, -n.y);
    }
    let (sin, cos) = angle.to_radians().sin_cos();
    Point::new(APART * (n.x * cos - n.y * sin), APART * (n.x * sin + n.y * cos))
}

/// Lays the second piece of a seam against the first, and makes one piece of both.
fn merge(costume: &mut Costume, seam: SeamId) -> Result<(), Refusal> {
    let seam = costume.seam(seam).cloned().ok_or_else(|| missing(Thing::Seam))?;
    let name = format!("seam {}", seam.tag);
    let refuse = || Refusal::of(&name, RefusalKind::NotToMerge);
    let plain = |side: &[Run]| {
        let piece = side.first()?.piece;
        let drawn = costume.piece(piece)?.drawing()?;
        let free = costume.pieces.iter().all(|p| p.twin_of() != Some(piece)) && costume.piece(piece)?.cut.on_fold.is_none();
        let whole = side.iter().all(|r| r.piece == piece && r.span() == [0.0, 1.0] && drawn.outline.contains(&r.line));
        (free && whole).then_some((piece, side.iter().map(|r| (r.line, r.is_backwards())).collect::<Vec<_>>()))
    };
    let ((one, a), (two, b)) = plain(&seam.a).zip(plain(&seam.b)).filter(|((p, _), (q, _))| p != q).ok_or_else(refuse)?;
    let (first, second) = (find(costume, one)?.drawing().cloned(), find(costume, two)?.drawing().cloned());
    let (mut first, mut second) = first.zip(second).ok_or_else(refuse)?;
    let walked = |d: &Drawing, lines: &[(LineId, bool)]| -> Option<Vec<kurbo::PathSeg>> {
        let curves = lines.iter().map(|(l, back)| line_curve(d, d.line(*l)?).map(|c| if *back { c.reverse() } else { c }));
        curves.collect()
    };
    let (along, other) = walked(&first, &a).zip(walked(&second, &b)).ok_or_else(refuse)?;
    // the second is laid so that its side lies on the first's, end to end
    let ends = |c: &[kurbo::PathSeg]| (c[0].start(), c[c.len() - 1].end());
    let ((p, q), (r, s)) = (ends(&along), ends(&other));
    let turn = kurbo::Affine::rotate((q - p).atan2() - (s - r).atan2());
    let lay = kurbo::Affine::translate(p.to_vec2()) * turn * kurbo::Affine::translate(-r.to_vec2());
    let at_share = |curves: &[kurbo::PathSeg], share: f64| {
        let lengths: Vec<f64> = curves.iter().map(arc_length).collect();
        let mut left = share * lengths.iter().sum::<f64>();
        let mut k = 0;
        while k + 1 < curves.len() && left > lengths[k] {
            left -= lengths[k];
            k += 1;
        }
        crate::curve::to_kurbo(crate::point_at(&curves[k], (left / lengths[k].max(1e-9)).clamp(0.0, 1.0)))
    };
    if (0..=32).map(|k| f64::from(k) / 32.0).any(|t| (lay * at_share(&other, t) - at_share(&along, t)).hypot() > ALIKE) {
        return Err(Refusal::of(name, RefusalKind::EdgesDiffer { most: ALIKE }));
    }
    let image = |p: Point| crate::curve::from_kurbo(lay * crate::curve::to_kurbo(p));
    super::pieces::transform(&mut second, image);
    // the nodes at both ends of the seam become one each; those between go
    let node_of = |d: &Drawing, lines: &[(LineId, bool)], start: bool| {
        let (id, back) = if start { lines.first()? } else { lines.last()? };
        d.line(*id).map(|l| if start == *back { l.to } else { l.from })
    };
    let pair = |start| node_of(&first, &a, start).zip(node_of(&second, &b, start));
    let (start, end) = pair(true).zip(pair(false)).ok_or_else(refuse)?;
    let gone: Vec<LineId> = a.iter().chain(&b).map(|(l, _)| *l).collect();
    let around = |d: &Drawing, lines: &[(LineId, bool)]| {
        let n = d.outline.len();
        let of: HashSet<LineId> = lines.iter().map(|(l, _)| *l).collect();
        let begin = (0..n).find(|i| of.contains(&d.outline[*i]) && !of.contains(&d.outline[(i + 1) % n]))?;
        let rest: Vec<LineId> = (1..n).map(|k| d.outline[(begin + k) % n]).take_while(|l| !of.contains(l)).collect();
        (rest.len() + of.len() == n).then_some(rest)
    };
    let (one_rest, two_rest) = around(&first, &a).zip(around(&second, &b)).ok_or_else(refuse)?;
    let become_one = HashMap::from([(start.1, start.0), (end.1, end.0)]);
    first.outline = one_rest.into_iter().chain(two_rest).collect();
    first.lines.append(&mut second.lines);
    first.nodes.extend(second.nodes.iter().filter(|n| !become_one.contains_key(&n.id)));
    for line in &mut first.lines {
        for node in [&mut line.from, &mut line.to] {
            *node = become_one.get(node).copied().unwrap_or(*node);
        }
    }
    first.lines.retain(|l| !gone.contains(&l.id));
    let used: HashSet<NodeId> = first.lines.iter().flat_map(|l| [l.from, l.to]).collect();
    first.nodes.retain(|n| used.contains(&n.id));
    first.cutouts.append(&mut second.cutouts);
    first.inside.append(&mut second.inside);
    first.marks.append(&mut second.marks);
    first.along.append(&mut second.along);
    first.paint.append(&mut second.paint);
    costume.seams.retain(|s| s.id != seam.id);
    find(costume, one)?.shape = Shape::Drawn(first);
    for run in costume.seams.iter_mut().flat_map(|s| s.runs_mut()).filter(|r| r.piece == two) {
        run.piece = one;
    }
    references::drop_lines(costume, one, &gone);
    super::pieces::remove(costume, two)?;
    // straight edges that go on beyond the seam are one again
    for node in [start.0, end.0] {
        straighten(costume, one, node)?;
    }
    Ok(())
}

/// Joins two straight lines that go on in one direction at a node.
pub(super) fn straighten(costume: &mut Costume, piece: PieceId, node: NodeId) -> Result<(), Refusal> {
    let (drawing, _) = drawing(costume, piece)?;
    let Some((a, b)) = super::lines::joined_at(drawing, node).filter(|(a, b)| a != b) else { return Ok(()) };
    let ends = |id: LineId| drawing.line(id).filter(|l| l.handles.is_none()).and_then(|l| line_curve(drawing, l));
    let Some((a, b)) = ends(a).zip(ends(b)) else { return Ok(()) };
    let (u, v) = ((a.end() - a.start()).normalize(), (b.end() - b.start()).normalize());
    let alone = !drawing.inside.iter().any(|p| super::lines::ends_at(drawing, &p.lines, node));
    if alone && u.dot(v) > 0.0 && u.cross(v).abs() < 1e-6 {
        super::lines::remove_node(costume, piece, node)?;
    }
    Ok(())
}
