//! What is the matter with seams, alone and together, each with what mends it; and what is refused when a seam is sewn.

use super::joints::{Joints, half_twists, node_at};
use super::judge::{SeamKind, judge};
use crate::diagnostics::finding::{DiagnosticKind, Mend, MendKind};
use crate::{Costume, Ease, Edit, LineEnd, LineId, LineRef, PaintKind, Pattern, PatternPiece, PatternRun, PatternSeam, Piece, PieceId};
use crate::{Refusal, RefusalKind, Run, Seam, limits};

/// Stretches of a line between two seams that are left open by less than this are meant to meet, mm.
const MISSED: f64 = 60.0;
/// They meet within this, mm.
const MET: f64 = 0.5;
/// Free edges of one piece that differ by less are the two that close it, as a share of their length.
const ALIKE: f64 = 0.02;

type Found = Vec<(DiagnosticKind, Vec<Mend>)>;

/// All of it; seams with a parked piece are told as such and nothing else.
pub(crate) fn findings(costume: &Costume, pattern: &Pattern) -> Found {
    let mut found = Found::new();
    for seam in pattern.seams.iter().filter(|s| !s.image) {
        if seam.a.iter().chain(&seam.b).any(|r| pattern.pieces[r.piece].parked) {
            found.push((DiagnosticKind::ParkedSeam { seam: seam.id }, Vec::new()));
        } else {
            found.extend(uneven(costume, pattern, seam));
        }
    }
    let flip = |seam| Mend::new(MendKind::TurnRound, Edit::FlipSeam { seam });
    let twisted = half_twists(pattern).into_iter().map(|s| &pattern.seams[s]).filter(|s| !s.image);
    found.extend(twisted.map(|s| (DiagnosticKind::HalfTwist { seam: s.id }, vec![flip(s.id)])));
    found.extend(sewn_twice(costume));
    found.extend(crossed(costume));
    found.extend(corners_apart(costume, pattern));
    found.extend(twins_open(costume, pattern));
    found.extend(open_tubes(costume, pattern));
    found.extend(held_by_nothing(pattern));
    found
}

/// Sides that differ by more than the cloth can take up without being seen.
fn uneven(costume: &Costume, pattern: &Pattern, seam: &PatternSeam) -> Option<(DiagnosticKind, Vec<Mend>)> {
    let judged = judge(costume, pattern, seam);
    if judged.good {
        return None;
    }
    let kind = DiagnosticKind::Uneven {
        seam: seam.id,
        difference: judged.difference(),
        gathered: judged.kind == SeamKind::Gathered,
        ratio: judged.ratio,
        meant: seam.make.gather,
    };
    let mut mends = Vec::new();
    if judged.ratio <= limits::RATIO {
        let make = crate::SeamMake { gather: Some((judged.ratio * 100.0).round() / 100.0), ..seam.make };
        let name = if judged.kind == SeamKind::Gathered { MendKind::Meant } else { MendKind::EaseIn };
        mends.push(Mend::new(name, Edit::MakeSeam { seam: seam.id, make }));
    }
    mends.extend(trimmed(pattern, seam, judged.difference()));
    if seam.notches.is_empty() && judged.kind == SeamKind::Eased {
        let notch = Edit::AddSeamNotch { seam: seam.id, at: 0.5 * judged.a, double: false };
        let edits = vec![notch, Edit::EaseSeam { seam: seam.id, ease: Ease::BetweenNotches }];
        mends.push(Mend::new(MendKind::AddNotch, Edit::Batch { edits }));
    }
    Some((kind, mends))
}

/// The longer side made as long as the other, by its last line.
fn trimmed(pattern: &Pattern, seam: &PatternSeam, difference: f64) -> Option<Mend> {
    let side = if difference > 0.0 { &seam.b } else { &seam.a };
    let run = side.last()?;
    let piece = &pattern.pieces[run.piece];
    let line = &piece.lines[run.line];
    let length = line.length - difference.abs() / (run.to - run.from).abs();
    if line.image || length < 0.5 * line.length {
        return None;
    }
    // its end in walking order moves; lines of twins run the other way in the document
    let moves = if (run.to > run.from) != line.turned { LineEnd::To } else { LineEnd::From };
    Some(Mend::new(MendKind::Trim, Edit::SetLength { piece: piece.id, line: line.id, length, moves }))
}

