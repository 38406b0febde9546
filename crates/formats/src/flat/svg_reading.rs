//! Patterns from SVG. Units, transforms, arcs and references are resolved by usvg; groups that hold a closed path of their
//! own become pieces. What usvg leaves out is looked for in the text, so that it can be told with its line.

use super::loops::{self, Part};
use super::{FlatKind, PlainPattern, pattern_limits as limits};
use crate::ReadFault;
use crate::reading::at_most;
use kurbo::{Affine, BezPath};
use std::collections::HashMap;
use usvg::roxmltree::{self, Document, ParsingOptions};
use usvg::tiny_skia_path::PathSegment;

/// Millimetres of a user unit of 1/96 inch.
const PIXEL: f64 = 25.4 / 96.0;
/// Elements that hold what is not taken over.
const NOT_READ: [&str; 7] = ["text", "image", "foreignObject", "filter", "mask", "clipPath", "switch"];
/// Shapes that may be a line of a piece, and groups.
const SHAPES: [&str; 9] = ["g", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "use"];
const MARKED: &str = "ourlet-reads-";

/// What the text says of an element: its line, name and class.
struct Told {
    line: u32,
    name: Option<String>,
    kind: Option<FlatKind>,
}

pub(super) fn read(bytes: &[u8]) -> Result<PlainPattern, ReadFault> {
    let damaged = |e: &dyn std::fmt::Display| ReadFault::Damaged(e.to_string());
    let text = std::str::from_utf8(bytes).map_err(|e| ReadFault::Damaged(format!("byte {}: no UTF-8 text", e.valid_up_to())))?;
    let options = || ParsingOptions { allow_dtd: false, nodes_limit: limits::POINTS as u32, ..ParsingOptions::default() };
    let document = Document::parse_with_options(text, options()).map_err(|e| damaged(&e))?;
    let deepest = document.descendants().map(|n| n.ancestors().take(limits::DEPTH * 4).count()).max().unwrap_or(0);
    at_most("elements within each other", deepest, limits::DEPTH * 4 - 1)?;
    let mut pattern = PlainPattern::default();
    tell_units(&document, &mut pattern.left_out);
    tell_not_read(&document, &mut pattern.left_out);
    // every shape gets an id, by which it is found again in the tree
    let (marked, told) = with_ids(text, &document);
    let document = Document::parse_with_options(&marked, options()).map_err(|e| damaged(&e))?;
    let nothing = usvg::ImageHrefResolver { resolve_data: Box::new(|_, _, _| None), resolve_string: Box::new(|_, _| None) };
    let asked = usvg::Options { image_href_resolver: nothing, ..usvg::Options::default() };
    let tree = usvg::Tree::from_xmltree(&document, &asked).map_err(|e| damaged(&e))?;
    let mut walk = Walk { told: &told, pattern, parts: 0 };
    walk.group(tree.root(), 0, None)?;
    let mut pattern = walk.pattern;
    if pattern.pieces.is_empty() {
        return Err(ReadFault::Damaged("there is no closed path in it".into()));
    }
    pattern.left_out.dedup();
    Ok(pattern)
}

/// Says when lengths are only assumed.
fn tell_units(document: &Document, left_out: &mut Vec<String>) {
    let root = document.root_element();
    let has_unit =
        |key: &str| root.attribute(key).is_some_and(|v| ["mm", "cm", "in", "pt", "pc", "Q"].iter().any(|u| v.trim_end().ends_with(u)));
    if !has_unit("width") && !has_unit("height") {
        left_out.push(format!("line {}: no unit of length is given; 96 units are taken as an inch", line_of(document, root)));
    }
}

fn line_of(document: &Document, node: roxmltree::Node) -> u32 {
    document.text_pos_at(node.range().start).row
}

/// Names elements whose contents are not taken over, each kind once with its first line.
fn tell_not_read(document: &Document, left_out: &mut Vec<String>) {
    for kind in NOT_READ {
        let mut of = document.descendants().filter(|n| n.has_tag_name(kind) || n.tag_name().name() == kind);
        if let Some(first) = of.next() {
            let more = of.count();
            let more = if more > 0 { format!(" and {more} more") } else { String::new() };
            left_out.push(format!("line {}: {kind} is not read{more}", line_of(document, first)));
        }
    }
}

