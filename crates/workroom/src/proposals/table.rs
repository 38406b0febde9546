//! All free stretches of a costume and how well any two of them fit.

use super::bones::{bones, pierces};
use super::stretch::{SAMPLES, Stretch, in_words, smooth_chains, stretch};
use crate::ContactBody;
use crate::lying::lying;
use costume::{Costume, Pattern, PatternNode, PatternRun, Run};
use glam::DVec3;
use std::collections::{BTreeMap, BTreeSet};

/// Threads shorter than this say nothing about which side the cloth is on, m.
const SHORT: f64 = 0.03;
/// A sleeve hangs so much farther down the arm than its armhole, m.
const ARM: f64 = 0.15;
/// What it costs to sew two edges to each other that a third piece would bridge.
const BRIDGED: f64 = 0.45;
/// Edges of front and back may hang so far apart and yet lie side by side, m.
const DEEP: f64 = 0.15;
/// Longest edge of an opening for an arm, mm.
const ARM_HOLE: f64 = 450.0;

pub(super) struct Table<'a> {
    pub pattern: &'a Pattern,
    pub stretches: Vec<Stretch>,
    wear: Vec<u8>,
    form: &'a ContactBody,
    /// Those of arms are marked.
    bones: Vec<(bool, [DVec3; 2])>,
    /// Both sides of openings that are known.
    holes: Vec<[Vec<(usize, usize)>; 2]>,
    /// Height at which the legs part, m.
    fork: f64,
    /// Half the width of the chest, m.
    width: f64,
}

impl<'a> Table<'a> {
    /// The free stretches of the costume: those that go on smoothly as wholes, or their parts besides.
    pub fn new(costume: &Costume, pattern: &'a Pattern, form: &'a ContactBody, whole: bool) -> Self {
        let posed = &form.posed;
        let sewn = |piece: usize, line: usize| {
            let on = |r: &PatternRun| (r.piece, r.line) == (piece, line);
            pattern.seams.iter().any(|s| s.a.iter().chain(&s.b).any(on))
        };
        let mut stretches = Vec::new();
        for (p, piece) in pattern.pieces.iter().enumerate().filter(|(_, p)| !p.parked) {
            let lies = lying(piece, posed);
            let free = |l: usize| {
                !piece.lines[l].image && !sewn(p, l) && costume.piece(piece.id).is_none_or(|d| d.cut.on_fold != Some(piece.lines[l].id))
            };
            for loop_ in std::iter::once(&piece.outline).chain(&piece.cutouts) {
                for lines in smooth_chains(pattern, p, loop_, free) {
                    if !whole {
                        let parts = (1..lines.len()).flat_map(|n| lines.windows(n));
                        stretches.extend(parts.map(|part| stretch(pattern, p, part.to_vec(), lies.as_ref(), true)));
                    }
                    stretches.push(stretch(pattern, p, lines, lies.as_ref(), true));
                }
            }
            for path in &piece.inside {
                let placed = matches!(path.purpose, costume::Purpose::Placement { .. });
                if placed && path.lines.iter().all(|&l| free(l)) {
                    stretches.push(stretch(pattern, p, path.lines.clone(), lies.as_ref(), false));
                }
            }
        }
        let wear = pattern.pieces.iter().map(|p| p.wear).collect();
        let width = posed.station("chest-front").map_or(0.0, |s| s.radii.0);
        let leg = posed.station("thigh-left").map_or(0.0, |s| s.centre.y);
        Self { pattern, stretches, wear, form, bones: bones(form), holes: Vec::new(), fork: leg + 0.05, width }
    }

