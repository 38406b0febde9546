//! Binary glTF 2.0, through the typed JSON of the gltf crates. glTF has one index per vertex, so vertices are doubled
//! where texture coordinates differ.
//!
//! Metres, y up, facing +z, as the standard asks; one primitive for each group of a mesh, one material for each look.
//! Where two materials share a name but not a look, the second gets a number. Every accessor that needs bounds has them.

mod buffer;
mod morph;
mod skin;

pub use morph::glb_animated;

use crate::names::{Names, materials};
use crate::{ExportMesh, Material, Texture};
use buffer::{Draft, Use};
use gltf::json::material::{AlphaMode, PbrBaseColorFactor, PbrMetallicRoughness, StrengthFactor};
use gltf::json::mesh::{Mode, Primitive, Semantic};
use gltf::json::validation::Checked;
use gltf::json::{Accessor, Asset, Index, Mesh, Node, Scene};
use std::collections::{BTreeMap, HashMap};

/// All meshes as nodes of one scene; a mesh without faces is left out, as the standard has no such thing.
pub fn glb(meshes: &[ExportMesh]) -> Vec<u8> {
    let mut draft = Draft::new();
    draft.root.asset = asset();
    let known = material_list(meshes, &mut draft);
    let mut roots = Vec::new();
    for mesh in meshes.iter().filter(|m| m.groups.iter().any(|g| g.count > 0)) {
        let node = Node { name: Some(mesh.name.clone()), mesh: Some(add(mesh, &known, &mut draft)), ..Node::default() };
        let node = draft.root.push(node);
        roots.push(node);
        if let Some(own) = mesh.skin.as_ref().filter(|s| !s.joints.is_empty()) {
            let (skin, above) = skin::add(own, &mut draft);
            draft.root.nodes[node.value()].skin = Some(skin);
            roots.extend(above);
        }
    }
    let scene = Scene { extensions: None, extras: Default::default(), name: None, nodes: roots };
    draft.root.scene = Some(draft.root.push(scene));
    draft.finish()
}

fn asset() -> Asset {
    Asset { generator: Some("Ourlet".into()), version: "2.0".into(), ..Asset::default() }
}

/// The different materials of some meshes, in the order in which they stand in the file from now on.
fn material_list<'a>(meshes: &'a [ExportMesh], draft: &mut Draft) -> Vec<&'a Material> {
    let known = materials(meshes);
    let mut names = Names::default();
    let mut prints: Vec<(&Texture, Index<gltf::json::Texture>)> = Vec::new();
    for m in &known {
        let print = m.print.as_deref().map(|print| match prints.iter().find(|(p, _)| *p == print) {
            Some((_, at)) => *at,
            None => {
                let at = draft.texture(print);
                prints.push((print, at));
                at
            }
        });
        let made = material(names.plain(&m.name), m, print);
        draft.root.materials.push(made);
    }
    known
}

/// A material of the file; its name is made unique by the caller.
fn material(name: String, m: &Material, print: Option<Index<gltf::json::Texture>>) -> gltf::json::Material {
    // a print holds the colour of its cloth
    let [r, g, b] = if print.is_some() { [1.0; 3] } else { m.colour };
    let base_color_texture =
        print.map(|index| gltf::json::texture::Info { index, tex_coord: 1, extensions: None, extras: Default::default() });
    gltf::json::Material {
        name: Some(name),
        double_sided: m.double_sided,
        alpha_mode: Checked::Valid(if m.opacity < 1.0 { AlphaMode::Blend } else { AlphaMode::Opaque }),
        pbr_metallic_roughness: PbrMetallicRoughness {
            base_color_factor: PbrBaseColorFactor([r, g, b, m.opacity]),
            base_color_texture,
            metallic_factor: StrengthFactor(0.0),
            roughness_factor: StrengthFactor(m.roughness),
            ..PbrMetallicRoughness::default()
        },
        ..gltf::json::Material::default()
    }
}

