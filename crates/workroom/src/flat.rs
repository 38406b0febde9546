//! The flat pieces of a costume as drawings at true scale, for printing and for other programs.

use costume::{Costume, Mark, PatternPiece, Purpose, Refusal, point_at, resolve};
use formats::paper::{Paper, pattern_pages, pdf};
use formats::{FlatKind, PlainPiece, dxf, svg};
use kurbo::{BezPath, Point, Shape as _, Vec2};

/// All pieces as plain geometry where they lie on the table, mm: sewing and cutting lines, lines inside, notches, drill
/// holes, grain and names.
pub fn plain_pieces(costume: &Costume) -> Vec<PlainPiece> {
    let colour = |p: &PatternPiece| costume.fabric(p.fabric).map(|f| f.colour.clone());
    resolve(costume).pieces.iter().map(|p| PlainPiece { colour: colour(p), ..plain(p, costume) }).collect()
}

/// All pieces as SVG, one user unit a millimetre. None while the costume has no piece.
///
/// ```
/// let tabard = costume::read(include_str!("../../../demo/rakers-tabard.ourlet.json"))?;
/// let text = workroom::pattern_svg(&tabard).expect("it has pieces");
/// assert!(text.contains("Front panel") && text.contains("class=\"outline\""));
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn pattern_svg(costume: &Costume) -> Option<String> {
    let pieces = plain_pieces(costume);
    (!pieces.is_empty()).then(|| svg(&costume.name, &pieces))
}

/// All pieces as DXF in the garment layering of ASTM D6673.
pub fn pattern_dxf(costume: &Costume) -> Result<Vec<u8>, Refusal> {
    let pieces = plain_pieces(costume);
    if pieces.is_empty() {
        return Err(Refusal::elsewhere(&costume.name, "has no piece yet", "draw a piece or lay a block first"));
    }
    Ok(dxf(&costume.name, &pieces))
}

/// Most sizes on one paper.
pub const MOST_NESTED: usize = 10;

/// The pieces of a costume in several sizes, each lying in the place of the first: there with all that is drawn on it, of the others
/// the lines along which they are cut, with their notches.
pub fn nested_pieces(sizes: &[(String, Costume)]) -> Vec<PlainPiece> {
    let Some((_, first)) = sizes.first() else { return Vec::new() };
    let places: Vec<_> = resolve(first).pieces.iter().map(|p| (p.id, p.on_table())).collect();
    let of = |(k, (name, costume)): (usize, &(String, Costume))| -> Vec<PlainPiece> {
        let pattern = resolve(costume);
        let nested = pattern.pieces.iter().filter_map(|piece| {
            let (_, place) = places.iter().find(|(id, _)| *id == piece.id)?;
            let mut made = plain_at(piece, costume, *place);
            made.size = Some((k, name.clone()));
            if k > 0 {
                (made.inside, made.holes, made.texts, made.grain) = (Vec::new(), Vec::new(), Vec::new(), None);
            }
            Some(made)
        });
        nested.collect()
    };
    sizes.iter().enumerate().flat_map(of).collect()
}

/// All pieces on paper at true scale, as PDF, in the sizes of `nested` if there are any. Refused while there is no piece, or when they
/// do not fit on the paper.
pub fn pattern_pdf(costume: &Costume, nested: &[(String, Costume)], paper: Paper) -> Result<Vec<u8>, Refusal> {
    if nested.len() > MOST_NESTED {
        return Err(Refusal::elsewhere("paper", format!("is to show {} sizes", nested.len()), format!("choose at most {MOST_NESTED}")));
    }
    let pieces = if nested.is_empty() { plain_pieces(costume) } else { nested_pieces(nested) };
    let refused = |reason: String| {
        let (reason, remedy) = match reason.split_once("; ") {
            Some((reason, remedy)) => (reason.to_owned(), remedy.to_owned()),
            None => (reason, "draw a piece or lay a block first".to_owned()),
        };
        Refusal::elsewhere(&costume.name, format!("cannot be printed: {reason}"), remedy)
    };
    let pages = pattern_pages(&costume.name, &pieces, paper).map_err(refused)?;
    pdf(&costume.name, &pages).map_err(refused)
}

