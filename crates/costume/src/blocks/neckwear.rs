//! Collars, hoods and capes: what hangs from the neck.

use super::bands::HEIGHT;
use super::drafting::{Draft, PieceDraft, arc, at, curved, length, on, on_circle};
use super::{BlockValue, Recipe, Sheet};
use crate::{Finish, LoopPoint, Point};

const EASE: BlockValue = BlockValue::mm("ease", "Ease at the neck", 30.0, 0.0, 200.0);
const RISE: BlockValue = BlockValue::mm("rise", "Rise at the front", 12.0, 0.0, 60.0);

/// Outline of a stand, half as long as `x`: both edges curve up towards the front ends.
fn stand(x: f64, h: f64, rise: f64) -> Vec<LoopPoint> {
    let end = x - 0.1 * h;
    vec![
        curved(-x, rise, (-0.6 * x, 0.0), (0.6 * x, 0.0)),
        at(x, rise),
        curved(end, rise + h, (0.6 * x, h), (-0.6 * x, h)),
        at(-end, rise + h),
    ]
}

/// A stand around the neck, closed at the front; the ends part again when its seam is taken out.
fn hung_stand(s: &Sheet) -> PieceDraft {
    let x = 0.5 * (s.m("neck") + s.v("ease"));
    let mut piece = PieceDraft::new("Stand", stand(x, s.v("height"), s.v("rise")));
    piece.hang = Some(("neck-back", Point::new(0.0, 0.5 * s.v("height"))));
    piece.notches = vec![(0, 0.5)];
    piece
}

pub(super) const STAND: Recipe = Recipe {
    key: "collar",
    name: "Stand collar",
    help: "A collar that stands around the neck, closed at the front, to be joined to a neck line",
    measures: &["neck"],
    values: &[EASE, HEIGHT, RISE],
    draft: |s: &Sheet| {
        let mut collar = hung_stand(s);
        collar.name = "Collar";
        Draft { pieces: vec![collar], seams: vec![[vec![on(0, 1)], vec![on(0, 3).back()]]] }
    },
};

pub(super) const SHIRT: Recipe = Recipe {
    key: "shirt-collar",
    name: "Shirt collar with stand",
    help: "A stand around the neck and a collar that falls over it",
    measures: &["neck"],
    values: &[
        BlockValue::mm("ease", "Ease at the neck", 50.0, 0.0, 200.0),
        BlockValue::mm("height", "Height of the stand", 30.0, 10.0, 80.0),
        RISE,
        BlockValue::mm("fall", "Fall of the collar", 55.0, 20.0, 150.0),
        BlockValue::mm("point", "Length of the points", 25.0, 0.0, 100.0),
    ],
    draft: |s: &Sheet| {
        let stand = hung_stand(s);
        let (from, to) = (&stand.points[2], &stand.points[3]);
        let [a, b] = from.handles.unwrap_or([Point::new(from.x, from.y); 2]);
        // as long as the upper edge of the stand, and hung over it with that edge up
        let x = 0.5 * length((from.x, from.y), (a.x, a.y), (b.x, b.y), (to.x, to.y));
        let (fall, point) = (s.v("fall"), s.v("point"));
        let low = -fall - 0.6 * point;
        let points = vec![curved(-x - point, low, (-0.7 * x, -fall), (0.7 * x, -fall)), at(x + point, low), at(x, 0.0), at(-x, 0.0)];
        let mut collar = PieceDraft::new("Collar", points);
        collar.hang = Some(("neck-back", Point::new(0.0, -0.5 * s.v("height"))));
        let seams = vec![[vec![on(0, 1)], vec![on(0, 3).back()]], [vec![on(0, 2)], vec![on(1, 2)]]];
        Draft { pieces: vec![stand, collar], seams }
    },
};

