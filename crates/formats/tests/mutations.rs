//! Valid files with a few bytes changed, cut, doubled or exchanged: every reader answers, none panics. The run is the
//! same each time and short; `OURLET_MUTATE_SECONDS` makes it as long as asked, with other mutations.

mod mutate;

use formats::{Clip, ExportMesh, Group, Joint, Material, Skin, glb, obj, read_figure};
use mutate::{Rounds, mutate};
use std::time::{Duration, Instant};

/// Two squares with a skin of two bones and a motion.
fn book() -> ExportMesh {
    let positions: Vec<[f32; 3]> = vec![[0.0; 3], [1.0, 0.0, 0.0], [1.0, 1.0, 0.0], [0.0, 1.0, 0.0], [1.0, 2.0, 0.3], [0.0, 2.0, 0.3]];
    let triangles = vec![[0, 1, 2], [0, 2, 3], [3, 2, 4], [3, 4, 5]];
    let material = Material { name: "cloth".into(), colour: [0.5; 3], roughness: 0.9, opacity: 1.0, double_sided: true, print: None };
    let joint = |name: &str, parent, y| Joint { name: name.into(), parent, rotation: [0.0, 0.0, 0.0, 1.0], at: [0.5, y, 0.0] };
    ExportMesh {
        name: "book".into(),
        normals: ExportMesh::smooth_normals(&positions, &triangles),
        groups: vec![Group { name: "page".into(), first: 0, count: 4, material }],
        skin: Some(Skin {
            joints: vec![joint("hip", None, 0.0), joint("spine", Some(0), 1.0)],
            joint_indices: vec![[0, 1, 0, 0]; 6],
            weights: vec![[0.5, 0.5, 0.0, 0.0]; 6],
            clip: Some(Clip {
                name: "nod".into(),
                seconds: vec![0.0, 0.5],
                rotations: vec![vec![[0.0, 0.0, 0.0, 1.0]; 2]; 2],
                root: vec![[0.5, 0.0, 0.0]; 2],
            }),
        }),
        positions,
        triangles,
        ..ExportMesh::default()
    }
}

fn seeds() -> Vec<(&'static str, Vec<u8>)> {
    let mut binary = b"ply\nformat binary_little_endian 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty double z\n\
                       element face 2\nproperty list uchar uint vertex_indices\nproperty uchar red\nend_header\n"
        .to_vec();
    for p in [[0.0f32, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]] {
        binary.extend(p.iter().flat_map(|v| v.to_le_bytes()).chain(0.25f64.to_le_bytes()));
    }
    for t in [[0u32, 1, 2], [0, 2, 3]] {
        binary.push(3);
        binary.extend(t.iter().flat_map(|v| v.to_le_bytes()).chain([9]));
    }
    let text = "ply\nformat ascii 1.0\ncomment made\nelement vertex 5\nproperty float x\nproperty float y\nproperty float z\n\
                element face 1\nproperty list uchar int vertex_index\nelement edge 1\nproperty int v\nend_header\n\
                0 0 0\n1 0 0\n1 1 0\n0.5 0.5 0\n0 1 0\n5 0 1 2 3 4\n7\n";
    let usd = "#usda 1.0\n(\n  metersPerUnit = 0.01\n  upAxis = \"Z\"\n)\ndef Xform \"root\" (\n kind = \"group\"\n)\n{\n\
               matrix4d xformOp:transform = ((1,0,0,0),(0,1,0,0),(0,0,1,0),(3,2,1,1))\n double3 xformOp:translate = (1, 2, 3)\n\
               float3 xformOp:rotateXYZ.timeSamples = { 0: (1, 2, 3), 4: (0, 0, 9), }\n\
               uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:rotateXYZ\", \"!invert!xformOp:transform\"]\n\
               def Mesh \"m\"\n {\n  int[] faceVertexCounts = [4, 3]\n  int[] faceVertexIndices = [0, 1, 2, 3, 0, 2, 4]\n\
               point3f[] points = [(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0), (0.5, 2, 1e-1)]\n\
               token visibility = \"inherited\"\n asset inputs:file = @skin.png@\n  rel material:binding = </root/mat>\n }\n}\n";
    let glb = glb(&[book()]);
    let moving = formats::AnimatedMesh { frames: vec![book().positions; 3], ..formats::AnimatedMesh::of(&book(), 24.0) };
    vec![
        ("a.abc", formats::abc(&moving, &book())),
        ("a.gltf", embedded(&glb)),
        ("a.glb", glb),
        ("a.obj", obj(&[book()], Some("a.mtl")).into_bytes()),
        ("b.obj", b"o a\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0.5 0.5 0\nv 0 1 0\ng x\nf 1/1/1 2// 3 -2 5\nl 1 2\nvt 0 1\n".to_vec()),
        ("a.ply", binary),
        ("b.ply", text.as_bytes().to_vec()),
        ("a.usda", usd.as_bytes().to_vec()),
    ]
}

/// The same document as text with its buffer inside.
fn embedded(glb: &[u8]) -> Vec<u8> {
    use base64::Engine;
    let length = u32::from_le_bytes(glb[12..16].try_into().expect("four bytes")) as usize;
    let text = String::from_utf8(glb[20..20 + length].to_vec()).expect("JSON");
    let data = base64::engine::general_purpose::STANDARD.encode(&glb[28 + length..]);
    text.replace("\"buffers\":[{", &format!("\"buffers\":[{{\"uri\":\"data:a/b;base64,{data}\",")).into_bytes()
}

#[test]
fn every_reader_answers_to_changed_files() {
    let seeds = seeds();
    for (name, bytes) in &seeds {
        read_figure(name, bytes).unwrap_or_else(|e| panic!("the seed {name}: {e}"));
    }
    let only = std::env::var("OURLET_MUTATE_ONLY").ok();
    let mut rounds = Rounds::new();
    let (mut read, mut slowest) = (0u64, (Duration::ZERO, String::new()));
    while rounds.goes_on(400) {
        for (name, bytes) in seeds.iter().filter(|(n, _)| only.as_ref().is_none_or(|o| n.ends_with(o.as_str()))) {
            let changed = mutate(bytes, &mut rounds.dice);
            rounds.keep(name, &changed);
            let started = Instant::now();
            let outcome = std::panic::catch_unwind(|| read_figure(name, &changed));
            if started.elapsed() > slowest.0 {
                slowest = (started.elapsed(), format!("{name} of {} bytes", changed.len()));
            }
            match outcome {
                Ok(found) => read += u64::from(found.is_ok()),
                Err(_) => panic!("a reader panicked on {name}: {}", String::from_utf8_lossy(&changed)),
            }
        }
    }
    println!("{} rounds, {read} files read in spite of the change, slowest {:?} ({})", rounds.done, slowest.0, slowest.1);
    assert!(read > rounds.done / 100, "some changes are harmless, or nothing was tried");
}
