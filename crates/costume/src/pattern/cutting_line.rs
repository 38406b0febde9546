//! The line along which a piece is cut: its outline with allowances and hems beyond it, as polygons within 0.02 mm.

use super::PatternPiece;
use crate::{AllowanceCorner, Finish, Point, parameter};
use kurbo::{ParamCurve, PathSeg, Vec2};

/// Greatest distance of the polygon from the true curve, mm.
const NEAR: f64 = 0.02;
/// Longest point of a corner, in widths; longer ones are cut off.
const POINTED: f64 = 4.0;

/// A stretch of a line with cloth of one width beyond it.
struct Stretch {
    /// Points of the line moved aside, and its own ends.
    aside: Vec<kurbo::Point>,
    start: kurbo::Point,
    end: kurbo::Point,
    /// Directions in which the line begins and ends.
    leaves: Vec2,
    arrives: Vec2,
    width: f64,
    corner: AllowanceCorner,
}

impl PatternPiece {
    /// Loops of the cutting line, the outline's first, and those of cut-outs that have cloth beyond their lines; none where
    /// the piece has none at all.
    pub fn cutting_lines(&self) -> Vec<Vec<Point>> {
        let beyond = |f: &Finish| matches!(f, Finish::Allowance { width, .. } | Finish::Hem { width } if *width > 0.0);
        let wider = |lines: &[usize]| self.along.iter().any(|a| beyond(&a.finish) && lines.contains(&a.line));
        let cutouts: Vec<&Vec<usize>> = self.cutouts.iter().filter(|c| wider(c)).collect();
        if cutouts.is_empty() && !wider(&self.outline) {
            return Vec::new();
        }
        std::iter::once(&self.outline).chain(cutouts).map(|lines| self.around(lines)).collect()
    }

    fn around(&self, lines: &[usize]) -> Vec<Point> {
        let stretches: Vec<Stretch> = lines.iter().flat_map(|&l| self.stretches(l)).collect();
        let n = stretches.len();
        let corners: Vec<Corner> = (0..n).map(|k| corner(&stretches[k], &stretches[(k + 1) % n])).collect();
        let mut points: Vec<kurbo::Point> = Vec::new();
        for (k, this) in stretches.iter().enumerate() {
            let (before, after) = (&corners[(k + n - 1) % n], &corners[k]);
            // a line that is shorter than its corners is left whole: the allowances overlap, and that is told
            let fits = before.from <= after.kept;
            points.extend_from_slice(if fits { &this.aside[before.from..after.kept] } else { &this.aside });
            points.extend_from_slice(&after.points);
        }
        points.dedup_by(|a, b| (*a - *b).hypot() < 1e-6);
        // the loop may begin in the middle of a line that goes on
        while points.len() > 1 && (points[0] - points[points.len() - 1]).hypot() < 1e-6 {
            points.pop();
        }
        points.into_iter().map(|p| Point::new(p.x, p.y)).collect()
    }

    /// The stretches of a line between changes of width.
    fn stretches(&self, line: usize) -> Vec<Stretch> {
        let along: Vec<(f64, f64, f64, AllowanceCorner)> = self
            .along
            .iter()
            .filter(|a| a.line == line)
            .filter_map(|a| match a.finish {
                Finish::Allowance { width, corner } => Some((a.from, a.to, width, corner)),
                // a hem is turned up: beyond its line the cloth is the mirror image of what is above it
                Finish::Hem { width } => Some((a.from, a.to, width, AllowanceCorner::Mirrored)),
                _ => None,
            })
            .collect();
        let mut stops: Vec<f64> = vec![0.0, 1.0];
        stops.extend(along.iter().flat_map(|a| [a.0, a.1]));
        stops.sort_by(f64::total_cmp);
        stops.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
        let curve = &self.lines[line].curve;
        let parts = stops.windows(2).map(|w| {
            let middle = 0.5 * (w[0] + w[1]);
            // of several the widest: a hem over an allowance
            let of = along.iter().filter(|a| a.0 <= middle && middle <= a.1).max_by(|a, b| a.2.total_cmp(&b.2));
            let (width, corner) = of.map_or((0.0, AllowanceCorner::Pointed), |a| (a.2, a.3));
            let part = if stops.len() == 2 { *curve } else { curve.subsegment(parameter(curve, w[0])..parameter(curve, w[1])) };
            stretch(&part, width, corner)
        });
        parts.collect()
    }
}

fn right(d: Vec2) -> Vec2 {
    Vec2::new(d.y, -d.x)
}

