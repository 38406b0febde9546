//! Binary glTF 2.0. glTF has one index per vertex, so vertices are doubled where texture coordinates differ.

use crate::{ExportMesh, skin};
use serde_json::{Value, json};
use std::collections::HashMap;

const FLOAT: u32 = 5126;
const UNSIGNED_INT: u32 = 5125;
const UNSIGNED_SHORT: u32 = 5123;
const ARRAY_BUFFER: u32 = 34962;
const ELEMENT_ARRAY_BUFFER: u32 = 34963;

#[derive(Default)]
pub(crate) struct Buffer {
    bytes: Vec<u8>,
    views: Vec<Value>,
    accessors: Vec<Value>,
}

impl Buffer {
    fn view(&mut self, bytes: &[u8], target: Option<u32>) -> usize {
        let offset = self.bytes.len();
        self.bytes.extend_from_slice(bytes);
        let mut view = json!({ "buffer": 0, "byteOffset": offset, "byteLength": bytes.len() });
        if let Some(target) = target {
            view["target"] = json!(target);
        }
        self.views.push(view);
        self.views.len() - 1
    }

    /// Rows of floats that are no vertex attribute.
    pub(crate) fn data<const N: usize>(&mut self, rows: &[[f32; N]], kind: &str) -> usize {
        self.rows(rows, kind, None, false)
    }

    /// The same with smallest and largest values, as times need them.
    pub(crate) fn bounded<const N: usize>(&mut self, rows: &[[f32; N]], kind: &str) -> usize {
        self.rows(rows, kind, None, true)
    }

    fn floats<const N: usize>(&mut self, rows: &[[f32; N]], with_bounds: bool) -> usize {
        let kind = ["SCALAR", "VEC2", "VEC3", "VEC4"][N - 1];
        self.rows(rows, kind, Some(ARRAY_BUFFER), with_bounds)
    }

    fn rows<const N: usize>(&mut self, rows: &[[f32; N]], kind: &str, target: Option<u32>, with_bounds: bool) -> usize {
        let bytes: Vec<u8> = rows.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        let view = self.view(&bytes, target);
        let mut accessor = json!({ "bufferView": view, "componentType": FLOAT, "count": rows.len(), "type": kind });
        if with_bounds {
            let bound =
                |pick: fn(f32, f32) -> f32, start: f32| (0..N).map(|k| rows.iter().map(|r| r[k]).fold(start, pick)).collect::<Vec<f32>>();
            accessor["min"] = json!(bound(f32::min, f32::INFINITY));
            accessor["max"] = json!(bound(f32::max, f32::NEG_INFINITY));
        }
        self.accessors.push(accessor);
        self.accessors.len() - 1
    }

    fn bones(&mut self, rows: &[[u16; 4]]) -> usize {
        let bytes: Vec<u8> = rows.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        let view = self.view(&bytes, Some(ARRAY_BUFFER));
        self.accessors.push(json!({ "bufferView": view, "componentType": UNSIGNED_SHORT, "count": rows.len(), "type": "VEC4" }));
        self.accessors.len() - 1
    }

    fn indices(&mut self, indices: &[u32]) -> usize {
        let bytes: Vec<u8> = indices.iter().flat_map(|v| v.to_le_bytes()).collect();
        let view = self.view(&bytes, Some(ELEMENT_ARRAY_BUFFER));
        self.accessors.push(json!({ "bufferView": view, "componentType": UNSIGNED_INT, "count": indices.len(), "type": "SCALAR" }));
        self.accessors.len() - 1
    }
}

