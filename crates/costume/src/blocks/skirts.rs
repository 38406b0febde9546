//! Skirts. The waist is at y = 0, lengths run down from it.

use super::bands::{band_seams, waistband};
use super::drafting::{Draft, PieceDraft, Side, arc, at, both_sides, curved, on, on_circle};
use super::{BlockValue, Recipe, Sheet};
use crate::Point;

pub(super) const EASE: BlockValue = BlockValue::mm("ease", "Ease at the waist", 20.0, 0.0, 300.0);
const LENGTH: BlockValue = BlockValue::mm("length", "Length", 600.0, 200.0, 1200.0).share_of("waist-height", 0.577);
pub(super) const BAND: BlockValue = BlockValue::mm("band", "Height of the band", 40.0, 15.0, 150.0);

/// From the waist down to the widest girth of the hips, as a share of the way to the fork.
const HIP_DEPTH: f64 = 0.72;
/// Curves along an arc of a skirt.
const ARCS: usize = 4;

/// From the lower edge of the band, whose middle is at the waist, down to the level of the hips.
pub(super) fn hip_depth(s: &Sheet) -> f64 {
    (HIP_DEPTH * (s.m("waist-height") - s.m("inseam")) - 0.5 * s.v("band")).max(40.0)
}

/// Two panels sewn at both sides, their lines `right` and `left`, and by their waists to a band of this girth and height.
fn banded(panels: [PieceDraft; 2], sides: [usize; 2], waist: impl Fn(usize) -> Vec<Side>, girth: f64, height: f64) -> Draft {
    let [front, back] = panels;
    let [one, two] = waistband(girth, height);
    let mut seams = both_sides([0, 1], sides).to_vec();
    seams.extend([[waist(0), vec![on(2, 0)]], [waist(1), vec![on(3, 0)]]]);
    seams.extend(band_seams(2));
    Draft { pieces: vec![front, back, one, two], seams }
}

pub(super) const CIRCLE: Recipe = Recipe {
    key: "circle-skirt",
    name: "Circle skirt",
    help: "A front and a back that make a share of a whole circle, on a waistband",
    measures: &["waist", "waist-height"],
    values: &[EASE, LENGTH, BlockValue::mm("share", "Share of a circle", 50.0, 25.0, 100.0).counted("%"), BAND],
    draft: |s: &Sheet| {
        let degrees = 1.8 * s.v("share");
        let girth = s.m("waist") + s.v("ease");
        // the waist is an arc of its circle: half the girth over the angle of a panel
        let radius = 0.5 * girth / degrees.to_radians();
        let start = 270.0 - 0.5 * degrees;
        let panel = |name, station| {
            let far = radius + s.v("length");
            let point = |(x, y)| at(x, y);
            let mut points = arc(far, start, degrees, ARCS);
            points.push(point(on_circle(far, start + degrees)));
            points.extend(arc(radius, start + degrees, -degrees, ARCS));
            points.push(point(on_circle(radius, start)));
            let mut piece = PieceDraft::new(name, points);
            piece.hang = Some((station, Point::new(0.0, -radius)));
            piece
        };
        let waist = |piece: usize| (0..ARCS).rev().map(|k| on(piece, ARCS + 1 + k).back()).collect();
        let panels = [panel("Skirt front", "waist-front"), panel("Skirt back", "waist-back")];
        banded(panels, [ARCS, 2 * ARCS + 1], waist, girth, s.v("band"))
    },
};

pub(super) const GATHERED: Recipe = Recipe {
    key: "gathered-skirt",
    name: "Gathered skirt",
    help: "Two straight lengths gathered into a waistband",
    measures: &["waist", "waist-height"],
    values: &[EASE, LENGTH, BlockValue::mm("fullness", "Fullness", 1.4, 1.1, 3.0).counted("×"), BAND],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let (x, l) = (0.25 * girth * s.v("fullness"), s.v("length"));
        let panel = |name, station| {
            let mut piece = PieceDraft::new(name, vec![at(-x, -l), at(x, -l), at(x, 0.0), at(-x, 0.0)]);
            piece.hang = Some((station, Point::new(0.0, 0.0)));
            piece
        };
        let panels = [panel("Skirt front", "waist-front"), panel("Skirt back", "waist-back")];
        banded(panels, [1, 3], |piece| vec![on(piece, 2).back()], girth, s.v("band"))
    },
};

/// Panels are as wide as at the hips for so far below them, mm: the hips of a body lie a little higher or lower than most.
const UPRIGHT: f64 = 25.0;

