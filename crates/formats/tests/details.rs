//! What other programs trip over: indices, padding, bounds, names; and that a picture shows the thing.

use formats::{ExportMesh, Group, Material, View, glb, mtl, obj, picture};

/// A square metre standing on the floor, facing the front, and a small square behind it.
fn squares() -> Vec<ExportMesh> {
    let square = |name: &str, size: f32, z: f32, colour: [f32; 3]| {
        let positions: Vec<[f32; 3]> =
            [[-0.5, 0.0], [0.5, 0.0], [0.5, 1.0], [-0.5, 1.0]].iter().map(|p| [p[0] * size, p[1] * size, z]).collect();
        let triangles = vec![[0, 1, 2], [0, 2, 3]];
        let material = Material { name: format!("{name} cloth"), colour, roughness: 0.9, double_sided: true };
        ExportMesh {
            name: name.into(),
            normals: ExportMesh::smooth_normals(&positions, &triangles),
            positions,
            uvs: vec![[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]],
            uv_triangles: triangles.clone(),
            skin: None,
            groups: vec![Group { name: format!("{name} piece"), first: 0, count: 2, material }],
            triangles,
        }
    };
    vec![square("Front", 1.0, 0.1, [0.6, 0.05, 0.05]), square("Back", 0.5, -0.1, [0.05, 0.05, 0.6])]
}

#[test]
fn indices_of_a_second_object_go_on_after_the_first() {
    let text = obj(&squares(), Some("a.mtl"));
    let faces: Vec<Vec<Vec<usize>>> = text
        .lines()
        .filter_map(|l| l.strip_prefix("f "))
        .map(|l| l.split(' ').map(|c| c.split('/').map(|v| v.parse().expect("a number")).collect()).collect())
        .collect();
    assert_eq!(faces.len(), 4);
    assert!(faces[..2].iter().flatten().flatten().all(|&v| (1..=4).contains(&v)));
    assert!(faces[2..].iter().flatten().flatten().all(|&v| (5..=8).contains(&v)));
    let count = |start: &str| text.lines().filter(|l| l.starts_with(start)).count();
    assert_eq!((count("v "), count("vt "), count("vn "), count("o "), count("g ")), (8, 8, 8, 2, 2));
    // names end at white space, so they have none
    assert!(text.contains("g Front_piece") && text.contains("usemtl Front_cloth") && mtl(&squares()).contains("newmtl Back_cloth"));
}

#[test]
fn a_mesh_without_layout_writes_none() {
    let mut mesh = squares().remove(0);
    mesh.uvs.clear();
    mesh.uv_triangles.clear();
    let text = obj(std::slice::from_ref(&mesh), None);
    assert!(text.contains("f 1//1 2//2 3//3") && !text.contains("vt ") && !text.contains("usemtl"));
    let bytes = glb(&[mesh]);
    let (document, buffers, _) = gltf::import_slice(&bytes).expect("valid glTF");
    let primitive = document.meshes().next().and_then(|m| m.primitives().next()).expect("a primitive");
    assert!(primitive.reader(|b| Some(&buffers[b.index()])).read_tex_coords(0).is_none());
}

#[test]
fn a_glb_has_whole_chunks_true_lengths_and_tight_bounds() {
    let bytes = glb(&squares());
    let word = |at: usize| u32::from_le_bytes([bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]]) as usize;
    assert_eq!((&bytes[..4], word(4), word(8)), (b"glTF".as_slice(), 2, bytes.len()));
    let json = word(12);
    assert_eq!((&bytes[16..20], json % 4), (b"JSON".as_slice(), 0));
    let binary = 20 + json;
    assert_eq!((&bytes[binary + 4..binary + 8], word(binary) % 4, binary + 8 + word(binary)), (b"BIN\0".as_slice(), 0, bytes.len()));
    let (document, buffers, _) = gltf::import_slice(&bytes).expect("valid glTF");
    for (mesh, size) in document.meshes().zip([1.0f32, 0.5]) {
        for primitive in mesh.primitives() {
            let bounds = primitive.bounding_box();
            assert_eq!((bounds.min[0], bounds.max[0], bounds.min[1], bounds.max[1]), (-0.5 * size, 0.5 * size, 0.0, size));
            let reader = primitive.reader(|b| Some(&buffers[b.index()]));
            let normals: Vec<[f32; 3]> = reader.read_normals().expect("normals").collect();
            assert!(normals.iter().all(|n| n[2] > 0.999), "the squares face the front");
        }
    }
}

fn pixels(bytes: &[u8]) -> (usize, usize, Vec<[u8; 3]>) {
    let mut reader = png::Decoder::new(std::io::Cursor::new(bytes)).read_info().expect("a PNG");
    let mut data = vec![0; reader.output_buffer_size().expect("a size")];
    let info = reader.next_frame(&mut data).expect("a picture");
    let channels = info.buffer_size() / (info.width as usize * info.height as usize);
    (info.width as usize, info.height as usize, data.chunks(channels).map(|p| [p[0], p[1], p[2]]).collect())
}

#[test]
fn a_picture_shows_the_nearer_thing_from_both_sides() {
    let view = |turn| View { width: 90, height: 120, turn, middle: 0.5, span: 1.4 };
    let middle = |turn| {
        let (width, height, p) = pixels(&picture(&squares(), &view(turn)));
        assert_eq!((width, height), (90, 120));
        // a quarter up: both squares are there
        let corner = p[0];
        assert!(corner[0] > 180 && corner[2] > 150, "paper in the corner: {corner:?}");
        p[(height * 3 / 4) * width + width / 2]
    };
    let (front, back) = (middle(0.0), middle(180.0));
    assert!(front[0] > front[2] + 40, "red in front: {front:?}");
    assert!(back[2] > back[0] + 40, "blue from behind: {back:?}");
}
