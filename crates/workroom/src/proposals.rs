//! What a seam could join: likely partners of a stretch by length, notches, place on the body and shape, and a proposal for
//! all that fits in a costume. Nothing is sewn here: each is shown before it is taken.

use crate::ContactBody;
use crate::lying::{Lying, lying};
use costume::{Costume, Edit, Mark, Pattern, PatternRun, PieceId, Run, resolve};
use glam::DVec3;
use serde::Serialize;
use std::f64::consts::PI;
use ts_rs::TS;

/// Places along a stretch that are compared.
const SAMPLES: usize = 9;
/// Most lines that go on smoothly from one to the next and are taken as one stretch.
const CHAIN: usize = 5;
/// Lines that turn by less than this where they meet go on smoothly, radians.
const SMOOTH: f64 = 0.05;
/// Highest cost of a proposal, and of one that is sure; lead of a sure one over what it keeps from being sewn.
const LIKELY: f64 = 0.9;
const SURE: f64 = 0.45;
const LEAD: f64 = 0.12;
/// An edge that turns by so much into its cloth is a hole for the neck or an arm, radians.
const HOLLOW: f64 = 0.22;
/// Threads shorter than this say nothing about which side the cloth is on, m.
const SHORT: f64 = 0.03;
/// A sleeve hangs so much farther down the arm than its armhole, m.
const ARM: f64 = 0.15;
/// Longest edge of an opening for an arm, mm.
const ARM_HOLE: f64 = 450.0;
/// Stretches of different pieces follow each other when they hang within this, m.
const NEAR: f64 = 0.17;

/// Two sides that could be sewn together, in the directions in which they would be.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Proposal {
    /// One side.
    pub a: Vec<Run>,
    /// The other side.
    pub b: Vec<Run>,
    /// Both in words.
    pub a_name: String,
    /// Both in words.
    pub b_name: String,
    /// mm.
    pub a_length: f64,
    /// mm.
    pub b_length: f64,
    /// Nothing else comes near; what is not sure is shown and not chosen.
    pub sure: bool,
    /// 0 fits in every way, more the less it does.
    pub cost: f64,
    /// What speaks for it.
    pub reasons: Vec<String>,
}

/// A stretch of whole lines of one piece, walked along its loop.
struct Stretch {
    piece: usize,
    lines: Vec<usize>,
    length: f64,
    /// Shares of its length at which notches lie.
    notches: Vec<f64>,
    /// Where it hangs, m, and which way leads away from its cloth; none for a piece that hangs nowhere.
    hangs: Option<[[DVec3; 2]; SAMPLES]>,
    /// On the outline or a cut-out, so that the cloth is on its left.
    on_loop: bool,
    /// Of the drawing that the piece shows: twins are sewn along with their partners.
    is_twin: bool,
    /// Bulges into its cloth, as a neckline or an armhole does.
    hollow: bool,
}

struct Table<'a> {
    pattern: &'a Pattern,
    stretches: Vec<Stretch>,
    wear: Vec<u8>,
    form: &'a ContactBody,
    /// Those of arms are marked.
    bones: Vec<(bool, [DVec3; 2])>,
    /// Both sides of openings that are known.
    holes: Vec<[Vec<(usize, usize)>; 2]>,
    /// Height at which the legs part, m.
    fork: f64,
}

impl<'a> Table<'a> {
    /// The free stretches of the costume: those that go on smoothly as wholes, or their parts besides.
    fn new(costume: &Costume, pattern: &'a Pattern, form: &'a ContactBody, whole: bool) -> Self {
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
        let leg = posed.station("thigh-left").map_or(0.0, |s| s.centre.y);
        Self { pattern, stretches, wear, form, bones: bones(form), holes: Vec::new(), fork: leg + 0.05 }
    }

