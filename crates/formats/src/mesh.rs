//! The mesh that all writers take.

use crate::Texture;
use std::sync::Arc;

/// Positions in metres (y up) with normals; texture coordinates have their own indices, so seams can be welded in
/// space and stay apart in the flat layout.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ExportMesh {
    /// Of the object in the file.
    pub name: String,
    /// m, y up, facing +z.
    pub positions: Vec<[f32; 3]>,
    /// Unit normals, one per position.
    pub normals: Vec<[f32; 3]>,
    /// v upwards.
    pub uvs: Vec<[f32; 2]>,
    /// Counter-clockwise seen from the front.
    pub triangles: Vec<[u32; 3]>,
    /// Same shape as `triangles`; empty when there are no texture coordinates.
    pub uv_triangles: Vec<[u32; 3]>,
    /// Where each of `uvs` lies in the print of its cloth, v upwards; empty where nothing is printed.
    pub print_uvs: Vec<[f32; 2]>,
    /// Triangles that make a face of four sides with the next one, whose first corner and last edge of the first they share;
    /// ascending.
    pub quads: Vec<u32>,
    /// Runs of triangles with a name and a material, covering all.
    pub groups: Vec<Group>,
    /// How joints move it; none for a stiff mesh.
    pub skin: Option<Skin>,
}

/// A run of triangles with one material.
#[derive(Clone, Debug, PartialEq)]
pub struct Group {
    /// Of the part in the file, such as a piece.
    pub name: String,
    /// Its first triangle.
    pub first: usize,
    /// How many triangles.
    pub count: usize,
    /// What it is drawn with.
    pub material: Material,
}

/// Base colour in linear RGB, 0 to 1. Roughness 0 is a mirror, 1 is matt; opacity 1 hides all that is behind.
#[derive(Clone, Debug, PartialEq)]
pub struct Material {
    /// As it stands in the file; kept apart where two are alike.
    pub name: String,
    /// sRGB, 0 to 1.
    pub colour: [f32; 3],
    /// 0 mirrors, 1 is matt.
    pub roughness: f32,
    /// 1 hides what is behind.
    pub opacity: f32,
    /// Whether its back is drawn.
    pub double_sided: bool,
    /// What is printed on it, in place of the colour.
    pub print: Option<Arc<Texture>>,
}

/// Bones that move the mesh. The mesh is written as it stands; joints lie where they are in that state.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Skin {
    /// Parents come first.
    pub joints: Vec<Joint>,
    /// One row per position; unused places have share 0.
    pub joint_indices: Vec<[u16; 4]>,
    /// Of these four, adding up to 1.
    pub weights: Vec<[f32; 4]>,
    /// A motion of the joints.
    pub clip: Option<Clip>,
}

/// A joint in space.
#[derive(Clone, Debug, PartialEq)]
pub struct Joint {
    /// Of the bone.
    pub name: String,
    /// Its parent, which stands before it.
    pub parent: Option<usize>,
    /// Unit quaternion x y z w, and metres.
    pub rotation: [f32; 4],
    /// Head of the bone in the bind pose, m.
    pub at: [f32; 3],
}

/// Joint rotations over time.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Clip {
    /// Of the motion.
    pub name: String,
    /// Time of every frame, ascending from 0.
    pub seconds: Vec<f32>,
    /// By joint, one per time: rotation in the parent's frame.
    pub rotations: Vec<Vec<[f32; 4]>>,
    /// Place of the first joint at every time.
    pub root: Vec<[f32; 3]>,
}

/// A face by the corners of its triangles: triangle and corner in it, three or four of them.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Face {
    corners: [(usize, usize); 4],
    sides: usize,
}

impl Face {
    /// Around the face.
    pub fn corners(&self) -> &[(usize, usize)] {
        &self.corners[..self.sides]
    }
}

impl ExportMesh {
    /// The faces of a run of triangles.
    pub(crate) fn faces(&self, first: usize, count: usize) -> impl Iterator<Item = Face> {
        let (mut at, end) = (first, first + count);
        std::iter::from_fn(move || {
            let t = at;
            let four = t + 1 < end && self.quads.binary_search(&(t as u32)).is_ok();
            at += if four { 2 } else { 1 };
            (t < end).then_some(Face { corners: [(t, 0), (t, 1), (t, 2), (t + 1, 2)], sides: if four { 4 } else { 3 } })
        })
    }

    /// All its faces.
    pub(crate) fn all_faces(&self) -> impl Iterator<Item = Face> {
        self.faces(0, self.triangles.len())
    }

    /// Area-weighted vertex normals, counter-clockwise triangles facing outwards.
    pub fn smooth_normals(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> Vec<[f32; 3]> {
        let mut sum = vec![[0.0f64; 3]; positions.len()];
        for t in triangles {
            let [a, b, c] = t.map(|v| positions[v as usize].map(f64::from));
            let (u, v) = ([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]);
            let n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
            for &i in t {
                for k in 0..3 {
                    sum[i as usize][k] += n[k];
                }
            }
        }
        sum.into_iter()
            .map(|n| {
                let length = (n[0] * n[0] + n[1] * n[1] + n[2] * n[2]).sqrt();
                if length > 0.0 { n.map(|v| (v / length) as f32) } else { [0.0, 1.0, 0.0] }
            })
            .collect()
    }
}
