//! Figures from elsewhere: our own mannequin written to every format and read back is the same body.

use body::{Axis, FigureSheet, Measure, Surface};
use costume::BodyChoice;
use std::collections::{BTreeSet, HashMap};
use std::fmt::Write;
use std::sync::LazyLock;
use workroom::{ContactBody, foreign_figure, read_arrival};

static WOMAN: LazyLock<ContactBody> = LazyLock::new(|| form("woman-38"));

fn form(preset: &str) -> ContactBody {
    let choice = BodyChoice::size(preset);
    let figure = workroom::figure(&choice).expect("a size");
    ContactBody::new(figure.into(), &choice, BTreeSet::new()).expect("a form")
}

fn obj(surface: &Surface, map: impl Fn([f32; 3]) -> [f32; 3]) -> String {
    let mut text = String::new();
    for p in &surface.positions {
        let [x, y, z] = map(*p);
        writeln!(text, "v {x} {y} {z}").expect("text");
    }
    for t in &surface.triangles {
        writeln!(text, "f {} {} {}", t[0] + 1, t[1] + 1, t[2] + 1).expect("text");
    }
    text
}

fn measured(figure: &body::Body, what: Measure) -> f64 {
    figure.taken.iter().find(|t| t.measure == what).unwrap_or_else(|| panic!("no {}", what.key())).measured
}

#[test]
fn unit_up_axis_and_facing_are_found_for_every_way_a_figure_may_stand() {
    let surface = &WOMAN.posed.surface;
    type Turn = (fn([f32; 3]) -> [f32; 3], Axis, Axis);
    let turns: [Turn; 4] = [
        (|p| p, Axis::PlusY, Axis::PlusZ),
        (|[x, y, z]| [x, -z, y], Axis::PlusZ, Axis::MinusY),
        (|[x, y, z]| [-z, y, x], Axis::PlusY, Axis::MinusX),
        (|[x, y, z]| [y, -x, z], Axis::PlusX, Axis::PlusZ),
    ];
    for (turn, up, front) in turns {
        for (scale, unit) in [(1.0f32, 1.0f64), (100.0, 0.01), (1000.0, 0.001), (39.370_08, 0.0254)] {
            let text = obj(surface, |p| turn(p).map(|v| v * scale + 3.0));
            let arrival = read_arrival("figure.obj", text.as_bytes()).expect("it reads");
            let stance = arrival.sheet.stance;
            assert_eq!((stance.up, stance.front), (up, front));
            assert!((stance.unit - unit).abs() < 1e-9, "{} instead of {unit}", stance.unit);
            assert!(arrival.flaws.is_clean(), "{:?}", arrival.flaws);
        }
    }
}

#[test]
fn landmarks_and_measures_agree_with_the_mannequin_that_was_written() {
    for preset in ["woman-38", "man-50", "child-128"] {
        let form = form(preset);
        let arrival = read_arrival("figure.obj", obj(&form.posed.surface, |p| p).as_bytes()).expect("it reads");
        let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
        let height = measured(&found, Measure::Stature);
        for own in &form.figure.taken {
            let tolerance = match own.measure {
                Measure::Underbust => continue,
                // a landmark is placed by shape, so lengths agree to a few hundredths of the stature
                Measure::Stature => 1.0,
                Measure::Inseam => 12.0,
                Measure::WaistHeight | Measure::BackWaist | Measure::ArmLength | Measure::ShoulderWidth => 0.03 * height,
                Measure::Bust | Measure::Waist | Measure::Hip => 0.02 * own.measured,
                _ => 0.06 * own.measured,
            };
            let off = measured(&found, own.measure) - own.measured;
            assert!(off.abs() < tolerance, "{preset} {}: {:.1} mm off {:.1}", own.measure.key(), off, own.measured);
        }
        let skeleton = &form.figure.rig.skeleton;
        for (key, bone) in [
            ("shoulder-left", "upper-arm-left"),
            ("elbow-right", "forearm-right"),
            ("wrist-left", "hand-left"),
            ("knee-left", "shin-left"),
            ("ankle-right", "foot-right"),
        ] {
            let joint = skeleton.bones[skeleton.index(bone).expect("a bone")].joint * 1000.0;
            let off = found.landmarks[key].distance(joint);
            assert!(off < 0.035 * height, "{preset} {key}: {off:.0} mm from the joint");
        }
    }
}

