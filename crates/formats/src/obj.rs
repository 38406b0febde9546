//! Wavefront OBJ with its material file.
//!
//! One object with a group for each piece; positions in metres, texture coordinates and normals beside them. Seams that are
//! welded share positions and normals, while their texture coordinates stay apart. Colours go to the material file (`Kd`, `d`).

use crate::names::{Names, materials, texture_file};
use crate::{ExportMesh, Material};
use std::fmt::Write;

/// All meshes as objects of one file in metres, y up; `material_file` is named in it when given.
pub fn obj(meshes: &[ExportMesh], material_file: Option<&str>) -> String {
    obj_said(meshes, material_file, "Ourlet garment, metres, y up")
}

/// The same with what is said about it in the first line.
pub fn obj_said(meshes: &[ExportMesh], material_file: Option<&str>, comment: &str) -> String {
    let plain: String = comment.chars().filter(|c| !c.is_control()).collect();
    let mut text = format!("# {plain}\n");
    if let Some(file) = material_file {
        let _ = writeln!(text, "mtllib {file}");
    }
    let named = named(meshes);
    let (mut objects, mut groups) = (Names::default(), Names::default());
    let (mut v0, mut t0) = (1, 1);
    for mesh in meshes {
        let _ = writeln!(text, "o {}", objects.word(&mesh.name));
        for p in &mesh.positions {
            let _ = writeln!(text, "v {} {} {}", p[0], p[1], p[2]);
        }
        for t in &mesh.uvs {
            let _ = writeln!(text, "vt {} {}", t[0], t[1]);
        }
        for n in &mesh.normals {
            let _ = writeln!(text, "vn {:.6} {:.6} {:.6}", n[0], n[1], n[2]);
        }
        for group in &mesh.groups {
            let _ = writeln!(text, "g {}", groups.word(&group.name));
            if let (Some(_), Some((name, _))) = (material_file, named.iter().find(|(_, m)| **m == group.material)) {
                let _ = writeln!(text, "usemtl {name}");
            }
            for face in mesh.faces(group.first, group.count) {
                text.push('f');
                for (t, k) in face.corners() {
                    let v = mesh.triangles[*t][*k] as usize + v0;
                    match mesh.uv_triangles.get(*t) {
                        Some(uv) => write!(text, " {v}/{}/{v}", uv[*k] as usize + t0).unwrap_or_default(),
                        None => write!(text, " {v}//{v}").unwrap_or_default(),
                    }
                }
                text.push('\n');
            }
        }
        v0 += mesh.positions.len();
        t0 += mesh.uvs.len();
    }
    text
}

/// The material file that goes with [`obj`].
pub fn mtl(meshes: &[ExportMesh]) -> String {
    let mut text = String::from("# Ourlet materials\n");
    for (name, material) in named(meshes) {
        let [r, g, b] = material.colour;
        let (roughness, opacity) = (material.roughness, material.opacity);
        // a picture is multiplied with the colour
        let [r, g, b] = if material.print.is_some() { [1.0; 3] } else { [r, g, b] };
        let _ = writeln!(text, "newmtl {name}\nKd {r:.4} {g:.4} {b:.4}\nKs 0 0 0\nPr {roughness}\nd {opacity}\nillum 1");
        if let Some(print) = &material.print {
            let _ = writeln!(text, "map_Kd {}", texture_file(print));
        }
    }
    text
}

/// Every material with its own word.
fn named(meshes: &[ExportMesh]) -> Vec<(String, &Material)> {
    let mut names = Names::default();
    materials(meshes).into_iter().map(|m| (names.word(&m.name), m)).collect()
}
