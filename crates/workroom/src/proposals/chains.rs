//! Edges of what is sewn so far: from piece to piece across the ends of seams, as a neckline goes over the shoulders and a
//! waist around the sides. What is as long as such a row of edges is likely its band, its collar, its sleeve.

use super::stretch::{SAMPLES, hung, turn_between};
use crate::ContactBody;
use crate::lying::lying;
use costume::{Joined, Pattern, Run};
use glam::DVec3;
use std::collections::HashMap;
use std::f64::consts::PI;

/// What is sewn so far lies flat at a corner, and its edge goes on there, when its angles differ from a half turn by less,
/// radians.
const FLAT: f64 = 0.45;
/// Longest row that is looked at by its parts, in lines.
const LONG: usize = 8;

/// A row of free lines along the edge of what is sewn so far, each with its cloth on the left.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Row {
    /// Piece and place of the line in it.
    pub lines: Vec<(usize, usize)>,
    /// It ends where it begins.
    pub closed: bool,
    /// It is all that goes on smoothly, not a part of it.
    pub whole: bool,
}

/// A line that ends at a corner and the one that goes on from there on the same piece.
struct Turn {
    corner: usize,
    /// Between the two, on the side of the cloth, radians.
    angle: f64,
}

/// All rows, each as long as it can be.
pub(super) fn rows(pattern: &Pattern) -> Vec<Row> {
    let joints = Joined::new(pattern);
    let mut sewn = std::collections::HashSet::new();
    for r in pattern.seams.iter().flat_map(|s| s.a.iter().chain(&s.b)) {
        sewn.insert((r.piece, r.line));
    }
    let (mut turns, mut free): (Vec<Turn>, Vec<(usize, usize)>) = (Vec::new(), Vec::new());
    for (p, piece) in pattern.pieces.iter().enumerate().filter(|(_, p)| !p.parked) {
        for loop_ in std::iter::once(&piece.outline).chain(&piece.cutouts) {
            for (k, &l) in loop_.iter().enumerate() {
                let (line, next) = (&piece.lines[l], &piece.lines[loop_[(k + 1) % loop_.len()]]);
                if let Some(corner) = joints.class((p, line.to)) {
                    turns.push(Turn { corner, angle: PI - turn_between(line, next) });
                }
                if !line.image && !sewn.contains(&(p, l)) {
                    free.push((p, l));
                }
            }
        }
    }
    let mut angle: HashMap<usize, f64> = HashMap::new();
    for t in &turns {
        *angle.entry(t.corner).or_default() += t.angle;
    }
    let ends = |(p, l): (usize, usize)| {
        let line = &pattern.pieces[p].lines[l];
        (joints.class((p, line.from)), joints.class((p, line.to)))
    };
    // where just one free line arrives and one leaves, and the cloth lies flat
    let mut leaving: HashMap<usize, Vec<(usize, usize)>> = HashMap::new();
    let mut arriving: HashMap<usize, usize> = HashMap::new();
    for &f in &free {
        let (from, to) = ends(f);
        leaving.entry(from.unwrap_or(usize::MAX)).or_default().push(f);
        *arriving.entry(to.unwrap_or(usize::MAX)).or_default() += 1;
    }
    let next = |f: (usize, usize)| -> Option<(usize, usize)> {
        let corner = ends(f).1?;
        let flat = angle.get(&corner).is_some_and(|a| (a - PI).abs() < FLAT);
        match leaving.get(&corner).map(Vec::as_slice) {
            Some(&[one]) if flat && arriving.get(&corner) == Some(&1) => Some(one),
            _ => None,
        }
    };
    let followed: std::collections::HashSet<(usize, usize)> = free.iter().filter_map(|&f| next(f)).collect();
    let mut used = std::collections::HashSet::new();
    let mut made = Vec::new();
    // rows with a beginning, then those that go round
    for round in [false, true] {
        for &start in free.iter().filter(|f| round || !followed.contains(f)) {
            if !used.insert(start) {
                continue;
            }
            let mut lines = vec![start];
            let mut closed = false;
            while let Some(n) = next(lines[lines.len() - 1]) {
                if n == start {
                    closed = true;
                }
                if !used.insert(n) {
                    break;
                }
                lines.push(n);
            }
            made.push(Row { lines, closed, whole: true });
        }
    }
    made
}

