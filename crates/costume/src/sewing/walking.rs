//! Walking one side of a seam along the other, as on paper: the piece is turned about the point where both touch.

use crate::pattern::{Pattern, PatternRun, PatternSeam};
use crate::{PieceId, Point, curve};
use kurbo::{Affine, ParamCurve, Vec2};
use serde::Serialize;
use ts_rs::TS;

/// Where the walking piece lies when both sides have been walked by the same length; mm.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Walked {
    /// The piece of side b that touches now.
    pub piece: PieceId,
    /// Where the origin of its frame lies on the table, and its angle, degrees counter-clockwise.
    pub at: Point,
    /// Its angle on the table.
    pub angle: f64,
    /// Where the sides touch, on the table.
    pub touch: Point,
    /// What is walked of both sides.
    pub walked: f64,
    /// What is left of side a and of side b.
    pub left: [f64; 2],
    /// Of the pair of notches passed last: how much later that of side b came.
    pub notch: Option<f64>,
}

/// A point of a side, its direction, and the piece it is on, in that piece's frame.
struct Place {
    piece: usize,
    at: kurbo::Point,
    ahead: Vec2,
}

fn place(pattern: &Pattern, side: &[PatternRun], walked: f64) -> Option<Place> {
    let mut left = walked;
    for (k, run) in side.iter().enumerate() {
        let length = pattern.run_length(run);
        if left <= length || k + 1 == side.len() {
            let share = run.from + (run.to - run.from) * (left / length.max(f64::MIN_POSITIVE)).min(1.0);
            let line = &pattern.pieces[run.piece].lines[run.line].curve;
            let t = curve::parameter(line, share);
            let ahead = curve::heading(&curve::cubic(line), t) * if run.to < run.from { -1.0 } else { 1.0 };
            return Some(Place { piece: run.piece, at: line.eval(t), ahead });
        }
        left -= length;
    }
    None
}

/// Both sides of a seam walked by the same length from their beginning; at most to the end of the shorter one. None when
/// the seam has no sides.
///
/// ```
/// # use costume::{Costume, Edit, Point, Run, apply, resolve, walk};
/// let square = |x: f64| [(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)].map(|(u, y)| Point::new(u, y).into()).to_vec();
/// let mut costume = Costume::new("Two squares");
/// for (name, x) in [("Left", 0.0), ("Right", 500.0)] {
///     costume = apply(&costume, &Edit::AddPiece { name: name.into(), at: Point::new(x, 0.0), points: square(x), fold: None })?;
/// }
/// let edge = |k: usize, line: usize| vec![Run::whole(costume.pieces[k].id, costume.pieces[k].drawing().expect("drawn").outline[line])];
/// let sewn = apply(&costume, &Edit::SewTogether { a: edge(0, 1), b: edge(1, 3) })?;
/// let pattern = resolve(&sewn);
/// let walked = walk(&pattern, &pattern.seams[0], 50.0).expect("sides");
/// // the right square lies against the left one
/// assert!((walked.at.x - 300.0).abs() < 1e-6 && walked.left == [150.0, 150.0]);
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn walk(pattern: &Pattern, seam: &PatternSeam, walked: f64) -> Option<Walked> {
    let lengths = pattern.seam_lengths(seam);
    let walked = walked.clamp(0.0, lengths.a.min(lengths.b));
    let (a, b) = (place(pattern, &seam.a, walked)?, place(pattern, &seam.b, walked)?);
    let table = pattern.pieces[a.piece].on_table();
    let touch = table * a.at;
    let ahead = (table * (a.at + a.ahead)) - touch;
    let turn = ahead.atan2() - b.ahead.atan2();
    let origin = touch - (Affine::rotate(turn) * b.at).to_vec2();
    let passed = seam.notches.iter().rfind(|n| n[0] * lengths.a <= walked + 1e-6 || n[1] * lengths.b <= walked + 1e-6);
    Some(Walked {
        piece: pattern.pieces[b.piece].id,
        at: Point::new(origin.x, origin.y),
        angle: turn.to_degrees(),
        touch: Point::new(touch.x, touch.y),
        walked,
        left: [lengths.a - walked, lengths.b - walked],
        notch: passed.map(|n| n[1] * lengths.b - n[0] * lengths.a),
    })
}
