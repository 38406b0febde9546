//! Things beside the body in a rehearsal: boxes, cylinders, planes and meshes that stand, slide or turn along keyframes.

use super::keys::around;
use body::{Body, Pose};
use cloth::DistanceGrid;
use costume::{LineId, PieceId, Refusal};
use formats::{ExportMesh, read_figure};
use glam::{DAffine3, DQuat, DVec3, EulerRot, Vec3};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use ts_rs::TS;

/// Most things, and most keys of one.
const MOST: usize = 16;
const MOST_KEYS: usize = 500;
/// Most lines that one holds.
const MOST_HELD: usize = 64;
/// Sizes, m.
const SIZES: std::ops::RangeInclusive<f64> = 0.005..=5.0;
/// Farthest from where the body begins, m.
const FARTHEST: f64 = 100.0;
/// A seat stays so far from the skin, m: cloth of a few layers has room.
const SEAT_GAP: f64 = 0.02;

/// Most triangles of a mesh.
const TRIANGLES: usize = 5000;
/// Cells across a mesh, and their sizes, m.
const CELLS: f32 = 80.0;
const CELL: [f32; 2] = [0.003, 0.03];
/// Farther than this from a mesh nothing is told apart, m.
const BAND: f32 = 0.12;
/// Shown of a plane, m.
const SHOWN: f64 = 3.0;

/// Signed distance at a point of a prop's own frame, m.
pub(super) type Distance = Arc<dyn Fn(DVec3) -> f64 + Send + Sync>;

/// What it is; sizes in m.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum PropShape {
    /// Width, height and depth.
    Box { size: [f64; 3] },
    /// Standing upright.
    Cylinder { radius: f64, height: f64 },
    /// A rod bent to a circle that lies level: its radius to the middle of the rod, and how thick that is.
    Ring { radius: f64, thickness: f64 },
    /// Level and without end; solid below.
    #[default]
    Plane,
    /// A closed mesh around its middle, m.
    Mesh { positions: Arc<Vec<[f32; 3]>>, triangles: Arc<Vec<[u32; 3]>> },
}

/// Where its middle is at a time.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
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

/// A line of a piece that is held to a thing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct HeldLine {
    /// The piece.
    pub piece: PieceId,
    /// Its line.
    pub line: LineId,
}

/// A thing and its way.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Prop {
    /// As it is told.
    pub name: String,
    /// What it is.
    pub shape: PropShape,
    /// In the order of their times; it stands before the first and after the last.
    pub keys: Vec<PropKey>,
    /// The bone that it goes with from the pose of the drape on; its keys tell where it is beside that pose.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[ts(optional)]
    pub rides: Option<String>,
    /// What of the cloth is held to it, as it lies when the rehearsal begins.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[ts(optional, as = "Option<Vec<HeldLine>>")]
    pub holds: Vec<HeldLine>,
}

