//! The mesh that all writers take.

/// Positions in metres (y up) with normals; texture coordinates have their own indices, so seams can be welded in
/// space and stay apart in the flat layout.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ExportMesh {
    pub name: String,
    pub positions: Vec<[f32; 3]>,
    /// Unit normals, one per position.
    pub normals: Vec<[f32; 3]>,
    /// v upwards.
    pub uvs: Vec<[f32; 2]>,
    pub triangles: Vec<[u32; 3]>,
    /// Same shape as `triangles`; empty when there are no texture coordinates.
    pub uv_triangles: Vec<[u32; 3]>,
    pub groups: Vec<Group>,
    pub skin: Option<Skin>,
}

/// A run of triangles with one material.
#[derive(Clone, Debug, PartialEq)]
pub struct Group {
    pub name: String,
    pub first: usize,
    pub count: usize,
    pub material: Material,
}

/// Base colour in linear RGB, 0 to 1. Roughness 0 is a mirror, 1 is matt; opacity 1 hides all that is behind.
#[derive(Clone, Debug, PartialEq)]
pub struct Material {
    pub name: String,
    pub colour: [f32; 3],
    pub roughness: f32,
    pub opacity: f32,
    pub double_sided: bool,
}

/// Bones that move the mesh. The mesh is written as it stands; joints lie where they are in that state.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Skin {
    /// Parents come first.
    pub joints: Vec<Joint>,
    /// One row per position; unused places have share 0.
    pub bones: Vec<[u16; 4]>,
    pub shares: Vec<[f32; 4]>,
    pub clip: Option<Clip>,
}

/// A joint in space.
#[derive(Clone, Debug, PartialEq)]
pub struct Joint {
    pub name: String,
    pub parent: Option<usize>,
    /// Unit quaternion x y z w, and metres.
    pub rotation: [f32; 4],
    pub at: [f32; 3],
}

/// Joint rotations over time.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Clip {
    pub name: String,
    pub seconds: Vec<f32>,
    /// By joint, one per time: rotation in the parent's frame.
    pub rotations: Vec<Vec<[f32; 4]>>,
    /// Place of the first joint at every time.
    pub root: Vec<[f32; 3]>,
}

impl ExportMesh {
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
