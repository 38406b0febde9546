//! Patterns from DXF. Blocks in the garment layering of ASTM D6673 become pieces with all their marks; in other drawings
//! loops become pieces as in SVG.

use super::dxf_curves::{arc, bulged, ellipse, placed, polyline, spline};
use super::loops::{self, Part, chained};
use super::{FlatKind, PlainPattern, PlainPiece, pattern_limits as limits};
use crate::ReadFault;
use crate::reading::at_most;
use dxf::entities::{Entity, EntityType};
use dxf::enums::Units;
use dxf::{Block, Drawing};
use kurbo::{Affine, BezPath, Point, Shape, Vec2};
use std::collections::{BTreeMap, HashMap};

/// Marks of the garment layering, by layer.
const TURN: &str = "2";
const CURVE: &str = "3";
const NOTCH: [&str; 5] = ["4", "80", "81", "82", "83"];
const MIRROR: &str = "6";
const GRAIN: &str = "7";
const INTERNAL: &str = "8";
const CUT_OUT: &str = "11";
const DRILL: &str = "13";
const SEW: &str = "14";
/// Lines that are not the piece: grading, plaid, other cutting.
const IGNORED: [&str; 6] = ["5", "9", "10", "12", "84", "85"];

pub(super) fn read(bytes: &[u8]) -> Result<PlainPattern, ReadFault> {
    let text = super::dxf_pairs::reduced(bytes)?;
    let drawing = Drawing::load(&mut text.as_bytes()).map_err(|e| ReadFault::Damaged(e.to_string()))?;
    // the first of a name counts
    let blocks: HashMap<&str, &Block> = drawing.blocks().collect::<Vec<_>>().into_iter().rev().map(|b| (b.name.as_str(), b)).collect();
    let mut read = Reading { blocks: &blocks, left_out: BTreeMap::new(), parts: 0, points: 0 };
    let (unit, told) = unit(&drawing);
    let scale = Affine::scale(unit);
    let mut pattern = PlainPattern::default();
    pattern.left_out.extend(told);
    // blocks that are put in the drawing, one piece each; what lies loose besides
    let mut loose = Found::default();
    for entity in drawing.entities() {
        match &entity.specific {
            EntityType::Insert(insert) => {
                let Some(&block) = blocks.get(insert.name.as_str()) else {
                    pattern.left_out.push(format!("the block {} is put in, and is not in the file", insert.name));
                    continue;
                };
                let mut found = Found::default();
                read.block(block, scale * put(insert, block), 1, &mut found)?;
                piece(&block.name, found, &mut pattern)?;
            }
            _ => read.entity(entity, scale, 0, &mut loose)?,
        }
    }
    if pattern.pieces.is_empty() && !loose.has_loop() {
        // some files only define their blocks
        for block in drawing.blocks().filter(|b| !b.name.starts_with('*')) {
            let mut found = Found::default();
            read.block(block, scale, 1, &mut found)?;
            piece(&block.name, found, &mut pattern)?;
        }
    }
    // text beside the pieces is the title of the file
    loose.texts.clear();
    piece("Piece", loose, &mut pattern)?;
    for (kind, (place, count)) in read.left_out {
        let more = if count > 1 { format!(" and {} more", count - 1) } else { String::new() };
        pattern.left_out.push(format!("{place}: {kind} is not read{more}"));
    }
    if pattern.pieces.is_empty() {
        return Err(ReadFault::Damaged("there is no closed line in it".into()));
    }
    Ok(pattern)
}

/// Millimetres of a unit, and what is to be said when the file does not tell.
fn unit(drawing: &Drawing) -> (f64, Option<String>) {
    let texts = drawing.entities().chain(drawing.blocks().flat_map(|b| b.entities.iter())).filter_map(text_of);
    let said = texts.map(|t| t.trim().to_ascii_uppercase()).find_map(|t| t.strip_prefix("UNITS:").map(|u| u.trim().to_owned()));
    match said.as_deref() {
        Some("METRIC") => return (1.0, None),
        Some("ENGLISH") => return (25.4, None),
        _ => {}
    }
    match drawing.header.default_drawing_units {
        Units::Millimeters => (1.0, None),
        Units::Centimeters => (10.0, None),
        Units::Decimeters => (100.0, None),
        Units::Meters => (1000.0, None),
        Units::Inches => (25.4, None),
        Units::Feet => (304.8, None),
        _ => (1.0, Some("the header names no unit of length: millimetres are taken".into())),
    }
}