/// The text with an id on every shape and group that has none, and what it says of each.
fn with_ids(text: &str, document: &Document) -> (String, HashMap<String, Told>) {
    let mut made = String::with_capacity(text.len() + text.len() / 4);
    let mut told = HashMap::new();
    let mut done = 0;
    for (k, node) in document.descendants().filter(|n| SHAPES.contains(&n.tag_name().name())).enumerate() {
        let own = node.attribute("id").map(str::to_owned);
        let title = node.children().find(|c| c.tag_name().name() == "title").and_then(|t| t.text()).map(|t| t.trim().to_owned());
        let name = title.filter(|t| !t.is_empty()).or_else(|| own.clone());
        let kind = node.attribute("class").and_then(FlatKind::of_class);
        let id = own.clone().unwrap_or_else(|| format!("{MARKED}{k}"));
        told.insert(id.clone(), Told { line: line_of(document, node), name, kind });
        if own.is_none() {
            // behind the name of the tag, which may carry a prefix
            let from = node.range().start + 1;
            let length = text[from..].find(|c: char| c.is_whitespace() || c == '/' || c == '>').unwrap_or(0);
            made.push_str(&text[done..from + length]);
            made.push_str(&format!(" id=\"{id}\""));
            done = from + length;
        }
    }
    made.push_str(&text[done..]);
    (made, told)
}

struct Walk<'a> {
    told: &'a HashMap<String, Told>,
    pattern: PlainPattern,
    parts: usize,
}

impl Walk<'_> {
    fn place(&self, id: &str) -> String {
        self.told.get(id).map_or_else(|| "within a reference".to_owned(), |t| format!("line {}", t.line))
    }

    /// Pieces of a group: one that holds a closed path of its own is a piece with all that is in it, another is looked
    /// through.
    fn group(&mut self, group: &usvg::Group, depth: usize, name: Option<&str>) -> Result<(), ReadFault> {
        at_most("groups within each other", depth, limits::DEPTH)?;
        let name = self.told.get(group.id()).and_then(|t| t.name.as_deref()).or(name);
        let is_root = depth == 0;
        let own = self.parts_of(group, false, 0)?;
        let holds = own.iter().any(|p| p.is_closed);
        let title = name.map_or_else(|| format!("Piece {}", self.pattern.pieces.len() + 1), str::to_owned);
        if holds && !is_root {
            let all = self.parts_of(group, true, 0)?;
            return self.made(&title, all);
        }
        self.made(&title, own)?;
        for child in group.children() {
            if let usvg::Node::Group(inner) = child {
                self.group(inner, depth + 1, name)?;
            }
        }
        Ok(())
    }

    fn made(&mut self, title: &str, parts: Vec<Part>) -> Result<(), ReadFault> {
        self.parts += parts.len();
        at_most("paths", self.parts, limits::PATHS)?;
        loops::within_limits(&parts)?;
        loops::pieces(title, parts, &mut self.pattern)
    }

    /// Parts of the paths in a group, with those of groups within it if asked.
    fn parts_of(&self, group: &usvg::Group, deeply: bool, depth: usize) -> Result<Vec<Part>, ReadFault> {
        let mut parts = Vec::new();
        for child in group.children() {
            match child {
                usvg::Node::Path(path) if path.is_visible() => {
                    let kind = self.told.get(path.id()).and_then(|t| t.kind);
                    parts.extend(Part::of(&bez(path), kind, &self.place(path.id())));
                }
                usvg::Node::Group(inner) if deeply && depth < limits::DEPTH => parts.extend(self.parts_of(inner, true, depth + 1)?),
                _ => {}
            }
        }
        Ok(parts)
    }
}

/// A path in mm with y upwards.
fn bez(path: &usvg::Path) -> BezPath {
    let t = path.abs_transform();
    let placed = Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from));
    let to_mm = Affine::FLIP_Y * Affine::scale(PIXEL) * placed;
    let point = |p: usvg::tiny_skia_path::Point| kurbo::Point::new(f64::from(p.x), f64::from(p.y));
    let mut made = BezPath::new();
    for segment in path.data().segments() {
        match segment {
            PathSegment::MoveTo(p) => made.move_to(point(p)),
            PathSegment::LineTo(p) => made.line_to(point(p)),
            PathSegment::QuadTo(a, p) => made.quad_to(point(a), point(p)),
            PathSegment::CubicTo(a, b, p) => made.curve_to(point(a), point(b), point(p)),
            PathSegment::Close => made.close_path(),
        }
    }
    to_mm * made
}