#[test]
fn stations_and_parts_of_a_figure_from_elsewhere_are_those_of_the_mannequin() {
    let arrival = read_arrival("figure.obj", obj(&WOMAN.posed.surface, |p| p).as_bytes()).expect("it reads");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    assert_eq!(found.stations.len(), WOMAN.figure.stations.len());
    for own in &WOMAN.figure.stations {
        let theirs = found.stations.iter().find(|s| s.key == own.key).expect("a station");
        assert!(theirs.centre.distance(own.centre) < 0.06, "{}: {} and {}", own.key, theirs.centre, own.centre);
        assert!(
            (theirs.radii.0 - own.radii.0).abs() < 0.03 && (theirs.radii.1 - own.radii.1).abs() < 0.03,
            "{}: {:?} and {:?}",
            own.key,
            theirs.radii,
            own.radii
        );
    }
    // most vertices belong to the same part; the file may hold them in another order
    let own = &WOMAN.figure;
    let key = |p: &[f32; 3]| p.map(|v| (v * 1e5).round() as i64);
    let theirs: HashMap<_, _> =
        found.surface.positions.iter().zip(&found.part_of_vertex).map(|(p, k)| (key(p), &found.parts[*k as usize])).collect();
    let shift = found.surface.positions.iter().fold([0.0f32; 3], |s, p| [s[0] + p[0], s[1] + p[1], s[2] + p[2]]);
    let before = own.surface.positions.iter().fold([0.0f32; 3], |s, p| [s[0] + p[0], s[1] + p[1], s[2] + p[2]]);
    let count = own.surface.positions.len() as f32;
    let same = own.surface.positions.iter().zip(&own.part_of_vertex).filter(|(p, k)| {
        let moved: [f32; 3] = std::array::from_fn(|i| p[i] + (shift[i] - before[i]) / count);
        let near = |d: i64| theirs.iter().find(|(q, _)| (0..3).all(|i| (q[i] - key(&moved)[i]).abs() <= d)).map(|(_, part)| *part);
        near(3) == Some(&own.parts[**k as usize])
    });
    let share = same.count() as f32 / count;
    assert!(share > 0.85, "{share}");
}

#[test]
fn a_glb_with_bones_poses_like_the_mannequin_it_was() {
    let bytes = formats::glb(&[workroom::body_mesh(&WOMAN)]);
    let arrival = read_arrival("figure.glb", &bytes).expect("it reads");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    let (own, theirs) = (&WOMAN.figure.rig.skeleton, &found.rig.skeleton);
    assert_eq!(own.bones.len(), theirs.bones.len());
    let (a, b) = (own.index("forearm-left").expect("own"), theirs.index("forearm-left").expect("theirs"));
    assert!(own.bones[a].joint.distance(theirs.bones[b].joint) < 0.02);
    let turn = own.bones[a].rotation([90.0, 0.0, 0.0]);
    let rotations = |count: usize, at: usize| (0..count).map(|k| if k == at { turn } else { glam::DQuat::IDENTITY }).collect::<Vec<_>>();
    let own_posed = WOMAN.figure.stand(&rotations(own.bones.len(), a)).surface;
    let posed = found.stand(&rotations(theirs.bones.len(), b)).surface;
    let shift = glam::Vec3::from(posed.positions[0]) - glam::Vec3::from(own_posed.positions[0]);
    for (p, q) in own_posed.positions.iter().zip(&posed.positions) {
        assert!((glam::Vec3::from(*q) - glam::Vec3::from(*p) - shift).length() < 1e-3);
    }
}