impl Row {
    /// It and its parts that begin and end where another piece begins.
    pub fn parts(&self) -> Vec<Row> {
        let n = self.lines.len();
        let mut made = Vec::new();
        if n > LONG {
            return vec![self.clone()];
        }
        let piece = |k: usize| self.lines[k % n].0;
        let begins = |k: usize| if self.closed { n == 1 || piece(k + n - 1) != piece(k) } else { k == 0 || piece(k - 1) != piece(k) };
        let ends = |k: usize| if self.closed { n == 1 || piece(k + 1) != piece(k) } else { k + 1 == n || piece(k + 1) != piece(k) };
        // one that goes round may be taken from any of its corners
        for s in (0..n).filter(|&k| self.closed || begins(k)) {
            let most = if self.closed { n } else { n - s };
            for count in 1..=most {
                if count == n || (begins(s) && ends(s + count - 1)) {
                    let lines: Vec<_> = (s..s + count).map(|k| self.lines[k % n]).collect();
                    made.push(Row { lines, closed: self.closed && count == n, whole: count == n });
                }
            }
        }
        made
    }

    /// How many pieces it goes over.
    pub fn pieces(&self) -> usize {
        1 + self.lines.windows(2).filter(|w| w[0].0 != w[1].0).count()
    }

    pub fn length(&self, pattern: &Pattern) -> f64 {
        self.lines.iter().map(|&(p, l)| pattern.pieces[p].lines[l].length).sum()
    }

    /// Shares of its length at which lines meet, and those at which pieces do.
    pub fn joints(&self, pattern: &Pattern) -> Vec<(f64, bool)> {
        let whole = self.length(pattern);
        let mut at = 0.0;
        let joint = |w: &[(usize, usize)]| {
            at += pattern.pieces[w[0].0].lines[w[0].1].length;
            (at / whole, w[0].0 != w[1].0)
        };
        self.lines.windows(2).map(joint).collect()
    }

    /// Shares of its length at which notches lie.
    pub fn notches(&self, pattern: &Pattern) -> Vec<f64> {
        let whole = self.length(pattern);
        let (mut at, mut found) = (0.0, Vec::new());
        for &(p, l) in &self.lines {
            let (piece, length) = (&pattern.pieces[p], pattern.pieces[p].lines[l].length);
            for m in piece.marks.iter().filter(|m| m.line == Some(l)) {
                if let costume::Mark::Notch { at: share, .. } = m.mark {
                    found.push((at + share * length) / whole);
                }
            }
            at += length;
        }
        found
    }

    /// Where it hangs at equal shares of its length, m, and which way leads out of its cloth; none when a piece hangs nowhere.
    pub fn hangs(&self, pattern: &Pattern, form: &ContactBody) -> Option<[[DVec3; 2]; SAMPLES]> {
        let lies: HashMap<usize, _> =
            self.lines.iter().map(|&(p, _)| lying(&pattern.pieces[p], &form.posed).map(|l| (p, l))).collect::<Option<_>>()?;
        let whole = self.length(pattern);
        Some(std::array::from_fn(|k| {
            let mut left = whole * k as f64 / (SAMPLES - 1) as f64;
            let mut on = self.lines[0];
            for &(p, l) in &self.lines {
                on = (p, l);
                let length = pattern.pieces[p].lines[l].length;
                if left <= length {
                    break;
                }
                left -= length;
            }
            let line = &pattern.pieces[on.0].lines[on.1];
            let share = (left / line.length).clamp(0.0, 1.0);
            let at = |s: f64| costume::point_at(&line.curve, s.clamp(0.0, 1.0));
            hung(&lies[&on.0], [at(share - 0.02), at(share), at(share + 0.02)])
        }))
    }

    /// As the side of a seam, walked with the cloth on the left, or the other way.
    pub fn runs(&self, pattern: &Pattern, back: bool) -> Vec<Run> {
        let run = |&(p, l): &(usize, usize)| {
            let (piece, line) = (&pattern.pieces[p], &pattern.pieces[p].lines[l]);
            let run = Run::whole(piece.id, line.id);
            if line.turned != back { run.turned() } else { run }
        };
        if back { self.lines.iter().rev().map(run).collect() } else { self.lines.iter().map(run).collect() }
    }
}