    /// How badly two stretches fit, and what speaks for them; none when they cannot be sewn.
    pub fn cost(&self, a: &Stretch, b: &Stretch) -> Option<(f64, Vec<String>)> {
        if a.piece == b.piece && a.lines.iter().any(|l| b.lines.contains(l)) {
            return None;
        }
        if self.is_hole(a, b) || (a.piece == b.piece && !self.is_dart(a, b)) {
            return None;
        }
        let (long, short) = (a.length.max(b.length), a.length.min(b.length));
        let ratio = long / short;
        if ratio > 4.0 || short < 8.0 {
            return None;
        }
        let mut reasons = vec![in_words(ratio)];
        let length = match ratio {
            r if r <= 1.005 => 0.0,
            r if r <= 1.1 => 0.06 + 2.0 * (r - 1.0),
            r => 0.2 + 0.2 * r.ln(),
        };
        // of what fits alike the longer goes first
        let mut cost = length + 0.03 - 0.00003 * short.min(1000.0) + 0.02 * f64::from(u8::from(a.is_twin) + u8::from(b.is_twin));
        // longer stretches are whole edges rather than parts of them
        cost -= 0.01 * (a.lines.len().min(b.lines.len()) - 1) as f64 - 0.03 * a.lines.len().abs_diff(b.lines.len()) as f64;
        match (a.hangs, b.hangs) {
            (Some(p), Some(q)) => {
                let over = self.lie_over(a, b);
                let same = a.on_loop != b.on_loop || over;
                let threads: Strip = std::array::from_fn(|k| (p[k], q[if same { k } else { SAMPLES - 1 - k }]));
                let hung = self
                    .threads(a, b, &threads, same)
                    .filter(|_| same || self.on_arm(a) != self.on_arm(b) || !self.goes_through(&threads, short))?;
                let arm = if self.on_arm(a) != self.on_arm(b) { ARM } else { 0.0 };
                cost += 0.5 * (hung.apart / (0.0002 * long + 0.1 + arm)).min(4.0) + hung.penalty;
                if hung.apart < 0.05 {
                    reasons.push("side by side on the body".into());
                }
            }
            _ => cost += 0.3,
        }
        if self.mirror(a, b) {
            if !self.is_middle(a, 0.16) {
                return None;
            }
            if !self.opens_in_front(a, b) {
                cost -= 0.3;
                reasons.push("one edge and its twin".into());
            }
        }
        if !a.notches.is_empty() || !b.notches.is_empty() {
            let from_there: Vec<f64> =
                if a.on_loop && b.on_loop { b.notches.iter().rev().map(|s| 1.0 - s).collect() } else { b.notches.clone() };
            if a.notches.len() != b.notches.len() {
                cost += 0.04;
            } else if a.notches.iter().zip(&from_there).all(|(s, t)| (s - t).abs() < 0.04) {
                cost -= 0.15;
                reasons.push(if a.notches.len() == 1 {
                    "a notch that meets".into()
                } else {
                    format!("{} notches that meet", a.notches.len())
                });
            } else {
                cost += 0.1;
            }
        }
        Some((cost.max(0.0), reasons))
    }

    /// It is far out at the side and leads farther out.
    fn ends_a_sleeve(&self, s: &Stretch) -> bool {
        let on_chest = self.pattern.pieces[s.piece].placement.as_ref().is_some_and(|p| p.station.starts_with("chest"));
        let Some(h) = s.hangs.filter(|_| on_chest) else { return false };
        h.iter().all(|[at, out]| at.x.abs() > 2.0 * self.width && out.x * at.x.signum() > 0.5)
    }

    /// It runs up or down where the body's left and right meet, on average within so many m.
    fn is_middle(&self, s: &Stretch, near: f64) -> bool {
        let Some(h) = s.hangs.filter(|_| !self.on_arm(s)) else { return false };
        let way = h[SAMPLES - 1][0] - h[0][0];
        let aside = h.iter().map(|h| h[0].x.abs()).sum::<f64>() / (SAMPLES as f64);
        let level = h.iter().map(|h| h[0].y).sum::<f64>() / SAMPLES as f64;
        aside < near && level > self.fork && way.y.abs() > 0.35 * way.length()
    }

    /// They are on a piece and its twin.
    pub fn are_twins(&self, a: &Stretch, b: &Stretch) -> bool {
        let (p, q) = (&self.pattern.pieces[a.piece], &self.pattern.pieces[b.piece]);
        p.twin_of == Some(q.id) || q.twin_of == Some(p.id)
    }

    /// The same edge of a piece and of its twin.
    fn mirror(&self, a: &Stretch, b: &Stretch) -> bool {
        let ids = |s: &Stretch| s.lines.iter().map(|&l| self.pattern.pieces[s.piece].lines[l].id).collect::<BTreeSet<_>>();
        self.are_twins(a, b) && ids(a) == ids(b)
    }

