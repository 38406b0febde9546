//! What refers to lines: runs of seams, notches, and what lies along them. When a line is split, joined or taken away,
//! they keep their places on the cloth.

use crate::{Along, AlongId, Costume, LineId, Mark, PieceId, Run};

/// Shares of a line closer than this are the same place.
const SAME: f64 = 1e-9;

/// The pieces that show a drawing: the one that has it, and its twins.
pub(super) fn shown_by(costume: &Costume, owner: PieceId) -> Vec<PieceId> {
    let twins = costume.pieces.iter().filter(|p| p.twin_of() == Some(owner)).map(|p| p.id);
    std::iter::once(owner).chain(twins).collect()
}

/// A line was split at a share of its length: its first part keeps the id `line`, the second has the id `new`.
pub(super) fn split(costume: &mut Costume, owner: PieceId, line: LineId, new: LineId, at: f64, mut fresh: impl FnMut() -> u32) {
    let shown = shown_by(costume, owner);
    for side in costume.seams.iter_mut().flat_map(|s| [&mut s.a, &mut s.b]) {
        *side = side
            .iter()
            .flat_map(|run| if shown.contains(&run.piece) && run.line == line { split_run(*run, new, at) } else { vec![*run] })
            .collect();
    }
    let Some(drawing) = costume.pieces.iter_mut().find(|p| p.id == owner).and_then(|p| p.drawing_mut()) else { return };
    for mark in &mut drawing.marks {
        if let Mark::Notch { line: on, at: place, .. } = mark
            && *on == line
        {
            (*on, *place) = if *place <= at { (line, (*place / at).min(1.0)) } else { (new, (*place - at) / (1.0 - at)) };
        }
    }
    let mut along = Vec::with_capacity(drawing.along.len());
    for a in &drawing.along {
        if a.line != line {
            along.push(*a);
            continue;
        }
        let first = a.from < at - SAME;
        if first {
            along.push(Along { from: a.from / at, to: whole(a.to.min(at) / at), ..*a });
        }
        if a.to > at + SAME {
            let id = if first { AlongId(fresh()) } else { a.id };
            along.push(Along { id, line: new, from: ((a.from.max(at)) - at) / (1.0 - at), to: whole((a.to - at) / (1.0 - at)), ..*a });
        }
    }
    drawing.along = along;
}

fn split_run(run: Run, new: LineId, at: f64) -> Vec<Run> {
    let [low, high] = run.span();
    let mut parts = Vec::with_capacity(2);
    if low < at - SAME {
        parts.push(Run { from: low / at, to: whole(high.min(at) / at), ..run });
    }
    if high > at + SAME {
        parts.push(Run { line: new, from: (low.max(at) - at) / (1.0 - at), to: whole((high - at) / (1.0 - at)), ..run });
    }
    if run.is_backwards() {
        parts = parts.into_iter().rev().map(Run::turned).collect();
    }
    parts
}

/// Rounding must not leave a sliver at the end of a line.
fn whole(share: f64) -> f64 {
    if share > 1.0 - SAME { 1.0 } else { share }
}

/// Two lines became one with the id `line`; `at` is the share of its length that the first part has.
pub(super) fn join(costume: &mut Costume, owner: PieceId, line: LineId, gone: LineId, at: f64) {
    let shown = shown_by(costume, owner);
    let place = |on: LineId, share: f64| if on == line { share * at } else { at + share * (1.0 - at) };
    for side in costume.seams.iter_mut().flat_map(|s| [&mut s.a, &mut s.b]) {
        for run in side.iter_mut().filter(|r| shown.contains(&r.piece) && (r.line == line || r.line == gone)) {
            *run = Run { line, from: place(run.line, run.from), to: place(run.line, run.to), ..*run };
        }
        merge_runs(side);
    }
    let Some(drawing) = costume.pieces.iter_mut().find(|p| p.id == owner).and_then(|p| p.drawing_mut()) else { return };
    for mark in &mut drawing.marks {
        if let Mark::Notch { line: on, at: share, .. } = mark
            && (*on == line || *on == gone)
        {
            (*on, *share) = (line, place(*on, *share));
        }
    }
    for a in drawing.along.iter_mut().filter(|a| a.line == line || a.line == gone) {
        *a = Along { line, from: place(a.line, a.from), to: place(a.line, a.to), ..*a };
    }
    // what went on over the node goes on as one
    let mut k = 0;
    while k < drawing.along.len() {
        let this = drawing.along[k];
        let next = drawing.along.iter().position(|b| {
            b.id != this.id && b.line == this.line && this.line == line && b.finish == this.finish && (b.from - this.to).abs() < SAME
        });
        match next {
            Some(j) => {
                drawing.along[k].to = drawing.along[j].to;
                drawing.along.remove(j);
                k = 0;
            }
            None => k += 1,
        }
    }
}

/// Runs that follow each other on one line in one direction become one.
fn merge_runs(side: &mut Vec<Run>) {
    let mut merged: Vec<Run> = Vec::with_capacity(side.len());
    for run in side.iter() {
        match merged.last_mut() {
            Some(last)
                if (last.piece, last.line) == (run.piece, run.line)
                    && (last.to - run.from).abs() < SAME
                    && last.is_backwards() == run.is_backwards() =>
            {
                last.to = run.to;
            }
            _ => merged.push(*run),
        }
    }
    *side = merged;
}

/// A line was let in between two others of a loop: seams that go on from one to the other go over it.
pub(super) fn bridge(costume: &mut Costume, owner: PieceId, line: LineId) {
    let Some(drawing) = costume.piece(owner).and_then(|p| p.drawing()) else { return };
    let beside = drawing.loops().find_map(|l| {
        let (k, n) = (l.iter().position(|x| *x == line)?, l.len());
        Some((l[(k + n - 1) % n], l[(k + 1) % n]))
    });
    let Some((before, after)) = beside else { return };
    let shown = shown_by(costume, owner);
    for side in costume.seams.iter_mut().flat_map(|s| [&mut s.a, &mut s.b]) {
        let mut k = 1;
        while k < side.len() {
            let (one, two) = (side[k - 1], side[k]);
            if one.piece == two.piece && shown.contains(&one.piece) {
                let on = Run::whole(one.piece, line);
                if (one.line, two.line) == (before, after) && one.to > 1.0 - SAME && two.from < SAME {
                    side.insert(k, on);
                } else if (one.line, two.line) == (after, before) && one.to < SAME && two.from > 1.0 - SAME {
                    side.insert(k, on.turned());
                }
            }
            k += 1;
        }
    }
}

/// Lines are gone: what lay on them goes too, and seams that lose a side are unpicked.
pub(super) fn drop_lines(costume: &mut Costume, owner: PieceId, gone: &[LineId]) {
    let shown = shown_by(costume, owner);
    drop_runs(costume, |r| shown.contains(&r.piece) && gone.contains(&r.line));
    let Some(drawing) = costume.pieces.iter_mut().find(|p| p.id == owner).and_then(|p| p.drawing_mut()) else { return };
    drawing.marks.retain(|m| !matches!(m, Mark::Notch { line, .. } if gone.contains(line)));
    drawing.along.retain(|a| !gone.contains(&a.line));
}

/// Takes runs out of their seams.
pub(super) fn drop_runs(costume: &mut Costume, is_gone: impl Fn(&Run) -> bool) {
    for seam in &mut costume.seams {
        seam.a.retain(|r| !is_gone(r));
        seam.b.retain(|r| !is_gone(r));
    }
    costume.seams.retain(|s| !s.a.is_empty() && !s.b.is_empty());
}
