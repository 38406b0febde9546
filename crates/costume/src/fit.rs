//! Fitting few cubic curves to many points: Schneider, "An algorithm for automatically fitting digitized curves",
//! Graphics Gems (1990), with corners found beforehand.

use kurbo::{CubicBez, ParamCurve, ParamCurveDeriv, Point, Vec2};

/// A turn of the way by more than this over the distance looked at is a corner, radians (50 degrees).
const CORNER: f64 = 0.87;
/// Rounds of finding better parameters before a stretch is parted.
const ROUNDS: usize = 24;

/// Curves that pass all points within a distance (mm); each begins where the one before ended.
pub(crate) fn fit(points: &[Point], within: f64) -> Vec<CubicBez> {
    let mut way: Vec<Point> = Vec::with_capacity(points.len());
    for p in points {
        if way.last().is_none_or(|q| (*p - *q).hypot() > 1e-6) {
            way.push(*p);
        }
    }
    if way.len() < 2 {
        return Vec::new();
    }
    let mut curves = Vec::new();
    let mut stops = vec![0];
    stops.extend(corners(&way, within));
    stops.push(way.len() - 1);
    for pair in stops.windows(2) {
        let part = &way[pair[0]..=pair[1]];
        let reach = 4.0 * within;
        stretch(part, leaving(part, reach), arriving(part, reach), within, &mut curves);
    }
    curves
}

/// Places where the way turns sharply, apart from its ends.
fn corners(way: &[Point], within: f64) -> Vec<usize> {
    let reach = (6.0 * within).max(2.0);
    let mut found: Vec<(usize, f64)> = Vec::new();
    for k in 1..way.len() - 1 {
        let before = (0..k).rev().find(|i| (way[*i] - way[k]).hypot() >= reach).unwrap_or(0);
        let after = (k + 1..way.len()).find(|i| (way[*i] - way[k]).hypot() >= reach).unwrap_or(way.len() - 1);
        let (u, v) = (way[k] - way[before], way[after] - way[k]);
        let turn = u.cross(v).atan2(u.dot(v)).abs();
        if turn < CORNER {
            continue;
        }
        // of a row of turns the sharpest
        match found.last_mut() {
            Some(last) if (way[last.0] - way[k]).hypot() < reach => {
                if turn > last.1 {
                    *last = (k, turn);
                }
            }
            _ => found.push((k, turn)),
        }
    }
    found.into_iter().map(|(k, _)| k).collect()
}

/// The direction in which the way leaves its first point: that of the parabola through it and two points some way on.
fn leaving(way: &[Point], reach: f64) -> Vec2 {
    let far = |from: usize, least: f64| (from..way.len()).find(|k| (way[*k] - way[0]).hypot() >= least);
    let one = far(1, reach).unwrap_or(way.len() - 1);
    let (u, s) = (way[one] - way[0], (way[one] - way[0]).hypot());
    let straight = if s > 0.0 { u.normalize() } else { (way[1] - way[0]).normalize() };
    let Some(two) = far(one + 1, 1.8 * s) else { return straight };
    let (v, t) = (way[two] - way[0], (way[two] - way[0]).hypot());
    let d = u * (t / (s * (t - s))) - v * (s / (t * (t - s)));
    if d.hypot() > 1e-9 { d.normalize() } else { straight }
}

fn arriving(way: &[Point], reach: f64) -> Vec2 {
    let back: Vec<Point> = way.iter().rev().copied().collect();
    leaving(&back, reach)
}

/// One curve where one is near enough, else two that meet smoothly at the worst place. `u` and `v` point into the stretch.
fn stretch(way: &[Point], u: Vec2, v: Vec2, within: f64, curves: &mut Vec<CubicBez>) {
    let (first, last) = (way[0], way[way.len() - 1]);
    if way.len() == 2 {
        let third = (last - first).hypot() / 3.0;
        curves.push(CubicBez::new(first, first + u * third, last + v * third, last));
        return;
    }
    let mut at = by_chords(way);
    let mut now = one(way, &at, u, v);
    let (mut worst, mut off) = farthest(way, &at, &now);
    let mut best = now;
    for _ in 0..ROUNDS {
        if off <= within {
            break;
        }
        // a round may lead away before the next ones come nearer
        reparametrise(way, &mut at, &now);
        now = one(way, &at, u, v);
        let (k, distance) = farthest(way, &at, &now);
        if distance < off {
            (best, worst, off) = (now, k, distance);
        }
    }
    if off <= within {
        curves.push(best);
        return;
    }
    let cut = worst.clamp(1, way.len() - 2);
    // the direction at the cut over a few points on both sides
    let near = |k: usize| way[k.min(way.len() - 1)];
    let span = (way.len() / 16).clamp(1, 6);
    let d = near(cut + span) - near(cut.saturating_sub(span));
    let d = if d.hypot() > 1e-9 { d.normalize() } else { u };
    stretch(&way[..=cut], u, -d, within, curves);
    stretch(&way[cut..], d, v, within, curves);
}