    /// All pairs that cost less than this. Two edges that a third piece would bridge, as a strap does from front to back, cost
    /// more: sewn to each other they would leave it over.
    pub fn pairs(&self, most: f64) -> Vec<(f64, usize, usize, Vec<String>)> {
        let mut pairs = self.all_pairs(most + BRIDGED);
        let fits = |i: usize, j: usize| (self.stretches[i].length / self.stretches[j].length - 1.0).abs() < 0.005;
        let piece = |k: usize| self.stretches[k].piece;
        // what is as long as each stretch and could be sewn to it, by piece
        let mut ends: Vec<BTreeMap<usize, Vec<usize>>> = vec![BTreeMap::new(); self.stretches.len()];
        for &(_, i, j, _) in pairs.iter().filter(|p| fits(p.1, p.2)) {
            ends[i].entry(piece(j)).or_default().push(j);
            ends[j].entry(piece(i)).or_default().push(i);
        }
        let apart = |s: usize, t: usize| self.stretches[s].lines.iter().all(|l| !self.stretches[t].lines.contains(l));
        let bridged: Vec<bool> = pairs
            .iter()
            .map(|&(_, i, j, _)| {
                let third = ends[i].iter().filter(|(p, _)| **p != piece(i) && **p != piece(j));
                let mut both = third.filter_map(|(p, own)| Some((own, ends[j].get(p)?)));
                fits(i, j) && both.any(|(own, other)| own.iter().any(|s| other.iter().any(|t| apart(*s, *t))))
            })
            .collect();
        for (pair, _) in pairs.iter_mut().zip(bridged).filter(|(_, b)| *b) {
            pair.0 += BRIDGED;
        }
        pairs.retain(|p| p.0 < most);
        pairs
    }

    fn all_pairs(&self, most: f64) -> Vec<(f64, usize, usize, Vec<String>)> {
        let all = &self.stretches;
        let mut pairs = Vec::new();
        for (i, a) in all.iter().enumerate() {
            for (j, b) in all.iter().enumerate().skip(i + 1) {
                if let Some((cost, reasons)) = self.cost(a, b).filter(|(c, _)| *c < most) {
                    pairs.push((cost, i, j, reasons));
                }
            }
        }
        pairs
    }

    /// Pairs of stretches in front and behind that a bone goes between: openings for the neck, an arm, the legs.
    pub fn openings(&self) -> Vec<[Vec<(usize, usize)>; 2]> {
        let mut found = Vec::new();
        let lines = |s: &Stretch| s.lines.iter().map(|&l| (s.piece, l)).collect::<Vec<_>>();
        for (i, a) in self.stretches.iter().enumerate() {
            for b in self.stretches[i + 1..].iter().filter(|b| b.piece != a.piece) {
                let (Some(p), Some(q)) = (a.hangs, b.hangs) else { continue };
                let strip: Strip = std::array::from_fn(|k| (p[k], q[SAMPLES - 1 - k]));
                let near = strip.iter().map(|(a, b)| (a[0] - b[0]).with_z(0.0).length()).sum::<f64>() / (SAMPLES as f64) < 0.06;
                if near && a.length.max(b.length) < 1.15 * a.length.min(b.length) && self.goes_through(&strip, a.length.min(b.length)) {
                    found.push([lines(a), lines(b)]);
                }
            }
        }
        found
    }

    /// Takes up what is known to be an opening.
    pub fn with_holes(mut self, holes: &[[Vec<(usize, usize)>; 2]]) -> Self {
        self.holes = holes.to_vec();
        self
    }

    /// Whether two stretches, or the wholes that they are of, are the two sides of an opening.
    fn is_hole(&self, a: &Stretch, b: &Stretch) -> bool {
        let within = |s: &Stretch, side: &[(usize, usize)]| s.lines.iter().all(|&l| side.contains(&(s.piece, l)));
        self.holes.iter().any(|[p, q]| (within(a, p) && within(b, q)) || (within(a, q) && within(b, p)))
    }

    /// Both edges are at the middle of chest or face, where garments open.
    pub fn opens_in_front(&self, a: &Stretch, b: &Stretch) -> bool {
        let face = self.form.posed.station("head").map_or(0.0, |s| s.centre.z);
        let at = |s: &Stretch| {
            let in_front = s.hangs.is_some_and(|h| h.iter().map(|h| h[0].z).sum::<f64>() / SAMPLES as f64 > face);
            let station = self.pattern.pieces[s.piece].placement.as_ref().map_or("", |p| p.station.as_str());
            station.starts_with("chest-front") || (station.starts_with("head") && in_front)
        };
        let middle = |s: &Stretch| s.hangs.is_some_and(|h| h.iter().map(|h| h[0].x.abs()).sum::<f64>() / (SAMPLES as f64) < 0.08);
        a.piece != b.piece && at(a) && at(b) && middle(a) && middle(b)
    }

