//! Meshes over time: what is written comes back through readers of others and through our own.

use formats::{AnimatedMesh, ExportMesh, Group, Material, ReadFault, VertexCache, abc, read_figure, usda};
use ogawa_rs::{Archive, FileReader, PodArray, Schema};
use std::io::Write as _;

/// A strip of two squares in two groups, with texture coordinates of its own corners.
fn strip() -> ExportMesh {
    let positions: Vec<[f32; 3]> = (0..6).map(|k| [(k % 2) as f32, (k / 2) as f32, 0.0]).collect();
    let triangles = vec![[0, 1, 3], [0, 3, 2], [2, 3, 5], [2, 5, 4]];
    let material = Material { name: "calico".into(), colour: [0.5; 3], roughness: 0.9, opacity: 1.0, double_sided: true, print: None };
    let group = |name: &str, first| Group { name: name.into(), first, count: 2, material: material.clone() };
    ExportMesh {
        name: "Gull skirt".into(),
        normals: ExportMesh::smooth_normals(&positions, &triangles),
        uvs: positions.iter().map(|p| [0.25 * p[0], 0.25 * p[1]]).collect(),
        uv_triangles: triangles.clone(),
        groups: vec![group("Front", 0), group("Back", 2)],
        positions,
        triangles,
        skin: None,
        print_uvs: Vec::new(),
        quads: Vec::new(),
    }
}

/// It swings for 40 frames from number 12 on.
fn swinging() -> AnimatedMesh {
    let still = strip();
    let frame = |k: usize| {
        let turn = glam::Quat::from_rotation_x(0.05 * k as f32);
        still.positions.iter().map(|p| (turn * glam::Vec3::from(*p) + glam::Vec3::Z * 0.01).to_array()).collect()
    };
    AnimatedMesh { frames: (0..40).map(frame).collect(), first: 12, ..AnimatedMesh::of(&still, 25.0) }
}

fn same_shape(cache: &VertexCache, mesh: &AnimatedMesh, within: f32) {
    assert_eq!(cache.frames.len(), mesh.frames.len());
    for (k, (read, want)) in cache.frames.iter().zip(&mesh.frames).enumerate() {
        assert!((cache.seconds[k] - (mesh.first + k as i64) as f64 / mesh.fps).abs() < 1e-9, "frame {k} at {} s", cache.seconds[k]);
        let off = read.iter().zip(want).map(|(p, q)| glam::Vec3::from(*p).distance((*q).into())).fold(0.0, f32::max);
        assert!(read.len() == want.len() && off <= within, "frame {k}: {off}");
    }
}

#[test]
fn an_outside_reader_finds_every_sample_of_an_archive() {
    let mesh = swinging();
    let mut file = tempfile::NamedTempFile::new().expect("a file");
    file.write_all(&abc(&mesh, &strip())).expect("written");
    let mut reader = FileReader::new(file.reopen().expect("a file")).expect("a reader");
    let archive = Archive::new(&mut reader).expect("an archive");
    let top = archive.load_root_object(&mut reader).expect("a root");
    let child = |parent: &ogawa_rs::ObjectReader, reader: &mut FileReader| {
        parent.load_child(0, reader, &archive.indexed_meta_data, &archive.time_samplings).expect("a child")
    };
    let place = child(&top, &mut reader);
    assert!(matches!(Schema::parse(&place, &mut reader, &archive), Ok(Schema::Xform(_))));
    let shape = child(&place, &mut reader);
    assert_eq!((place.header.name.as_str(), shape.header.name.as_str()), ("Gull_skirt", "Gull_skirtShape"));
    let Ok(Schema::PolyMesh(found)) = Schema::parse(&shape, &mut reader, &archive) else { panic!("a mesh") };
    assert!(found.has_uv());
    let sampling = &archive.time_samplings[1];
    assert!((sampling.sampling_type.time_per_cycle - 0.04).abs() < 1e-12 && (sampling.samples[0] - 0.48).abs() < 1e-12);
    assert_eq!(archive.max_samples[1], 40);
    for (k, want) in mesh.frames.iter().enumerate() {
        // every stored sample of a list is followed by its shape; the reader's own count of samples leaves that out
        let data = found.vertices.group.load_data(&mut reader, 2 * k).expect("a sample");
        let PodArray::F32(read) = data.read_pod_array(&found.vertices.header.data_type, &mut reader).expect("numbers") else {
            panic!("f32")
        };
        assert_eq!(&read, want.as_flattened(), "frame {k}");
    }
    let header = &found.vertices.header;
    assert_eq!((header.next_sample_index, header.time_sampling_index), (40, 1));
    assert_eq!(found.load_facecounts_sample(0, &mut reader).expect("faces"), vec![3; 4]);
    // clockwise, as the format has it
    let corners = found.load_faceindices_sample(0, &mut reader).expect("corners");
    assert_eq!(corners[..6], [0, 3, 1, 0, 2, 3]);
    // a set of faces for every group
    let names: Vec<&str> = shape.children.iter().map(|c| c.name.as_str()).collect();
    assert_eq!(names, ["Front", "Back"]);
}

