//! Paths inside a piece: drawn from spot to spot, parallel to a line, drawn on to the outline; and notches on both sides of
//! a seam.

use super::cutting::{node_at, straighten};
use super::lines::joined_at;
use super::{drawing, fresh, missing, own_frame};
use crate::curve::{arc_length, cubic, from_kurbo, line_curve};
use crate::fit::fit;
use crate::{
    Anchor, Costume, Drawing, Edit, InsidePath, Line, LineEnd, LineId, Mark, MarkId, Node, NodeId, NodeKind, PathId, PieceId, Purpose,
    Quantity, Refusal, RefusalKind, Run, SeamId, Spot, Thing, limits, rules,
};
use kurbo::{ParamCurve, ParamCurveDeriv, PathSeg, Point, Vec2};

/// Points of a curve that is moved aside, and how near the curves through them are, mm.
const PARTS: usize = 48;
const NEAR: f64 = 0.02;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::AddInside { piece, points, purpose } => add(costume, *piece, points, *purpose),
        Edit::AddParallel { piece, line, distance, purpose } => parallel(costume, *piece, *line, *distance, *purpose),
        Edit::ExtendInside { piece, path, end } => extend(costume, *piece, *path, *end),
        Edit::AddSeamNotch { seam, at, double } => seam_notch(costume, *seam, *at, *double),
        _ => Ok(()),
    }
}

/// A path from anchor to anchor.
fn add(costume: &mut Costume, piece: PieceId, points: &[Anchor], purpose: Purpose) -> Result<(), Refusal> {
    if points.len() < 2 || points.len() > limits::LINES {
        return Err(Refusal::of("inside line", RefusalKind::PathPoints { count: points.len(), most: limits::LINES }));
    }
    let id = PathId(fresh(costume));
    let mut nodes = Vec::new();
    let mut stops = Vec::new();
    let is_mirrored = drawing(costume, piece)?.1;
    for point in points {
        stops.push(match point {
            Anchor::Node(node) => *node,
            Anchor::On { line, at } => node_at(costume, piece, Spot::On { line: *line, at: *at })?,
            Anchor::At(at) => {
                let node = Node { id: NodeId(fresh(costume)), at: own_frame(*at, is_mirrored), kind: NodeKind::Corner };
                nodes.push(node);
                node.id
            }
        });
    }
    let mut lines: Vec<Line> = stops.windows(2).map(|w| Line { id: LineId(fresh(costume)), from: w[0], to: w[1], handles: None }).collect();
    if is_mirrored {
        lines.reverse();
        lines.iter_mut().for_each(|l| (l.from, l.to) = (l.to, l.from));
    }
    let (drawing, _) = drawing(costume, piece)?;
    drawing.nodes.extend(nodes);
    drawing.inside.push(InsidePath { id, lines: lines.iter().map(|l| l.id).collect(), purpose });
    drawing.lines.extend(lines);
    Ok(())
}

/// The first place where the way from a point in a direction meets the outline or a cut-out.
fn meets(drawing: &Drawing, from: Point, towards: Vec2, nearest: f64) -> Option<(f64, LineId, f64)> {
    let ray = kurbo::Line::new(from, from + towards * (4.0 * limits::TABLE));
    let curves = drawing.loops().flatten().filter_map(|l| Some((*l, line_curve(drawing, drawing.line(*l)?)?)));
    curves
        .flat_map(|(id, curve)| {
            curve.intersect_line(ray).into_iter().map(move |x| (x.line_t * 4.0 * limits::TABLE, id, curve, x.segment_t))
        })
        .filter(|(way, ..)| *way > nearest)
        .min_by(|a, b| a.0.total_cmp(&b.0))
        .map(|(way, id, curve, t)| (way, id, crate::share(&curve, t.clamp(0.0, 1.0))))
}

