//! Things beside the body in a rehearsal: boxes and cylinders that stand, slide or turn along keyframes.

use body::{Body, Pose};
use costume::Refusal;
use glam::{DAffine3, DQuat, DVec3, EulerRot, Vec3};
use serde::{Deserialize, Serialize};

/// Most things, and most keys of one.
const MOST: usize = 16;
const MOST_KEYS: usize = 500;
/// Sizes, m.
const SIZES: std::ops::RangeInclusive<f64> = 0.005..=5.0;
/// Farthest from where the body begins, m.
const FARTHEST: f64 = 100.0;
/// A seat stays so far from the skin, m: cloth of a few layers has room.
const SEAT_GAP: f64 = 0.02;

/// What it is; sizes in m.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum PropShape {
    /// Width, height and depth.
    Box { size: [f64; 3] },
    /// Standing upright.
    Cylinder { radius: f64, height: f64 },
}

/// Where its middle is at a time.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PropKey {
    /// s from the beginning of the motion.
    pub time: f64,
    /// m, from where the body begins: to its left, up from the floor, forwards.
    pub at: [f64; 3],
    /// Degrees, seen from above counter-clockwise.
    #[serde(default)]
    pub turn: f64,
}

/// A thing and its way.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Prop {
    /// As it is told.
    pub name: String,
    /// What it is.
    pub shape: PropShape,
    /// In the order of their times; it stands before the first and after the last.
    pub keys: Vec<PropKey>,
}

/// Refused when there are too many of them, or one is out of bounds.
pub(super) fn check(props: &[Prop]) -> Result<(), Refusal> {
    if props.len() > MOST {
        return Err(Refusal::elsewhere("props", format!("are {}", props.len()), "keep at most 16"));
    }
    props.iter().try_for_each(|prop| {
        let no = |reason: &str, remedy: &str| Err(Refusal::elsewhere(&prop.name, reason, remedy));
        let sizes = match prop.shape {
            PropShape::Box { size } => size.to_vec(),
            PropShape::Cylinder { radius, height } => vec![radius, height],
        };
        if !sizes.iter().all(|s| SIZES.contains(s)) {
            return no("has no such size", "choose 5 mm to 5 m");
        }
        if prop.keys.is_empty() || prop.keys.len() > MOST_KEYS {
            return no("stands nowhere, or in too many places", "give it 1 to 500 keys");
        }
        if prop.keys.windows(2).any(|w| w[1].time.partial_cmp(&w[0].time) != Some(std::cmp::Ordering::Greater)) {
            return no("has times that do not grow", "let every key come later than the one before");
        }
        let sane = |k: &PropKey| k.time.abs() < 1e4 && k.at.iter().all(|v| v.abs() <= FARTHEST) && k.turn.abs() <= 36_000.0;
        if !prop.keys.iter().all(sane) {
            return no("goes out of bounds", "keep it within 100 m");
        }
        Ok(())
    })
}

impl Prop {
    /// Its frame at a time, from the floor; between two keys it starts and stops softly.
    pub(super) fn frame(&self, time: f64) -> DAffine3 {
        let after = self.keys.partition_point(|k| k.time <= time);
        let (a, b) = (&self.keys[after.max(1) - 1], &self.keys[after.min(self.keys.len() - 1)]);
        let t = if b.time > a.time { ((time - a.time) / (b.time - a.time)).clamp(0.0, 1.0) } else { 0.0 };
        let share = t * t * (3.0 - 2.0 * t);
        let at = DVec3::from(a.at).lerp(b.at.into(), share);
        let turn = DQuat::from_euler(EulerRot::YXZ, (a.turn + (b.turn - a.turn) * share).to_radians(), 0.0, 0.0);
        DAffine3::from_rotation_translation(turn, at)
    }

    /// Signed distance at a point of its own frame, m; exact.
    pub(super) fn distance(&self, q: DVec3) -> f64 {
        let e = match self.shape {
            PropShape::Box { size } => q.abs() - 0.5 * DVec3::from(size),
            PropShape::Cylinder { radius, height } => DVec3::new(q.x.hypot(q.z) - radius, q.y.abs() - 0.5 * height, f64::MIN),
        };
        e.max(DVec3::ZERO).length() + e.max_element().min(0.0)
    }

    /// Its sides in its own frame, for pictures: corners and outward triangles.
    pub(super) fn sides(&self) -> (Vec<Vec3>, Vec<[u32; 3]>) {
        let ring: Vec<(f64, f64)> = match self.shape {
            PropShape::Box { size: [x, _, z] } => {
                [(1.0, 1.0), (-1.0, 1.0), (-1.0, -1.0), (1.0, -1.0)].map(|(a, b)| (0.5 * a * x, 0.5 * b * z)).to_vec()
            }
            PropShape::Cylinder { radius, .. } => (0..32)
                .map(|k| {
                    let (s, c) = (std::f64::consts::TAU * f64::from(k) / 32.0).sin_cos();
                    (radius * c, radius * s)
                })
                .collect(),
        };
        let around = ring.len() as u32;
        let half = 0.5
            * match self.shape {
                PropShape::Box { size } => size[1],
                PropShape::Cylinder { height, .. } => height,
            };
        let mut at = Vec::new();
        for y in [-half, half] {
            at.extend(ring.iter().map(|(x, z)| DVec3::new(*x, y, *z).as_vec3()));
        }
        let mut triangles = Vec::new();
        for k in 0..around {
            let n = (k + 1) % around;
            triangles.extend([[k, k + around, n + around], [k, n + around, n]]);
            if (1..around - 1).contains(&k) {
                triangles.extend([[0, k, n], [around, around + n, around + k]]);
            }
        }
        (at, triangles)
    }
}

