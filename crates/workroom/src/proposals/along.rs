//! What is sewn along the edge of several pieces at once: a waistband around a skirt, a stand around a neck, a sleeve into its
//! armhole; and the ends of such a band, which are closed when what it goes along is.

use super::chains::{Row, rows};
use super::proposal::{Proposal, side_name};
use super::stretch::{SAMPLES, in_words};
use super::{LEAD, SURE};
use crate::ContactBody;
use costume::{Costume, Edit, Pattern};
use glam::DVec3;

/// What is eased at most, and what is gathered.
const EASED: f64 = 1.1;
const GATHERED: f64 = 2.5;
/// Shares of two sides that are one place.
const MEET: f64 = 0.03;

/// A row, how long it is, and where it hangs.
struct Side {
    row: Row,
    length: f64,
    hangs: Option<[[DVec3; 2]; SAMPLES]>,
    chain: usize,
}

/// Two sides that fit: what it costs, which they are, and what speaks for them.
struct Fit {
    cost: f64,
    sides: (usize, usize),
    reasons: Vec<String>,
}

/// The surest seam of a row over several pieces, or the ends of a band that is sewn around already.
pub(super) fn along_edges(
    costume: &Costume,
    pattern: &Pattern,
    form: &ContactBody,
    holes: &[[Vec<(usize, usize)>; 2]],
) -> Option<Proposal> {
    let chains = rows(pattern);
    let sides: Vec<Side> = chains
        .iter()
        .enumerate()
        .flat_map(|(chain, row)| row.parts().into_iter().map(move |row| (chain, row)))
        .map(|(chain, row)| Side { length: row.length(pattern), hangs: row.hangs(pattern, form), chain, row })
        .collect();
    let mut fits: Vec<Fit> = Vec::new();
    for (i, a) in sides.iter().enumerate() {
        for (j, b) in sides.iter().enumerate().skip(i + 1) {
            let over_several = a.row.pieces().max(b.row.pieces()) > 1 || a.row.closed || b.row.closed;
            if over_several
                && (a.row.whole || b.row.whole)
                && let Some((cost, reasons)) = fit(pattern, a, b, holes)
            {
                fits.push(Fit { cost, sides: (i, j), reasons });
            }
        }
    }
    fits.sort_by(|a, b| a.cost.total_cmp(&b.cost));
    let share = |i: usize, j: usize| sides[i].row.lines.iter().any(|l| sides[j].row.lines.contains(l));
    for fit in fits.iter().take_while(|f| f.cost < SURE) {
        let (i, j) = fit.sides;
        let rival = fits.iter().find(|f| {
            let (k, l) = f.sides;
            let (ik, jl, il, jk) = (share(i, k), share(j, l), share(i, l), share(j, k));
            (ik || jl || il || jk) && !((ik && jl) || (il && jk))
        });
        if rival.is_some_and(|r| r.cost - fit.cost < LEAD) {
            continue;
        }
        let (a, b) = (&sides[i], &sides[j]);
        let (a_runs, b_runs) = (a.row.runs(pattern, false), b.row.runs(pattern, true));
        if costume::apply_on(costume, pattern, &Edit::Sew { a: a_runs.clone(), b: b_runs.clone() }).is_ok() {
            return Some(Proposal {
                a_name: side_name(costume, &a_runs),
                b_name: side_name(costume, &b_runs),
                a: a_runs,
                b: b_runs,
                a_length: a.length,
                b_length: b.length,
                sure: true,
                cost: fit.cost,
                reasons: fit.reasons.clone(),
            });
        }
    }
    None
}

/// The two ends of a band, or of a sleeve, whose edge is sewn around something closed: they meet there.
pub(super) fn closed_ends(costume: &Costume, pattern: &Pattern) -> Option<Proposal> {
    let joints = costume::Joined::new(pattern);
    let sewn = |p: usize, l: usize| pattern.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)).any(|r| (r.piece, r.line) == (p, l));
    // a corner that another piece has a part in: the legs of a dart close nothing
    let is_others = |p: usize, class: usize| {
        let has =
            |(q, piece): (usize, &costume::PatternPiece)| q != p && piece.lines.iter().any(|l| joints.class((q, l.from)) == Some(class));
        pattern.pieces.iter().enumerate().any(has)
    };
    for (p, piece) in pattern.pieces.iter().enumerate().filter(|(_, p)| !p.parked && p.twin_of.is_none()) {
        let free: Vec<usize> = piece.outline.iter().copied().filter(|&l| !piece.lines[l].image && !sewn(p, l)).collect();
        for &u in &free {
            let meets = |v: &usize| {
                let (a, b) = (&piece.lines[u], &piece.lines[*v]);
                let one = joints.class((p, a.to)).is_some_and(|c| joints.class((p, b.from)) == Some(c) && is_others(p, c));
                *v != u && a.to != b.from && a.from != b.to && one && (a.length - b.length).abs() < 0.005 * a.length
            };
            let Some(&v) = free.iter().find(|v| meets(v)) else { continue };
            let side = |l: usize, back: bool| Row { lines: vec![(p, l)], closed: false, whole: true }.runs(pattern, back);
            let (a, b) = (side(u, false), side(v, true));
            if costume::apply_on(costume, pattern, &Edit::Sew { a: a.clone(), b: b.clone() }).is_ok() {
                let reasons = vec!["one length".into(), "what it is sewn to is closed".into()];
                let length = piece.lines[u].length;
                let (a_name, b_name) = (side_name(costume, &a), side_name(costume, &b));
                return Some(Proposal { a, b, a_name, b_name, a_length: length, b_length: length, sure: true, cost: 0.05, reasons });
            }
        }
    }
    None
}

