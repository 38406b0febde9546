//! Sleeves. The foot of the armhole is at y = 0 and the cap rises above it.

use super::drafting::{Draft, PieceDraft, at, curved, length, mirrored_loop, on, solve};
use super::frame::{MEASURES, frame};
use super::{BlockValue, Recipe, Sheet};
use crate::{Finish, Point};
use kurbo::{CubicBez, ParamCurve};

/// Half width of a sleeve at the foot of its cap, and the height of the cap: each half of it is as long as the armhole and
/// half of the ease.
fn cap(s: &Sheet, armhole: f64, ease: f64, arm_ease: f64) -> (f64, f64) {
    let half_cap = armhole + 0.5 * ease;
    let half = (0.5 * (1.12 * s.m("upper-arm") + arm_ease)).min(0.95 * half_cap);
    let along = |h: f64| length((half, 0.0), (0.62 * half, 0.0), (0.5 * half, h), (0.0, h));
    (half, solve(1.0, half_cap, half_cap, along))
}

/// A sleeve whose cap is as long as both armholes with the ease; `full` is its whole length from the top of the cap.
pub(super) fn sleeve(s: &Sheet, armhole: f64, ease: f64, arm_ease: f64, full: f64) -> PieceDraft {
    let (half, h) = cap(s, armhole, ease, arm_ease);
    let low = (h - full).min(-20.0);
    // narrower the nearer it ends to the wrist
    let way = (full / s.m("arm-length").max(1.0)).clamp(0.0, 1.0);
    let hem = half + (0.5 * (s.m("wrist") + 80.0) - half) * way * way;
    let points = vec![
        at(-hem, low),
        at(hem, low),
        curved(half, 0.0, (0.62 * half, 0.0), (0.5 * half, h)),
        curved(0.0, h, (-0.5 * half, h), (-0.62 * half, 0.0)),
        at(-half, 0.0),
    ];
    let mut piece = PieceDraft::new("Sleeve", points);
    piece.twin = true;
    piece.hang = Some(("upper-arm-left", Point::new(0.0, h - 0.3 * s.m("arm-length"))));
    piece
}

const LENGTH: BlockValue = BlockValue::mm("length", "Length of the sleeve", 565.0, 120.0, 900.0).share_of("arm-length", 1.0);
const LONGER: BlockValue = BlockValue::mm("armhole", "Armhole longer than the bodice's by", 0.0, -80.0, 200.0);
const ARM_EASE: BlockValue = BlockValue::mm("arm-ease", "Ease at the upper arm", 60.0, 20.0, 300.0);
const CAP_EASE: BlockValue = BlockValue::mm("cap-ease", "Ease of the cap", 20.0, 0.0, 80.0);

/// Half of the armhole's length that a sleeve is drafted for: the bodice's with its usual ease, and what is added.
fn half_armhole(s: &Sheet) -> f64 {
    frame(s, 90.0, 15.0).armhole_length() + 0.5 * s.v("armhole")
}

pub(super) const SLEEVE: Recipe = Recipe {
    key: "sleeve",
    name: "Sleeve",
    help: "A straight sleeve and its twin, with a cap that fits the bodice's armhole",
    measures: MEASURES,
    values: &[LENGTH, ARM_EASE, CAP_EASE, LONGER],
    draft: |s: &Sheet| {
        let mut piece = sleeve(s, half_armhole(s), s.v("cap-ease"), s.v("arm-ease"), s.v("length"));
        // held at its level until it is joined to an armhole; the notches tell the front from the back
        piece.along = vec![(2, Finish::Stay), (3, Finish::Stay)];
        piece.notches = vec![(2, 0.4), (2, 0.45), (3, 0.6)];
        piece.hang = piece.hang.map(|(station, at)| (station, Point::new(at.x, at.y + LOWER)));
        Draft { pieces: vec![piece], seams: vec![[vec![on(0, 1)], vec![on(0, 4).back()]]] }
    },
};

/// A sleeve that is not joined to an armhole hangs so much lower, clear of the armpit, mm.
const LOWER: f64 = 40.0;

/// Share of the sleeve's half width up to which the upper part reaches.
const UPPER: f64 = 0.62;