/// A box that slides under a body which sits down on it from `from` to `to` s in a pose, and stops short of its skin and its
/// calves; none for a pose in which nobody could sit.
pub(super) fn seat(figure: &Body, pose: &Pose, (from, to): (f64, f64)) -> Option<Prop> {
    let posed = figure.posed(pose).ok()?;
    let station = |key: &str| posed.station(key).map(|s| s.centre);
    let (hips, knee) = (station("hips-front")?, station("knee-left")?);
    let floor = posed.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
    // the underside of seat and thighs, as far as halfway to the knees
    let (back, front) = (hips.z - 0.25, 0.5 * (hips.z + knee.z));
    let under = posed
        .surface
        .positions
        .iter()
        .filter(|p| (p[0].abs() < 0.22) && (back..front).contains(&f64::from(p[2])) && f64::from(p[1]) > hips.y - 0.25);
    let top = f64::from(under.map(|p| p[1]).fold(f32::MAX, f32::min)) - SEAT_GAP - f64::from(floor);
    // the calves are what is behind the knees and below them
    let calves = posed.surface.positions.iter().filter(|p| f64::from(p[1]) < knee.y - 0.08 && f64::from(p[2]) > hips.z);
    let stop = f64::from(calves.map(|p| p[2]).fold(f32::MAX, f32::min)) - 0.04;
    let depth = stop - back;
    if !(0.1..1.5).contains(&top) || !(0.1..1.0).contains(&depth) {
        return None;
    }
    let key = |time: f64, way: f64| PropKey { time, at: [0.0, 0.5 * top, stop - 0.5 * depth - way], turn: 0.0 };
    Some(Prop { name: "Seat".into(), shape: PropShape::Box { size: [0.6, top, depth] }, keys: vec![key(from, 1.0), key(to, 0.0)] })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_are_those_of_solid_geometry() {
        let at = |shape, p: [f64; 3]| Prop { name: "x".into(), shape, keys: vec![] }.distance(p.into());
        let cube = PropShape::Box { size: [0.4, 0.2, 0.6] };
        assert!((at(cube, [0.0, 0.3, 0.0]) - 0.2).abs() < 1e-12);
        assert!((at(cube, [0.5, 0.5, 0.3]) - 0.5).abs() < 1e-12, "3, 4, 5 from an edge");
        assert!((at(cube, [0.0, 0.05, 0.0]) + 0.05).abs() < 1e-12);
        let post = PropShape::Cylinder { radius: 0.1, height: 1.0 };
        assert!((at(post, [0.3, 0.0, 0.4]) - 0.4).abs() < 1e-12);
        assert!((at(post, [0.4, 0.9, 0.0]) - 0.5).abs() < 1e-12);
        assert!((at(post, [0.0, 0.45, 0.0]) + 0.05).abs() < 1e-12);
    }

    #[test]
    fn sides_lie_on_the_surface_and_look_outwards() {
        for shape in [PropShape::Box { size: [0.4, 0.2, 0.6] }, PropShape::Cylinder { radius: 0.1, height: 1.0 }] {
            let prop = Prop { name: "x".into(), shape, keys: vec![] };
            let (at, triangles) = prop.sides();
            assert!(at.iter().all(|p| prop.distance(p.as_dvec3()).abs() < 1e-6));
            for t in triangles {
                let [a, b, c] = t.map(|v| at[v as usize]);
                let out = (b - a).cross(c - a).normalize();
                let middle = (a + b + c) / 3.0;
                assert!(prop.distance((middle + out * 0.02).as_dvec3()) > 0.015, "{shape:?}: {middle} {out}");
            }
        }
    }

    #[test]
    fn a_seat_stops_short_of_whoever_sits() {
        for preset in ["woman-38", "man-50", "child-140"] {
            let figure = crate::rough_figure(&costume::BodyChoice::size(preset)).expect("a size");
            let pose = body::poses().into_iter().find(|p| p.key == "seated").expect("it ships").pose;
            let seat = seat(&figure, &pose, (0.5, 2.0)).unwrap_or_else(|| panic!("{preset}"));
            let posed = figure.posed(&pose).expect("it sits");
            let floor = posed.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
            let frame = seat.frame(9.0).inverse();
            let least = posed.surface.positions.iter().map(|p| {
                let on_floor = Vec3::new(p[0], p[1] - floor, p[2]).as_dvec3();
                seat.distance(frame.transform_point3(on_floor))
            });
            let least = least.fold(f64::MAX, f64::min);
            assert!((0.01..0.05).contains(&least), "{preset}: {least} m");
            assert!(check(&[seat]).is_ok());
        }
    }
}
