//! Delivered bytes opened by independent readers.

use formats::{ExportMesh, Group, Material, glb, mtl, obj};

/// Two triangles sharing an edge in space but not in the flat layout.
fn book() -> ExportMesh {
    let positions = vec![[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [1.0, 1.0, 0.5]];
    let triangles = vec![[0, 1, 2], [1, 3, 2]];
    let material =
        |name: &str| Material { name: name.into(), colour: [0.5, 0.25, 0.125], roughness: 0.9, opacity: 1.0, double_sided: true };
    ExportMesh {
        name: "Raker's tabard".into(),
        normals: ExportMesh::smooth_normals(&positions, &triangles),
        positions,
        uvs: vec![[0.0, 0.0], [0.4, 0.0], [0.0, 0.4], [0.6, 0.0], [1.0, 0.4], [0.6, 0.4]],
        triangles,
        uv_triangles: vec![[0, 1, 2], [3, 4, 5]],
        skin: None,
        groups: vec![
            Group { name: "Front".into(), first: 0, count: 1, material: material("calico") },
            Group { name: "Back".into(), first: 1, count: 1, material: material("denim") },
        ],
    }
}

#[test]
fn tobj_reads_positions_layout_and_materials() {
    let text = obj(&[book()], Some("book.mtl"));
    let materials = mtl(&[book()]);
    let options = tobj::LoadOptions { triangulate: false, single_index: false, ..Default::default() };
    let (models, found) =
        tobj::load_obj_buf(&mut text.as_bytes(), &options, |_| tobj::load_mtl_buf(&mut materials.as_bytes())).expect("readable");
    let found = found.expect("materials");
    assert_eq!(models.len(), 2);
    assert_eq!(models.iter().map(|m| m.mesh.indices.len()).sum::<usize>(), 6);
    assert_eq!(models[1].mesh.texcoord_indices.len(), 3);
    assert_eq!(found.len(), 2);
    assert_eq!(found[0].diffuse, Some([0.5, 0.25, 0.125]));
}

#[test]
fn gltf_validates_and_returns_the_same_triangles() {
    let bytes = glb(&[book()]);
    let (document, buffers, _) = gltf::import_slice(&bytes).expect("valid glTF");
    let mesh = document.meshes().next().expect("a mesh");
    let mut corners = Vec::new();
    for primitive in mesh.primitives() {
        let reader = primitive.reader(|b| Some(&buffers[b.index()]));
        let positions: Vec<[f32; 3]> = reader.read_positions().expect("positions").collect();
        let normals: Vec<[f32; 3]> = reader.read_normals().expect("normals").collect();
        assert_eq!(reader.read_tex_coords(0).expect("uvs").into_f32().count(), positions.len());
        assert!(normals.iter().all(|n| (n.iter().map(|v| v * v).sum::<f32>() - 1.0).abs() < 1e-5));
        corners.extend(reader.read_indices().expect("indices").into_u32().map(|i| positions[i as usize]));
        assert!(primitive.material().double_sided());
    }
    let book = book();
    let expected: Vec<[f32; 3]> = book.triangles.iter().flatten().map(|v| book.positions[*v as usize]).collect();
    assert_eq!(corners, expected);
}