    /// Both ends of a collar or a stand: most are left open.
    pub fn closes_a_collar(&self, a: &Stretch, b: &Stretch) -> bool {
        a.piece == b.piece && self.pattern.pieces[a.piece].placement.as_ref().is_some_and(|p| p.station.starts_with("neck"))
    }

    /// The two pieces are sewn to each other at both ends of these edges already: what is between is an opening, the end of a
    /// sleeve, a hem, a neckline.
    pub fn closes_an_end(&self, a: &Stretch, b: &Stretch) -> bool {
        let ends = |s: &Stretch| {
            let lines = &self.pattern.pieces[s.piece].lines;
            [(s.piece, lines[s.lines[0]].from), (s.piece, lines[s.lines[s.lines.len() - 1]].to)]
        };
        let ([p, q], [r, t]) = (ends(a), ends(b));
        a.piece != b.piece && a.on_loop && b.on_loop && are_sewn_at(self.pattern, [(p, t), (q, r)])
    }

    /// What the threads between two hung stretches say; none when cloth or body is in their way.
    fn threads(&self, a: &Stretch, b: &Stretch, threads: &Strip, same: bool) -> Option<Threads> {
        let mean = |f: &dyn Fn(&Thread) -> f64| threads.iter().map(f).sum::<f64>() / SAMPLES as f64;
        let whole = mean(&|(a, b)| a[0].distance(b[0]));
        if same {
            // layers lie the same way, and so do their edges
            let alike = mean(&|(a, b)| a[1].dot(b[1]));
            return (alike > 0.3 || whole < SHORT).then_some(Threads { apart: whole, penalty: (10.0 * whole - 0.1).clamp(0.0, 0.5) });
        }
        let facing = mean(&|(a, b)| {
            let way = (b[0] - a[0]).normalize_or_zero();
            0.5 * (way.dot(a[1]) - way.dot(b[1]))
        });
        if a.piece == b.piece && facing < 0.2 && whole > SHORT {
            return None;
        }
        let level = mean(&|(a, b)| 0.5 * (a[0].y + b[0].y));
        let share = |f: &dyn Fn(&Thread) -> bool| mean(&|t| f64::from(u8::from(f(t))));
        let crosses_legs = level < self.fork && share(&|(a, b)| a[0].x * b[0].x < 0.0) > 0.5 && a.piece != b.piece;
        // pieces in front of the body and behind it meet at its sides and over its shoulders: seen from the front
        let out =
            |s: &Stretch| self.pattern.pieces[s.piece].placement.as_ref().and_then(|p| self.form.posed.station(&p.station)).map(|s| s.out);
        let (along, up) = (mean(&|(a, b)| a[1].dot(b[1])), mean(&|(a, b)| 0.5 * (a[1].y + b[1].y)));
        let opposite = out(a).zip(out(b)).is_some_and(|(p, q)| p.dot(q) < -0.5);
        // upper edges meet over the shoulders only, lower ones under the arms only; hollow edges are holes for neck and arms
        let height = |key: &str| self.form.posed.station(key).map_or(0.0, |s| s.centre.y);
        let apart = if opposite { mean(&|(a, b)| (a[0] - b[0]).with_z(0.0).length()) } else { whole };
        // a sleeve that is cut in one, or a cape, goes on past the shoulder, above and below
        let out_there =
            |f: &dyn Fn(f64, f64) -> f64, start: f64| threads.iter().map(|(a, b)| a[0].x.abs().min(b[0].x.abs())).fold(start, f);
        if opposite && self.ends_a_sleeve(a) && self.ends_a_sleeve(b) {
            return None;
        }
        let beyond = apart < SHORT && out_there(&f64::max, 0.0) > 2.2 * self.width;
        let aside = beyond && out_there(&f64::min, f64::MAX) > 0.8 * self.width;
        let no_place =
            (up > 0.8 && !beyond && level < height("chest-front") + 0.08) || (up < -0.7 && !aside && level < height("waist-front") + 0.02);
        if opposite && ((along > 0.3 && no_place) || (a.hollow && b.hollow && level > height("waist-front"))) {
            return None;
        }
        // what is above its edge is not sewn to what is below its own across the body, nor the middles of front and back
        let rises = mean(&|(a, b)| a[1].y * b[1].y);
        if opposite && (rises < -0.3 || (self.is_middle(a, 0.1) && self.is_middle(b, 0.1))) {
            return None;
        }
        if !opposite && a.piece != b.piece && facing < -0.3 && whole > SHORT && self.on_arm(a) == self.on_arm(b) {
            return None;
        }
        Some(Threads {
            apart,
            penalty: if crosses_legs { 1.0 } else { 0.0 } + if opposite { 0.02 + (whole - DEEP).clamp(0.0, DEEP) } else { 0.0 },
        })
    }

