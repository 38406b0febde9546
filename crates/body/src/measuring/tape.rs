//! The tape on the implicit surface: girths, lengths and heights of a field, as a cutter takes them.
//!
//! A girth is the perimeter of the convex hull of the outermost zeros of the part's own field on rays in a plane, so that
//! the arms never enter a chest girth. Centimetres throughout.

use crate::implicit::ellipsoid::smin;
use crate::implicit::field::Field;
use crate::measuring::measure::hull_perimeter;
use crate::measuring::measures::Measure;
use glam::DVec3;
use rayon::prelude::*;

/// Rays around a girth, steps towards the zero on each at most, and the value that counts as zero, cm.
const RAYS: usize = 96;
const HALVINGS: usize = 14;
const ZERO: f64 = 2e-5;

/// A plane in which a girth is taken.
struct Loop {
    origin: DVec3,
    across: DVec3,
    up: DVec3,
    reach: f64,
    step: f64,
}

impl Field {
    /// A measure of this body in cm.
    pub fn measure(&self, what: Measure) -> f64 {
        match what {
            Measure::Stature => self.stature,
            Measure::WaistHeight => self.levels["waist"],
            Measure::Inseam => self.crotch_height(),
            Measure::ShoulderWidth => 2.0 * self.shoulder_point().x,
            Measure::ArmLength => {
                let (elbow, wrist) = (self.arm.centre(self.t_elbow), self.arm.centre(self.arm.length));
                self.shoulder_point().distance(elbow) + elbow.distance(wrist)
            }
            Measure::BackWaist => self.back_waist(),
            _ => self.girth(what),
        }
    }

    /// A girth in cm.
    fn girth(&self, what: Measure) -> f64 {
        tape(&self.plane(what), |p| self.part(what, p))
    }

    /// The field of the part that a girth goes around.
    fn part(&self, what: Measure, p: DVec3) -> f64 {
        let d = match what {
            Measure::Underbust => self.trunk_and_legs(p, !self.has_breasts),
            Measure::Neck => self.neck_alone(p),
            Measure::Thigh | Measure::Knee | Measure::Calf | Measure::Ankle => self.leg_alone(p),
            Measure::UpperArm | Measure::Elbow | Measure::Wrist => self.arm.distance(self.arm.frame(p)),
            _ => self.trunk_and_legs(p, true),
        };
        self.dressed(d, p)
    }

    /// Where the tape lies for a girth.
    fn plane(&self, what: Measure) -> Loop {
        let level = |key: &str| self.levels[key];
        let trunk = |y: f64| {
            let sections = &self.trunk.stack.sections;
            let centre = sections.at(y.clamp(sections.start(), sections.end()))[5];
            Loop { origin: DVec3::new(0.0, y, centre), across: DVec3::X, up: DVec3::Z, reach: 40.0 * self.f.sqrt() + 8.0, step: 0.6 }
        };
        let leg = |y: f64| {
            let c = self.leg.stack.sections.at(y);
            Loop { origin: DVec3::new(c[4], y, c[5]), across: DVec3::X, up: DVec3::Z, reach: 1.7 * c[0], step: 0.3 }
        };
        let arm = |t: f64| {
            let c = self.arm.stack.sections.at(t);
            let reach = 1.6 * c[..4].iter().fold(0.0, |a: f64, b| a.max(*b));
            Loop { origin: self.arm.centre(t), across: self.arm.out, up: DVec3::Z, reach, step: 0.2 }
        };
        match what {
            Measure::Underbust => trunk(level("underbust")),
            Measure::Waist => trunk(level("waist")),
            Measure::Hip => trunk(level("hip")),
            Measure::Neck => {
                let (y, (sin, cos)) = (level("neck"), self.neck_tilt.sin_cos());
                let c = self.neck.neck.sections.at(y);
                Loop {
                    origin: DVec3::new(0.0, y, c[5]),
                    across: DVec3::X,
                    up: DVec3::X.cross(DVec3::new(0.0, cos, sin)),
                    reach: 2.6 * c[0].max(c[2]).max(c[3]),
                    step: 0.3,
                }
            }
            Measure::Thigh => leg(self.crotch_height() - 2.5 * self.f),
            Measure::Knee => leg(level("knee")),
            Measure::Calf => leg(level("calf")),
            Measure::Ankle => leg(level("ankle")),
            Measure::UpperArm => arm(self.t_biceps),
            Measure::Elbow => arm(self.t_elbow),
            Measure::Wrist => arm(self.arm.length),
            _ => trunk(level("bust")),
        }
    }

    /// Middle and normal of a girth's plane; none for lengths.
    pub(crate) fn girth_plane(&self, what: Measure) -> Option<(DVec3, DVec3)> {
        let of = |plane: Loop| (plane.origin, plane.across.cross(plane.up));
        (!what.is_length()).then(|| of(self.plane(what)))
    }

    /// Whether the finished surface around a point is that of the part that a girth goes around, and not where other
    /// parts grow out of it.
    pub(crate) fn counts_for(&self, what: Measure, p: DVec3) -> bool {
        self.part(what, p).abs() < if what == Measure::Bust { 0.225 } else { 0.4 }
    }

    fn trunk_and_legs(&self, p: DVec3, breasts: bool) -> f64 {
        let a = p.with_x(p.x.abs());
        let trunk = self.trunk.distance_with(a, breasts);
        if p.y > self.leg.top + 6.0 * self.f {
            return trunk;
        }
        let legs = smin(self.leg.distance(a), self.leg.distance(a.with_x(-a.x)), self.blend_legs);
        smin(trunk, legs, self.blend_leg)
    }

