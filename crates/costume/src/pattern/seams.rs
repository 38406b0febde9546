//! Seams of the plain pattern: those of the document, and the images that twins and opened halves ask for.

use super::{PatternPiece, PatternRun, PatternSeam};
use crate::{Costume, Ease, Mark, PieceId, Run, Seam, SeamId};
use std::collections::HashMap;

/// A run of the document on one of its two sides.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Sided {
    run: Run,
    /// On the half that a fold adds.
    image: bool,
}

pub(super) fn resolved(costume: &Costume, pieces: &[PatternPiece]) -> Vec<PatternSeam> {
    let at: HashMap<PieceId, usize> = pieces.iter().enumerate().map(|(i, p)| (p.id, i)).collect();
    let mirror = Mirror::new(costume);
    let mut made = Vec::new();
    for seam in &costume.seams {
        made.extend(plain(seam, pieces, &at, &own(&seam.a), &own(&seam.b), false));
        if let Some((a, b)) = mirror.image(costume, seam) {
            made.extend(plain(seam, pieces, &at, &a, &b, true));
        }
    }
    made
}

/// The images of seams on a twin as the document would write them, each with the seam it is of.
pub(crate) fn images(costume: &Costume, twin: PieceId) -> Vec<(Vec<Run>, Vec<Run>, SeamId)> {
    let mirror = Mirror::new(costume);
    let runs = |side: Vec<Sided>| side.into_iter().map(|s| (!s.image).then_some(s.run)).collect::<Option<Vec<_>>>();
    let made = costume.seams.iter().filter_map(|seam| {
        let (a, b) = mirror.image(costume, seam)?;
        let (a, b) = (runs(a)?, runs(b)?);
        a.iter().chain(&b).any(|r| r.piece == twin).then_some((a, b, seam.id))
    });
    made.collect()
}

/// A side as the document has it.
fn own(side: &[Run]) -> Vec<Sided> {
    side.iter().map(|&run| Sided { run, image: false }).collect()
}

/// What lies where in the mirror.
struct Mirror {
    /// Twin by partner and partner by twin.
    other: HashMap<PieceId, PieceId>,
    /// Pieces cut on the fold.
    folded: Vec<PieceId>,
}

impl Mirror {
    fn new(costume: &Costume) -> Self {
        let mut other = HashMap::new();
        for piece in &costume.pieces {
            if let Some(of) = piece.twin_of() {
                other.insert(piece.id, of);
                other.entry(of).or_insert(piece.id);
            }
        }
        let folded = costume.pieces.iter().filter(|p| p.cut.on_fold.is_some()).map(|p| p.id).collect();
        Self { other, folded }
    }

    /// Both sides of the image of a seam, unless the document sews it already, be it by the seam itself.
    fn image(&self, costume: &Costume, seam: &Seam) -> Option<(Vec<Sided>, Vec<Sided>)> {
        let (a, b) = (self.side(&own(&seam.a))?, self.side(&own(&seam.b))?);
        let is_sewn = costume.seams.iter().any(|s| same(&own(&s.a), &own(&s.b), &a, &b));
        (!is_sewn).then_some((a, b))
    }

    /// The image of a side; none when one of its pieces has none.
    fn side(&self, side: &[Sided]) -> Option<Vec<Sided>> {
        side.iter()
            .map(|s| match self.other.get(&s.run.piece) {
                // twins have the same lines; runs are in the document's direction on both
                Some(&piece) => Some(Sided { run: Run { piece, ..s.run }, image: s.image }),
                None if self.folded.contains(&s.run.piece) => Some(Sided { image: !s.image, ..*s }),
                None => None,
            })
            .collect()
    }
}

/// Whether two seams sew the same, whichever side is called a and whichever way they are walked.
fn same(a: &[Sided], b: &[Sided], c: &[Sided], d: &[Sided]) -> bool {
    let back = |side: &[Sided]| side.iter().rev().map(|s| Sided { run: s.run.turned(), image: s.image }).collect::<Vec<_>>();
    let equal = |a: &[Sided], b: &[Sided], c: &[Sided], d: &[Sided]| (a == c && b == d) || (a == d && b == c);
    equal(a, b, c, d) || equal(a, b, &back(c), &back(d))
}

fn plain(seam: &Seam, pieces: &[PatternPiece], at: &HashMap<PieceId, usize>, a: &[Sided], b: &[Sided], image: bool) -> Option<PatternSeam> {
    let side = |side: &[Sided]| side.iter().map(|s| plain_run(pieces, at, s)).collect::<Option<Vec<_>>>();
    let (a, b) = (side(a)?, side(b)?);
    let notches = if seam.ease == Ease::BetweenNotches { pairs(&shares(pieces, &a), &shares(pieces, &b)) } else { Vec::new() };
    let tag = if image { format!("{}'", seam.tag) } else { seam.tag.clone() };
    Some(PatternSeam { id: seam.id, image, tag, a, b, fold: seam.fold, closure: seam.closure, make: seam.make, notches })
}

fn plain_run(pieces: &[PatternPiece], at: &HashMap<PieceId, usize>, sided: &Sided) -> Option<PatternRun> {
    let piece = *at.get(&sided.run.piece)?;
    let line = pieces[piece].lines.iter().position(|l| l.id == sided.run.line && l.image == sided.image)?;
    let (from, to) = (sided.run.from, sided.run.to);
    let turned = pieces[piece].lines[line].turned;
    let (from, to) = if turned { (1.0 - from, 1.0 - to) } else { (from, to) };
    Some(PatternRun { piece, line, from, to })
}

/// Where notches lie along a side, as shares of its length, ascending, without its ends.
fn shares(pieces: &[PatternPiece], side: &[PatternRun]) -> Vec<f64> {
    let length = |r: &PatternRun| pieces[r.piece].lines[r.line].length * (r.to - r.from).abs();
    let total: f64 = side.iter().map(length).sum();
    let mut reached = 0.0;
    let mut found = Vec::new();
    for run in side {
        for mark in pieces[run.piece].marks.iter().filter(|m| m.line == Some(run.line)) {
            let Mark::Notch { at, .. } = mark.mark else { continue };
            let along = (at - run.from) / (run.to - run.from);
            if (0.0..=1.0).contains(&along) {
                found.push((reached + along * length(run)) / total);
            }
        }
        reached += length(run);
    }
    found.retain(|s| (1e-6..=1.0 - 1e-6).contains(s));
    found.sort_by(f64::total_cmp);
    found
}

/// Notches meet in their order; sides with different numbers of notches are eased evenly.
fn pairs(a: &[f64], b: &[f64]) -> Vec<[f64; 2]> {
    if a.len() == b.len() { a.iter().zip(b).map(|(&a, &b)| [a, b]).collect() } else { Vec::new() }
}
