//! Why cloth goes through something, and what brings it out.

use super::{CrossingKind, CrossingPlace};
use crate::Assembly;
use glam::Vec3;
use std::collections::BTreeSet;

/// Cloth so near to a place is pushed out with it, m.
const AROUND: f32 = 0.08;
/// Over the skin, or over the cloth beneath, m.
const OVER: f32 = 3e-3;
/// Strain that counts as tight where there is a crossing.
const TIGHT: f32 = 0.1;

/// The part of the body that a place is on.
pub(super) fn part_at(assembly: &Assembly, at: [f32; 3]) -> Option<String> {
    let (figure, skin) = (&assembly.form.figure, &assembly.form.posed.surface.positions);
    let away = |p: &[f32; 3]| (0..3).map(|k| (p[k] - at[k]).powi(2)).sum::<f32>();
    let nearest = (0..skin.len()).min_by(|a, b| away(&skin[*a]).total_cmp(&away(&skin[*b])))?;
    figure.parts.get(usize::from(*figure.part_of_vertex.get(nearest)?)).cloned()
}

/// Which choice most likely has brought the cloth there; `tension` is by vertex.
pub(super) fn cause(assembly: &Assembly, place: &CrossingPlace, tension: &[f32], positions: &[[f32; 3]]) -> String {
    let near = |p: &[f32; 3]| (0..3).map(|k| (p[k] - place.at[k]).powi(2)).sum::<f32>() < AROUND * AROUND;
    let strain = positions.iter().zip(tension).filter(|(p, _)| near(p)).map(|(_, t)| *t).fold(0.0, f32::max);
    let wear = |id| assembly.costume.piece(id).map_or(1, |p| p.wear);
    let layers: BTreeSet<_> = place.pieces.iter().map(|p| wear(*p)).collect();
    match place.kind {
        CrossingKind::ClothLeftOut => "this part of the body is left out".into(),
        _ if place.pairs == 0 => "the piece hangs inside the body: its station lies too close".into(),
        _ if strain > TIGHT => format!("the cloth is stretched by {:.0}\u{a0}% there: too tight to stay outside", 100.0 * strain),
        CrossingKind::ClothCloth if place.pieces.len() > 1 && layers.len() == 1 => {
            "both pieces are in one layer: nothing says which is worn over the other".into()
        }
        CrossingKind::ClothCloth if place.pieces.len() > 1 => "the outer layer was hung too close to the inner one".into(),
        CrossingKind::ClothCloth => "the piece has folded through itself".into(),
        CrossingKind::ClothBody => "the cloth was hung or pulled into the skin; more clearance keeps it out".into(),
    }
}

/// Cloth with what lies around a place lifted out: over the skin, and outer layers over inner ones.
pub fn pushed_out(assembly: &Assembly, positions: &[[f32; 3]], at: [f32; 3]) -> Vec<[f32; 3]> {
    let at = Vec3::from(at);
    let mut moved = positions.to_vec();
    let mut around: Vec<(usize, u8)> = Vec::new();
    for range in &assembly.pieces {
        let wear = assembly.costume.piece(range.piece).map_or(1, |p| p.wear);
        around.extend(range.vertices().filter(|v| Vec3::from(positions[*v]).distance(at) < AROUND).map(|v| (v, wear)));
    }
    let layers: BTreeSet<u8> = around.iter().map(|(_, wear)| *wear).collect();
    for (v, wear) in around {
        let p = Vec3::from(positions[v]);
        // every layer lies over those within it
        let within = layers.iter().filter(|w| **w < wear).count() as f32;
        let least = OVER * (1.0 + within);
        let (distance, normal) = assembly.form.grid.distance_and_normal(p);
        let fade = 1.0 - p.distance(at) / AROUND;
        let lift = if distance < 0.0 { least - distance } else { (least - distance).max(0.0) * fade };
        moved[v] = (p + normal * lift).to_array();
    }
    moved
}
