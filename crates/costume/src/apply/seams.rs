//! Edits of seams.

use super::{fresh, missing};
use crate::curve::line_curve;
use crate::{Costume, Edit, LineRef, Refusal, RefusalKind, Run, Seam, SeamId, Thing};
use kurbo::{ParamCurve, Vec2};

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::Join { a, b } => {
            if a == b {
                let name = costume.line_name(a.piece, a.line);
                return Err(Refusal::of(name, RefusalKind::SewnToItself { whole: true }));
            }
            let run = Run::whole(b.piece, b.line);
            let b = if runs_against(costume, *a, *b) { run.turned() } else { run };
            sew(costume, vec![Run::whole(a.piece, a.line)], vec![b]);
        }
        Edit::Sew { a, b } => sew(costume, a.clone(), b.clone()),
        Edit::FlipSeam { seam } => {
            let side = &mut find(costume, *seam)?.b;
            *side = side.iter().rev().map(|r| r.turned()).collect();
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
    costume.seams.push(Seam { id, tag, a, b, fold: None, closure: None, ease: Default::default() });
}

/// Whether the second line is walked against its direction so that the seam does not twist. Outlines and cut-outs have the
/// cloth on their left, so two of them meet when they run against each other; a line inside is met the way it lies.
fn runs_against(costume: &Costume, a: LineRef, b: LineRef) -> bool {
    let placed = |r: LineRef| {
        let (drawing, mirrored) = costume.drawing(r.piece)?;
        let edge = drawing.loops().any(|l| l.contains(&r.line));
        let curve = line_curve(drawing, drawing.line(r.line)?)?;
        let chord: Vec2 = curve.end() - curve.start();
        let chord = if mirrored { Vec2::new(-chord.x, chord.y) } else { chord };
        let turn = costume.piece(r.piece)?.angle.to_radians();
        let chord = Vec2::new(chord.x * turn.cos() - chord.y * turn.sin(), chord.x * turn.sin() + chord.y * turn.cos());
        Some((edge, mirrored, chord))
    };
    match (placed(a), placed(b)) {
        (Some((true, m, _)), Some((true, n, _))) => m == n,
        (Some((_, _, c)), Some((_, _, d))) => c.dot(d) < 0.0,
        _ => true,
    }
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
