//! A mesh over time in glTF: the first frame, every further one as a morph target, and a motion of their weights.

use super::buffer::{Draft, Use};
use super::{add, asset, material_list, numbered};
use crate::ExportMesh;
use glam::Vec3;
use gltf::json::animation::{Channel, Interpolation, Property, Sampler, Target};
use gltf::json::mesh::MorphTarget;
use gltf::json::validation::Checked;
use gltf::json::{Animation, Index, Node, Scene};

/// Frames of a mesh whose triangles stay, `fps` a second. Between two frames positions go straight from one to the other.
/// Positions of a frame are in the order of those of the mesh; a frame of another length is left out.
pub fn glb_animated(mesh: &ExportMesh, frames: &[Vec<[f32; 3]>], fps: f64) -> Vec<u8> {
    let frames: Vec<&Vec<[f32; 3]>> = frames.iter().filter(|f| f.len() == mesh.positions.len()).collect();
    let first = frames.first().map_or(&mesh.positions, |f| *f);
    let still =
        ExportMesh { positions: first.clone(), normals: ExportMesh::smooth_normals(first, &mesh.triangles), skin: None, ..mesh.clone() };
    let mut draft = Draft::new();
    draft.root.asset = asset();
    let meshes = [still];
    let known = material_list(&meshes, &mut draft);
    let at = add(&meshes[0], &known, &mut draft);
    let order = numbered(&meshes[0]).0;
    let further = frames.get(1..).unwrap_or_default();
    let targets: Vec<MorphTarget> = further
        .iter()
        .map(|frame| {
            let way = |(v, _): &(u32, u32)| (Vec3::from(frame[*v as usize]) - Vec3::from(first[*v as usize])).to_array();
            let rows: Vec<[f32; 3]> = order.iter().map(way).collect();
            MorphTarget { positions: Some(draft.bounded(&rows, Use::Vertices)), normals: None, tangents: None }
        })
        .collect();
    let node = draft.root.push(Node { name: Some(mesh.name.clone()), mesh: Some(at), ..Node::default() });
    if !targets.is_empty() {
        let own = &mut draft.root.meshes[at.value()];
        own.primitives.iter_mut().for_each(|p| p.targets = Some(targets.clone()));
        own.weights = Some(vec![0.0; targets.len()]);
        weights(node, targets.len(), fps, &mut draft);
    }
    let scene = Scene { extensions: None, extras: Default::default(), name: None, nodes: vec![node] };
    draft.root.scene = Some(draft.root.push(scene));
    draft.finish()
}

/// The motion: at frame k the k-th target counts alone, at the first none.
fn weights(node: Index<Node>, targets: usize, fps: f64, draft: &mut Draft) {
    let times: Vec<[f32; 1]> = (0..=targets).map(|k| [(k as f64 / fps) as f32]).collect();
    let alone = |k: usize| (1..=targets).map(move |t| [if t == k { 1.0 } else { 0.0 }]);
    let values: Vec<[f32; 1]> = (0..=targets).flat_map(alone).collect();
    let sampler = Sampler {
        input: draft.bounded(&times, Use::Data),
        output: draft.floats(&values, Use::Data),
        interpolation: Checked::Valid(Interpolation::Linear),
        extensions: None,
        extras: Default::default(),
    };
    let target = Target { node, path: Checked::Valid(Property::MorphTargetWeights), extensions: None, extras: Default::default() };
    let channel = Channel { sampler: Index::new(0), target, extensions: None, extras: Default::default() };
    let (channels, samplers) = (vec![channel], vec![sampler]);
    draft.root.push(Animation { name: Some("rehearsal".into()), channels, samplers, extensions: None, extras: Default::default() });
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Group, Material};

    /// A square in two pieces, with a seam of texture coordinates.
    fn square() -> ExportMesh {
        let material = Material { name: "calico".into(), colour: [0.5; 3], roughness: 0.9, opacity: 1.0, double_sided: true, print: None };
        let group = |name: &str, first: usize| Group { name: name.into(), first, count: 1, material: material.clone() };
        ExportMesh {
            name: "Square".into(),
            positions: vec![[0.0; 3]; 4],
            normals: vec![[0.0, 1.0, 0.0]; 4],
            uvs: (0..6).map(|k| [k as f32 * 0.1, 0.0]).collect(),
            triangles: vec![[0, 1, 2], [0, 2, 3]],
            uv_triangles: vec![[0, 1, 2], [3, 4, 5]],
            groups: vec![group("left", 0), group("right", 1)],
            skin: None,
            print_uvs: Vec::new(),
            quads: Vec::new(),
        }
    }

    #[test]
    fn a_reader_finds_every_frame_at_its_time() {
        let frame = |t: f32| vec![[0.0, t, 0.0], [0.0, t, 1.0], [1.0, t * t, 1.0], [1.0, 0.0, 0.0]];
        let frames: Vec<Vec<[f32; 3]>> = [0.0, 0.25, 0.5, 1.5].map(frame).to_vec();
        let file = gltf::Gltf::from_slice(&glb_animated(&square(), &frames, 24.0)).expect("a valid file");
        let blob = file.blob.clone().expect("a buffer");
        let bytes = |_: gltf::Buffer| Some(blob.as_slice());
        let animation = file.animations().next().expect("a motion");
        let channel = animation.channels().next().expect("a channel");
        let reader = channel.reader(bytes);
        let times: Vec<f32> = reader.read_inputs().expect("times").collect();
        assert_eq!(times, [0.0, 1.0 / 24.0, 2.0 / 24.0, 3.0 / 24.0]);
        let Some(gltf::animation::util::ReadOutputs::MorphTargetWeights(weights)) = reader.read_outputs() else { panic!("weights") };
        let weights: Vec<f32> = weights.into_f32().collect();
        assert_eq!(weights.len(), 4 * 3);
        for primitive in file.meshes().next().expect("a mesh").primitives() {
            let reader = primitive.reader(bytes);
            let base: Vec<[f32; 3]> = reader.read_positions().expect("positions").collect();
            let targets: Vec<Vec<[f32; 3]>> = reader.read_morph_targets().map(|(p, ..)| p.expect("ways").collect()).collect();
            let indices: Vec<u32> = reader.read_indices().expect("faces").into_u32().collect();
            for (k, want) in frames.iter().enumerate() {
                for i in &indices {
                    let at = (0..3).map(|t| Vec3::from(targets[t][*i as usize]) * weights[3 * k + t]).sum::<Vec3>()
                        + Vec3::from(base[*i as usize]);
                    assert!(want.iter().any(|w| Vec3::from(*w).distance(at) < 1e-6), "frame {k}: {at}");
                }
            }
        }
    }
}
