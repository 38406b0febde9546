//! Pieces from the patterns of other programs, as one edit that lays them on the table.

use costume::{
    AllowanceCorner, Anchor, Costume, CutPlan, Drawing, Edit, Finish, LineId, PatternPiece, Piece, Point, Purpose, Refusal, Shape,
    arc_length, drawn_loop, drawn_path, handles, is_name, limits, resolve, share,
};
use formats::{FlatKind, PlainPattern, PlainPiece, read_pattern};
use kurbo::{BezPath, ParamCurve, ParamCurveDeriv, ParamCurveNearest, PathSeg, Shape as _};

/// Curves pass the points of a file within this, mm.
const WITHIN: f64 = 0.03;
/// Nearer than this a mark lies on a line, mm.
const ON: f64 = 1.0;
/// Widths of an allowance along one line that differ by no more are one width, mm.
const EVEN: f64 = 0.4;
/// Widest allowance that is looked for, mm.
const WIDEST: f64 = 80.0;

/// What a file comes to.
#[derive(Clone, Debug, PartialEq)]
pub struct ReadEdit {
    /// Lays all pieces, or none.
    pub edit: Edit,
    pub pieces: usize,
    /// What was not understood, with its place in the file.
    pub left_out: Vec<String>,
}

/// Reads an SVG or DXF file; its pieces lie from `at` (mm on the table) to the right and upwards as in the file.
pub fn pieces_from(file: &str, bytes: &[u8], at: Point) -> Result<ReadEdit, Refusal> {
    let found = read_pattern(file, bytes).map_err(|fault| Refusal::elsewhere(file, fault.to_string(), remedy(&fault)))?;
    let PlainPattern { pieces, mut left_out } = found;
    if pieces.len() > limits::PIECES {
        let reason = format!("has {} pieces, more than the {} of a costume", pieces.len(), limits::PIECES);
        return Err(Refusal::elsewhere(file, reason, "part it into several files"));
    }
    let low = pieces.iter().map(|p| p.outline.bounding_box()).reduce(|a, b| a.union(b)).unwrap_or_default();
    let by = Point::new(at.x - low.x0, at.y - low.y0);
    let mut edits = Vec::with_capacity(pieces.len());
    for (k, piece) in pieces.iter().enumerate() {
        let clip = clip_of(piece, k, &mut left_out).map_err(|e| Refusal::elsewhere(file, format!("{}: {}", e.item, e.reason), e.remedy))?;
        edits.push(Edit::Paste { clip: Box::new(clip), by });
    }
    left_out.dedup();
    Ok(ReadEdit { pieces: edits.len(), edit: Edit::Batch { edits }, left_out })
}

fn remedy(fault: &formats::ReadFault) -> &'static str {
    match fault {
        formats::ReadFault::Ending(_) => "bring an SVG or DXF file (.svg .dxf)",
        formats::ReadFault::TooMany { .. } => "part it into several files, or write it with fewer points",
        _ => "write the file anew from the program it came from",
    }
}

fn named(name: &str, k: usize) -> String {
    let plain: String = name.chars().filter(|c| !c.is_control()).take(limits::NAME / 4).collect();
    let plain = plain.trim().to_owned();
    if is_name(&plain) { plain } else { format!("Piece {}", k + 1) }
}