    /// The field of the neck.
    fn neck_alone(&self, p: DVec3) -> f64 {
        smin(self.trunk.distance(p.with_x(p.x.abs())), self.neck.distance(p), self.blend_neck)
    }

    /// One leg up to the middle, with what the other adds where they meet.
    fn leg_alone(&self, p: DVec3) -> f64 {
        if p.x < 0.0 {
            return 0.05 - p.x;
        }
        let legs = smin(self.leg.distance(p), self.leg.distance(p.with_x(-p.x)), self.blend_legs);
        smin(self.trunk.distance(p), legs, self.blend_leg)
    }

    /// The highest point of the shoulder's outer end.
    fn shoulder_point(&self) -> DVec3 {
        self.arm.shoulder + DVec3::new(1.7, 4.6, 0.0) * self.f
    }

    /// Height of the lowest point of the trunk between the legs.
    fn crotch_height(&self) -> f64 {
        let (f, from) = (self.f, self.trunk.crotch - 5.0 * self.f);
        let deepest = |y: f64| {
            let count = (10.0 * f / 0.4) as usize;
            (0..=count).map(|k| self.trunk_and_legs(DVec3::new(0.0, y, -5.0 * f + 0.4 * k as f64), true)).fold(f64::MAX, f64::min)
        };
        // first in long steps, then in short ones
        let rise = |from: f64, step: f64| {
            let (mut below, mut y) = (deepest(from), from);
            while y < from + 11.0 * f {
                let next = deepest(y + step);
                if next < 0.0 {
                    return Some((y, step * below / (below - next)));
                }
                (below, y) = (next, y + step);
            }
            None
        };
        rise(from, 0.8).and_then(|(y, _)| rise(y, 0.1)).map_or(from, |(y, on)| y + on)
    }

    /// A taut tape down the middle of the back, from the neck bone to the waist.
    fn back_waist(&self) -> f64 {
        let (low, high) = (self.levels["waist"], self.levels["c7"]);
        let profile: Vec<[f64; 2]> = (0..=40)
            .into_par_iter()
            .map(|k| {
                let y = low + (high - low) * f64::from(k) / 40.0;
                let at = |z: f64| {
                    let p = DVec3::new(0.0, y, z);
                    smin(self.dressed(self.trunk_and_legs(p, true), p), self.dressed(self.neck_alone(p), p), 0.1)
                };
                let mut z = -24.0 * self.f - 4.0;
                while z < 0.0 {
                    let ahead = at(z + 0.25);
                    if ahead <= 0.0 {
                        break;
                    }
                    z += (0.7 * ahead).max(0.25);
                }
                let (outside, inside) = (at(z), at(z + 0.25));
                [y, -(z + 0.25 * outside / (outside - inside))]
            })
            .collect();
        let mut taut: Vec<[f64; 2]> = Vec::new();
        for p in profile {
            while let [.., a, b] = taut[..] {
                if (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) < 0.0 {
                    break;
                }
                taut.pop();
            }
            taut.push(p);
        }
        taut.windows(2).map(|w| (w[1][0] - w[0][0]).hypot(w[1][1] - w[0][1])).sum()
    }
}

/// Perimeter of the convex hull of the outermost zeros on rays in the plane; half of them where the part is its own mirror
/// image.
fn tape(plane: &Loop, field: impl Fn(DVec3) -> f64 + Sync) -> f64 {
    let mirrored = plane.origin.x == 0.0 && plane.across == DVec3::X;
    let wanted = |k: &usize| !mirrored || *k <= RAYS / 4 || *k >= RAYS - RAYS / 4;
    let points: Vec<[f64; 2]> = (0..RAYS)
        .into_par_iter()
        .filter(wanted)
        .filter_map(|k| {
            let (sin, cos) = (k as f64 / RAYS as f64 * std::f64::consts::TAU).sin_cos();
            let r = outermost(plane, |r| field(plane.origin + (plane.across * cos + plane.up * sin) * r))?;
            Some([cos * r, sin * r])
        })
        .collect();
    let mirror = points.iter().filter(|_| mirrored).map(|[x, y]| [-x, *y]).collect::<Vec<_>>();
    hull_perimeter([points, mirror].concat())
}

/// The outermost zero of a field along a ray. Far from the surface the field itself says how far it is at least.
fn outermost(plane: &Loop, at: impl Fn(f64) -> f64) -> Option<f64> {
    const SAFE: f64 = 0.8;
    let (mut r, mut outside) = (plane.reach, at(plane.reach));
    if outside < 0.0 {
        return None;
    }
    loop {
        let next = r - (SAFE * outside).max(plane.step);
        if next <= 0.0 {
            return None;
        }
        let value = at(next);
        if value < 0.0 {
            return Some(zero([next, r], [value, outside], at));
        }
        (r, outside) = (next, value);
    }
}

/// The zero between an inner and an outer place: false position with halved weights (Dowell and Jarratt, 1971).
fn zero(mut r: [f64; 2], mut value: [f64; 2], at: impl Fn(f64) -> f64) -> f64 {
    let mut kept = 2;
    let mut best = r[0];
    for _ in 0..HALVINGS {
        best = (r[0] * value[1] - r[1] * value[0]) / (value[1] - value[0]);
        let new = at(best);
        if new.abs() < ZERO {
            break;
        }
        let end = usize::from(new >= 0.0);
        if kept == 1 - end {
            value[1 - end] *= 0.5;
        }
        (r[end], value[end], kept) = (best, new, 1 - end);
    }
    best
}
