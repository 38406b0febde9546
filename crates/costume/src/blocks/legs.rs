//! Trousers and leggings. The waist is at y = 0, lengths run down from it.

use super::bands::{band_seams, waistband};
use super::drafting::{Draft, PieceDraft, at, curved, mirrored_loop, on};
use super::skirts::{BAND, EASE, HIP_DEPTH};
use super::{BlockValue, Recipe, Sheet};
use crate::Point;

/// How much rounder the waist is than on a slender body, mm: a round belly takes a deeper and longer fork.
fn round(s: &Sheet) -> f64 {
    (s.m("waist") - 0.8 * s.m("hip")).max(0.0)
}

/// From the waist to the fork: the body's own depth, so many times, and a finger's width.
fn rise(s: &Sheet, times: f64) -> f64 {
    times * (s.m("waist-height") - s.m("inseam")) + 10.0 + 0.1 * round(s)
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
        let rise = rise(s, 1.15);
        let (ahead, behind) = (s.m("hip") / 14.0 + 8.0 + 0.1 * round(s), s.m("hip") / 7.0 + 8.0 + 0.1 * round(s));
        let low = -rise - s.v("leg").min(s.m("inseam") - 30.0);
        let hem = 0.25 * s.v("hem");
        let side = (quarter - 0.25 * girth).clamp(0.0, 40.0);
        // a leg of the left side: the fork on the left (x < 0), the side on the right; the back is taller behind
        let leg = |name, station, width: f64, fork: f64, tall: f64| {
            let middle = 0.5 * (width - fork);
            let points = vec![
                at(middle - hem, low),
                at(middle + hem, low),
                curved(width, -rise, (width, -0.6 * rise), (width - 0.4 * side, -0.25 * rise)),
                at(width - side, 0.0),
                at(0.0, tall),
                curved(0.0, -0.55 * rise, (0.0, -0.82 * rise), (-0.35 * fork, -rise)),
                at(-fork, -rise),
            ];
            let mut piece = PieceDraft::new(name, points);
            piece.twin = true;
            piece.hang = Some((station, Point::new(0.0, -HIP_DEPTH * s.m("waist-height"))));
            piece
        };
        let front = leg("Front", "hips-front", quarter, ahead, 0.0);
        // seen from behind the left leg is on the left: the back is the mirror image of the front's frame
        let back = {
            let mut piece = leg("Back", "hips-back", quarter, behind, 25.0);
            piece.points = mirrored_loop(&piece.points);
            piece
        };
        let [one, two] = waistband(girth, s.v("band"));
        // lines of the mirrored back: its k-th line is the (5 - k)-th of the loop as it was drawn, modulo seven
        let b = |k: usize| (12 - k) % 7;
        let mut seams = vec![
            // side and inner leg
            [vec![on(0, 1), on(0, 2)], vec![on(1, b(1)).back(), on(1, b(2)).back()]],
            [vec![on(0, 6)], vec![on(1, b(6)).back()]],
            // the fork, before and behind
            [vec![on(0, 4), on(0, 5)], vec![on(0, 4).of_twin(), on(0, 5).of_twin()]],
            [vec![on(1, b(5)), on(1, b(4))], vec![on(1, b(5)).of_twin(), on(1, b(4)).of_twin()]],
            // the waist: both fronts to the front band, both backs to the back band
            [vec![on(0, 3).of_twin(), on(0, 3).back()], vec![on(2, 0)]],
            [vec![on(1, b(3)).back(), on(1, b(3)).of_twin()], vec![on(3, 0)]],
        ];
        seams.extend(band_seams(2));
        Draft { pieces: vec![front, back, one, two], seams }
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
        let rise = rise(s, 1.12);
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
                curved(quarter, -rise, (quarter, -0.6 * rise), (quarter - 0.4 * side, -0.25 * rise)),
                at(quarter - side, 0.0),
                at(0.0, tall),
                curved(0.0, -0.55 * rise, (0.0, -0.82 * rise), (-0.35 * fork, -rise)),
                at(-fork, -rise),
                at(middle - knee, y_knee),
            ];
            let mut piece = PieceDraft::new(name, points);
            piece.twin = true;
            piece.hang = Some((station, Point::new(0.0, -HIP_DEPTH * s.m("waist-height"))));
            piece
        };
        let front = cut("Front", "hips-front", ahead, 0.0);
        let back = {
            let mut piece = cut("Back", "hips-back", behind, 25.0);
            piece.points = mirrored_loop(&piece.points);
            piece
        };
        let [one, two] = waistband(girth, s.v("band"));
        let b = |k: usize| (16 - k) % 9;
        let mut seams = vec![
            [vec![on(0, 1), on(0, 2), on(0, 3)], vec![on(1, b(1)).back(), on(1, b(2)).back(), on(1, b(3)).back()]],
            [vec![on(0, 7), on(0, 8)], vec![on(1, b(7)).back(), on(1, b(8)).back()]],
            [vec![on(0, 5), on(0, 6)], vec![on(0, 5).of_twin(), on(0, 6).of_twin()]],
            [vec![on(1, b(6)), on(1, b(5))], vec![on(1, b(6)).of_twin(), on(1, b(5)).of_twin()]],
            [vec![on(0, 4).of_twin(), on(0, 4).back()], vec![on(2, 0)]],
            [vec![on(1, b(4)).back(), on(1, b(4)).of_twin()], vec![on(3, 0)]],
        ];
        seams.extend(band_seams(2));
        Draft { pieces: vec![front, back, one, two], seams }
    },
};
