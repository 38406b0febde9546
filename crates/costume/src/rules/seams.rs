//! What seams must obey: their runs exist, have a length, and do not sew a stretch to itself.

use super::{Checked, at_most, name};
use crate::{Costume, Pattern, Refusal, Run, Seam, limits};
use std::collections::HashSet;

pub(super) fn check(costume: &Costume) -> Checked {
    let mut tags = HashSet::new();
    for seam in &costume.seams {
        let item = format!("seam {}", seam.tag);
        name(&item, &seam.tag)?;
        if !tags.insert(&seam.tag) {
            return Err(Refusal::new(&item, "its tag is used twice", "give every seam a tag of its own"));
        }
        if let Some(fold) = seam.fold.filter(|fold| !limits::FOLD.contains(fold)) {
            let (low, high) = (limits::FOLD.start(), limits::FOLD.end());
            return Err(Refusal::new(&item, format!("cannot be pressed to {fold}°"), format!("give it an angle from {low} to {high}°")));
        }
        if let Some(closure) = seam.closure.filter(|c| !(0.0..=1.0).contains(&c.open)) {
            let reason = format!("cannot be open over {} of its length", closure.open);
            return Err(Refusal::new(&item, reason, "give it a share from 0 to 1"));
        }
        side(costume, seam, &seam.a)?;
        side(costume, seam, &seam.b)?;
        apart(costume, seam)?;
    }
    Ok(())
}

fn side(costume: &Costume, seam: &Seam, side: &[Run]) -> Checked {
    let item = format!("seam {}", seam.tag);
    at_most(&item, "edges on a side", side.len(), limits::RUNS)?;
    if side.is_empty() {
        return Err(Refusal::new(item, "has an empty side", "join two edges"));
    }
    for run in side {
        let exists = costume.drawing(run.piece).is_some_and(|(d, _)| d.line(run.line).is_some());
        if !exists {
            return Err(Refusal::new(item, "refers to an edge that does not exist", "unpick it and join again"));
        }
        if ![run.from, run.to].iter().all(|s| (0.0..=1.0).contains(s)) {
            return Err(Refusal::new(item, "goes beyond the ends of an edge", "give shares of its length from 0 to 1"));
        }
        let on_fold = costume.piece(costume.owner(run.piece)).and_then(|p| p.cut.on_fold);
        if on_fold == Some(run.line) {
            return Err(Refusal::new(item, "would sew the fold that a piece is cut on", "choose another edge, or take it off the fold"));
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
                return Err(Refusal::new(item, "an edge cannot be sewn to itself", "choose another stretch as its partner"));
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
                return Err(Refusal::new(item, "would have no length", format!("sew at least {} mm of an edge", limits::EDGE)));
            }
        }
    }
    Ok(())
}