/// A path at a distance on the left of a line, where the cloth is, trimmed or drawn on to the outline at both ends.
fn parallel(costume: &mut Costume, piece: PieceId, line: LineId, distance: f64, purpose: Purpose) -> Result<(), Refusal> {
    let name = costume.line_name(piece, line);
    rules::within(&name, Quantity::Size, distance.abs(), &(limits::EDGE..=limits::TABLE))?;
    let owner = costume.owner(piece);
    let (drawing, _) = drawing(costume, owner)?;
    let whole = drawing.line(line).and_then(|l| line_curve(drawing, l)).ok_or_else(|| missing(Thing::Edge))?;
    let c = cubic(&whole);
    let beside = |t: f64| {
        let d = c.deriv().eval(t).to_vec2().normalize();
        c.eval(t) + Vec2::new(-d.y, d.x) * distance
    };
    let parts = if matches!(whole, PathSeg::Line(_)) { 1 } else { PARTS };
    let mut way: Vec<Point> = (0..=parts).map(|k| beside(k as f64 / parts as f64)).collect();
    let refuse = || Refusal::of(&name, RefusalKind::PathOutside { purpose });
    let middle = if parts == 1 { way[0].midpoint(way[1]) } else { way[parts / 2] };
    // from the middle to both sides until the outline is met
    let reach = |points: Vec<Point>| -> Result<(Vec<Point>, LineId, f64), Refusal> {
        let mut found = vec![points[0]];
        for pair in points.windows(2) {
            let d = pair[1] - pair[0];
            let Some((far, id, share)) = meets(drawing, pair[0], d.normalize(), 1e-9) else { return Err(refuse()) };
            if far <= d.hypot() {
                found.push(pair[0] + d.normalize() * far);
                return Ok((found, id, share));
            }
            found.push(pair[1]);
        }
        let n = points.len();
        let d = (points[n - 1] - points[n - 2]).normalize();
        let (far, id, share) = meets(drawing, points[n - 1], d, -1e-9).ok_or_else(refuse)?;
        // drawn on beyond its own end only as far as it is natural
        if far > 4.0 * distance.abs() + 0.5 * arc_length(&whole) {
            return Err(refuse());
        }
        found.push(points[n - 1] + d * far);
        Ok((found, id, share))
    };
    let half = parts / 2;
    let mut back: Vec<Point> = std::iter::once(middle).chain(way[..=half].iter().rev().copied()).collect();
    let mut forth: Vec<Point> = std::iter::once(middle).chain(way[half.max(1)..].iter().copied()).collect();
    for part in [&mut back, &mut forth] {
        part.dedup_by(|a, b| (*a - *b).hypot() < 1e-9);
    }
    let ((mut first, a, s), (second, b, t)) = (reach(back)?, reach(forth)?);
    first.reverse();
    first.extend(second.into_iter().skip(1));
    way = first;
    let curves = if parts == 1 { Vec::new() } else { fit(&way, NEAR) };
    // the later spot first, so that the other keeps its share
    let on = |line: LineId, at: f64| Spot::On { line, at };
    let (from, to) = if a == b && s < t {
        let to = node_at(costume, owner, on(b, t))?;
        (node_at(costume, owner, on(a, s / t))?, to)
    } else if a == b {
        let from = node_at(costume, owner, on(a, s))?;
        (from, node_at(costume, owner, on(b, t / s))?)
    } else {
        (node_at(costume, owner, on(a, s))?, node_at(costume, owner, on(b, t))?)
    };
    let mut stops = vec![from];
    let mut made = Vec::new();
    for c in curves.iter().take(curves.len().saturating_sub(1)) {
        let node = Node { id: NodeId(fresh(costume)), at: from_kurbo(c.p3), kind: NodeKind::Smooth };
        stops.push(node.id);
        made.push(node);
    }
    stops.push(to);
    let id = PathId(fresh(costume));
    let lines: Vec<Line> = stops
        .windows(2)
        .enumerate()
        .map(|(k, w)| {
            let handles = curves.get(k).map(|c| [from_kurbo(c.p1), from_kurbo(c.p2)]);
            Line { id: LineId(fresh(costume)), from: w[0], to: w[1], handles }
        })
        .collect();
    let (drawing, _) = super::drawing(costume, owner)?;
    drawing.nodes.extend(made);
    drawing.inside.push(InsidePath { id, lines: lines.iter().map(|l| l.id).collect(), purpose });
    drawing.lines.extend(lines);
    Ok(())
}

