//! Tubes, flared tubes and discs from a level or tilted line around the body: the quickest start for a skirt, a bodice, a
//! sleeve or a cape. The line is at y = 0 in the middle of each piece, lengths run down from it.

use super::drafting::{Draft, PieceDraft, at, both_sides, curved, on};
use super::neckwear::neck_over_chest;
use super::{BlockValue, Recipe, Sheet};
use crate::{Finish, LoopPoint, Point};
use std::f64::consts::{FRAC_PI_2, TAU};

const FLARE: BlockValue = BlockValue::mm("flare", "Wider at the hem by", 0.0, 0.0, 4000.0);
const TILT: BlockValue = BlockValue::mm("tilt", "Lower in front by", 0.0, -200.0, 200.0);

/// Curves along an edge of a piece.
const PARTS: usize = 4;
/// The first line of the upper edge, and those of the sides.
const TOP: usize = PARTS + 1;
const SIDES: [usize; 2] = [PARTS, 2 * PARTS + 1];

/// One piece of the surface of a cylinder or a cone, unrolled.
struct Panel {
    /// Half its width along the line around the body.
    half: f64,
    /// From the line to the tip of the cone; none for a cylinder.
    radius: Option<f64>,
    length: f64,
    /// How much deeper than the line its upper edge lies in the middle, and on its way to the sides, where it is on the line.
    dip: f64,
}

impl Panel {
    /// The point at a share of half the width and a way down from the line.
    fn place(&self, share: f64, down: f64) -> (f64, f64) {
        let x = share * self.half;
        match self.radius {
            None => (x, -down),
            Some(r) => ((r + down) * (x / r).sin(), r - (r + down) * (x / r).cos()),
        }
    }

    fn upper(&self, share: f64) -> (f64, f64) {
        self.place(share, self.dip * (share * FRAC_PI_2).cos())
    }

    /// Points of an edge from one share to another, each with its curve to the next.
    fn edge(&self, [from, to]: [f64; 2], of: impl Fn(f64) -> (f64, f64)) -> Vec<LoopPoint> {
        let step = (to - from) / PARTS as f64;
        let slope = |t: f64| {
            let h = 1e-4;
            let ((a, b), (c, d)) = (of(t - h), of(t + h));
            ((c - a) / (2.0 * h), (d - b) / (2.0 * h))
        };
        // as long as an arc wants its handles to be, which a straight line wants too
        let angle = self.radius.map_or(0.0, |r| 2.0 * self.half / PARTS as f64 / r);
        let reach = if angle > 0.0 { 4.0 / 3.0 * (0.25 * angle).tan() / angle } else { 1.0 / 3.0 };
        let third = |t: f64, way: f64| {
            let ((x, y), (u, v)) = (of(t), slope(t));
            (x + u * way * reach, y + v * way * reach)
        };
        (0..PARTS)
            .map(|k| {
                let t = from + step * k as f64;
                let (x, y) = of(t);
                curved(x, y, third(t, step), third(t + step, -step))
            })
            .collect()
    }

    fn points(&self) -> Vec<LoopPoint> {
        let corner = |(x, y)| at(x, y);
        let mut points = self.edge([-1.0, 1.0], |t| self.place(t, self.length));
        points.push(corner(self.place(1.0, self.length)));
        points.extend(self.edge([1.0, -1.0], |t| self.upper(t)));
        points.push(corner(self.upper(-1.0)));
        points
    }
}

/// A tube of this girth in so many even pieces; wider at the hem by a flare, which makes a whole disc when it is 2 π times the
/// length, and may not be more.
fn panel(girth: f64, length: f64, flare: f64, pieces: f64, dip: f64) -> Panel {
    let radius = (flare > 1.0).then(|| girth * length / flare);
    // what lies deeper than the line ends well above the hem
    Panel { half: 0.5 * girth / pieces, radius, length, dip: dip.clamp(-0.6 * length, 0.6 * length) }
}

fn piece(name: &'static str, panel: &Panel, station: &'static str, held: bool, below: f64) -> PieceDraft {
    let mut piece = PieceDraft::new(name, panel.points());
    piece.hang = Some((station, Point::new(0.0, -below)));
    if held {
        piece.along = (TOP..TOP + PARTS).map(|line| (line, Finish::Stay)).collect();
    }
    piece
}