/// Refused when there are too many of them, or one is out of bounds.
pub(super) fn check(props: &[Prop]) -> Result<(), Refusal> {
    if props.len() > MOST {
        return Err(Refusal::elsewhere("props", format!("are {}", props.len()), "keep at most 16"));
    }
    props.iter().try_for_each(|prop| {
        let no = |reason: &str, remedy: &str| Err(Refusal::elsewhere(&prop.name, reason, remedy));
        if !costume::is_name(&prop.name) {
            return Err(Refusal::elsewhere("prop", "needs a name", format!("write 1 to {} characters", costume::limits::NAME)));
        }
        let sizes = match &prop.shape {
            PropShape::Box { size } => size.to_vec(),
            PropShape::Cylinder { radius, height } => vec![*radius, *height],
            PropShape::Ring { radius, thickness } => vec![*radius, *thickness],
            PropShape::Plane => Vec::new(),
            PropShape::Mesh { positions, triangles } => {
                let known = triangles.iter().flatten().all(|v| (*v as usize) < positions.len());
                let near = positions.iter().flatten().all(|v| f64::from(v.abs()) <= *SIZES.end());
                if triangles.is_empty() || triangles.len() > TRIANGLES || positions.len() > 3 * TRIANGLES || !known || !near {
                    return no("is no mesh that can stand here", "bring one of at most 5000 triangles, within 5 m");
                }
                Vec::new()
            }
        };
        if !sizes.iter().all(|s| SIZES.contains(s)) {
            return no("has no such size", "choose 5 mm to 5 m");
        }
        if prop.holds.len() > MOST_HELD {
            return no("holds too many lines", "let it hold at most 64");
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
        let (a, b, t) = around(&self.keys, |k| k.time, time);
        let share = t * t * (3.0 - 2.0 * t);
        let at = DVec3::from(a.at).lerp(b.at.into(), share);
        let turn = DQuat::from_euler(EulerRot::YXZ, (a.turn + (b.turn - a.turn) * share).to_radians(), 0.0, 0.0);
        DAffine3::from_rotation_translation(turn, at)
    }

    /// Its distances; exact but for a mesh, which is sampled.
    pub(super) fn solid(&self) -> Distance {
        let from = |e: DVec3| e.max(DVec3::ZERO).length() + e.max_element().min(0.0);
        match self.shape.clone() {
            PropShape::Box { size } => Arc::new(move |q| from(q.abs() - 0.5 * DVec3::from(size))),
            PropShape::Cylinder { radius, height } => {
                Arc::new(move |q| from(DVec3::new(q.x.hypot(q.z) - radius, q.y.abs() - 0.5 * height, f64::MIN)))
            }
            PropShape::Ring { radius, thickness } => Arc::new(move |q| (q.x.hypot(q.z) - radius).hypot(q.y) - 0.5 * thickness),
            PropShape::Plane => Arc::new(|q| q.y),
            PropShape::Mesh { positions, triangles } => {
                let normals = ExportMesh::smooth_normals(&positions, &triangles);
                let reach = positions.iter().flatten().fold(0.0f32, |a, v| a.max(v.abs()));
                let cell = (2.0 * reach / CELLS).clamp(CELL[0], CELL[1]);
                let grid = DistanceGrid::from_surface(&positions, &normals, &triangles, cell, BAND);
                Arc::new(move |q| f64::from(grid.distance(q.as_vec3())))
            }
        }
    }

    /// Its sides in its own frame, for pictures: corners and outward triangles.
    pub(super) fn sides(&self) -> (Vec<Vec3>, Vec<[u32; 3]>) {
        let square = |x: f64, z: f64| [(1.0, 1.0), (-1.0, 1.0), (-1.0, -1.0), (1.0, -1.0)].map(|(a, b)| (a * x, b * z)).to_vec();
        let (ring, half): (Vec<(f64, f64)>, f64) = match &self.shape {
            PropShape::Box { size: [x, y, z] } => (square(0.5 * x, 0.5 * z), 0.5 * y),
            PropShape::Cylinder { radius, height } => {
                let at = |k: u32| (std::f64::consts::TAU * f64::from(k) / 32.0).sin_cos();
                ((0..32).map(at).map(|(s, c)| (radius * c, radius * s)).collect(), 0.5 * height)
            }
            PropShape::Plane => (square(SHOWN, SHOWN), 0.0),
            PropShape::Ring { radius, thickness } => return ring_sides(*radius, *thickness),
            PropShape::Mesh { positions, triangles } => {
                return (positions.iter().map(|p| Vec3::from(*p)).collect(), triangles.to_vec());
            }
        };
        let around = ring.len() as u32;
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

/// The sides of a ring: corners and outward triangles.
fn ring_sides(radius: f64, thickness: f64) -> (Vec<Vec3>, Vec<[u32; 3]>) {
    const AROUND: u32 = 48;
    const ACROSS: u32 = 10;
    let turn = |k: u32, of: u32| (std::f64::consts::TAU * f64::from(k) / f64::from(of)).sin_cos();
    let corner = |k: u32| {
        let ((s, c), (up, out)) = (turn(k / ACROSS, AROUND), turn(k % ACROSS, ACROSS));
        let r = radius + 0.5 * thickness * out;
        DVec3::new(r * c, 0.5 * thickness * up, r * s).as_vec3()
    };
    let at = |i: u32, j: u32| (i % AROUND) * ACROSS + j % ACROSS;
    let sides = |k: u32| {
        let (i, j) = (k / ACROSS, k % ACROSS);
        let [a, b, c, d] = [at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)];
        [[a, b, c], [a, c, d]]
    };
    ((0..AROUND * ACROSS).map(corner).collect(), (0..AROUND * ACROSS).flat_map(sides).collect())
}

/// A mesh from a file as a prop: around its middle, in metres. Units that the file does not say are told from its size.
pub fn prop_mesh(file: &str, bytes: &[u8]) -> Result<PropShape, Refusal> {
    let found = read_figure(file, bytes).map_err(|fault| Refusal::elsewhere(file, fault.to_string(), fault.remedy()))?;
    if found.triangles.len() > TRIANGLES {
        let reason = format!("has {} triangles, more than the {TRIANGLES} of a prop", found.triangles.len());
        return Err(Refusal::elsewhere(file, reason, "bring a lighter version of it"));
    }
    let up = |p: &[f32; 3]| if found.z_up == Some(true) { Vec3::new(p[0], p[2], -p[1]) } else { Vec3::from(*p) };
    let at: Vec<Vec3> = found.positions.iter().map(up).collect();
    let (low, high) = at.iter().fold((Vec3::MAX, Vec3::MIN), |(l, h), p| (l.min(*p), h.max(*p)));
    let size = (high - low).max_element();
    // things of a stage are 5 cm to 5 m large
    let unit = found.unit.map_or_else(|| [1.0, 0.01, 0.001].into_iter().find(|u| (0.05..=5.0).contains(&(size * u))), |u| Some(u as f32));
    let unit = unit
        .filter(|u| (0.005..=5.0).contains(&(size * u)))
        .ok_or_else(|| Refusal::elsewhere(file, "is smaller than 5 mm or larger than 5 m", "write it in metres"))?;
    let middle = 0.5 * (low + high);
    let positions = at.iter().map(|p| ((*p - middle) * unit).to_array()).collect();
    Ok(PropShape::Mesh { positions: Arc::new(positions), triangles: Arc::new(found.triangles) })
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
    Some(Prop {
        name: "Seat".into(),
        shape: PropShape::Box { size: [0.6, top, depth] },
        keys: vec![key(from, 1.0), key(to, 0.0)],
        ..Prop::default()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_are_those_of_solid_geometry() {
        let at = |shape: &PropShape, p: [f64; 3]| {
            Prop { name: "x".into(), shape: shape.clone(), keys: vec![], ..Prop::default() }.solid()(p.into())
        };
        let cube = &PropShape::Box { size: [0.4, 0.2, 0.6] };
        assert!((at(cube, [0.0, 0.3, 0.0]) - 0.2).abs() < 1e-12);
        assert!((at(cube, [0.5, 0.5, 0.3]) - 0.5).abs() < 1e-12, "3, 4, 5 from an edge");
        assert!((at(cube, [0.0, 0.05, 0.0]) + 0.05).abs() < 1e-12);
        let post = &PropShape::Cylinder { radius: 0.1, height: 1.0 };
        assert!((at(post, [0.3, 0.0, 0.4]) - 0.4).abs() < 1e-12);
        assert!((at(post, [0.4, 0.9, 0.0]) - 0.5).abs() < 1e-12);
        assert!((at(post, [0.0, 0.45, 0.0]) + 0.05).abs() < 1e-12);
        let ring = &PropShape::Ring { radius: 0.3, thickness: 0.1 };
        assert!((at(ring, [0.0, 0.0, 0.0]) - 0.25).abs() < 1e-12 && (at(ring, [0.0, 0.0, -0.3]) + 0.05).abs() < 1e-12);
        assert!((at(ring, [0.6, 0.4, 0.0]) - 0.45).abs() < 1e-12, "3, 4, 5 from the middle of its rod");
    }

    #[test]
    fn sides_lie_on_the_surface_and_look_outwards() {
        let ring = PropShape::Ring { radius: 0.2, thickness: 0.06 };
        for shape in [PropShape::Box { size: [0.4, 0.2, 0.6] }, PropShape::Cylinder { radius: 0.1, height: 1.0 }, ring] {
            let prop = Prop { name: format!("{shape:?}"), shape, keys: vec![], ..Prop::default() };
            let (at, triangles) = prop.sides();
            let distance = prop.solid();
            assert!(at.iter().all(|p| distance(p.as_dvec3()).abs() < 1e-6));
            for t in triangles {
                let [a, b, c] = t.map(|v| at[v as usize]);
                let out = (b - a).cross(c - a).normalize();
                let middle = (a + b + c) / 3.0;
                assert!(distance((middle + out * 0.02).as_dvec3()) > 0.015, "{}: {middle} {out}", prop.name);
            }
        }
    }

    #[test]
    fn a_mesh_from_a_file_is_as_far_as_the_box_that_it_is() {
        let cube = Prop { name: "x".into(), shape: PropShape::Box { size: [0.4, 0.3, 0.6] }, keys: vec![], ..Prop::default() };
        let (at, triangles) = cube.sides();
        let rows = at.iter().map(|p| format!("v {} {} {}\n", 100.0 * p.x + 7.0, 100.0 * p.y + 7.0, 100.0 * p.z + 7.0));
        let faces = triangles.iter().map(|t| format!("f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1));
        let text: String = rows.chain(faces).collect();
        let shape = prop_mesh("cube.obj", text.as_bytes()).expect("a mesh");
        let read = Prop { name: "y".into(), shape, keys: vec![PropKey { time: 0.0, at: [0.0; 3], turn: 0.0 }], ..Prop::default() };
        assert!(check(std::slice::from_ref(&read)).is_ok());
        let (exact, sampled) = (cube.solid(), read.solid());
        for p in [[0.23, 0.0, 0.0], [0.0, 0.2, 0.1], [0.1, 0.0, -0.33], [0.19, 0.0, 0.0], [0.22, 0.17, 0.0]] {
            let (a, b) = (exact(p.into()), sampled(p.into()));
            assert!((a - b).abs() < 0.004, "{p:?}: {a} and {b}");
        }
        assert!(prop_mesh("cube.obj", b"v 0 0 0\nf 1 2 3\n").is_err());
    }

    #[test]
    fn a_seat_stops_short_of_whoever_sits() {
        for preset in ["woman-38", "man-50", "child-140"] {
            let figure = crate::rough_figure(&costume::BodyChoice::size(preset)).expect("a size");
            let pose = body::poses().into_iter().find(|p| p.key == "seated").expect("it ships").pose;
            let seat = seat(&figure, &pose, (0.5, 2.0)).unwrap_or_else(|| panic!("{preset}"));
            let posed = figure.posed(&pose).expect("it sits");
            let floor = posed.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
            let (frame, distance) = (seat.frame(9.0).inverse(), seat.solid());
            let least = posed.surface.positions.iter().map(|p| {
                let on_floor = Vec3::new(p[0], p[1] - floor, p[2]).as_dvec3();
                distance(frame.transform_point3(on_floor))
            });
            let least = least.fold(f64::MAX, f64::min);
            assert!((0.01..0.05).contains(&least), "{preset}: {least} m");
            assert!(check(&[seat]).is_ok());
        }
    }
}
