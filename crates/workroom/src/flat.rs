//! The flat pieces of a costume as a drawing at true scale, for printing and for other programs.

use costume::{Costume, Mark, PatternPiece, Purpose, point_at, resolve};
use formats::{FlatKind, FlatPiece, svg};
use kurbo::{Affine, BezPath, Circle, Line, Point, Shape as _, Vec2};

/// Around the drawing, mm.
const MARGIN: f64 = 20.0;
/// Length of a notch, and radius of a drill hole, mm.
const NOTCH: f64 = 5.0;
const HOLE: f64 = 2.0;

/// All pieces as SVG, one user unit a millimetre: sewing and cutting lines, lines inside, notches, drill holes, grain and
/// names. None while the costume has no piece.
///
/// ```
/// let tabard = costume::read(include_str!("../../../demo/rakers-tabard.ourlet.json"))?;
/// let text = workroom::pattern_svg(&tabard).expect("it has pieces");
/// assert!(text.contains("Front panel") && text.contains("class=\"outline\""));
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn pattern_svg(costume: &Costume) -> Option<String> {
    let pattern = resolve(costume);
    let around =
        pattern.pieces.iter().map(|p| (Affine::FLIP_Y * p.on_table() * p.outline_path()).bounding_box()).reduce(|a, b| a.union(b))?;
    let widest = pattern.pieces.iter().flat_map(PatternPiece::cutting_lines).flatten().count();
    let box_ = around.inflate(MARGIN + if widest > 0 { 60.0 } else { 0.0 }, MARGIN + if widest > 0 { 60.0 } else { 0.0 });
    let colour = |p: &PatternPiece| costume.fabric(p.fabric).map_or_else(|| "#ffffff".to_owned(), |f| f.colour.clone());
    let pieces: Vec<FlatPiece> = pattern.pieces.iter().map(|p| flat(p, colour(p))).collect();
    Some(svg(&costume.name, [box_.x0, box_.y0, box_.width(), box_.height()], &pieces))
}

fn flat(piece: &PatternPiece, colour: String) -> FlatPiece {
    let place = Affine::FLIP_Y * piece.on_table();
    let data = |path: BezPath| (place * path).to_svg();
    let mut lines = vec![(FlatKind::Outline, data(piece.path()))];
    for loop_ in piece.cutting_lines() {
        let mut path = BezPath::new();
        for (k, p) in loop_.iter().enumerate() {
            if k == 0 { path.move_to((p.x, p.y)) } else { path.line_to((p.x, p.y)) }
        }
        path.close_path();
        lines.push((FlatKind::Cutting, data(path)));
    }
    for path in &piece.inside {
        let kind = if matches!(path.purpose, Purpose::Fold { .. }) { FlatKind::Fold } else { FlatKind::Inside };
        lines.push((kind, data(BezPath::from_path_segments(path.lines.iter().map(|&l| piece.lines[l].curve)))));
    }
    let mut texts = Vec::new();
    let on_table = |p: costume::Point| place * Point::new(p.x, p.y);
    for mark in &piece.marks {
        match &mark.mark {
            Mark::Notch { at, double, .. } => {
                let Some(line) = mark.line else { continue };
                lines.extend(notch(piece, line, *at, *double).into_iter().map(|l| (FlatKind::Notch, data(l.to_path(0.1)))));
            }
            Mark::DrillHole { at, .. } => lines.push((FlatKind::Hole, data(Circle::new((at.x, at.y), HOLE).to_path(0.01)))),
            Mark::Text { at, text, .. } => {
                let p = on_table(*at);
                texts.push(([p.x, p.y], text.clone()));
            }
        }
    }
    let around = piece.outline_path().bounding_box();
    let (middle, half) = (around.center(), 0.2 * around.height());
    let along = Vec2::from_angle(piece.grain.to_radians()) * half;
    lines.push((FlatKind::Grain, data(Line::new(middle - along, middle + along).to_path(0.1))));
    let p = place * Point::new(middle.x, middle.y - half - 12.0);
    texts.push(([p.x, p.y], piece.name.clone()));
    FlatPiece { name: piece.name.clone(), colour, lines, texts }
}

/// One or two short strokes into the cloth.
fn notch(piece: &PatternPiece, line: usize, at: f64, double: bool) -> Vec<Line> {
    let curve = &piece.lines[line].curve;
    let point = |share: f64| {
        let p = point_at(curve, share.clamp(0.0, 1.0));
        Point::new(p.x, p.y)
    };
    let along = (point(at + 0.01) - point(at - 0.01)).normalize();
    let inwards = Vec2::new(-along.y, along.x) * NOTCH;
    let sides: &[f64] = if double { &[-1.5, 1.5] } else { &[0.0] };
    sides.iter().map(|s| Line::new(point(at) + along * *s, point(at) + along * *s + inwards)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Area of the first subpath of the data of an SVG path, read by kurbo's own parser from the written text.
    fn outlines(text: &str) -> Vec<f64> {
        text.lines()
            .filter(|l| l.contains("class=\"outline\""))
            .filter_map(|l| Some(l.split(" d=\"").nth(1)?.split('"').next()?.to_owned()))
            .map(|d| BezPath::from_svg(&d).expect("a path").area().abs())
            .collect()
    }

    #[test]
    fn written_outlines_have_the_areas_of_the_pieces() {
        for text in [include_str!("../../../demo/marsh-jacket.ourlet.json"), include_str!("../../../demo/ferry-pinafore.ourlet.json")] {
            let costume = costume::read(text).expect("a demo");
            let written = outlines(&pattern_svg(&costume).expect("pieces"));
            let pattern = resolve(&costume);
            assert_eq!(written.len(), pattern.pieces.len());
            for (area, piece) in written.iter().zip(&pattern.pieces) {
                assert!((area / piece.area() - 1.0).abs() < 1e-6, "{}: {area} and {}", piece.name, piece.area());
            }
        }
        assert!(pattern_svg(&Costume::new("Empty")).is_none());
    }
}