/// Whether two runs are over the same stretch, at least in part.
fn overlap(a: &Run, b: &Run) -> bool {
    let (s, t) = (a.span(), b.span());
    (a.piece, a.line) == (b.piece, b.line) && s[0] < t[1] - 1e-6 && t[0] < s[1] - 1e-6
}

/// Whether two seams sew the same stretches to each other.
fn sew_the_same(a: &Seam, b: &Seam) -> bool {
    let meet = |x: &[Run], y: &[Run]| x.iter().any(|r| y.iter().any(|s| overlap(r, s)));
    let pair = |x: &Seam, y: &Seam| {
        // of several runs on each side some may be shared by chance; the sides as a whole must be
        meet(&x.a, &y.a) && meet(&x.b, &y.b)
    };
    let turned = Seam { a: b.b.clone(), b: b.a.clone(), ..b.clone() };
    let single = a.a.len() == 1 && a.b.len() == 1 && b.a.len() == 1 && b.b.len() == 1;
    let equal = |x: &Seam, y: &Seam| x.a == y.a && x.b == y.b;
    if single { pair(a, b) || pair(a, &turned) } else { equal(a, b) || equal(a, &turned) }
}

fn sewn_twice(costume: &Costume) -> Found {
    let twice = |(k, seam): (usize, &Seam)| {
        let other = costume.seams[..k].iter().find(|s| sew_the_same(s, seam))?;
        let unpick = Mend::new(MendKind::Unpick, Edit::Unpick { seam: seam.id });
        Some((DiagnosticKind::SewnTwice { seam: seam.id, other: other.tag.clone() }, vec![unpick]))
    };
    costume.seams.iter().enumerate().filter_map(twice).collect()
}

/// Two seams between the same two lines whose threads cross.
fn crossed(costume: &Costume) -> Found {
    let single = |s: &Seam| if let ([a], [b]) = (s.a.as_slice(), s.b.as_slice()) { Some((*a, *b)) } else { None };
    let middle = |r: &Run| 0.5 * (r.from + r.to);
    let mut found = Found::new();
    for (k, one) in costume.seams.iter().enumerate() {
        let Some((a, b)) = single(one) else { continue };
        for two in &costume.seams[..k] {
            let Some((mut c, mut d)) = single(two) else { continue };
            if (c.piece, c.line) == (b.piece, b.line) {
                (c, d) = (d, c);
            }
            let same = (a.piece, a.line) == (c.piece, c.line) && (b.piece, b.line) == (d.piece, d.line);
            if !same || (a.piece, a.line) == (b.piece, b.line) || sew_the_same(one, two) {
                continue;
            }
            let against = a.is_backwards() != b.is_backwards();
            let rises = (middle(&a) < middle(&c)) == (middle(&b) < middle(&d));
            if against == rises {
                let edits =
                    vec![Edit::SewAnew { seam: one.id, a: vec![a], b: vec![d] }, Edit::SewAnew { seam: two.id, a: vec![c], b: vec![b] }];
                let mend = Mend::new(MendKind::Exchange, Edit::Batch { edits });
                found.push((DiagnosticKind::Crossed { seam: one.id, other: two.tag.clone() }, vec![mend]));
            }
        }
    }
    found
}

/// Where the stretch of a run lies on its line, ascending, and which of its ends (in walking order) each is.
fn spread(run: &PatternRun) -> ([f64; 2], [usize; 2]) {
    if run.from < run.to { ([run.from, run.to], [0, 1]) } else { ([run.to, run.from], [1, 0]) }
}

