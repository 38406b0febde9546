//! What a drawing must obey apart from its geometry: loops close, paths are chains, references exist, numbers are bounded.

use super::{Checked, at_most, on_table, text, within};
use crate::{
    BandLevel, Costume, Counted, Drawing, Finish, LineId, Mark, NodeId, Paint, PaintUse, Piece, Point, Purpose, Quantity, Refusal,
};
use crate::{RefusalKind, SkinHold, Stroke, limits};
use std::collections::{HashMap, HashSet};

pub(super) fn check(costume: &Costume, piece: &Piece, drawing: &Drawing) -> Checked {
    let item = piece.name.as_str();
    at_most(item, Counted::Lines, drawing.lines.len(), limits::LINES)?;
    at_most(item, Counted::Corners, drawing.nodes.len(), 2 * limits::LINES)?;
    let marks = drawing.marks.len() + drawing.along.len() + drawing.inside.len() + drawing.cutouts.len();
    at_most(item, Counted::Marks, marks, limits::MARKS)?;
    drawing.nodes.iter().try_for_each(|n| on_table(item, n.at))?;
    drawing.lines.iter().flat_map(|l| l.handles).flatten().try_for_each(|p| on_table(item, p))?;
    chains(item, drawing)?;
    for loop_ in drawing.loops() {
        let straight = loop_.iter().all(|l| drawing.line(*l).is_some_and(|l| l.handles.is_none()));
        if loop_.len() < if straight { 3 } else { 2 } {
            return Err(Refusal::of(item, RefusalKind::TooFewCorners { removing: false }));
        }
    }
    purposes(costume, piece, drawing)?;
    let has_line = |line: LineId| drawing.lines.iter().any(|l| l.id == line);
    for mark in &drawing.marks {
        match mark {
            Mark::Notch { line, at, .. } if !has_line(*line) || !(0.0..=1.0).contains(at) => {
                return Err(Refusal::of(format!("{item}, notch"), RefusalKind::NotchNowhere));
            }
            Mark::DrillHole { at, .. } | Mark::Text { at, .. } => on_table(item, *at)?,
            Mark::Notch { .. } => {}
        }
        if let Mark::Text { text: words, .. } = mark {
            text(&format!("{item}, text"), words)?;
        }
    }
    for along in &drawing.along {
        let name = format!("{item}, {}", drawing.line_name(along.line));
        let stretch = 0.0 <= along.from && along.from < along.to && along.to <= 1.0;
        if !(has_line(along.line) && stretch) {
            return Err(Refusal::of(name, RefusalKind::FinishNowhere));
        }
        finish(&name, along.finish)?;
    }
    at_most(item, Counted::Paints, drawing.paint.len(), limits::PAINTS)?;
    drawing.paint.iter().try_for_each(|p| painted(&format!("{item}, painted map"), p))?;
    match piece.cut.on_fold {
        Some(fold) => on_fold(item, drawing, fold),
        None => Ok(()),
    }
}

/// Every line is in one loop or one path, each beginning where the one before ended, and every node is used.
fn chains(item: &str, drawing: &Drawing) -> Checked {
    let broken = || Err(Refusal::of(item, RefusalKind::BrokenChains));
    let lines: HashMap<LineId, (NodeId, NodeId)> = drawing.lines.iter().map(|l| (l.id, (l.from, l.to))).collect();
    let mut used = HashSet::new();
    let closed = drawing.loops().map(|l| (l, true));
    for (chain, closes) in closed.chain(drawing.inside.iter().map(|p| (&p.lines, false))) {
        let Some(ends) = chain.iter().map(|l| lines.get(l).copied()).collect::<Option<Vec<_>>>() else { return broken() };
        let follows = ends.windows(2).all(|w| w[0].1 == w[1].0);
        let returns = !closes || ends.first().map(|e| e.0) == ends.last().map(|e| e.1);
        let once: HashSet<_> = ends.iter().map(|e| e.0).collect();
        if chain.is_empty() || !follows || !returns || once.len() != ends.len() || !chain.iter().all(|l| used.insert(*l)) {
            return broken();
        }
    }
    let nodes: HashSet<NodeId> = drawing.nodes.iter().map(|n| n.id).collect();
    let ends: HashSet<NodeId> = lines.values().flat_map(|e| [e.0, e.1]).collect();
    if used.len() != drawing.lines.len() || nodes != ends {
        return broken();
    }
    // loops keep apart; paths may begin and end on them
    let mut around = HashSet::new();
    let on_loops = drawing.loops().flatten().filter_map(|l| lines.get(l)).map(|e| e.0);
    for node in on_loops {
        if !around.insert(node) {
            return broken();
        }
    }
    Ok(())
}