fn text_of(entity: &Entity) -> Option<&str> {
    match &entity.specific {
        EntityType::Text(t) => Some(&t.value),
        EntityType::MText(t) => Some(&t.text),
        _ => None,
    }
}

fn flat(p: &dxf::Point) -> Point {
    Point::new(p.x, p.y)
}

fn put(insert: &dxf::entities::Insert, block: &Block) -> Affine {
    placed(flat(&block.base_point), (insert.x_scale_factor, insert.y_scale_factor), insert.rotation, flat(&insert.location))
}

/// What is found in one block, by layer.
#[derive(Default)]
struct Found {
    paths: Vec<(String, BezPath, String)>,
    points: Vec<(String, Point)>,
    texts: Vec<(String, Point, String)>,
}

impl Found {
    fn has_loop(&self) -> bool {
        self.paths.len() > 2 || self.paths.iter().flat_map(|(_, p, _)| Part::of(p, None, "")).any(|p| p.is_closed)
    }
    fn on(&self, layer: &str) -> Vec<&BezPath> {
        self.paths.iter().filter(|(l, ..)| l == layer).map(|(_, p, _)| p).collect()
    }
}

struct Reading<'a> {
    /// By name.
    blocks: &'a HashMap<&'a str, &'a Block>,
    /// By kind: where the first stands, and how many there are.
    left_out: BTreeMap<String, (String, usize)>,
    parts: usize,
    points: usize,
}

impl Reading<'_> {
    fn block(&mut self, block: &Block, to: Affine, depth: usize, found: &mut Found) -> Result<(), ReadFault> {
        at_most("blocks within each other", depth, limits::DEPTH)?;
        block.entities.iter().try_for_each(|e| self.entity(e, to, depth, found))
    }

    fn entity(&mut self, entity: &Entity, to: Affine, depth: usize, found: &mut Found) -> Result<(), ReadFault> {
        let layer = entity.common.layer.clone();
        // the reduced text has the line of an entity for its handle
        let place = format!("line {}", entity.common.handle.0);
        let mut dense = Vec::new();
        let path = match &entity.specific {
            EntityType::Line(l) => polyline(&[flat(&l.p1), flat(&l.p2)]),
            EntityType::Arc(a) => arc(flat(&a.center), a.radius, a.start_angle, a.end_angle),
            EntityType::Circle(c) => arc(flat(&c.center), c.radius, 0.0, 360.0),
            EntityType::Ellipse(e) => {
                let axis = Vec2::new(e.major_axis.x, e.major_axis.y);
                ellipse(flat(&e.center), axis, e.minor_axis_ratio, e.start_parameter, e.end_parameter)
            }
            EntityType::LwPolyline(p) => {
                let points: Vec<(Point, f64)> = p.vertices.iter().map(|v| (Point::new(v.x, v.y), v.bulge)).collect();
                bulged(&points, p.is_closed())
            }
            EntityType::Polyline(p) => {
                let points: Vec<(Point, f64)> = p.vertices().map(|v| (flat(&v.location), v.bulge)).collect();
                bulged(&points, p.is_closed())
            }
            EntityType::Spline(s) => {
                let points: Vec<Point> = s.control_points.iter().map(flat).collect();
                let made = usize::try_from(s.degree_of_curve).ok().and_then(|d| spline(d, &s.knot_values, &points, &s.weight_values));
                match made {
                    Some(points) => dense = points,
                    None => self.note("a spline whose knots do not fit its points", &place),
                }
                polyline(&dense)
            }
            EntityType::ModelPoint(p) => {
                self.count(1, 1)?;
                found.points.push((layer, to * flat(&p.location)));
                return Ok(());
            }
            EntityType::Text(t) => {
                self.count(1, 1)?;
                found.texts.push((layer, to * flat(&t.location), t.value.clone()));
                return Ok(());
            }
            EntityType::MText(t) => {
                self.count(1, 1)?;
                found.texts.push((layer, to * flat(&t.insertion_point), t.text.clone()));
                return Ok(());
            }
            EntityType::Insert(insert) => {
                let Some(&block) = self.blocks.get(insert.name.as_str()) else {
                    self.note("a block that is not in the file", &place);
                    return Ok(());
                };
                self.count(1, 1)?;
                return self.block(block, to * put(insert, block), depth + 1, found);
            }
            EntityType::Seqend(_) | EntityType::Vertex(_) => return Ok(()),
            other => {
                let debug = format!("{other:?}");
                let kind = debug.split(['(', ' ', '{']).next().unwrap_or_default().to_owned();
                self.note(&kind, &place);
                return Ok(());
            }
        };
        self.count(1, path.elements().len())?;
        if path.elements().len() > 1 {
            found.paths.push((layer, to * path, place));
        }
        Ok(())
    }

    fn note(&mut self, kind: &str, place: &str) {
        self.left_out.entry(kind.to_owned()).or_insert_with(|| (place.to_owned(), 0)).1 += 1;
    }

    fn count(&mut self, parts: usize, points: usize) -> Result<(), ReadFault> {
        self.parts += parts;
        self.points += points;
        at_most("lines and marks", self.parts, limits::PATHS * 4)?;
        at_most("points", self.points, limits::POINTS)
    }
}