pub(super) const TWO_PIECE: Recipe = Recipe {
    key: "two-piece-sleeve",
    name: "Two-piece sleeve",
    help: "Upper and under sleeve that bend forward at the elbow, and their twins",
    measures: MEASURES,
    values: &[
        LENGTH,
        ARM_EASE,
        CAP_EASE,
        LONGER,
        BlockValue::mm("hem", "Girth of the hem", 260.0, 160.0, 600.0).share_of("wrist", 1.6),
        BlockValue::mm("bend", "Bend at the wrist", 40.0, 0.0, 120.0).share_of("arm-length", 0.07),
    ],
    draft: |s: &Sheet| {
        let (full, bend) = (s.v("length"), s.v("bend"));
        let (half, h) = cap(s, half_armhole(s), s.v("cap-ease"), s.v("arm-ease"));
        let low = (h - full).min(-60.0);
        let elbow = (h - 0.53 * full).min(-20.0);
        // the cap is parted where the upper part ends; both parts keep its length
        let right = CubicBez::new((half, 0.0), (0.62 * half, 0.0), (0.5 * half, h), (0.0, h));
        let wide = UPPER * half;
        let t = solve(0.0, 1.0, -wide, |t| -right.eval(t).x);
        let (outer, inner) = (right.subsegment(0.0..t), right.subsegment(t..1.0));
        let (side, narrow) = (inner.p0, half - wide);
        // half of what the hem has; the sleeve bends to the front, which is at x < 0 on a left sleeve seen from outside
        let hem = (0.25 * s.v("hem") + 0.5 * (wide - narrow)).min(wide).max(0.5 * (wide - narrow) + 15.0);
        let taper = (wide - hem) / (side.y - low);
        let at_elbow = wide - taper * (side.y - elbow);
        // both parts have the same edges, nearer together at the under part by the difference of their widths
        let edge = |sign: f64, closer: f64| {
            let (top, middle, foot) = (sign * (wide - closer), sign * (at_elbow - closer) + 0.12 * bend, sign * (hem - closer) - bend);
            [(top, side.y), (middle, elbow), (foot, low)]
        };
        let drawn = |name: &'static str, closer: f64, top: Vec<crate::LoopPoint>| {
            let ([_, re, rf], [lt, le, lf]) = (edge(1.0, closer), edge(-1.0, closer));
            let mut points = vec![at(lf.0, lf.1), at(rf.0, rf.1), at(re.0, re.1)];
            points.extend(top);
            points.extend([at(lt.0, lt.1), at(le.0, le.1)]);
            let mut piece = PieceDraft::new(name, points);
            piece.twin = true;
            piece
        };
        let closer = wide - narrow;
        let mut upper = drawn(
            "Upper sleeve",
            0.0,
            vec![
                curved(side.x, side.y, (inner.p1.x, inner.p1.y), (inner.p2.x, inner.p2.y)),
                curved(0.0, h, (-inner.p2.x, h), (-inner.p1.x, inner.p1.y)),
            ],
        );
        // the outer ends of the cap, moved together under the arm
        let (a, b) = (outer.p1, outer.p2);
        let mut under = drawn(
            "Under sleeve",
            closer,
            vec![curved(narrow, side.y, (half - b.x, b.y), (half - a.x, a.y)), curved(0.0, 0.0, (a.x - half, a.y), (b.x - half, b.y))],
        );
        // seen from the body's side, front and back of the under part change places
        under.points = mirrored_loop(&under.points);
        let level = h - 0.3 * s.m("arm-length") + LOWER;
        upper.hang = Some(("upper-arm-left", Point::new(0.0, level)));
        // lower still: the bust is near the inner arm
        under.hang = Some(("under-arm-left", Point::new(0.0, level + LOWER)));
        upper.along = vec![(3, Finish::Stay), (4, Finish::Stay)];
        upper.notches = vec![(3, 0.2), (3, 0.25), (4, 0.8)];
        // lines of the mirrored under part, by those of the loop as it was drawn
        let b = |k: usize| (12 - k) % 7;
        let meets = |one: usize, two: usize| [vec![on(0, one), on(0, two)], vec![on(1, b(one)).back(), on(1, b(two)).back()]];
        let seams = vec![meets(1, 2), meets(5, 6)];
        Draft { pieces: vec![upper, under], seams }
    },
};
