//! The command line as a script would use it: exit status, messages, files.

use serde_json::Value;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};
use tempfile::TempDir;

fn demo(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo").join(name)
}

fn run(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_ourlet")).args(arguments).output().expect("the binary runs")
}

fn drape(file: &Path, folder: &TempDir, more: &[&str]) -> (Output, Value, Vec<u8>) {
    let at = |name: &str| folder.path().join(name).to_str().expect("a plain path").to_owned();
    let (out, report) = (at("garment.obj"), at("report.json"));
    let mut arguments = vec!["drape", file.to_str().expect("a plain path"), "--out", &out, "--report", &report];
    arguments.extend(more);
    let output = run(&arguments);
    let read = |path: &str| std::fs::read(path).unwrap_or_default();
    (output, serde_json::from_slice(&read(&report)).unwrap_or_default(), read(&out))
}

fn refusal(arguments: &[&str]) -> String {
    let output = run(arguments);
    assert_eq!(output.status.code(), Some(2), "{}", String::from_utf8_lossy(&output.stderr));
    String::from_utf8(output.stderr).expect("text")
}

#[test]
fn a_tabard_drapes_to_rest_with_a_report_the_same_on_one_thread_and_two() {
    let folder = TempDir::new().expect("a folder");
    let body = folder.path().join("body.obj");
    let more = ["--fineness", "40mm", "--threads", "2", "--body-out", body.to_str().expect("a plain path")];
    let (output, report, two) = drape(&demo("rakers-tabard.ourlet.json"), &folder, &more);
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    assert!(output.stdout.is_empty(), "messages go to stderr");
    assert_eq!(report["at_rest"], true);
    for key in ["vertices", "triangles", "simulated_seconds", "wall_seconds"] {
        assert!(report[key].as_f64().is_some_and(|v| v > 0.0), "{key}: {report}");
    }
    let seams = report["seams"].as_array().expect("seams");
    assert!(
        seams.len() == 4 && seams.iter().all(|s| s["tag"].is_string() && s["max_gap_mm"].as_f64().is_some_and(|g| g < 1.0)),
        "{report}"
    );
    assert!(["mean", "p99", "max"].iter().all(|k| report["strain"][k].is_f64()));
    assert_eq!((report["crossings"]["cloth_body"].as_u64(), report["crossings"]["cloth_cloth"].as_u64()), (Some(0), Some(0)));
    assert!(report["deepest_penetration_mm"].as_f64().is_some_and(|d| d < 0.5));
    assert!(std::fs::read_to_string(&body).expect("the body").contains("\nf "));
    let (_, _, one) = drape(&demo("rakers-tabard.ourlet.json"), &folder, &["--fineness", "40mm", "--threads", "1"]);
    assert!(!one.is_empty() && one == two, "one thread and two give the same file");
}

#[test]
fn cloth_that_still_moves_is_written_but_not_a_success() {
    let folder = TempDir::new().expect("a folder");
    let (output, report, garment) = drape(&demo("rakers-tabard.ourlet.json"), &folder, &["--fineness", "50mm", "--limit", "0.1"]);
    assert_eq!(output.status.code(), Some(1));
    assert!(String::from_utf8_lossy(&output.stderr).contains("not at rest"));
    assert_eq!(report["at_rest"], false);
    assert!(!garment.is_empty());
}

#[test]
fn another_body_is_a_word_away() {
    let folder = TempDir::new().expect("a folder");
    let (output, report, _) = drape(&demo("rakers-tabard.ourlet.json"), &folder, &["--fineness", "30mm", "--preset", "man-50"]);
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    assert_eq!(report["body"], "man-50");
}

