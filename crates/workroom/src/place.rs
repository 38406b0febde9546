//! Hanging a flat piece around its station, clear of the body.
//!
//! The piece wraps around an elliptic cylinder, which keeps all lengths. For a piece that is wider than its side of
//! the body, such as one with sleeves, the cylinder first grows in width alone, so that the piece hangs close, like a
//! card; then it grows all around until the piece is clear of the body and outside of what hangs already.

use crate::folding::Folded;
use body::{Limb, Reach, Station};
use cloth::DistanceGrid;
use costume::{Placement, Refusal};
use fit::Surface;
use glam::{DQuat, DVec2, DVec3, Vec3};
use mesh::PlanarMesh;

/// Gap of the first piece at a station, and of each further one from the one below it, m.
const FIRST: f64 = 0.02;
const LAYER: f64 = 0.012;
/// Between the layers of a folded piece, m.
const BETWEEN: f64 = 0.008;
/// Least distance from the body when hung, m.
const CLEAR: f32 = 0.015;
/// Farthest that a one-sided piece may go around, radians.
const SIDE: f64 = 1.45;
/// Of what the cylinder stands off at the station, so much at the end of the limb; and how far around it a piece may go there.
const CLOSER: f64 = 0.3;
const FULL: f64 = 0.94;
/// A sleeve bends over twice this length at the elbow, m.
const ELBOW: f64 = 0.04;
/// The cylinder grows in such steps, m.
const STEP: f64 = 0.005;
/// Farthest from the body, m.
const LIMIT: f64 = 0.8;

/// How far a cylinder stands off the station's own all around, and how much wider it is besides, m.
#[derive(Clone, Copy)]
pub(crate) struct Offset {
    gap: f64,
    wider: f64,
}

/// A hung piece: positions in m, and its cylinder.
pub(crate) struct Hung {
    /// Of its vertices on the stand, m.
    pub positions: Vec<[f32; 3]>,
    /// How far from the skin it hangs.
    pub standoff: Offset,
}

/// What a piece is hung clear of: the body, and the cloth that hangs already.
pub(crate) struct Surroundings<'a> {
    /// Signed distances to the skin, m.
    pub grid: &'a DistanceGrid,
    /// Vertices of the pieces that hang already, m.
    pub positions: &'a [[f32; 3]],
    /// Their triangles.
    pub triangles: &'a [[u32; 3]],
}

/// Hangs a cut piece (mm) outside of what already hangs at the station on the cylinder `inner`.
pub(crate) fn hang(
    name: &str,
    flat: &PlanarMesh,
    folded: Option<&Folded>,
    placement: &Placement,
    station: &Station,
    near: &Surroundings,
    inner: Option<Offset>,
) -> Result<Hung, Refusal> {
    let local = local_points(&flat.points, folded.map_or(&flat.points, |f| &f.points), placement);
    let sheet = Sheet { local: &local, outside: folded.map_or(&[], |f| &f.outside) };
    // as near as is asked, but outside of what hangs there
    let asked = placement.clearance.map_or(FIRST, |mm| mm / 1000.0);
    let least = inner.map_or(Offset { gap: asked, wider: 0.0 }, |i| Offset { gap: asked.max(i.gap + LAYER), ..i });
    let past_the_joint = |limb: &Limb| local.iter().any(|p| p.y < -limb.joint);
    let straight = Station { limb: None, ..station.clone() };
    // the halves of a sleeve may get into each other's way where both close around the wrist
    let ways = [station.limb.filter(past_the_joint).map(|_| station), Some(&straight)];
    for way in ways.into_iter().flatten() {
        let mut gap = least.gap;
        while gap < LIMIT {
            if let Some(hung) = around(&sheet, way, near.grid, Offset { gap, ..least }, placement.lean)
                && near.leave_free(&hung, &flat.triangles, way)
            {
                let outer = if sheet.outside.contains(&true) { BETWEEN } else { 0.0 };
                return Ok(Hung { standoff: Offset { gap: hung.standoff.gap + outer, ..hung.standoff }, ..hung });
            }
            gap += STEP;
        }
    }
    Err(Refusal::elsewhere(
        name,
        format!("cannot hang clear of the body and of other pieces at {}", station.name),
        "shift it along the body, turn it, or choose another station",
    ))
}