/// Shares of the way by the lengths of its chords.
fn by_chords(way: &[Point]) -> Vec<f64> {
    let mut at = vec![0.0];
    for pair in way.windows(2) {
        at.push(at[at.len() - 1] + (pair[1] - pair[0]).hypot());
    }
    let whole = at[at.len() - 1];
    at.iter_mut().for_each(|t| *t /= whole);
    at
}

/// The cubic with these end directions that is nearest to the points in the sense of least squares.
fn one(way: &[Point], at: &[f64], u: Vec2, v: Vec2) -> CubicBez {
    let (first, last) = (way[0], way[way.len() - 1]);
    let (mut uu, mut uv, mut vv, mut ux, mut vx) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for (p, &t) in way.iter().zip(at) {
        let s = 1.0 - t;
        let (b0, b1, b2, b3) = (s * s * s, 3.0 * s * s * t, 3.0 * s * t * t, t * t * t);
        let rest = p.to_vec2() - first.to_vec2() * (b0 + b1) - last.to_vec2() * (b2 + b3);
        let (a, b) = (u * b1, v * b2);
        uu += a.dot(a);
        uv += a.dot(b);
        vv += b.dot(b);
        ux += a.dot(rest);
        vx += b.dot(rest);
    }
    let det = uu * vv - uv * uv;
    let chord = (last - first).hypot();
    let (mut l, mut m) = if det.abs() > 1e-12 { ((ux * vv - vx * uv) / det, (uu * vx - uv * ux) / det) } else { (0.0, 0.0) };
    // handles that point backwards or reach beyond all sense: those of an even curve instead
    if !(l > 1e-3 * chord && m > 1e-3 * chord && l < 3.0 * chord && m < 3.0 * chord) {
        (l, m) = (chord / 3.0, chord / 3.0);
    }
    CubicBez::new(first, first + u * l, last + v * m, last)
}

/// The point that is farthest from its place on the curve, and how far it is.
fn farthest(way: &[Point], at: &[f64], curve: &CubicBez) -> (usize, f64) {
    let off = |k: usize| (curve.eval(at[k]) - way[k]).hypot();
    (1..way.len() - 1).map(|k| (k, off(k))).fold((way.len() / 2, 0.0), |w, x| if x.1 > w.1 { x } else { w })
}

/// One Newton step of every parameter towards the nearest place on the curve.
fn reparametrise(way: &[Point], at: &mut [f64], curve: &CubicBez) {
    let (d1, d2) = (curve.deriv(), curve.deriv().deriv());
    for (p, t) in way.iter().zip(at.iter_mut()) {
        let off = curve.eval(*t) - *p;
        let (a, b) = (d1.eval(*t).to_vec2(), d2.eval(*t).to_vec2());
        let slope = a.dot(a) + off.dot(b);
        if slope.abs() > 1e-12 {
            *t = (*t - off.dot(a) / slope).clamp(0.0, 1.0);
        }
    }
    at.sort_by(f64::total_cmp);
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn points_of_one_curve_come_back_as_few() {
        let c = CubicBez::new((0.0, 0.0), (80.0, 160.0), (220.0, 120.0), (300.0, -40.0));
        let way: Vec<Point> = (0..=60).map(|k| c.eval(f64::from(k) / 60.0)).collect();
        let curves = fit(&way, 0.5);
        assert!(curves.len() <= 2, "{curves:?}");
        for k in 0..=100 {
            let p = c.eval(f64::from(k) / 100.0);
            let near = (0..=1000)
                .map(|j| curves.iter().map(|c| (c.eval(f64::from(j) / 1000.0) - p).hypot()).fold(f64::MAX, f64::min))
                .fold(f64::MAX, f64::min);
            assert!(near < 0.5, "{near} mm at {k}");
        }
    }

    #[test]
    fn a_trembling_half_circle_takes_few_curves_and_a_square_keeps_its_corners() {
        let way: Vec<Point> = (0..=180)
            .map(|k| {
                let a = f64::from(k).to_radians();
                let r = 200.0 + 0.4 * f64::from(k * 7919 % 11 - 5) / 5.0;
                Point::new(r * a.cos(), r * a.sin())
            })
            .collect();
        let curves = fit(&way, 1.0);
        assert!(curves.len() <= 4, "{} curves", curves.len());
        let along =
            |a: (f64, f64), b: (f64, f64)| (0..20).map(move |k| Point::new(a.0, a.1).lerp(Point::new(b.0, b.1), f64::from(k) / 20.0));
        let square: Vec<Point> =
            along((0.0, 0.0), (100.0, 0.0)).chain(along((100.0, 0.0), (100.0, 80.0))).chain(along((100.0, 80.0), (0.0, 80.0))).collect();
        let curves = fit(&square, 1.0);
        assert_eq!(curves.len(), 3);
        assert!((curves[0].p3 - Point::new(100.0, 0.0)).hypot() < 1e-9 && (curves[1].p3 - Point::new(100.0, 80.0)).hypot() < 1e-9);
    }
}
