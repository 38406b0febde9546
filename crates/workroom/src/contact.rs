//! What of a body the cloth meets: parts left out, offsets and friction by part, stand-ins.

use body::{Body, PosedBody, Surface, part_of_bone};
use cloth::{BodyShape, DistanceGrid, GripSpot, Motion, SolidShape, Thing};
use costume::{BodyChoice, Contact, Costume, RoughSpot, StandIn, StandInShape};
use glam::{DAffine3, DQuat, DVec3, EulerRot, Vec3};
use std::collections::BTreeSet;
use std::sync::Arc;

/// Cell of the distance grid, m.
const CELL: f32 = 0.008;

/// Reach of the distance grid, m.
const BAND: f32 = 0.045;
/// The same while the body moves, when many grids are made; a frame moves the skin by less.
const MOVING_BAND: f32 = 0.024;

/// Farthest from the body that a stand-in is met by cloth, m: no piece hangs farther out.
const REACH: f32 = 0.6;

/// Parts that leave themselves out while no cloth is near them.
const SHY: [&str; 3] = ["head", "hand-left", "hand-right"];

/// Keys of the parts that no cloth meets: those left out by hand, and of the shy ones those that no piece hangs at and that
/// cloth has not `reached`.
pub fn left_out(costume: &Costume, figure: &Body, reached: &BTreeSet<String>) -> BTreeSet<String> {
    let hangs = |station: &str| costume.pieces.iter().any(|p| !p.parked && p.placement.as_ref().is_some_and(|at| at.station == station));
    let by_itself = |part: &str| match part {
        // cloth from the chest reaches the nape, where the head begins
        "head" => {
            !["chest-front", "chest-back", "shoulder-left", "shoulder-right", "neck-back", "head-left", "head-right"].into_iter().any(hangs)
        }
        "hand-left" => !["upper-arm-left", "under-arm-left", "wrist-left"].into_iter().any(hangs),
        "hand-right" => !["upper-arm-right", "under-arm-right", "wrist-right"].into_iter().any(hangs),
        _ => false,
    };
    let own = |part: &String| costume.body.contact.parts.get(part);
    let out = |part: &String| own(part).map_or_else(|| by_itself(part) && !reached.contains(part), |own| own.left_out);
    figure.parts.iter().filter(|p| out(p)).cloned().collect()
}

/// The shy parts that cloth meets, of which the document says nothing.
pub fn reached(choice: &BodyChoice, figure: &Body, out: &BTreeSet<String>) -> BTreeSet<String> {
    let met = |key: &String| figure.parts.contains(key) && !out.contains(key) && !choice.contact.parts.contains_key(key);
    SHY.iter().map(|key| (*key).to_owned()).filter(met).collect()
}

/// A part that is left out only as long as no cloth is near.
pub(crate) struct ShyPart {
    /// Of the part, such as `hand-left`.
    pub key: String,
    low: Vec3,
    high: Vec3,
    skin: Vec<Vec3>,
}

/// Nearer than this, cloth reaches a part, m: more than cloth falls in a frame.
const NEAR: f32 = 0.05;

impl ShyPart {
    /// Those of the parts `out` that the choice does not name.
    pub fn of(figure: &Body, posed: &PosedBody, choice: &BodyChoice, out: &BTreeSet<String>) -> Vec<Self> {
        let shy = |key: &&String| SHY.contains(&key.as_str()) && !choice.contact.parts.contains_key(*key);
        let part = |key: &String| {
            let number = figure.parts.iter().position(|p| p == key)? as u8;
            let on = figure.part_of_vertex.iter().zip(&posed.surface.positions).filter(|(p, _)| **p == number);
            let skin: Vec<Vec3> = on.map(|(_, at)| Vec3::from(*at)).collect();
            let (low, high) = skin.iter().fold((Vec3::MAX, Vec3::MIN), |(l, h), p| (l.min(*p), h.max(*p)));
            Some(Self { key: key.clone(), low: low - NEAR, high: high + NEAR, skin })
        };
        out.iter().filter(shy).filter_map(part).collect()
    }

    /// Whether a point is near its skin.
    pub fn is_near(&self, p: &[f32; 3]) -> bool {
        let p = Vec3::from(*p);
        p.cmpge(self.low).all() && p.cmple(self.high).all() && self.skin.iter().any(|q| q.distance_squared(p) < NEAR * NEAR)
    }
}

/// The skin that cloth meets, and the body at rest as cloth feels it.
pub(crate) struct Skin {
    /// The skin that cloth meets, m.
    pub surface: Surface,
    /// Its distances, friction by region and spot, and the stand-ins.
    pub shape: BodyShape,
}

