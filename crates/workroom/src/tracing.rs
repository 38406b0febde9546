//! Outlines traced from pictures under the paper, and the rulers in them.

use costume::{LoopPoint, Point, Projective, Refusal, Underlay, drawn_loop};
use kurbo::{BezPath, PathEl, Shape as _};
use trace::{Grey, NoOutline};

/// The curves of a traced outline stay this near to the drawn line, mm.
const WITHIN: f64 = 0.3;
/// A stretch of an outline that begins straight does so for this long, and strays no farther, mm.
const STRAIGHT: f64 = 30.0;
const STRAYS: f64 = 0.11;
/// A line must be at least this wide in the picture, px, for its place to be more than a guess.
const LEAST_SCALE: f64 = 1.0;

/// An outline that was found in a picture, proposed as a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct TracedOutline {
    /// Where the piece would lie, mm on the table: the lower left of the outline.
    pub at: Point,
    /// Its outline from there.
    pub points: Vec<LoopPoint>,
    /// Enclosed area, mm².
    pub area: f64,
    /// Widest gap in the drawn line that was bridged, mm; 0 for a closed one.
    pub bridged: f64,
}

/// The ticks of a ruler in a picture.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RulerTicks {
    /// How many the line crosses.
    pub count: usize,
    /// From tick to tick as the picture lies now, mm.
    pub spacing: f64,
}

/// From the table (mm) to the pixels of the picture, and back.
fn maps(underlay: &Underlay) -> Result<(Projective, Projective), Refusal> {
    let [w, h] = underlay.pixels.map(f64::from);
    let pixels = [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)].map(|(x, y)| Point::new(x, y));
    let both = Projective::between(pixels, underlay.corners).and_then(|onto| Some((onto.inverse()?, onto)));
    both.ok_or_else(|| Refusal::elsewhere(&underlay.name, "does not lie flat", "lay it anew"))
}

fn as_laid(picture: &Grey, underlay: &Underlay) -> Result<(), Refusal> {
    let size = [picture.width(), picture.height()].map(|v| v as u32);
    let same = size == underlay.pixels;
    same.then_some(()).ok_or_else(|| Refusal::elsewhere(&underlay.name, "is not the picture that was laid", "take it out and lay it anew"))
}

/// The outline around a place on the table, mm.
pub fn trace_outline(picture: &Grey, underlay: &Underlay, at: Point) -> Result<TracedOutline, Refusal> {
    as_laid(picture, underlay)?;
    let (to_pixels, onto) = maps(underlay)?;
    let seed = to_pixels.at(at);
    // pixels of a millimetre where the click was: a skewed picture has more of them in front
    let step = 1.0;
    let beside = [Point::new(at.x + step, at.y), Point::new(at.x, at.y + step)].map(|p| to_pixels.at(p).distance(seed));
    let scale = (beside[0] * beside[1]).sqrt();
    let refuse = |reason: &str, remedy: &str| Err(Refusal::elsewhere(&underlay.name, reason, remedy));
    if !(scale.is_finite() && scale >= LEAST_SCALE) {
        return refuse("is too coarse to trace here: less than one pixel to a millimetre", "scan it at 100 dpi or more");
    }
    let found = match trace::outline(picture, [seed.x, seed.y], scale) {
        Ok(found) => found,
        Err(NoOutline::Outside) => return refuse("does not lie under this place", "click inside an outline of the picture"),
        Err(NoOutline::OnInk) => return refuse("is dark all around this place", "click on blank paper inside the outline"),
        Err(NoOutline::Open) => {
            return refuse("has no closed line around this place", "click inside an outline, or draw over it by hand where it is open");
        }
        Err(NoOutline::Small) => {
            return refuse("encloses less than a square centimetre here", "click beside the writing, or inside a larger outline");
        }
    };
    let place = |p: [f64; 2]| {
        let on = onto.at(Point::new(p[0], p[1]));
        kurbo::Point::new(on.x, on.y)
    };
    let line: Vec<kurbo::Point> = found.points.iter().map(|p| place(*p)).collect();
    let corners = match found.corners.as_slice() {
        // a smooth line is parted somewhere, so that curves can be fitted to it
        [] => vec![0, line.len() / 2],
        corners => corners.to_vec(),
    };
    let mut path = BezPath::from_vec(line.iter().map(|p| PathEl::LineTo(*p)).collect());
    path.elements_mut()[0] = PathEl::MoveTo(line[0]);
    path.close_path();
    let around = path.bounding_box();
    let points: Vec<LoopPoint> = few_points(&path, &line, &corners)
        .into_iter()
        .map(|p| {
            let own = |q: Point| Point::new(q.x - around.x0, q.y - around.y0);
            let at = own(p.at());
            LoopPoint { x: at.x, y: at.y, handles: p.handles.map(|h| h.map(own)) }
        })
        .collect();
    if points.len() < 3 {
        return refuse("encloses nothing that could be a piece here", "click inside a larger outline");
    }
    let at = Point::new(around.x0, around.y0);
    Ok(TracedOutline { at, points, area: path.area().abs(), bridged: found.bridged / scale })
}

/// The outline with few points: parted at its corners, and where a straight stretch goes over into a curve if that saves points.
fn few_points(path: &BezPath, line: &[kurbo::Point], corners: &[usize]) -> Vec<LoopPoint> {
    let mut parted: Vec<kurbo::Point> = corners.iter().map(|k| line[*k]).collect();
    let mut best = drawn_loop(path, &parted, WITHIN);
    for joint in joints(line, corners) {
        parted.push(joint);
        let made = drawn_loop(path, &parted, WITHIN);
        if made.len() < best.len() {
            best = made;
        } else {
            parted.pop();
        }
    }
    best
}

/// Where stretches between corners that begin or end straight leave the straight line.
fn joints(line: &[kurbo::Point], corners: &[usize]) -> Vec<kurbo::Point> {
    let n = line.len();
    let mut found = Vec::new();
    for (i, &from) in corners.iter().enumerate() {
        let count = (corners[(i + 1) % corners.len()] + n - from - 1) % n + 1;
        for back in [false, true] {
            let at = |s: usize| line[(from + if back { count - s } else { s }) % n];
            let straight = |end: usize| {
                let way = at(end) - at(0);
                (1..end).all(|s| way.cross(at(s) - at(0)).abs() <= STRAYS * way.hypot())
            };
            // longer and longer by halves: a stretch that left the line does not come back to it
            let (mut low, mut high) = (1, count);
            while high - low > 1 {
                let middle = low.midpoint(high);
                if straight(middle) { low = middle } else { high = middle }
            }
            if low + 1 < count && at(0).distance(at(low)) >= STRAIGHT {
                found.push(at(low));
            }
        }
    }
    found
}

/// The ticks of a ruler that a line on the table crosses, mm.
pub fn ruler_ticks(picture: &Grey, underlay: &Underlay, from: Point, to: Point) -> Result<RulerTicks, Refusal> {
    as_laid(picture, underlay)?;
    let (to_pixels, _) = maps(underlay)?;
    let [a, b] = [from, to].map(|p| to_pixels.at(p));
    let found = trace::ticks(picture, [a.x, a.y], [b.x, b.y]).ok_or_else(|| {
        Refusal::elsewhere(&underlay.name, "has no even ticks along this line", "draw it straight along a ruler, across at least six ticks")
    })?;
    Ok(RulerTicks { count: found.count, spacing: found.spacing * from.distance(to) / a.distance(b) })
}
