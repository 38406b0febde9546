//! The line along which a piece is cut: its outline with allowances and hems beyond it, as polygons within 0.02 mm.

use super::PatternPiece;
use crate::{AllowanceCorner, Finish, Point, parameter};
use kurbo::{ParamCurve, ParamCurveDeriv, PathSeg, Vec2};

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
    /// Loops of the cutting line, the outline first; none where the piece has no cloth beyond its lines.
    pub fn cutting_lines(&self) -> Vec<Vec<Point>> {
        let beyond = |f: &Finish| matches!(f, Finish::Allowance { width, .. } | Finish::Hem { width } if *width > 0.0);
        if !self.along.iter().any(|a| beyond(&a.finish)) {
            return Vec::new();
        }
        std::iter::once(&self.outline).chain(&self.cutouts).map(|lines| self.around(lines)).collect()
    }

    fn around(&self, lines: &[usize]) -> Vec<Point> {
        let stretches: Vec<Stretch> = lines.iter().flat_map(|&l| self.stretches(l)).collect();
        let n = stretches.len();
        let mut points: Vec<kurbo::Point> = Vec::new();
        for k in 0..n {
            let (this, next) = (&stretches[k], &stretches[(k + 1) % n]);
            let before = &stretches[(k + n - 1) % n];
            // inner corners: what lies beyond the meeting with a neighbour is no part of the line
            let (first, last) = (turn(before, this) < -1e-6, turn(this, next) < -1e-6);
            let inner = &this.aside[usize::from(first)..this.aside.len() - usize::from(last)];
            points.extend_from_slice(inner);
            points.extend(corner(this, next));
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
    let along = |t: f64| {
        let d = c.deriv().eval(t).to_vec2();
        if d.hypot() > 1e-9 { d.normalize() } else { (c.p3 - c.p0).normalize() }
    };
    // chords of an arc that turns by a lie a²/8 of its radius beside it
    let parts = match curve {
        PathSeg::Line(_) => 1,
        _ => {
            let turned: f64 = (0..32).map(|k| along(f64::from(k) / 32.0).cross(along(f64::from(k + 1) / 32.0)).abs().min(1.0).asin()).sum();
            let length = crate::arc_length(curve) + turned * width;
            ((turned * length / (8.0 * NEAR)).sqrt().ceil() as usize).clamp(4, 2000)
        }
    };
    let aside = (0..=parts).map(|k| k as f64 / parts as f64).map(|t| c.eval(t) + right(along(t)) * width).collect();
    Stretch { aside, start: c.p0, end: c.p3, leaves: along(0.0), arrives: along(1.0), width, corner }
}

fn turn(a: &Stretch, b: &Stretch) -> f64 {
    a.arrives.cross(b.leaves).atan2(a.arrives.dot(b.leaves))
}

/// Where a straight way from a point meets another.
fn meeting(p: kurbo::Point, u: Vec2, q: kurbo::Point, v: Vec2) -> Option<(f64, kurbo::Point)> {
    let det = u.cross(v);
    (det.abs() > 1e-9).then(|| {
        let t = (q - p).cross(v) / det;
        (t, p + u * t)
    })
}

/// Points between the end of one stretch and the beginning of the next.
fn corner(a: &Stretch, b: &Stretch) -> Vec<kurbo::Point> {
    let (p, q) = (a.end + right(a.arrives) * a.width, b.start + right(b.leaves) * b.width);
    let bend = turn(a, b);
    // the line goes on: only its width changes
    if bend.abs() < 1e-6 {
        return Vec::new();
    }
    let met = meeting(p, a.arrives, q, b.leaves);
    if bend < 0.0 {
        // an inner corner: both end where they meet
        return met.map_or_else(|| vec![p, q], |m| vec![m.1]);
    }
    if a.width <= 0.0 && b.width <= 0.0 {
        return Vec::new();
    }
    let pointed = || match met {
        Some((_, m)) if (m - a.end).hypot() <= POINTED * a.width.max(b.width) => vec![m],
        _ => vec![p, q],
    };
    let reflected = |d: Vec2, axis: Vec2| axis * (2.0 * d.dot(axis)) - d;
    match (a.corner, b.corner) {
        // cut square to the first line where it meets the cutting line of the second
        (AllowanceCorner::Square, _) if a.width > 0.0 => {
            let Some((_, m)) = meeting(a.end, a.arrives, q, b.leaves) else { return pointed() };
            vec![m + right(a.arrives) * a.width, m]
        }
        (_, AllowanceCorner::Square) if b.width > 0.0 => {
            let Some((_, m)) = meeting(p, a.arrives, b.start, b.leaves) else { return pointed() };
            vec![m, m + right(b.leaves) * b.width]
        }
        // the second is turned up: beyond it the cutting line of the first goes on as in a mirror
        (_, AllowanceCorner::Mirrored) if b.width > 0.0 => {
            let on = meeting(p, a.arrives, b.start, b.leaves);
            let Some((_, on)) = on else { return pointed() };
            let d = -reflected(a.arrives, b.leaves);
            meeting(on, d, q, b.leaves).map_or_else(pointed, |(_, m)| vec![on, m])
        }
        (AllowanceCorner::Mirrored, _) if a.width > 0.0 => {
            let on = meeting(q, b.leaves, a.end, a.arrives);
            let Some((_, on)) = on else { return pointed() };
            let d = reflected(b.leaves, a.arrives);
            meeting(on, d, p, a.arrives).map_or_else(pointed, |(_, m)| vec![m, on])
        }
        _ => pointed(),
    }
}
