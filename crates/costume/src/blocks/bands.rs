//! Bands, cuffs and pockets: straight or nearly straight pieces.

use super::drafting::{Draft, PieceDraft, Side, at, both_sides, on};
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
pub(super) fn band_seams(first: usize) -> [[Vec<Side>; 2]; 2] {
    both_sides([first, first + 1], [1, 3])
}

pub(super) const HEIGHT: BlockValue = BlockValue::mm("height", "Height", 40.0, 10.0, 200.0);

pub(super) const WAISTBAND: Recipe = Recipe {
    key: "waistband",
    name: "Waistband",
    help: "Two halves around the waist, held at its level",
    measures: &["waist"],
    values: &[BlockValue::mm("ease", "Ease at the waist", 20.0, -50.0, 300.0), HEIGHT],
    draft: |s: &Sheet| {
        let [front, back] = waistband(s.m("waist") + s.v("ease"), s.v("height"));
        Draft { pieces: vec![front, back], seams: band_seams(0).to_vec() }
    },
};

pub(super) const CUFF: Recipe = Recipe {
    key: "cuff",
    name: "Cuff",
    help: "A band for the wrist, and its twin",
    measures: &["wrist"],
    values: &[BlockValue::mm("ease", "Ease at the wrist", 50.0, 0.0, 200.0), HEIGHT],
    draft: |s: &Sheet| {
        let (x, y) = (0.5 * (s.m("wrist") + s.v("ease")), 0.5 * s.v("height"));
        let mut cuff = PieceDraft::new("Cuff", vec![at(-x, -y), at(x, -y), at(x, y), at(-x, y)]);
        cuff.twin = true;
        cuff.hang = Some(("wrist-left", Point::new(0.0, 0.0)));
        // held at its level until it is joined to a sleeve
        cuff.along = vec![(2, Finish::Stay)];
        Draft { pieces: vec![cuff], seams: vec![[vec![on(0, 1)], vec![on(0, 3).back()]]] }
    },
};

pub(super) const POCKET: Recipe = Recipe {
    key: "pocket",
    name: "Patch pocket",
    help: "A pocket with a pointed foot, to be sewn onto a panel",
    measures: &[],
    values: &[
        BlockValue::mm("width", "Width", 140.0, 40.0, 400.0),
        BlockValue::mm("height", "Height", 160.0, 40.0, 400.0),
        BlockValue::mm("point", "Point", 20.0, 1.0, 100.0),
    ],
    draft: |s: &Sheet| {
        let (x, h, point) = (0.5 * s.v("width"), s.v("height"), s.v("point").min(0.6 * s.v("height")));
        let mut pocket = PieceDraft::new("Pocket", vec![at(-x, point), at(0.0, 0.0), at(x, point), at(x, h), at(-x, h)]);
        // held at its level until it is sewn onto a panel
        pocket.along = vec![(3, Finish::Hem { width: 25.0 }), (3, Finish::Stay)];
        pocket.hang = Some(("hips-front", Point::new(0.0, 0.5 * h)));
        Draft { pieces: vec![pocket], seams: Vec::new() }
    },
};
