//! glTF 2.0 in one file (GLB, or JSON with embedded buffers): meshes, the skin with the most bones, and its motions.

use super::{FoundMesh, ReadFault, at_most, damaged, figure_limits, joint};
use crate::{Clip, Skin};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use glam::{DAffine3, DMat4, DQuat, DVec3};
use gltf::accessor::{DataType, Dimensions};
use gltf::animation::util::ReadOutputs;
use gltf::{Accessor, Document, Gltf, Node};
use std::collections::HashMap;

pub(super) fn read(bytes: &[u8]) -> Result<FoundMesh, ReadFault> {
    let Gltf { document, mut blob } = Gltf::from_slice(bytes).map_err(damaged)?;
    let buffers = buffers(&document, &mut blob)?;
    document.accessors().try_for_each(|a| within(&a, &buffers))?;
    let data = |b: gltf::Buffer| buffers.get(b.index()).map(Vec::as_slice);
    let places = places(&document);
    let skin = document.skins().max_by_key(|s| (s.joints().count(), usize::MAX - s.index()));
    let joints = skin.as_ref().map(|s| Joints::new(s, &places, data)).transpose()?;
    let mut mesh = FoundMesh { unit: Some(1.0), z_up: Some(false), ..FoundMesh::default() };
    let mut weights = Vec::new();
    for node in document.nodes() {
        let (Some(own), Some(place)) = (node.mesh(), places[node.index()]) else { continue };
        let skinned = node.skin().zip(joints.as_ref()).filter(|(s, j)| s.index() == j.skin).map(|(_, j)| j);
        for primitive in own.primitives().filter(|p| p.mode() == gltf::mesh::Mode::Triangles) {
            add(&primitive, data, &place, skinned, &mut mesh, &mut weights)?;
        }
    }
    let points = document.meshes().flat_map(|m| m.primitives().collect::<Vec<_>>()).filter(|p| p.mode() == gltf::mesh::Mode::Points);
    if mesh.triangles.is_empty() {
        return Err(ReadFault::NoSurface(points.filter_map(|p| p.get(&gltf::Semantic::Positions)).map(|a| a.count()).sum()));
    }
    if let Some(joints) = joints {
        mesh.clips = document.animations().filter_map(|a| clip(&a, &joints, &document, data)).collect();
        mesh.skin = Some(joints.skin(weights));
    }
    Ok(mesh)
}

fn buffers(document: &Document, blob: &mut Option<Vec<u8>>) -> Result<Vec<Vec<u8>>, ReadFault> {
    let one = |buffer: gltf::Buffer| {
        let bytes = match buffer.source() {
            gltf::buffer::Source::Bin => blob.take().ok_or_else(|| ReadFault::MissingBuffer("BIN".into()))?,
            gltf::buffer::Source::Uri(uri) => {
                let embedded = uri.strip_prefix("data:").and_then(|rest| rest.split_once(";base64,"));
                let (_, text) = embedded.ok_or_else(|| ReadFault::MissingBuffer(uri.chars().take(60).collect()))?;
                STANDARD.decode(text).map_err(|_| damaged("an embedded buffer that is no base64"))?
            }
        };
        if bytes.len() < buffer.length() {
            return Err(ReadFault::MissingBuffer(format!("{} of {} bytes of number {}", bytes.len(), buffer.length(), buffer.index())));
        }
        Ok(bytes)
    };
    document.buffers().map(one).collect()
}

/// Refuses accessors that reach beyond their buffers, so that reading them cannot fail.
fn within(accessor: &Accessor, buffers: &[Vec<u8>]) -> Result<(), ReadFault> {
    if accessor.sparse().is_some() {
        return Err(ReadFault::Unsupported("sparse accessors".into()));
    }
    let beyond = || damaged(format!("accessor {} reaches beyond its buffer", accessor.index()));
    let view = accessor.view().ok_or_else(|| damaged(format!("accessor {} has no data", accessor.index())))?;
    let stride = view.stride().unwrap_or(accessor.size());
    let needed = accessor.count().checked_sub(1).and_then(|n| n.checked_mul(stride)?.checked_add(accessor.offset() + accessor.size()));
    let end = view.offset().checked_add(view.length()).ok_or_else(beyond)?;
    let length = buffers.get(view.buffer().index()).map_or(0, Vec::len);
    if stride < accessor.size() || needed.ok_or_else(beyond)? > view.length() || end > length { Err(beyond()) } else { Ok(()) }
}

