//! USD of meshes that stand still, with materials and texture coordinates: text, and the same in an archive (USDZ).
//!
//! One `Xform` holds a `Mesh` for each mesh, with a `GeomSubset` of faces for each piece, and a scope of `UsdPreviewSurface`
//! materials. The archive stores its files as they are, each beginning at a multiple of 64 bytes, as the format asks.

use crate::animated::{extent, identifier};
use crate::names::{Names, materials, texture_file};
use crate::{ExportMesh, Material, Texture};
use std::fmt::Write as _;

/// Meshes as a USD text layer; their lengths are in units of so many metres.
pub fn usda_still(meshes: &[ExportMesh], metres: f64, z_up: bool) -> String {
    let mut out = String::from("#usda 1.0\n(\n    defaultPrim = \"Garment\"\n");
    let _ = writeln!(out, "    metersPerUnit = {metres}\n    upAxis = \"{}\"\n)\n", if z_up { "Z" } else { "Y" });
    out.push_str("def Xform \"Garment\" (\n    kind = \"component\"\n)\n{\n");
    let mut names = Names::default();
    names.word("Looks");
    let mut words = Names::default();
    let looks: Vec<(String, &Material)> = materials(meshes).into_iter().map(|m| (words.word(&identifier(&m.name)), m)).collect();
    for mesh in meshes {
        let name = names.word(&identifier(&mesh.name));
        write_mesh(&mut out, mesh, &name, &looks);
    }
    out.push_str("    def Scope \"Looks\"\n    {\n");
    for (name, material) in &looks {
        write_look(&mut out, name, material);
    }
    out.push_str("    }\n}\n");
    out
}

/// Values in brackets with commas between.
fn list<T>(out: &mut String, values: impl IntoIterator<Item = T>, mut one: impl FnMut(&mut String, T)) {
    out.push('[');
    for (k, value) in values.into_iter().enumerate() {
        if k > 0 {
            out.push_str(", ");
        }
        one(out, value);
    }
    out.push_str("]\n");
}

fn vector(out: &mut String, p: [f32; 3]) {
    let _ = write!(out, "({}, {}, {})", p[0], p[1], p[2]);
}

fn write_mesh(out: &mut String, mesh: &ExportMesh, name: &str, looks: &[(String, &Material)]) {
    let number = |out: &mut String, v: u32| {
        let _ = write!(out, "{v}");
    };
    let _ = writeln!(out, "    def Mesh \"{name}\" (\n        prepend apiSchemas = [\"MaterialBindingAPI\"]\n    )\n    {{");
    let sided = mesh.groups.iter().any(|g| g.material.double_sided);
    let _ = writeln!(out, "        uniform bool doubleSided = {}", u8::from(sided));
    out.push_str("        uniform token subdivisionScheme = \"none\"\n        uniform token orientation = \"rightHanded\"\n");
    let (low, high) = extent(&mesh.positions);
    out.push_str("        float3[] extent = ");
    list(out, [low, high], vector);
    out.push_str("        int[] faceVertexCounts = ");
    list(out, mesh.all_faces().map(|f| f.corners().len() as u32), number);
    out.push_str("        int[] faceVertexIndices = ");
    let all = |of: &[[u32; 3]]| -> Vec<u32> {
        mesh.all_faces().flat_map(|f| f.corners().iter().map(|(t, k)| of[*t][*k]).collect::<Vec<_>>()).collect()
    };
    list(out, all(&mesh.triangles), number);
    out.push_str("        point3f[] points = ");
    list(out, mesh.positions.iter().copied(), vector);
    out.push_str("        normal3f[] normals = ");
    list(out, mesh.normals.iter().copied(), vector);
    // the meaning of normals stands behind them
    out.truncate(out.trim_end().len());
    out.push_str(" (\n            interpolation = \"vertex\"\n        )\n");
    if !mesh.uv_triangles.is_empty() {
        let indices = all(&mesh.uv_triangles);
        write_coordinates(out, "st", &mesh.uvs, &indices);
        if !mesh.print_uvs.is_empty() {
            write_coordinates(out, "print", &mesh.print_uvs, &indices);
        }
    }
    let mut parts = Names::default();
    out.push_str("        uniform token subsetFamily:materialBind:familyType = \"partition\"\n");
    let mut first = 0;
    for group in &mesh.groups {
        let look = looks.iter().find(|(_, m)| **m == group.material).map_or("", |(name, _)| name);
        let part = parts.word(&identifier(&group.name));
        let _ = writeln!(
            out,
            "\n        def GeomSubset \"{part}\" (\n            prepend apiSchemas = [\"MaterialBindingAPI\"]\n        )\n        {{"
        );
        out.push_str("            uniform token elementType = \"face\"\n            uniform token familyName = \"materialBind\"\n            int[] indices = ");
        let count = mesh.faces(group.first, group.count).count() as u32;
        list(out, first..first + count, number);
        first += count;
        let _ = writeln!(out, "            rel material:binding = </Garment/Looks/{look}>\n        }}");
    }
    out.push_str("    }\n\n");
}