/// A costume of one piece.
fn clip_of(plain: &PlainPiece, k: usize, left_out: &mut Vec<String>) -> Result<Costume, Refusal> {
    let name = named(&plain.name, k);
    let corner = plain.outline.bounding_box();
    let (x, y) = (corner.x0, corner.y0);
    // the piece's own frame begins at its lower left
    let own = |path: &BezPath| kurbo::Affine::translate((-x, -y)) * path.clone();
    let local = |p: kurbo::Point| Point::new(p.x - x, p.y - y);
    let corners: Vec<kurbo::Point> = plain.corners.iter().map(|p| *p - kurbo::Vec2::new(x, y)).collect();
    let points = drawn_loop(&own(&plain.outline), &corners, WITHIN);
    let mut costume = Costume::new("Read");
    let mut doing = Doing { costume: &mut costume, name: &name };
    doing.edit(&Edit::AddPiece { name: name.clone(), at: Point::new(x, y), points, fold: None })?;
    let piece = doing.piece().id;
    for loop_ in &plain.cutouts {
        doing.edit(&Edit::AddCutout { piece, points: drawn_loop(&own(loop_), &[], WITHIN) })?;
    }
    let whole = doing.resolved();
    for (at, double) in &plain.notches {
        match nearest(&whole, local(*at)) {
            Some((line, at)) => doing.edit(&Edit::AddNotch { piece, line, at, double: *double })?,
            None => left_out.push(format!("{name}: a notch that is not on its outline")),
        }
    }
    for hole in &plain.holes {
        doing.edit(&Edit::AddDrillHole { piece, at: local(*hole) })?;
    }
    for (at, text) in &plain.texts {
        let text: String = text.chars().filter(|c| !c.is_control()).take(limits::TEXT / 4).collect();
        doing.edit(&Edit::AddText { piece, at: local(*at), text })?;
    }
    if let Some([a, b]) = plain.grain {
        doing.edit(&Edit::SetGrain { piece, degrees: (b - a).atan2().to_degrees() })?;
    }
    let on_fold = plain.fold.and_then(|ends| folded(&whole, ends.map(local)));
    if plain.fold.is_some() && on_fold.is_none() {
        left_out.push(format!("{name}: a fold that is no straight line of its outline"));
    }
    let cut = CutPlan { count: plain.count.filter(|c| *c > 0).unwrap_or(1), on_fold };
    if cut != CutPlan::default() {
        doing.edit(&Edit::SetCut { piece, cut })?;
    }
    if let Some(cutting) = plain.cutting.first() {
        for (line, width) in allowances(&whole, &own(cutting)) {
            match width {
                Some(width) => {
                    let finish = Some(Finish::Allowance { width, corner: AllowanceCorner::default() });
                    doing.edit(&Edit::FinishLine { piece, line, from: 0.0, to: 1.0, finish })?;
                }
                None => left_out.push(format!("{name}: an allowance whose width changes along a line")),
            }
        }
    }
    // last, as a path that reaches the outline parts its lines
    for (kind, path) in &plain.inside {
        let purpose = if *kind == FlatKind::Fold { Purpose::Fold { angle: 0.0 } } else { Purpose::StyleLine };
        if doing.inside(&own(path), purpose).is_err() {
            left_out.push(format!("{name}: a line inside that reaches out of the piece"));
        }
    }
    Ok(costume)
}

/// One piece while it is put together.
struct Doing<'a> {
    costume: &'a mut Costume,
    name: &'a str,
}

impl Doing<'_> {
    fn edit(&mut self, edit: &Edit) -> Result<(), Refusal> {
        *self.costume = costume::apply(self.costume, edit).map_err(|e| Refusal { item: self.name.to_owned(), ..e })?;
        Ok(())
    }

    fn piece(&self) -> &Piece {
        &self.costume.pieces[0]
    }

    fn resolved(&self) -> PatternPiece {
        resolve(self.costume).pieces.swap_remove(0)
    }

    /// A path inside with its curves.
    fn inside(&mut self, path: &BezPath, purpose: Purpose) -> Result<(), Refusal> {
        let curves = drawn_path(path, WITHIN);
        let Some(first) = curves.first() else { return Ok(()) };
        let anchor = |p: kurbo::Point| Anchor::At(Point::new(p.x, p.y));
        let mut points: Vec<Anchor> = std::iter::once(first.p0).chain(curves.iter().map(|c| c.p3)).map(anchor).collect();
        let before = self.costume.clone();
        // ends that lie on the outline belong to it
        let piece = self.resolved();
        let last = points.len() - 1;
        for k in [0, last] {
            let Anchor::At(p) = points[k] else { continue };
            points[k] = nearest(&piece, p).map_or(points[k], |(line, at)| on_outline(&piece, line, at));
        }
        let id = self.piece().id;
        self.edit(&Edit::AddInside { piece: id, points, purpose })?;
        let Shape::Drawn(drawing) = &mut self.costume.pieces[0].shape else { return Ok(()) };
        bend(drawing, &curves);
        // the control points are new: the whole is looked at again
        if let Err(refusal) = costume::check(self.costume) {
            *self.costume = before;
            return Err(refusal);
        }
        Ok(())
    }
}

/// Gives the lines of the last path inside the control points of these curves.
fn bend(drawing: &mut Drawing, curves: &[kurbo::CubicBez]) {
    let Some(lines) = drawing.inside.last().map(|p| p.lines.clone()).filter(|l| l.len() == curves.len()) else { return };
    for (id, c) in lines.iter().zip(curves) {
        if let Some(line) = drawing.lines.iter_mut().find(|l| l.id == *id) {
            line.handles = handles(c);
        }
    }
}