/// Where every node of the scene is; nodes outside of it are not shown.
fn places(document: &Document) -> Vec<Option<DAffine3>> {
    let mut places = vec![None; document.nodes().count()];
    let scene = document.default_scene().or_else(|| document.scenes().next());
    let roots: Vec<Node> = scene.map_or_else(|| document.nodes().collect(), |s| s.nodes().collect());
    let mut open: Vec<(Node, DAffine3)> = roots.into_iter().map(|n| (n, DAffine3::IDENTITY)).collect();
    while let Some((node, parent)) = open.pop() {
        if places[node.index()].is_some() {
            continue;
        }
        let own = parent * local(&node);
        places[node.index()] = Some(own);
        open.extend(node.children().map(|c| (c, own)));
    }
    places
}

fn local(node: &Node) -> DAffine3 {
    let m = node.transform().matrix();
    DAffine3::from_mat4(DMat4::from_cols_array_2d(&m.map(|column| column.map(f64::from))))
}

fn add<'b>(
    primitive: &gltf::Primitive,
    data: impl Fn(gltf::Buffer) -> Option<&'b [u8]> + Clone,
    place: &DAffine3,
    skinned: Option<&Joints>,
    mesh: &mut FoundMesh,
    weights: &mut Vec<([u16; 4], [f32; 4])>,
) -> Result<(), ReadFault> {
    let kind = |semantic, dimensions, what: &str| {
        let right = primitive.get(&semantic).is_none_or(|a| a.dimensions() == dimensions);
        if right { Ok(()) } else { Err(damaged(format!("{what} of a wrong kind"))) }
    };
    kind(gltf::Semantic::Positions, Dimensions::Vec3, "positions")?;
    kind(gltf::Semantic::Joints(0), Dimensions::Vec4, "bones")?;
    kind(gltf::Semantic::Weights(0), Dimensions::Vec4, "weights")?;
    if primitive.get(&gltf::Semantic::Positions).is_some_and(|a| a.data_type() != DataType::F32) {
        return Err(ReadFault::Unsupported("quantised positions".into()));
    }
    let reader = primitive.reader(data);
    let first = mesh.positions.len() as u32;
    let Some(positions) = reader.read_positions() else { return Ok(()) };
    let positions: Vec<DVec3> = positions.map(|p| DVec3::from(p.map(f64::from))).collect();
    at_most("vertices", mesh.positions.len() + positions.len(), figure_limits::VERTICES)?;
    let count = positions.len();
    let mut rows = vec![([0u16; 4], [0.0f32; 4]); count];
    if let (Some(_), Some(bones), Some(shares)) = (skinned, reader.read_joints(0), reader.read_weights(0)) {
        rows.iter_mut().zip(bones.into_u16().zip(shares.into_f32())).for_each(|(row, found)| *row = found);
    }
    // a skinned mesh stands where its bones put it, wherever its node is
    let stand = |(p, row): (&DVec3, &([u16; 4], [f32; 4]))| match skinned {
        Some(joints) => joints.stand(*p, row),
        None => place.transform_point3(*p),
    };
    mesh.positions.extend(positions.iter().zip(&rows).map(|(p, row)| stand((p, row)).as_vec3().to_array()));
    weights.extend(rows);
    let indices: Vec<u32> = reader.read_indices().map_or_else(|| (0..count as u32).collect(), |i| i.into_u32().collect());
    let flipped = skinned.is_none() && place.matrix3.determinant() < 0.0;
    for t in indices.chunks_exact(3) {
        if t.iter().any(|v| *v as usize >= count) {
            return Err(damaged("a face names a vertex that is not there"));
        }
        let [a, b, c] = [first + t[0], first + t[1], first + t[2]];
        mesh.triangles.push(if flipped { [a, c, b] } else { [a, b, c] });
    }
    Ok(())
}

/// The bones of a skin, parents first.
struct Joints {
    skin: usize,
    names: Vec<String>,
    parents: Vec<Option<usize>>,
    /// Node, place in the rest state and motion from the bind state, by bone.
    nodes: Vec<usize>,
    rest: Vec<DAffine3>,
    bind: Vec<DAffine3>,
    /// From the file's order to ours.
    order: Vec<usize>,
}

