//! Fullness: a piece parted along lines across it and spread, by the same amount all along or about one end of each line;
//! pleats are spreads whose cloth is folded away.

use super::cutting::{chain, node_at, straighten};
use super::pieces::transform_lines;
use super::{drawing, fresh, missing, references, seams};
use crate::curve::{from_kurbo, line_curve, to_kurbo};
use crate::{
    Costume, Drawing, Edit, InsidePath, Line, LineId, Mark, Node, NodeId, NodeKind, PathId, PieceId, Pleat, Point, Purpose, Quantity,
    Refusal, RefusalKind, Run, Spot, SpreadBy, Thing, limits,
};
use kurbo::{Affine, BezPath, ParamCurve, Shape as _, Vec2};
use std::collections::HashSet;

/// Angle to which the folds of a pleat are pressed, degrees.
const PRESSED: f64 = 170.0;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::Spread { piece, cuts, amount, by } => spread_all(costume, *piece, cuts, *amount, *by),
        Edit::AddPleats { piece, from, to, count, depth, spacing, pleat } => {
            pleats(costume, *piece, [*from, *to], *count, *depth, *spacing, *pleat)
        }
        _ => Ok(()),
    }
}

fn spread_all(costume: &mut Costume, piece: PieceId, cuts: &[[Spot; 2]], amount: f64, by: SpreadBy) -> Result<(), Refusal> {
    let name = costume.piece_name(piece);
    crate::rules::within(&name, Quantity::Size, amount, &(0.1..=limits::TABLE))?;
    crate::rules::at_most(&name, crate::Counted::Cuts, cuts.len(), limits::CUTS)?;
    let owner = costume.owner(piece);
    // all spots become nodes first, so that later ones keep their places
    let mut lines = Vec::with_capacity(cuts.len());
    for [a, b] in cuts {
        let a = node_at(costume, piece, *a)?;
        lines.push((a, node_at(costume, piece, *b)?));
    }
    let mut ends = Vec::new();
    for (a, b) in lines {
        let made = spread(costume, owner, a, b, amount, by)?;
        ends.extend(made.at_a.into_iter().chain(made.at_b.into_iter().flatten()));
    }
    // straight edges stay in one
    ends.into_iter().try_for_each(|node| straighten(costume, owner, node))
}

/// What one spread leaves behind at both ends (none where it hinges): the node on the part that stayed, and the node on the
/// part that moved.
struct Spreading {
    at_a: [NodeId; 2],
    at_b: Option<[NodeId; 2]>,
}

