//! Files that once brought a reader down: each is read, or refused with its reason.

use formats::{ImportedMesh, LeftOut, ReadFault, figure_limits, read_figure};

fn read(name: &str) -> Result<ImportedMesh, ReadFault> {
    let path = format!("{}/tests/hostile/{name}", env!("CARGO_MANIFEST_DIR"));
    read_figure(name, &std::fs::read(path).expect("the file"))
}

#[test]
fn what_is_wrong_is_named() {
    let expected = [
        ("animcubic1.gltf", "a motion of 2 times and 2 values"),
        ("animneg.gltf", "times of a motion that do not grow from 0 on"),
        ("cnt_neg.usda", "a face of -3 corners"),
        ("cnt_wrap.usda", "18446744073709551615"),
        ("cycle.gltf", "node 0 is its own ancestor"),
        ("exp28.usda", "Expected prim name"),
        ("ibmnan.gltf", "values that are no numbers"),
        ("ibmstride.gltf", "accessor 4 is Scalar where Mat4 is needed"),
        ("idxi16.gltf", "indices of faces of the kind I16"),
        ("idxmiss.gltf", "names a vertex that is not there"),
        ("inf.usda", "no numbers or too far away, the first at vertex 0"),
        ("jcycle.gltf", "is its own ancestor"),
        ("jointsf32.gltf", "bones of vertices of the kind F32"),
        ("jointsu32.gltf", "bones of vertices of the kind U32"),
        ("jself.gltf", "is its own ancestor"),
        ("latin.usda", "a sign that no USD text has"),
        ("many-elements.ply", "two of its elements have the same name"),
        ("matrixnan.gltf", "no numbers"),
        ("nbsp.usda", "a sign that no USD text has"),
        ("nbsp2.usda", "a sign that no USD text has"),
        ("neg.ply", "Line 3"),
        ("nest.usda", "Expected prim name"),
        ("nopos.gltf", "POSITION"),
        ("possc.gltf", "POSITION"),
        ("unitnan.usda", "its unit is no length"),
        ("weightsi16.gltf", "weights of vertices of the kind I16"),
    ];
    for (name, reason) in expected {
        match read(name) {
            Ok(_) => panic!("{name} is read"),
            Err(fault) => assert!(fault.to_string().contains(reason), "{name}: {fault}"),
        }
    }
}

#[test]
fn parts_that_lead_back_or_come_twice_are_refused() {
    let twice = "def X \"a\" {".repeat(40) + &"} def X \"a\" {}".repeat(40);
    for text in [format!("#usda 1.0\n{twice}"), "#usda 1.0\ndef X \"\" {}".into(), "#usda 1.0\ndef X \"..\" {}".into()] {
        let fault = read_figure("a.usda", text.as_bytes()).expect_err("no figure").to_string();
        assert!(fault.contains("of another one"), "{fault}");
    }
}

#[test]
fn what_is_only_odd_is_read() {
    // a texture's path in the way of the tokens
    let mesh = read("asset-path.usda").expect("a triangle");
    assert_eq!((mesh.triangles.len(), mesh.unit, mesh.z_up), (1, Some(0.01), Some(false)));
    // far, but a length: whoever stands the figure up judges its size
    assert_eq!(read("1e8.ply").expect("a triangle").positions[1], [0.0, 1e8, 0.0]);
}

/// A glTF text with a buffer of `floats` as accessor 0 and what else is asked for.
fn gltf(floats: &[f32], rest: &str) -> String {
    use base64::Engine;
    let bytes: Vec<u8> = floats.iter().flat_map(|v| v.to_le_bytes()).collect();
    let text = base64::engine::general_purpose::STANDARD.encode(&bytes);
    format!(
        r#"{{"asset":{{"version":"2.0"}},"buffers":[{{"byteLength":{n},"uri":"data:application/octet-stream;base64,{text}"}}],
        "bufferViews":[{{"buffer":0,"byteLength":{n}}}],{rest}}}"#,
        n = bytes.len()
    )
}

