//! A skeleton for a figure that came without bones: the own one, its joints set by the landmarks, and weights from how near every
//! vertex lies to the bones of its part, smoothed over the skin.

use super::regions::{PARTS, from_stretch};
use crate::posing::skeleton::{Bone, Skeleton, own_bones, stem};
use crate::posing::skin::Rig;
use crate::posing::weights::{rings, smoothed, strongest};
use crate::skinning::surface::Surface;
use glam::DVec3;
use rayon::prelude::*;
use std::collections::BTreeMap;

/// Rounds of smoothing over the mesh.
const ROUNDS: usize = 10;
/// Added to the distance from a bone in shares of the height, so that no bone takes all.
const SOFT: f64 = 0.004;

/// The skeleton and weights of a figure; landmarks in m, the part of every vertex as an index into [`PARTS`].
pub(super) fn rig(surface: &Surface, landmarks: &BTreeMap<String, DVec3>, part_of_vertex: &[u8]) -> Rig {
    let skeleton = skeleton(landmarks);
    let height = mark(landmarks, "crown").y.max(0.1);
    let count = skeleton.bones.len();
    let segments = segments(&skeleton, landmarks);
    let allowed: Vec<Vec<usize>> = PARTS.iter().map(|part| bones_of(part, &skeleton)).collect();
    let of_vertex = |(p, part): (&[f32; 3], &u8)| {
        let p = DVec3::from(p.map(f64::from));
        let mut row = vec![0.0; count];
        for &b in &allowed[*part as usize] {
            let (from, to) = segments[b];
            row[b] = (from_stretch(p, from, to, 1.0) + SOFT * height).powi(-4);
        }
        let sum: f64 = row.iter().sum();
        row.iter_mut().for_each(|w| *w /= sum);
        row
    };
    let mut dense: Vec<f64> = surface.positions.par_iter().zip(part_of_vertex).flat_map_iter(of_vertex).collect();
    let rings = rings(surface.positions.len(), &surface.triangles);
    for _ in 0..ROUNDS {
        dense = smoothed(&dense, &rings, count);
    }
    Rig { skeleton, weights: dense.par_chunks(count).map(strongest).collect(), linear: false }
}

fn mark(landmarks: &BTreeMap<String, DVec3>, key: &str) -> DVec3 {
    landmarks.get(key).copied().unwrap_or_default()
}

/// The own bones with their joints in this figure. Its arms stand off as they stand in its neutral pose.
fn skeleton(landmarks: &BTreeMap<String, DVec3>) -> Skeleton {
    let placed = |bone: &Bone| {
        let side = if bone.mirrored { "right" } else { "left" };
        let stem = stem(&bone.name);
        let (shoulder, wrist) = (mark(landmarks, &format!("shoulder-{side}")), mark(landmarks, &format!("wrist-{side}")));
        let arm = wrist - shoulder;
        let off = arm.x.abs().atan2(-arm.y).to_degrees();
        let mut axes = bone.axes;
        // where the own arms stand off, those of the figure do as they do
        (axes.lean, axes.swing) = (if axes.lean > 0.0 { off } else { 0.0 }, if axes.swing > 0.0 { off } else { 0.0 });
        Bone { joint: joint(stem, side, landmarks), axes, ..bone.clone() }
    };
    Skeleton { bones: own_bones().iter().map(placed).collect() }
}

/// Where a bone turns, m.
fn joint(stem: &str, side: &str, landmarks: &BTreeMap<String, DVec3>) -> DVec3 {
    let middle = |key: &str| mark(landmarks, key);
    let own = |key: &str| mark(landmarks, &format!("{key}-{side}"));
    let height = middle("crown").y.max(0.1);
    let (hips, waist, bust, neck) = (middle("hips"), middle("waist"), middle("bust"), middle("neck"));
    // the spine lies behind the middle of the trunk
    let back = |p: DVec3| p - DVec3::Z * 0.012 * height;
    match stem {
        "pelvis" => back(hips.lerp(waist, 0.25)),
        "spine-1" => back(hips.lerp(waist, 0.8)),
        "spine-2" => back(waist.lerp(bust, 0.45)),
        "spine-3" => back(bust.lerp(neck, 0.1)),
        "neck" => back(neck - DVec3::Y * 0.012 * height),
        "head" => neck.lerp(middle("crown"), 0.3),
        "collar" => back(neck.with_y(own("shoulder").y)).lerp(own("shoulder"), 0.15),
        "upper-arm" => own("shoulder"),
        "forearm" => own("elbow"),
        "hand" => own("wrist"),
        "thigh" => {
            own("knee").with_y(hips.y.min(middle("crotch").y + 0.06 * height)).lerp(hips, 0.1).with_y(middle("crotch").y + 0.05 * height)
        }
        "shin" => own("knee"),
        "foot" => own("ankle"),
        _ => own("ankle").with_y(0.012 * height) + DVec3::Z * 0.075 * height,
    }
}

/// From the joint of every bone to where it ends.
fn segments(skeleton: &Skeleton, landmarks: &BTreeMap<String, DVec3>) -> Vec<(DVec3, DVec3)> {
    let height = mark(landmarks, "crown").y.max(0.1);
    let end = |b: usize| {
        let bone = &skeleton.bones[b];
        let stem = stem(&bone.name);
        // the first bone after it on its own side, the next of the spine in the middle
        let next = skeleton.bones.iter().find(|c| c.parent == Some(b) && (c.mirrored == bone.mirrored || stem == "spine-3"));
        match (stem, next) {
            ("head", _) => mark(landmarks, "crown"),
            ("hand", _) => bone.joint + (bone.joint - skeleton.bones[bone.parent.unwrap_or(0)].joint).normalize_or_zero() * 0.1 * height,
            ("toes", _) | (_, None) => bone.joint + DVec3::Z * 0.04 * height,
            (_, Some(next)) => next.joint,
        }
    };
    (0..skeleton.bones.len()).map(|b| (skeleton.bones[b].joint, end(b))).collect()
}

/// The bones that may move a part of the skin.
fn bones_of(part: &str, skeleton: &Skeleton) -> Vec<usize> {
    let side = if part.ends_with("-left") { "-left" } else { "-right" };
    let stem = stem(part);
    let middle: &[&str] = match stem {
        "trunk" => &["pelvis", "spine-1", "spine-2", "spine-3"],
        "neck" => &["spine-3", "neck", "head"],
        "head" => &["neck", "head"],
        "thigh" => &["pelvis"],
        _ => &[],
    };
    let paired: &[&str] = match stem {
        "upper-arm" => &["collar", "upper-arm", "forearm"],
        "forearm" => &["upper-arm", "forearm", "hand"],
        "hand" => &["forearm", "hand"],
        "thigh" => &["thigh", "shin"],
        "shin" => &["thigh", "shin", "foot"],
        "foot" => &["shin", "foot", "toes"],
        _ => &[],
    };
    let both = if stem == "trunk" { &["collar-left", "collar-right"][..] } else { &[] };
    let names = middle.iter().chain(both).map(|n| (*n).to_owned()).chain(paired.iter().map(|n| format!("{n}{side}")));
    names.filter_map(|name| skeleton.index(&name)).collect()
}
