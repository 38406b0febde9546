//! glTF 2.0 in one file (GLB, or JSON with embedded buffers): meshes, the skin with the most bones, and its motions.
//!
//! Only the scene that is shown counts (the first when none is). The skin with the most joints moves the mesh, of equal ones
//! the first; meshes of other skins are taken where their node stands. Vertices keep the bind pose. Triangles, strips and fans
//! are read, points and lines counted as left out; a mirrored node turns its faces round. Morphs, further skins and motions
//! without a skin are left out and told. Errors: damage by item, features by name, limits by what was exceeded.

mod accessor;
mod document;
mod joints;
mod motion;
mod nodes;
mod survey;

use super::budget::Budget;
use super::left_out::LeftOut;
use super::{ImportedMesh, NO_LAYOUT, ReadFault, damaged};
use accessor::{of_kind, rows};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use glam::{DAffine3, DVec3};
use gltf::accessor::{DataType, Dimensions};
use gltf::mesh::Mode;
use gltf::{Document, Primitive, Semantic};
use joints::Joints;
use nodes::Tree;

/// The bytes of every buffer.
type Buffers = Vec<Vec<u8>>;

/// Four bones of a vertex with their weights.
type Row = ([u16; 4], [f32; 4]);

/// Reads glTF JSON or GLB: all meshes of the shown scene as one, with the skin that moves most of it and its motions.
/// Refuses what exceeds the budget or does not hold together.
pub(super) fn read(bytes: &[u8], budget: &mut Budget) -> Result<ImportedMesh, ReadFault> {
    survey::survey(bytes, budget)?;
    let (document, mut blob) = document::parse(bytes)?;
    let buffers = buffers(&document, &mut blob)?;
    let tree = Tree::new(&document)?;
    let skin = document.skins().max_by_key(|s| (s.joints().count(), usize::MAX - s.index()));
    let joints = skin.as_ref().map(|s| Joints::new(s, &tree, &buffers, budget)).transpose()?;
    let mut reading = Reading { buffers: &buffers, budget, mesh: ImportedMesh::default(), weights: Vec::new() };
    reading.mesh.unit = Some(1.0);
    reading.mesh.z_up = Some(false);
    if document.skins().count() > 1 {
        reading.mesh.left_out.insert(LeftOut::FurtherSkins);
    }
    for k in &tree.shown {
        let Some(node) = document.nodes().nth(*k) else { continue };
        let (Some(own), Some(place)) = (node.mesh(), tree.places[*k]) else { continue };
        let skinned = node.skin().zip(joints.as_ref()).filter(|(s, j)| s.index() == j.skin).map(|(_, j)| j);
        for primitive in own.primitives() {
            reading.add(&primitive, &place, skinned)?;
        }
    }
    let Reading { budget, mut mesh, weights, .. } = reading;
    if mesh.triangles.is_empty() {
        return Err(ReadFault::NoSurface(loose_points(&document)));
    }
    if let Some(joints) = joints {
        mesh.clips = motion::clips(&document, &joints, &tree, &buffers, budget, &mut mesh.left_out)?;
        mesh.skin = Some(joints.skin(weights));
    } else if document.animations().next().is_some() {
        mesh.left_out.insert(LeftOut::MotionWithoutSkin);
    }
    Ok(mesh)
}

/// Primitives of points or lines, which make no skin.
fn loose_points(document: &Document) -> usize {
    let primitives = document.meshes().flat_map(|m| m.primitives().filter(|p| p.mode() == Mode::Points).collect::<Vec<_>>());
    primitives.filter_map(|p| p.get(&Semantic::Positions)).map(|a| a.count()).fold(0, usize::saturating_add)
}

/// The bytes of all buffers: the binary chunk and data URIs; other files are refused by name.
fn buffers(document: &Document, blob: &mut Option<Vec<u8>>) -> Result<Buffers, ReadFault> {
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

/// The mesh as far as it is read.
struct Reading<'a> {
    buffers: &'a Buffers,
    budget: &'a mut Budget,
    mesh: ImportedMesh,
    weights: Vec<Row>,
}

