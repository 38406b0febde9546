//! Painting maps on pieces: strokes of a brush, filling, gradients, smoothing, pictures.

use super::{drawing, find, missing, own_frame};
use crate::curve::{from_kurbo, line_curve};
use crate::mirror::about;
use crate::{Costume, Drawing, Edit, Paint, PaintKind, PaintUse, PieceId, Point, Raster, Refusal, SkinHold, Stroke, Thing};
use kurbo::{BezPath, Shape as _};

/// Cells along the longer side of a piece, and the size of a cell, mm.
const CELLS: f64 = 200.0;
const CELL: std::ops::RangeInclusive<f64> = 2.0..=20.0;
/// Farthest that curves are flattened from, mm.
const FLAT: f64 = 0.5;
/// Factor of friction of a new map.
const ROUGH: f64 = 3.0;
/// How far cloth may go where a new map of what is carried is hardly painted, mm.
const LEASH: f64 = 60.0;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::Paint { piece, kind, stroke } => {
            crate::rules::stroke("stroke", stroke)?;
            let fold = find(costume, costume.owner(*piece))?.cut.on_fold;
            let (drawing, mirrored) = drawing(costume, *piece)?;
            let stroke = stroke.mapped(|p| own_frame(p, mirrored));
            let axis = fold.and_then(|f| {
                let line = drawing.line(f)?;
                Some([drawing.node(line.from)?.at, drawing.node(line.to)?.at])
            });
            paint(drawing, *kind, &stroke, axis);
        }
        Edit::SetPaint { piece, purpose } => {
            let mut known = maps(costume, *piece, purpose.kind())?.peekable();
            known.peek().ok_or_else(|| missing(Thing::Paint))?;
            known.for_each(|p| p.purpose = *purpose);
        }
        Edit::RemovePaint { piece, kind } => {
            let (drawing, _) = drawing(costume, *piece)?;
            let count = drawing.paint.len();
            drawing.paint.retain(|p| p.purpose.kind() != *kind);
            if drawing.paint.len() == count {
                return Err(missing(Thing::Paint));
            }
        }
        _ => {}
    }
    Ok(())
}

fn maps(costume: &mut Costume, piece: PieceId, kind: PaintKind) -> Result<impl Iterator<Item = &mut Paint>, Refusal> {
    Ok(drawing(costume, piece)?.0.paint.iter_mut().filter(move |p| p.purpose.kind() == kind))
}

/// Joins the maps of one kind into one that covers the piece, and paints on it.
fn paint(drawing: &mut Drawing, kind: PaintKind, stroke: &Stroke, axis: Option<[Point; 2]>) {
    let mut canvas = Canvas::of(drawing, kind);
    let spots = |points: &[Point]| -> Vec<Point> {
        // what is painted on one half is painted on both
        let image = |p: &Point| axis.map(|[a, b]| about(a, b)(*p));
        points.iter().copied().chain(points.iter().rev().filter_map(image)).collect()
    };
    match stroke {
        Stroke::Brush { points, radius, soft, value } => {
            let halves = [points.clone(), spots(points)[points.len()..].to_vec()];
            for half in halves.iter().filter(|h| !h.is_empty()) {
                canvas.brush(half, *radius, *soft, *value);
            }
        }
        Stroke::Fill { value } => canvas.set(|_, _| *value),
        Stroke::Gradient { from, to, values } => {
            let [from, to] = canvas.on_half([*from, *to], axis);
            let (dx, dy) = (to.x - from.x, to.y - from.y);
            let square = (dx * dx + dy * dy).max(1e-12);
            canvas.set(|p, _| {
                let t = (((p.x - from.x) * dx + (p.y - from.y) * dy) / square).clamp(0.0, 1.0);
                values[0] + (values[1] - values[0]) * t
            });
        }
        Stroke::Smooth { radius } => canvas.smooth(*radius),
        Stroke::Picture { image } => canvas.lay(image),
    }
    let purpose = canvas.purpose;
    drawing.paint.retain(|p| p.purpose.kind() != kind);
    drawing.paint.push(Paint { purpose, ..canvas.into_paint() });
}

/// A map that is being painted.
struct Canvas {
    purpose: PaintUse,
    low: Point,
    cell: f64,
    columns: usize,
    rows: usize,
    /// Row by row from below, 0 to 1.
    values: Vec<f64>,
    /// Cells on the cloth and their neighbours.
    cloth: Vec<bool>,
    /// Where the outline is, on the side that is drawn.
    middle: Point,
}

