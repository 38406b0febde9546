//! Edits that shape lines and corners: bending a curve by a point of it, exact lengths and angles, rounding, dividing,
//! moving several corners at once, and fitting curves to points.

use super::lines::{at, line_mut, move_node, remove_node, smooth, split};
use super::{drawing, missing, own_frame};
use crate::curve::{self, arc_length, from_kurbo, heading, line_curve, to_kurbo};
use crate::fit::fit;
use crate::{Costume, Drawing, Edit, Line, LineEnd, LineId, NodeId, NodeKind, PieceId, Point, Quantity, Refusal, RefusalKind, Thing};
use kurbo::{CubicBez, ParamCurve, ParamCurveArclen, PathSeg, Vec2};

/// Nearest to an end of a curve at which it can be bent, in its parameter.
const BEND: f64 = 0.06;
/// Widest arc that one cubic stands for, radians; its radius is then off by less than 0.03 %.
const ONE_CUBIC: f64 = 1.6;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::BendLine { piece, line, at, to } => {
            let (drawing, mirrored) = drawing(costume, *piece)?;
            bend(drawing, *line, if mirrored { 1.0 - at } else { *at }, own_frame(*to, mirrored))
        }
        Edit::SetLength { piece, line, length, moves } => set_length(costume, *piece, *line, *length, *moves),
        Edit::AddEase { piece, line, amount } => add_ease(costume, *piece, *line, *amount),
        Edit::SetAngle { piece, line, degrees, moves } => {
            let (drawing, mirrored) = drawing(costume, *piece)?;
            turn_to(drawing, *line, if mirrored { 180.0 - degrees } else { *degrees }, *moves)
        }
        Edit::LevelLine { piece, line, plumb, moves } => level(drawing(costume, *piece)?.0, *line, *plumb, *moves),
        Edit::RoundCorner { piece, node, radius } => round(costume, *piece, *node, *radius),
        Edit::ChamferCorner { piece, node, length } => chamfer(costume, *piece, *node, *length),
        Edit::DivideLine { piece, line, parts } => divide(costume, *piece, *line, *parts),
        Edit::MoveNodes { piece, nodes, by, reach } => {
            let (drawing, mirrored) = drawing(costume, *piece)?;
            move_nodes(drawing, nodes, own_frame(*by, mirrored), *reach)
        }
        Edit::RedrawLine { piece, line, points, within } => redraw(costume, *piece, *line, points, *within),
        _ => Ok(()),
    }
}

fn found(drawing: &Drawing, line: LineId) -> Result<(Line, PathSeg), Refusal> {
    let found = *drawing.line(line).ok_or_else(|| missing(Thing::Edge))?;
    Ok((found, line_curve(drawing, &found).ok_or_else(|| missing(Thing::Corner))?))
}

/// Pulls the point of a line at the parameter `t` to a place, with the least change of its control points.
fn bend(drawing: &mut Drawing, line: LineId, t: f64, to: Point) -> Result<(), Refusal> {
    if !(0.0..=1.0).contains(&t) {
        return Err(Refusal::of("edge", RefusalKind::OutOfRange { of: Quantity::CornerShare, value: t, low: 0.0, high: 1.0 }));
    }
    let (line, whole) = found(drawing, line)?;
    let t = t.clamp(BEND, 1.0 - BEND);
    let c = curve::cubic(&whole);
    let step = to_kurbo(to) - c.eval(t);
    let (a, b) = (3.0 * (1.0 - t) * (1.0 - t) * t, 3.0 * (1.0 - t) * t * t);
    let square = a * a + b * b;
    line_mut(drawing, line.id)?.handles = Some([from_kurbo(c.p1 + step * (a / square)), from_kurbo(c.p2 + step * (b / square))]);
    for node in [line.from, line.to] {
        if drawing.node(node).is_some_and(|n| n.kind == NodeKind::Smooth) {
            smooth(drawing, node, Some(line.id));
        }
    }
    Ok(())
}