/// Draws one end of a path straight on to the outline.
fn extend(costume: &mut Costume, piece: PieceId, path: PathId, end: LineEnd) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let (drawing, _) = drawing(costume, owner)?;
    let found = drawing.path(path).ok_or_else(|| missing(Thing::InsideLine))?;
    let purpose = found.purpose;
    let line = if end == LineEnd::From { found.lines.first() } else { found.lines.last() };
    let line = line.and_then(|l| drawing.line(*l)).copied().ok_or_else(|| missing(Thing::InsideLine))?;
    let c = cubic(&line_curve(drawing, &line).ok_or_else(|| missing(Thing::Corner))?);
    let (node, at, d) = if end == LineEnd::From { (line.from, c.p0, c.p0 - c.p1) } else { (line.to, c.p3, c.p3 - c.p2) };
    let refuse = || Refusal::of(format!("inside line {}", path.0), RefusalKind::PathOutside { purpose });
    if drawing.loops().flatten().filter_map(|l| drawing.line(*l)).any(|l| l.from == node) || d.hypot() < 1e-9 {
        return Err(refuse());
    }
    let (_, on, share) = meets(drawing, at, d.normalize(), 1e-6).ok_or_else(refuse)?;
    let stop = node_at(costume, owner, Spot::On { line: on, at: share })?;
    let id = LineId(fresh(costume));
    let (drawing, _) = super::drawing(costume, owner)?;
    let (from, to) = if end == LineEnd::From { (stop, node) } else { (node, stop) };
    drawing.lines.push(Line { id, from, to, handles: None });
    if let Some(found) = drawing.inside.iter_mut().find(|p| p.id == path) {
        let place = if end == LineEnd::From { 0 } else { found.lines.len() };
        found.lines.insert(place, id);
    }
    if joined_at(drawing, node).is_some() {
        straighten(costume, owner, node)?;
    }
    Ok(())
}

/// A notch on both sides of a seam, at the same length from where it begins.
fn seam_notch(costume: &mut Costume, seam: SeamId, at: f64, double: bool) -> Result<(), Refusal> {
    let seam = costume.seam(seam).cloned().ok_or_else(|| missing(Thing::Seam))?;
    let name = format!("seam {}", seam.tag);
    let mut sides = Vec::with_capacity(2);
    for side in [&seam.a, &seam.b] {
        let mut runs: Vec<(Run, f64)> = Vec::with_capacity(side.len());
        for run in side {
            let found = costume.drawing(run.piece).and_then(|(d, _)| line_curve(d, d.line(run.line)?));
            let length = arc_length(&found.ok_or_else(|| missing(Thing::Edge))?) * (run.to - run.from).abs();
            runs.push((*run, length));
        }
        sides.push(runs);
    }
    let whole = |runs: &[(Run, f64)]| runs.iter().map(|r| r.1).sum::<f64>();
    let shorter = whole(&sides[0]).min(whole(&sides[1]));
    rules::within(&name, Quantity::SeamLength, at, &(0.0..=shorter))?;
    for runs in sides {
        let mut left = at;
        for (k, (run, length)) in runs.iter().enumerate() {
            if left > *length && k + 1 < runs.len() {
                left -= length;
                continue;
            }
            let share = run.from + (run.to - run.from) * (left / length.max(1e-9)).clamp(0.0, 1.0);
            let id = MarkId(fresh(costume));
            let (drawing, _) = drawing(costume, run.piece)?;
            drawing.marks.push(Mark::Notch { id, line: run.line, at: share, double });
            break;
        }
    }
    Ok(())
}
