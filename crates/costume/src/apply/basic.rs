//! Pieces of basic shapes, of exact size; and pieces drawn in one stroke of the hand.

use super::pieces::{add, add_cutout};
use super::shaping::fitted;
use crate::curve::{from_kurbo, to_kurbo};
use crate::{Basic, Costume, Edit, LoopPoint, PieceId, Point, Quantity, Refusal, limits};
use kurbo::{Arc, CubicBez, PathEl, Vec2};

/// How far a cubic may be from the arc it stands for, mm.
const ROUND: f64 = 0.001;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::AddBasic { name, at, basic } => {
            let [outer, inner] = outlines(name, *basic)?;
            add(costume, name, *at, &outer)?;
            if !inner.is_empty() {
                let id = costume.pieces.last().map_or(PieceId(0), |p| p.id);
                add_cutout(costume, id, &inner)?;
            }
            Ok(())
        }
        Edit::AddFreehand { name, at, points, within } => {
            let mut way: Vec<kurbo::Point> = points.iter().map(|p| to_kurbo(*p)).collect();
            // closed: the stroke ends where it began
            way.extend(way.first().copied());
            add(costume, name, *at, &around(&fitted(&way, None, *within)?))
        }
        _ => Ok(()),
    }
}

/// The outline of a shape about its middle, and its cut-out if it has one.
fn outlines(name: &str, basic: Basic) -> Result<[Vec<LoopPoint>; 2], Refusal> {
    let size = |mm: f64| crate::rules::within(name, Quantity::Size, mm, &(limits::EDGE..=limits::TABLE));
    match basic {
        Basic::Rectangle { width, height } => {
            size(width)?;
            size(height)?;
            let (x, y) = (0.5 * width, 0.5 * height);
            let corners = [(-x, -y), (x, -y), (x, y), (-x, y)];
            Ok([corners.map(|(x, y)| Point::new(x, y).into()).to_vec(), Vec::new()])
        }
        Basic::Ellipse { width, height } => {
            size(width)?;
            size(height)?;
            Ok([around(&arc((0.5 * width, 0.5 * height), 0.0, 360.0)), Vec::new()])
        }
        Basic::Sector { outer, inner, degrees } => {
            size(outer)?;
            crate::rules::within(name, Quantity::Size, inner, &(0.0..=outer - limits::EDGE))?;
            crate::rules::within(name, Quantity::SectorAngle, degrees, &(1.0..=360.0))?;
            if degrees > 360.0 - 1e-9 {
                let hole = if inner > 0.0 { around(&arc((inner, inner), 0.0, 360.0)) } else { Vec::new() };
                return Ok([around(&arc((outer, outer), 0.0, 360.0)), hole]);
            }
            // the opening above, the middle of the arc below, as a skirt hangs
            let start = 270.0 - 0.5 * degrees;
            let mut points = open(&arc((outer, outer), start, degrees));
            if inner > 0.0 {
                points.extend(open(&arc((inner, inner), start + degrees, -degrees)));
            } else {
                points.push(Point::new(0.0, 0.0).into());
            }
            Ok([points, Vec::new()])
        }
    }
}

/// Cubics along an arc about the origin; degrees counter-clockwise from the x axis.
fn arc(radii: (f64, f64), from: f64, sweep: f64) -> Vec<CubicBez> {
    let arc = Arc::new((0.0, 0.0), Vec2::new(radii.0, radii.1), from.to_radians(), sweep.to_radians(), 0.0);
    let mut at = kurbo::Point::new(radii.0 * from.to_radians().cos(), radii.1 * from.to_radians().sin());
    arc.append_iter(ROUND)
        .filter_map(|el| match el {
            PathEl::CurveTo(a, b, c) => Some(CubicBez::new(std::mem::replace(&mut at, c), a, b, c)),
            _ => None,
        })
        .collect()
}

/// Points of a loop that goes along the curves and ends where it began.
fn around(curves: &[CubicBez]) -> Vec<LoopPoint> {
    curves.iter().map(|c| LoopPoint { x: c.p0.x, y: c.p0.y, handles: Some([from_kurbo(c.p1), from_kurbo(c.p2)]) }).collect()
}

/// Points along curves with a straight way on from their end.
fn open(curves: &[CubicBez]) -> Vec<LoopPoint> {
    let mut points = around(curves);
    points.extend(curves.last().map(|c| LoopPoint::from(from_kurbo(c.p3))));
    points
}