/// Parts a piece along the line a-b and moves the cloth on the right of a → b away.
fn spread(costume: &mut Costume, owner: PieceId, a: NodeId, b: NodeId, amount: f64, by: SpreadBy) -> Result<Spreading, Refusal> {
    let name = costume.piece_name(owner);
    let across = || Refusal::of(&name, RefusalKind::CutNotAcross);
    let (drawing, _) = drawing(costume, owner)?;
    let place = |n: NodeId| drawing.node(n).map(|n| to_kurbo(n.at)).ok_or_else(|| missing(Thing::Corner));
    let (p, q) = (place(a)?, place(b)?);
    // counter-clockwise, what follows a until b lies on the right of the way a → b
    let moves = chain(drawing, a, b).filter(|_| a != b).ok_or_else(across)?;
    let stays = chain(drawing, b, a).ok_or_else(across)?;
    if moves.len() < 2 && stays.len() < 2 {
        return Err(across());
    }
    let d = (q - p).normalize();
    let right = Vec2::new(d.y, -d.x);
    let length = (q - p).hypot();
    let step = match by {
        SpreadBy::Parallel => Affine::translate(right * amount),
        // about b, clockwise seen from it, until the mouth at a is as wide as asked
        SpreadBy::Hinge => {
            let half = 0.5 * amount / length.max(1e-9);
            if half >= 1.0 {
                return Err(Refusal::of(name, RefusalKind::OutOfRange { of: Quantity::Size, value: amount, low: 0.1, high: 1.9 * length }));
            }
            Affine::rotate_about(2.0 * half.asin(), q)
        }
    };
    let mut region = BezPath::from_path_segments(moves.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?)));
    region.close_path();
    let lies = |line: &LineId| drawing.line(*line).and_then(|l| line_curve(drawing, l)).is_some_and(|c| region.contains(c.eval(0.5)));
    let moved: HashSet<LineId> = moves
        .iter()
        .copied()
        .chain(drawing.cutouts.iter().filter(|l| l.first().is_some_and(lies)).flatten().copied())
        .chain(drawing.inside.iter().filter(|p| p.lines.first().is_some_and(lies)).flat_map(|p| p.lines.iter().copied()))
        .collect();
    let image = |p: Point| from_kurbo(step * to_kurbo(p));
    for mark in &mut drawing.marks {
        if let Mark::DrillHole { at, .. } | Mark::Text { at, .. } = mark
            && region.contains(to_kurbo(*at))
        {
            *at = image(*at);
        }
    }
    let hinges = by == SpreadBy::Hinge;
    let a2 = NodeId(fresh(costume));
    let b2 = if hinges { b } else { NodeId(fresh(costume)) };
    let (drawing, _) = super::drawing(costume, owner)?;
    drawing.nodes.push(Node { id: a2, at: from_kurbo(p), kind: NodeKind::Corner });
    if !hinges {
        drawing.nodes.push(Node { id: b2, at: from_kurbo(q), kind: NodeKind::Corner });
    }
    let (first, last) = (moves[0], moves[moves.len() - 1]);
    for line in &mut drawing.lines {
        if line.id == first {
            line.from = a2;
        }
        if line.id == last {
            line.to = b2;
        }
        // paths on the part that moves leave from its corners
        if moved.contains(&line.id) && !moves.contains(&line.id) {
            for end in [&mut line.from, &mut line.to] {
                *end = if *end == a {
                    a2
                } else if *end == b {
                    b2
                } else {
                    *end
                };
            }
        }
    }
    transform_lines(drawing, &moved, image);
    let mut bridges = Vec::new();
    let at = |d: &Drawing, l: LineId| d.outline.iter().position(|o| *o == l).unwrap_or_default();
    // a → a2 before what moved, b2 → b after it
    let mut between =
        |costume: &mut Costume, from: NodeId, to: NodeId, before: Option<LineId>, after: Option<LineId>| -> Result<(), Refusal> {
            let id = LineId(fresh(costume));
            let (drawing, _) = super::drawing(costume, owner)?;
            drawing.lines.push(Line { id, from, to, handles: None });
            let k = before.map_or_else(|| after.map_or(0, |l| at(drawing, l) + 1), |l| at(drawing, l));
            drawing.outline.insert(k, id);
            bridges.push(id);
            Ok(())
        };
    between(costume, a, a2, Some(first), None)?;
    if !hinges {
        between(costume, b2, b, None, Some(last))?;
    }
    for bridge in bridges {
        references::bridge(costume, owner, bridge);
    }
    Ok(Spreading { at_a: [a, a2], at_b: (!hinges).then_some([b, b2]) })
}

/// Parallel pleats from one edge to another: the cloth for each is let in, its folds are marked and pressed, and its layers
/// are sewn on top of each other at both ends.
fn pleats(
    costume: &mut Costume,
    piece: PieceId,
    ends: [Spot; 2],
    count: u8,
    depth: f64,
    spacing: f64,
    pleat: Pleat,
) -> Result<(), Refusal> {
    let name = costume.piece_name(piece);
    crate::rules::within(&name, Quantity::Pleats, f64::from(count), &(1.0..=f64::from(limits::PLEATS)))?;
    crate::rules::within(&name, Quantity::Size, depth, &(2.0..=1000.0))?;
    if count > 1 {
        crate::rules::within(&name, Quantity::Size, spacing, &(2.0..=limits::TABLE))?;
    }
    let owner = costume.owner(piece);
    let (a, b) = (node_at(costume, piece, ends[0])?, node_at(costume, piece, ends[1])?);
    let (mut a, mut b) = (a, b);
    for k in 0..count {
        let made = one_pleat(costume, owner, a, b, depth, pleat)?;
        if k + 1 < count {
            // the next one begins farther along both edges, beyond what was let in
            (a, b) = (beyond(costume, owner, made[0], spacing, true)?, beyond(costume, owner, made[1], spacing, false)?);
        }
    }
    Ok(())
}

/// A node at a distance along the outline after (or before) another one.
fn beyond(costume: &mut Costume, owner: PieceId, node: NodeId, distance: f64, after: bool) -> Result<NodeId, Refusal> {
    let name = costume.piece_name(owner);
    let (drawing, _) = drawing(costume, owner)?;
    let line = drawing.outline.iter().filter_map(|l| drawing.line(*l)).find(|l| if after { l.from == node } else { l.to == node });
    let line = *line.ok_or_else(|| missing(Thing::Corner))?;
    let length = crate::arc_length(&line_curve(drawing, &line).ok_or_else(|| missing(Thing::Edge))?);
    if distance > length - limits::EDGE {
        return Err(Refusal::of(name, RefusalKind::NoRoomForPleat { line: length }));
    }
    let share = distance / length;
    node_at(costume, owner, Spot::On { line: line.id, at: if after { share } else { 1.0 - share } })
}