#[test]
fn what_a_small_file_asks_for_together_is_limited() {
    let refused = |name: &str, text: &str| match read_figure(name, text.as_bytes()) {
        Err(ReadFault::TooMany { what, .. }) => what,
        other => panic!("{name}: {:?}", other.map(|m| m.triangles.len())),
    };
    // one accessor of 3000 points, named by 5000 primitives
    let points = vec![0.5f32; 9000];
    let primitives = vec![r#"{"attributes":{"POSITION":0}}"#; 5000].join(",");
    let accessor =
        r#""accessors":[{"bufferView":0,"componentType":5126,"count":3000,"type":"VEC3","min":[0.5,0.5,0.5],"max":[0.5,0.5,0.5]}]"#;
    let text = gltf(
        &points,
        &format!(r#"{accessor},"meshes":[{{"primitives":[{primitives}]}}],"nodes":[{{"mesh":0}}],"scenes":[{{"nodes":[0]}}]"#),
    );
    assert_eq!(refused("a.gltf", &text), "vertices");
    // an object takes three bytes in the file and hundreds in memory
    let nodes = vec!["{}"; 400_000].join(",");
    assert_eq!(refused("a.gltf", &gltf(&points, &format!(r#""nodes":[{nodes}]"#))), "objects");
    assert_eq!(refused("a.gltf", &"[".repeat(100_000)), "nested brackets");
    let deep = format!("#usda 1.0\n{}", "def A \"a\" {".repeat(50_000));
    assert_eq!(refused("a.usda", &deep), "nested brackets");
    let prims = format!("#usda 1.0\n{}", "def A \"a\" {}".repeat(50_000));
    assert_eq!(refused("a.usda", &prims), "entries");
    let ply = "ply\nformat ascii 1.0\nelement vertex 2000000\nproperty float x\nelement face 2000000\nproperty list uchar int vertex_indices\n\
               element edge 2000000\nproperty int a\nend_header\n";
    assert!(read_figure("a.ply", ply.as_bytes()).is_err());
    let many = format!("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1{}", " 2".repeat(figure_limits::CORNERS));
    assert_eq!(refused("a.obj", &many), "corners of one face");
}

#[test]
fn two_thousand_motions_and_one_that_never_ends_are_refused_or_cut() {
    let floats: Vec<f32> = [0.0, 0.0, 0.0, 0.3, 0.0, 0.0, 0.0, 1.7, 0.0] // a triangle
        .into_iter()
        .chain([0.0, 1e30]) // times
        .chain([0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0]) // rotations
        .chain([1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0]) // weights
        .chain([0.0; 3]) // bones, as bytes
        .collect();
    let rest = |motions: usize| {
        let motion = r#"{"channels":[{"sampler":0,"target":{"node":1,"path":"rotation"}}],"samplers":[{"input":1,"output":2}]}"#;
        format!(
            r#""accessors":[{{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[0.3,1.7,0]}},
            {{"bufferView":0,"byteOffset":36,"componentType":5126,"count":2,"type":"SCALAR"}},
            {{"bufferView":0,"byteOffset":44,"componentType":5126,"count":2,"type":"VEC4"}},
            {{"bufferView":0,"byteOffset":76,"componentType":5126,"count":3,"type":"VEC4"}},
            {{"bufferView":0,"byteOffset":124,"componentType":5121,"count":3,"type":"VEC4"}}],
            "meshes":[{{"primitives":[{{"attributes":{{"POSITION":0,"WEIGHTS_0":3,"JOINTS_0":4}}}}]}}],
            "skins":[{{"joints":[1]}}],"nodes":[{{"mesh":0,"skin":0}},{{"name":"hip"}}],"scenes":[{{"nodes":[0,1]}}],
            "animations":[{}]"#,
            vec![motion; motions].join(",")
        )
    };
    let one = read_figure("a.gltf", gltf(&floats, &rest(1)).as_bytes()).expect("a motion");
    assert_eq!(one.clips[0].seconds.len(), 3001);
    assert!(one.left_out.contains(&LeftOut::LongMotion(100)));
    let many = read_figure("a.gltf", gltf(&floats, &rest(2000)).as_bytes());
    assert!(matches!(many, Err(ReadFault::TooMany { what: "motions", .. })), "{many:?}");
}
