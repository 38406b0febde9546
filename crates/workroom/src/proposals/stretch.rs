//! Stretches of edges: whole lines of a piece that go on smoothly, with where they hang and which way leads out of the cloth.

use crate::lying::Lying;
use costume::{Mark, Pattern, PatternLine, Point};
use glam::DVec3;
use std::f64::consts::PI;

/// Places along a stretch that are compared.
pub(super) const SAMPLES: usize = 9;
/// Most lines that go on smoothly from one to the next and are taken as one stretch.
const CHAIN: usize = 5;
/// Lines that turn by less than this where they meet go on smoothly, radians.
const SMOOTH: f64 = 0.05;
/// An edge that turns by so much into its cloth is a hole for the neck or an arm, radians.
const HOLLOW: f64 = 0.22;

/// A stretch of whole lines of one piece, walked along its loop.
pub(super) struct Stretch {
    pub piece: usize,
    pub lines: Vec<usize>,
    pub length: f64,
    /// Shares of its length at which notches lie.
    pub notches: Vec<f64>,
    /// Where it hangs, m, and which way leads away from its cloth; none for a piece that hangs nowhere.
    pub hangs: Option<[[DVec3; 2]; SAMPLES]>,
    /// On the outline or a cut-out, so that the cloth is on its left.
    pub on_loop: bool,
    /// Of the drawing that the piece shows: twins are sewn along with their partners.
    pub is_twin: bool,
    /// Bulges into its cloth, as a neckline or an armhole does.
    pub hollow: bool,
}

/// The free lines of a loop in rows that go on smoothly, as long as they can be.
pub(super) fn smooth_chains(pattern: &Pattern, piece: usize, loop_: &[usize], free: impl Fn(usize) -> bool) -> Vec<Vec<usize>> {
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
    let [line, next] = [line, next].map(|l| &pattern.pieces[piece].lines[l]);
    turn_between(line, next).abs() < SMOOTH
}

/// By how much the way turns to the left from the end of a line to the beginning of the next, radians.
pub(super) fn turn_between(line: &PatternLine, next: &PatternLine) -> f64 {
    let (a, b) = (&line.curve, &next.curve);
    let way = |from: Point, to: Point| (to.y - from.y).atan2(to.x - from.x);
    let before = way(costume::point_at(a, 0.98), costume::point_at(a, 1.0));
    let after = way(costume::point_at(b, 0.0), costume::point_at(b, 0.02));
    (after - before + 3.0 * PI).rem_euclid(2.0 * PI) - PI
}

/// Where a point of an edge hangs, m, and the way that leads out of its cloth; with a point before and one after it.
pub(super) fn hung(lies: &Lying, [before, p, after]: [Point; 3]) -> [DVec3; 2] {
    // loops have the cloth on their left; a small step to the right leads away from it
    let (x, y) = (after.x - before.x, after.y - before.y);
    let step = 5.0 / x.hypot(y).max(1e-9);
    let here = lies.at(p);
    [here, (lies.at(Point::new(p.x + y * step, p.y - x * step)) - here).normalize_or_zero()]
}

pub(super) fn stretch(pattern: &Pattern, piece: usize, lines: Vec<usize>, lies: Option<&Lying>, on_loop: bool) -> Stretch {
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
            hung(lies, [at((share - 0.02).max(0.0)), at(share), at((share + 0.02).min(1.0))])
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

/// How the lengths of two sides compare, the longer over the shorter.
pub(super) fn in_words(ratio: f64) -> String {
    match ratio {
        r if r <= 1.005 => "one length".into(),
        r if r <= 1.1 => format!("{:.1} % to ease", 100.0 * (r - 1.0)),
        r => format!("gathered {r:.1} : 1"),
    }
}