#[test]
fn meshes_over_time_come_back_with_their_times() {
    let mesh = swinging();
    let found = read_figure("swing.abc", &abc(&mesh, &strip())).expect("an archive");
    assert_eq!((found.triangles.clone(), found.unit, found.z_up), (mesh.triangles.clone(), None, None));
    same_shape(found.cache.as_ref().expect("it moves"), &mesh, 0.0);
    assert_eq!(found.positions, mesh.frames[0]);
    let found = read_figure("swing.usda", usda(std::slice::from_ref(&mesh)).as_bytes()).expect("a layer");
    assert_eq!((found.triangles.clone(), found.unit, found.z_up), (mesh.triangles.clone(), Some(1.0), Some(false)));
    same_shape(found.cache.as_ref().expect("it moves"), &mesh, 1e-5);
    // a single frame is a figure that stands
    let still = AnimatedMesh { frames: mesh.frames[..1].to_vec(), ..mesh };
    for (name, bytes) in [("a.abc", abc(&still, &strip())), ("a.usda", usda(std::slice::from_ref(&still)).into_bytes())] {
        assert_eq!(read_figure(name, &bytes).expect("a figure").cache, None, "{name}");
    }
}

#[test]
fn a_usd_mesh_goes_along_with_what_is_above_it_at_all_times_of_both() {
    let text = "#usda 1.0\n(\n  metersPerUnit = 1\n  timeCodesPerSecond = 50\n)\ndef Xform \"way\"\n{\n\
        double3 xformOp:translate.timeSamples = { 0: (0, 0, 0), 100: (4, 0, 2), }\n\
        uniform token[] xformOpOrder = [\"xformOp:translate\"]\n\
        def Mesh \"body\"\n  {\n    uniform token subdivisionScheme = \"none\"\n    int[] faceVertexCounts = [3]\n\
        int[] faceVertexIndices = [0, 1, 2]\n    point3f[] points.timeSamples = {\n      25: [(0, 0, 0), (1, 0, 0), (0, 1, 0)],\n\
        75: [(0, 0, 1), (1, 0, 1), (0, 3, 1)],\n    }\n  }\n}\n";
    let found = read_figure("a.usda", text.as_bytes()).expect("a layer");
    let cache = found.cache.expect("it moves");
    assert_eq!(cache.seconds, [0.0, 0.5, 1.5, 2.0]);
    let third: Vec<[f32; 3]> = cache.frames.iter().map(|f| f[2]).collect();
    assert_eq!(third, [[0.0, 1.0, 0.0], [1.0, 1.0, 0.5], [3.0, 3.0, 2.5], [4.0, 3.0, 3.0]]);
    let changing = text.replace(", (0, 3, 1)]", "]");
    assert!(matches!(read_figure("a.usda", changing.as_bytes()), Err(ReadFault::Unsupported(_))));
}

#[test]
fn damaged_archives_are_refused() {
    let bytes = abc(&swinging(), &strip());
    for cut in (0..bytes.len()).step_by(97) {
        assert!(read_figure("a.abc", &bytes[..cut]).is_err(), "{cut} bytes");
    }
    let mut open = bytes.clone();
    open[5] = 0;
    assert!(read_figure("a.abc", &open).is_err(), "not closed");
    assert!(matches!(read_figure("a.abc", b"\x89HDF\r\n\x1a\n0000000000"), Err(ReadFault::Unsupported(_))));
    // a group within itself
    let mut ring = bytes;
    let root = ring[8..16].to_vec();
    let at = u64::from_le_bytes(root.clone().try_into().expect("eight")) as usize;
    ring[at + 8 + 16..at + 8 + 24].copy_from_slice(&root);
    assert!(read_figure("a.abc", &ring).is_err());
}
