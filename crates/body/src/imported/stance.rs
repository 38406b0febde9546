//! Unit, up axis and facing of a foreign mesh: guessed from its shape, and carried out.

use super::{FigureFault, RawFigure};
use glam::{DMat3, DQuat, DVec3};
use serde::{Deserialize, Serialize};

/// An axis of the file with its direction.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ts_rs::TS)]
pub enum Axis {
    #[serde(rename = "+x")]
    PlusX,
    #[serde(rename = "-x")]
    MinusX,
    #[serde(rename = "+y")]
    PlusY,
    #[serde(rename = "-y")]
    MinusY,
    #[serde(rename = "+z")]
    PlusZ,
    #[serde(rename = "-z")]
    MinusZ,
}

impl Axis {
    /// All six.
    pub const ALL: [Self; 6] = [Self::PlusX, Self::MinusX, Self::PlusY, Self::MinusY, Self::PlusZ, Self::MinusZ];

    /// Unit vector.
    pub fn vector(self) -> DVec3 {
        match self {
            Self::PlusX => DVec3::X,
            Self::MinusX => DVec3::NEG_X,
            Self::PlusY => DVec3::Y,
            Self::MinusY => DVec3::NEG_Y,
            Self::PlusZ => DVec3::Z,
            Self::MinusZ => DVec3::NEG_Z,
        }
    }

    /// The axis along a coordinate.
    fn along(k: usize, positive: bool) -> Self {
        Self::ALL[2 * k + usize::from(!positive)]
    }
}

/// How the file's space is to be read.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, ts_rs::TS)]
#[serde(deny_unknown_fields)]
pub struct ImportOrientation {
    /// Metres of one unit.
    pub unit: f64,
    /// Which axis of the file points up.
    pub up: Axis,
    /// Where the face looks.
    pub front: Axis,
}

/// Metres of the units that are tried: metre, centimetre, millimetre, inch, foot.
const UNITS: [f64; 5] = [1.0, 0.01, 0.001, 0.0254, 0.3048];
/// Height that a guess aims at, m.
const USUAL: f64 = 1.7;
/// Heights that a figure may have, m.
const HEIGHTS: std::ops::RangeInclusive<f64> = 0.3..=3.0;

/// Most triangles that a guess looks at.
const SAMPLES: usize = 60_000;

/// Points of a surface with the area that each stands for; what a guess looks at, whatever the density of the mesh.
struct Samples {
    points: Vec<(DVec3, f64)>,
    /// Bounds without the outermost thousandth on every side, so that a crumb does not count.
    low: DVec3,
    size: DVec3,
}

impl Samples {
    fn new(raw: &RawFigure) -> Self {
        let at = |v: u32| DVec3::from(raw.positions[v as usize].map(f64::from));
        let step = raw.triangles.len().div_ceil(SAMPLES).max(1);
        let sample = |t: &[u32; 3]| {
            let [a, b, c] = t.map(at);
            ((a + b + c) / 3.0, 0.5 * (b - a).cross(c - a).length())
        };
        let points: Vec<(DVec3, f64)> = raw.triangles.iter().step_by(step).map(sample).collect();
        let total: f64 = points.iter().map(|p| p.1).sum();
        let quantile = |k: usize, share: f64| {
            let mut line: Vec<(f64, f64)> = points.iter().map(|(p, area)| (p[k], *area)).collect();
            line.sort_by(|a, b| a.0.total_cmp(&b.0));
            let mut sum = 0.0;
            line.iter()
                .find(|(_, area)| {
                    sum += area;
                    sum >= share * total
                })
                .map_or(0.0, |(v, _)| *v)
        };
        let low = DVec3::from_array(std::array::from_fn(|k| quantile(k, 0.001)));
        let high = DVec3::from_array(std::array::from_fn(|k| quantile(k, 0.999)));
        Self { points, low, size: (high - low).max(DVec3::splat(1e-9)) }
    }

    /// Height of a point in shares, along an axis.
    fn share(&self, p: DVec3, axis: usize) -> f64 {
        (p[axis] - self.low[axis]) / self.size[axis]
    }

    /// How much a histogram along an axis differs from its mirror image, 0 to 1.
    fn asymmetry(&self, axis: usize) -> f64 {
        const BINS: usize = 24;
        let mut bins = [0.0f64; BINS];
        for (p, area) in &self.points {
            let k = (self.share(*p, axis) * BINS as f64).clamp(0.0, BINS as f64 - 1.0) as usize;
            bins[k] += area;
        }
        let off: f64 = (0..BINS / 2).map(|k| (bins[k] - bins[BINS - 1 - k]).abs()).sum();
        off / bins.iter().sum::<f64>().max(1e-12)
    }

    /// Of the two longer axes the one along which the figure is less symmetric: its left is like its right.
    fn up_axis(&self) -> usize {
        let mut order = [0, 1, 2];
        order.sort_by(|a, b| self.size[*b].total_cmp(&self.size[*a]));
        let [a, b, _] = order;
        if self.size[b] < 0.6 * self.size[a] || self.asymmetry(a) >= self.asymmetry(b) { a } else { b }
    }

