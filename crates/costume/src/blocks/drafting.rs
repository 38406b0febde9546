//! What a recipe makes: pieces by their points, and how they are sewn and hung.

use crate::{Finish, LoopPoint, Point};
use kurbo::{CubicBez, ParamCurveArclen};

/// A whole block.
pub(crate) struct Draft {
    pub pieces: Vec<PieceDraft>,
    /// Two sides of stretches each.
    pub seams: Vec<[Vec<Side>; 2]>,
}

/// A line of a piece of the draft, or of its twin.
#[derive(Clone, Copy)]
pub(crate) struct Side {
    pub piece: usize,
    pub twin: bool,
    pub line: usize,
    pub back: bool,
}

/// One piece; its points run counter-clockwise, and each line has the number of the point it leaves.
pub(crate) struct PieceDraft {
    pub name: &'static str,
    pub points: Vec<LoopPoint>,
    /// The line that lies on the fold.
    pub fold: Option<u32>,
    /// Station, and the point of the piece that lies at its middle.
    pub hang: Option<(&'static str, Point)>,
    /// It has a twin on the other side.
    pub twin: bool,
    pub along: Vec<(usize, Finish)>,
    /// Line, share of its length, width of the mouth and depth.
    pub darts: Vec<(usize, f64, f64, f64)>,
    /// Line and share of its length.
    pub notches: Vec<(usize, f64)>,
}

impl PieceDraft {
    pub fn new(name: &'static str, points: Vec<LoopPoint>) -> Self {
        Self { name, points, fold: None, hang: None, twin: false, along: Vec::new(), darts: Vec::new(), notches: Vec::new() }
    }
}

/// A line of a piece walked forwards.
pub(crate) const fn on(piece: usize, line: usize) -> Side {
    Side { piece, twin: false, line, back: false }
}

impl Side {
    /// The other way round.
    pub const fn back(self) -> Self {
        Self { back: true, ..self }
    }
    /// The same line of the twin.
    pub const fn of_twin(self) -> Self {
        Self { twin: true, ..self }
    }
}

/// Two pieces sewn to each other at both sides, by these lines of each: its right one to the left one of the other.
pub(crate) fn both_sides([one, other]: [usize; 2], [right, left]: [usize; 2]) -> [[Vec<Side>; 2]; 2] {
    [[vec![on(one, right)], vec![on(other, left).back()]], [vec![on(one, left)], vec![on(other, right).back()]]]
}

pub(crate) fn at(x: f64, y: f64) -> LoopPoint {
    LoopPoint { x, y, handles: None }
}

/// A point whose line to the next is a curve with these control points.
pub(crate) fn curved(x: f64, y: f64, leave: (f64, f64), arrive: (f64, f64)) -> LoopPoint {
    LoopPoint { x, y, handles: Some([Point::new(leave.0, leave.1), Point::new(arrive.0, arrive.1)]) }
}

/// Length of a curve.
pub(crate) fn length(from: (f64, f64), leave: (f64, f64), arrive: (f64, f64), to: (f64, f64)) -> f64 {
    CubicBez::new(from, leave, arrive, to).arclen(1e-4)
}

/// The value in a range at which a growing function takes a wanted value.
pub(crate) fn solve(mut low: f64, mut high: f64, wanted: f64, of: impl Fn(f64) -> f64) -> f64 {
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if of(middle) < wanted {
            low = middle;
        } else {
            high = middle;
        }
    }
    0.5 * (low + high)
}

/// A point of a circle about the origin; on its axes to the last bit, so that a fold lies straight.
pub(crate) fn on_circle(radius: f64, degrees: f64) -> (f64, f64) {
    let exact = |v: f64| if v.abs() < 1e-9 * radius { 0.0 } else { v };
    let (sin, cos) = degrees.to_radians().sin_cos();
    (exact(radius * cos), exact(radius * sin))
}

/// Points along an arc about the origin in equal parts, each with its curve to the next; the last point is left to the
/// caller. Degrees from the x axis; a negative sweep runs clockwise.
pub(crate) fn arc(radius: f64, from: f64, sweep: f64, parts: usize) -> Vec<LoopPoint> {
    let step = sweep.to_radians() / parts as f64;
    let reach = 4.0 / 3.0 * (step / 4.0).tan() * radius;
    let place = |k: usize| {
        let a = from.to_radians() + step * k as f64;
        let (x, y) = on_circle(radius, from + (sweep / parts as f64) * k as f64);
        (x, y, -a.sin(), a.cos())
    };
    (0..parts)
        .map(|k| {
            let ((x, y, u, v), (p, q, s, t)) = (place(k), place(k + 1));
            curved(x, y, (x + u * reach, y + v * reach), (p - s * reach, q - t * reach))
        })
        .collect()
}

/// The mirror image of a loop, again counter-clockwise: points in the other order, each with the curve that now leaves it.
pub(crate) fn mirrored_loop(points: &[LoopPoint]) -> Vec<LoopPoint> {
    let n = points.len();
    let m = |p: Point| Point::new(-p.x, p.y);
    (0..n)
        .map(|k| {
            let i = n - 1 - k;
            let before = &points[(i + n - 1) % n];
            let handles = before.handles.map(|[a, b]| [m(b), m(a)]);
            LoopPoint { x: -points[i].x, y: points[i].y, handles }
        })
        .collect()
}