/// The line of the outline under a place, and the share of its length there.
fn nearest(piece: &PatternPiece, p: Point) -> Option<(LineId, f64)> {
    let p = kurbo::Point::new(p.x, p.y);
    let near = |l: &usize| (*l, piece.lines[*l].curve.nearest(p, 1e-4));
    let (line, place) =
        piece.outline.iter().filter(|l| !piece.lines[**l].image).map(near).min_by(|a, b| a.1.distance_sq.total_cmp(&b.1.distance_sq))?;
    let line = &piece.lines[line];
    (place.distance_sq < ON * ON).then(|| (line.id, share(&line.curve, place.t).clamp(0.0, 1.0)))
}

/// A place on a line of the outline, or the node there.
fn on_outline(piece: &PatternPiece, line: LineId, at: f64) -> Anchor {
    let found = piece.outline.iter().map(|l| &piece.lines[*l]).find(|l| l.id == line);
    let Some(found) = found else { return Anchor::On { line, at } };
    let length = arc_length(&found.curve);
    let node = if at * length < limits::EDGE {
        Some(found.from)
    } else if (1.0 - at) * length < limits::EDGE {
        Some(found.to)
    } else {
        None
    };
    node.map_or(Anchor::On { line, at }, |n| Anchor::Node(n.id))
}

/// The straight line of the outline between two places.
fn folded(piece: &PatternPiece, ends: [Point; 2]) -> Option<LineId> {
    let [a, b] = ends.map(|p| kurbo::Point::new(p.x, p.y));
    let fits = |s: &PathSeg| {
        let (p, q) = (s.start(), s.end());
        p.distance(a).max(q.distance(b)).min(p.distance(b).max(q.distance(a))) < ON
    };
    piece.outline.iter().map(|l| &piece.lines[*l]).find(|l| matches!(l.curve, PathSeg::Line(_)) && fits(&l.curve)).map(|l| l.id)
}

/// Widths of cloth beyond the lines of an outline; none for a line along which it changes.
fn allowances(piece: &PatternPiece, cutting: &BezPath) -> Vec<(LineId, Option<f64>)> {
    let sides: Vec<PathSeg> = cutting.segments().collect();
    let mut made = Vec::new();
    for line in piece.outline.iter().map(|l| &piece.lines[*l]) {
        let curve = line.curve.to_cubic();
        // how far out of the line the cutting line is met
        let out = |t: f64| {
            let (p, along) = (curve.eval(t), curve.deriv().eval(t).to_vec2());
            let normal = kurbo::Vec2::new(along.y, -along.x) / along.hypot().max(1e-9);
            let ray = kurbo::Line::new(p - normal * 0.5, p + normal * WIDEST);
            let met = sides.iter().flat_map(|s| s.intersect_line(ray)).map(|i| i.line_t * (WIDEST + 0.5) - 0.5);
            met.fold(f64::INFINITY, f64::min)
        };
        let widths = [0.35, 0.5, 0.65].map(out);
        let (least, most) = (widths.iter().copied().fold(f64::MAX, f64::min), widths.iter().copied().fold(0.0, f64::max));
        if most < 0.3 || !most.is_finite() {
            continue;
        }
        let width = (10.0 * widths[1]).round() / 10.0;
        made.push((line.id, (most - least < EVEN && arc_length(&line.curve) > limits::EDGE).then_some(width)));
    }
    made
}

#[cfg(test)]
mod tests {
    use super::*;

    fn laid(file: &str, bytes: &[u8]) -> (Costume, Vec<String>) {
        let read = pieces_from(file, bytes, Point::new(100.0, 50.0)).expect("readable");
        (costume::apply(&Costume::new("Read"), &read.edit).expect("laid"), read.left_out)
    }

