//! Skin, skeleton and clip of a mesh as parts of a glTF document.

use crate::glb::Buffer;
use crate::{Clip, Joint, Skin};
use glam::{Affine3A, Mat4, Quat, Vec3};
use serde_json::{Value, json};

/// Adds joint nodes after those that are there; returns the skin and the animation, if there is one.
pub(crate) fn skin(skin: &Skin, nodes: &mut Vec<Value>, buffer: &mut Buffer) -> (Value, Option<Value>) {
    let first = nodes.len();
    let world: Vec<Affine3A> = skin.joints.iter().map(placed).collect();
    for (k, joint) in skin.joints.iter().enumerate() {
        let local = joint.parent.map_or(world[k], |p| world[p].inverse() * world[k]);
        let (_, rotation, at) = local.to_scale_rotation_translation();
        let children: Vec<usize> = (0..skin.joints.len()).filter(|c| skin.joints[*c].parent == Some(k)).map(|c| first + c).collect();
        let mut node = json!({ "name": joint.name, "translation": at.to_array(), "rotation": rotation.to_array() });
        if !children.is_empty() {
            node["children"] = json!(children);
        }
        nodes.push(node);
    }
    let inverse: Vec<[f32; 16]> = world.iter().map(|w| bottom_row(Mat4::from(w.inverse()))).collect();
    let joints: Vec<usize> = (first..first + skin.joints.len()).collect();
    let described = json!({ "joints": joints, "inverseBindMatrices": buffer.data(&inverse, "MAT4"), "skeleton": first });
    (described, skin.clip.as_ref().map(|clip| animation(clip, first, buffer)))
}

fn placed(joint: &Joint) -> Affine3A {
    Affine3A::from_rotation_translation(Quat::from_array(joint.rotation).normalize(), Vec3::from(joint.at))
}

/// The last row of an inverse bind matrix must be exactly 0 0 0 1.
fn bottom_row(m: Mat4) -> [f32; 16] {
    let mut m = m.to_cols_array();
    (m[3], m[7], m[11], m[15]) = (0.0, 0.0, 0.0, 1.0);
    m
}

fn animation(clip: &Clip, first: usize, buffer: &mut Buffer) -> Value {
    let seconds: Vec<[f32; 1]> = clip.seconds.iter().map(|s| [*s]).collect();
    let time = buffer.bounded(&seconds, "SCALAR");
    let (mut samplers, mut channels) = (Vec::new(), Vec::new());
    let mut channel = |output: usize, node: usize, path: &str| {
        channels.push(json!({ "sampler": samplers.len(), "target": { "node": node, "path": path } }));
        samplers.push(json!({ "input": time, "output": output, "interpolation": "LINEAR" }));
    };
    for (k, rotations) in clip.rotations.iter().enumerate() {
        channel(buffer.data(rotations, "VEC4"), first + k, "rotation");
    }
    channel(buffer.data(&clip.root, "VEC3"), first, "translation");
    json!({ "name": clip.name, "samplers": samplers, "channels": channels })
}