#[test]
fn bad_requests_say_what_is_wrong_and_write_nothing() {
    let folder = TempDir::new().expect("a folder");
    let file = |name: &str, text: &[u8]| {
        let path = folder.path().join(name);
        std::fs::write(&path, text).expect("written");
        path.to_str().expect("a plain path").to_owned()
    };
    let text = std::fs::read_to_string(demo("rakers-tabard.ourlet.json")).expect("the demo file");
    let tabard = file("tabard.ourlet.json", text.as_bytes());
    let out = folder.path().join("x.obj");
    let out = out.to_str().expect("a plain path");
    let cases = [
        (refusal(&["drape", "/nowhere/at/all.json", "--out", out]), "No such file"),
        (refusal(&["drape", &file("half.json", &text.as_bytes()[..text.len() / 3]), "--out", out]), "cannot be read"),
        (refusal(&["drape", &file("bytes.json", &[0xff, 0xfe, 0x00]), "--out", out]), "not a text file"),
        (refusal(&["drape", &file("huge.json", &vec![b' '; (16 << 20) + 1]), "--out", out]), "more than a costume may have"),
        (refusal(&["drape", &tabard, "--fineness", "2mm", "--out", out]), "from 4mm to 60mm"),
        (refusal(&["drape", &tabard, "--fineness", "coarse", "--out", out]), "no fineness"),
        (refusal(&["drape", &tabard, "--preset", "giant-99", "--out", out]), "woman-38"),
        (refusal(&["drape", &tabard, "--out", "garment.docx"]), ".obj, .glb"),
        (refusal(&["drape", &tabard, "--threads", "64", "--out", out]), "64"),
    ];
    for (message, part) in &cases {
        assert!(message.contains(part), "`{message}` does not say `{part}`");
    }
    assert!(!Path::new(out).exists());
}

#[test]
fn check_tells_a_costume_that_can_hang_from_one_that_cannot() {
    let good = run(&["check", demo("rakers-tabard.ourlet.json").to_str().expect("a plain path")]);
    assert_eq!(good.status.code(), Some(0));
    assert!(String::from_utf8_lossy(&good.stdout).contains("2 pieces, 4 seams, 0 findings"));
    let folder = TempDir::new().expect("a folder");
    let text = std::fs::read_to_string(demo("rakers-tabard.ourlet.json")).expect("the demo file");
    let lost = folder.path().join("lost.json");
    std::fs::write(&lost, text.replace("chest-back", "cloud")).expect("written");
    let bad = run(&["check", lost.to_str().expect("a plain path")]);
    assert_eq!(bad.status.code(), Some(1));
    assert!(String::from_utf8_lossy(&bad.stdout).contains("stops the drape: Back panel there is no station `cloud`"));
    std::fs::write(&lost, text.replace("\"fabrics\"", "\"fabric\"")).expect("written");
    assert_eq!(run(&["check", lost.to_str().expect("a plain path")]).status.code(), Some(2));
}

/// Perimeter of the convex hull of a horizontal section of an OBJ, from nothing but its text; `keep` picks points.
fn girth(obj: &str, height: f64, keep: impl Fn(f64, f64) -> bool) -> f64 {
    let numbers = |line: &str| -> Vec<f64> { line.split_whitespace().skip(1).filter_map(|v| v.split('/').next()?.parse().ok()).collect() };
    let vertices: Vec<Vec<f64>> = obj.lines().filter(|l| l.starts_with("v ")).map(numbers).collect();
    let mut cut: Vec<(f64, f64)> = Vec::new();
    for face in obj.lines().filter(|l| l.starts_with("f ")).map(numbers) {
        for k in 0..3 {
            let (a, b) = (&vertices[face[k] as usize - 1], &vertices[face[(k + 1) % 3] as usize - 1]);
            if (a[1] < height) != (b[1] < height) {
                let t = (height - a[1]) / (b[1] - a[1]);
                let (x, z) = (a[0] + t * (b[0] - a[0]), a[2] + t * (b[2] - a[2]));
                if keep(x, z) {
                    cut.push((x, z));
                }
            }
        }
    }
    // gift wrapping
    let start = cut.iter().copied().min_by(|a, b| a.0.total_cmp(&b.0)).expect("a section");
    let (mut at, mut length) = (start, 0.0);
    loop {
        let turn = |p: (f64, f64), q: (f64, f64)| (p.0 - at.0) * (q.1 - at.1) - (p.1 - at.1) * (q.0 - at.0);
        let next = cut.iter().copied().filter(|p| *p != at).reduce(|best, p| if turn(best, p) < 0.0 { p } else { best }).expect("a point");
        length += (next.0 - at.0).hypot(next.1 - at.1);
        at = next;
        if at == start {
            return length;
        }
    }
}

