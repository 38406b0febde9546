//! Top-stitching: rows beside the first side of a seam, within its cloth.

use crate::curve::{cubic, from_kurbo, heading, parameter};
use crate::{Pattern, PatternRun, PatternSeam, Point};
use kurbo::{ParamCurve, Shape as _};

/// Rows are followed in steps of this length, and straightened to within so much, mm.
const STEP: f64 = 3.0;
const STRAIGHT: f64 = 0.05;

/// A row of stitches on a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct StitchRow {
    /// Place of the piece in the pattern.
    pub piece: usize,
    /// Its way in the frame of the piece, mm.
    pub points: Vec<Point>,
}

/// The rows of a seam, nearest to it first; none without top-stitching. They keep their distance from the edge and end
/// where the cloth does.
///
/// ```
/// use costume::{Costume, Edit, LineRef, Point, SeamMake, TopStitch, apply, resolve, top_stitching};
///
/// let square = || [(0.0, 0.0), (200.0, 0.0), (200.0, 100.0), (0.0, 100.0)].map(|(x, y)| Point::new(x, y).into()).to_vec();
/// let add = |name: &str, x| Edit::AddPiece { name: name.into(), at: Point::new(x, 0.0), points: square(), fold: None };
/// let mut costume = apply(&apply(&Costume::new("Bag"), &add("Front", 0.0))?, &add("Back", 300.0))?;
/// let edge = |costume: &Costume, k: usize| {
///     let piece = &costume.pieces[k];
///     LineRef { piece: piece.id, line: piece.drawing().expect("drawn").outline[0] }
/// };
/// costume = apply(&costume, &Edit::Join { a: edge(&costume, 0), b: edge(&costume, 1) })?;
/// let make = SeamMake { top_stitch: Some(TopStitch { rows: 2, distance: 6.0, length: 3.0 }), ..SeamMake::default() };
/// costume = apply(&costume, &Edit::MakeSeam { seam: costume.seams[0].id, make })?;
/// let pattern = resolve(&costume);
/// let rows = top_stitching(&pattern, &pattern.seams[0]);
/// assert_eq!(rows.len(), 2);
/// assert!(rows[1].points.iter().all(|p| (p.y - 12.0).abs() < 1e-6));
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn top_stitching(pattern: &Pattern, seam: &PatternSeam) -> Vec<StitchRow> {
    let Some(stitch) = seam.make.top_stitch else { return Vec::new() };
    let row = |k: u8| f64::from(k + 1) * stitch.distance;
    let rows = (0..stitch.rows).flat_map(|k| seam.a.iter().map(move |run| (run, row(k))));
    rows.flat_map(|(run, aside)| beside(pattern, run, aside)).collect()
}

/// The stretches of the cloth at a distance from a run.
fn beside(pattern: &Pattern, run: &PatternRun, aside: f64) -> Vec<StitchRow> {
    let piece = &pattern.pieces[run.piece];
    let line = &piece.lines[run.line];
    let (curve, cloth) = (cubic(&line.curve), piece.path());
    let (low, high) = (run.from.min(run.to), run.from.max(run.to));
    let parts = ((high - low) * line.length / STEP).ceil().max(1.0) as usize;
    let mut rows: Vec<Vec<Point>> = vec![Vec::new()];
    for k in 0..=parts {
        let t = parameter(&line.curve, low + (high - low) * k as f64 / parts as f64);
        let way = heading(&curve, t);
        let at = curve.eval(t) + kurbo::Vec2::new(-way.y, way.x) * aside;
        if cloth.contains(at) {
            rows.last_mut().into_iter().for_each(|row| row.push(from_kurbo(at)));
        } else if rows.last().is_some_and(|row| !row.is_empty()) {
            rows.push(Vec::new());
        }
    }
    rows.into_iter().filter(|row| row.len() > 1).map(|row| StitchRow { piece: run.piece, points: straightened(&row) }).collect()
}

/// Without the points that lie on the way between others.
fn straightened(points: &[Point]) -> Vec<Point> {
    let mut kept = vec![points[0]];
    let mut first = 0;
    for k in 2..points.len() {
        let (a, b) = (points[first], points[k]);
        let long = a.distance(b).max(1e-9);
        let off = |p: &Point| ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)).abs() / long;
        if points[first + 1..k].iter().any(|p| off(p) > STRAIGHT) {
            first = k - 1;
            kept.push(points[first]);
        }
    }
    kept.push(points[points.len() - 1]);
    kept
}
