//! Which way the sides of a seam are walked, found from how pieces lie on the table, from what is sewn already, and from
//! where they hang.

use super::joints::{Joints, node_at};
use crate::{Costume, Pattern, PatternRun, Run};
use kurbo::{Affine, ParamCurve, Point, Vec2};

/// The same side the other way round.
pub(crate) fn turned(side: &[Run]) -> Vec<Run> {
    side.iter().rev().map(|r| r.turned()).collect()
}

/// Both sides in their order, each run walked so that one follows the other, and side b so that the seam does not twist.
pub fn together(costume: &Costume, pattern: &Pattern, a: &[Run], b: &[Run]) -> (Vec<Run>, Vec<Run>) {
    let joints = Joints::new(pattern);
    let (a, b) = (chained(pattern, &joints, a), chained(pattern, &joints, b));
    let b = if meets_turned(costume, pattern, &a, &b) { turned(&b) } else { b };
    (a, b)
}

/// A run of the document as it lies in the pattern.
fn plain(pattern: &Pattern, run: &Run) -> Option<PatternRun> {
    let piece = pattern.pieces.iter().position(|p| p.id == run.piece)?;
    let line = pattern.pieces[piece].line(run.line)?;
    let turned = pattern.pieces[piece].lines[line].turned;
    let (from, to) = if turned { (1.0 - run.from, 1.0 - run.to) } else { (run.from, run.to) };
    Some(PatternRun { piece, line, from, to })
}

/// Where a run begins and ends on the table.
fn ends(pattern: &Pattern, run: &PatternRun) -> [Point; 2] {
    let piece = &pattern.pieces[run.piece];
    let curve = &piece.lines[run.line].curve;
    [run.from, run.to].map(|s| {
        let p = crate::point_at(curve, s);
        piece.on_table() * Point::new(p.x, p.y)
    })
}

/// A side whose runs follow each other: each is walked so that it begins where the one before ended, be it at a corner
/// that is sewn to the other, or by the way on the table.
fn chained(pattern: &Pattern, joints: &Joints, side: &[Run]) -> Vec<Run> {
    let apart = |one: &Run, two: &Run| {
        let (Some(p), Some(q)) = (plain(pattern, one), plain(pattern, two)) else { return f64::INFINITY };
        let meet = node_at(pattern, &p, 1).zip(node_at(pattern, &q, 0)).is_some_and(|(m, n)| joints.are_one(m, n));
        if meet { 0.0 } else { 1.0 + ends(pattern, &p)[1].distance(ends(pattern, &q)[0]) }
    };
    let Some(first) = side.first() else { return Vec::new() };
    let walk = |first: Run| {
        let mut made = vec![first];
        let mut gaps = 0.0;
        for run in &side[1..] {
            let last = made[made.len() - 1];
            let (on, back) = (apart(&last, run), apart(&last, &run.turned()));
            gaps += on.min(back);
            made.push(if back < on { run.turned() } else { *run });
        }
        (gaps, made)
    };
    let (on, back) = (walk(*first), walk(first.turned()));
    if back.0 < on.0 { back.1 } else { on.1 }
}

/// Whether side b is to be walked the other way. Outlines have the cloth on their left, so two of them meet when they run
/// against each other. What lies over the other, or on a line inside, is met the way it lies.
fn meets_turned(costume: &Costume, pattern: &Pattern, a: &[Run], b: &[Run]) -> bool {
    let (Some(first_a), Some(first_b)) = (a.first(), b.first()) else { return false };
    let (Some(p), Some(q)) = (plain(pattern, first_a), plain(pattern, first_b)) else { return false };
    // the second edge of a folded band goes the way of its first
    if let Some(first) = first_layer(pattern, &p, &q) {
        return first.dot(run_way(pattern, &q)) < 0.0;
    }
    if let Some(first) = first_layer(pattern, &q, &p) {
        return first.dot(run_way(pattern, &p)) < 0.0;
    }
    if pattern.is_on_loop(&p) && pattern.is_on_loop(&q) && !lie_over(costume, pattern, &p, &q) {
        return (p.from < p.to) == (q.from < q.to);
    }
    way(pattern, a).dot(way(pattern, b)) < 0.0
}

/// From where a run begins to where it ends, in the frame of its piece.
fn run_way(pattern: &Pattern, run: &PatternRun) -> Vec2 {
    let curve = &pattern.pieces[run.piece].lines[run.line].curve;
    curve.eval(crate::parameter(curve, run.to)) - curve.eval(crate::parameter(curve, run.from))
}

/// When the line of `on` is sewn to another edge of the piece of `other` already: the way of that edge, walked as `on` is.
fn first_layer(pattern: &Pattern, on: &PatternRun, other: &PatternRun) -> Option<Vec2> {
    pattern.seams.iter().flat_map(|s| [(&s.a, &s.b), (&s.b, &s.a)]).find_map(|(one, two)| {
        let [here] = one.as_slice() else { return None };
        let [there] = two.as_slice() else { return None };
        let layered = (here.piece, here.line) == (on.piece, on.line) && there.piece == other.piece && there.line != other.line;
        let same = (here.from < here.to) == (on.from < on.to);
        layered.then(|| if same { run_way(pattern, there) } else { -run_way(pattern, there) })
    })
}

/// Two pieces of one station in different layers, such as a facing and what it lies under.
fn lie_over(costume: &Costume, pattern: &Pattern, a: &PatternRun, b: &PatternRun) -> bool {
    let [a, b] = [a, b].map(|r| &pattern.pieces[r.piece]);
    let station = |p: &crate::PatternPiece| p.placement.as_ref().map(|at| at.station.clone());
    let wear = |p: &crate::PatternPiece| costume.piece(p.id).map(|p| p.wear);
    a.id != b.id && station(a).is_some() && station(a) == station(b) && wear(a) != wear(b)
}

/// From where a side begins to where it ends, on the table; of pieces that hang at a station as they hang there.
fn way(pattern: &Pattern, side: &[Run]) -> Vec2 {
    let upright = |run: &PatternRun| {
        let piece = &pattern.pieces[run.piece];
        let turn = piece.placement.as_ref().map_or(piece.angle, |at| at.turn);
        Affine::rotate(turn.to_radians())
    };
    let plain: Vec<PatternRun> = side.iter().filter_map(|r| plain(pattern, r)).collect();
    let mut sum = Vec2::ZERO;
    for run in &plain {
        let curve = &pattern.pieces[run.piece].lines[run.line].curve;
        let [from, to] = [run.from, run.to].map(|s| curve.eval(crate::parameter(curve, s)));
        sum += (upright(run) * to) - (upright(run) * from);
    }
    sum
}