/// Adds one mesh with a primitive for each of its groups; returns its index in the file.
fn add(mesh: &ExportMesh, known: &[&Material], draft: &mut Draft) -> Index<Mesh> {
    let (attributes, triangles) = vertices(mesh, draft);
    let mut primitives = Vec::new();
    for group in mesh.groups.iter().filter(|g| g.count > 0) {
        let run: Vec<u32> = triangles[group.first..group.first + group.count].iter().flatten().copied().collect();
        primitives.push(Primitive {
            attributes: attributes.clone(),
            indices: Some(draft.indices(&run)),
            material: known.iter().position(|m| **m == group.material).map(|k| Index::new(k as u32)),
            mode: Checked::Valid(Mode::Triangles),
            targets: None,
            extensions: None,
            extras: Default::default(),
        });
    }
    draft.root.push(Mesh { name: Some(mesh.name.clone()), primitives, weights: None, extensions: None, extras: Default::default() })
}

/// Accessors by what they mean: position, normal, joints and so on.
type Attributes = BTreeMap<Checked<Semantic>, Index<Accessor>>;

/// Writes the vertex attributes; returns them and the triangles in the new numbering.
fn vertices(mesh: &ExportMesh, draft: &mut Draft) -> (Attributes, Vec<[u32; 3]>) {
    let (order, triangles) = numbered(mesh);
    /// Entries in another order; each place names the source and a second index that tells copies apart.
    fn taken<T: Copy>(of: &[T], order: &[(u32, u32)]) -> Vec<T> {
        order.iter().map(|(v, _)| of[*v as usize]).collect()
    }
    let mut attributes = BTreeMap::new();
    let mut set = |what, at| {
        attributes.insert(Checked::Valid(what), at);
    };
    set(Semantic::Positions, draft.bounded(&taken(&mesh.positions, &order), Use::Vertices));
    set(Semantic::Normals, draft.floats(&taken(&mesh.normals, &order), Use::Vertices));
    if !mesh.uv_triangles.is_empty() {
        // glTF counts v downwards
        let uvs: Vec<[f32; 2]> = order.iter().map(|(_, t)| mesh.uvs[*t as usize]).map(|[u, v]| [u, 1.0 - v]).collect();
        set(Semantic::TexCoords(0), draft.floats(&uvs, Use::Vertices));
        if !mesh.print_uvs.is_empty() {
            let prints: Vec<[f32; 2]> = order.iter().map(|(_, t)| mesh.print_uvs[*t as usize]).map(|[u, v]| [u, 1.0 - v]).collect();
            set(Semantic::TexCoords(1), draft.floats(&prints, Use::Vertices));
        }
    }
    if let Some(skin) = mesh.skin.as_ref().filter(|s| !s.joints.is_empty()) {
        set(Semantic::Joints(0), draft.bones(&taken(&skin.joint_indices, &order)));
        set(Semantic::Weights(0), draft.floats(&taken(&skin.weights, &order), Use::Vertices));
    }
    (attributes, triangles)
}

/// Vertices as pairs of place and texture coordinates, and the triangles in their numbering.
fn numbered(mesh: &ExportMesh) -> (Vec<(u32, u32)>, Vec<[u32; 3]>) {
    if mesh.uv_triangles.is_empty() {
        return ((0..mesh.positions.len() as u32).map(|v| (v, 0)).collect(), mesh.triangles.clone());
    }
    let mut number: HashMap<(u32, u32), u32> = HashMap::new();
    let mut order: Vec<(u32, u32)> = Vec::new();
    let mut of = |pair: (u32, u32)| {
        *number.entry(pair).or_insert_with(|| {
            order.push(pair);
            order.len() as u32 - 1
        })
    };
    let triangles = mesh.triangles.iter().zip(&mesh.uv_triangles).map(|(t, uv)| [0, 1, 2].map(|k| of((t[k], uv[k])))).collect();
    (order, triangles)
}