impl Skin {
    /// The body as it moves, by region.
    pub fn moving(self, motion: Vec<Motion>) -> BodyShape {
        BodyShape { motion: motion.into(), ..self.shape }
    }
}

/// The skin that cloth meets, and what its regions are worth.
pub(crate) struct MetSkin {
    /// m.
    pub surface: Surface,
    /// By triangle; empty when all is one.
    pub region: Vec<u8>,
    /// By region, m.
    pub offsets: Vec<f32>,
    /// By region.
    pub friction: Vec<f32>,
}

/// The skin of a posed figure without the parts `out`. Its regions are the parts that the choice says something of, or all
/// bones in their order from 1 on.
pub(crate) fn met_skin(figure: &Body, posed: &PosedBody, choice: &BodyChoice, out: &BTreeSet<String>, by_bone: bool) -> MetSkin {
    let (parts, of_vertex) = (&figure.parts, &figure.part_of_vertex);
    let is_out: Vec<bool> = parts.iter().map(|p| out.contains(p)).collect();
    let (full, source) = figure.contact_skin(posed);
    let left = |v: usize| of_vertex.get(source[v] as usize).is_some_and(|p| is_out[*p as usize]);
    let (surface, old) = if out.is_empty() {
        (full, source)
    } else {
        let (cut, kept) = full.without(left);
        (cut, kept.into_iter().map(|v| source[v as usize]).collect())
    };
    let Contact { parts: own, .. } = &choice.contact;
    let of_part = |p: &str| own.get(p).map_or((0.0, 1.0), |c| ((c.offset * 1e-3) as f32, c.friction as f32));
    let (mut offsets, mut friction) = (vec![0.0], vec![1.0]);
    let mut add = |(offset, rough): (f32, f32)| {
        offsets.push(offset);
        friction.push(rough);
    };
    let region: Vec<u8> = if by_bone {
        figure.rig.skeleton.bones.iter().take(254).for_each(|b| add(of_part(part_of_bone(&b.name))));
        let bone = |v: u32| figure.rig.weights[old[v as usize] as usize].joint_indices[0].min(253) as u8 + 1;
        surface.triangles.iter().map(|t| bone(t[0])).collect()
    } else if parts.iter().any(|p| own.contains_key(p)) && !of_vertex.is_empty() {
        parts.iter().for_each(|p| add(of_part(p)));
        surface.triangles.iter().map(|t| of_vertex[old[t[0] as usize] as usize] + 1).collect()
    } else {
        Vec::new()
    };
    MetSkin { surface, region, offsets, friction }
}

/// The stand-ins of a posed figure as things that cloth meets; every one is a region of its own from `first` on, which moves
/// with its bone.
pub(crate) fn things(figure: &Body, posed: &PosedBody, choice: &BodyChoice, first: usize) -> Vec<(Solid, u8)> {
    let region = |k: usize| u8::try_from(first + k).unwrap_or(0);
    choice.contact.shapes.iter().enumerate().map(|(k, s)| (Solid::new(s, figure, posed), region(k))).collect()
}

/// The rough spots where the skin has taken them.
pub(crate) fn grips(figure: &Body, posed: &PosedBody, choice: &BodyChoice) -> Arc<[GripSpot]> {
    choice.contact.rough.iter().map(|spot| grip_spot(spot, figure, posed)).collect()
}

/// The contact skin of a posed figure. While it moves its regions are its bones, in their order from 1 on.
pub(crate) fn skin(figure: &Body, posed: &PosedBody, choice: &BodyChoice, out: &BTreeSet<String>, by_bone: bool) -> Skin {
    let MetSkin { surface, region, offsets, mut friction } = met_skin(figure, posed, choice, out, by_bone);
    let band = if by_bone { MOVING_BAND } else { BAND };
    let mut grid = DistanceGrid::from_regions(&surface.positions, &surface.normals, &surface.triangles, &region, &offsets, CELL, band);
    let mut met = Vec::new();
    let solids = things(figure, posed, choice, friction.len());
    if !solids.is_empty() {
        friction.resize(friction.len() + solids.len(), 1.0);
        let distances: Vec<_> = solids.iter().map(|(solid, _)| move |p: Vec3| solid.distance(p)).collect();
        let joined: Vec<SolidShape> = solids.iter().zip(&distances).map(|((solid, region), d)| solid.shape(*region, d)).collect();
        grid = grid.joined(&joined, REACH);
        met = solids.into_iter().map(|(solid, region)| Thing { distance: Arc::new(move |p| solid.distance(p)), region }).collect();
    }
    let grips = grips(figure, posed, choice);
    Skin { surface, shape: BodyShape { grips, things: met.into(), ..BodyShape::still(Arc::new(grid), friction.into()) } }
}