    /// How badly two stretches fit, and what speaks for them; none when they cannot be sewn.
    fn cost(&self, a: &Stretch, b: &Stretch) -> Option<(f64, Vec<String>)> {
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
        let mut reasons = Vec::new();
        let length = match ratio {
            r if r <= 1.005 => 0.0,
            r if r <= 1.1 => 0.06 + 2.0 * (r - 1.0),
            r => 0.2 + 0.2 * r.ln(),
        };
        if ratio <= 1.005 {
            reasons.push("one length".into());
        } else if ratio <= 1.1 {
            reasons.push(format!("{:.1} % to ease", 100.0 * (ratio - 1.0)));
        } else {
            reasons.push(format!("gathered {ratio:.1} : 1"));
        }
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

    /// All pairs that cost less than this.
    fn pairs(&self, most: f64) -> Vec<(f64, usize, usize, Vec<String>)> {
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
    fn openings(&self) -> Vec<[Vec<(usize, usize)>; 2]> {
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
    fn with_holes(mut self, holes: &[[Vec<(usize, usize)>; 2]]) -> Self {
        self.holes = holes.to_vec();
        self
    }

    /// Whether two stretches, or the wholes that they are of, are the two sides of an opening.
    fn is_hole(&self, a: &Stretch, b: &Stretch) -> bool {
        let within = |s: &Stretch, side: &[(usize, usize)]| s.lines.iter().all(|&l| side.contains(&(s.piece, l)));
        self.holes.iter().any(|[p, q]| (within(a, p) && within(b, q)) || (within(a, q) && within(b, p)))
    }

    /// Both edges are at the middle of the chest, where garments open.
    fn opens_in_front(&self, a: &Stretch, b: &Stretch) -> bool {
        let at = |s: &Stretch| self.pattern.pieces[s.piece].placement.as_ref().is_some_and(|p| p.station.starts_with("chest-front"));
        let middle = |s: &Stretch| s.hangs.is_some_and(|h| h.iter().map(|h| h[0].x.abs()).sum::<f64>() / (SAMPLES as f64) < 0.08);
        a.piece != b.piece && at(a) && at(b) && middle(a) && middle(b)
    }

    /// Both ends of a collar or a stand: most are left open.
    fn closes_a_collar(&self, a: &Stretch, b: &Stretch) -> bool {
        a.piece == b.piece && self.pattern.pieces[a.piece].placement.as_ref().is_some_and(|p| p.station.starts_with("neck"))
    }

    /// The two pieces are sewn to each other at both ends of these edges already: what is between is an opening, the end of a
    /// sleeve, a hem, a neckline.
    fn closes_an_end(&self, a: &Stretch, b: &Stretch) -> bool {
        let ends = |s: &Stretch| {
            let lines = &self.pattern.pieces[s.piece].lines;
            [(s.piece, lines[s.lines[0]].from), (s.piece, lines[s.lines[s.lines.len() - 1]].to)]
        };
        let ([p, q], [r, t]) = (ends(a), ends(b));
        let between = |s: &&costume::PatternSeam| s.a.iter().chain(&s.b).all(|r| r.piece == a.piece || r.piece == b.piece);
        let seams = self.pattern.seams.iter().filter(between).cloned().collect();
        let joints = costume::Joined::new(&Pattern { pieces: self.pattern.pieces.clone(), seams });
        a.piece != b.piece && a.on_loop && b.on_loop && joints.are_one(p, t) && joints.are_one(q, r)
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
        let no_place = (up > 0.8 && level < height("chest-front") + 0.08) || (up < -0.7 && level < height("waist-front") + 0.02);
        if opposite && ((along > 0.3 && no_place) || (a.hollow && b.hollow && level > height("waist-front"))) {
            return None;
        }
        if !opposite && a.piece != b.piece && facing < -0.3 && whole > SHORT && self.on_arm(a) == self.on_arm(b) {
            return None;
        }
        let apart = if opposite { mean(&|(a, b)| (a[0] - b[0]).with_z(0.0).length()) } else { whole };
        Some(Threads { apart, penalty: if crosses_legs { 1.0 } else { 0.0 } + if opposite { 0.02 } else { 0.0 } })
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

    fn runs(&self, s: &Stretch) -> Vec<Run> {
        let piece = &self.pattern.pieces[s.piece];
        let run = |&l: &usize| {
            let run = Run::whole(piece.id, piece.lines[l].id);
            if piece.lines[l].turned { run.turned() } else { run }
        };
        s.lines.iter().map(run).collect()
    }
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

/// Whether a straight way passes through a triangle, after Moeller and Trumbore (1997).
fn pierces([from, to]: [DVec3; 2], [a, b, c]: [DVec3; 3]) -> bool {
    let (way, u, v) = (to - from, b - a, c - a);
    let across = way.cross(v);
    let det = u.dot(across);
    if det.abs() < 1e-12 {
        return false;
    }
    let start = from - a;
    let (s, turned) = (start.dot(across) / det, start.cross(u));
    let (t, at) = (way.dot(turned) / det, v.dot(turned) / det);
    s >= 0.0 && t >= 0.0 && s + t <= 1.0 && (0.0..=1.0).contains(&at)
}

/// The bones of a posed body from joint to joint, m; the last of a limb as long as the one before it, the head up to its
/// crown and beyond, so that whatever closes around it is seen.
fn bones(form: &ContactBody) -> Vec<(bool, [DVec3; 2])> {
    let (skeleton, placed) = (&form.figure.rig.skeleton, &form.posed.placed);
    let is_arm = |k: usize| ["arm", "hand", "thumb", "finger"].iter().any(|n| skeleton.bones[k].name.contains(n));
    let joint = |k: usize| placed[k].transform_point3(skeleton.bones[k].joint);
    let mut made = Vec::new();
    let mut has_child = vec![false; skeleton.bones.len()];
    for (k, bone) in skeleton.bones.iter().enumerate() {
        if let Some(parent) = bone.parent {
            has_child[parent] = true;
            made.push((is_arm(k), [joint(parent), joint(k)]));
        }
    }
    for (k, bone) in skeleton.bones.iter().enumerate() {
        if let Some(parent) = bone.parent.filter(|_| !has_child[k]) {
            let way = joint(k) - joint(parent);
            made.push((is_arm(k), [joint(k), joint(k) + way.normalize_or_zero() * way.length().max(0.25)]));
        }
    }
    made
}

/// The free lines of a loop in rows that go on smoothly, as long as they can be.
fn smooth_chains(pattern: &Pattern, piece: usize, loop_: &[usize], free: impl Fn(usize) -> bool) -> Vec<Vec<usize>> {
    let n = loop_.len();
    let joins = |k: usize| free(loop_[k]) && free(loop_[(k + 1) % n]) && goes_on(pattern, piece, loop_[k], loop_[(k + 1) % n]);
    // begin where a row begins
    let start = (0..n).find(|&k| !joins((k + n - 1) % n)).unwrap_or(0);
    let mut rows: Vec<Vec<usize>> = Vec::new();
    for k in (0..n).map(|k| (start + k) % n).filter(|&k| free(loop_[k])) {
        match rows.last_mut() {
            Some(row) if k != start && joins((k + n - 1) % n) && row.len() < CHAIN => row.push(loop_[k]),
            _ => rows.push(vec![loop_[k]]),
        }
    }
    rows
}

/// Whether one line goes on smoothly as the next.
fn goes_on(pattern: &Pattern, piece: usize, line: usize, next: usize) -> bool {
    let [a, b] = [line, next].map(|l| &pattern.pieces[piece].lines[l].curve);
    let way = |from: costume::Point, to: costume::Point| (to.y - from.y).atan2(to.x - from.x);
    let before = way(costume::point_at(a, 0.98), costume::point_at(a, 1.0));
    let after = way(costume::point_at(b, 0.0), costume::point_at(b, 0.02));
    let turn = (after - before + 3.0 * PI).rem_euclid(2.0 * PI) - PI;
    turn.abs() < SMOOTH
}

fn stretch(pattern: &Pattern, piece: usize, lines: Vec<usize>, lies: Option<&Lying>, on_loop: bool) -> Stretch {
    let p = &pattern.pieces[piece];
    let length: f64 = lines.iter().map(|&l| p.lines[l].length).sum();
    let mut starts = vec![0.0];
    for &l in &lines {
        starts.push(starts[starts.len() - 1] + p.lines[l].length / length);
    }
    let at = |share: f64| {
        let k = (1..lines.len()).rev().find(|&k| starts[k] <= share).unwrap_or(0);
        let within = ((share - starts[k]) / (starts[k + 1] - starts[k])).clamp(0.0, 1.0);
        costume::point_at(&p.lines[lines[k]].curve, within)
    };
    let mut notches: Vec<f64> = Vec::new();
    for (k, &l) in lines.iter().enumerate() {
        let on = p.marks.iter().filter(|m| m.line == Some(l));
        notches.extend(
            on.filter_map(|m| if let Mark::Notch { at, .. } = m.mark { Some(starts[k] + at * (starts[k + 1] - starts[k])) } else { None }),
        );
    }
    notches.sort_by(f64::total_cmp);
    let hangs = lies.map(|lies| {
        std::array::from_fn(|k| {
            let share = k as f64 / (SAMPLES - 1) as f64;
            let (p, before, after) = (at(share), at((share - 0.02).max(0.0)), at((share + 0.02).min(1.0)));
            // loops have the cloth on their left; a small step to the right leads away from it
            let (x, y) = (after.x - before.x, after.y - before.y);
            let step = 5.0 / x.hypot(y).max(1e-9);
            let aside = costume::Point::new(p.x + y * step, p.y - x * step);
            let here = lies.at(p);
            [here, (lies.at(aside) - here).normalize_or_zero()]
        })
    });
    // loops run counter-clockwise: to the right it turns around what is cut away
    let way = |from: f64| {
        let (a, b) = (at(from), at(from + 0.05));
        (b.y - a.y).atan2(b.x - a.x)
    };
    let turn: f64 =
        (0..19).map(|k| (way(0.05 * f64::from(k + 1).min(18.0)) - way(0.05 * f64::from(k)) + 3.0 * PI).rem_euclid(2.0 * PI) - PI).sum();
    Stretch { piece, lines, length, notches, hangs, on_loop, is_twin: p.twin_of.is_some(), hollow: on_loop && turn < -HOLLOW }
}

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

fn proposal(costume: &Costume, pattern: &Pattern, table: &Table, a: &Stretch, b: &Stretch, cost: f64, reasons: Vec<String>) -> Proposal {
    let (runs_a, runs_b) = costume::sewn_together(costume, pattern, &table.runs(a), &table.runs(b));
    let name = |runs: &[Run]| side_name(costume, runs);
    Proposal {
        a_name: name(&runs_a),
        b_name: name(&runs_b),
        a: runs_a,
        b: runs_b,
        a_length: a.length,
        b_length: b.length,
        sure: false,
        cost,
        reasons,
    }
}

/// "Sleeve, edge 2 + 3", piece by piece.
fn side_name(costume: &Costume, runs: &[Run]) -> String {
    let mut parts: Vec<(PieceId, String)> = Vec::new();
    for run in runs {
        let whole = costume.line_name(run.piece, run.line);
        let short = whole.rsplit(' ').next().unwrap_or_default().to_owned();
        match parts.last_mut() {
            Some((piece, text)) if *piece == run.piece => text.push_str(&format!(" + {short}")),
            _ => parts.push((run.piece, whole)),
        }
    }
    parts.into_iter().map(|(_, text)| text).collect::<Vec<_>>().join(", ")
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
            if let Some(next) = sewn_on(&scratch, &pattern) {
                let Ok((sewn, _)) = costume::apply_on(&scratch, &pattern, &Edit::Sew { a: next.a.clone(), b: next.b.clone() }) else {
                    break;
                };
                scratch = sewn;
                found.push(next);
                continue;
            }
            let table = Table::new(&scratch, &pattern, form, whole).with_holes(&holes);
            let (pair, several) = (best(&scratch, &pattern, &table), over_several(&scratch, &pattern, &table));
            let next = match (pair, several) {
                (Some(p), Some(q)) => Some(if q.sure && q.cost < p.cost { q } else { p }),
                (one, other) => one.or(other.filter(|q| q.sure)),
            };
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
        let between = |s: &&costume::PatternSeam| s.a.iter().chain(&s.b).all(|r| r.piece == p0.0 || r.piece == q0.0);
        let seams = pattern.seams.iter().filter(between).cloned().collect();
        let joints = costume::Joined::new(&Pattern { pieces: pattern.pieces.clone(), seams });
        p.sure &= !(joints.are_one(p0, q0) && joints.are_one(p1, q1));
    }
}

/// A piece that is sewn onto the line that is marked for it: edges that follow each other and are as long, one by one.
fn sewn_on(costume: &Costume, pattern: &Pattern) -> Option<Proposal> {
    let is_free = |piece: PieceId, line: costume::LineId| {
        costume.seams.iter().flat_map(costume::Seam::runs).all(|r| (r.piece, r.line) != (piece, line))
    };
    for piece in pattern.pieces.iter().filter(|p| p.twin_of.is_none()) {
        for path in &piece.inside {
            let costume::Purpose::Placement { of } = path.purpose else { continue };
            let Some(on) = pattern.piece(of).filter(|o| o.twin_of.is_none() && o.outline.len() >= path.lines.len()) else { continue };
            let free = path.lines.iter().all(|&l| is_free(piece.id, piece.lines[l].id));
            let lengths: Vec<f64> = path.lines.iter().map(|&l| piece.lines[l].length).collect();
            let (n, m) = (on.outline.len(), lengths.len());
            // along the outline or against it
            let window = |first: usize, back: bool| -> Vec<usize> {
                (0..m).map(|k| on.outline[if back { first + n - k } else { first + k } % n]).collect()
            };
            let fits = |w: &Vec<usize>| w.iter().zip(&lengths).all(|(&l, want)| (on.lines[l].length - want).abs() < 0.01 * want + 0.5);
            // laid on the piece it turns the way the marked line does; a straight one does not tell
            let chords: Vec<kurbo::Vec2> = path
                .lines
                .iter()
                .map(|&l| kurbo::ParamCurve::end(&piece.lines[l].curve) - kurbo::ParamCurve::start(&piece.lines[l].curve))
                .collect();
            let turn: f64 = chords.windows(2).map(|w| w[0].cross(w[1])).sum();
            let found = (0..n).map(|first| (first, turn < 0.0)).find(|&(first, back)| fits(&window(first, back)));
            let Some((first, back)) = found.filter(|_| free) else { continue };
            let a: Vec<Run> = path.lines.iter().map(|&l| Run::whole(piece.id, piece.lines[l].id)).collect();
            let b: Vec<Run> =
                window(first, back).iter().map(|&l| Run::whole(on.id, on.lines[l].id)).map(|r| if back { r.turned() } else { r }).collect();
            if !b.iter().all(|r| is_free(r.piece, r.line)) {
                continue;
            }
            let length: f64 = lengths.iter().sum();
            let (a_name, b_name) = (side_name(costume, &a), side_name(costume, &b));
            let reasons = vec!["the line that is marked for it".into()];
            return Some(Proposal { a, b, a_name, b_name, a_length: length, b_length: length, sure: true, cost: 0.0, reasons });
        }
    }
    None
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

/// Whether the ways out of the cloth of two hung stretches are against each other on the whole, as of a band and what hangs
/// from it.
fn faces(a: &Stretch, b: &Stretch) -> bool {
    let out = |s: &Stretch| s.hangs.map_or(DVec3::ZERO, |h| h.iter().map(|h| h[1]).sum::<DVec3>().normalize_or_zero());
    out(a).dot(out(b)) < -0.2
}

/// A stretch and several of other pieces that lie along it one after the other, as a band lies along its panels.
fn over_several(costume: &Costume, pattern: &Pattern, table: &Table) -> Option<Proposal> {
    let mut found: Option<(f64, Proposal)> = None;
    for a in table.stretches.iter().filter(|s| s.hangs.is_some() && !s.is_twin && s.length > 150.0) {
        let Some(p) = a.hangs.map(|h| h.map(|h| h[0])) else { continue };
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
        for s in table.stretches.iter().filter(|s| s.piece != a.piece && s.on_loop) {
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