impl Surroundings<'_> {
    /// Whether a hung piece crosses no other and, on the trunk, lies outside of those beneath it.
    fn leave_free(&self, hung: &Hung, triangles: &[[u32; 3]], station: &Station) -> bool {
        let lies_over = station.reach != Reach::Side || self.lie_within(hung, station);
        let (own, others) = (Surface::open(&hung.positions, triangles), Surface::open(self.positions, self.triangles));
        lies_over && fit::cloth_body(&own, &others).is_empty()
    }

    /// Whether the cloth between the piece's ends, as seen from the station's axis, is inside the piece's cylinder.
    fn lie_within(&self, hung: &Hung, station: &Station) -> bool {
        let Offset { gap, wider } = hung.standoff;
        let (across, out) = (station.radii.0 + gap + wider, station.radii.1 + gap);
        // right and outwards in shares of the cylinder's radii, and height
        let seen = |p: &[f32; 3]| {
            let d = Vec3::from(*p).as_dvec3() - station.centre;
            DVec3::new(d.dot(station.right) / across, d.dot(station.up), d.dot(station.out) / out)
        };
        let angle = |d: DVec3| d.x.atan2(d.z);
        let (mut low, mut high) = ([f64::MAX; 2], [f64::MIN; 2]);
        for d in hung.positions.iter().map(seen) {
            for (k, value) in [angle(d), d.y].into_iter().enumerate() {
                (low[k], high[k]) = (low[k].min(value), high[k].max(value));
            }
        }
        let covered = |d: DVec3| [angle(d), d.y].into_iter().enumerate().all(|(k, v)| low[k] < v && v < high[k]);
        self.positions.iter().map(seen).all(|d| !covered(d) || d.x.hypot(d.z) < 1.0)
    }
}

/// What is wrapped: points before the station, m, and which of them lie on the outer layer of a folded piece.
struct Sheet<'a> {
    local: &'a [DVec2],
    outside: &'a [bool],
}

/// Points in m around the middle of a flat piece, turned and shifted.
fn local_points(flat: &[[f64; 2]], points: &[[f64; 2]], placement: &Placement) -> Vec<DVec2> {
    let (low, high) = flat.iter().fold((DVec2::MAX, DVec2::MIN), |(l, h), p| (l.min(DVec2::from(*p)), h.max(DVec2::from(*p))));
    let place = before_station(0.5 * (low + high), placement);
    points.iter().map(|p| place(DVec2::from(*p)) * 0.001).collect()
}

/// From the frame of a piece with this middle to the place before its station, mm to the right and up.
pub(crate) fn before_station(middle: DVec2, placement: &Placement) -> impl Fn(DVec2) -> DVec2 {
    let turn = DVec2::from_angle(placement.turn.to_radians());
    let shift = DVec2::new(placement.shift.x, placement.shift.y);
    let over = DVec2::new(if placement.flip { -1.0 } else { 1.0 }, 1.0);
    move |p| turn.rotate((p - middle) * over) + shift
}

/// The piece around its station, clear of the body; one that is too wide for its side on a cylinder as wide as it needs.
fn around(sheet: &Sheet, station: &Station, grid: &DistanceGrid, mut standoff: Offset, lean: f64) -> Option<Hung> {
    let mut is_wide = false;
    while standoff.wider < LIMIT {
        let wrap = Wrap::new(station.radii.0 + standoff.gap + standoff.wider, station.radii.1 + standoff.gap);
        let positions = wrapped(sheet, station, &wrap);
        is_wide |= positions.is_none() && station.reach == Reach::Side;
        let positions = positions.map(|p| leant(p, sheet.local, station, &wrap, lean));
        let least = CLEAR.min(0.75 * standoff.gap as f32);
        let clear = |p: &[f32; 3]| grid.distance(Vec3::from(*p)) > least;
        if let Some(positions) = positions.filter(|p| p.iter().all(clear)) {
            return Some(Hung { positions, standoff });
        }
        if !is_wide {
            return None;
        }
        standoff.wider += 4.0 * STEP;
    }
    None
}

/// A hung piece whose top leans away from the body by some degrees, turned as a whole about its lower edge.
fn leant(positions: Vec<[f32; 3]>, local: &[DVec2], station: &Station, wrap: &Wrap, degrees: f64) -> Vec<[f32; 3]> {
    if degrees == 0.0 {
        return positions;
    }
    let low = local.iter().map(|p| p.y).fold(f64::MAX, f64::min);
    let pivot = station.centre + station.up * low + station.out * wrap.out;
    let turn = DQuat::from_axis_angle(station.right, degrees.to_radians());
    positions.into_iter().map(|p| (pivot + turn * (Vec3::from(p).as_dvec3() - pivot)).as_vec3().to_array()).collect()
}

/// `None` when the piece would reach too far around.
fn wrapped(sheet: &Sheet, station: &Station, wrap: &Wrap) -> Option<Vec<[f32; 3]>> {
    let end = thinned(sheet.local, station, wrap);
    let outer = sheet.outside.contains(&true).then(|| Wrap::new(wrap.across + BETWEEN, wrap.out + BETWEEN));
    let at = |(k, p): (usize, &DVec2)| {
        let on = outer.as_ref().filter(|_| sheet.outside[k]).unwrap_or(wrap);
        wrapped_at(*p, station, on, end).map(|at| at.as_vec3().to_array())
    };
    sheet.local.iter().enumerate().map(at).collect()
}

