//! Skirts and trousers. The waist is at y = 0, lengths run down from it.

use super::bands::{band_seams, waistband};
use super::drafting::{Draft, PieceDraft, arc, at, curved, on};
use super::{BlockValue, Recipe, Sheet};
use crate::Point;

const EASE: BlockValue = BlockValue { key: "ease", name: "Ease at the waist", usual: 20.0, range: [0.0, 300.0], unit: "mm" };
const LENGTH: BlockValue = BlockValue { key: "length", name: "Length", usual: 600.0, range: [200.0, 1200.0], unit: "mm" };
const BAND: BlockValue = BlockValue { key: "band", name: "Height of the band", usual: 40.0, range: [15.0, 150.0], unit: "mm" };

/// From the waist down to the widest girth of the hips, as a share of the waist's height.
const HIP_DEPTH: f64 = 0.185;
/// Curves along an arc of a skirt.
const ARCS: usize = 4;

fn hip_depth(s: &Sheet) -> f64 {
    HIP_DEPTH * s.m("waist-height")
}

pub(super) const CIRCLE_SKIRT: Recipe = Recipe {
    key: "circle-skirt",
    name: "Circle skirt",
    help: "A front and a back that make a share of a whole circle, on a waistband",
    measures: &["waist"],
    values: &[EASE, LENGTH, BlockValue { key: "share", name: "Share of a circle", usual: 50.0, range: [25.0, 100.0], unit: "%" }, BAND],
    draft: |s: &Sheet| {
        let degrees = 1.8 * s.v("share");
        let girth = s.m("waist") + s.v("ease");
        // the waist is an arc of its circle: half the girth over the angle of a panel
        let radius = 0.5 * girth / degrees.to_radians();
        let start = 270.0 - 0.5 * degrees;
        let panel = |name, station| {
            let mut points = arc(radius + s.v("length"), start, degrees, ARCS);
            let end = (start + degrees).to_radians();
            points.push(at((radius + s.v("length")) * end.cos(), (radius + s.v("length")) * end.sin()));
            points.extend(arc(radius, start + degrees, -degrees, ARCS));
            let from = start.to_radians();
            points.push(at(radius * from.cos(), radius * from.sin()));
            let mut piece = PieceDraft::new(name, points);
            piece.hang = Some((station, Point::new(0.0, -radius)));
            piece
        };
        let [one, two] = waistband(girth, s.v("band"));
        let waist = |piece: usize| (0..ARCS).rev().map(|k| on(piece, ARCS + 1 + k).back()).collect::<Vec<_>>();
        let mut seams = vec![
            [vec![on(0, ARCS)], vec![on(1, 2 * ARCS + 1).back()]],
            [vec![on(0, 2 * ARCS + 1)], vec![on(1, ARCS).back()]],
            [waist(0), vec![on(2, 0)]],
            [waist(1), vec![on(3, 0)]],
        ];
        seams.extend(band_seams(2));
        Draft { pieces: vec![panel("Skirt front", "waist-front"), panel("Skirt back", "waist-back"), one, two], seams }
    },
};

pub(super) const GATHERED_SKIRT: Recipe = Recipe {
    key: "gathered-skirt",
    name: "Gathered skirt",
    help: "Two straight lengths gathered into a waistband",
    measures: &["waist"],
    values: &[EASE, LENGTH, BlockValue { key: "fullness", name: "Fullness", usual: 1.6, range: [1.1, 3.0], unit: "×" }, BAND],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let (x, l) = (0.25 * girth * s.v("fullness"), s.v("length"));
        let panel = |name, station| {
            let mut piece = PieceDraft::new(name, vec![at(-x, -l), at(x, -l), at(x, 0.0), at(-x, 0.0)]);
            piece.hang = Some((station, Point::new(0.0, 0.0)));
            piece
        };
        let [one, two] = waistband(girth, s.v("band"));
        let mut seams = vec![
            [vec![on(0, 1)], vec![on(1, 3).back()]],
            [vec![on(0, 3)], vec![on(1, 1).back()]],
            [vec![on(0, 2).back()], vec![on(2, 0)]],
            [vec![on(1, 2).back()], vec![on(3, 0)]],
        ];
        seams.extend(band_seams(2));
        Draft { pieces: vec![panel("Skirt front", "waist-front"), panel("Skirt back", "waist-back"), one, two], seams }
    },
};