/// The line is scaled about the end that stays, so that its shape is kept.
fn set_length(costume: &mut Costume, piece: PieceId, line: LineId, length: f64, moves: LineEnd) -> Result<(), Refusal> {
    let name = costume.line_name(piece, line);
    let (drawing, _) = drawing(costume, piece)?;
    crate::rules::within(&name, Quantity::LineLength, length, &(crate::limits::EDGE..=2.0 * crate::limits::TABLE))?;
    let (_, whole) = found(drawing, line)?;
    let factor = length / arc_length(&whole).max(f64::MIN_POSITIVE);
    place(drawing, line, moves, |fixed, p| fixed + (p - fixed) * factor)
}

/// Halvings until a wanted length is met, and steps towards a bow that is long enough.
const HALVINGS: usize = 50;
const DOUBLINGS: usize = 12;

/// The control points of a line move away from the piece, square to its chord, until it is longer by the amount (or shorter,
/// below zero: a straight line cannot be).
fn add_ease(costume: &mut Costume, piece: PieceId, line: LineId, amount: f64) -> Result<(), Refusal> {
    let name = costume.line_name(piece, line);
    let (drawing, _) = drawing(costume, piece)?;
    let (own, whole) = found(drawing, line)?;
    let c = curve::cubic(&whole);
    let (chord, length) = (c.p3 - c.p0, arc_length(&whole));
    crate::rules::within(&name, Quantity::LineLength, length + amount, &(chord.hypot() + 0.01..=(3.0 * length).max(1.0)))?;
    // the cloth lies to the left of an outline, and of a cut-out as well
    let out = Vec2::new(chord.y, -chord.x) / chord.hypot().max(f64::MIN_POSITIVE);
    let moved = |by: f64| kurbo::CubicBez::new(c.p0, c.p1 + out * by, c.p2 + out * by, c.p3);
    let long = |by: f64| moved(by).arclen(1e-7);
    // a line that bows inwards bows more to be longer
    let middle = 0.5 * ((c.p1 - c.p0).dot(out) + (c.p2 - c.p0).dot(out));
    let way = if middle < -1e-6 { -1.0 } else { 1.0 } * amount.signum();
    let wanted = length + amount;
    let beyond = |by: f64| if amount > 0.0 { long(by * way) >= wanted } else { long(by * way) <= wanted };
    let mut far = 0.05 * chord.hypot().max(1.0);
    let mut tries = 0;
    while !beyond(far) && tries < DOUBLINGS {
        (far, tries) = (if amount > 0.0 { 2.0 * far } else { (1.4 * far).min(middle.abs()) }, tries + 1);
    }
    let (mut near, mut high) = (0.0, far);
    for _ in 0..HALVINGS {
        let half = 0.5 * (near + high);
        if beyond(half) { high = half } else { near = half }
    }
    if (long(high * way) - wanted).abs() > 0.01 {
        let (low, high) = (chord.hypot(), 3.0 * length);
        return Err(Refusal::of(name, RefusalKind::OutOfRange { of: Quantity::LineLength, value: wanted, low, high }));
    }
    let made = moved(high * way);
    let handles = Some([from_kurbo(made.p1), from_kurbo(made.p2)]);
    if let Some(line) = drawing.lines.iter_mut().find(|l| l.id == own.id) {
        line.handles = handles;
    }
    Ok(())
}

/// The line is turned about the end that stays until its chord has this angle from the x axis.
fn turn_to(drawing: &mut Drawing, line: LineId, degrees: f64, moves: LineEnd) -> Result<(), Refusal> {
    crate::rules::within("edge", Quantity::LineAngle, degrees, &crate::limits::ANGLE)?;
    let (_, whole) = found(drawing, line)?;
    let turn = Vec2::from_angle(degrees.to_radians() - (whole.end() - whole.start()).atan2());
    place(drawing, line, moves, |fixed, p| {
        let d = p - fixed;
        fixed + Vec2::new(d.x * turn.x - d.y * turn.y, d.x * turn.y + d.y * turn.x)
    })
}