/// How thin the cylinder becomes at the end of the limb: close to it, so that a sleeve encloses the wrist before its seam
/// closes, but not closer than the piece is wide.
fn thinned(local: &[DVec2], station: &Station, wrap: &Wrap) -> f64 {
    let Some(limb) = station.limb else { return 1.0 };
    let gap = FIRST + CLOSER * (wrap.out - station.radii.1 - FIRST);
    let close = 0.5 * ((limb.radii.0 + gap) / wrap.across + (limb.radii.1 + gap) / wrap.out);
    let around = FULL * wrap.lengths[PARTS];
    let below = local.iter().filter(|p| p.y < 0.0);
    let needed = below.map(|p| 1.0 + (p.x.abs() / around - 1.0) / (-p.y / limb.end).min(1.0));
    needed.fold(close, f64::max).min(1.0)
}

/// A point of the piece around its station; a sleeve follows the arm past the elbow and closes around it as it gets thinner.
fn wrapped_at(p: DVec2, station: &Station, wrap: &Wrap, end: f64) -> Option<DVec3> {
    let limit = if station.reach == Reach::Side { SIDE } else { std::f64::consts::PI };
    let thinner = station.limb.map_or(1.0, |limb| 1.0 + (-p.y / limb.end).clamp(0.0, 1.0) * (end - 1.0));
    let angle = wrap.angle(p.x / thinner)?;
    if angle.abs() > limit {
        return None;
    }
    let (sin, cos) = angle.sin_cos();
    let around = (station.right * (wrap.across * sin) + station.out * (wrap.out * cos)) * thinner;
    let straight = around + station.up * p.y;
    let Some(limb) = station.limb else { return Some(station.centre + straight) };
    let joint = station.up * -limb.joint;
    let share = ((-p.y - limb.joint + ELBOW) / (2.0 * ELBOW)).clamp(0.0, 1.0);
    let turn = DQuat::IDENTITY.slerp(limb.turn, share * share * (3.0 - 2.0 * share));
    Some(station.centre + joint + turn * (straight - joint))
}

/// Where a point before a station (m to the right and up) is on a piece that hangs close there; what reaches too far around
/// is at the side.
pub(crate) fn standing_at(p: DVec2, station: &Station) -> Option<DVec3> {
    let wrap = Wrap::new(station.radii.0 + FIRST, station.radii.1 + FIRST);
    let share = if station.reach == Reach::Side { 0.95 * SIDE / std::f64::consts::PI } else { 0.95 };
    let most = wrap.lengths[(share * PARTS as f64) as usize];
    wrapped_at(DVec2::new(p.x.clamp(-most, most), p.y), station, &wrap, 1.0)
}

/// The same for what reaches farther: beyond the side it goes straight on, as a sleeve that is cut in one with the body.
pub(crate) fn lies_at(p: DVec2, station: &Station, wrap: &Wrap) -> DVec3 {
    let share = if station.reach == Reach::Side { 0.95 * SIDE / std::f64::consts::PI } else { 0.999 };
    let most = wrap.lengths[(share * PARTS as f64) as usize];
    let within = p.x.clamp(-most, most);
    let at = wrapped_at(DVec2::new(within, p.y), station, wrap, 1.0).unwrap_or(station.centre);
    at + station.right * (p.x - within)
}

/// Around a station close to the skin, for [`lies_at`].
pub(crate) fn close_wrap(station: &Station) -> Wrap {
    Wrap::new(station.radii.0 + FIRST, station.radii.1 + FIRST)
}

/// Arc length along an ellipse, tabulated from the outward direction.
pub(crate) struct Wrap {
    across: f64,
    out: f64,
    lengths: Vec<f64>,
}

const PARTS: usize = 2000;

impl Wrap {
    fn new(across: f64, out: f64) -> Self {
        let point = |k: usize| {
            let (sin, cos) = (k as f64 / PARTS as f64 * std::f64::consts::PI).sin_cos();
            DVec2::new(across * sin, out * cos)
        };
        let mut lengths = vec![0.0];
        for k in 0..PARTS {
            lengths.push(lengths[k] + point(k).distance(point(k + 1)));
        }
        Self { across, out, lengths }
    }

    /// The ellipse angle at an arc length to the right (positive) or left.
    fn angle(&self, length: f64) -> Option<f64> {
        let s = length.abs();
        let k = self.lengths.partition_point(|l| *l <= s);
        if k > PARTS {
            return None;
        }
        let (a, b) = (self.lengths[k - 1], self.lengths[k]);
        let angle = (k as f64 - 1.0 + (s - a) / (b - a)) / PARTS as f64 * std::f64::consts::PI;
        Some(angle.copysign(length))
    }
}