pub(super) const STRAIGHT_SKIRT: Recipe = Recipe {
    key: "straight-skirt",
    name: "Straight skirt",
    help: "Front and back on the fold with darts, on a waistband",
    measures: &["waist", "hip", "waist-height"],
    values: &[
        EASE,
        BlockValue { key: "hip-ease", name: "Ease at the hips", usual: 40.0, range: [0.0, 300.0], unit: "mm" },
        LENGTH,
        BlockValue { key: "flare", name: "Flare at the hem", usual: 0.0, range: [-60.0, 300.0], unit: "mm" },
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let (depth, l) = (hip_depth(s), s.v("length").max(hip_depth(s) + 60.0));
        let hip = (0.25 * (s.m("hip") + s.v("hip-ease"))).max(0.25 * girth);
        let waist = 0.25 * girth;
        // what the hips have over goes into the side and a dart, at most 40 mm into the dart
        let over = hip - waist;
        let dart = (0.5 * over).min(40.0);
        let dart = if dart < 8.0 { 0.0 } else { dart };
        let top = waist + dart;
        let hem = hip + 0.25 * s.v("flare");
        // the waist rises by a centimetre towards the side, where the hips are round
        let rise = 10.0;
        let front = {
            let side = curved(hip, -depth, (hip, -0.55 * depth), (top + 0.35 * (hip - top), -0.25 * depth));
            let mut piece = PieceDraft::new("Skirt front", vec![at(0.0, -l), at(hem, -l), side, at(top, rise), at(0.0, 0.0)]);
            piece.fold = Some(4);
            piece.hang = Some(("waist-front", Point::new(0.0, 0.0)));
            if dart > 0.0 {
                piece.darts = vec![(3, 0.5, dart, 0.5 * depth)];
            }
            piece
        };
        let back = {
            let side = curved(-top, rise, (-top - 0.35 * (hip - top), -0.25 * depth), (-hip, -0.55 * depth));
            let mut piece = PieceDraft::new("Skirt back", vec![at(0.0, 0.0), side, at(-hip, -depth), at(-hem, -l), at(0.0, -l)]);
            piece.fold = Some(4);
            piece.hang = Some(("waist-back", Point::new(0.0, 0.0)));
            if dart > 0.0 {
                piece.darts = vec![(0, 0.5, dart, 0.68 * depth)];
            }
            piece
        };
        let [mut one, mut two] = waistband(girth, s.v("band"));
        // each half of the band takes both halves of its panel: it is drafted on the fold too
        for (band, name) in [(&mut one, "front"), (&mut two, "back")] {
            let (x, y) = (waist, 0.5 * s.v("band"));
            let right = vec![at(0.0, -y), at(x, -y), at(x, y), at(0.0, y)];
            let left = vec![at(-x, -y), at(0.0, -y), at(0.0, y), at(-x, y)];
            let is_front = name == "front";
            band.points = if is_front { right } else { left };
            band.fold = Some(if is_front { 3 } else { 1 });
        }
        let seams = vec![
            [vec![on(0, 1), on(0, 2)], vec![on(1, 2).back(), on(1, 1).back()]],
            [vec![on(0, 3)], vec![on(2, 0).back()]],
            [vec![on(1, 0)], vec![on(3, 0).back()]],
            [vec![on(2, 1)], vec![on(3, 3).back()]],
        ];
        Draft { pieces: vec![front, back, one, two], seams }
    },
};

pub(super) const TROUSERS: Recipe = Recipe {
    key: "trousers",
    name: "Trousers",
    help: "Fronts and backs with their twins, gathered into a waistband",
    measures: &["waist", "hip", "waist-height", "inseam", "ankle"],
    values: &[
        EASE,
        BlockValue { key: "hip-ease", name: "Ease at the hips", usual: 160.0, range: [60.0, 500.0], unit: "mm" },
        BlockValue { key: "leg", name: "Length of the inner leg", usual: 500.0, range: [80.0, 1000.0], unit: "mm" },
        BlockValue { key: "hem", name: "Girth of the hem", usual: 440.0, range: [200.0, 900.0], unit: "mm" },
        BAND,
    ],
    draft: |s: &Sheet| {
        let girth = s.m("waist") + s.v("ease");
        let quarter = 0.25 * (s.m("hip") + s.v("hip-ease"));
        let rise = s.m("waist-height") - s.m("inseam") + 25.0;
        let (ahead, behind) = (s.m("hip") / 16.0 + 8.0, s.m("hip") / 8.0 + 8.0);
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

/// The mirror image of a loop, again counter-clockwise: points in the other order, each with the curve that now leaves it.
fn mirrored_loop(points: &[crate::LoopPoint]) -> Vec<crate::LoopPoint> {
    let n = points.len();
    let m = |p: Point| Point::new(-p.x, p.y);
    (0..n)
        .map(|k| {
            let i = n - 1 - k;
            let before = &points[(i + n - 1) % n];
            let handles = before.handles.map(|[a, b]| [m(b), m(a)]);
            crate::LoopPoint { x: -points[i].x, y: points[i].y, handles }
        })
        .collect()
}