/// Moves the control points and one end of a line, as seen from the end that stays; what else meets there goes along.
fn place(
    drawing: &mut Drawing,
    line: LineId,
    moves: LineEnd,
    image: impl Fn(kurbo::Point, kurbo::Point) -> kurbo::Point,
) -> Result<(), Refusal> {
    let (line, whole) = found(drawing, line)?;
    let (fixed, node) = if moves == LineEnd::To { (whole.start(), line.to) } else { (whole.end(), line.from) };
    let of = |p: Point| from_kurbo(image(fixed, to_kurbo(p)));
    let handles = line.handles.map(|h| h.map(of));
    let to = of(at(drawing, node)?);
    move_node(drawing, node, to)?;
    line_mut(drawing, line.id)?.handles = handles;
    Ok(())
}

/// Brings the end that moves level with the other, or plumb above or below it.
fn level(drawing: &mut Drawing, line: LineId, plumb: bool, moves: LineEnd) -> Result<(), Refusal> {
    let line = *drawing.line(line).ok_or_else(|| missing(Thing::Edge))?;
    let (fixed, moved) = if moves == LineEnd::To { (line.from, line.to) } else { (line.to, line.from) };
    let (stays, p) = (at(drawing, fixed)?, at(drawing, moved)?);
    move_node(drawing, moved, if plumb { Point::new(stays.x, p.y) } else { Point::new(p.x, stays.y) })
}

/// The lines that arrive at a corner and leave it, in one chain.
fn at_corner(drawing: &Drawing, node: NodeId) -> Result<(LineId, LineId), Refusal> {
    super::lines::joined_at(drawing, node).filter(|(a, b)| a != b).ok_or_else(|| missing(Thing::Corner))
}

/// Cuts both lines at a corner at the parameters given, and puts one straight line in the place of what was between.
fn cut_corner(costume: &mut Costume, piece: PieceId, node: NodeId, s: f64, t: f64) -> Result<LineId, Refusal> {
    let owner = costume.owner(piece);
    let (a, b) = at_corner(drawing(costume, owner)?.0, node)?;
    let (_, between) = split(costume, owner, a, s, false)?;
    split(costume, owner, b, t, false)?;
    remove_node(costume, owner, node)?;
    line_mut(drawing(costume, owner)?.0, between)?.handles = None;
    Ok(between)
}

/// Puts an arc of the given radius in the place of a corner; it touches both lines.
fn round(costume: &mut Costume, piece: PieceId, node: NodeId, radius: f64) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let name = costume.piece_name(piece);
    let (drawing, _) = drawing(costume, owner)?;
    let (a, b) = at_corner(drawing, node)?;
    let (one, two) = (curve::cubic(&found(drawing, a)?.1), curve::cubic(&found(drawing, b)?.1));
    let no_room = || Refusal::of(&name, RefusalKind::NoRoomToRound { radius });
    let touch = tangent_circle(one, two, radius).ok_or_else(no_room)?;
    let least = crate::limits::EDGE;
    let left = [arc_length(&PathSeg::Cubic(one.subsegment(0.0..touch.s))), arc_length(&PathSeg::Cubic(two.subsegment(touch.t..1.0)))];
    if left.iter().any(|l| *l < least) {
        return Err(no_room());
    }
    let arc = cut_corner(costume, owner, node, touch.s, touch.t)?;
    let arcs = if touch.sweep.abs() > ONE_CUBIC { 2 } else { 1 };
    let mut lines = vec![arc];
    if arcs == 2 {
        lines.push(split(costume, owner, arc, 0.5, false)?.1);
    }
    let start = (one.eval(touch.s) - touch.centre).atan2();
    let point = |k: f64| touch.centre + Vec2::from_angle(start + touch.sweep * k / f64::from(arcs)) * touch.radius.abs();
    // the usual cubic for an arc: control points along the tangents
    let reach = 4.0 / 3.0 * (touch.sweep / f64::from(arcs) / 4.0).tan() * touch.radius.abs();
    let tangent = |k: f64| Vec2::from_angle(start + touch.sweep * k / f64::from(arcs) + std::f64::consts::FRAC_PI_2);
    let (drawing, _) = super::drawing(costume, owner)?;
    for (k, id) in lines.iter().enumerate() {
        let k = k as f64;
        let line = line_mut(drawing, *id)?;
        line.handles = Some([from_kurbo(point(k) + tangent(k) * reach), from_kurbo(point(k + 1.0) - tangent(k + 1.0) * reach)]);
        let to = line.to;
        if k == 0.0 && arcs == 2 {
            drawing.nodes.iter_mut().filter(|n| n.id == to).for_each(|n| (n.at, n.kind) = (from_kurbo(point(1.0)), NodeKind::Smooth));
        }
    }
    Ok(())
}

