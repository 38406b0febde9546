//! The finished mannequin of a request.

use crate::figure::{Body, Measurement};
use crate::implicit::field::Field;
use crate::implicit::tables::{PresetRow, tables};
use crate::measuring::calibrate::{GOOD, Remaining, calibrate};
use crate::measuring::measure::section_girth;
use crate::measuring::measures::Measure;
use crate::measuring::sheet::{Request, SheetFault, fill, key_of, names, nearest, row};
use crate::posing::skeleton::Skeleton;
use crate::posing::skin::Rig;
use crate::posing::stations::stations;
use crate::posing::weights::weights;
use crate::skinning::nets::surface_nets;
use crate::skinning::relax::relax;
use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::BTreeMap;

/// Mesh cells per cm of template stature unit; about 20 thousand triangles.
const CELL: f64 = 1.65;
/// Cells, rounds of smoothing and error in cm of a body that is only shown in passing.
const ROUGH: (f64, usize, f64) = (3.0, 2, 0.25);
/// Rounds of smoothing of a finished body.
const ROUNDS: usize = 5;

/// A size on offer.
#[derive(Clone, Debug, PartialEq)]
pub struct Preset {
    /// As it stands in documents, such as `woman-38`.
    pub key: String,
    /// As it stands in the interface.
    pub name: String,
    /// Its measuring sheet, mm.
    pub measures: Vec<(Measure, f64)>,
}

/// The sizes on offer, in order.
pub fn presets() -> Vec<Preset> {
    let preset = |name: &str| {
        let (_, row) = row(&key_of(name)).ok()?;
        let measures = row.asked().map(|(m, cm)| (m, 10.0 * cm)).collect();
        Some(Preset { key: key_of(name), name: name.to_owned(), measures })
    };
    names().filter_map(preset).collect()
}

/// Generates a mannequin (about a second).
pub fn mannequin(request: &Request) -> Result<Body, SheetFault> {
    mannequin_with(request, CELL)
}

/// The same with mesh cells of a given size, cm on the template body; coarse ones are quick.
pub fn mannequin_with(request: &Request, cell: f64) -> Result<Body, SheetFault> {
    make(request, cell, ROUNDS, GOOD)
}

/// A coarse body near its measures, made in a moment, to be seen while a measure changes.
pub fn rough_mannequin(request: &Request) -> Result<Body, SheetFault> {
    let (cell, rounds, good) = ROUGH;
    make(request, cell, rounds, good)
}

/// A body at a cell size with so many rounds of calibration, until it measures within `good` cm.
fn make(request: &Request, cell: f64, rounds: usize, good: f64) -> Result<Body, SheetFault> {
    let (name, row) = fill(request)?;
    let unknown = || SheetFault::UnknownPreset { key: request.preset.clone(), offered: String::new() };
    let (field, unmet) = field(request, &row, good).ok_or_else(unknown)?;
    let mut mesh = surface_nets(&field, cell * field.f);
    let normals = relax(&field, &mut mesh, rounds);
    let single = |v: DVec3| [v.x as f32, v.y as f32, v.z as f32];
    let surface = Surface {
        positions: mesh.points.iter().map(|p| single(*p * 0.01)).collect(),
        normals: normals.into_iter().map(single).collect(),
        triangles: mesh.triangles.clone(),
    };
    let taken = take(&field, &row, &mesh.points, &mesh.triangles);
    let skeleton = Skeleton::of(&field);
    let weights = weights(&field, &skeleton, &mesh.points, &mesh.triangles, &mesh.mirror);
    let stations = stations(&field, &skeleton);
    let rig = Rig { skeleton, weights, linear: false };
    let (parts, part_of_vertex) = rig.parts();
    Ok(Body {
        key: request.preset.clone(),
        name: name.to_owned(),
        stations,
        surface,
        rig,
        taken,
        unmet,
        parts,
        part_of_vertex,
        light: None,
        clips: Vec::new(),
        moves: None,
        landmarks: BTreeMap::new(),
    })
}

/// The field of a filled sheet, made to measure from the tabled body nearest to it.
fn field(request: &Request, row: &PresetRow, good: f64) -> Option<(Field, Vec<Remaining>)> {
    let (state, unmet) = calibrate(row, tables().calibrated.get(nearest(&request.preset)?), good)?;
    Some((Field::new(row, &state)?, unmet))
}

/// The lowest point between the legs, cm.
fn inseam(field: &Field, points: &[DVec3]) -> f64 {
    let between = |p: &&DVec3| p.x == 0.0 && p.z.abs() < 5.0 * field.f && p.y > 0.3 * field.stature;
    points.iter().filter(between).map(|p| p.y).fold(field.stature, f64::min)
}

/// All measures on the finished mesh.
fn take(field: &Field, row: &PresetRow, points: &[DVec3], triangles: &[[u32; 3]]) -> Vec<Measurement> {
    row.asked()
        .map(|(measure, asked)| {
            let plane = field.girth_plane(measure);
            let length = || if measure == Measure::Inseam { inseam(field, points) } else { field.measure(measure) };
            let measured = plane.map_or_else(length, |(origin, normal)| {
                let keep = |t: [DVec3; 3]| field.counts_for(measure, (t[0] + t[1] + t[2]) / 3.0);
                section_girth(points, triangles, origin, normal, keep)
            });
            Measurement {
                measure,
                asked: Some(10.0 * asked),
                measured: 10.0 * measured,
                plane: plane.map(|(origin, normal)| (10.0 * origin.y, normal.to_array())),
            }
        })
        .collect()
}
