//! What readers make of the less usual parts of valid files, and what they say they left out.

use base64::Engine;
use formats::{ImportedMesh, LeftOut, read_figure};

/// A glTF text in the making: every row of numbers becomes a view and an accessor.
#[derive(Default)]
struct Draft {
    bytes: Vec<u8>,
    views: Vec<String>,
    accessors: Vec<String>,
}

impl Draft {
    fn view(&mut self, bytes: &[u8]) -> usize {
        self.views.push(format!(r#"{{"buffer":0,"byteOffset":{},"byteLength":{}}}"#, self.bytes.len(), bytes.len()));
        self.bytes.extend(bytes);
        self.bytes.resize(self.bytes.len().next_multiple_of(4), 0);
        self.views.len() - 1
    }

    fn add(&mut self, bytes: &[u8], kind: u32, count: usize, shape: &str, more: &str) -> usize {
        let view = self.view(bytes);
        self.accessors.push(format!(r#"{{"bufferView":{view},"componentType":{kind},"count":{count},"type":"{shape}"{more}}}"#));
        self.accessors.len() - 1
    }

    fn floats<const N: usize>(&mut self, rows: &[[f32; N]], more: &str) -> usize {
        let bytes: Vec<u8> = rows.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        let shape = ["", "SCALAR", "VEC2", "VEC3", "VEC4"][N];
        self.add(&bytes, 5126, rows.len(), shape, more)
    }

    fn places(&mut self, rows: &[[f32; 3]]) -> usize {
        self.floats(rows, r#","min":[0,0,0],"max":[9,9,9]"#)
    }

    fn read(&self, rest: &str) -> ImportedMesh {
        let data = base64::engine::general_purpose::STANDARD.encode(&self.bytes);
        let text = format!(
            r#"{{"asset":{{"version":"2.0"}},"buffers":[{{"byteLength":{},"uri":"data:a/b;base64,{data}"}}],
            "bufferViews":[{}],"accessors":[{}],{rest}}}"#,
            self.bytes.len(),
            self.views.join(","),
            self.accessors.join(",")
        );
        read_figure("a.gltf", text.as_bytes()).expect("a figure")
    }
}

const TRIANGLE: [[f32; 3]; 3] = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]];

/// A skinned triangle on one bone that moves as its track says.
fn moved(way: &str, path: &str, times: &[f32], values: impl FnOnce(&mut Draft) -> usize) -> ImportedMesh {
    let mut draft = Draft::default();
    let at = draft.places(&TRIANGLE);
    let bones = draft.add(&[0; 12], 5121, 3, "VEC4", "");
    let shares = draft.floats(&[[1.0, 0.0, 0.0, 0.0]; 3], "");
    let input = draft.floats(&times.iter().map(|t| [*t]).collect::<Vec<_>>(), "");
    let output = values(&mut draft);
    draft.read(&format!(
        r#""meshes":[{{"primitives":[{{"attributes":{{"POSITION":{at},"JOINTS_0":{bones},"WEIGHTS_0":{shares}}}}}]}}],
        "skins":[{{"joints":[1]}}],"nodes":[{{"mesh":0,"skin":0}},{{"name":"hip"}}],"scenes":[{{"nodes":[0,1]}}],
        "animations":[{{"channels":[{{"sampler":0,"target":{{"node":1,"path":"{path}"}}}}],
        "samplers":[{{"input":{input},"output":{output},"interpolation":"{way}"}}]}}]"#
    ))
}

#[test]
fn a_cubic_track_follows_its_tangents_and_a_stepped_one_jumps() {
    // a cubic spline with its own tangents is the cubic itself
    let x = |t: f32| t * t * t - 2.0 * t * t + 0.5 * t + 1.0;
    let slope = |t: f32| 3.0 * t * t - 4.0 * t + 0.5;
    let times = [0.0, 0.5, 2.0];
    let rows: Vec<[f32; 3]> = times.iter().flat_map(|&t| [[slope(t), 0.0, 0.0], [x(t), 0.0, 0.0], [slope(t), 0.0, 0.0]]).collect();
    let cubic = moved("CUBICSPLINE", "translation", &times, |d| d.floats(&rows, ""));
    let clip = &cubic.clips[0];
    assert_eq!(clip.seconds.len(), 61);
    for (t, at) in clip.seconds.iter().zip(&clip.root) {
        assert!((at[0] - x(*t)).abs() < 1e-5, "{} instead of {} at {t}", at[0], x(*t));
    }
    let stepped = moved("STEP", "translation", &times, |d| d.floats(&[[1.0, 0.0, 0.0], [2.0, 0.0, 0.0], [3.0, 0.0, 0.0]], ""));
    let at = |t: f32| stepped.clips[0].root[(t * 30.0).round() as usize][0];
    assert_eq!([at(0.0), at(0.4), at(0.6), at(1.9), at(2.0)], [1.0, 1.0, 2.0, 2.0, 3.0]);
}

#[test]
fn rotations_may_be_whole_numbers() {
    // half a turn about z in two quarters, as normalised shorts
    let short = |v: f32| ((v * 32767.0).round() as i16).to_le_bytes();
    let half = std::f32::consts::FRAC_1_SQRT_2;
    let bytes: Vec<u8> =
        [[0.0, 0.0, 0.0, 1.0], [0.0, 0.0, half, half], [0.0, 0.0, 1.0, 0.0]].iter().flatten().flat_map(|v| short(*v)).collect();
    let turned = moved("LINEAR", "rotation", &[0.0, 1.0, 2.0], |d| d.add(&bytes, 5122, 3, "VEC4", r#","normalized":true"#));
    for (t, q) in turned.clips[0].seconds.iter().zip(&turned.clips[0].rotations[0]) {
        let angle = 2.0 * q[2].atan2(q[3]);
        assert!((angle - t * std::f32::consts::FRAC_PI_2).abs() < 1e-3, "{angle} at {t}");
    }
}

#[test]
fn sparse_values_replace_those_of_the_base() {
    let mut draft = Draft::default();
    let (at, of) = (draft.view(&[2, 0]), draft.view(&[0.0f32, 7.0, 0.0].iter().flat_map(|v| v.to_le_bytes()).collect::<Vec<u8>>()));
    let sparse = format!(
        r#","min":[0,0,0],"max":[1,7,0],"sparse":{{"count":1,"indices":{{"bufferView":{at},"componentType":5123}},"values":{{"bufferView":{of}}}}}"#
    );
    draft.floats(&TRIANGLE, &sparse);
    let mesh = draft.read(r#""meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}]"#);
    assert_eq!(mesh.positions, [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 7.0, 0.0]]);
}

#[test]
fn strips_and_fans_face_one_way_and_what_has_no_surface_is_told() {
    let mut draft = Draft::default();
    draft.places(&[[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [1.0, 1.0, 0.0], [0.0, 2.0, 0.0]]);
    draft.places(&[[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 1.0, 0.0], [0.0, 1.0, 0.0]]);
    let mesh = draft.read(
        r#""meshes":[{"primitives":[{"attributes":{"POSITION":0},"mode":5},{"attributes":{"POSITION":1},"mode":6,"targets":[{"POSITION":1}]},
        {"attributes":{"POSITION":1},"mode":1}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}]"#,
    );
    let normal_z = |t: &[u32; 3]| {
        let [a, b, c] = t.map(|v| mesh.positions[v as usize]);
        (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    };
    assert_eq!(mesh.triangles.len(), 5);
    assert!(mesh.triangles.iter().all(|t| (normal_z(t) - 1.0).abs() < 1e-6));
    assert_eq!(mesh.left_out.iter().cloned().collect::<Vec<_>>(), [LeftOut::PointsAndLines, LeftOut::Morphs]);
}

#[test]
fn usd_places_follow_the_order_of_the_operations_and_guides_are_left_out() {
    let text = "#usda 1.0\n(\n  metersPerUnit = 1\n  upAxis = \"Z\"\n)\ndef Xform \"all\" (\n  references = @other.usda@\n)\n{\n\
        double3 xformOp:translate = (1, 2, 3)\n  float3 xformOp:rotateXYZ = (90, 0, 90)\n  float3 xformOp:scale = (2, 1, 1)\n\
        uniform token[] xformOpOrder = [\"xformOp:translate\", \"xformOp:rotateXYZ\", \"xformOp:scale\"]\n\
        def Mesh \"body\"\n  {\n    uniform token subdivisionScheme = \"none\"\n    int[] faceVertexCounts = [3]\n\
        int[] faceVertexIndices = [0, 1, 2]\n    point3f[] points.timeSamples = {\n      0: [(0, 0, 0), (1, 0, 0), (0, 1, 0)],\n      5: [(9, 9, 9), (1, 0, 0), (0, 1, 0)],\n    }\n  }\n\
        def Scope \"guides\"\n  {\n    token purpose = \"guide\"\n    def Mesh \"net\"\n    {\n      int[] faceVertexCounts = [3]\n      int[] faceVertexIndices = [0, 1, 2]\n\
        point3f[] points = [(5, 5, 5), (6, 5, 5), (5, 6, 5)]\n    }\n  }\n}\n";
    let mesh = read_figure("a.usda", text.as_bytes()).expect("a triangle");
    // scaled, then turned about x, then about z, then moved: (1,0,0) to (2,0,0), (2,0,0), (0,2,0)
    let expected = [[1.0, 2.0, 3.0], [1.0, 4.0, 3.0], [1.0, 2.0, 4.0]];
    for (p, q) in mesh.positions.iter().zip(expected) {
        assert!((0..3).all(|k| (p[k] - q[k]).abs() < 1e-5), "{p:?} {q:?}");
    }
    assert_eq!((mesh.triangles.len(), mesh.z_up), (1, Some(true)));
    assert_eq!(mesh.left_out.iter().cloned().collect::<Vec<_>>(), [LeftOut::References, LeftOut::Hidden]);
    assert_eq!(mesh.cache.map(|c| c.seconds), Some(vec![0.0, 5.0 / 24.0]));
}

#[test]
fn groups_of_an_obj_share_its_vertices_and_vertices_at_one_place_stay_apart() {
    // two squares in groups of their own that share the edge 2-3; a third that only lies against them
    let text = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nv 2 0 0\nv 2 1 0\nv 3 0 0\nv 3 1 0\n\
                g a\nf 1 2 3 4\ng b\nf 2 5 6 3\ng c\nf 7 9 10 8\n";
    let mesh = formats::read_figure("three.obj", text.as_bytes()).expect("read");
    assert_eq!((mesh.positions.len(), mesh.triangles.len()), (10, 6));
    let used = |range: std::ops::Range<usize>| mesh.triangles[range].iter().flatten().copied().collect::<std::collections::BTreeSet<u32>>();
    assert_eq!(used(0..2).intersection(&used(2..4)).count(), 2, "the second goes on from the first");
    assert_eq!(used(2..4).intersection(&used(4..6)).count(), 0, "the third only touches");
}