/// Where a circle touches two curves that meet.
struct Touch {
    /// Parameters of the first and second curve.
    s: f64,
    t: f64,
    centre: kurbo::Point,
    /// Positive to the left of the way.
    radius: f64,
    /// Angle of the arc, positive counter-clockwise.
    sweep: f64,
}

/// The circle of a radius that touches the end of one curve and the beginning of the next, by Newton's method on the two
/// parameters; none when there is no room for it.
fn tangent_circle(one: CubicBez, two: CubicBez, radius: f64) -> Option<Touch> {
    let (u, v) = (heading(&one, 1.0), heading(&two, 0.0));
    let turn = u.cross(v).atan2(u.dot(v));
    if radius.is_nan() || radius <= 0.0 || turn.abs() < 1e-3 {
        return None;
    }
    let signed = radius * turn.signum();
    let centre = |c: &CubicBez, t: f64| {
        let d = heading(c, t);
        c.eval(t) + Vec2::new(-d.y, d.x) * signed
    };
    let reach = radius * (0.5 * turn.abs()).tan();
    let [l, m] = [one, two].map(|c| arc_length(&PathSeg::Cubic(c)).max(1e-9));
    let (mut s, mut t) = ((1.0 - reach / l).clamp(0.02, 0.98), (reach / m).clamp(0.02, 0.98));
    let gap = |s: f64, t: f64| centre(&one, s) - centre(&two, t);
    for _ in 0..60 {
        let f = gap(s, t);
        if f.hypot() < 1e-9 {
            break;
        }
        const H: f64 = 1e-6;
        let (fs, ft) = ((gap(s + H, t) - f) / H, (gap(s, t + H) - f) / H);
        let det = fs.cross(ft);
        if det.abs() < 1e-12 {
            return None;
        }
        let (ds, dt) = (-f.cross(ft) / det, -fs.cross(f) / det);
        let scale = (0.25 / ds.abs().max(dt.abs())).min(1.0);
        (s, t) = ((s + ds * scale).clamp(-0.5, 1.5), (t + dt * scale).clamp(-0.5, 1.5));
    }
    if gap(s, t).hypot() > 1e-6 || !(0.0..1.0).contains(&s) || !(0.0..1.0).contains(&t) || t == 0.0 {
        return None;
    }
    let (p, q) = (heading(&one, s), heading(&two, t));
    Some(Touch { s, t, centre: centre(&one, s), radius: signed, sweep: p.cross(q).atan2(p.dot(q)) })
}

/// Cuts a corner off straight, at this length along both lines.
fn chamfer(costume: &mut Costume, piece: PieceId, node: NodeId, length: f64) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let name = costume.piece_name(piece);
    let (drawing, _) = drawing(costume, owner)?;
    let (a, b) = at_corner(drawing, node)?;
    let (one, two) = (found(drawing, a)?.1, found(drawing, b)?.1);
    let (l, m) = (arc_length(&one), arc_length(&two));
    if length.is_nan() || length < crate::limits::EDGE || length > l.min(m) - crate::limits::EDGE {
        return Err(Refusal::of(name, RefusalKind::NoRoomToRound { radius: length }));
    }
    let (s, t) = (curve::parameter(&one, 1.0 - length / l), curve::parameter(&two, length / m));
    cut_corner(costume, owner, node, s, t).map(|_| ())
}

/// Equal parts of its length.
fn divide(costume: &mut Costume, piece: PieceId, line: LineId, parts: u8) -> Result<(), Refusal> {
    crate::rules::within("parts", Quantity::Parts, f64::from(parts), &(2.0..=100.0))?;
    let owner = costume.owner(piece);
    let mut rest = line;
    for left in (2..=parts).rev() {
        rest = split(costume, owner, rest, 1.0 / f64::from(left), true)?.1;
    }
    Ok(())
}