/// All meshes as nodes of one scene.
pub fn glb(meshes: &[ExportMesh]) -> Vec<u8> {
    let mut buffer = Buffer::default();
    let (mut nodes, mut outs, mut materials): (Vec<Value>, Vec<Value>, Vec<Value>) = (vec![], vec![], vec![]);
    let (mut roots, mut skins, mut clips): (Vec<usize>, Vec<Value>, Vec<Value>) = (vec![], vec![], vec![]);
    for mesh in meshes {
        let (attributes, triangles) = vertices(mesh, &mut buffer);
        let primitives: Vec<Value> = mesh
            .groups
            .iter()
            .map(|group| {
                let m = &group.material;
                materials.push(json!({
                    "name": m.name,
                    "doubleSided": m.double_sided,
                    "alphaMode": if m.opacity < 1.0 { "BLEND" } else { "OPAQUE" },
                    "pbrMetallicRoughness": {
                        "baseColorFactor": [m.colour[0], m.colour[1], m.colour[2], m.opacity], "metallicFactor": 0.0, "roughnessFactor": m.roughness,
                    },
                }));
                let run: Vec<u32> = triangles[group.first..group.first + group.count].iter().flatten().copied().collect();
                json!({ "attributes": attributes, "indices": buffer.indices(&run), "material": materials.len() - 1, "mode": 4 })
            })
            .collect();
        outs.push(json!({ "name": mesh.name, "primitives": primitives }));
        let mut node = json!({ "name": mesh.name, "mesh": outs.len() - 1 });
        roots.push(nodes.len());
        let at = nodes.len();
        nodes.push(Value::Null);
        if let Some(own) = &mesh.skin {
            let (described, clip) = skin::skin(own, &mut nodes, &mut buffer);
            node["skin"] = json!(skins.len());
            roots.push(at + 1);
            skins.push(described);
            clips.extend(clip);
        }
        nodes[at] = node;
    }
    let mut document = json!({
        "asset": { "version": "2.0", "generator": "Ourlet" },
        "scene": 0,
        "scenes": [{ "nodes": roots }],
        "nodes": nodes, "meshes": outs, "materials": materials,
        "accessors": buffer.accessors, "bufferViews": buffer.views, "buffers": [{ "byteLength": buffer.bytes.len() }],
    });
    // empty lists are not allowed
    for (name, list) in [("skins", skins), ("animations", clips)] {
        if !list.is_empty() {
            document[name] = Value::Array(list);
        }
    }
    container(document.to_string().into_bytes(), buffer.bytes)
}

/// Writes the vertex attributes; returns them and the triangles in the new numbering.
fn vertices(mesh: &ExportMesh, buffer: &mut Buffer) -> (Value, Vec<[u32; 3]>) {
    if mesh.uv_triangles.is_empty() {
        let mut attributes = json!({ "POSITION": buffer.floats(&mesh.positions, true), "NORMAL": buffer.floats(&mesh.normals, false) });
        if let Some(skin) = &mesh.skin {
            attributes["JOINTS_0"] = json!(buffer.bones(&skin.bones));
            attributes["WEIGHTS_0"] = json!(buffer.floats(&skin.shares, false));
        }
        return (attributes, mesh.triangles.clone());
    }
    let mut number: HashMap<(u32, u32), u32> = HashMap::new();
    let mut order: Vec<(u32, u32)> = Vec::new();
    let triangles: Vec<[u32; 3]> = mesh
        .triangles
        .iter()
        .zip(&mesh.uv_triangles)
        .map(|(t, uv)| {
            [0, 1, 2].map(|k| {
                *number.entry((t[k], uv[k])).or_insert_with(|| {
                    order.push((t[k], uv[k]));
                    order.len() as u32 - 1
                })
            })
        })
        .collect();
    let positions: Vec<_> = order.iter().map(|(v, _)| mesh.positions[*v as usize]).collect();
    let normals: Vec<_> = order.iter().map(|(v, _)| mesh.normals[*v as usize]).collect();
    // glTF counts v downwards
    let uvs: Vec<_> = order.iter().map(|(_, t)| mesh.uvs[*t as usize]).map(|[u, v]| [u, 1.0 - v]).collect();
    let mut attributes = json!({ "POSITION": buffer.floats(&positions, true), "NORMAL": buffer.floats(&normals, false), "TEXCOORD_0": buffer.floats(&uvs, false) });
    if let Some(skin) = &mesh.skin {
        attributes["JOINTS_0"] = json!(buffer.bones(&order.iter().map(|(v, _)| skin.bones[*v as usize]).collect::<Vec<_>>()));
        attributes["WEIGHTS_0"] = json!(buffer.floats(&order.iter().map(|(v, _)| skin.shares[*v as usize]).collect::<Vec<_>>(), false));
    }
    (attributes, triangles)
}

/// Header, JSON chunk (padded with spaces) and binary chunk (padded with zeros).
fn container(mut json: Vec<u8>, mut binary: Vec<u8>) -> Vec<u8> {
    json.resize(json.len().next_multiple_of(4), b' ');
    binary.resize(binary.len().next_multiple_of(4), 0);
    let total = 12 + 8 + json.len() + 8 + binary.len();
    let mut out = Vec::with_capacity(total);
    out.extend_from_slice(b"glTF");
    for v in [2u32, total as u32, json.len() as u32] {
        out.extend_from_slice(&v.to_le_bytes());
    }
    out.extend_from_slice(b"JSON");
    out.extend(json);
    out.extend_from_slice(&(binary.len() as u32).to_le_bytes());
    out.extend_from_slice(b"BIN\0");
    out.extend(binary);
    out
}
