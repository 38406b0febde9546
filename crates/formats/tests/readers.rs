//! Delivered bytes opened by independent readers.

use formats::{ColourPicture, ExportMesh, Group, Joint, Material, Skin, Texture, glb, mtl, obj};
use std::sync::Arc;

/// Two triangles sharing an edge in space but not in the flat layout.
fn book() -> ExportMesh {
    let positions = vec![[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [1.0, 1.0, 0.5]];
    let triangles = vec![[0, 1, 2], [1, 3, 2]];
    let material = |name: &str| Material {
        name: name.into(),
        colour: [0.5, 0.25, 0.125],
        roughness: 0.9,
        opacity: 1.0,
        double_sided: true,
        print: None,
    };
    ExportMesh {
        print_uvs: Vec::new(),
        name: "Raker's tabard".into(),
        normals: ExportMesh::smooth_normals(&positions, &triangles),
        positions,
        uvs: vec![[0.0, 0.0], [0.4, 0.0], [0.0, 0.4], [0.6, 0.0], [1.0, 0.4], [0.6, 0.4]],
        triangles,
        uv_triangles: vec![[0, 1, 2], [3, 4, 5]],
        skin: None,
        quads: Vec::new(),
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
fn a_print_comes_as_a_picture_on_coordinates_of_its_own() {
    let picture = ColourPicture { width: 2, height: 1, pixels: vec![[255, 0, 0, 255], [0, 0, 255, 255]] };
    let mut printed = book();
    printed.print_uvs = printed.uvs.iter().map(|[u, v]| [3.0 * u, 2.0 * v]).collect();
    printed.groups[1].material.print = Some(Arc::new(Texture { name: "print denim".into(), picture: picture.clone(), once: true }));
    let (document, buffers, images) = gltf::import_slice(glb(&[printed.clone()])).expect("valid glTF");
    assert_eq!((images.len(), images[0].width, images[0].height), (1, 2, 1));
    assert_eq!(images[0].pixels, picture.pixels.concat());
    let mesh = document.meshes().next().expect("a mesh");
    let second = mesh.primitives().nth(1).expect("the printed piece");
    let look = second.material().pbr_metallic_roughness();
    let texture = look.base_color_texture().expect("a texture");
    assert_eq!((texture.tex_coord(), look.base_color_factor()), (1, [1.0; 4]));
    assert_eq!(texture.texture().sampler().wrap_s(), gltf::texture::WrappingMode::ClampToEdge);
    let reader = second.reader(|b| Some(&buffers[b.index()]));
    let read: Vec<[f32; 2]> = reader.read_tex_coords(1).expect("coordinates").into_f32().collect();
    let corner = reader.read_indices().expect("indices").into_u32().next().expect("a corner") as usize;
    assert_eq!(read[corner], [3.0 * 0.6, 1.0]);
    assert!(mesh.primitives().next().expect("the plain piece").material().pbr_metallic_roughness().base_color_texture().is_none());
    // the same in USD, with its picture beside
    let (text, files) = (formats::usda_still(&[printed.clone()], 1.0, false), formats::textures(&[printed.clone()]));
    assert_eq!(files.len(), 1);
    assert_eq!(formats::scan_colours(&files[0].1), Ok(picture));
    assert!(text.contains(&format!("asset inputs:file = @./{}@", files[0].0)) && text.contains("inputs:wrapS = \"clamp\""), "{text}");
    assert!(mtl(&[printed]).contains("map_Kd print-denim.png"));
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

#[test]
fn cloths_of_like_names_and_one_called_like_the_bodys_keep_their_own_materials() {
    let mut first = book();
    first.groups[0].material.name = "Linen!".into();
    first.groups[1].material = Material { name: "Linen?".into(), colour: [0.1, 0.2, 0.3], ..first.groups[1].material.clone() };
    let mut body = book();
    body.name = "body".into();
    let skin_colour = Material { name: "Linen_".into(), colour: [0.9, 0.8, 0.7], ..body.groups[0].material.clone() };
    body.groups.iter_mut().for_each(|g| g.material = skin_colour.clone());
    let meshes = [first, body];
    let (text, library) = (obj(&meshes, Some("a.mtl")), mtl(&meshes));
    let options = tobj::LoadOptions { triangulate: false, single_index: false, ..Default::default() };
    let (models, found) =
        tobj::load_obj_buf(&mut text.as_bytes(), &options, |_| tobj::load_mtl_buf(&mut library.as_bytes())).expect("readable");
    let found = found.expect("materials");
    let colours: Vec<_> = models.iter().map(|m| found[m.mesh.material_id.expect("one")].diffuse.expect("a colour")).collect();
    assert_eq!(colours, [[0.5, 0.25, 0.125], [0.1, 0.2, 0.3], [0.9, 0.8, 0.7], [0.9, 0.8, 0.7]]);
    let names: std::collections::HashSet<_> = models.iter().map(|m| &m.name).collect();
    assert_eq!(names.len(), 4, "groups of one name would become one: {names:?}");
    let (document, ..) = gltf::import_slice(glb(&meshes)).expect("valid glTF");
    let colour = |m: gltf::Material| m.pbr_metallic_roughness().base_color_factor()[0];
    let of: Vec<f32> = document.meshes().flat_map(|m| m.primitives().map(|p| colour(p.material())).collect::<Vec<_>>()).collect();
    assert_eq!(of, [0.5, 0.1, 0.9, 0.9]);
    assert_eq!(document.materials().count(), 3);
}

#[test]
fn all_joints_without_a_parent_stand_in_the_scene_and_nothing_is_empty() {
    let joint = |name: &str, parent, y| Joint { name: name.into(), parent, rotation: [0.0, 0.0, 0.0, 1.0], at: [0.0, y, 0.0] };
    let mut mesh = book();
    mesh.skin = Some(Skin {
        joints: vec![joint("left", None, 0.0), joint("right", None, 1.0), joint("tip", Some(1), 2.0)],
        joint_indices: vec![[0, 1, 2, 0]; 4],
        weights: vec![[0.5, 0.25, 0.25, 0.0]; 4],
        clip: None,
    });
    let bare = ExportMesh { groups: Vec::new(), triangles: Vec::new(), uv_triangles: Vec::new(), ..book() };
    let bytes = glb(&[mesh, bare]);
    let (document, buffers, _) = gltf::import_slice(&bytes).expect("valid glTF");
    let scene: Vec<_> = document.default_scene().expect("a scene").nodes().map(|n| n.name().unwrap_or("").to_owned()).collect();
    assert_eq!(scene, ["Raker's tabard", "left", "right"]);
    assert!(document.skins().next().expect("a skin").skeleton().is_none());
    assert_eq!((document.meshes().count(), buffers.len()), (1, 1));
    let length = u32::from_le_bytes(bytes[12..16].try_into().expect("four bytes")) as usize;
    let json = std::str::from_utf8(&bytes[20..20 + length]).expect("text");
    assert!(!json.contains("[]") && !json.contains("{}"), "{json}");
}
