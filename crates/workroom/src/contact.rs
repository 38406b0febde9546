//! What of a body the cloth meets: parts left out, offsets and friction by part, stand-ins.

use crate::form::CELL;
use body::{Figure, Posed, Surface, part_of_bone};
use cloth::DistanceGrid;
use costume::{BodyChoice, Contact, Costume, StandIn, StandInShape};
use glam::{DAffine3, DQuat, DVec3, EulerRot, Vec3};
use std::collections::BTreeSet;

/// Reach of the distance grid, m.
const BAND: f32 = 0.045;
/// The same while the body moves, when many grids are made; a frame moves the skin by less.
const MOVING_BAND: f32 = 0.024;

/// Keys of the parts that no cloth meets. Head and hands are left out while no piece hangs near them, unless the
/// document says otherwise.
pub fn left_out(costume: &Costume, figure: &Figure) -> BTreeSet<String> {
    let hangs = |station: &str| costume.pieces.iter().any(|p| !p.parked && p.placement.as_ref().is_some_and(|at| at.station == station));
    let by_itself = |part: &str| match part {
        // cloth from the chest reaches the nape, where the head begins
        "head" => !["chest-front", "chest-back", "shoulder-left", "shoulder-right", "neck-back"].into_iter().any(hangs),
        "hand-left" => !hangs("upper-arm-left") && !hangs("forearm-left"),
        "hand-right" => !hangs("upper-arm-right") && !hangs("forearm-right"),
        _ => false,
    };
    let out = |part: &String| costume.body.contact.parts.get(part).map_or_else(|| by_itself(part), |own| own.left_out);
    figure.parts.iter().filter(|p| out(p)).cloned().collect()
}

/// The skin that cloth meets, its distance grid and the friction of the grid's regions.
pub(crate) struct Skin {
    pub surface: Surface,
    pub grid: DistanceGrid,
    pub friction: Vec<f32>,
}

/// The contact skin of a posed figure. While it moves its regions are its bones, in their order from 1 on.
pub(crate) fn skin(figure: &Figure, posed: &Posed, choice: &BodyChoice, out: &BTreeSet<String>, by_bone: bool) -> Skin {
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
    let Contact { parts: own, shapes } = &choice.contact;
    let of_part = |p: &str| own.get(p).map_or((0.0, 1.0), |c| ((c.offset * 1e-3) as f32, c.friction as f32));
    let (mut offsets, mut friction) = (vec![0.0], vec![1.0]);
    let mut add = |(offset, rough): (f32, f32)| {
        offsets.push(offset);
        friction.push(rough);
    };
    let region: Vec<u8> = if by_bone {
        figure.rig.skeleton.bones.iter().take(254).for_each(|b| add(of_part(part_of_bone(&b.name))));
        let bone = |v: u32| figure.rig.weights[old[v as usize] as usize].bones[0].min(253) as u8 + 1;
        surface.triangles.iter().map(|t| bone(t[0])).collect()
    } else if parts.iter().any(|p| own.contains_key(p)) && !of_vertex.is_empty() {
        parts.iter().for_each(|p| add(of_part(p)));
        surface.triangles.iter().map(|t| of_vertex[old[t[0] as usize] as usize] + 1).collect()
    } else {
        Vec::new()
    };
    let band = if by_bone { MOVING_BAND } else { BAND };
    let mut grid = DistanceGrid::from_regions(&surface.positions, &surface.normals, &surface.triangles, &region, &offsets, CELL, band);
    for shape in shapes {
        let solid = Solid::new(shape, figure, posed);
        let (low, high) = solid.bounds();
        grid = grid.joined(low, high, 0, |p| solid.distance(p));
    }
    Skin { surface, grid, friction }
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
    pub fn new(s: &StandIn, figure: &Figure, posed: &Posed) -> Self {
        let turn = s.turn.map(f64::to_radians);
        let own =
            DAffine3::from_rotation_translation(DQuat::from_euler(EulerRot::ZYX, turn[2], turn[1], turn[0]), DVec3::from(s.at) * 1e-3);
        let by = figure.rig.skeleton.index(&s.bone).and_then(|b| posed.placed.get(b)).copied().unwrap_or_default();
        let frame = by * own;
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

    fn bounds(&self) -> ([f32; 3], [f32; 3]) {
        let reach = self.half.length();
        let middle = self.frame.translation;
        ((middle - reach).as_vec3().to_array(), (middle + reach).as_vec3().to_array())
    }
}

/// Whether a key names a part of the own skeleton.
pub(crate) fn is_own_part(key: &str) -> bool {
    body::own_bones().iter().any(|b| part_of_bone(&b.name) == key)
}
