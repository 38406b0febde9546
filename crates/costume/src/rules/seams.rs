//! What seams must obey: their runs exist, have a length, and do not sew a stretch to itself.

use super::{Checked, at_most, name, within};
use crate::{Closure, ClosureKind, Costume, Counted, Pattern, Quantity, Refusal, RefusalKind, Run, Seam, SeamMake, SeamTape, limits};
use std::collections::HashSet;

pub(super) fn check(costume: &Costume) -> Checked {
    let mut tags = HashSet::new();
    for seam in &costume.seams {
        let item = format!("seam {}", seam.tag);
        name(&item, &seam.tag)?;
        if !tags.insert(&seam.tag) {
            return Err(Refusal::of(&item, RefusalKind::TagTwice));
        }
        seam.fold.map_or(Ok(()), |fold| within(&item, Quantity::PressedAngle, fold, &limits::FOLD))?;
        seam.closure.map_or(Ok(()), |closure| of_closure(&item, &closure))?;
        make(&item, &seam.make)?;
        side(costume, seam, &seam.a)?;
        side(costume, seam, &seam.b)?;
        apart(costume, seam)?;
    }
    Ok(())
}

fn of_closure(item: &str, closure: &Closure) -> Checked {
    within(item, Quantity::OpenShare, closure.open, &(0.0..=1.0))?;
    match closure.by {
        ClosureKind::Buttons { count } => within(item, Quantity::Buttons, f64::from(count), &limits::BUTTONS),
        _ => Ok(()),
    }
}

/// How a seam is made is within what can be sewn.
fn make(item: &str, make: &SeamMake) -> Checked {
    let given = |of: Quantity, value: Option<f64>, range| value.map_or(Ok(()), |v| within(item, of, v, range));
    given(Quantity::Press, make.press, &limits::PRESS)?;
    given(Quantity::Gather, make.gather, &limits::GATHER)?;
    given(Quantity::Lap, make.lap, &limits::LAP)?;
    given(Quantity::LacingWidth, make.lacing.map(|l| l.width), &limits::LACING)?;
    given(Quantity::Steps, make.lacing.map(|l| f64::from(l.steps)), &limits::STEPS)?;
    given(Quantity::Rows, make.top_stitch.map(|t| f64::from(t.rows)), &limits::ROWS)?;
    given(Quantity::Stitch, make.top_stitch.map(|t| t.distance), &limits::STITCH)?;
    given(Quantity::Stitch, make.top_stitch.map(|t| t.length), &limits::STITCH)?;
    match make.tape {
        Some(SeamTape::Elastic { length }) => within(item, Quantity::Elastic, length, &limits::ELASTIC),
        _ => Ok(()),
    }
}

fn side(costume: &Costume, seam: &Seam, side: &[Run]) -> Checked {
    let item = format!("seam {}", seam.tag);
    at_most(&item, Counted::Runs, side.len(), limits::RUNS)?;
    if side.is_empty() {
        return Err(Refusal::of(item, RefusalKind::EmptySide));
    }
    for run in side {
        let exists = costume.drawing(run.piece).is_some_and(|(d, _)| d.line(run.line).is_some());
        if !exists {
            return Err(Refusal::of(item, RefusalKind::RunNowhere));
        }
        if ![run.from, run.to].iter().all(|s| (0.0..=1.0).contains(s)) {
            return Err(Refusal::of(item, RefusalKind::RunBeyond));
        }
        let on_fold = costume.piece(costume.owner(run.piece)).and_then(|p| p.cut.on_fold);
        if on_fold == Some(run.line) {
            return Err(Refusal::of(item, RefusalKind::SewsTheFold));
        }
    }
    Ok(())
}

/// No stretch is in one seam twice.
fn apart(costume: &Costume, seam: &Seam) -> Checked {
    let runs: Vec<&Run> = seam.runs().collect();
    for (k, a) in runs.iter().enumerate() {
        for b in &runs[..k] {
            let (s, t) = (a.span(), b.span());
            if (a.piece, a.line) == (b.piece, b.line) && s[0] < t[1] - 1e-9 && t[0] < s[1] - 1e-9 {
                let item = costume.line_name(a.piece, a.line);
                return Err(Refusal::of(item, RefusalKind::SewnToItself { whole: s == t && s == [0.0, 1.0] }));
            }
        }
    }
    Ok(())
}

/// Every run has a length.
pub(super) fn lengths(costume: &Costume, pattern: &Pattern) -> Checked {
    for seam in &pattern.seams {
        for run in seam.a.iter().chain(&seam.b) {
            let piece = &pattern.pieces[run.piece];
            let line = &piece.lines[run.line];
            if line.length * (run.to - run.from).abs() < limits::EDGE {
                let item = format!("seam {}, {}", seam.tag, costume.line_name(piece.id, line.id));
                return Err(Refusal::of(item, RefusalKind::RunTooShort { shortest: limits::EDGE }));
            }
        }
    }
    Ok(())
}