impl Joints {
    fn new<'b>(
        skin: &gltf::Skin,
        places: &[Option<DAffine3>],
        data: impl Fn(gltf::Buffer) -> Option<&'b [u8]> + Clone,
    ) -> Result<Self, ReadFault> {
        let nodes: Vec<Node> = skin.joints().collect();
        at_most("bones", nodes.len(), figure_limits::BONES)?;
        let inverse: Vec<DAffine3> = skin.reader(data).read_inverse_bind_matrices().map_or_else(
            || vec![DAffine3::IDENTITY; nodes.len()],
            |all| all.map(|m| DAffine3::from_mat4(DMat4::from_cols_array_2d(&m.map(|c| c.map(f64::from))))).collect(),
        );
        if inverse.len() < nodes.len() {
            return Err(damaged("bones without bind matrices"));
        }
        let of_node: HashMap<usize, usize> = nodes.iter().enumerate().map(|(k, n)| (n.index(), k)).collect();
        let mut parent = vec![None; nodes.len()];
        for (k, node) in nodes.iter().enumerate() {
            node.children().filter_map(|c| of_node.get(&c.index())).for_each(|c| parent[*c] = Some(k));
        }
        // parents first
        let depth = |mut k: usize| {
            let mut steps = 0;
            while let Some(p) = parent[k].filter(|_| steps <= nodes.len()) {
                (k, steps) = (p, steps + 1);
            }
            steps
        };
        let mut sorted: Vec<usize> = (0..nodes.len()).collect();
        sorted.sort_by_key(|k| (depth(*k), *k));
        let mut order = vec![0; nodes.len()];
        sorted.iter().enumerate().for_each(|(new, old)| order[*old] = new);
        let rest: Vec<DAffine3> = sorted.iter().map(|k| places[nodes[*k].index()].unwrap_or(DAffine3::IDENTITY)).collect();
        let mut used: HashMap<String, usize> = HashMap::new();
        let mut name = |k: &usize| {
            let plain =
                nodes[*k].name().filter(|n| !n.trim().is_empty()).map_or_else(|| format!("bone {k}"), |n| n.chars().take(60).collect());
            let count = used.entry(plain.clone()).or_default();
            *count += 1;
            if *count == 1 { plain } else { format!("{plain} {count}") }
        };
        Ok(Self {
            skin: skin.index(),
            names: sorted.iter().map(&mut name).collect(),
            parents: sorted.iter().map(|k| parent[*k].map(|p| order[p])).collect(),
            nodes: sorted.iter().map(|k| nodes[*k].index()).collect(),
            bind: sorted.iter().zip(&rest).map(|(k, rest)| *rest * inverse[*k]).collect(),
            rest,
            order,
        })
    }

    /// A point of the mesh in the rest state; also puts the row into our order of bones.
    fn stand(&self, p: DVec3, (bones, shares): &([u16; 4], [f32; 4])) -> DVec3 {
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

    fn skin(&self, rows: Vec<([u16; 4], [f32; 4])>) -> Skin {
        let ours = |(bones, shares): ([u16; 4], [f32; 4])| {
            let shares = std::array::from_fn(|k| if (bones[k] as usize) < self.order.len() { shares[k].max(0.0) } else { 0.0 });
            let bones = bones.map(|b| self.order.get(b as usize).copied().unwrap_or(0) as u16);
            let sum: f32 = shares.iter().sum();
            // loose pieces follow the first bone
            if sum > 1e-6 { (bones, shares.map(|s| s / sum)) } else { ([0; 4], [1.0, 0.0, 0.0, 0.0]) }
        };
        let (bones, shares) = rows.into_iter().map(ours).unzip();
        let joints = self.names.iter().zip(&self.parents).zip(&self.rest);
        let joints = joints.map(|((name, parent), rest)| joint(name.clone(), *parent, rest.translation.as_vec3().to_array())).collect();
        Skin { joints, bones, shares, clip: None }
    }

    /// Rotations of the bones from the rest state, in the axes of the rest state and the frames of their parents.
    fn turned(&self, now: &[DAffine3]) -> Vec<[f32; 4]> {
        let world: Vec<DQuat> = self
            .rest
            .iter()
            .zip(now)
            .map(|(rest, now)| {
                let turn = |m: &DAffine3| m.to_scale_rotation_translation().1;
                turn(now) * turn(rest).inverse()
            })
            .collect();
        let own = |k: usize| self.parents[k].map_or(world[k], |p| world[p].inverse() * world[k]);
        (0..world.len()).map(|k| own(k).normalize().as_quat().to_array()).collect()
    }
}