/// How badly two rows fit; none when they cannot be sewn.
fn fit(pattern: &Pattern, a: &Side, b: &Side, holes: &[[Vec<(usize, usize)>; 2]]) -> Option<(f64, Vec<String>)> {
    if a.chain == b.chain || a.row.lines.iter().any(|(p, _)| b.row.lines.iter().any(|(q, _)| p == q)) {
        return None;
    }
    // the same edge of a piece and its twin: only single edges meet at the middle
    let image = |&(p, l): &(usize, usize), &(q, m): &(usize, usize)| {
        let (one, other) = (&pattern.pieces[p], &pattern.pieces[q]);
        (one.twin_of == Some(other.id) || other.twin_of == Some(one.id)) && one.lines[l].id == other.lines[m].id
    };
    if a.row.lines.iter().any(|l| b.row.lines.iter().any(|m| image(l, m))) {
        return None;
    }
    let within = |s: &Side, side: &[(usize, usize)]| s.row.lines.iter().any(|l| side.contains(l));
    if holes.iter().any(|[p, q]| (within(a, p) && within(b, q)) || (within(a, q) && within(b, p))) {
        return None;
    }
    let (long, short) = (a.length.max(b.length), a.length.min(b.length));
    let ratio = long / short;
    // what is gathered goes the whole way round, so that nothing is left out
    let around = (a.row.closed && b.row.whole) || (b.row.closed && a.row.whole);
    let most = if around { GATHERED } else { EASED };
    if ratio > most || short < 60.0 {
        return None;
    }
    let mut reasons = vec![in_words(ratio)];
    let mut cost = match ratio {
        r if r <= 1.005 => 0.0,
        r if r <= EASED => 2.0 * (r - 1.0),
        r => 0.2 + 0.2 * r.ln(),
    };
    match (a.hangs, b.hangs) {
        (Some(p), Some(q)) => {
            let mean =
                |f: &dyn Fn([DVec3; 2], [DVec3; 2]) -> f64| (0..SAMPLES).map(|k| f(p[k], q[SAMPLES - 1 - k])).sum::<f64>() / SAMPLES as f64;
            let apart = mean(&|p, q| p[0].distance(q[0]));
            let mirrored = mean(&|p, q| (p[0] * DVec3::new(-1.0, 1.0, 1.0)).distance(q[0]));
            if mirrored < 0.02 && apart > 0.12 {
                return None;
            }
            // what runs down the middle is where garments open
            let middle = |h: &[[DVec3; 2]; SAMPLES]| {
                let way = h[SAMPLES - 1][0] - h[0][0];
                h.iter().all(|h| h[0].x.abs() < 0.1) && way.y.abs() > 0.8 * way.length() && way.length() > 0.1
            };
            if middle(&p) && middle(&q) {
                return None;
            }
            // a front is not sewn along a back
            let opposite = |p: DVec3, q: DVec3| p.with_y(0.0).normalize_or_zero().dot(q.with_y(0.0).normalize_or_zero()) < -0.3;
            if mean(&|p, q| f64::from(u8::from(opposite(p[0], q[0])))) > 0.3 {
                return None;
            }
            cost += 0.4 * (apart / (0.0002 * long + 0.2)).min(4.0);
            if mean(&|p, q| p[1].dot(q[1])) > 0.3 {
                cost += 0.3;
            }
        }
        _ => cost += 0.25,
    }
    // where pieces of one meet, the other has a notch or a corner
    let marks = |s: &Side| -> Vec<f64> { s.row.joints(pattern).iter().map(|j| j.0).chain(s.row.notches(pattern)).collect() };
    let (on_a, on_b) = (marks(a), marks(b));
    let inner: Vec<bool> = [(a, &on_b), (b, &on_a)]
        .into_iter()
        .flat_map(|(s, other)| {
            s.row
                .joints(pattern)
                .into_iter()
                .filter(|j| j.1)
                .map(|j| other.iter().any(|o| (1.0 - o - j.0).abs() < MEET))
                .collect::<Vec<_>>()
        })
        .collect();
    if !inner.is_empty() && inner.iter().all(|m| *m) {
        cost -= 0.12;
        reasons.push("seams that meet a notch or a corner".into());
    }
    let edges = a.row.lines.len().max(b.row.lines.len());
    if edges > 1 {
        reasons.push(format!("{edges} edges in a row"));
    }
    Some((cost.max(0.0), reasons))
}