    /// The end with two feet spreads wider than the end with one head.
    fn head_is_high(&self, axis: usize) -> bool {
        let spread = |from: f64, to: f64| {
            let near: Vec<&(DVec3, f64)> = self.points.iter().filter(|(p, _)| (from..=to).contains(&self.share(*p, axis))).collect();
            let total: f64 = near.iter().map(|n| n.1).sum::<f64>().max(1e-12);
            let middle = near.iter().map(|(p, area)| *p * *area).sum::<DVec3>() / total;
            near.iter().map(|(p, area)| (*p - middle).reject_from(Axis::along(axis, true).vector()).length() * area).sum::<f64>() / total
        };
        spread(-0.05, 0.06) >= spread(0.94, 1.05)
    }

    /// Toes lie ahead of the ankles.
    fn facing(&self, axis: usize, up: Axis) -> Axis {
        let height = |p: DVec3| if up.vector()[axis] > 0.0 { self.share(p, axis) } else { 1.0 - self.share(p, axis) };
        let middle = |from: f64, to: f64| {
            let near: Vec<DVec3> = self.points.iter().map(|(p, _)| *p).filter(|p| (from..to).contains(&height(*p))).collect();
            let (low, high) = bounds(&near);
            if near.is_empty() { DVec3::ZERO } else { 0.5 * (low + high) }
        };
        let ahead = middle(-0.01, 0.03) - middle(0.07, 0.14);
        let level: Vec<usize> = (0..3).filter(|k| *k != axis).collect();
        // the arms reach to the sides, so the front is along the shorter of the two; a tie goes to the toes
        let wide = self.size[level[0]] / self.size[level[1]];
        let toes = if ahead[level[0]].abs() > ahead[level[1]].abs() { level[0] } else { level[1] };
        let k = if wide > 1.25 {
            level[1]
        } else if wide < 0.8 {
            level[0]
        } else {
            toes
        };
        Axis::along(k, ahead[k] >= 0.0)
    }
}

/// Guesses how a mesh stands. What the format says about unit and up axis is taken when it makes a plausible height.
pub fn guess(raw: &RawFigure, unit: Option<f64>, z_up: Option<bool>) -> ImportOrientation {
    let samples = Samples::new(raw);
    let size = samples.size;
    // a figure is not much wider than tall, and never flat on the ground
    let tall = |axis: usize| size[axis] > 0.75 * size.max_element();
    let said = z_up.map(|z| if z { 2 } else { 1 });
    let axis = said.filter(|axis| tall(*axis)).unwrap_or_else(|| samples.up_axis());
    let up = Axis::along(axis, samples.head_is_high(axis));
    let fits = |u: &f64| HEIGHTS.contains(&(size[axis] * u));
    let off = |u: &f64| (size[axis] * u / USUAL).ln().abs();
    let nearest = || UNITS.into_iter().min_by(|a, b| off(a).total_cmp(&off(b)));
    let unit = unit.filter(fits).or_else(nearest).unwrap_or(1.0);
    ImportOrientation { unit, up, front: samples.facing(axis, up) }
}

/// Corners of the box around points.
fn bounds(points: &[DVec3]) -> (DVec3, DVec3) {
    points.iter().fold((DVec3::MAX, DVec3::MIN), |(l, h), p| (l.min(*p), h.max(*p)))
}

/// A mesh in metres on the floor, centred, facing +z.
pub(crate) struct Placed {
    /// On the stand, m.
    pub positions: Vec<DVec3>,
    /// From the axes of the file to those of the stand.
    pub rotation: DQuat,
    unit: f64,
    shift: DVec3,
}

impl Placed {
    /// A point of the file on the stand, m.
    pub fn point(&self, p: [f32; 3]) -> DVec3 {
        self.rotation * (DVec3::from(p.map(f64::from)) * self.unit) + self.shift
    }
}

/// Puts a mesh on the floor: centred by its trunk, so that an outstretched hand does not push it aside.
pub(crate) fn place(raw: &RawFigure, stance: &ImportOrientation) -> Result<Placed, FigureFault> {
    let (up, front) = (stance.up.vector(), stance.front.vector());
    if up.dot(front) != 0.0 {
        return Err(FigureFault::Axes);
    }
    let rotation = DQuat::from_mat3(&DMat3::from_cols(up.cross(front), up, front).transpose()).normalize();
    let mut placed = Placed { positions: Vec::new(), rotation, unit: stance.unit, shift: DVec3::ZERO };
    let turned: Vec<DVec3> = raw.positions.iter().map(|p| placed.point(*p)).collect();
    let (low, high) = bounds(&turned);
    let height = high.y - low.y;
    if !HEIGHTS.contains(&height) {
        return Err(FigureFault::Height(100.0 * height));
    }
    let trunk: Vec<DVec3> = turned.iter().filter(|p| (0.5..0.62).contains(&((p.y - low.y) / height))).copied().collect();
    let (left, right) = bounds(&turned.iter().filter(|p| p.y - low.y < 0.2 * height).copied().collect::<Vec<_>>());
    let (near, far) = if trunk.is_empty() { (low, high) } else { bounds(&trunk) };
    let across = if left.x <= right.x { 0.5 * (left.x + right.x) } else { 0.5 * (low.x + high.x) };
    placed.shift = DVec3::new(-across, -low.y, -0.5 * (near.z + far.z));
    placed.positions = turned.iter().map(|p| *p + placed.shift).collect();
    Ok(placed)
}