/// What the paths inside are for; they may refer to other pieces.
pub(super) fn purposes(costume: &Costume, piece: &Piece, drawing: &Drawing) -> Checked {
    drawing.inside.iter().try_for_each(|path| purpose(costume, &piece.name, path.purpose))
}

fn purpose(costume: &Costume, item: &str, purpose: Purpose) -> Checked {
    match purpose {
        Purpose::Fold { angle } => within(&format!("{item}, fold line"), Quantity::PressedAngle, angle, &limits::FOLD),
        Purpose::Placement { of } if costume.piece(of).is_none() => {
            Err(Refusal::of(format!("{item}, placement line"), RefusalKind::PlacementOfNothing { of }))
        }
        _ => Ok(()),
    }
}

fn finish(name: &str, finish: Finish) -> Checked {
    match finish {
        Finish::Elastic { length } => within(name, Quantity::Elastic, length, &limits::ELASTIC),
        Finish::Allowance { width, .. } | Finish::Hem { width } => within(name, Quantity::Beyond, width, &(0.0..=limits::WIDTH)),
        Finish::Level { at: BandLevel::Height(mm) } => within(name, Quantity::Height, mm, &limits::HEIGHT),
        Finish::Skin(hold) => skin_hold(name, hold),
        _ => Ok(()),
    }
}

fn skin_hold(name: &str, hold: SkinHold) -> Checked {
    within(name, Quantity::Strength, hold.strength, &limits::STRENGTH)?;
    hold.distance.map_or(Ok(()), |mm| within(name, Quantity::HeldAt, mm, &limits::HELD_AT))
}

/// Maps have cells of some size, and values within reason.
fn painted(name: &str, paint: &Paint) -> Checked {
    on_table(name, paint.at)?;
    let size = |p: Point| p.x.hypot(p.y);
    let across = (paint.right.x * paint.up.y - paint.right.y * paint.up.x).abs();
    for side in [size(paint.right), size(paint.up), across.sqrt()] {
        within(name, Quantity::CellSize, side, &(1e-3..=limits::TABLE))?;
    }
    match paint.purpose {
        PaintUse::Skin(hold) => skin_hold(name, hold),
        PaintUse::Grip { factor } => within(name, Quantity::Friction, factor, &limits::GRIP),
        PaintUse::Carried { leash } => within(name, Quantity::Leash, leash, &limits::LEASH),
    }
}

/// What an edit would paint.
pub(crate) fn stroke(name: &str, stroke: &Stroke) -> Checked {
    let share = |v: f64| within(name, Quantity::Painted, v, &(0.0..=1.0));
    match stroke {
        Stroke::Brush { points, radius, soft, value } => {
            at_most(name, Counted::StrokePoints, points.len(), limits::BRUSHED)?;
            points.iter().try_for_each(|p| on_table(name, *p))?;
            within(name, Quantity::Brush, *radius, &limits::BRUSH)?;
            [*soft, *value].into_iter().try_for_each(share)
        }
        Stroke::Fill { value } => share(*value),
        Stroke::Gradient { from, to, values } => {
            [*from, *to].into_iter().try_for_each(|p| on_table(name, p))?;
            values.iter().copied().try_for_each(share)
        }
        Stroke::Smooth { radius } => within(name, Quantity::Brush, *radius, &limits::BRUSH),
        Stroke::Picture { .. } => Ok(()),
    }
}

/// The fold is a straight line of the outline.
fn on_fold(item: &str, drawing: &Drawing, fold: LineId) -> Checked {
    let straight = drawing.line(fold).is_some_and(|l| l.handles.is_none());
    if !straight || !drawing.outline.contains(&fold) {
        return Err(Refusal::of(item, RefusalKind::NoFold));
    }
    Ok(())
}