/// A rough spot where the skin that it lies on has taken it.
fn grip_spot(spot: &RoughSpot, figure: &Body, posed: &PosedBody) -> GripSpot {
    let at = (DVec3::from(spot.at) * 1e-3).as_vec3();
    let away = |p: &[f32; 3]| Vec3::from(*p).distance_squared(at);
    let rest = &figure.surface.positions;
    let nearest = (0..rest.len()).min_by(|a, b| away(&rest[*a]).total_cmp(&away(&rest[*b])));
    let moved = nearest.map_or(Vec3::ZERO, |v| Vec3::from(posed.surface.positions[v]) - Vec3::from(rest[v]));
    GripSpot { centre: (at + moved).to_array(), radius: (spot.radius * 1e-3) as f32, factor: spot.friction as f32 }
}

/// How a bone has moved what it carries from the neutral pose; nothing moves without one.
fn carried_by(bone: &str, figure: &Body, posed: &PosedBody) -> DAffine3 {
    figure.rig.skeleton.index(bone).and_then(|b| posed.placed.get(b)).copied().unwrap_or_default()
}

/// The bones that carry the stand-ins, in the order of their regions, which follow those of the bones.
pub(crate) fn carriers(figure: &Body, choice: &BodyChoice) -> Vec<Option<usize>> {
    choice.contact.shapes.iter().map(|s| figure.rig.skeleton.index(&s.bone)).collect()
}

/// A stand-in on the stand, metres.
#[derive(Clone, Debug)]
pub struct Solid {
    shape: StandInShape,
    frame: DAffine3,
    inverse: DAffine3,
    half: DVec3,
}

impl Solid {
    /// Carried by its bone.
    pub fn new(s: &StandIn, figure: &Body, posed: &PosedBody) -> Self {
        let turn = s.turn.map(f64::to_radians);
        let own =
            DAffine3::from_rotation_translation(DQuat::from_euler(EulerRot::ZYX, turn[2], turn[1], turn[0]), DVec3::from(s.at) * 1e-3);
        let frame = carried_by(&s.bone, figure, posed) * own;
        Self { shape: s.shape, inverse: frame.inverse(), frame, half: DVec3::from(s.size) * 1e-3 }
    }

    /// Its frame on the stand.
    pub fn frame(&self) -> DAffine3 {
        self.frame
    }

    /// Negative inside; exact for capsule and box, a close estimate for an ellipsoid.
    pub fn distance(&self, p: Vec3) -> f32 {
        let (q, h) = (self.inverse.transform_point3(p.as_dvec3()), self.half);
        let d = match self.shape {
            StandInShape::Box => {
                let e = q.abs() - h;
                e.max(DVec3::ZERO).length() + e.max_element().min(0.0)
            }
            StandInShape::Capsule => {
                let radius = h.x.min(h.z).min(h.y);
                let y = q.y.clamp(radius - h.y, h.y - radius);
                (q - DVec3::Y * y).length() - radius
            }
            StandInShape::Ellipsoid => {
                let (k0, k1) = ((q / h).length(), (q / (h * h)).length());
                if k1 < 1e-9 { -h.min_element() } else { k0 * (k0 - 1.0) / k1 }
            }
        };
        d as f32
    }

    fn shape<'a>(&self, region: u8, distance: &'a (dyn Fn(Vec3) -> f32 + Sync)) -> SolidShape<'a> {
        let axes = self.frame.matrix3;
        let reach = axes.x_axis.abs() * self.half.x + axes.y_axis.abs() * self.half.y + axes.z_axis.abs() * self.half.z;
        let middle = self.frame.translation;
        // an ellipsoid's estimate is short of the distance by no more than its axes differ
        let exact = match self.shape {
            StandInShape::Ellipsoid => (self.half.min_element() / self.half.max_element()) as f32,
            _ => 1.0,
        };
        let [low, high] = [middle - reach, middle + reach].map(|p| p.as_vec3().to_array());
        SolidShape { low, high, region, exact, distance }
    }
}

/// Whether a key names a part of the own skeleton.
pub(crate) fn is_own_part(key: &str) -> bool {
    body::own_bones().iter().any(|b| part_of_bone(&b.name) == key)
}
