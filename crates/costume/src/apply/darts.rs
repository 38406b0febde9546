//! Darts: cut out of an edge or out of the middle of a piece, their legs a seam; turned about their point to another edge.

use super::cutting::{chain, node_at};
use super::lines::split_any;
use super::pieces::{add_cutout, transform_lines};
use super::{drawing, find, fresh, missing, own_frame, references, seams};
use crate::curve::{arc_length, from_kurbo, line_curve, to_kurbo};
use crate::{
    Costume, Drawing, Edit, Line, LineId, LoopPoint, Mark, Node, NodeId, NodeKind, PieceId, Point, Quantity, Refusal, RefusalKind, Run,
    Shape, Spot, Thing, limits,
};
use kurbo::{Affine, BezPath, ParamCurve, ParamCurveDeriv, Shape as _, Vec2};
use std::collections::HashSet;

/// By how much a dart that is opened beside another one ends before their common point, mm.
const SHORTER: f64 = 5.0;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::AddDart { piece, line, at, width, depth } => add(costume, *piece, *line, *at, *width, *depth),
        Edit::AddInsideDart { piece, at, width, up, down, degrees } => inside(costume, *piece, *at, *width, [*up, *down], *degrees),
        Edit::TurnDart { piece, tip, to, share, gathers } => turn(costume, *piece, *tip, *to, *share, *gathers),
        _ => Ok(()),
    }
}

fn size(name: &str, mm: f64) -> Result<(), Refusal> {
    crate::rules::within(name, Quantity::Size, mm, &(limits::EDGE..=limits::TABLE))
}

/// A dart with its mouth on a line, at a share of its length, square to it.
fn add(costume: &mut Costume, piece: PieceId, line: LineId, at: f64, width: f64, depth: f64) -> Result<(), Refusal> {
    let name = costume.line_name(piece, line);
    size(&name, width)?;
    size(&name, depth)?;
    let owner = costume.owner(piece);
    let (drawing, mirrored) = drawing(costume, piece)?;
    let at = if mirrored { 1.0 - at } else { at };
    let whole = drawing.line(line).and_then(|l| line_curve(drawing, l)).ok_or_else(|| missing(Thing::Edge))?;
    if !drawing.loops().any(|l| l.contains(&line)) {
        return Err(Refusal::of(name, RefusalKind::DartNowhere));
    }
    let length = arc_length(&whole);
    let half = 0.5 * width / length.max(f64::MIN_POSITIVE);
    if !(at - half > 0.0 && at + half < 1.0) {
        return Err(Refusal::of(name, RefusalKind::DartTooWide { width, line: length }));
    }
    let t = crate::parameter(&whole, at);
    let d = crate::curve::cubic(&whole).deriv().eval(t).to_vec2().normalize();
    // the cloth is on the left of every loop
    let tip = from_kurbo(whole.eval(t) + Vec2::new(-d.y, d.x) * depth);
    let (_, rest) = split_any(costume, owner, line, at - half, true)?;
    split_any(costume, owner, rest, 2.0 * half / (1.0 - (at - half)), true)?;
    mouth_to_legs(costume, owner, rest, tip).map(|_| ())
}

/// A line of a loop gives way to two legs that meet at a point, and the legs are sewn together.
fn mouth_to_legs(costume: &mut Costume, owner: PieceId, mouth: LineId, tip: Point) -> Result<NodeId, Refusal> {
    let node = Node { id: NodeId(fresh(costume)), at: tip, kind: NodeKind::Corner };
    let (one, two) = (LineId(fresh(costume)), LineId(fresh(costume)));
    references::drop_lines(costume, owner, &[mouth]);
    let (drawing, _) = drawing(costume, owner)?;
    let gone = *drawing.line(mouth).ok_or_else(|| missing(Thing::Edge))?;
    drawing.nodes.push(node);
    drawing.lines.retain(|l| l.id != mouth);
    drawing.lines.push(Line { id: one, from: gone.from, to: node.id, handles: None });
    drawing.lines.push(Line { id: two, from: node.id, to: gone.to, handles: None });
    for chain in std::iter::once(&mut drawing.outline).chain(&mut drawing.cutouts) {
        if let Some(k) = chain.iter().position(|l| *l == mouth) {
            chain.splice(k..=k, [one, two]);
        }
    }
    // from the mouth to the point
    seams::sew(costume, vec![Run::whole(owner, one)], vec![Run::whole(owner, two).turned()]);
    Ok(node.id)
}