/// Front and back around the trunk, sewn at both sides; its upper edge is held at its level.
fn around(s: &Sheet, measure: &str, [front, back]: [&'static str; 2]) -> Draft {
    let girth = s.m(measure) + s.v("ease");
    // two pieces hang before and behind the body before they are sewn; of more than half a disc they would not meet
    let flare = s.v("flare").min(0.5 * TAU * s.v("length"));
    let half = |name, station, dip| piece(name, &panel(girth, s.v("length"), flare, 2.0, dip), station, true, 0.0);
    let pieces = vec![half("Tube front", front, 0.5 * s.v("tilt")), half("Tube back", back, -0.5 * s.v("tilt"))];
    Draft { pieces, seams: both_sides([0, 1], SIDES).to_vec() }
}

pub(super) const WAIST: Recipe = Recipe {
    key: "waist-tube",
    name: "Tube from the waist",
    help: "A straight or flared tube, up to half a disc, held at the waist",
    measures: &["waist", "waist-height"],
    values: &[
        BlockValue::mm("ease", "Ease at the waist", 20.0, 0.0, 600.0),
        BlockValue::mm("length", "Length", 550.0, 100.0, 1200.0).share_of("waist-height", 0.53),
        // room for the hips and for walking
        BlockValue { usual: 700.0, ..FLARE }.share_of("waist-height", 0.67),
        TILT,
    ],
    draft: |s: &Sheet| around(s, "waist", ["waist-front", "waist-back"]),
};

pub(super) const CHEST: Recipe = Recipe {
    key: "chest-tube",
    name: "Tube from the chest",
    help: "A straight or flared tube, held at the widest part of the chest",
    measures: &["bust", "waist-height"],
    values: &[
        BlockValue::mm("ease", "Ease at the chest", 40.0, 0.0, 600.0),
        BlockValue::mm("length", "Length", 340.0, 80.0, 1400.0).share_of("waist-height", 0.33),
        FLARE,
        TILT,
    ],
    draft: |s: &Sheet| around(s, "bust", ["chest-front", "chest-back"]),
};

pub(super) const ARM: Recipe = Recipe {
    key: "arm-tube",
    name: "Tube around the upper arm",
    help: "One piece around the upper arm, and its twin, held at its level",
    measures: &["upper-arm", "arm-length"],
    values: &[
        BlockValue::mm("ease", "Ease at the upper arm", 60.0, 10.0, 400.0),
        BlockValue::mm("length", "Length", 200.0, 40.0, 600.0).share_of("arm-length", 0.35),
        // one piece goes once around the arm: more would lie double before it is sewn
        BlockValue { range: [0.0, 100.0], ..FLARE },
    ],
    draft: |s: &Sheet| {
        let girth = s.m("upper-arm") + s.v("ease");
        let mut tube = piece("Arm tube", &panel(girth, s.v("length"), s.v("flare"), 1.0, 0.0), "upper-arm-left", true, 0.0);
        tube.twin = true;
        let [right, left] = SIDES;
        Draft { pieces: vec![tube], seams: vec![[vec![on(0, right)], vec![on(0, left).back()]]] }
    },
};

pub(super) const NECK: Recipe = Recipe {
    key: "neck-disc",
    name: "Disc from the neck",
    help: "Front and back that make a share of a whole circle around the neck, sewn over the shoulders",
    measures: &["neck", "back-waist"],
    values: &[
        BlockValue::mm("ease", "Ease at the neck", 160.0, 60.0, 600.0),
        BlockValue::mm("length", "Length", 300.0, 80.0, 1200.0).share_of("back-waist", 0.75),
        BlockValue::mm("share", "Share of a circle", 75.0, 50.0, 100.0).counted("%"),
    ],
    draft: |s: &Sheet| {
        let girth = s.m("neck") + s.v("ease");
        let flare = TAU * s.v("length") * 0.01 * s.v("share");
        let panel = panel(girth, s.v("length"), flare, 2.0, 0.0);
        let half = |name, station| piece(name, &panel, station, false, neck_over_chest(s));
        Draft {
            pieces: vec![half("Disc front", "chest-front"), half("Disc back", "chest-back")],
            seams: both_sides([0, 1], SIDES).to_vec(),
        }
    },
};
