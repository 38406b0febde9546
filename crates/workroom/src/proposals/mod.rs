//! What a seam could join: likely partners of a stretch by length, notches, place on the body and shape, and a proposal for
//! all that fits in a costume. Nothing is sewn here: each is shown before it is taken.

mod along;
mod bones;
mod chains;
mod marked;
mod proposal;
mod several;
mod stretch;
mod table;

pub use proposal::Proposal;

use crate::ContactBody;
use along::{along_edges, closed_ends};
use costume::{Costume, Edit, Pattern, PieceId, Run, resolve};
use marked::sewn_on;
use proposal::proposal;
use several::over_several;
use stretch::Stretch;
use table::{Table, are_sewn_at};

/// Highest cost of a proposal, and of one that is sure; lead of a sure one over what it keeps from being sewn.
const LIKELY: f64 = 0.9;
const SURE: f64 = 0.45;
const LEAD: f64 = 0.12;

/// The likely partners of a line, best first.
pub fn partners(costume: &Costume, pattern: &Pattern, form: &ContactBody, piece: PieceId, line: costume::LineId) -> Vec<Proposal> {
    let table = Table::new(costume, pattern, form, false);
    let own = |s: &&Stretch| {
        let p = &pattern.pieces[s.piece];
        p.id == piece && s.lines.iter().any(|&l| p.lines[l].id == line)
    };
    let mut found: Vec<Proposal> = Vec::new();
    for a in table.stretches.iter().filter(own) {
        for b in &table.stretches {
            if let Some((cost, reasons)) = table.cost(a, b).filter(|(c, _)| *c < LIKELY + 0.04 * (a.lines.len() - 1) as f64) {
                found.push(proposal(costume, pattern, &table, a, b, cost + 0.04 * (a.lines.len() - 1) as f64, reasons));
            }
        }
    }
    found.sort_by(|a, b| a.cost.total_cmp(&b.cost));
    found.truncate(8);
    found
}

/// All that fits: seams that could be sewn one after the other, the surest first, then those that are only likely.
pub fn what_fits(costume: &Costume, form: &ContactBody) -> Vec<Proposal> {
    let mut scratch = costume.clone();
    let mut found: Vec<Proposal> = Vec::new();
    // edges that go on smoothly are joined as wholes first, then what is left by its parts
    let holes = Table::new(costume, &resolve(costume), form, true).openings();
    for whole in [true, false] {
        // each round sews one seam at least, so that it ends
        for _ in 0..costume::limits::SEAMS {
            let pattern = resolve(&scratch);
            let next = sewn_on(&scratch, &pattern).or_else(|| {
                let table = Table::new(&scratch, &pattern, form, whole).with_holes(&holes);
                // the surest of all ways
                let pair = best(&scratch, &pattern, &table);
                let along = along_edges(&scratch, &pattern, form, &holes);
                let several = over_several(&scratch, &pattern, &table).filter(|q| q.sure);
                [pair, along, several, closed_ends(&scratch, &pattern)].into_iter().flatten().min_by(|p, q| p.cost.total_cmp(&q.cost))
            });
            let Some(next) = next else { break };
            let Ok((sewn, _)) = costume::apply_on(&scratch, &pattern, &Edit::Sew { a: next.a.clone(), b: next.b.clone() }) else { break };
            scratch = sewn;
            found.push(next);
        }
    }
    demote_closed_ends(&scratch, &mut found);
    let pattern = resolve(&scratch);
    found.extend(likely(&scratch, &pattern, &Table::new(&scratch, &pattern, form, true)));
    found
}

/// What was sewn early and turned out to close an opening, once its neighbours were sewn as well, is only likely.
fn demote_closed_ends(scratch: &Costume, found: &mut [Proposal]) {
    for p in found.iter_mut() {
        let mut without = scratch.clone();
        without.seams.retain(|s| s.a != p.a || s.b != p.b);
        let pattern = resolve(&without);
        let ends = |side: &[Run]| {
            let node = |run: &Run, end: bool| {
                let k = pattern.pieces.iter().position(|q| q.id == run.piece)?;
                let piece = &pattern.pieces[k];
                let line = &piece.lines[piece.line(run.line)?];
                Some((k, if (run.to > run.from) == (end != line.turned) { line.to } else { line.from }))
            };
            Some([node(side.first()?, false)?, node(side.last()?, true)?])
        };
        let Some(([p0, p1], [q0, q1])) = ends(&p.a).zip(ends(&p.b)) else { continue };
        if p0.0 == q0.0 || p0.0 != p1.0 || q0.0 != q1.0 {
            continue;
        }
        p.sure &= !are_sewn_at(&pattern, [(p0, q0), (p1, q1)]);
    }
}

/// What is left and likely, each line once.
fn likely(costume: &Costume, pattern: &Pattern, table: &Table) -> Vec<Proposal> {
    let all = &table.stretches;
    let mut pairs = table.pairs(LIKELY);
    pairs.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut taken: Vec<(usize, usize)> = Vec::new();
    let mut found: Vec<Proposal> = over_several(costume, pattern, table).into_iter().filter(|p| !p.sure).collect();
    for (cost, i, j, reasons) in pairs {
        let lines: Vec<(usize, usize)> = [i, j].iter().flat_map(|&k| all[k].lines.iter().map(move |&l| (all[k].piece, l))).collect();
        if lines.iter().all(|l| !taken.contains(l)) {
            found.push(proposal(costume, pattern, table, &all[i], &all[j], cost, reasons));
            taken.extend(lines);
        }
    }
    found
}

/// The pair that leads most surely over all others that want one of its lines.
fn best(costume: &Costume, pattern: &Pattern, table: &Table) -> Option<Proposal> {
    let all = &table.stretches;
    let mut pairs = table.pairs(SURE + LEAD);
    pairs.sort_by(|a, b| a.0.total_cmp(&b.0));
    let shares = |i: usize, j: usize| all[i].piece == all[j].piece && all[i].lines.iter().any(|l| all[j].lines.contains(l));
    for (cost, i, j, reasons) in pairs.iter().take_while(|p| p.0 < SURE) {
        // a front that opens is not sewn shut, nor is a tube at its end
        if table.opens_in_front(&all[*i], &all[*j]) || table.closes_a_collar(&all[*i], &all[*j]) || table.closes_an_end(&all[*i], &all[*j])
        {
            continue;
        }
        // what wants one of these lines for another partner; parts of the same pair are no rivals
        let rival = pairs.iter().find(|(_, k, l, _)| {
            let (ik, jl, il, jk) = (shares(*i, *k), shares(*j, *l), shares(*i, *l), shares(*j, *k));
            (ik || jl || il || jk) && !((ik && jl) || (il && jk))
        });
        if rival.is_none_or(|r| r.0 - cost >= LEAD) {
            let made = proposal(costume, pattern, table, &all[*i], &all[*j], *cost, reasons.clone());
            return Some(Proposal { sure: true, ..made });
        }
    }
    None
}