/// A dart with two points: a lozenge cut out, its left legs sewn to its right ones.
fn inside(costume: &mut Costume, piece: PieceId, at: Point, width: f64, reach: [f64; 2], degrees: f64) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let name = costume.piece_name(piece);
    for mm in [width, reach[0], reach[1]] {
        size(&name, mm)?;
    }
    crate::rules::within(&name, Quantity::LineAngle, degrees, &limits::ANGLE)?;
    let mirrored = drawing(costume, piece)?.1;
    let turn = degrees.to_radians();
    let place = |x: f64, y: f64| {
        let p = Point::new(at.x + x * turn.cos() - y * turn.sin(), at.y + x * turn.sin() + y * turn.cos());
        LoopPoint::from(own_frame(p, mirrored))
    };
    let lozenge = [place(0.0, reach[0]), place(0.5 * width, 0.0), place(0.0, -reach[1]), place(-0.5 * width, 0.0)];
    add_cutout(costume, owner, &lozenge)?;
    let (drawing, _) = drawing(costume, owner)?;
    let cut = drawing.cutouts.last().cloned().unwrap_or_default();
    let top = own_frame(Point::new(at.x - reach[0] * turn.sin(), at.y + reach[0] * turn.cos()), mirrored);
    let start = |l: &LineId| drawing.line(*l).and_then(|l| drawing.node(l.from)).map_or(f64::MAX, |n| n.at.distance(top));
    let k = (0..cut.len()).min_by(|a, b| start(&cut[*a]).total_cmp(&start(&cut[*b]))).unwrap_or_default();
    let leg = |i: usize| Run::whole(owner, cut[(k + i) % cut.len()]);
    // both from the upper point to the lower one
    seams::sew(costume, vec![leg(0), leg(1)], vec![leg(3).turned(), leg(2).turned()]);
    Ok(())
}

