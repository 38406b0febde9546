//! The bones of a skin, parents first.
//!
//! Joints come in the order of the skin and leave sorted, so that a parent always stands before its children; one that is its
//! own ancestor is refused, and so are a joint that stands twice and places that are no numbers. The parent of a joint is the
//! nearest joint above its node, also past nodes that are none.

use super::accessor::{of_kind, rows};
use super::nodes::Tree;
use super::{Buffers, Row};
use crate::Skin;
use crate::reading::budget::{Budget, at_most};
use crate::reading::{ReadFault, damaged, figure_limits, joint};
use glam::{DAffine3, DMat4, DQuat, DVec3};
use gltf::accessor::{DataType, Dimensions};
use std::collections::HashMap;

/// Bones with what their meshes need of them.
pub(super) struct Joints {
    /// Index of the skin in the file.
    pub skin: usize,
    names: Vec<String>,
    parents: Vec<Option<usize>>,
    /// Node, place in the rest state and motion from the bind state, by bone.
    pub nodes: Vec<usize>,
    rest: Vec<DAffine3>,
    bind: Vec<DAffine3>,
    /// From the file's order to ours.
    order: Vec<usize>,
}

impl Joints {
    /// Refuses joints that are their own children or lack matrices.
    pub fn new(skin: &gltf::Skin, tree: &Tree, buffers: &Buffers, budget: &mut Budget) -> Result<Self, ReadFault> {
        let nodes: Vec<usize> = skin.joints().map(|n| n.index()).collect();
        at_most("bones", nodes.len(), figure_limits::BONES)?;
        let inverse = inverse_binds(skin, nodes.len(), buffers, budget)?;
        let of_node: HashMap<usize, usize> = nodes.iter().enumerate().map(|(k, n)| (*n, k)).collect();
        if of_node.len() < nodes.len() {
            return Err(damaged("a bone stands twice in the skin"));
        }
        // the nearest bone above it, also past nodes that are no bones
        let parent = |k: usize| {
            let mut at = nodes[k];
            while let Some(p) = tree.parents[at] {
                if let Some(bone) = of_node.get(&p) {
                    return Some(*bone);
                }
                at = p;
            }
            None
        };
        let parent: Vec<Option<usize>> = (0..nodes.len()).map(parent).collect();
        let depth = |k: usize| std::iter::successors(parent[k], |p| parent[*p]).count();
        let mut sorted: Vec<usize> = (0..nodes.len()).collect();
        sorted.sort_by_key(|k| (depth(*k), *k));
        let mut order = vec![0; nodes.len()];
        sorted.iter().enumerate().for_each(|(new, old)| order[*old] = new);
        let rest: Vec<DAffine3> = sorted.iter().map(|k| tree.places[nodes[*k]].unwrap_or(DAffine3::IDENTITY)).collect();
        let bind: Vec<DAffine3> = sorted.iter().zip(&rest).map(|(k, rest)| *rest * inverse[*k]).collect();
        if !bind.iter().all(|m| m.is_finite()) {
            return Err(damaged("bones whose places are no numbers"));
        }
        Ok(Self {
            skin: skin.index(),
            names: names(skin, &sorted),
            parents: sorted.iter().map(|k| parent[*k].map(|p| order[p])).collect(),
            nodes: sorted.iter().map(|k| nodes[*k]).collect(),
            bind,
            rest,
            order,
        })
    }

    /// A point of the mesh in the rest state.
    pub fn stand(&self, p: DVec3, (bones, shares): &Row) -> DVec3 {
        let mut at = DVec3::ZERO;
        let mut sum = 0.0;
        for (b, share) in bones.iter().zip(shares) {
            if let (Some(k), true) = (self.order.get(*b as usize), *share > 0.0) {
                at += self.bind[*k].transform_point3(p) * f64::from(*share);
                sum += f64::from(*share);
            }
        }
        if sum > 1e-6 { at / sum } else { p }
    }

    /// The skin with the rows of all vertices, put into our order of bones.
    pub fn skin(&self, rows: Vec<Row>) -> Skin {
        let ours = |(bones, shares): Row| {
            let shares = std::array::from_fn(|k| if (bones[k] as usize) < self.order.len() { shares[k].max(0.0) } else { 0.0 });
            let bones = bones.map(|b| self.order.get(b as usize).copied().unwrap_or(0) as u16);
            let sum: f32 = shares.iter().sum();
            // loose pieces follow the first bone
            if sum.is_finite() && sum > 1e-6 { (bones, shares.map(|s| s / sum)) } else { ([0; 4], [1.0, 0.0, 0.0, 0.0]) }
        };
        let (bones, shares) = rows.into_iter().map(ours).unzip();
        let joints = self.names.iter().zip(&self.parents).zip(&self.rest);
        let joints = joints.map(|((name, parent), rest)| joint(name.clone(), *parent, rest.translation.as_vec3().to_array())).collect();
        Skin { joints, joint_indices: bones, weights: shares, clip: None }
    }

    /// Rotations of the bones from the rest state, in the axes of the rest state and the frames of their parents.
    pub fn turned(&self, now: &[DAffine3]) -> Vec<[f32; 4]> {
        let turn = |m: &DAffine3| m.to_scale_rotation_translation().1;
        let world: Vec<DQuat> = self.rest.iter().zip(now).map(|(rest, now)| turn(now) * turn(rest).inverse()).collect();
        let own = |k: usize| self.parents[k].map_or(world[k], |p| world[p].inverse() * world[k]);
        let sound = |q: DQuat| if q.is_finite() && q.length_squared() > 1e-12 { q.normalize() } else { DQuat::IDENTITY };
        (0..world.len()).map(|k| sound(own(k)).as_quat().to_array()).collect()
    }
}

/// From the skin to every joint in the bind pose; identities where the file has none.
fn inverse_binds(skin: &gltf::Skin, count: usize, buffers: &Buffers, budget: &mut Budget) -> Result<Vec<DAffine3>, ReadFault> {
    let Some(accessor) = skin.inverse_bind_matrices() else { return Ok(vec![DAffine3::IDENTITY; count]) };
    of_kind(&accessor, "bind matrices", &[DataType::F32])?;
    let found = rows::<16>(&accessor, Dimensions::Mat4, buffers, budget)?;
    if found.len() < count {
        return Err(damaged("bones without bind matrices"));
    }
    Ok(found.iter().map(|m| DAffine3::from_mat4(DMat4::from_cols_array(m))).collect())
}

/// Names of the bones in their order, each once.
fn names(skin: &gltf::Skin, sorted: &[usize]) -> Vec<String> {
    let given: Vec<Option<String>> =
        skin.joints().map(|n| n.name().map(|n| n.chars().filter(|c| !c.is_control()).take(60).collect())).collect();
    let mut used: HashMap<String, usize> = HashMap::new();
    let mut name = |k: &usize| {
        let plain = given[*k].clone().filter(|n: &String| !n.trim().is_empty()).unwrap_or_else(|| format!("bone {k}"));
        let count = used.entry(plain.clone()).or_default();
        *count += 1;
        if *count == 1 { plain } else { format!("{plain} {count}") }
    };
    sorted.iter().map(&mut name).collect()
}