fn plain(piece: &PatternPiece, costume: &Costume) -> PlainPiece {
    plain_at(piece, costume, piece.on_table())
}

fn plain_at(piece: &PatternPiece, costume: &Costume, place: kurbo::Affine) -> PlainPiece {
    let on_table = |p: costume::Point| place * Point::new(p.x, p.y);
    let mut made = PlainPiece { name: piece.name.clone(), outline: place * piece.outline_path(), ..PlainPiece::default() };
    made.cutouts = piece.cutouts.iter().map(|loop_| place * closed(loop_.iter().map(|&l| piece.lines[l].curve))).collect();
    for loop_ in piece.cutting_lines() {
        let mut path = BezPath::new();
        for (k, p) in loop_.iter().enumerate() {
            if k == 0 { path.move_to((p.x, p.y)) } else { path.line_to((p.x, p.y)) }
        }
        path.close_path();
        made.cutting.push(place * path);
    }
    for path in &piece.inside {
        let kind = if matches!(path.purpose, Purpose::Fold { .. }) { FlatKind::Fold } else { FlatKind::Inside };
        let lines = BezPath::from_path_segments(path.lines.iter().map(|&l| piece.lines[l].curve));
        made.inside.push((kind, place * lines));
    }
    for mark in &piece.marks {
        match &mark.mark {
            Mark::Notch { at, double, .. } => {
                let Some(line) = mark.line else { continue };
                let p = point_at(&piece.lines[line].curve, at.clamp(0.0, 1.0));
                made.notches.push((place * Point::new(p.x, p.y), *double));
            }
            Mark::DrillHole { at, .. } => made.holes.push(on_table(*at)),
            Mark::Text { at, text, .. } => made.texts.push((on_table(*at), text.clone())),
        }
    }
    let around = piece.outline_path().bounding_box();
    let (middle, half) = (around.center(), 0.2 * around.height());
    let along = Vec2::from_angle(piece.grain.to_radians()) * half;
    made.grain = Some([place * (middle - along), place * (middle + along)]);
    made.count = costume.piece(piece.id).map(|p| p.cut.count);
    made
}

fn closed(segments: impl Iterator<Item = kurbo::PathSeg>) -> BezPath {
    let mut path = BezPath::from_path_segments(segments);
    path.close_path();
    path
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_written_is_read_again_with_its_areas_names_and_marks() {
        for text in [
            include_str!("../../../demo/marsh-jacket.ourlet.json"),
            include_str!("../../../demo/ferry-pinafore.ourlet.json"),
            include_str!("../../../demo/gull-skirt.ourlet.json"),
        ] {
            let costume = costume::read(text).expect("a demo");
            let pattern = resolve(&costume);
            let svg = pattern_svg(&costume).expect("pieces");
            let dxf = pattern_dxf(&costume).expect("pieces");
            for (file, bytes) in [("a.svg", svg.as_bytes()), ("a.dxf", dxf.as_slice())] {
                let found = formats::read_pattern(file, bytes).expect("readable");
                assert_eq!(found.pieces.len(), pattern.pieces.len(), "{file}: {:?}", found.left_out);
                for (read, piece) in found.pieces.iter().zip(&pattern.pieces) {
                    assert_eq!(read.name, piece.name);
                    let area = read.outline.area().abs() - read.cutouts.iter().map(|c| c.area().abs()).sum::<f64>();
                    assert!((area / piece.area() - 1.0).abs() < 1e-4, "{file}, {}: {area} and {}", piece.name, piece.area());
                    let notches = piece.marks.iter().filter(|m| matches!(m.mark, Mark::Notch { .. })).count();
                    assert_eq!(read.notches.len(), notches, "{file}, {}", piece.name);
                    assert_eq!(read.cutting.len(), piece.cutting_lines().len(), "{file}, {}", piece.name);
                }
            }
        }
        assert!(pattern_svg(&Costume::new("Empty")).is_none());
        assert!(pattern_dxf(&Costume::new("Empty")).is_err());
    }
}