/// Closes a dart by a share of its width, and opens it as much at another spot of the outline: as a new dart, or as
/// fullness to be gathered.
fn turn(costume: &mut Costume, piece: PieceId, tip: NodeId, to: Spot, share: f64, gathers: bool) -> Result<(), Refusal> {
    let owner = costume.owner(piece);
    let name = costume.piece_name(piece);
    crate::rules::within(&name, Quantity::DartShare, share, &(0.01..=1.0))?;
    let no_dart = || Refusal::of(&name, RefusalKind::NoDart);
    let legs = |d: &Drawing| {
        let (a, b) = super::lines::joined_at(d, tip).filter(|(a, b)| a != b && d.outline.contains(a))?;
        let straight = |l: LineId| d.line(l).filter(|l| l.handles.is_none()).copied();
        let (a, b) = straight(a).zip(straight(b))?;
        let point = |n: NodeId| d.node(n).map(|n| n.at);
        Some((a, b, point(a.from)?, point(tip)?, point(b.to)?))
    };
    let (one, two, p, c, q) = legs(drawing(costume, owner)?.0).ok_or_else(no_dart)?;
    // the point of a dart looks into the cloth: the way turns to the right there
    let (u, v) = (to_kurbo(p) - to_kurbo(c), to_kurbo(q) - to_kurbo(c));
    let open = u.cross(v).atan2(u.dot(v));
    if open.abs() < 1e-4 || open.abs() > 2.6 || (u.hypot() - v.hypot()).abs() > 0.05 * u.hypot().max(v.hypot()) {
        return Err(no_dart());
    }
    if matches!(to, Spot::On { line, .. } if line == one.id || line == two.id) {
        return Err(Refusal::of(&name, RefusalKind::DartNowhere));
    }
    let r = node_at(costume, piece, to)?;
    let (drawing, _) = drawing(costume, owner)?;
    let far = [one.from, two.to, tip];
    let there = drawing.node(r).map(|n| n.at).ok_or_else(|| missing(Thing::Corner))?;
    if far.contains(&r) || c.distance(there) < limits::EDGE {
        return Err(Refusal::of(&name, RefusalKind::DartNowhere));
    }
    // what is turned: the cloth from the second leg along the outline to the new spot
    let turned = chain(drawing, two.to, r).ok_or_else(no_dart)?;
    let region = {
        let mut path = BezPath::from_path_segments(turned.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?)));
        path.line_to(to_kurbo(c));
        path.close_path();
        path
    };
    // towards the first leg
    let step = Affine::rotate_about(-open * share, to_kurbo(c));
    let image = |a: Affine| move |p: Point| from_kurbo(a * to_kurbo(p));
    let closes = share > 1.0 - 1e-9;
    let double = NodeId(fresh(costume));
    let piece = find(costume, owner)?;
    let Shape::Drawn(drawing) = &mut piece.shape else { return Err(no_dart()) };
    let lies =
        |d: &Drawing, line: &LineId| d.line(*line).and_then(|l| line_curve(d, l)).is_some_and(|curve| region.contains(curve.eval(0.5)));
    let moved: HashSet<LineId> = turned
        .iter()
        .copied()
        .chain(drawing.cutouts.iter().filter(|l| l.first().is_some_and(|l| lies(drawing, l))).flatten().copied())
        .chain(drawing.inside.iter().filter(|p| p.lines.first().is_some_and(|l| lies(drawing, l))).flat_map(|p| p.lines.iter().copied()))
        .collect();
    for mark in &mut drawing.marks {
        if let Mark::DrillHole { at, .. } | Mark::Text { at, .. } = mark
            && region.contains(to_kurbo(*at))
        {
            *at = image(step)(*at);
        }
    }
    // the spot parts in two: the old node stays, its double is turned with what comes before it
    drawing.nodes.push(Node { id: double, at: there, kind: NodeKind::Corner });
    if let Some(last) = turned.last() {
        drawing.lines.iter_mut().filter(|l| l.id == *last).for_each(|l| l.to = double);
    }
    for line in drawing.lines.iter_mut().filter(|l| moved.contains(&l.id) && !turned.contains(&l.id)) {
        for end in [&mut line.from, &mut line.to] {
            if *end == r {
                *end = double;
            }
        }
    }
    transform_lines(drawing, &moved, image(step));
    if closes {
        // both legs are gone, and their mouths one corner
        drawing.lines.retain(|l| l.id != one.id && l.id != two.id);
        drawing.outline.retain(|l| *l != one.id && *l != two.id);
        for line in drawing.lines.iter_mut().filter(|l| l.from == two.to) {
            line.from = one.from;
        }
        drawing.nodes.retain(|n| n.id != two.to && n.id != tip);
    }
    let place = turned.last().and_then(|l| drawing.outline.iter().position(|o| o == l)).unwrap_or_default() + 1;
    let mouth = LineId(fresh(costume));
    let (drawing, _) = super::drawing(costume, owner)?;
    drawing.lines.push(Line { id: mouth, from: double, to: r, handles: None });
    drawing.outline.insert(place, mouth);
    if closes {
        references::drop_lines(costume, owner, &[one.id, two.id]);
    }
    if gathers {
        references::bridge(costume, owner, mouth);
    } else {
        // two darts cannot share their point: the new one ends a little before it
        let tip = if closes { c } else { c.lerp(image(step)(there).lerp(there, 0.5), SHORTER / c.distance(there)) };
        mouth_to_legs(costume, owner, mouth, tip)?;
    }
    Ok(())
}