/// Texture coordinates, one for each corner of a face.
fn write_coordinates(out: &mut String, name: &str, uvs: &[[f32; 2]], indices: &[u32]) {
    let _ = write!(out, "        texCoord2f[] primvars:{name} = ");
    list(out, uvs, |out, uv| {
        let _ = write!(out, "({}, {})", uv[0], uv[1]);
    });
    out.truncate(out.trim_end().len());
    let _ = write!(out, " (\n            interpolation = \"faceVarying\"\n        )\n        int[] primvars:{name}:indices = ");
    list(out, indices, |out, v| {
        let _ = write!(out, "{v}");
    });
}

fn write_look(out: &mut String, name: &str, material: &Material) {
    let [r, g, b] = material.colour;
    let path = format!("/Garment/Looks/{name}/Surface");
    let _ = writeln!(
        out,
        "        def Material \"{name}\"\n        {{\n            token outputs:surface.connect = <{path}.outputs:surface>\n"
    );
    let _ =
        writeln!(out, "            def Shader \"Surface\"\n            {{\n                uniform token info:id = \"UsdPreviewSurface\"");
    let looks = path.trim_end_matches("/Surface");
    let _ = match &material.print {
        None => writeln!(out, "                color3f inputs:diffuseColor = ({r}, {g}, {b})"),
        Some(_) => writeln!(out, "                color3f inputs:diffuseColor.connect = <{looks}/Print.outputs:rgb>"),
    };
    let _ = writeln!(out, "                float inputs:roughness = {}\n                float inputs:metallic = 0", material.roughness);
    let _ =
        writeln!(out, "                float inputs:opacity = {}\n                token outputs:surface\n            }}", material.opacity);
    if let Some(print) = &material.print {
        write_print(out, looks, print);
    }
    out.push_str("        }\n");
}

/// The picture of a material and where it lies.
fn write_print(out: &mut String, look: &str, print: &Texture) {
    let wrap = if print.once { "clamp" } else { "repeat" };
    let file = format!("./{}", texture_file(print));
    let _ = write!(
        out,
        r#"
            def Shader "Print"
            {{
                uniform token info:id = "UsdUVTexture"
                asset inputs:file = @{file}@
                token inputs:sourceColorSpace = "sRGB"
                float2 inputs:st.connect = <{look}/Place.outputs:result>
                token inputs:wrapS = "{wrap}"
                token inputs:wrapT = "{wrap}"
                float3 outputs:rgb
            }}

            def Shader "Place"
            {{
                uniform token info:id = "UsdPrimvarReader_float2"
                string inputs:varname = "print"
                float2 outputs:result
            }}
"#
    );
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Group;

    fn square() -> ExportMesh {
        let material = |name: &str| Material {
            name: name.into(),
            colour: [0.5, 0.2, 0.1],
            roughness: 0.9,
            opacity: 1.0,
            double_sided: true,
            print: None,
        };
        ExportMesh {
            name: "Gull skirt".into(),
            positions: vec![[0.0; 3], [1.0, 0.0, 0.0], [1.0, 1.0, 0.0], [0.0, 1.0, 0.0]],
            normals: vec![[0.0, 0.0, 1.0]; 4],
            uvs: vec![[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]],
            triangles: vec![[0, 1, 2], [0, 2, 3]],
            uv_triangles: vec![[0, 1, 2], [0, 2, 3]],
            groups: vec![
                Group { name: "Front".into(), first: 0, count: 1, material: material("Calico") },
                Group { name: "1st band".into(), first: 1, count: 1, material: material("Denim") },
            ],
            skin: None,
            print_uvs: Vec::new(),
            quads: Vec::new(),
        }
    }

    #[test]
    fn what_is_written_is_read_again_by_the_library() {
        let text = usda_still(&[square(), square()], 0.01, true);
        let read = crate::read_figure("garment.usda", text.as_bytes()).expect("it is read");
        assert_eq!((read.positions.len(), read.triangles.len()), (8, 4));
        assert_eq!((read.unit, read.z_up), (Some(0.01), Some(true)));
        for part in ["def Mesh \"Gull_skirt_2\"", "GeomSubset \"_1st_band\"", "</Garment/Looks/Denim>", "interpolation = \"faceVarying\""] {
            assert!(text.contains(part), "{part} in {text}");
        }
    }
}