/// Lets the cloth of one pleat in on the right of a → b, and returns the nodes behind it at both ends.
fn one_pleat(costume: &mut Costume, owner: PieceId, a: NodeId, b: NodeId, depth: f64, pleat: Pleat) -> Result<[NodeId; 2], Refusal> {
    // widths of the layers from a on, and to which side each fold between them is pressed
    let (layers, signs): (Vec<f64>, Vec<f64>) = match pleat {
        // the outer fold, and the inner one
        Pleat::Knife => (vec![depth, depth], vec![-1.0, 1.0]),
        Pleat::Box => (vec![depth, 2.0 * depth, depth], vec![1.0, -1.0, -1.0, 1.0]),
        Pleat::Inverted => (vec![depth, 2.0 * depth, depth], vec![-1.0, 1.0, 1.0, -1.0]),
    };
    let whole: f64 = layers.iter().sum();
    let made = spread(costume, owner, a, b, whole, SpreadBy::Parallel)?;
    let [_, a2] = made.at_a;
    let Some([_, b2]) = made.at_b else { return Err(missing(Thing::Corner)) };
    // stops along both bridges: where layers meet
    let (mut tops, mut bottoms) = (vec![a], vec![b]);
    let mut left = whole;
    for width in &layers[..layers.len() - 1] {
        let share = width / left;
        let on = |costume: &mut Costume, node: NodeId, after: bool| -> Result<NodeId, Refusal> {
            let (drawing, _) = drawing(costume, owner)?;
            let line = drawing.outline.iter().filter_map(|l| drawing.line(*l)).find(|l| if after { l.from == node } else { l.to == node });
            let line = line.ok_or_else(|| missing(Thing::Edge))?.id;
            Ok(super::lines::split_any(costume, owner, line, if after { share } else { 1.0 - share }, true)?.0)
        };
        let (top, bottom) = (tops[tops.len() - 1], bottoms[bottoms.len() - 1]);
        tops.push(on(costume, top, true)?);
        bottoms.push(on(costume, bottom, false)?);
        left -= width;
    }
    tops.push(a2);
    bottoms.push(b2);
    // a knife pleat has a fold at its edge and one within; the others have one at each stop
    let folds: Vec<usize> = if pleat == Pleat::Knife { vec![0, 1] } else { vec![0, 1, 2, 3] };
    for (k, sign) in folds.into_iter().zip(signs) {
        let (id, line) = (PathId(fresh(costume)), LineId(fresh(costume)));
        let (drawing, _) = drawing(costume, owner)?;
        drawing.lines.push(Line { id: line, from: tops[k], to: bottoms[k], handles: None });
        drawing.inside.push(InsidePath { id, lines: vec![line], purpose: Purpose::Fold { angle: sign * PRESSED } });
    }
    // layers lie on each other at both ends: each is sewn to the one it was folded from
    let between = |costume: &Costume, from: NodeId, to: NodeId| {
        let drawing = costume.piece(owner)?.drawing()?;
        drawing.lines.iter().find(|l| drawing.outline.contains(&l.id) && l.from == from && l.to == to).map(|l| l.id)
    };
    let pairs: Vec<(usize, usize)> = if pleat == Pleat::Knife { vec![(0, 1)] } else { vec![(0, 1), (1, 2)] };
    for (i, j) in pairs {
        for (stops, top) in [(&tops, true), (&bottoms, false)] {
            let lines = |k: usize| if top { between(costume, stops[k], stops[k + 1]) } else { between(costume, stops[k + 1], stops[k]) };
            let Some((one, two)) = lines(i).zip(lines(j)) else { continue };
            // both from the fold between them outwards; of the middle layer of a box only the near half
            let (wide_one, wide_two) = (layers[i] > depth * 1.5, layers[j] > depth * 1.5);
            let run = |line, from_end: bool, wide: bool| {
                let run = Run::whole(owner, line);
                let run = if from_end { run.turned() } else { run };
                if wide { Run { to: 0.5 * (run.from + run.to), ..run } } else { run }
            };
            seams::sew(costume, vec![run(one, top, wide_one)], vec![run(two, !top, wide_two)]);
        }
    }
    Ok([a2, b2])
}
