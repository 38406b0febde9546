//! Trousers and leggings. The waist is at y = 0, lengths run down from it.

use super::bands::{band_seams, waistband};
use super::drafting::{Draft, PieceDraft, Side, at, curved, mirrored_loop, on};
use super::skirts::{BAND, EASE, hip_depth};
use super::{BlockValue, Recipe, Sheet};
use crate::{LoopPoint, Point};

/// How much rounder the waist is than on a slender body, mm: a round belly takes a deeper and longer fork.
fn round(s: &Sheet) -> f64 {
    (s.m("waist") - 0.8 * s.m("hip")).max(0.0)
}

/// From the waist to the fork: the body's own depth, so many times, and a finger's width.
fn rise(s: &Sheet, times: f64) -> f64 {
    times * (s.m("waist-height") - s.m("inseam")) + 10.0 + 0.1 * round(s)
}

/// A leg of the left side as it hangs, by its points: the fork on the left (x < 0), the side on the right.
fn hung_leg(name: &'static str, station: &'static str, points: Vec<LoopPoint>, s: &Sheet) -> PieceDraft {
    let mut piece = PieceDraft::new(name, points);
    piece.twin = true;
    piece.hang = Some((station, Point::new(0.0, -hip_depth(s) - 0.5 * s.v("band"))));
    piece
}

/// Legs and their twins with a waistband. Both are drafted in one frame, after the hem as many lines of the side, then the
/// waist, two of the fork, and the inner leg.
fn sewn_legs(front: PieceDraft, mut back: PieceDraft, side: usize, s: &Sheet) -> Draft {
    // seen from behind the left leg is on the left: the back is the mirror image of the front's frame
    back.points = mirrored_loop(&back.points);
    // lines of the mirrored back, by those of the loop as it was drawn
    let n = front.points.len();
    let b = |k: usize| (2 * n - 2 - k) % n;
    let waist = side + 1;
    let (upper, lower) = (waist + 1, waist + 2);
    let meets = |lines: std::ops::Range<usize>| -> [Vec<Side>; 2] {
        let (f, k): (Vec<Side>, Vec<Side>) = lines.map(|l| (on(0, l), on(1, b(l)).back())).unzip();
        [f, k]
    };
    let [one, two] = waistband(s.m("waist") + s.v("ease"), s.v("band"));
    let mut seams = vec![
        // side and inner leg
        meets(1..waist),
        meets(lower + 1..n),
        // the fork, before and behind
        [vec![on(0, upper), on(0, lower)], vec![on(0, upper).of_twin(), on(0, lower).of_twin()]],
        [vec![on(1, b(lower)), on(1, b(upper))], vec![on(1, b(lower)).of_twin(), on(1, b(upper)).of_twin()]],
        // the waist: both fronts to the front band, both backs to the back band
        [vec![on(0, waist).of_twin(), on(0, waist).back()], vec![on(2, 0)]],
        [vec![on(1, b(waist)).back(), on(1, b(waist)).of_twin()], vec![on(3, 0)]],
    ];
    seams.extend(band_seams(2));
    Draft { pieces: vec![front, back, one, two], seams }
}