#[test]
fn a_figure_without_bones_moves_like_the_mannequin_it_was() {
    let arrival = read_arrival("figure.obj", obj(&WOMAN.posed.surface, |p| p).as_bytes()).expect("it reads");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    // the file may hold its vertices in another order
    let middle = |all: &[[f32; 3]]| all.iter().map(|p| glam::Vec3::from(*p)).sum::<glam::Vec3>() / all.len() as f32;
    let (own, theirs) = (&WOMAN.figure.surface.positions, &found.surface.positions);
    let shift = middle(theirs) - middle(own);
    let partner = |v: &usize| {
        let off = |w: &usize| (glam::Vec3::from(theirs[*w]) - glam::Vec3::from(own[*v]) - shift).length();
        (0..theirs.len()).min_by(|a, b| off(a).total_cmp(&off(b))).expect("a vertex")
    };
    let pairs: Vec<(usize, usize)> = (0..own.len()).step_by(41).map(|v| (v, partner(&v))).collect();
    for key in ["seated", "stride", "arms-down"] {
        let pose = body::poses().into_iter().find(|p| p.key == key).expect("a pose").pose;
        let own = WOMAN.figure.posed(&pose).expect("a pose").surface.positions;
        let theirs = found.posed(&pose).unwrap_or_else(|e| panic!("{key}: {e}")).surface.positions;
        let shift = middle(&theirs) - middle(&own);
        let off = |(v, w): &(usize, usize)| (glam::Vec3::from(theirs[*w]) - glam::Vec3::from(own[*v]) - shift).length();
        let mut off: Vec<f32> = pairs.iter().map(off).collect();
        off.sort_by(f32::total_cmp);
        let (half, most) = (off[off.len() / 2], off[off.len() * 95 / 100]);
        assert!(half < 0.025 && most < 0.07, "{key}: half of the skin within {half} m, 95 of 100 within {most} m");
    }
}

#[test]
fn a_motion_in_a_glb_is_read_back_frame_by_frame() {
    let pose = |key: &str| body::poses().into_iter().find(|p| p.key == key).expect("a pose").pose;
    let mesh = workroom::body_clip(&WOMAN.figure, &pose("a"), &pose("seated"), 12).expect("a motion");
    let arrival = read_arrival("figure.glb", &formats::glb(&[mesh])).expect("it reads");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    assert_eq!((found.clips.len(), found.clips[0].frames.len()), (1, 12));
    let seated = WOMAN.figure.posed(&pose("seated")).expect("a pose").surface;
    let last = found.stand(&found.clips[0].frames[11]).surface;
    let shift = glam::Vec3::from(last.positions[0]) - glam::Vec3::from(seated.positions[0]);
    let far = seated
        .positions
        .iter()
        .zip(&last.positions)
        .map(|(p, q)| (glam::Vec3::from(*q) - glam::Vec3::from(*p) - shift).length())
        .fold(0.0, f32::max);
    assert!(far < 2e-3, "{far} m");
}