#[test]
fn a_body_made_to_measure_measures_so_from_its_file_alone() {
    let folder = TempDir::new().expect("a folder");
    let at = |name: &str| folder.path().join(name).to_str().expect("a plain path").to_owned();
    let (out, report) = (at("body.obj"), at("measures.json"));
    let output = run(&["body", "--preset", "woman-40", "--set", "waist=74cm", "--set", "hip=1010mm", "--out", &out, "--report", &report]);
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    let report: Value = serde_json::from_slice(&std::fs::read(report).expect("written")).expect("JSON");
    let obj = std::fs::read_to_string(out).expect("written");
    assert_eq!(report["triangles"].as_u64(), Some(obj.lines().filter(|l| l.starts_with("f ")).count() as u64));
    for (name, asked) in [("waist", 740.0), ("hip", 1010.0)] {
        let lines = report["measures"].as_array().expect("measures");
        let line = lines.iter().find(|l| l["name"] == name).expect("the measure");
        assert_eq!(line["asked_mm"].as_f64(), Some(asked));
        let height = line["height_mm"].as_f64().expect("a height") / 1000.0;
        // the arms hang well away from the trunk
        let taken = 1000.0 * girth(&obj, height, |x, _| x.abs() < 0.24);
        assert!((taken - asked).abs() < 3.0, "{name}: {taken:.1} mm on the file, {asked} asked");
        assert!((line["measured_mm"].as_f64().expect("a number") - taken).abs() < 1.0);
    }
    assert!(refusal(&["body", "--set", "waist=20cm"]).contains("is outside"));
    assert!(refusal(&["body", "--set", "waist=74"]).contains("waist=74cm"));
    assert!(refusal(&["body", "--set", "tail=30cm"]).contains("no measure `tail`"));
    assert!(refusal(&["body", "--preset", "woman-39"]).contains("woman-40"));
    let list = String::from_utf8(run(&["body", "--list"]).stdout).expect("text");
    assert!(list.lines().count() >= 20 && list.contains("child-116") && list.contains("man-60"));
}

fn hostile(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/data").join(name)
}

#[test]
fn open_seams_are_told_and_no_success() {
    let folder = TempDir::new().expect("a folder");
    let (output, report, garment) = drape(&hostile("open-seams.ourlet.json"), &folder, &["--limit", "12"]);
    let told = String::from_utf8(output.stderr).expect("text");
    assert_eq!(output.status.code(), Some(1), "{told}");
    assert!(told.contains("seams open by up to") && !garment.is_empty(), "{told}");
    // the report has the same words
    let words = report["findings"][0]["words"].as_str().expect("a finding");
    assert!(told.contains(words) && report["findings"][0]["kind"] == "open-seams", "{report}");
}

#[test]
fn numbers_beyond_all_sense_are_refused_and_heaps_of_stand_ins_and_misfits_are_draped() {
    let folder = TempDir::new().expect("a folder");
    let grain = hostile("grain.ourlet.json");
    assert!(refusal(&["drape", grain.to_str().expect("a plain path")]).contains("A: cannot have a grain of"));
    // forty stand-ins of three metres: a matter of seconds, not of minutes
    let (output, report, _) = drape(&hostile("standins.ourlet.json"), &folder, &["--limit", "0.1"]);
    assert!(matches!(output.status.code(), Some(0..=2)), "{}", String::from_utf8_lossy(&output.stderr));
    assert!(report.is_null() || report["triangles"].is_u64());
    let (output, report, _) = drape(&hostile("uneven.ourlet.json"), &folder, &["--limit", "0.1"]);
    assert!(matches!(output.status.code(), Some(0 | 1)) && report["findings"].is_array(), "{}", String::from_utf8_lossy(&output.stderr));
}

