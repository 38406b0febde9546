//! Pictures under the paper: laid, moved, turned, scaled and straightened.

use super::{fresh, missing, removed};
use crate::rules::{turn, within};
use crate::{Costume, Edit, Point, Projective, Quantity, Refusal, RefusalKind, Thing, Underlay, UnderlayId, limits};

/// mm of an inch.
const INCH: f64 = 25.4;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::LayUnderlay { underlay } => {
            let id = UnderlayId(fresh(costume));
            costume.underlays.push(Underlay { id, ..(**underlay).clone() });
        }
        Edit::TakeUnderlay { underlay } => removed(&mut costume.underlays, Thing::Underlay, |u| u.id == *underlay)?,
        Edit::ShowUnderlay { underlay, fade, locked } => {
            let found = find(costume, *underlay)?;
            (found.fade, found.locked) = (*fade, *locked);
        }
        Edit::MoveUnderlay { underlay, by } => moved(costume, *underlay, |p, _| Point::new(p.x + by.x, p.y + by.y))?,
        Edit::TurnUnderlay { underlay, by } => {
            within("turn", Quantity::TableAngle, *by, &limits::ANGLE)?;
            let (sin, cos) = by.to_radians().sin_cos();
            moved(costume, *underlay, |p, m| {
                let (x, y) = (p.x - m.x, p.y - m.y);
                Point::new(m.x + cos * x - sin * y, m.y + sin * x + cos * y)
            })?;
        }
        Edit::SetUnderlayDpi { underlay, dpi } => {
            within("resolution", Quantity::Dpi, *dpi, &limits::DPI)?;
            let factor = INCH / dpi / find(costume, *underlay)?.pixel();
            moved(costume, *underlay, |p, m| scaled(p, m, factor))?;
        }
        Edit::ScaleUnderlay { underlay, from, to, length } => {
            within("length", Quantity::Size, *length, &limits::UNDERLAY)?;
            let apart = from.distance(*to);
            within("distance of the two places", Quantity::Size, apart, &limits::UNDERLAY)?;
            moved(costume, *underlay, |p, _| scaled(p, *from, length / apart))?;
        }
        Edit::StraightenUnderlay { underlay, corners, width, height } => straighten(costume, *underlay, *corners, *width, *height)?,
        _ => unreachable!("the others are carried out elsewhere"),
    }
    Ok(())
}

fn find(costume: &mut Costume, id: UnderlayId) -> Result<&mut Underlay, Refusal> {
    costume.underlays.iter_mut().find(|u| u.id == id).ok_or_else(|| missing(Thing::Underlay))
}

fn scaled(p: Point, about: Point, factor: f64) -> Point {
    Point::new(about.x + factor * (p.x - about.x), about.y + factor * (p.y - about.y))
}

/// Puts every corner elsewhere, by where it is and where the middle is.
fn moved(costume: &mut Costume, id: UnderlayId, to: impl Fn(Point, Point) -> Point) -> Result<(), Refusal> {
    let found = find(costume, id)?;
    if found.locked {
        return Err(Refusal::of(&found.name, RefusalKind::UnderlayLocked));
    }
    let middle = found.middle();
    found.corners = found.corners.map(|c| to(c, middle));
    Ok(())
}

/// The sheet as it is when what was seen as a quadrilateral is a rectangle.
fn straighten(costume: &mut Costume, id: UnderlayId, seen: [Point; 4], width: f64, height: f64) -> Result<(), Refusal> {
    within("width", Quantity::Size, width, &limits::UNDERLAY)?;
    within("height", Quantity::Size, height, &limits::UNDERLAY)?;
    let name = find(costume, id)?.name.clone();
    let skew = || Refusal::of(&name, RefusalKind::NoRectangle);
    let turns: Vec<f64> = (0..4).map(|k| turn(seen[k], seen[(k + 1) % 4], seen[(k + 2) % 4])).collect();
    if !(turns.iter().all(|t| *t > 1.0) || turns.iter().all(|t| *t < -1.0)) {
        return Err(skew());
    }
    let middle = seen.iter().fold(Point::new(0.0, 0.0), |s, p| Point::new(s.x + 0.25 * p.x, s.y + 0.25 * p.y));
    // of the four ways in which it can lie straight, the nearest to how its first side lies
    let quarter = std::f64::consts::FRAC_PI_2;
    let angle = ((seen[1].y - seen[0].y).atan2(seen[1].x - seen[0].x) / quarter).round() * quarter;
    let side = if turns[0] > 0.0 { 1.0 } else { -1.0 };
    let (sin, cos) = angle.sin_cos();
    let (u, v) = ((cos * width / 2.0, sin * width / 2.0), (-sin * side * height / 2.0, cos * side * height / 2.0));
    let corner = |a: f64, b: f64| Point::new(middle.x + a * u.0 + b * v.0, middle.y + a * u.1 + b * v.1);
    let straight = [corner(-1.0, -1.0), corner(1.0, -1.0), corner(1.0, 1.0), corner(-1.0, 1.0)];
    let map = Projective::between(seen, straight).ok_or_else(skew)?;
    moved(costume, id, |p, _| map.at(p))?;
    // a picture that reaches over the horizon of this view would be turned inside out
    if find(costume, id)?.corners.iter().any(|c| !(c.x.is_finite() && c.y.is_finite())) {
        return Err(skew());
    }
    Ok(())
}