pub(super) const PANELLED: Recipe = Recipe {
    key: "panelled-skirt",
    name: "Panelled skirt",
    help: "Six panels, close at the hips and flared below, on a waistband",
    measures: &["waist", "hip", "waist-height", "inseam"],
    values: &[
        EASE,
        BlockValue::mm("hip-ease", "Ease at the hips", 40.0, 0.0, 300.0),
        LENGTH,
        BlockValue::mm("flare", "Flare at the hem", 600.0, 0.0, 3000.0).share_of("waist-height", 0.577),
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let (depth, l) = (hip_depth(s), s.v("length").max(hip_depth(s) + 60.0));
        let top = girth / 12.0;
        let hip = ((s.m("hip") + s.v("hip-ease")) / 12.0).max(top);
        let hem = hip + s.v("flare") / 12.0;
        // half a panel from its middle: hem, side out of the flare to below the hips, upright past them and on to the waist
        let low = depth + UPRIGHT;
        let (bend, flare) = (0.3 * (l - low), 0.3 * (hem - hip));
        let out = curved(hem, -l, (hem - flare, bend - l), (hip, -low - bend));
        let up = curved(hip, -low, (hip, -0.5 * depth), (top + 0.3 * (hip - top), -0.25 * depth));
        let down = curved(-top, 0.0, (-top - 0.3 * (hip - top), -0.25 * depth), (-hip, -0.5 * depth));
        let into = curved(-hip, -low, (-hip, -low - bend), (flare - hem, bend - l));
        let hung = |name, points, fold: Option<u32>, station, x: f64| {
            let mut piece = PieceDraft::new(name, points);
            (piece.fold, piece.twin) = (fold, fold.is_none());
            piece.hang = Some((station, Point::new(x, 0.0)));
            piece
        };
        let whole = || vec![at(-hem, -l), out, up, at(top, 0.0), down, into];
        let front = hung("Front panel", vec![at(0.0, -l), out, up, at(top, 0.0), at(0.0, 0.0)], Some(4), "waist-front", 0.0);
        let back = hung("Back panel", vec![at(0.0, 0.0), down, into, at(-hem, -l), at(0.0, -l)], Some(4), "waist-back", 0.0);
        // beside the middle panels, as far as these reach at the hem
        let beside = hip + hem;
        let side_front = hung("Side front panel", whole(), None, "waist-front", -beside);
        let side_back = hung("Side back panel", whole(), None, "waist-back", beside);
        let [one, two] = folded_band(3.0 * top, s.v("band"));
        let seams = vec![
            [vec![on(0, 1), on(0, 2)], vec![on(1, 5).back(), on(1, 4).back()]],
            [vec![on(1, 1), on(1, 2)], vec![on(2, 5).back(), on(2, 4).back()]],
            [vec![on(2, 1), on(2, 2)], vec![on(3, 2).back(), on(3, 1).back()]],
            [vec![on(1, 3), on(0, 3)], vec![on(4, 0).back()]],
            [vec![on(3, 0), on(2, 3)], vec![on(5, 0).back()]],
            [vec![on(4, 1)], vec![on(5, 3).back()]],
        ];
        Draft { pieces: vec![front, side_front, side_back, back, one, two], seams }
    },
};

/// A waistband drafted as halves on the fold, so that each takes both halves of what is sewn to it; `half` is half of
/// one piece's length.
fn folded_band(half: f64, height: f64) -> [PieceDraft; 2] {
    let [mut one, mut two] = waistband(4.0 * half, height);
    let y = 0.5 * height;
    one.points = vec![at(0.0, -y), at(half, -y), at(half, y), at(0.0, y)];
    two.points = vec![at(-half, -y), at(0.0, -y), at(0.0, y), at(-half, y)];
    (one.fold, two.fold) = (Some(3), Some(1));
    [one, two]
}

pub(super) const STRAIGHT: Recipe = Recipe {
    key: "straight-skirt",
    name: "Straight skirt",
    help: "Front and back on the fold with darts, on a waistband",
    measures: &["waist", "hip", "waist-height", "inseam"],
    values: &[
        EASE,
        BlockValue::mm("hip-ease", "Ease at the hips", 40.0, 0.0, 300.0),
        LENGTH,
        BlockValue::mm("flare", "Flare at the hem", 0.0, -60.0, 300.0),
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let (depth, l) = (hip_depth(s), s.v("length").max(hip_depth(s) + 60.0));
        let hip = (0.25 * (s.m("hip") + s.v("hip-ease"))).max(0.25 * girth);
        let waist = 0.25 * girth;
        // what the hips have over goes into the side and a dart, at most 40 mm into the dart
        let over = hip - waist;
        let dart = (0.5 * over).clamp(6.0, 40.0);
        let top = waist + dart;
        let hem = hip.max(top) + 0.25 * s.v("flare");
        // the waist rises by a centimetre towards the side, where the hips are round
        let rise = 10.0;
        let front = {
            let side = curved(hip, -depth, (hip, -0.55 * depth), (top + 0.35 * (hip - top), -0.25 * depth));
            let mut piece = PieceDraft::new("Skirt front", vec![at(0.0, -l), at(hem, -l), side, at(top, rise), at(0.0, 0.0)]);
            piece.fold = Some(4);
            piece.hang = Some(("waist-front", Point::new(0.0, 0.0)));
            piece.darts = vec![(3, 0.5, dart, 0.5 * depth)];
            piece
        };
        let back = {
            let side = curved(-top, rise, (-top - 0.35 * (hip - top), -0.25 * depth), (-hip, -0.55 * depth));
            let mut piece = PieceDraft::new("Skirt back", vec![at(0.0, 0.0), side, at(-hip, -depth), at(-hem, -l), at(0.0, -l)]);
            piece.fold = Some(4);
            piece.hang = Some(("waist-back", Point::new(0.0, 0.0)));
            piece.darts = vec![(0, 0.5, dart, 0.68 * depth)];
            piece
        };
        let [one, two] = folded_band(waist, s.v("band"));
        let seams = vec![
            [vec![on(0, 1), on(0, 2)], vec![on(1, 2).back(), on(1, 1).back()]],
            [vec![on(0, 3)], vec![on(2, 0).back()]],
            [vec![on(1, 0)], vec![on(3, 0).back()]],
            [vec![on(2, 1)], vec![on(3, 3).back()]],
        ];
        Draft { pieces: vec![front, back, one, two], seams }
    },
};
