//! The finished mannequin of a preset.

use crate::field::Field;
use crate::nets::surface_nets;
use crate::relax::relax;
use crate::stations::{Station, stations};
use crate::surface::Surface;
use crate::tables::tables;
use glam::DVec3;

/// Mesh cells per cm of template stature unit; about 20 thousand triangles.
const CELL: f64 = 1.65;

/// A body on offer.
#[derive(Clone, Debug, PartialEq)]
pub struct Preset {
    pub key: String,
    pub name: String,
    /// Tape measurements in mm: stature, bust or chest, waist, hip.
    pub measures: Vec<(&'static str, f64)>,
}

/// There is no such preset.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("there is no body preset `{0}`; choose one of {1}")]
pub struct UnknownPreset(pub String, pub String);

/// A body in A-pose, standing on y = 0, facing +z, its left at +x.
#[derive(Clone, Debug)]
pub struct Mannequin {
    pub key: String,
    pub name: String,
    pub surface: Surface,
    pub stations: Vec<Station>,
    /// Girths in mm as a tape reads them on the mesh.
    pub measured: Vec<(&'static str, f64)>,
}

impl Mannequin {
    pub fn station(&self, key: &str) -> Option<&Station> {
        self.stations.iter().find(|s| s.key == key)
    }
}

pub(crate) fn key_of(name: &str) -> String {
    name.to_lowercase().replace(' ', "-")
}

/// The presets this version offers, in order.
pub fn presets() -> Vec<Preset> {
    ["Woman 38", "Man 50"]
        .iter()
        .filter_map(|name| {
            let row = tables().presets.get(*name)?;
            let measures =
                vec![("stature", row.stature * 10.0), ("bust", row.bust * 10.0), ("waist", row.waist * 10.0), ("hip", row.hip * 10.0)];
            Some(Preset { key: key_of(name), name: (*name).to_owned(), measures })
        })
        .collect()
}

/// Generates a preset's mannequin (well under a second).
pub fn mannequin(key: &str) -> Result<Mannequin, UnknownPreset> {
    let on_offer = presets();
    let unknown = || UnknownPreset(key.to_owned(), on_offer.iter().map(|p| p.key.as_str()).collect::<Vec<_>>().join(", "));
    let preset = on_offer.iter().find(|p| p.key == key).ok_or_else(unknown)?;
    let field = Field::preset(key).ok_or_else(unknown)?;
    let mut mesh = surface_nets(&field, CELL * field.f);
    let normals = relax(&field, &mut mesh);
    let single = |v: DVec3| [v.x as f32, v.y as f32, v.z as f32];
    let surface = Surface {
        positions: mesh.points.iter().map(|p| single(*p * 0.01)).collect(),
        normals: normals.into_iter().map(single).collect(),
        triangles: mesh.triangles.clone(),
    };
    let measured = trunk_girths(&field, &mesh.points, &mesh.triangles);
    Ok(Mannequin { key: key.to_owned(), name: preset.name.clone(), stations: stations(&field), surface, measured })
}

/// Horizontal girths of the trunk, arms left out.
fn trunk_girths(field: &Field, points: &[DVec3], triangles: &[[u32; 3]]) -> Vec<(&'static str, f64)> {
    let arm_free = |t: [DVec3; 3]| {
        let c = (t[0] + t[1] + t[2]) / 3.0;
        let p = c.with_x(c.x.abs());
        field.arm.distance(field.arm.frame(p)) > field.trunk.distance(p).min(field.leg.distance(p)) - 0.01
    };
    ["bust", "waist", "hip"]
        .into_iter()
        .filter_map(|key| {
            let y = *field.levels.get(key)?;
            Some((key, 10.0 * crate::measure::section_girth(points, triangles, DVec3::new(0.0, y, 0.0), DVec3::Y, arm_free)))
        })
        .collect()
}