impl Canvas {
    /// With what the maps of a kind show now.
    fn of(drawing: &Drawing, kind: PaintKind) -> Self {
        let outline = outline(drawing);
        let bounds = outline.bounding_box();
        let cell = (bounds.width().max(bounds.height()) / CELLS).clamp(*CELL.start(), *CELL.end());
        // one cell beyond the cloth on all sides; a piece beyond the sizes of cells has larger ones
        let cell = cell.max(bounds.width().max(bounds.height()) / f64::from(crate::SIDE - 4));
        let count = |length: f64| (length / cell).ceil() as usize + 2;
        let (columns, rows) = (count(bounds.width()), count(bounds.height()));
        let low = Point::new(bounds.x0 - cell, bounds.y0 - cell);
        let old: Vec<&Paint> = drawing.paint.iter().filter(|p| p.purpose.kind() == kind).collect();
        let purpose = old.first().map(|p| p.purpose).unwrap_or(match kind {
            PaintKind::Skin => PaintUse::Skin(SkinHold::default()),
            PaintKind::Grip => PaintUse::Grip { factor: ROUGH },
            PaintKind::Carried => PaintUse::Carried { leash: LEASH },
        });
        let middle = from_kurbo(bounds.center());
        let mut canvas = Self { purpose, low, cell, columns, rows, values: vec![0.0; columns * rows], cloth: Vec::new(), middle };
        canvas.cloth = canvas.covered(&outline);
        canvas.set(|p, _| old.iter().map(|o| o.value(p)).fold(0.0, f64::max));
        canvas
    }

    fn at(&self, k: usize) -> Point {
        let (x, y) = ((k % self.columns) as f64 + 0.5, (k / self.columns) as f64 + 0.5);
        Point::new(self.low.x + x * self.cell, self.low.y + y * self.cell)
    }

