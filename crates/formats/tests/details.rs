//! What other programs trip over: indices, padding, bounds, names; and that a picture shows the thing.

use formats::{Clip, ExportMesh, Group, Joint, Material, Skin, View, glb, mtl, obj, picture};

/// A square metre standing on the floor, facing the front, and a small square behind it.
fn squares() -> Vec<ExportMesh> {
    let square = |name: &str, size: f32, z: f32, colour: [f32; 3]| {
        let positions: Vec<[f32; 3]> =
            [[-0.5, 0.0], [0.5, 0.0], [0.5, 1.0], [-0.5, 1.0]].iter().map(|p| [p[0] * size, p[1] * size, z]).collect();
        let triangles = vec![[0, 1, 2], [0, 2, 3]];
        let material = Material { name: format!("{name} cloth"), colour, roughness: 0.9, opacity: 1.0, double_sided: true, print: None };
        ExportMesh {
            name: name.into(),
            normals: ExportMesh::smooth_normals(&positions, &triangles),
            positions,
            uvs: vec![[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]],
            uv_triangles: triangles.clone(),
            skin: None,
            print_uvs: Vec::new(),
            quads: Vec::new(),
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

#[test]
fn bones_weights_and_a_motion_are_in_the_glb() {
    let half = std::f32::consts::FRAC_1_SQRT_2;
    let joint = |name: &str, parent, rotation, at| Joint { name: name.into(), parent, rotation, at };
    let turn = |angle: f32| [0.0, 0.0, (0.5 * angle).sin(), (0.5 * angle).cos()];
    let mut mesh = squares().remove(0);
    let count = mesh.positions.len();
    mesh.skin = Some(Skin {
        joints: vec![
            joint("root", None, [0.0, 0.0, half, half], [0.0, 1.0, 0.0]),
            joint("tip", Some(0), [0.0, 0.0, half, half], [0.0, 3.0, 0.0]),
        ],
        joint_indices: vec![[0, 1, 0, 0]; count],
        weights: vec![[0.25, 0.75, 0.0, 0.0]; count],
        clip: Some(Clip {
            name: "nod".into(),
            seconds: vec![0.0, 0.5],
            rotations: vec![vec![turn(0.0), turn(0.3)], vec![turn(0.0), turn(1.0)]],
            root: vec![[0.0, 1.0, 0.0]; 2],
        }),
    });
    let (document, buffers, _) = gltf::import_slice(glb(&[mesh])).expect("valid glTF");
    let data = |b: gltf::Buffer| Some(&buffers[b.index()][..]);
    let skin = document.skins().next().expect("a skin");
    let names: Vec<_> = skin.joints().filter_map(|j| j.name().map(str::to_owned)).collect();
    assert_eq!(names, ["root", "tip"]);
    // a bind matrix takes a point of the mesh into the bone's own frame: the joint itself to the origin
    let inverse: Vec<[[f32; 4]; 4]> = skin.reader(data).read_inverse_bind_matrices().expect("matrices").collect();
    for (m, y) in inverse.iter().zip([1.0, 3.0]) {
        let at: [f32; 3] = std::array::from_fn(|row| m[1][row] * y + m[3][row]);
        assert!(at.iter().all(|v| v.abs() < 1e-6), "{at:?}");
        assert_eq!([m[0][3], m[1][3], m[2][3], m[3][3]], [0.0, 0.0, 0.0, 1.0]);
    }
    let primitive = document.meshes().next().and_then(|m| m.primitives().next()).expect("a primitive");
    let reader = primitive.reader(data);
    assert!(reader.read_joints(0).expect("bones").into_u16().all(|b| b == [0, 1, 0, 0]));
    assert!(reader.read_weights(0).expect("weights").into_f32().all(|w| (w.iter().sum::<f32>() - 1.0).abs() < 1e-6 && w[1] == 0.75));
    let motion = document.animations().next().expect("a motion");
    assert_eq!((motion.name(), motion.channels().count()), (Some("nod"), 3));
    let last = motion.channels().nth(1).and_then(|c| match c.reader(data).read_outputs()? {
        gltf::animation::util::ReadOutputs::Rotations(r) => r.into_f32().last(),
        _ => None,
    });
    assert!(last.is_some_and(|q| (q[2] - 0.5f32.sin()).abs() < 1e-6), "{last:?}");
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

#[test]
fn see_through_cloth_lets_the_colour_behind_through_whatever_comes_first_and_says_so_in_files() {
    let view = View { width: 90, height: 120, turn: 0.0, middle: 0.5, span: 1.4 };
    let at = |meshes: &[ExportMesh]| {
        let (width, height, p) = pixels(&picture(meshes, &view));
        p[(height * 3 / 4) * width + width / 2]
    };
    let solid = at(&squares());
    let mut veiled = squares();
    veiled[0].groups[0].material.opacity = 0.3;
    let seen = at(&veiled);
    assert!(seen[2] > solid[2] + 40, "blue shines through: {seen:?}, {solid:?}");
    veiled.reverse();
    assert_eq!(at(&veiled), seen, "in either order");
    veiled.pop();
    let alone = at(&veiled);
    veiled[0].groups[0].material.opacity = 0.3;
    assert_ne!(at(&veiled), alone, "paper shines through as well");

    assert!(mtl(&veiled).contains("\nd 0.3\n") && mtl(&squares()).contains("\nd 1\n"));
    let (document, ..) = gltf::import_slice(glb(&veiled)).expect("valid glTF");
    let material = document.materials().next().expect("a material");
    assert_eq!(material.alpha_mode(), gltf::material::AlphaMode::Blend);
    assert!((material.pbr_metallic_roughness().base_color_factor()[3] - 0.3).abs() < 1e-6);
}

#[test]
fn what_is_not_rough_has_a_brighter_spot_where_it_mirrors_the_light() {
    let view = View { width: 90, height: 120, turn: 0.0, middle: 0.5, span: 1.4 };
    let brightest = |roughness: f32| {
        let mut ball = squares().remove(0);
        ball.groups[0].material.roughness = roughness;
        // corner normals spread as on a bowed sheet
        ball.normals = ball.positions.iter().map(|p| [p[0], p[1] - 0.5, 0.7]).collect();
        pixels(&picture(&[ball], &view)).2.iter().filter(|p| p[0] > p[2] + 20).map(|p| p[0]).max().expect("red")
    };
    assert!(brightest(0.34) > brightest(0.95) + 20, "{} and {}", brightest(0.34), brightest(0.95));
}