fn stretch(curve: &PathSeg, width: f64, corner: AllowanceCorner) -> Stretch {
    let c = crate::curve::cubic(curve);
    let along = |t: f64| crate::curve::heading(&c, t);
    // chords of an arc that turns by a lie a²/8 of its radius beside it
    let parts = match curve {
        PathSeg::Line(_) => 1,
        _ => {
            let turned: f64 = (0..32).map(|k| along(f64::from(k) / 32.0).cross(along(f64::from(k + 1) / 32.0)).abs().min(1.0).asin()).sum();
            let length = crate::arc_length(curve) + turned * width;
            ((turned * length / (8.0 * NEAR)).sqrt().ceil() as usize).clamp(4, 2000)
        }
    };
    let ways: Vec<(kurbo::Point, Vec2)> = (0..=parts).map(|k| k as f64 / parts as f64).map(|t| (c.eval(t), along(t))).collect();
    let aside = unfolded(&ways, width);
    Stretch { aside, start: c.p0, end: c.p3, leaves: along(0.0), arrives: along(1.0), width, corner }
}

/// Points of a line moved aside. Where it is bent inwards more narrowly than the width, the moved points turn back and cross
/// their own way; what lies beyond that crossing is nearer to the line than the width, and is left out.
fn unfolded(ways: &[(kurbo::Point, Vec2)], width: f64) -> Vec<kurbo::Point> {
    let aside: Vec<kurbo::Point> = ways.iter().map(|(p, d)| *p + right(*d) * width).collect();
    let turns_back = |k: usize| k > 0 && k < aside.len() && (aside[k] - aside[k - 1]).dot(ways[k].1) < -1e-9;
    let tight: Vec<kurbo::Point> = (1..aside.len()).filter(|k| turns_back(*k)).map(|k| ways[k].0).collect();
    if tight.is_empty() {
        return aside;
    }
    let clear = |p: kurbo::Point| {
        let away = |w: &[(kurbo::Point, Vec2)]| {
            let (q, v) = (w[0].0, w[1].0 - w[0].0);
            let t = ((p - q).dot(v) / v.hypot2().max(1e-18)).clamp(0.0, 1.0);
            (q + v * t - p).hypot()
        };
        ways.windows(2).all(|w| away(w) > width - 2.0 * NEAR)
    };
    // only near a place that is bent so narrowly there can be such points
    let near_one = |p: kurbo::Point| tight.iter().any(|q| (p - *q).hypot() <= 2.0 * POINTED * width);
    let stays = |k: usize| !near_one(ways[k].0) || (!turns_back(k) && !turns_back(k + 1) && clear(aside[k]));
    let stays: Vec<bool> = (0..aside.len()).map(stays).collect();
    let mut kept = Vec::new();
    for k in 0..aside.len() {
        // the way out of a fold and the way back into it cross each other
        if stays[k] && k > 0 && !stays[k - 1] {
            let left = (0..k).rev().find(|j| stays[*j]);
            let crossed = left.and_then(|j| meeting(aside[j], aside[j + 1] - aside[j], aside[k], aside[k - 1] - aside[k]));
            kept.extend(crossed.filter(|m| (0.0..=1.0).contains(&m.0)).map(|m| m.1));
        }
        if stays[k] {
            kept.push(aside[k]);
        }
    }
    if kept.is_empty() { aside } else { kept }
}

fn turn(a: &Stretch, b: &Stretch) -> f64 {
    a.arrives.cross(b.leaves).atan2(a.arrives.dot(b.leaves))
}

/// Where a straight way from a point meets another: how many times `u` it is from `p`, and the place.
fn meeting(p: kurbo::Point, u: Vec2, q: kurbo::Point, v: Vec2) -> Option<(f64, kurbo::Point)> {
    let det = u.cross(v);
    (det.abs() > 1e-9).then(|| {
        let t = (q - p).cross(v) / det;
        (t, p + u * t)
    })
}

/// What becomes of the end of one stretch and the beginning of the next.
struct Corner {
    /// So many points of the first stay.
    kept: usize,
    /// Points between both.
    points: Vec<kurbo::Point>,
    /// The next one begins with this point of it.
    from: usize,
}

/// Where a straight way through `q` along `v` meets the points of a stretch, which go straight on beyond their end: how many
/// of them lie before it, and the place. The nearest to the end counts.
fn met_at_end(aside: &[kurbo::Point], arrives: Vec2, q: kurbo::Point, v: Vec2) -> Option<(usize, kurbo::Point)> {
    let last = *aside.last()?;
    if let Some((_, place)) = meeting(last, arrives, q, v).filter(|m| m.0 >= 0.0) {
        return Some((aside.len(), place));
    }
    (1..aside.len()).rev().find_map(|k| {
        let way = aside[k] - aside[k - 1];
        let (_, place) = meeting(aside[k - 1], way, q, v).filter(|m| (0.0..=1.0).contains(&m.0))?;
        Some((k, place))
    })
}

