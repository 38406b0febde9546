//! Stretches along which several others lie one after the other, as panels lie along their band.

use super::proposal::{Proposal, side_name};
use super::stretch::{SAMPLES, Stretch};
use super::table::Table;
use costume::{Costume, Pattern, Run};
use glam::DVec3;

/// Stretches of different pieces follow each other when they hang within this, m.
const NEAR: f64 = 0.17;

/// Whether the ways out of the cloth of two hung stretches are against each other on the whole, as of a band and what hangs
/// from it.
fn faces(a: &Stretch, b: &Stretch) -> bool {
    let out = |s: &Stretch| s.hangs.map_or(DVec3::ZERO, |h| h.iter().map(|h| h[1]).sum::<DVec3>().normalize_or_zero());
    out(a).dot(out(b)) < -0.2
}

/// A stretch and several of other pieces that lie along it one after the other, as a band lies along its panels.
pub(super) fn over_several(costume: &Costume, pattern: &Pattern, table: &Table) -> Option<Proposal> {
    let mut found: Option<(f64, Proposal)> = None;
    for a in table.stretches.iter().filter(|s| s.hangs.is_some() && !s.is_twin && s.length > 150.0) {
        let Some(p) = a.hangs.map(|h| h.map(|h| h[0])) else { continue };
        // a band lies across
        let way = p[SAMPLES - 1] - p[0];
        if way.y.abs() > 0.5 * way.length() && way.length() > 0.05 {
            continue;
        }
        // where along `a` another stretch begins and ends, and how far from it it hangs
        let along = |s: &Stretch| -> Option<(f64, f64, f64)> {
            let q = s.hangs?.map(|h| h[0]);
            let nearest = |at: DVec3| -> (f64, f64) {
                let seg = |k: usize| {
                    let way = p[k + 1] - p[k];
                    let t = ((at - p[k]).dot(way) / way.length_squared().max(1e-12)).clamp(0.0, 1.0);
                    ((p[k] + way * t).distance(at), (k as f64 + t) / (SAMPLES - 1) as f64)
                };
                (0..SAMPLES - 1).map(seg).fold((f64::MAX, 0.0), |m, s| if s.0 < m.0 { s } else { m })
            };
            let middle = q.iter().map(|at| nearest(*at).0).sum::<f64>() / SAMPLES as f64;
            Some((nearest(q[0]).1, nearest(q[SAMPLES - 1]).1, middle))
        };
        let mut parts: Vec<(f64, f64, &Stretch)> = Vec::new();
        for s in table.stretches.iter().filter(|s| s.piece != a.piece && s.on_loop && !table.are_twins(a, s)) {
            if let Some((from, to, apart)) = along(s)
                && apart < NEAR
                && faces(a, s)
                && (from - to).abs() > 0.06
            {
                parts.push((from.min(to), from.max(to), s));
            }
        }
        parts.sort_by(|a, b| a.0.total_cmp(&b.0));
        // one after the other, each about where the last one ended
        let (mut reached, mut row, mut sum): (f64, Vec<&Stretch>, f64) = (0.0, Vec::new(), 0.0);
        for (from, to, s) in parts {
            if (from - reached).abs() < 0.2 && to > reached {
                reached = to;
                sum += s.length;
                row.push(s);
            }
        }
        let ratio = sum.max(a.length) / sum.min(a.length).max(1.0);
        if row.len() < 2 || reached < 0.9 || ratio > 3.0 || (ratio > 1.02 && ratio < 1.3) {
            continue;
        }
        let cost = if ratio < 1.02 { 0.2 } else { 0.4 + 0.3 * (ratio - 1.0) };
        if found.as_ref().is_some_and(|(best, _)| *best <= cost) {
            continue;
        }
        let side: Vec<Run> = row.iter().flat_map(|s| table.runs(s)).collect();
        let (runs_a, runs_b) = costume::sewn_together(costume, pattern, &table.runs(a), &side);
        let reasons = vec![format!("{} edges lie along it", row.len())];
        let made = Proposal {
            a_name: side_name(costume, &runs_a),
            b_name: side_name(costume, &runs_b),
            a: runs_a,
            b: runs_b,
            a_length: a.length,
            b_length: sum,
            sure: ratio < 1.1,
            cost,
            reasons,
        };
        found = Some((cost, made));
    }
    found.map(|(_, made)| made)
}