pub(super) const HOOD: Recipe = Recipe {
    key: "hood",
    name: "Hood",
    help: "Two halves joined over the crown, to be joined to a neck line",
    measures: &["neck", "stature"],
    values: &[
        BlockValue::mm("ease", "Ease at the neck", 80.0, 0.0, 300.0),
        BlockValue::mm("height", "Height", 360.0, 200.0, 600.0).grown_from(250.0, "stature", 0.065),
        BlockValue::mm("depth", "Depth", 270.0, 150.0, 500.0).grown_from(170.0, "stature", 0.06),
    ],
    draft: |s: &Sheet| {
        let (h, d) = (s.v("height"), s.v("depth"));
        let half = (0.5 * (s.m("neck") + s.v("ease"))).min(0.95 * d);
        // the front edge on the left, the nape on the right: the left half as it is seen from its side
        let points = vec![
            at(0.0, 0.0),
            curved(half, 0.0, (half + 0.02 * d, 0.18 * h), (d, 0.3 * h)),
            curved(d, 0.5 * h, (d, 0.82 * h), (0.86 * d, h)),
            at(0.5 * d, h),
            at(0.0, 0.98 * h),
        ];
        let mut hood = PieceDraft::new("Hood", points);
        hood.twin = true;
        hood.hang = Some(("head-left", Point::new(0.5 * d, 0.45 * h)));
        // held at its level until it is joined to a neck line
        hood.along = vec![(0, Finish::Stay)];
        let crown = [on(0, 1), on(0, 2), on(0, 3)];
        Draft { pieces: vec![hood], seams: vec![[crown.to_vec(), crown.map(|s| s.of_twin()).to_vec()]] }
    },
};

/// How far the neck lies above the level of the chest.
pub(super) fn neck_over_chest(s: &Sheet) -> f64 {
    0.34 * s.m("back-waist")
}

/// Curves along an arc of a cape's part.
const ARCS: usize = 2;

pub(super) const CAPE: Recipe = Recipe {
    key: "cape",
    name: "Cape",
    help: "A sector of a circle from the neck, closed at the throat; back on the fold and fronts",
    measures: &["neck", "back-waist", "stature"],
    values: &[
        BlockValue::mm("ease", "Ease at the neck", 120.0, 40.0, 400.0),
        BlockValue::mm("length", "Length", 700.0, 200.0, 1300.0).share_of("stature", 0.41),
        BlockValue::mm("share", "Share of a circle", 60.0, 40.0, 90.0).counted("%"),
        BlockValue::mm("throat", "Closed at the throat by", 120.0, 20.0, 600.0),
    ],
    draft: |s: &Sheet| {
        let part = 0.9 * s.v("share");
        let radius = (s.m("neck") + s.v("ease")) / (4.0 * part.to_radians());
        let (far, throat) = (radius + s.v("length"), s.v("throat").min(0.8 * s.v("length")));
        let point = |r: f64, degrees: f64| {
            let (x, y) = on_circle(r, degrees);
            at(x, y)
        };
        // a quarter of the sector; its middle edge points down, at the right of the back and the left of the front
        let quarter = |name, station, from: f64| {
            let mut points = arc(far, from, part, ARCS);
            points.push(point(far, from + part));
            points.extend(arc(radius, from + part, -part, ARCS));
            points.push(point(radius, from));
            let mut piece = PieceDraft::new(name, points);
            piece.hang = Some((station, Point::new(0.0, -radius - neck_over_chest(s))));
            piece
        };
        let mut front = quarter("Front", "chest-front", 270.0);
        // down the middle, closed at the throat
        front.points.push(point(radius + throat, 270.0));
        front.twin = true;
        let mut back = quarter("Back", "chest-back", 270.0 - part);
        back.fold = Some(ARCS as u32);
        let seams = vec![
            // over the shoulder, and the throat
            [vec![on(0, ARCS)], vec![on(1, 2 * ARCS + 1).back()]],
            [vec![on(0, 2 * ARCS + 1)], vec![on(0, 2 * ARCS + 1).of_twin()]],
        ];
        Draft { pieces: vec![front, back], seams }
    },
};