#[test]
fn ply_and_usd_hold_the_same_body_as_obj() {
    let surface = &WOMAN.posed.surface;
    let (n, m) = (surface.positions.len(), surface.triangles.len());
    let mut ply = format!(
        "ply\nformat ascii 1.0\nelement vertex {n}\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nelement face {m}\nproperty list uchar int vertex_indices\nend_header\n"
    );
    let mut little = ply.replace("ascii", "binary_little_endian").into_bytes();
    let mut big = ply.replace("ascii", "binary_big_endian").into_bytes();
    for p in &surface.positions {
        writeln!(ply, "{} {} {} 200", p[0], p[1], p[2]).expect("text");
        p.iter().for_each(|v| little.extend(v.to_le_bytes()));
        p.iter().for_each(|v| big.extend(v.to_be_bytes()));
        little.push(200);
        big.push(200);
    }
    for t in &surface.triangles {
        writeln!(ply, "3 {} {} {}", t[0], t[1], t[2]).expect("text");
        for (bytes, put) in [(&mut little, i32::to_le_bytes as fn(i32) -> [u8; 4]), (&mut big, i32::to_be_bytes)] {
            bytes.push(3);
            t.iter().for_each(|v| bytes.extend(put(*v as i32)));
        }
    }
    let points: Vec<String> =
        surface.positions.iter().map(|p| format!("({}, {}, {})", p[0] * 100.0, -p[2] * 100.0, p[1] * 100.0)).collect();
    let indices: Vec<String> = surface.triangles.iter().flatten().map(u32::to_string).collect();
    let usd = format!(
        "#usda 1.0\n(\n    defaultPrim = \"Body\"\n    metersPerUnit = 0.01\n    upAxis = \"Z\"\n)\n\ndef Xform \"Body\" (\n    kind = \"component\"\n)\n{{\n    double3 xformOp:translate = (0, 0, 50)\n    uniform token[] xformOpOrder = [\"xformOp:translate\"]\n\n    def Mesh \"Skin\"\n    {{\n        int[] faceVertexCounts = [{}]\n        int[] faceVertexIndices = [{}]\n        point3f[] points = [{}]\n        uniform token subdivisionScheme = \"none\"\n    }}\n}}\n",
        vec!["3"; m].join(", "),
        indices.join(", "),
        points.join(", ")
    );
    for (name, bytes) in [("a.ply", ply.into_bytes()), ("b.ply", little), ("c.ply", big), ("d.usda", usd.into_bytes())] {
        let arrival = read_arrival(name, &bytes).unwrap_or_else(|e| panic!("{name}: {e}"));
        let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
        assert_eq!((found.surface.positions.len(), found.surface.triangles.len()), (n, m), "{name}");
        assert!((measured(&found, Measure::Waist) - measured(&WOMAN.figure, Measure::Waist)).abs() < 15.0, "{name}");
        assert!((found.surface.volume() - surface.volume()).abs() < 1e-4, "{name}");
    }
}

#[test]
fn a_damaged_mesh_is_told_and_mended() {
    let surface = &WOMAN.posed.surface;
    let mut broken = surface.clone();
    // faces turned over, a hole, every triangle of one region with its own points, and a loose crumb
    broken.triangles.iter_mut().step_by(9).for_each(|t| t.swap(0, 1));
    broken.triangles.drain(5000..5004);
    for t in 0..500 {
        for k in 0..3 {
            let p = broken.positions[broken.triangles[t][k] as usize];
            broken.triangles[t][k] = broken.positions.len() as u32;
            broken.positions.push(p);
        }
    }
    let crumb = broken.positions.len() as u32;
    broken.positions.extend([[0.5, 0.5, 0.5], [0.52, 0.5, 0.5], [0.5, 0.52, 0.5]]);
    broken.triangles.push([crumb, crumb + 1, crumb + 2]);
    let arrival = read_arrival("broken.obj", obj(&broken, |p| p).as_bytes()).expect("it reads");
    let flaws = &arrival.flaws;
    assert!(flaws.duplicates >= 400 && flaws.flipped > 1000 && flaws.holes >= 1 && flaws.loose == 1, "{flaws:?}");
    assert!(arrival.sheet.mended);
    assert_eq!((arrival.sheet.stance.up, arrival.sheet.stance.front), (Axis::PlusY, Axis::PlusZ), "diagnostics of the mesh do not turn it");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    let (mut edges, mut open) = (HashMap::new(), 0);
    for t in &found.surface.triangles {
        (0..3).for_each(|k| *edges.entry((t[k], t[(k + 1) % 3])).or_insert(0) += 1);
    }
    for ((a, b), n) in &edges {
        open += usize::from(*n != 1 || edges.get(&(*b, *a)) != Some(&1));
    }
    assert_eq!(open, 0, "every edge is walked once in each direction");
    assert!((found.surface.volume() / surface.volume() - 1.0).abs() < 2e-3);
}

