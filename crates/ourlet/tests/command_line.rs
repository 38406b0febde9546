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
    assert!(String::from_utf8_lossy(&output.stderr).contains("still moving"));
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
        (refusal(&["drape", &file("huge.json", &vec![b' '; (4 << 20) + 1]), "--out", out]), "more than a costume may have"),
        (refusal(&["drape", &tabard, "--fineness", "2mm", "--out", out]), "from 4mm to 60mm"),
        (refusal(&["drape", &tabard, "--fineness", "coarse", "--out", out]), "no fineness"),
        (refusal(&["drape", &tabard, "--preset", "giant-99", "--out", out]), "woman-38"),
        (refusal(&["drape", &tabard, "--out", "garment.stl"]), ".obj or .glb"),
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
    std::fs::write(&lost, text.replace("\"corners\"", "\"corner\"")).expect("written");
    assert_eq!(run(&["check", lost.to_str().expect("a plain path")]).status.code(), Some(2));
}
