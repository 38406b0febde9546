//! Skin, skeleton and motion of a mesh.
//!
//! Joints stand in the node tree as in the skeleton; there may be several roots. Inverse bind matrices take the bind
//! pose from the places of the joints. A motion has one rotation channel for each joint and a translation of the first.

use super::buffer::{Draft, Use};
use crate::{Clip, Joint, Skin};
use glam::{Affine3A, Mat4, Quat, Vec3};
use gltf::json::animation::{Channel, Interpolation, Property, Sampler, Target};
use gltf::json::scene::UnitQuaternion;
use gltf::json::validation::Checked;
use gltf::json::{Accessor, Animation, Index, Node};

/// Adds the joints as nodes; returns the skin and the joints that hang on no other, which belong into the scene.
pub(super) fn add(skin: &Skin, draft: &mut Draft) -> (Index<gltf::json::Skin>, Vec<Index<Node>>) {
    let first = draft.root.nodes.len();
    let node = |k: usize| Index::<Node>::new((first + k) as u32);
    let world: Vec<Affine3A> = skin.joints.iter().map(placed).collect();
    for (k, joint) in skin.joints.iter().enumerate() {
        let local = joint.parent.map_or(world[k], |p| world[p].inverse() * world[k]);
        let (_, rotation, at) = local.to_scale_rotation_translation();
        let children: Vec<Index<Node>> = (0..skin.joints.len()).filter(|c| skin.joints[*c].parent == Some(k)).map(node).collect();
        draft.root.push(Node {
            name: Some(joint.name.clone()),
            translation: Some(at.to_array()),
            rotation: Some(UnitQuaternion(rotation.to_array())),
            children: (!children.is_empty()).then_some(children),
            ..Node::default()
        });
    }
    let inverse: Vec<[f32; 16]> = world.iter().map(|w| bottom_row(Mat4::from(w.inverse()))).collect();
    let above: Vec<Index<Node>> = (0..skin.joints.len()).filter(|k| skin.joints[*k].parent.is_none()).map(node).collect();
    let described = gltf::json::Skin {
        inverse_bind_matrices: Some(draft.floats(&inverse, Use::Data)),
        joints: (0..skin.joints.len()).map(node).collect(),
        // of several roots none is above all joints
        skeleton: if let [root] = above[..] { Some(root) } else { None },
        name: None,
        extensions: None,
        extras: Default::default(),
    };
    if let Some(clip) = skin.clip.as_ref().filter(|c| !c.seconds.is_empty()) {
        animation(clip, first, draft);
    }
    (draft.root.push(described), above)
}

/// Place of a joint in the bind pose, m.
fn placed(joint: &Joint) -> Affine3A {
    Affine3A::from_rotation_translation(Quat::from_array(joint.rotation).normalize(), Vec3::from(joint.at))
}

/// The last row of an inverse bind matrix must be exactly 0 0 0 1.
fn bottom_row(m: Mat4) -> [f32; 16] {
    let mut m = m.to_cols_array();
    (m[3], m[7], m[11], m[15]) = (0.0, 0.0, 0.0, 1.0);
    m
}

/// Adds a motion: one rotation channel for each joint, and a translation of the first, whose node is `first`.
fn animation(clip: &Clip, first: usize, draft: &mut Draft) {
    let times: Vec<[f32; 1]> = clip.seconds.iter().map(|s| [*s]).collect();
    let input = draft.bounded(&times, Use::Data);
    let (mut samplers, mut channels) = (Vec::new(), Vec::new());
    let mut channel = |output: Index<Accessor>, node: usize, path: Property| {
        channels.push(Channel {
            sampler: Index::new(samplers.len() as u32),
            target: Target { node: Index::new(node as u32), path: Checked::Valid(path), extensions: None, extras: Default::default() },
            extensions: None,
            extras: Default::default(),
        });
        samplers.push(Sampler {
            input,
            output,
            interpolation: Checked::Valid(Interpolation::Linear),
            extensions: None,
            extras: Default::default(),
        });
    };
    for (k, rotations) in clip.rotations.iter().enumerate() {
        channel(draft.floats(rotations, Use::Data), first + k, Property::Rotation);
    }
    channel(draft.floats(&clip.root, Use::Data), first, Property::Translation);
    draft.root.push(Animation { name: Some(clip.name.clone()), channels, samplers, extensions: None, extras: Default::default() });
}
