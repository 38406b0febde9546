//! Mirror images of drawings. A mirrored outline would run clockwise, so every line is turned round: what lay at a share
//! of its length lies at one minus that share.

use crate::{Along, Drawing, InsidePath, Line, Mark, Node, Point, Run};

/// The image about the y axis of the piece's frame.
pub fn mirrored_point(p: Point) -> Point {
    Point::new(-p.x, p.y)
}

/// The mirror image about the y axis of the piece's frame; nodes and lines keep their ids.
pub fn mirrored(drawing: &Drawing) -> Drawing {
    reflected(drawing, mirrored_point)
}

/// The image about the straight line through two points.
pub(crate) fn about(a: Point, b: Point) -> impl Fn(Point) -> Point {
    let d = Point::new(b.x - a.x, b.y - a.y);
    let square = d.x * d.x + d.y * d.y;
    move |p| {
        let t = ((p.x - a.x) * d.x + (p.y - a.y) * d.y) / square;
        let foot = a.lerp(b, t);
        Point::new(2.0 * foot.x - p.x, 2.0 * foot.y - p.y)
    }
}

/// The same about any line.
pub(crate) fn reflected(drawing: &Drawing, image: impl Fn(Point) -> Point) -> Drawing {
    let turned = |lines: &Vec<_>| lines.iter().rev().copied().collect::<Vec<_>>();
    Drawing {
        nodes: drawing.nodes.iter().map(|n| Node { at: image(n.at), ..*n }).collect(),
        lines: drawing.lines.iter().map(|l| turned_line(l, &image)).collect(),
        outline: turned(&drawing.outline),
        cutouts: drawing.cutouts.iter().map(turned).collect(),
        inside: drawing.inside.iter().map(|p| InsidePath { id: p.id, lines: turned(&p.lines), purpose: p.purpose }).collect(),
        marks: drawing
            .marks
            .iter()
            .map(|mark| match mark {
                Mark::Notch { id, line, at, double } => Mark::Notch { id: *id, line: *line, at: 1.0 - at, double: *double },
                Mark::DrillHole { id, at } => Mark::DrillHole { id: *id, at: image(*at) },
                Mark::Text { id, at, text } => Mark::Text { id: *id, at: image(*at), text: text.clone() },
            })
            .collect(),
        along: drawing.along.iter().map(|a| Along { from: 1.0 - a.to, to: 1.0 - a.from, ..*a }).collect(),
        paint: drawing.paint.iter().map(|p| p.moved(&image)).collect(),
    }
}

fn turned_line(line: &Line, image: impl Fn(Point) -> Point) -> Line {
    Line { id: line.id, from: line.to, to: line.from, handles: line.handles.map(|[a, b]| [image(b), image(a)]) }
}

/// The same stretch on a line that was turned round.
pub fn mirrored_run(run: Run) -> Run {
    Run { from: 1.0 - run.from, to: 1.0 - run.to, ..run }
}

/// The grain seen in the mirror, degrees from the x axis.
pub fn mirrored_grain(degrees: f64) -> f64 {
    180.0 - degrees
}

/// The station on the other side of the body: names that end in a side change it, the others stay.
pub fn mirrored_station(station: &str) -> String {
    for (side, other) in [("left", "right"), ("right", "left")] {
        if let Some(stem) = station.strip_suffix(side) {
            return format!("{stem}{other}");
        }
    }
    station.to_owned()
}