/// The same at the beginning: the first of its points that stays.
fn met_at_start(b: &Stretch, q: kurbo::Point, v: Vec2) -> Option<(usize, kurbo::Point)> {
    let turned: Vec<kurbo::Point> = b.aside.iter().rev().copied().collect();
    let (kept, place) = met_at_end(&turned, -b.leaves, q, v)?;
    Some((turned.len() - kept, place))
}

/// Where two stretches cross each other, nearest to their inner corner.
fn crossing(a: &Stretch, b: &Stretch) -> Option<Corner> {
    let near = |p: kurbo::Point| (p - a.end).hypot() <= 2.0 * POINTED * a.width.max(b.width);
    for j in (1..b.aside.len()).take_while(|j| near(b.aside[j - 1])) {
        let (q, v) = (b.aside[j - 1], b.aside[j] - b.aside[j - 1]);
        for i in (1..a.aside.len()).rev().take_while(|i| near(a.aside[*i])) {
            let (p, u) = (a.aside[i - 1], a.aside[i] - a.aside[i - 1]);
            let Some((_, place)) = meeting(p, u, q, v).filter(|m| (0.0..=1.0).contains(&m.0)) else { continue };
            if (0.0..=1.0).contains(&((place - q).dot(v) / v.hypot2())) {
                return Some(Corner { kept: i, points: vec![place], from: j });
            }
        }
    }
    None
}

/// How the cloth beyond one stretch meets that beyond the next.
fn corner(a: &Stretch, b: &Stretch) -> Corner {
    let (p, q) = (a.end + right(a.arrives) * a.width, b.start + right(b.leaves) * b.width);
    let whole = |points: Vec<kurbo::Point>| Corner { kept: a.aside.len(), points, from: 0 };
    let bend = turn(a, b);
    // the line goes on: only its width changes
    if bend.abs() < 1e-6 {
        return whole(Vec::new());
    }
    let near = |m: kurbo::Point| (m - a.end).hypot() <= POINTED * a.width.max(b.width);
    // where both go straight on to; beside a much wider one a line may end before its own end
    let pointed = || {
        let Some((_, met)) = meeting(p, a.arrives, q, b.leaves).filter(|m| near(m.1)) else {
            // cut off square, a width beyond the corner
            let on = a.width.max(b.width) * (0.25 * bend.max(0.0)).tan();
            return whole(vec![p + a.arrives * on, q - b.leaves * on]);
        };
        let kept = a.aside.iter().rposition(|r| (*r - met).dot(a.arrives) <= 1e-9).map_or(1, |k| k + 1);
        let from = b.aside.iter().position(|r| (*r - met).dot(b.leaves) >= -1e-9).unwrap_or(b.aside.len() - 1);
        Corner { kept, points: vec![met], from }
    };
    if bend < 0.0 {
        // an inner corner: both end where they cross
        return crossing(a, b).unwrap_or_else(pointed);
    }
    if a.width <= 0.0 && b.width <= 0.0 {
        return whole(Vec::new());
    }
    finished(a, b).filter(|c| c.points.iter().all(|m| near(*m))).unwrap_or_else(pointed)
}

/// An outer corner that is cut square or turned up.
fn finished(a: &Stretch, b: &Stretch) -> Option<Corner> {
    let reflected = |d: Vec2, axis: Vec2| axis * (2.0 * d.dot(axis)) - d;
    let end = |q, v| met_at_end(&a.aside, a.arrives, q, v);
    match (a.corner, b.corner) {
        // cut square to the first line where it meets the cutting line of the second
        (AllowanceCorner::Square, _) if a.width > 0.0 => {
            let (from, met) = met_at_start(b, a.end, a.arrives)?;
            let (kept, tip) = end(met, right(a.arrives))?;
            Some(Corner { kept, points: vec![tip, met], from })
        }
        (_, AllowanceCorner::Square) if b.width > 0.0 => {
            let (kept, met) = end(b.start, b.leaves)?;
            let (from, tip) = met_at_start(b, met, right(b.leaves))?;
            Some(Corner { kept, points: vec![met, tip], from })
        }
        // the second is turned up: beyond it the cutting line of the first goes on as in a mirror
        (_, AllowanceCorner::Mirrored) if b.width > 0.0 => {
            let (kept, on) = end(b.start, b.leaves)?;
            let (from, met) = met_at_start(b, on, reflected(a.arrives, b.leaves))?;
            Some(Corner { kept, points: vec![on, met], from })
        }
        (AllowanceCorner::Mirrored, _) if a.width > 0.0 => {
            let (from, on) = met_at_start(b, a.end, a.arrives)?;
            let (kept, met) = end(on, reflected(b.leaves, a.arrives))?;
            Some(Corner { kept, points: vec![met, on], from })
        }
        _ => None,
    }
}
