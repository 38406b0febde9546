//! Bands, collars, cuffs and pockets: straight or nearly straight pieces.

use super::drafting::{Draft, PieceDraft, at, curved, on};
use super::{BlockValue, Recipe, Sheet};
use crate::{Finish, Point};

/// A waistband in two halves that are sewn at the sides and held at their level; pieces `first` and `first + 1` of a draft.
pub(super) fn waistband(length: f64, height: f64) -> [PieceDraft; 2] {
    let half = |name: &'static str, station: &'static str| {
        let (x, y) = (0.25 * length, 0.5 * height);
        let mut piece = PieceDraft::new(name, vec![at(-x, -y), at(x, -y), at(x, y), at(-x, y)]);
        piece.hang = Some((station, Point::new(0.0, 0.0)));
        piece.along = vec![(0, Finish::Stay), (2, Finish::StayTape)];
        piece
    };
    [half("Waistband front", "waist-front"), half("Waistband back", "waist-back")]
}

/// Seams at both ends of the halves.
pub(super) fn band_seams(first: usize) -> [[Vec<super::drafting::Side>; 2]; 2] {
    [[vec![on(first, 1)], vec![on(first + 1, 3).back()]], [vec![on(first, 3)], vec![on(first + 1, 1).back()]]]
}

const HEIGHT: BlockValue = BlockValue { key: "height", name: "Height", usual: 40.0, range: [10.0, 200.0], unit: "mm" };

pub(super) const WAISTBAND: Recipe = Recipe {
    key: "waistband",
    name: "Waistband",
    help: "Two halves around the waist, held at its level",
    measures: &["waist"],
    values: &[BlockValue { key: "ease", name: "Ease at the waist", usual: 20.0, range: [-50.0, 300.0], unit: "mm" }, HEIGHT],
    draft: |s: &Sheet| {
        let [front, back] = waistband(s.m("waist") + s.v("ease"), s.v("height"));
        Draft { pieces: vec![front, back], seams: band_seams(0).to_vec() }
    },
};

pub(super) const COLLAR: Recipe = Recipe {
    key: "collar",
    name: "Stand collar",
    help: "A collar that stands around the neck, to be joined to a neck line",
    measures: &["neck"],
    values: &[
        BlockValue { key: "ease", name: "Ease at the neck", usual: 30.0, range: [0.0, 200.0], unit: "mm" },
        HEIGHT,
        BlockValue { key: "rise", name: "Rise at the front", usual: 12.0, range: [0.0, 60.0], unit: "mm" },
    ],
    draft: |s: &Sheet| {
        let (x, h, rise) = (0.5 * (s.m("neck") + s.v("ease")), s.v("height"), s.v("rise"));
        // both edges curve up towards the front ends
        let points = vec![
            curved(-x, rise, (-0.6 * x, 0.0), (0.6 * x, 0.0)),
            at(x, rise),
            curved(x - 0.1 * h, rise + h, (0.6 * x, h), (-0.6 * x, h)),
            at(-x + 0.1 * h, rise + h),
        ];
        Draft { pieces: vec![PieceDraft::new("Collar", points)], seams: Vec::new() }
    },
};

pub(super) const CUFF: Recipe = Recipe {
    key: "cuff",
    name: "Cuff",
    help: "A band for the wrist, and its twin",
    measures: &["wrist"],
    values: &[BlockValue { key: "ease", name: "Ease at the wrist", usual: 50.0, range: [0.0, 200.0], unit: "mm" }, HEIGHT],
    draft: |s: &Sheet| {
        let (x, y) = (0.5 * (s.m("wrist") + s.v("ease")), 0.5 * s.v("height"));
        let mut cuff = PieceDraft::new("Cuff", vec![at(-x, -y), at(x, -y), at(x, y), at(-x, y)]);
        cuff.twin = true;
        Draft { pieces: vec![cuff], seams: Vec::new() }
    },
};

pub(super) const POCKET: Recipe = Recipe {
    key: "pocket",
    name: "Patch pocket",
    help: "A pocket with a pointed foot, to be sewn onto a panel",
    measures: &[],
    values: &[
        BlockValue { key: "width", name: "Width", usual: 140.0, range: [40.0, 400.0], unit: "mm" },
        BlockValue { key: "height", name: "Height", usual: 160.0, range: [40.0, 400.0], unit: "mm" },
        BlockValue { key: "point", name: "Point", usual: 20.0, range: [1.0, 100.0], unit: "mm" },
    ],
    draft: |s: &Sheet| {
        let (x, h, point) = (0.5 * s.v("width"), s.v("height"), s.v("point").min(0.6 * s.v("height")));
        let mut pocket = PieceDraft::new("Pocket", vec![at(-x, point), at(0.0, 0.0), at(x, point), at(x, h), at(-x, h)]);
        pocket.along = vec![(3, Finish::Hem { width: 25.0 })];
        Draft { pieces: vec![pocket], seams: Vec::new() }
    },
};