    #[test]
    fn what_was_written_is_laid_again_with_marks_allowances_and_lines_to_the_edge() {
        let text = include_str!("../../../demo/marsh-jacket.ourlet.json");
        let mut jacket = costume::read(text).expect("a demo");
        // only what is laid on below
        for drawing in jacket.pieces.iter_mut().filter_map(costume::Piece::drawing_mut) {
            drawing.along.clear();
            drawing.marks.clear();
        }
        let front = jacket.pieces[0].id;
        let line = jacket.pieces[0].drawing().expect("drawn").outline[0];
        let allowance = Finish::Allowance { width: 12.0, corner: AllowanceCorner::Pointed };
        let edits = vec![
            Edit::FinishLine { piece: front, line, from: 0.0, to: 1.0, finish: Some(allowance) },
            Edit::AddNotch { piece: front, line, at: 0.25, double: true },
        ];
        let jacket = costume::apply(&jacket, &Edit::Batch { edits }).expect("marked");
        let svg = crate::pattern_svg(&jacket).expect("pieces");
        let dxf = crate::pattern_dxf(&jacket).expect("pieces");
        for (file, bytes) in [("jacket.svg", svg.as_bytes()), ("jacket.dxf", dxf.as_slice())] {
            let (again, left_out) = laid(file, bytes);
            let (was, is) = (resolve(&jacket), resolve(&again));
            assert_eq!(is.pieces.len(), was.pieces.len(), "{file}");
            for (a, b) in was.pieces.iter().zip(&is.pieces) {
                assert_eq!(a.name, b.name, "{file}");
                assert!((b.area() / a.area() - 1.0).abs() < 1e-3, "{file}, {}: {} and {}", a.name, a.area(), b.area());
                assert!(b.outline.len() <= 3 * a.outline.len() + 2, "{file}, {}: {} lines of {}", a.name, b.outline.len(), a.outline.len());
                assert!((b.grain - a.grain).rem_euclid(360.0).min((a.grain - b.grain).rem_euclid(360.0)) < 0.1, "{file}, {}", a.name);
            }
            let notches = |p: &PatternPiece| p.marks.iter().filter(|m| matches!(m.mark, costume::Mark::Notch { double: true, .. })).count();
            assert_eq!(notches(&is.pieces[0]), 1, "{file}: {left_out:?}");
            let widths: Vec<f64> = is.pieces[0]
                .along
                .iter()
                .filter_map(|a| if let Finish::Allowance { width, .. } = a.finish { Some(width) } else { None })
                .collect();
            assert!(!widths.is_empty() && widths.iter().all(|w| (w - 12.0).abs() < 0.11), "{file}: {widths:?}");
        }
        // a line from edge to edge parts the edges that it reaches, and one on the fold keeps its half
        let (cuff, left_out) = laid("a.svg", b"<svg xmlns='http://www.w3.org/2000/svg' width='300mm' height='100mm' viewBox='0 0 300 100'><g><path d='M10 10H210V90H10Z'/><path d='M10 50 C80 20 140 80 210 50' fill='none' stroke='black'/></g></svg>");
        assert!(left_out.is_empty(), "{left_out:?}");
        let drawing = cuff.pieces[0].drawing().expect("drawn").clone();
        assert_eq!((drawing.outline.len(), drawing.inside.len()), (6, 1));
        assert!(drawing.line(drawing.inside[0].lines[0]).is_some_and(|l| l.handles.is_some()), "it keeps its curve");
        let refused = pieces_from("a.pdf", b"%PDF", Point::new(0.0, 0.0)).expect_err("no pattern");
        assert!(refused.reason.contains("`pdf`") && refused.remedy.contains("SVG"));
    }

    #[test]
    fn damaged_patterns_are_laid_whole_or_refused() {
        let jacket = costume::read(include_str!("../../../demo/ferry-pinafore.ourlet.json")).expect("a demo");
        let seeds =
            [("a.svg", crate::pattern_svg(&jacket).expect("pieces").into_bytes()), ("a.dxf", crate::pattern_dxf(&jacket).expect("pieces"))];
        let mut state = 11u64;
        let mut dice = move |n: usize| {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (state >> 33) as usize % n
        };
        let (mut laid, mut refused) = (0, 0);
        for (file, bytes) in seeds {
            for _ in 0..60 {
                let mut text = bytes.clone();
                for _ in 0..=dice(6) {
                    let at = dice(text.len());
                    let end = (at + 1 + dice(80)).min(text.len());
                    match dice(3) {
                        0 => text[at] = b"0123456789-.\nLMC"[dice(16)],
                        1 => drop(text.drain(at..end)),
                        _ => {
                            let copy = text[at..end].to_vec();
                            text.splice(at..at, copy);
                        }
                    }
                }
                let made =
                    pieces_from(file, &text, Point::new(0.0, 0.0)).and_then(|read| costume::apply(&Costume::new("Read"), &read.edit));
                match made {
                    Ok(costume) => {
                        laid += 1;
                        let text = costume::write(&costume).expect("written");
                        assert_eq!(costume::read(&text).expect("what was laid can be read"), costume);
                    }
                    Err(refusal) => {
                        refused += 1;
                        assert!(!refusal.reason.is_empty() && !refusal.remedy.is_empty());
                    }
                }
            }
        }
        assert!(laid > 10 && refused > 10, "{laid} laid, {refused} refused");
    }
}