#[test]
fn who_stops_listening_gets_no_panic() {
    use std::io::Read;
    use std::process::Stdio;
    let mut child = Command::new(env!("CARGO_BIN_EXE_ourlet"))
        .args(["body", "--list"])
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the binary runs");
    drop(child.stdout.take());
    let mut told = String::new();
    child.stderr.take().expect("its messages").read_to_string(&mut told).expect("text");
    assert!(child.wait().is_ok_and(|s| s.success()) && !told.contains("panicked"), "{told}");
}

#[test]
fn a_motion_from_a_file_is_rehearsed_and_written_over_time() {
    let folder = TempDir::new().expect("a folder");
    let at = |name: &str| folder.path().join(name).to_str().expect("a plain path").to_owned();
    let bones = |bend: f64| serde_json::json!({ "bones": { "upper-arm-left": [bend, 0, 0], "upper-arm-right": [0, -20, 0] } });
    let motion = serde_json::json!({ "name": "A wave", "keys": [
        { "time": 0, "pose": bones(0.0) }, { "time": 0.2, "pose": bones(14.0), "way": [0, 0.1] }, { "time": 0.4, "pose": bones(0.0), "way": [0, 0.2], "heading": 8 },
    ] });
    std::fs::write(at("wave.json"), motion.to_string()).expect("written");
    let file = demo("rakers-tabard.ourlet.json");
    let tabard = file.to_str().expect("a plain path");
    let base = ["rehearse", tabard, "--fineness", "45mm", "--lead-in", "6", "--settle", "2", "--motion"];
    fn with<'a>(base: &[&'a str], more: &[&'a str]) -> Vec<&'a str> {
        [base, more].concat()
    }
    let output =
        run(&with(&base, &[&at("wave.json"), "--out", &at("wave.pc2"), "--body-out", &at("body.usda"), "--report", &at("r.json")]));
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    let report: Value = serde_json::from_slice(&std::fs::read(at("r.json")).expect("a report")).expect("JSON");
    // 0.4 s at 24 frames a second and the first, 2 to settle; 6 before
    let frames: Vec<i64> = report["frames"].as_array().expect("frames").iter().filter_map(|f| f["frame"].as_i64()).collect();
    assert_eq!(frames, (-6..13).collect::<Vec<i64>>());
    let cache = std::fs::read(at("wave.pc2")).expect("a cache");
    let int = |k: usize| i32::from_le_bytes(cache[k..k + 4].try_into().expect("four")) as usize;
    let (points, samples) = (int(16), int(28));
    assert_eq!((&cache[..12], samples, cache.len()), (&b"POINTCACHE2\0"[..], 13, 32 + 12 * points * samples));
    // the mesh beside it has as many vertices in the same order, where the first sample has them
    let text = std::fs::read_to_string(at("wave.obj")).expect("an OBJ");
    let places = text.lines().filter_map(|l| l.strip_prefix("v "));
    let first: Vec<f32> = places.flat_map(str::split_whitespace).map(|v| v.parse().expect("a number")).collect();
    assert_eq!(first.len(), 3 * points);
    let float = |k: usize| f32::from_le_bytes(cache[32 + 4 * k..36 + 4 * k].try_into().expect("four"));
    assert!(first.iter().enumerate().all(|(k, v)| (v - float(k)).abs() < 5e-5));
    let body = std::fs::read_to_string(at("body.usda")).expect("a layer");
    assert!(body.contains("endTimeCode = 12") && body.contains("timeCodesPerSecond = 24"));
    assert!(refusal(&with(&base, &["fly"])).contains("slow-dance"), "what there is, is named");
    assert!(refusal(&with(&base, &["walk", "--out", &at("walk.mov")])).contains(".usda"));
    assert!(refusal(&with(&base, &["walk", "--fps", "0"])).contains("1 to 120"));
    assert!(refusal(&with(&base, &["walk", "--wind", "hard"])).contains("4m/s@90"));
    std::fs::write(at("odd.json"), r#"{ "name": "Odd", "keys": [] }"#).expect("written");
    assert!(refusal(&with(&base, &[&at("odd.json")])).contains("1 to 2000"));
}
