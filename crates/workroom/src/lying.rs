//! Where a placed piece lies around its station before anything is cut: quick, close to the skin, and blind to what is in its
//! way. Good enough to see what lies beside what.

use crate::place::{Wrap, before_station, close_wrap, lies_at};
use body::{PosedBody, Station};
use costume::{PatternPiece, Placement, Point};
use glam::{DVec2, DVec3};
use kurbo::Shape;

/// A piece at its station.
pub(crate) struct Lying<'a> {
    station: &'a Station,
    placement: Placement,
    middle: DVec2,
    wrap: Wrap,
}

/// None for a piece without a place on this body.
pub(crate) fn lying<'a>(piece: &PatternPiece, posed: &'a PosedBody) -> Option<Lying<'a>> {
    let placement = piece.placement.clone()?;
    let station = posed.station(&placement.station)?;
    let middle = piece.outline_path().bounding_box().center();
    Some(Lying::new(station, placement, [middle.x, middle.y]))
}

impl<'a> Lying<'a> {
    /// A piece whose box has this middle (mm in its frame), at a place of a station.
    pub fn new(station: &'a Station, placement: Placement, middle: [f64; 2]) -> Self {
        Self { station, placement, middle: middle.into(), wrap: close_wrap(station) }
    }

    /// Where a point of the piece (mm in its frame) lies, m.
    pub fn at(&self, p: Point) -> DVec3 {
        let before = before_station(self.middle, &self.placement)(DVec2::new(p.x, p.y));
        lies_at(before * 0.001, self.station, &self.wrap)
    }
}
