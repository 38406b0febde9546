//! Patterns as DXF (R12) in the garment layering of ASTM D6673: a block for every piece, and a layer for every kind of line.

use super::{FlatKind, PlainPiece};
use dxf::entities::{Entity, EntityType, Insert, Line, ModelPoint, Polyline, Text, Vertex};
use dxf::{Block, Drawing};
use kurbo::{BezPath, ParamCurve, PathEl, Point, Shape};

/// Curves are written as lines that keep this near, mm.
const NEAR: f64 = 0.01;
/// Height of texts, mm.
const LETTERS: f64 = 8.0;

/// Writes pieces; lengths are mm.
///
/// ```
/// use formats::{PlainPiece, dxf, read_pattern};
///
/// let square = "M0 0 L90 0 L90 90 L0 90 Z";
/// let patch = PlainPiece { name: "Patch".into(), outline: kurbo::BezPath::from_svg(square).expect("a path"), ..PlainPiece::default() };
/// let written = dxf("Apron", &[patch])?;
/// assert_eq!(read_pattern("apron.dxf", &written)?.pieces[0].name, "Patch");
/// # Ok::<(), formats::ReadFault>(())
/// ```
pub fn dxf(style: &str, pieces: &[PlainPiece]) -> Result<Vec<u8>, crate::ReadFault> {
    let mut drawing = Drawing::new();
    for (k, text) in [format!("STYLE NAME: {}", plain(style)), "UNITS: METRIC".into(), "VERSION: D6673".into()].into_iter().enumerate() {
        add(&mut drawing, on("1", written(&text, Point::new(0.0, -20.0 - 12.0 * k as f64))));
    }
    for (k, piece) in pieces.iter().enumerate() {
        let name = format!("PIECE{}", k + 1);
        let block = block(&mut drawing, &name, piece);
        drawing.add_block(block);
        add(&mut drawing, on("1", EntityType::Insert(Insert { name, ..Insert::default() })));
    }
    let mut bytes = Vec::new();
    drawing.save(&mut bytes).map_err(|e| crate::ReadFault::Damaged(e.to_string()))?;
    Ok(bytes)
}

fn add(drawing: &mut Drawing, entity: Entity) {
    drawing.add_entity(entity);
}

fn on(layer: &str, what: EntityType) -> Entity {
    let mut entity = Entity::new(what);
    entity.common.layer = layer.to_owned();
    entity
}

/// Text without line breaks, which would end a value.
fn plain(text: &str) -> String {
    text.chars().filter(|c| !c.is_control()).collect()
}

fn solid(p: Point) -> dxf::Point {
    dxf::Point::new(p.x, p.y, 0.0)
}

fn written(text: &str, at: Point) -> EntityType {
    EntityType::Text(Text { value: plain(text), location: solid(at), text_height: LETTERS, ..Text::default() })
}

fn point(at: Point) -> EntityType {
    EntityType::ModelPoint(ModelPoint::new(solid(at)))
}

fn line([a, b]: [Point; 2]) -> EntityType {
    EntityType::Line(Line::new(solid(a), solid(b)))
}

/// A path as one polyline.
fn lines(drawing: &mut Drawing, path: &BezPath) -> EntityType {
    let closed = matches!(path.elements().last(), Some(PathEl::ClosePath));
    let mut points: Vec<Point> = Vec::new();
    kurbo::flatten(path, NEAR, |e| points.extend(e.end_point()));
    if closed && points.first().zip(points.last()).is_some_and(|(a, b)| a.distance(*b) < 1e-6) {
        points.pop();
    }
    let mut made = Polyline::default();
    made.set_is_closed(closed);
    for p in points {
        made.add_vertex(drawing, Vertex::new(solid(p)));
    }
    EntityType::Polyline(made)
}

fn block(drawing: &mut Drawing, name: &str, piece: &PlainPiece) -> Block {
    let mut all: Vec<Entity> = Vec::new();
    let middle = piece.outline.bounding_box().center();
    let cut = piece.cutting.first().unwrap_or(&piece.outline);
    all.push(on("1", lines(drawing, cut)));
    if !piece.cutting.is_empty() {
        all.push(on("14", lines(drawing, &piece.outline)));
    }
    // where lines meet, and on the way of those that are curved
    for segment in piece.outline.segments() {
        all.push(on("2", point(segment.start())));
        if !matches!(segment, kurbo::PathSeg::Line(_)) {
            all.extend((1..4).map(|k| on("3", point(segment.eval(0.25 * f64::from(k))))));
        }
    }
    for (at, double) in &piece.notches {
        all.push(on(if *double { "81" } else { "4" }, point(*at)));
    }
    all.extend(piece.fold.map(|ends| on("6", line(ends))));
    all.extend(piece.grain.map(|ends| on("7", line(ends))));
    for (_, path) in piece.inside.iter().filter(|(kind, _)| matches!(kind, FlatKind::Inside | FlatKind::Fold)) {
        all.push(on("8", lines(drawing, path)));
    }
    for path in &piece.cutouts {
        all.push(on("11", lines(drawing, path)));
    }
    all.extend(piece.holes.iter().map(|p| on("13", point(*p))));
    let mut texts = vec![format!("Piece Name: {}", piece.name), format!("Quantity: {}", piece.count.unwrap_or(1)), "Size: M".into()];
    for (k, text) in texts.drain(..).enumerate() {
        all.push(on("1", written(&text, middle - kurbo::Vec2::new(0.0, 12.0 * k as f64))));
    }
    all.extend(piece.texts.iter().map(|(at, text)| on("15", written(&format!("Annotation: {text}"), *at))));
    Block { name: name.to_owned(), layer: "1".into(), entities: all, ..Block::default() }
}