/// Two seams on one line that leave a little of it open between them, or overlap, where their other sides meet.
fn corners_apart(costume: &Costume, pattern: &Pattern) -> Found {
    let joints = Joints::new(pattern);
    let mut found = Found::new();
    // single runs of a side with the run opposite
    let sides = pattern.seams.iter().enumerate().filter(|(_, s)| !s.image).flat_map(|(k, s)| {
        if let ([a], [b]) = (s.a.as_slice(), s.b.as_slice()) { vec![(k, *a, *b, true), (k, *b, *a, false)] } else { Vec::new() }
    });
    let sides: Vec<(usize, PatternRun, PatternRun, bool)> = sides.collect();
    for (k, one, across, is_a) in &sides {
        for (j, two, other, _) in &sides {
            if j == k || (one.piece, one.line) != (two.piece, two.line) {
                continue;
            }
            let ((s, ends), (t, beginnings)) = (spread(one), spread(two));
            let length = pattern.pieces[one.piece].lines[one.line].length;
            let apart = (t[0] - s[1]) * length;
            // `one` lies before `two`
            if s[0] >= t[0] || apart.abs() > MISSED || apart.abs() < MET {
                continue;
            }
            let meet = node_at(pattern, across, ends[1]).zip(node_at(pattern, other, beginnings[0]));
            if !meet.is_some_and(|(m, n)| joints.are_one(m, n)) {
                continue;
            }
            let (seam, next) = (&pattern.seams[*k], &pattern.seams[*j]);
            let Some(doc) = costume.seam(seam.id) else { continue };
            let mend = extended(doc, *is_a, s[1], t[0]).map(|edit| Mend::new(MendKind::Meet, edit));
            let kind = DiagnosticKind::CornersApart { seam: seam.id, other: next.tag.clone(), apart };
            found.push((kind, mend.into_iter().collect()));
        }
    }
    found
}

/// A seam whose single run ends at `to` where it ended at `from`, shares in the direction of the pattern.
fn extended(seam: &Seam, is_a: bool, from: f64, to: f64) -> Option<Edit> {
    let (mut a, mut b) = (seam.a.clone(), seam.b.clone());
    let run = if is_a { a.first_mut()? } else { b.first_mut()? };
    let same = |x: f64, y: f64| (x - y).abs() < 1e-6;
    let (old, new) = [(from, to), (1.0 - from, 1.0 - to)].into_iter().find(|(old, _)| same(run.from, *old) || same(run.to, *old))?;
    let end = if same(run.from, old) { &mut run.from } else { &mut run.to };
    *end = new;
    Some(Edit::SewAnew { seam: seam.id, a, b })
}

/// Edges that are sewn on a piece and open on its twin, because what they are sewn to has no twin.
fn twins_open(costume: &Costume, pattern: &Pattern) -> Found {
    let mut found = Found::new();
    let sewn = |piece: PieceId, line: LineId| {
        pattern.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)).any(|r| {
            let p = &pattern.pieces[r.piece];
            p.id == piece && p.lines[r.line].id == line
        })
    };
    for seam in &costume.seams {
        for run in seam.runs() {
            let partner = costume.pieces.iter().find(|p| p.twin_of() == Some(run.piece)).map(|p| p.id);
            let other = costume.piece(run.piece).and_then(Piece::twin_of).or(partner);
            let Some(twin) = other.filter(|t| !sewn(*t, run.line)) else { continue };
            if costume.piece(twin).is_some_and(|p| p.parked) || found.iter().any(|(k, _)| is_open_twin(k, twin, run.line)) {
                continue;
            }
            found.push((DiagnosticKind::TwinOpen { piece: twin, line: run.line, seam: seam.tag.clone() }, Vec::new()));
        }
    }
    found
}

fn is_open_twin(kind: &DiagnosticKind, twin: PieceId, on: LineId) -> bool {
    matches!(kind, DiagnosticKind::TwinOpen { piece, line, .. } if *piece == twin && *line == on)
}