    /// Whether a bone goes through the strip between two stretches: then it is an opening, for the neck, an arm, the legs.
    fn goes_through(&self, threads: &Strip, length: f64) -> bool {
        threads.windows(2).any(|w| {
            let [a, b, c, d] = [w[0].0[0], w[1].0[0], w[0].1[0], w[1].1[0]];
            self.bones.iter().any(|(arm, bone)| (!arm || length < ARM_HOLE) && (pierces(*bone, [a, b, c]) || pierces(*bone, [b, d, c])))
        })
    }

    /// Two edges of one piece that meet at a corner are sewn to each other only where they are the legs of a dart.
    fn is_dart(&self, a: &Stretch, b: &Stretch) -> bool {
        let lines = &self.pattern.pieces[a.piece].lines;
        let ends = |s: &Stretch| (&lines[s.lines[0]], &lines[s.lines[s.lines.len() - 1]]);
        let ((first_a, last_a), (first_b, last_b)) = (ends(a), ends(b));
        let meet = |last: &costume::PatternLine, first: &costume::PatternLine| last.to == first.from;
        if !meet(last_a, first_b) && !meet(last_b, first_a) {
            return true;
        }
        let way = |from: &costume::PatternLine, to: &costume::PatternLine| {
            kurbo::ParamCurve::end(&to.curve) - kurbo::ParamCurve::start(&from.curve)
        };
        let (c, d) = (way(first_a, last_a), way(first_b, last_b));
        let turns_in = if meet(last_a, first_b) { c.cross(d) < 0.0 } else { d.cross(c) < 0.0 };
        turns_in && c.dot(d) < -0.5 * c.hypot() * d.hypot()
    }

    fn on_arm(&self, s: &Stretch) -> bool {
        let station = self.pattern.pieces[s.piece].placement.as_ref().map_or("", |p| p.station.as_str());
        ["upper-arm", "under-arm", "forearm", "wrist"].iter().any(|k| station.starts_with(k))
    }

    /// Two pieces at one station of which one is worn over the other.
    fn lie_over(&self, a: &Stretch, b: &Stretch) -> bool {
        let station = |s: &Stretch| self.pattern.pieces[s.piece].placement.as_ref().map(|p| p.station.as_str());
        a.piece != b.piece && station(a).is_some() && station(a) == station(b) && self.wear[a.piece] != self.wear[b.piece]
    }

    pub fn runs(&self, s: &Stretch) -> Vec<Run> {
        let piece = &self.pattern.pieces[s.piece];
        let run = |&l: &usize| {
            let run = Run::whole(piece.id, piece.lines[l].id);
            if piece.lines[l].turned { run.turned() } else { run }
        };
        s.lines.iter().map(run).collect()
    }
}

/// A corner: the index of its piece, and its node.
pub(super) type Corner = (usize, PatternNode);

/// Whether pairs of corners of two pieces are one by the seams between those two alone.
pub(super) fn are_sewn_at(pattern: &Pattern, pairs: [(Corner, Corner); 2]) -> bool {
    let (p, q) = (pairs[0].0.0, pairs[0].1.0);
    let joints = costume::Joined::by(pattern, |s| s.a.iter().chain(&s.b).all(|r| r.piece == p || r.piece == q));
    pairs.iter().all(|(a, b)| joints.are_one(*a, *b))
}

/// Both ends of a thread from stretch to stretch, each with the way that leads out of its cloth.
type Thread = ([DVec3; 2], [DVec3; 2]);

/// Threads at equal shares of two stretches.
type Strip = [Thread; SAMPLES];

/// How two hung stretches lie to each other.
struct Threads {
    /// Mean length of the threads, m, as far as it counts.
    apart: f64,
    /// What speaks against them.
    penalty: f64,
}