/// Moves nodes; those within reach of them follow the less, the farther they are.
fn move_nodes(drawing: &mut Drawing, nodes: &[NodeId], by: Point, reach: f64) -> Result<(), Refusal> {
    let held: Vec<Point> = nodes.iter().map(|n| at(drawing, *n)).collect::<Result<_, _>>()?;
    let share = |p: Point| {
        let nearest = held.iter().map(|h| h.distance(p)).fold(f64::MAX, f64::min);
        let u = if reach > 0.0 { (1.0 - nearest / reach).max(0.0) } else { 0.0 };
        u * u * (3.0 - 2.0 * u)
    };
    let steps: Vec<(NodeId, Point, f64)> =
        drawing.nodes.iter().map(|n| (n.id, n.at, if nodes.contains(&n.id) { 1.0 } else { share(n.at) })).collect();
    for (node, p, share) in steps.into_iter().filter(|s| s.2 > 0.0) {
        move_node(drawing, node, Point::new(p.x + by.x * share, p.y + by.y * share))?;
    }
    Ok(())
}

/// Puts curves of few nodes through points in the place of a line; its ends stay, what lies on it keeps its share.
fn redraw(costume: &mut Costume, piece: PieceId, line: LineId, points: &[Point], within: f64) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let (drawing, mirrored) = drawing(costume, piece)?;
    let (_, whole) = found(drawing, line)?;
    let mut way: Vec<kurbo::Point> = points.iter().map(|p| to_kurbo(own_frame(*p, mirrored))).collect();
    if mirrored {
        way.reverse();
    }
    let curves = fitted(&way, Some([whole.start(), whole.end()]), within)?;
    let lengths: Vec<f64> = curves.iter().map(|c| arc_length(&PathSeg::Cubic(*c))).collect();
    let mut left: f64 = lengths.iter().sum();
    let mut rest = line;
    for (k, c) in curves.iter().enumerate() {
        let handles = Some([from_kurbo(c.p1), from_kurbo(c.p2)]);
        if k + 1 == curves.len() {
            line_mut(super::drawing(costume, owner)?.0, rest)?.handles = handles;
            break;
        }
        let (node, next) = split(costume, owner, rest, lengths[k] / left, true)?;
        left -= lengths[k];
        let (drawing, _) = super::drawing(costume, owner)?;
        line_mut(drawing, rest)?.handles = handles;
        let smooth = (c.p3 - c.p2).normalize().dot((curves[k + 1].p1 - c.p3).normalize()) > 0.999;
        let kind = if smooth { NodeKind::Smooth } else { NodeKind::Corner };
        drawing.nodes.iter_mut().filter(|n| n.id == node).for_each(|n| (n.at, n.kind) = (from_kurbo(c.p3), kind));
        rest = next;
    }
    Ok(())
}

/// Curves through points; the ends given are kept.
pub(super) fn fitted(way: &[kurbo::Point], ends: Option<[kurbo::Point; 2]>, within: f64) -> Result<Vec<CubicBez>, Refusal> {
    crate::rules::within("curve", Quantity::Tolerance, within, &(0.01..=100.0))?;
    let most = crate::limits::STROKE;
    if way.len() < 2 || way.len() > most {
        return Err(Refusal::of("curve", RefusalKind::PathPoints { count: way.len(), most }));
    }
    if !way.iter().all(|p| p.x.abs() <= crate::limits::TABLE && p.y.abs() <= crate::limits::TABLE) {
        return Err(Refusal::of("curve", RefusalKind::OffTable { metres: crate::limits::TABLE / 1000.0 }));
    }
    let mut way = way.to_vec();
    if let Some([first, last]) = ends {
        way[0] = first;
        let end = way.len() - 1;
        way[end] = last;
    }
    let curves = fit(&way, within);
    if curves.is_empty() {
        return Err(Refusal::of("curve", RefusalKind::NoLength { shortest: crate::limits::EDGE }));
    }
    Ok(curves)
}
