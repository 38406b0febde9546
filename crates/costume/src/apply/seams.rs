//! Edits of seams.

use super::{fresh, missing};
use crate::{Costume, Edit, Refusal, RefusalKind, Run, Seam, SeamId, Thing, limits, resolve, sewing};

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::Join { a, b } => {
            let [a, b] = [a, b].map(|l| vec![Run::whole(l.piece, l.line)]);
            let (a, b) = sewing::together(costume, &resolve(costume), &a, &b);
            sew(costume, a, b);
        }
        Edit::Sew { a, b } => sew(costume, a.clone(), b.clone()),
        Edit::SewTogether { a, b } => {
            let (a, b) = sewing::together(costume, &resolve(costume), a, b);
            sew(costume, a, b);
        }
        Edit::SewParts { a, b } => sew_parts(costume, a, b)?,
        Edit::SewAnew { seam, a, b } => {
            let seam = find(costume, *seam)?;
            (seam.a, seam.b) = (a.clone(), b.clone());
        }
        Edit::MakeSeam { seam, make } => find(costume, *seam)?.make = *make,
        Edit::FlipSeam { seam } => {
            let side = &mut find(costume, *seam)?.b;
            *side = sewing::turned(side);
        }
        Edit::Unpick { seam } => {
            find(costume, *seam)?;
            costume.seams.retain(|s| s.id != *seam);
        }
        Edit::FoldSeam { seam, fold } => find(costume, *seam)?.fold = *fold,
        Edit::CloseSeam { seam, closure } => find(costume, *seam)?.closure = *closure,
        Edit::EaseSeam { seam, ease } => find(costume, *seam)?.ease = *ease,
        _ => {}
    }
    Ok(())
}

fn find(costume: &mut Costume, id: SeamId) -> Result<&mut Seam, Refusal> {
    costume.seams.iter_mut().find(|s| s.id == id).ok_or_else(|| missing(Thing::Seam))
}

pub(super) fn sew(costume: &mut Costume, a: Vec<Run>, b: Vec<Run>) {
    let id = SeamId(fresh(costume));
    let tag = free_tag(costume);
    costume.seams.push(Seam { id, tag, a, b, fold: None, closure: None, ease: Default::default(), make: Default::default() });
}

/// One seam for each stretch of side b, sewn to an equal part of side a.
fn sew_parts(costume: &mut Costume, a: &[Run], b: &[Run]) -> Result<(), Refusal> {
    let pattern = resolve(costume);
    let parts = b.len();
    let Some(first) = a.first().filter(|_| parts > 0 && parts <= limits::RUNS) else {
        return Err(Refusal::of("seam", RefusalKind::NoParts));
    };
    let (a, b) = sewing::together(costume, &pattern, a, b);
    let length = |r: &Run| {
        let line = pattern.piece(r.piece).and_then(|p| Some(p.lines[p.line(r.line)?].length));
        line.unwrap_or_default() * (r.to - r.from).abs()
    };
    let whole: f64 = a.iter().map(length).sum();
    if whole <= 0.0 {
        return Err(Refusal::of(costume.line_name(first.piece, first.line), RefusalKind::RunNowhere));
    }
    for (k, run) in b.iter().enumerate() {
        let [from, to] = [k, k + 1].map(|n| whole * n as f64 / parts as f64);
        sew(costume, stretch(&a, &length, from, to), vec![*run]);
    }
    Ok(())
}

/// The part of a side between two lengths from its beginning.
fn stretch(side: &[Run], length: &impl Fn(&Run) -> f64, from: f64, to: f64) -> Vec<Run> {
    let mut reached = 0.0;
    let mut found = Vec::new();
    for run in side {
        let long = length(run);
        let share = |at: f64| {
            let along = ((at - reached) / long).clamp(0.0, 1.0);
            run.from + (run.to - run.from) * along
        };
        if reached < to - 1e-6 && reached + long > from + 1e-6 {
            found.push(Run { from: share(from), to: share(to), ..*run });
        }
        reached += long;
    }
    found
}

/// A to Z, then AA, AB ...
pub(super) fn free_tag(costume: &Costume) -> String {
    let tag = |mut n: usize| {
        let mut text = String::new();
        loop {
            text.insert(0, char::from(b'A' + (n % 26) as u8));
            if n < 26 {
                return text;
            }
            n = n / 26 - 1;
        }
    };
    (0..).map(tag).find(|t| costume.seams.iter().all(|s| s.tag != *t)).unwrap_or_default()
}
