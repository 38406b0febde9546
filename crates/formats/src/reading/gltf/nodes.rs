//! The nodes of a file as a tree with their transforms.

use crate::reading::budget::at_most;
use crate::reading::{ReadFault, damaged, figure_limits};
use glam::{DAffine3, DMat4};
use gltf::{Document, Node};

/// Parents and local transforms by node; every node has one parent at most and no ancestor twice.
pub(super) struct Tree {
    /// By node; roots have none.
    pub parents: Vec<Option<usize>>,
    /// Place within the parent, m.
    pub locals: Vec<DAffine3>,
    /// Nodes of the shown scene, parents first.
    pub shown: Vec<usize>,
    /// Where every shown node stands.
    pub places: Vec<Option<DAffine3>>,
}

impl Tree {
    /// Refuses nodes with two parents and circles.
    pub fn new(document: &Document) -> Result<Self, ReadFault> {
        let locals: Vec<DAffine3> = document.nodes().map(|n| local(&n)).collect();
        if let Some(k) = locals.iter().position(|m| !m.is_finite()) {
            return Err(damaged(format!("the transform of node {k} is no number")));
        }
        let mut parents = vec![None; locals.len()];
        for node in document.nodes() {
            for child in node.children() {
                if parents[child.index()].replace(node.index()).is_some() {
                    return Err(damaged(format!("node {} has two parents", child.index())));
                }
            }
        }
        for k in 0..parents.len() {
            let (mut at, mut depth) = (k, 0);
            while let Some(p) = parents[at] {
                (at, depth) = (p, depth + 1);
                if at == k {
                    return Err(damaged(format!("node {k} is its own ancestor")));
                }
                // a ring that k is not part of is found at one of its own nodes
                at_most("nodes within each other", depth, 4 * figure_limits::DEPTH)?;
            }
        }
        let scene = document.default_scene().or_else(|| document.scenes().next());
        let mut tree = Self { places: vec![None; locals.len()], parents, locals, shown: Vec::new() };
        let roots: Vec<usize> = match scene {
            Some(scene) => scene.nodes().map(|n| n.index()).collect(),
            None => (0..tree.parents.len()).filter(|k| tree.parents[*k].is_none()).collect(),
        };
        let children: Vec<Vec<usize>> = document.nodes().map(|n| n.children().map(|c| c.index()).collect()).collect();
        let mut open: Vec<usize> = roots.into_iter().rev().collect();
        while let Some(k) = open.pop() {
            if tree.places[k].is_none() {
                tree.places[k] = Some(tree.place(k));
                tree.shown.push(k);
                open.extend(children[k].iter().rev());
            }
        }
        Ok(tree)
    }

    /// Place of a node in the scene, m.
    fn place(&self, node: usize) -> DAffine3 {
        let above = self.parents[node].map_or(DAffine3::IDENTITY, |p| self.places[p].unwrap_or_else(|| self.place(p)));
        above * self.locals[node]
    }
}

/// Place of a node within its parent.
fn local(node: &Node) -> DAffine3 {
    let m = node.transform().matrix();
    DAffine3::from_mat4(DMat4::from_cols_array_2d(&m.map(|column| column.map(f64::from))))
}