/// The piece of a block, or the pieces of a drawing without the garment layering.
fn piece(name: &str, found: Found, into: &mut PlainPattern) -> Result<(), ReadFault> {
    let closed_on = |layer: &str| found.on(layer).into_iter().flat_map(|p| Part::of(p, None, "")).find(|p| p.is_closed).map(|p| p.path);
    let boundary = closed_on("1");
    let is_garment =
        boundary.is_some() && (found.points.iter().any(|(l, _)| l == TURN || l == CURVE) || found.paths.iter().any(|(l, ..)| l == GRAIN));
    let (Some(boundary), true) = (boundary, is_garment) else {
        return plain(name, found, into);
    };
    let all: Vec<Part> = found.paths.iter().flat_map(|(_, p, place)| Part::of(p, None, place)).collect();
    loops::within_limits(&all)?;
    at_most("pieces", into.pieces.len() + 1, limits::PIECES)?;
    let mut made = PlainPiece { name: name.to_owned(), outline: boundary, ..PlainPiece::default() };
    if let Some(sewn) = closed_on(SEW) {
        made.cutting.push(std::mem::replace(&mut made.outline, sewn));
    }
    for (layer, p) in &found.points {
        match layer.as_str() {
            TURN => made.corners.push(*p),
            DRILL => made.holes.push(*p),
            l if NOTCH.contains(&l) => loops::notch(&mut made, *p),
            _ => {}
        }
    }
    for (layer, path, place) in &found.paths {
        let ends = loops::ends(path);
        match layer.as_str() {
            GRAIN => made.grain = Some(ends),
            MIRROR => made.fold = Some(ends),
            CUT_OUT => made.cutouts.extend(Part::of(path, None, place).into_iter().filter(|p| p.is_closed).map(|p| p.path)),
            INTERNAL => made.inside.push((FlatKind::Inside, path.clone())),
            "1" | SEW => {}
            l if IGNORED.contains(&l) => into.left_out.push(format!("{place}: layer {l} is not read")),
            l => into.left_out.push(format!("{place}: layer {l} is not known")),
        }
    }
    for (_, at, text) in &found.texts {
        let said = |key: &str| text.get(..key.len()).filter(|t| t.eq_ignore_ascii_case(key)).map(|_| text[key.len()..].trim());
        if let Some(called) = said("Piece Name:").filter(|t| !t.is_empty()) {
            made.name = called.to_owned();
        } else if let Some(count) = said("Quantity:") {
            made.count = count.split([',', ' ']).next().and_then(|c| c.parse().ok());
        } else if let Some(note) = said("Annotation:").filter(|t| !t.is_empty()) {
            made.texts.push((*at, note.to_owned()));
        }
    }
    into.left_out.dedup();
    into.pieces.push(made);
    Ok(())
}

/// Loops of a drawing without the garment layering.
fn plain(name: &str, found: Found, into: &mut PlainPattern) -> Result<(), ReadFault> {
    let (mut parts, mut open) = (Vec::new(), Vec::new());
    for (_, path, place) in found.paths {
        for part in Part::of(&path, None, &place) {
            if part.is_closed { parts.push(part) } else { open.push(part.path) }
        }
    }
    at_most("single lines", open.len(), 4000)?;
    parts.extend(chained(open).iter().flat_map(|p| Part::of(p, None, &format!("lines of {name}"))));
    loops::within_limits(&parts)?;
    parts.retain(|p| p.is_closed || p.path.bounding_box().width() + p.path.bounding_box().height() > 0.1);
    loops::pieces(name, parts, into)
}