#[test]
fn a_heavy_figure_gets_a_light_skin_for_contact_near_the_full_one() {
    let fine = body::mannequin_with(&body::Request::size("woman-38"), 1.0).expect("a body");
    let arrival = read_arrival("fine.obj", obj(&fine.surface, |p| p).as_bytes()).expect("it reads");
    let found = foreign_figure("hash", &arrival.raw, &arrival.sheet).expect("it stands");
    assert_eq!(found.surface.triangles.len(), fine.surface.triangles.len());
    let (skin, source) = found.contact_skin(&found.posed(&body::Pose::default()).expect("it stands"));
    assert!(skin.triangles.len() < 21_000, "{}", skin.triangles.len());
    assert!((skin.volume() / found.surface.volume() - 1.0).abs() < 0.01);
    assert!(source.iter().zip(&skin.positions).all(|(v, p)| found.surface.positions[*v as usize] == *p));
    // every point of the full skin is within two millimetres of the light one
    let far = found.surface.positions.iter().step_by(37).map(|p| {
        let p = glam::DVec3::from(p.map(f64::from));
        body::SurfacePoint::nearest(&skin, p).expect("a skin").at(&skin).distance(p)
    });
    let far = far.fold(0.0, f64::max);
    assert!(far < 0.002, "{far} m");
}

#[test]
fn what_cannot_be_read_is_refused_with_its_reason() {
    let says = |name: &str, bytes: &[u8], words: &str| {
        let refusal = read_arrival(name, bytes).err().unwrap_or_else(|| panic!("{name} was read"));
        assert!(refusal.to_string().contains(words), "{name}: {refusal}");
    };
    says("a.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 7\n", "damaged");
    says("b.obj", b"v 0 0 zero\nf 1 1 1\n", "damaged");
    says("c.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "no numbers");
    says("d.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\n", "only 3 points");
    says(
        "e.ply",
        b"ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n1 1 1\n",
        "only 2 points",
    );
    says("f.ply", b"ply\nformat binary_little_endian 1.0\nelement vertex 900\nproperty float x\nend_header\n", "ends too early");
    says("g.fbx", b"", "ending");
    says("h.glb", b"glTF\x02\0\0\0", "damaged");
    says("i.usda", b"#usda 1.0\ndef Mesh \"a\" {", "damaged");
    let json = r#"{"asset":{"version":"2.0"},"buffers":[{"byteLength":36,"uri":"away.bin"}],"bufferViews":[{"buffer":0,"byteLength":36}],"accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,1]}],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}],"scene":0}"#;
    says("j.gltf", json.as_bytes(), "did not come with it");
    let short = json.replace("away.bin", "data:application/octet-stream;base64,AAAA");
    says("k.gltf", short.as_bytes(), "buffer");
    let big = vec![b' '; formats::figure_limits::FILE_BYTES + 1];
    says("l.obj", &big, "more than");
}

#[test]
fn a_sheet_that_cannot_be_is_refused() {
    let arrival = read_arrival("figure.obj", obj(&WOMAN.posed.surface, |p| p).as_bytes()).expect("it reads");
    let sheet = |change: fn(&mut FigureSheet)| {
        let mut sheet = arrival.sheet.clone();
        change(&mut sheet);
        foreign_figure("hash", &arrival.raw, &sheet).expect_err("refused").to_string()
    };
    assert!(sheet(|s| s.stance.unit = 0.01).contains("1.7 cm tall"));
    assert!(sheet(|s| s.stance.front = s.stance.up).contains("axis"));
    assert!(sheet(|s| s.landmarks = [("tail".to_owned(), [0.0; 3])].into()).contains("tail"));
}