pub(super) const TROUSERS: Recipe = Recipe {
    key: "trousers",
    name: "Trousers",
    help: "Fronts and backs with their twins, gathered into a waistband",
    measures: &["waist", "hip", "waist-height", "inseam", "ankle"],
    values: &[
        EASE,
        BlockValue::mm("hip-ease", "Ease at the hips", 160.0, 60.0, 500.0).share_of("hip", 0.125),
        BlockValue::mm("leg", "Length of the inner leg", 500.0, 80.0, 1000.0).share_of("inseam", 0.645),
        BlockValue::mm("hem", "Girth of the hem", 440.0, 200.0, 900.0).share_of("hip", 0.454),
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let quarter = 0.25 * (s.m("hip") + s.v("hip-ease"));
        // the side has its full width from the hips down
        let (rise, hips) = (rise(s, 1.15), hip_depth(s));
        let (ahead, behind) = (s.m("hip") / 14.0 + 8.0 + 0.1 * round(s), s.m("hip") / 7.0 + 8.0 + 0.1 * round(s));
        let low = -rise - s.v("leg").min(s.m("inseam") - 30.0);
        let hem = 0.25 * s.v("hem");
        let side = (quarter - 0.25 * girth).clamp(0.0, 40.0);
        // the back is taller behind
        let leg = |name, station, width: f64, fork: f64, tall: f64| {
            let middle = 0.5 * (width - fork);
            let points = vec![
                at(middle - hem, low),
                at(middle + hem, low),
                curved(width, -rise, (width, -0.7 * hips), (width, -0.4 * hips)),
                at(width - side, 0.0),
                at(0.0, tall),
                curved(0.0, -0.55 * rise, (0.0, -0.82 * rise), (-0.35 * fork, -rise)),
                at(-fork, -rise),
            ];
            hung_leg(name, station, points, s)
        };
        let (front, back) = (leg("Front", "hips-front", quarter, ahead, 0.0), leg("Back", "hips-back", quarter, behind, 25.0));
        sewn_legs(front, back, 2, s)
    },
};

pub(super) const LEGGINGS: Recipe = Recipe {
    key: "leggings",
    name: "Leggings",
    help: "Close legs to the ankle, fronts and backs with their twins, on a waistband",
    measures: &["waist", "hip", "waist-height", "inseam", "thigh", "knee", "calf", "ankle"],
    values: &[
        EASE,
        BlockValue::mm("hip-ease", "Ease at the hips", 60.0, 0.0, 300.0),
        BlockValue::mm("leg-ease", "Ease along the leg", 60.0, 20.0, 300.0),
        BlockValue::mm("leg", "Length of the inner leg", 700.0, 80.0, 1000.0).share_of("inseam", 0.84),
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let quarter = 0.25 * (s.m("hip") + s.v("hip-ease"));
        let (rise, hips) = (rise(s, 1.12), hip_depth(s));
        let leg = s.v("leg").min(s.m("inseam") - 30.0);
        // lengths run from the body's own fork, which lies above that of the cloth
        let low = s.m("inseam") - s.m("waist-height") - leg;
        let half = |key: &str| 0.25 * (s.m(key) + s.v("leg-ease"));
        // the leg's girth at a share of the inner leg: thigh, knee and calf, at last the ankle with room for the heel
        let wide_at = |share: f64| {
            let marks = [(0.04, half("thigh")), (0.42, half("knee")), (0.6, half("calf")), (0.96, half("ankle").max(0.9 * half("calf")))];
            let k = marks.windows(2).position(|w| share < w[1].0).unwrap_or(2);
            let t = ((share - marks[k].0) / (marks[k + 1].0 - marks[k].0)).clamp(0.0, 1.0);
            marks[k].1 + (marks[k + 1].1 - marks[k].1) * t
        };
        let ends = leg / s.m("inseam");
        let (knee, y_knee) = (wide_at(0.42f64.min(ends)), -rise + 0.42f64.min(0.6 * ends) * (low + rise) / ends);
        let hem = wide_at(ends);
        let side = (quarter - 0.25 * girth).clamp(0.0, 40.0);
        let (ahead, behind) = (s.m("hip") / 15.0 + 0.1 * round(s), s.m("hip") / 8.0 + 0.1 * round(s));
        let cut = |name, station, fork: f64, tall: f64| {
            // front and back are as wide as the thigh together
            let middle = 0.5 * (quarter - fork);
            let points = vec![
                at(middle - hem, low),
                at(middle + hem, low),
                at(middle + knee, y_knee),
                curved(quarter, -rise, (quarter, -0.7 * hips), (quarter, -0.4 * hips)),
                at(quarter - side, 0.0),
                at(0.0, tall),
                curved(0.0, -0.55 * rise, (0.0, -0.82 * rise), (-0.35 * fork, -rise)),
                at(-fork, -rise),
                at(middle - knee, y_knee),
            ];
            hung_leg(name, station, points, s)
        };
        let (front, back) = (cut("Front", "hips-front", ahead, 0.0), cut("Back", "hips-back", behind, 25.0));
        sewn_legs(front, back, 3, s)
    },
};