/// Frames in a second that a motion is read with.
const RATE: f64 = 30.0;
/// Most frames of a motion.
const FRAMES: usize = 3000;

/// A motion, sampled.
fn clip<'b>(
    animation: &gltf::Animation,
    joints: &Joints,
    document: &Document,
    data: impl Fn(gltf::Buffer) -> Option<&'b [u8]> + Clone,
) -> Option<Clip> {
    let mut tracks: Vec<Track> = Vec::new();
    for channel in animation.channels() {
        let reader = channel.reader(data.clone());
        let times: Vec<f64> = reader.read_inputs()?.map(f64::from).collect();
        let stride = if channel.sampler().interpolation() == gltf::animation::Interpolation::CubicSpline { 3 } else { 1 };
        let values: Vec<Vec<f64>> = match reader.read_outputs()? {
            ReadOutputs::Rotations(r) => r.into_f32().map(|q| q.map(f64::from).to_vec()).collect(),
            ReadOutputs::Translations(t) => t.map(|v| v.map(f64::from).to_vec()).collect(),
            ReadOutputs::Scales(_) | ReadOutputs::MorphTargetWeights(_) => continue,
        };
        // of a cubic track the values between the tangents
        let values: Vec<Vec<f64>> = values.into_iter().skip(stride / 2).step_by(stride).collect();
        if times.len() == values.len() && !times.is_empty() {
            tracks.push(Track { node: channel.target().node().index(), times, values });
        }
    }
    let end = tracks.iter().filter_map(|t| t.times.last()).fold(0.0f64, |a, b| a.max(*b));
    let frames = ((end * RATE).round() as usize + 1).min(FRAMES);
    let mut clip = Clip {
        name: animation.name().unwrap_or("motion").chars().take(60).collect(),
        rotations: vec![Vec::new(); joints.nodes.len()],
        ..Clip::default()
    };
    for frame in 0..frames {
        let time = frame as f64 / RATE;
        let now = moved(document, &tracks, time, joints);
        clip.seconds.push(time as f32);
        clip.rotations.iter_mut().zip(joints.turned(&now)).for_each(|(row, q)| row.push(q));
        clip.root.push(now.first()?.translation.as_vec3().to_array());
    }
    (!tracks.is_empty()).then_some(clip)
}

struct Track {
    node: usize,
    times: Vec<f64>,
    /// Three values for a place, four for a rotation.
    values: Vec<Vec<f64>>,
}

impl Track {
    fn at(&self, time: f64) -> Vec<f64> {
        let after = self.times.partition_point(|t| *t <= time);
        if after == 0 || after == self.times.len() {
            return self.values[after.saturating_sub(1).min(self.values.len() - 1)].clone();
        }
        let (a, b) = (&self.values[after - 1], &self.values[after]);
        let share = (time - self.times[after - 1]) / (self.times[after] - self.times[after - 1]).max(1e-9);
        if a.len() == 4 {
            let q = |v: &[f64]| DQuat::from_xyzw(v[0], v[1], v[2], v[3]).normalize();
            return q(a).slerp(q(b), share).to_array().to_vec();
        }
        a.iter().zip(b).map(|(a, b)| a + (b - a) * share).collect()
    }
}

/// Where the bones are at a time.
fn moved(document: &Document, tracks: &[Track], time: f64, joints: &Joints) -> Vec<DAffine3> {
    let mut locals: Vec<DAffine3> = document.nodes().map(|n| local(&n)).collect();
    for track in tracks {
        let Some(own) = locals.get_mut(track.node) else { continue };
        let (scale, rotation, at) = own.to_scale_rotation_translation();
        let value = track.at(time);
        *own = match value.as_slice() {
            [x, y, z, w] => DAffine3::from_scale_rotation_translation(scale, DQuat::from_xyzw(*x, *y, *z, *w).normalize(), at),
            [x, y, z] => DAffine3::from_scale_rotation_translation(scale, rotation, DVec3::new(*x, *y, *z)),
            _ => *own,
        };
    }
    let mut parent = vec![None; locals.len()];
    document.nodes().for_each(|n| n.children().for_each(|c| parent[c.index()] = Some(n.index())));
    let world = |node: usize| {
        let (mut place, mut at, mut steps) = (locals[node], node, 0);
        while let Some(p) = parent[at].filter(|_| steps < locals.len()) {
            place = locals[p] * place;
            (at, steps) = (p, steps + 1);
        }
        place
    };
    joints.nodes.iter().map(|n| world(*n)).collect()
}