impl Reading<'_> {
    /// Appends a primitive at its place; with joints it stays in the bind pose.
    fn add(&mut self, primitive: &Primitive, place: &DAffine3, skinned: Option<&Joints>) -> Result<(), ReadFault> {
        if matches!(primitive.mode(), Mode::Points | Mode::Lines | Mode::LineLoop | Mode::LineStrip) {
            self.mesh.left_out.insert(LeftOut::PointsAndLines);
            return Ok(());
        }
        if primitive.morph_targets().next().is_some() {
            self.mesh.left_out.insert(LeftOut::Morphs);
        }
        let Some(positions) = primitive.get(&Semantic::Positions) else { return Ok(()) };
        // an extension may quantise them; its scale stands elsewhere
        if positions.data_type() != DataType::F32 {
            return Err(ReadFault::Unsupported("quantised positions".into()));
        }
        let count = positions.count();
        self.budget.vertices(count)?;
        let positions = rows::<3>(&positions, Dimensions::Vec3, self.buffers, self.budget)?;
        let weights = self.bones(primitive, count, skinned.is_some())?;
        let first = self.mesh.positions.len() as u32;
        // a skinned mesh stands where its bones put it, wherever its node is
        let stand = |(p, row): (&[f64; 3], &Row)| match skinned {
            Some(joints) => joints.stand(DVec3::from(*p), row),
            None => place.transform_point3(DVec3::from(*p)),
        };
        self.mesh.positions.extend(positions.iter().zip(&weights).map(|(p, row)| stand((p, row)).as_vec3().to_array()));
        self.weights.extend(weights);
        let flipped = skinned.is_none() && place.matrix3.determinant() < 0.0;
        let known = self.mesh.triangles.len();
        self.faces(primitive, first, count, flipped)?;
        self.layout(primitive, first, count, known);
        Ok(())
    }

    /// Texture coordinates of the triangles from `known` on; none where they cannot be read, since nothing hangs on them.
    fn layout(&mut self, primitive: &Primitive, first: u32, count: usize, known: usize) {
        let accessor = primitive.get(&Semantic::TexCoords(0)).filter(|a| a.count() == count && a.dimensions() == Dimensions::Vec2);
        let Some(rows) = accessor.and_then(|a| rows::<2>(&a, Dimensions::Vec2, self.buffers, self.budget).ok()) else {
            self.mesh.uv_triangles.resize(self.mesh.triangles.len(), NO_LAYOUT);
            return;
        };
        let to = self.mesh.uvs.len() as u32;
        // v goes down in the file
        self.mesh.uvs.extend(rows.iter().map(|[u, v]| [*u as f32, (1.0 - v) as f32]));
        self.mesh.uv_triangles.extend(self.mesh.triangles[known..].iter().map(|t| t.map(|v| v - first + to)));
    }

    /// Four bones and weights of every vertex; all none when the mesh hangs on no skin that is read.
    fn bones(&mut self, primitive: &Primitive, count: usize, skinned: bool) -> Result<Vec<Row>, ReadFault> {
        let mut found = vec![([0u16; 4], [0.0f32; 4]); count];
        if primitive.get(&Semantic::Joints(1)).is_some() {
            self.mesh.left_out.insert(LeftOut::FurtherJoints);
        }
        let (Some(bones), Some(shares)) = (primitive.get(&Semantic::Joints(0)), primitive.get(&Semantic::Weights(0))) else {
            return Ok(found);
        };
        of_kind(&bones, "bones of vertices", &[DataType::U8, DataType::U16])?;
        of_kind(&shares, "weights of vertices", &[DataType::F32, DataType::U8, DataType::U16])?;
        if !skinned {
            return Ok(found);
        }
        let whole = shares.data_type() != DataType::F32 && !shares.normalized();
        let bones = rows::<4>(&bones, Dimensions::Vec4, self.buffers, self.budget)?;
        let shares = rows::<4>(&shares, Dimensions::Vec4, self.buffers, self.budget)?;
        if whole {
            return Err(damaged("weights of vertices that are no shares"));
        }
        for (row, (b, s)) in found.iter_mut().zip(bones.iter().zip(&shares)) {
            *row = (b.map(|v| v as u16), s.map(|v| v.max(0.0) as f32));
        }
        Ok(found)
    }

    /// Appends triangles, strips and fans; mirrored places turn them round.
    fn faces(&mut self, primitive: &Primitive, first: u32, count: usize, flipped: bool) -> Result<(), ReadFault> {
        let indices: Vec<usize> = match primitive.indices() {
            None => (0..count).collect(),
            Some(accessor) => {
                of_kind(&accessor, "indices of faces", &[DataType::U8, DataType::U16, DataType::U32])?;
                rows::<1>(&accessor, Dimensions::Scalar, self.buffers, self.budget)?.iter().map(|[v]| *v as usize).collect()
            }
        };
        if indices.iter().any(|v| *v >= count) {
            return Err(damaged("a face names a vertex that is not there"));
        }
        let n = indices.len();
        let faces = match primitive.mode() {
            Mode::Triangles => n / 3,
            _ => n.saturating_sub(2),
        };
        self.budget.triangles(faces)?;
        for k in 0..faces {
            let [a, b, c] = match primitive.mode() {
                Mode::Triangles => [3 * k, 3 * k + 1, 3 * k + 2],
                Mode::TriangleFan => [0, k + 1, k + 2],
                // every second triangle of a strip runs the other way round
                _ if k % 2 == 0 => [k, k + 1, k + 2],
                _ => [k + 1, k, k + 2],
            }
            .map(|i| first + indices[i] as u32);
            self.mesh.triangles.push(if flipped { [a, c, b] } else { [a, b, c] });
        }
        Ok(())
    }
}