    /// Cells with their middle within a path, and those beside them.
    fn covered(&self, path: &BezPath) -> Vec<bool> {
        let mut points: Vec<kurbo::Point> = Vec::new();
        kurbo::flatten(path, FLAT, |el| {
            if let kurbo::PathEl::MoveTo(p) | kurbo::PathEl::LineTo(p) = el {
                points.push(p);
            }
        });
        let mut within = vec![false; self.columns * self.rows];
        for row in 0..self.rows {
            let y = self.at(row * self.columns).y;
            let sides = points.iter().zip(points.iter().cycle().skip(1)).filter(|(a, b)| (a.y > y) != (b.y > y));
            let mut cuts: Vec<f64> = sides.map(|(a, b)| a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y)).collect();
            cuts.sort_by(f64::total_cmp);
            for cut in cuts.chunks_exact(2) {
                let column = |x: f64| ((x - self.low.x) / self.cell - 0.5).clamp(0.0, self.columns as f64);
                let (from, to) = (column(cut[0]).ceil() as usize, column(cut[1]).floor() as usize);
                (from..=to.min(self.columns - 1)).for_each(|c| within[row * self.columns + c] = true);
            }
        }
        (0..within.len()).map(|k| self.around(k, 1).any(|n| within[n])).collect()
    }

    /// The cells at most so many columns and rows away.
    fn around(&self, k: usize, by: usize) -> impl Iterator<Item = usize> + use<> {
        let (columns, (c, r)) = (self.columns, (k % self.columns, k / self.columns));
        let (c1, r1) = ((c + by).min(self.columns - 1), (r + by).min(self.rows - 1));
        (r.saturating_sub(by)..=r1).flat_map(move |r| (c.saturating_sub(by)..=c1).map(move |c| r * columns + c))
    }

    /// Sets all cells on the cloth from their middle and their value.
    fn set(&mut self, value: impl Fn(Point, f64) -> f64) {
        for k in (0..self.values.len()).filter(|k| self.cloth[*k]) {
            self.values[k] = value(self.at(k), self.values[k]).clamp(0.0, 1.0);
        }
    }

    /// Draws a brush along a way: to the value in full within its firm middle, less towards its rim.
    fn brush(&mut self, way: &[Point], radius: f64, soft: f64, value: f64) {
        let mut off = vec![f64::INFINITY; self.values.len()];
        for k in 0..way.len() {
            self.reached_by(way[k.saturating_sub(1)], way[k], radius, &mut off);
        }
        let firm = 1.0 - soft;
        for k in (0..off.len()).filter(|k| off[*k] < radius && self.cloth[*k]) {
            let off = off[k] / radius;
            let t = if off <= firm { 1.0 } else { ((1.0 - off) / soft.max(1e-9)).clamp(0.0, 1.0) };
            // smooth at both ends
            self.values[k] += (value - self.values[k]) * t * t * (3.0 - 2.0 * t);
        }
    }

    /// Notes how near the cells around a straight way are to it.
    fn reached_by(&self, a: Point, b: Point, radius: f64, off: &mut [f64]) {
        let index = |v: f64, most: usize| (v / self.cell).clamp(0.0, most as f64) as usize;
        let within =
            |a: f64, b: f64, low: f64, most: usize| index(a.min(b) - radius - low, most)..index(a.max(b) + radius - low + self.cell, most);
        let columns = within(a.x, b.x, self.low.x, self.columns);
        for row in within(a.y, b.y, self.low.y, self.rows) {
            for k in columns.clone().map(|c| row * self.columns + c) {
                off[k] = off[k].min(off_segment(self.at(k), a, b));
            }
        }
    }

    /// Means over squares, twice, on the cloth only.
    fn smooth(&mut self, radius: f64) {
        let by = (radius / self.cell).round().max(1.0) as usize;
        for _ in 0..2 {
            let sums = self.sums();
            let of = |k: usize| {
                let (c, r) = (k % self.columns, k / self.columns);
                let (c0, r0) = (c.saturating_sub(by), r.saturating_sub(by));
                let (c1, r1) = ((c + by).min(self.columns - 1) + 1, (r + by).min(self.rows - 1) + 1);
                let at = |c: usize, r: usize| sums[r * (self.columns + 1) + c];
                let over = |pick: fn((f64, f64)) -> f64| pick(at(c1, r1)) - pick(at(c0, r1)) - pick(at(c1, r0)) + pick(at(c0, r0));
                over(|s| s.0) / over(|s| s.1).max(1.0)
            };
            let new: Vec<f64> = (0..self.values.len()).map(|k| if self.cloth[k] { of(k) } else { 0.0 }).collect();
            self.values = new;
        }
    }

    /// Of values and of cells on the cloth, over all that is to the left and below, from corner to corner.
    fn sums(&self) -> Vec<(f64, f64)> {
        let wide = self.columns + 1;
        let mut sums = vec![(0.0, 0.0); wide * (self.rows + 1)];
        for r in 0..self.rows {
            for c in 0..self.columns {
                let k = r * self.columns + c;
                let own = if self.cloth[k] { (self.values[k], 1.0) } else { (0.0, 0.0) };
                let (below, left, corner) = (sums[r * wide + c + 1], sums[(r + 1) * wide + c], sums[r * wide + c]);
                sums[(r + 1) * wide + c + 1] = (own.0 + below.0 + left.0 - corner.0, own.1 + below.1 + left.1 - corner.1);
            }
        }
        sums
    }

    /// Lays a picture over the piece, from edge to edge.
    fn lay(&mut self, image: &Raster) {
        let size = [self.columns - 2, self.rows - 2].map(|n| n as f64 * self.cell);
        let (right, up) = (size[0] / f64::from(image.columns()), size[1] / f64::from(image.rows()));
        let at = Point::new(self.low.x + self.cell, self.low.y + self.cell);
        let lain = Paint { purpose: self.purpose, at, right: Point::new(right, 0.0), up: Point::new(0.0, up), image: image.clone() };
        // the rim of a picture goes on beyond it
        let within = |v: f64, low: f64, high: f64| v.clamp(low.min(high), high);
        self.set(|p, _| {
            let x = within(p.x, at.x + 0.5 * right, at.x + size[0] - 0.5 * right);
            lain.value(Point::new(x, within(p.y, at.y + 0.5 * up, at.y + size[1] - 0.5 * up)))
        });
    }

    /// Both ends of a way on the half that is drawn.
    fn on_half(&self, ends: [Point; 2], axis: Option<[Point; 2]>) -> [Point; 2] {
        let Some([a, b]) = axis else { return ends };
        let side = |p: Point| crate::rules::turn(a, b, p);
        let middle = ends[0].lerp(ends[1], 0.5);
        if side(middle) * side(self.middle) < 0.0 { ends.map(about(a, b)) } else { ends }
    }

    fn into_paint(self) -> Paint {
        let rows = self.values.chunks_exact(self.columns).rev();
        let values = rows.flatten().map(|v| (v * 255.0).round() as u8).collect();
        let blank = || Raster::new(1, 1, vec![0]).unwrap_or_else(|| unreachable!("one cell is within the limits"));
        Paint {
            purpose: self.purpose,
            at: self.low,
            right: Point::new(self.cell, 0.0),
            up: Point::new(0.0, self.cell),
            image: Raster::new(self.columns as u32, self.rows as u32, values).unwrap_or_else(blank),
        }
    }
}

fn outline(drawing: &Drawing) -> BezPath {
    let curves = drawing.outline.iter().filter_map(|l| line_curve(drawing, drawing.line(*l)?));
    BezPath::from_path_segments(curves)
}

/// Distance of a point from a straight way.
fn off_segment(p: Point, a: Point, b: Point) -> f64 {
    let (dx, dy) = (b.x - a.x, b.y - a.y);
    let t = (((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy).max(1e-12)).clamp(0.0, 1.0);
    p.distance(a.lerp(b, t))
}
