//! The body as a mesh of its own, with its bones and a motion.

use super::linear;
use crate::ContactBody;
use crate::form::pose_refusal;
use body::{Body, Pose, blend};
use costume::{BodyChoice, Refusal};
use formats::{Clip, ExportMesh, Group, Joint, Material, Skin};
use glam::DVec3;
use std::collections::BTreeSet;
use std::sync::Arc;

/// The body as its own mesh.
pub fn body_mesh(form: &ContactBody) -> ExportMesh {
    let s = &form.posed.surface;
    ExportMesh { skin: skin(form), ..plain_body(&form.figure.name, s.positions.clone(), s.normals.clone(), s.triangles.clone()) }
}

/// A skin as a mesh of its own, without bones.
pub(crate) fn plain_body(name: &str, positions: Vec<[f32; 3]>, normals: Vec<[f32; 3]>, triangles: Vec<[u32; 3]>) -> ExportMesh {
    let material =
        Material { name: "linen".into(), colour: linear("#c9c2b4"), roughness: 0.85, opacity: 1.0, double_sided: false, print: None };
    let groups = vec![Group { name: "body".into(), first: 0, count: triangles.len(), material }];
    ExportMesh {
        name: name.to_owned(),
        positions,
        normals,
        uvs: Vec::new(),
        triangles,
        uv_triangles: Vec::new(),
        groups,
        ..ExportMesh::default()
    }
}

/// Frames of a motion in a second.
const RATE: f32 = 30.0;

/// The body in its neutral pose with a motion from one pose to another over `frames` frames, on the floor all along.
pub fn body_clip(figure: &Arc<Body>, from: &Pose, to: &Pose, frames: usize) -> Result<ExportMesh, Refusal> {
    let skeleton = &figure.rig.skeleton;
    for pose in [from, to] {
        pose.check(skeleton).map_err(pose_refusal)?;
    }
    let (first, last) = (skeleton.rotations(from), skeleton.rotations(to));
    let mut clip = Clip { name: "motion".into(), rotations: vec![Vec::new(); skeleton.bones.len()], ..Clip::default() };
    for k in 0..frames {
        let rotations = blend(&first, &last, k as f64 / (frames - 1).max(1) as f64);
        clip.seconds.push(k as f32 / RATE);
        clip.rotations.iter_mut().zip(&rotations).for_each(|(row, q)| row.push(q.as_quat().to_array()));
        let root = figure.stand(&rotations).placed.first().map_or(DVec3::ZERO, |m| m.transform_point3(skeleton.bones[0].joint));
        clip.root.push(root.as_vec3().to_array());
    }
    let form = ContactBody::new(figure.clone(), &BodyChoice::size(&figure.key), BTreeSet::new())?;
    let mut mesh = body_mesh(&form);
    mesh.skin.iter_mut().for_each(|skin| skin.clip = Some(clip.clone()));
    Ok(mesh)
}

/// Joints where they lie in the pose, and the weights of the skin; none for a figure without bones.
fn skin(form: &ContactBody) -> Option<Skin> {
    let rig = &form.figure.rig;
    let joint = |(bone, placed): (&body::Bone, &glam::DAffine3)| Joint {
        name: bone.name.clone(),
        parent: bone.parent,
        rotation: placed.to_scale_rotation_translation().1.as_quat().to_array(),
        at: placed.transform_point3(bone.joint).as_vec3().to_array(),
    };
    let joints: Vec<Joint> = rig.skeleton.bones.iter().zip(&form.posed.placed).map(joint).collect();
    let (bones, shares) = rig.weights.iter().map(|w| (w.joint_indices, w.weights)).unzip();
    (!joints.is_empty()).then_some(Skin { joints, joint_indices: bones, weights: shares, clip: None })
}