/// Pieces around a limb that are sewn to others and not closed into a tube.
fn open_tubes(costume: &Costume, pattern: &Pattern) -> Found {
    let sewn = |p: usize, l: usize| pattern.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)).any(|r| r.piece == p && r.line == l);
    let around = |piece: &PatternPiece| {
        let station = piece.placement.as_ref().map_or("", |at| at.station.as_str());
        ["upper-arm", "forearm", "wrist", "thigh", "knee", "calf", "ankle"].iter().any(|limb| station.starts_with(limb))
    };
    let mut found = Found::new();
    for (p, piece) in pattern.pieces.iter().enumerate().filter(|(_, p)| !p.parked && p.twin_of.is_none() && around(p)) {
        let free: Vec<usize> = piece.outline.iter().copied().filter(|&l| !sewn(p, l)).collect();
        if free.len() == piece.outline.len() || costume.piece(piece.id).is_some_and(|p| p.cut.on_fold.is_some()) {
            continue;
        }
        let chord = |l: usize| {
            let curve = &piece.lines[l].curve;
            kurbo::ParamCurve::end(curve) - kurbo::ParamCurve::start(curve)
        };
        let closes = |a: usize, b: usize| {
            let (c, d) = (chord(a), chord(b));
            let (m, n) = (piece.lines[a].length, piece.lines[b].length);
            (m - n).abs() < ALIKE * m.max(n) && c.dot(d) < -0.7 * c.hypot() * d.hypot() && c.y.abs() > 0.7 * c.hypot()
        };
        let pair = free.iter().enumerate().find_map(|(k, &a)| free[k + 1..].iter().find(|&&b| closes(a, b)).map(|&b| (a, b)));
        if let Some((a, b)) = pair {
            let line = |l: usize| LineRef { piece: piece.id, line: piece.lines[l].id };
            let mend = Mend::new(MendKind::Join, Edit::Join { a: line(a), b: line(b) });
            found.push((DiagnosticKind::OpenTube { piece: piece.id }, vec![mend]));
        }
    }
    found
}

/// Pieces that hang and that nothing holds; where nothing is sewn yet there is nothing to say.
fn held_by_nothing(pattern: &Pattern) -> Found {
    let sewn = |p: usize| pattern.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)).any(|r| r.piece == p);
    let held = |p: &PatternPiece| p.along.iter().any(|a| a.finish.holds()) || p.painted(PaintKind::Skin).is_some();
    let loose = |(k, p): (usize, &PatternPiece)| (!p.parked && p.placement.is_some() && !sewn(k) && !held(p)).then_some(p.id);
    let all = pattern.pieces.iter().enumerate().filter(|_| !pattern.seams.is_empty()).filter_map(loose);
    all.map(|piece| (DiagnosticKind::HeldByNothing { piece }, Vec::new())).collect()
}

/// Why seams that an edit sews, or sews anew, cannot be sewn as they are.
pub(crate) fn refuse(before: &Costume, costume: &Costume, pattern: &Pattern, edit: &Edit) -> Result<(), Refusal> {
    if !sews(edit) {
        return Ok(());
    }
    let twisted = half_twists(pattern);
    for (k, seam) in pattern.seams.iter().enumerate().filter(|(_, s)| !s.image) {
        let Some(doc) = costume.seam(seam.id) else { continue };
        if before.seam(seam.id).is_some_and(|old| old.a == doc.a && old.b == doc.b) {
            continue;
        }
        let item = format!("seam {}", seam.tag);
        let ratio = pattern.seam_lengths(seam).ratio();
        if ratio > limits::RATIO {
            return Err(Refusal::of(item, RefusalKind::Ratio { ratio, most: limits::RATIO }));
        }
        if let Some(other) = costume.seams.iter().find(|s| s.id != doc.id && sew_the_same(s, doc)) {
            return Err(Refusal::of(item, RefusalKind::SewnAlready { tag: other.tag.clone() }));
        }
        let one_piece = seam.a.iter().chain(&seam.b).all(|r| r.piece == seam.a[0].piece);
        if one_piece && twisted.contains(&k) {
            return Err(Refusal::of(item, RefusalKind::HalfTwist));
        }
    }
    Ok(())
}

fn sews(edit: &Edit) -> bool {
    match edit {
        Edit::Batch { edits } => edits.iter().any(sews),
        Edit::Join { .. } | Edit::Sew { .. } | Edit::SewTogether { .. } | Edit::SewParts { .. } | Edit::SewAnew { .. } => true,
        _ => false,
    }
}
