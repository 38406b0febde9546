//! What seams make of corners and of the sides of cloth: which corners meet, and whether the sewn cloth has two sides.

use crate::{Pattern, PatternNode, PatternRun, PatternSeam};
use std::collections::HashMap;

/// Shares closer than this are the end of a line.
const END: f64 = 1e-6;

/// Corners that seams bring together, by union and find; a corner is the index of its piece and its node.
pub struct Joints {
    number: HashMap<(usize, PatternNode), usize>,
    of: Vec<usize>,
}

/// The node at which a run begins (0) or ends (1); none in the middle of a line.
pub(crate) fn node_at(pattern: &Pattern, run: &PatternRun, end: usize) -> Option<(usize, PatternNode)> {
    let share = if end == 0 { run.from } else { run.to };
    let line = &pattern.pieces[run.piece].lines[run.line];
    let node = if share < END {
        line.from
    } else if share > 1.0 - END {
        line.to
    } else {
        return None;
    };
    Some((run.piece, node))
}

impl Joints {
    /// By all seams of a pattern.
    pub fn new(pattern: &Pattern) -> Self {
        Self::by(pattern, |_| true)
    }

    /// By some of its seams.
    pub fn by(pattern: &Pattern, counts: impl Fn(&PatternSeam) -> bool) -> Self {
        let mut made = Self { number: HashMap::new(), of: Vec::new() };
        for (p, piece) in pattern.pieces.iter().enumerate() {
            for line in &piece.lines {
                for node in [line.from, line.to] {
                    let next = made.of.len();
                    if *made.number.entry((p, node)).or_insert(next) == next {
                        made.of.push(next);
                    }
                }
            }
        }
        for seam in pattern.seams.iter().filter(|s| counts(s)) {
            let ends = [(seam.a.first(), seam.b.first(), 0), (seam.a.last(), seam.b.last(), 1)];
            for (a, b, end) in ends {
                if let (Some(a), Some(b)) = (a.and_then(|r| node_at(pattern, r, end)), b.and_then(|r| node_at(pattern, r, end))) {
                    made.join(a, b);
                }
            }
        }
        made
    }

    fn root(&self, mut k: usize) -> usize {
        while self.of[k] != k {
            k = self.of[k];
        }
        k
    }

    fn join(&mut self, a: (usize, PatternNode), b: (usize, PatternNode)) {
        if let (Some(&a), Some(&b)) = (self.number.get(&a), self.number.get(&b)) {
            let (a, b) = (self.root(a), self.root(b));
            self.of[a.max(b)] = a.min(b);
        }
    }

    /// A number that all corners share which are one once sewn; none for what is no corner of the pattern.
    pub fn class(&self, corner: (usize, PatternNode)) -> Option<usize> {
        self.number.get(&corner).map(|&k| self.root(k))
    }

    /// Whether two corners are one once sewn.
    pub fn are_one(&self, a: (usize, PatternNode), b: (usize, PatternNode)) -> bool {
        match (self.number.get(&a), self.number.get(&b)) {
            (Some(&a), Some(&b)) => self.root(a) == self.root(b),
            _ => false,
        }
    }
}

/// Seams, by their place in the pattern, that close a loop of cloth with half a twist in it. Two outlines that run against
/// each other keep right sides on one side; two that run the same way turn one over. A loop that turns over once has one
/// side only.
pub(crate) fn half_twists(pattern: &Pattern) -> Vec<usize> {
    let mut parent: Vec<(usize, bool)> = (0..pattern.pieces.len()).map(|p| (p, false)).collect();
    let root = |parent: &[(usize, bool)], mut p: usize| {
        let mut over = false;
        while parent[p].0 != p {
            over ^= parent[p].1;
            p = parent[p].0;
        }
        (p, over)
    };
    let mut found = Vec::new();
    let overlap = |r: &PatternRun, s: &PatternRun| {
        let ends = |r: &PatternRun| (r.from.min(r.to), r.from.max(r.to));
        let ((a, b), (c, d)) = (ends(r), ends(s));
        (r.piece, r.line) == (s.piece, s.line) && a.max(c) + END < b.min(d)
    };
    // the second edge of a folded band, sewn along the line of its first, closes no surface
    let second_layer = |s: usize, p: usize, q: usize| {
        let both = |t: &PatternSeam| t.a.iter().chain(&t.b).map(|r| r.piece).all(|r| r == p || r == q);
        let again =
            |t: &PatternSeam| t.a.iter().chain(&t.b).any(|r| pattern.seams[s].a.iter().chain(&pattern.seams[s].b).any(|u| overlap(r, u)));
        p != q && pattern.seams[..s].iter().any(|t| both(t) && again(t))
    };
    for (s, seam) in pattern.seams.iter().enumerate() {
        let (Some(a), Some(b)) = (seam.a.first(), seam.b.first()) else { continue };
        if !pattern.is_on_loop(a) || !pattern.is_on_loop(b) || second_layer(s, a.piece, b.piece) {
            continue;
        }
        let turns_over = (a.from < a.to) == (b.from < b.to);
        let ((p, over_p), (q, over_q)) = (root(&parent, a.piece), root(&parent, b.piece));
        if p != q {
            parent[p.max(q)] = (p.min(q), over_p ^ over_q ^ turns_over);
        } else if over_p ^ over_q != turns_over {
            found.push(s);
        }
    }
    found
}
