//! What the trade sews, from JSON through the command line: each costume is made from a demo costume by a list of edits
//! (`ourlet edit`), draped to rest, free of crossings, with all that is sewn closed to a millimetre.

use serde_json::{Value, json};
use std::path::{Path, PathBuf};
use std::process::{Command, Output};
use tempfile::TempDir;

fn demo(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo").join(name)
}

fn run(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_ourlet")).args(arguments).output().expect("the binary runs")
}

/// The demo costume after the edits, as a file in the folder.
fn edited(folder: &TempDir, base: &str, edits: &Value) -> (Output, PathBuf) {
    let (list, out) = (folder.path().join("edits.json"), folder.path().join("edited.ourlet.json"));
    std::fs::write(&list, edits.to_string()).expect("written");
    let base = demo(base);
    let paths = [&base, &list, &out].map(|p| p.to_str().expect("a plain path"));
    (run(&["edit", paths[0], "--do", paths[1], "--out", paths[2]]), out)
}

/// Drapes the demo costume after the edits and returns its report.
fn draped(base: &str, edits: &Value, fineness: &str) -> Value {
    let folder = TempDir::new().expect("a folder");
    let (made, costume) = edited(&folder, base, edits);
    assert_eq!(made.status.code(), Some(0), "{}", String::from_utf8_lossy(&made.stderr));
    let report = folder.path().join("report.json");
    let paths = [&costume, &report].map(|p| p.to_str().expect("a plain path"));
    let output = run(&["drape", paths[0], "--fineness", fineness, "--report", paths[1]]);
    let report: Value = serde_json::from_slice(&std::fs::read(&report).unwrap_or_default()).unwrap_or_default();
    assert_eq!(output.status.code(), Some(0), "{}{report:#}", String::from_utf8_lossy(&output.stderr));
    assert_eq!(report["at_rest"], true);
    assert_eq!((&report["crossings"]["cloth_body"], &report["crossings"]["cloth_cloth"]), (&json!(0), &json!(0)));
    for seam in report["seams"].as_array().expect("seams") {
        assert!(seam["max_gap_mm"].as_f64().is_some_and(|g| g < 1.0), "{seam}");
    }
    report
}

const TABARD: &str = "rakers-tabard.ourlet.json";
/// The first id that edits of the tabard give.
const NEXT: i64 = 147;

fn point(x: f64, y: f64) -> Value {
    json!({ "x": x, "y": y })
}

fn rectangle(width: f64, height: f64) -> Value {
    json!([point(0.0, 0.0), point(width, 0.0), point(width, height), point(0.0, height)])
}

/// A rectangle of its own on the tabard's chest, worn over it; lines of a piece are numbered after it.
fn laid_on(name: &str, size: (f64, f64), up: f64, piece: i64) -> Vec<Value> {
    let place = json!({ "station": "chest-front", "shift": point(0.0, up), "turn": 0 });
    vec![
        json!({ "do": "add-piece", "name": name, "at": point(0.0, 1500.0), "points": rectangle(size.0, size.1) }),
        json!({ "do": "set-wear", "piece": piece, "wear": 2 }),
        json!({ "do": "place", "piece": piece, "placement": place }),
    ]
}

#[test]
fn a_panel_with_a_round_hole() {
    // four quarters of a circle of 60 mm, each a cubic with handles of 0.5523 times the radius
    let (r, k) = (60.0, 60.0 * 0.5523);
    let at = |a: f64, b: f64| point(a, b + 300.0);
    let quarter = |from: (f64, f64), leave: (f64, f64), arrive: (f64, f64)| json!({ "x": from.0, "y": from.1 + 300.0, "handles": [at(leave.0, leave.1), at(arrive.0, arrive.1)] });
    let circle = json!([
        quarter((r, 0.0), (r, k), (k, r)),
        quarter((0.0, r), (-k, r), (-r, k)),
        quarter((-r, 0.0), (-r, -k), (-k, -r)),
        quarter((0.0, -r), (k, -r), (r, -k)),
    ]);
    draped(TABARD, &json!([{ "do": "add-cutout", "piece": 101, "points": circle }]), "20mm");
}

#[test]
fn a_dart_sewn_shut() {
    // the hem is split beside its middle and in it; the middle goes up to the tip
    let split = |line: i64, at: f64| json!({ "do": "split-line", "piece": 101, "line": line, "fraction": at, "by_length": true });
    // each split gives a node, a line and the hem along it
    let (first, second, tip) = (NEXT + 1, NEXT + 7, NEXT + 6);
    let edits = json!([
        split(102, 0.45),
        split(first, 0.1 / 0.55),
        split(first, 0.5),
        { "do": "straighten-line", "piece": 101, "line": first },
        { "do": "straighten-line", "piece": 101, "line": second },
        { "do": "move-node", "piece": 101, "node": tip, "to": point(0.0, 80.0) },
        { "do": "sew", "a": [{ "piece": 101, "line": first }], "b": [{ "piece": 101, "line": second, "from": 1, "to": 0 }] },
    ]);
    draped(TABARD, &edits, "20mm");
}

#[test]
fn a_pocket_on_three_sides_with_a_fringe_on_its_foot() {
    let mut edits = laid_on("Pocket", (150.0, 170.0), -330.0, NEXT);
    let fringe = NEXT + 5;
    edits.extend(laid_on("Fringe", (150.0, 60.0), -450.0, fringe));
    let foot = fringe + 5;
    let corners = [(-75.0, 400.0), (-75.0, 230.0), (75.0, 230.0), (75.0, 400.0)].map(|(x, y)| json!({ "at": point(x, y) }));
    edits.push(json!({ "do": "add-inside", "piece": 101, "points": corners, "purpose": { "placement": { "of": NEXT } } }));
    // path, four nodes, then its lines: down the left side, along the foot, up the right side
    let [left, across, right] = [foot + 5, foot + 6, foot + 7];
    let run = |piece: i64, line: i64| json!({ "piece": piece, "line": line });
    let back = |piece: i64, line: i64| json!({ "piece": piece, "line": line, "from": 1, "to": 0 });
    edits.push(json!({
        "do": "sew",
        "a": [run(101, left), run(101, across), run(101, right)],
        "b": [run(NEXT, NEXT + 4), run(NEXT, NEXT + 1), run(NEXT, NEXT + 2)],
    }));
    // a second seam on the pocket's foot
    edits.push(json!({ "do": "sew", "a": [run(NEXT, NEXT + 1)], "b": [back(fringe, fringe + 3)] }));
    draped(TABARD, &json!(edits), "20mm");
}

#[test]
fn a_waistband_on_four_pieces_by_one_seam() {
    let file: Value =
        serde_json::from_str(&std::fs::read_to_string(demo("sluice-keepers-breeches.ourlet.json")).expect("a demo")).expect("JSON");
    let seams = file["seams"].as_array().expect("seams");
    let turned = |run: &Value| {
        let share = |key: &str, usual: f64| run[key].as_f64().unwrap_or(usual);
        json!({ "piece": run["piece"], "line": run["line"], "from": share("to", 1.0), "to": share("from", 0.0) })
    };
    let (mut edits, mut band, mut legs) = (Vec::new(), Vec::new(), Vec::new());
    // each leg is sewn to its stretch of the band, which is walked backwards; now they are one seam
    for (piece, line) in [(133, 134), (133, 135), (139, 140), (139, 141)] {
        let seam = seams.iter().find(|s| s["b"][0]["piece"] == piece && s["b"][0]["line"] == line).expect("a seam");
        edits.push(json!({ "do": "unpick", "seam": seam["id"] }));
        band.push(turned(&seam["b"][0]));
        legs.push(turned(&seam["a"][0]));
    }
    edits.push(json!({ "do": "sew", "a": band, "b": legs }));
    draped("sluice-keepers-breeches.ourlet.json", &json!(edits), "20mm");
}

#[test]
fn a_zip_half_open() {
    // the left side of the tabard, closed from the waist up
    let edits = json!([{ "do": "close-seam", "seam": 122, "closure": { "open": 0.5 } }]);
    draped(TABARD, &edits, "20mm");
}

#[test]
fn a_twin_is_sewn_and_draped_with_its_partner() {
    // half a front and its twin, sewn to each other in the middle; both go to the back by one seam each and its image
    let half =
        json!([point(0.0, -150.0), point(440.0, -150.0), point(282.0, 620.0), point(185.0, 925.0), point(85.0, 960.0), point(0.0, 880.0)]);
    let (piece, twin) = (NEXT, NEXT + 7);
    let place = |x: f64| json!({ "station": "chest-front", "shift": point(x, -330.0), "turn": 0 });
    let run = |piece: i64, line: i64| json!({ "piece": piece, "line": line });
    let back = |line: i64| json!({ "piece": 110, "line": line, "from": 1, "to": 0 });
    let edits = json!([
        { "do": "remove-piece", "piece": 101 },
        { "do": "add-piece", "name": "Half front", "at": point(0.0, 0.0), "points": half },
        { "do": "place", "piece": piece, "placement": place(220.0) },
        { "do": "add-twin", "piece": piece, "at": point(-600.0, 0.0) },
        { "do": "sew", "a": [run(piece, NEXT + 6)], "b": [run(twin, NEXT + 6)] },
        // shoulder and side on both sides of the body
        { "do": "sew", "a": [run(piece, NEXT + 4)], "b": [back(116)] },
        { "do": "sew", "a": [run(piece, NEXT + 2)], "b": [back(118)] },
        { "do": "sew", "a": [{ "piece": twin, "line": NEXT + 4, "from": 1, "to": 0 }], "b": [back(114)] },
        { "do": "sew", "a": [{ "piece": twin, "line": NEXT + 2, "from": 1, "to": 0 }], "b": [back(112)] },
    ]);
    draped(TABARD, &edits, "20mm");
}

#[test]
fn a_frill_gathered_three_to_one() {
    let (piece, width, sewn) = (NEXT, 900.0, 300.0);
    // the hem is a curve of 885.15 mm; the frill goes to its middle
    let share = sewn / 885.15;
    let place = json!({ "station": "hips-front", "shift": point(0.0, -560.0), "turn": 0 });
    let edits = json!([
        { "do": "add-piece", "name": "Frill", "at": point(0.0, 1500.0), "points": rectangle(width, 200.0) },
        { "do": "place", "piece": piece, "placement": place },
        { "do": "sew", "a": [{ "piece": 101, "line": 102, "from": 0.5 - share / 2.0, "to": 0.5 + share / 2.0 }],
          "b": [{ "piece": piece, "line": piece + 3, "from": 1, "to": 0 }] },
    ]);
    let report = draped(TABARD, &edits, "20mm");
    // cloth that is gathered is not pressed together: pleats finer than the mesh take its length up
    assert!(report["strain"]["p99"].as_f64().is_some_and(|s| s < 0.06), "{}", report["strain"]);
}

#[test]
fn a_shirt_with_collar_cuffs_and_a_pocket() {
    // long sleeves close around the wrist, the pocket lies on its placement line, the collar falls over its stand
    let report = draped("brine-carriers-shirt.ourlet.json", &json!([]), "toile");
    assert_eq!(report["findings"], json!([]), "{}", report["findings"]);
}

#[test]
fn a_refused_edit_is_named_with_its_number_and_nothing_is_written() {
    let folder = TempDir::new().expect("a folder");
    let edits = json!([{ "do": "rename-costume", "name": "Short tabard" }, { "do": "remove-node", "piece": 101, "node": 999 }]);
    let (output, out) = edited(&folder, TABARD, &edits);
    assert_eq!(output.status.code(), Some(2));
    let message = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(message.contains("edit 2: corner: is no longer part of the costume"), "{message}");
    assert!(!out.exists());
    let (garbled, _) = edited(&folder, TABARD, &json!([{ "do": "fly" }]));
    assert!(String::from_utf8_lossy(&garbled.stderr).contains("unknown variant `fly`"));
}

/// A block of a size through the command line to its drape.
fn block(recipe: &str, preset: &str, values: &[&str]) {
    let folder = TempDir::new().expect("a folder");
    let (costume, report) = (folder.path().join("block.ourlet.json"), folder.path().join("report.json"));
    let paths = [&costume, &report].map(|p| p.to_str().expect("a plain path"));
    let mut arguments = vec!["block", recipe, "--preset", preset, "--out", paths[0]];
    arguments.extend(values.iter().flat_map(|v| ["--value", *v]));
    assert_eq!(run(&arguments).status.code(), Some(0));
    let output = run(&["drape", paths[0], "--fineness", "30mm", "--report", paths[1]]);
    let told = String::from_utf8_lossy(&output.stderr).into_owned();
    assert_eq!(output.status.code(), Some(0), "{recipe} on {preset}: {told}");
    let report: Value = serde_json::from_slice(&std::fs::read(&report).expect("a report")).expect("JSON");
    assert_eq!(
        (&report["at_rest"], &report["crossings"]["cloth_body"], &report["crossings"]["cloth_cloth"]),
        (&json!(true), &json!(0), &json!(0))
    );
    let gaps = report["seams"].as_array().expect("seams");
    assert!(gaps.iter().all(|s| s["max_gap_mm"].as_f64().is_some_and(|g| g < 1.0)), "{recipe} on {preset}: {gaps:?}");
}

#[test]
fn blocks_drape_as_they_come() {
    block("tee", "child-104", &["length=420", "sleeve=150"]);
    block("bodice", "woman-38", &[]);
    block("straight-skirt", "woman-46", &[]);
    block("waist-tube", "man-50", &["flare=1600", "tilt=60"]);
    block("arm-tube", "teen-164", &["flare=90"]);
    block("neck-disc", "child-104", &["share=100"]);
}

/// The skirt was drafted for another size; it is drafted anew for the one it is draped on.
#[test]
fn a_costume_of_a_block_is_drafted_for_the_size_that_it_is_draped_on() {
    let folder = TempDir::new().expect("a folder");
    let (skirt, report) = (demo("gull-skirt.ourlet.json"), folder.path().join("report.json"));
    let paths = [&skirt, &report].map(|p| p.to_str().expect("a plain path"));
    let output = run(&["drape", paths[0], "--preset", "woman-46", "--fineness", "30mm", "--report", paths[1]]);
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
}

#[test]
fn a_pattern_is_written_at_true_scale_and_recipes_are_listed() {
    let folder = TempDir::new().expect("a folder");
    let out = folder.path().join("tabard.svg");
    let tabard = demo(TABARD);
    let paths = [&tabard, &out].map(|p| p.to_str().expect("a plain path"));
    assert_eq!(run(&["pattern", paths[0], "--out", paths[1]]).status.code(), Some(0));
    let text = std::fs::read_to_string(&out).expect("written");
    // the view is as many units wide as the sheet is millimetres
    let number = |after: &str| -> f64 {
        text.split(after).nth(1).and_then(|t| t.split(['m', ' ', '"']).next()).and_then(|t| t.parse().ok()).expect("a number")
    };
    let view: Vec<f64> = text
        .split("viewBox=\"")
        .nth(1)
        .and_then(|t| t.split('"').next())
        .expect("a view")
        .split(' ')
        .filter_map(|n| n.parse().ok())
        .collect();
    assert!((number("width=\"") - view[2]).abs() < 1e-9 && view[2] > 1700.0 && text.contains("Front panel"), "{view:?}");
    // on sheets of paper, and off a roll that is wide enough
    let sheets = folder.path().join("tabard.pdf");
    let print = |paper: &str| run(&["print", paths[0], "--out", sheets.to_str().expect("a plain path"), "--paper", paper]);
    assert_eq!(print("a4").status.code(), Some(0));
    assert!(std::fs::read(&sheets).expect("printed").starts_with(b"%PDF"));
    assert_eq!(print("roll:300cm").status.code(), Some(0));
    for (paper, word) in [("roll:20cm", "a roll of 200 mm"), ("roll:2cm", "is no paper"), ("bark", "is no paper")] {
        let refused = print(paper);
        assert!(refused.status.code() == Some(2) && String::from_utf8_lossy(&refused.stderr).contains(word), "{paper}");
    }
    let listed = run(&["block", "list"]);
    assert!(String::from_utf8_lossy(&listed.stdout).contains("straight-skirt"));
    let refused = run(&["block", "tee", "--value", "length=9000"]);
    assert!(refused.status.code() != Some(0) && String::from_utf8_lossy(&refused.stderr).contains("length from the shoulder of 9000"));
}

/// From a wanted ease to the changed pattern, its sheet, a run over sizes, and the garment's mesh judged.
/// A reader of its own, with exact whole numbers, finds the same crossings in delivered files: none in a clean one, and as many in one
/// on a body that is too large for it and in one that was laid over itself once more.
fn outside_reader_counts_the_same(at: &dyn Fn(&str) -> String, mesh: &str) {
    let text = std::fs::read_to_string(mesh).expect("the garment");
    let count = text.lines().filter(|l| l.starts_with("v ")).count();
    let again: Vec<String> = text.lines().filter_map(|l| shifted(l, count)).collect();
    let twice = at("twice.obj");
    std::fs::write(&twice, format!("{text}\no again\n{}\n", again.join("\n"))).expect("written");
    let script = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/outside/crossings.mjs");
    for (garment, size, planted) in
        [(mesh, "woman-38", [false, false]), (mesh, "man-50", [false, true]), (&twice, "woman-38", [true, true])]
    {
        let (body, report) = (at("body.obj"), at("mesh.json"));
        assert_eq!(run(&["body", "--preset", size, "--out", &body]).status.code(), Some(0));
        run(&["check", garment, "--body", size, "--report", &report]);
        let ours: Value = serde_json::from_slice(&std::fs::read(&report).expect("a report")).expect("JSON");
        let read = std::process::Command::new("node").arg(&script).args([garment, &body]).output().expect("node runs");
        let theirs: Value = serde_json::from_slice(&read.stdout).unwrap_or_else(|_| panic!("{}", String::from_utf8_lossy(&read.stderr)));
        for (k, kind) in ["cloth_cloth", "cloth_body"].into_iter().enumerate() {
            assert_eq!(
                (&ours[kind], &ours["pairs"][k]),
                (&theirs[kind]["places"], &theirs[kind]["pairs"]),
                "{kind} of {garment} on {size}"
            );
            assert_eq!(ours["pairs"][k].as_u64() > Some(0), planted[k], "{kind} of {garment} on {size}: {ours}");
        }
    }
}

/// A vertex two centimetres aside, a face of such vertices; nothing for other lines.
fn shifted(line: &str, count: usize) -> Option<String> {
    let mut words = line.split(' ');
    match words.next()? {
        "v" => {
            let p: Vec<f32> = words.map(|w| w.parse().expect("a number")).collect();
            Some(format!("v {} {} {}", p[0] + 0.0213, p[1] + 0.0117, p[2] + 0.0031))
        }
        "f" => {
            let corner = |w: &str| w.split('/').next().and_then(|v| v.parse::<usize>().ok()).map(|v| (v + count).to_string());
            Some(format!("f {}", words.map(|w| corner(w).expect("a corner")).collect::<Vec<_>>().join(" ")))
        }
        _ => None,
    }
}

#[test]
fn a_skirt_is_fitted_to_an_ease_and_judged_on_paper_over_sizes_and_as_a_mesh() {
    let folder = TempDir::new().expect("a folder");
    let at = |name: &str| folder.path().join(name).to_str().expect("a plain path").to_owned();
    let skirt = demo("gull-skirt.ourlet.json");
    let (fitted, sheet, report, mesh) = (at("fitted.ourlet.json"), at("sheet.pdf"), at("check.json"), at("skirt.obj"));
    let skirt = skirt.to_str().expect("a plain path");
    let fit = run(&["fit", skirt, "--ease", "waist=5cm", "--fineness", "36mm", "--out", &fitted]);
    let told = String::from_utf8_lossy(&fit.stdout).into_owned();
    assert_eq!(fit.status.code(), Some(0), "{told}{}", String::from_utf8_lossy(&fit.stderr));
    assert!(told.contains("ease at the waist: +") && told.contains("Waistband front"), "{told}");

    // what was written has it: within the range, and not in a narrower one
    let judged = |range: &str| run(&["check", &fitted, "--wanted", range, "--report", &report, "--sheet", &sheet]);
    assert_eq!(judged("waist=4.2..5.8cm").status.code(), Some(0));
    let found: Value = serde_json::from_slice(&std::fs::read(&report).expect("a report")).expect("JSON");
    let ease = found["report"]["girths"][0]["ease"].as_f64().expect("an ease");
    assert!((42.0..58.0).contains(&ease) && found["weight"].as_f64().is_some_and(|w| w > 1.0), "{found}");
    assert!(std::fs::read(&sheet).expect("a sheet").starts_with(b"%PDF"));
    let tight = run(&["check", &fitted, "--wanted", "waist=10..14cm"]);
    assert!(tight.status.code() == Some(1) && String::from_utf8_lossy(&tight.stderr).contains("too tight"));

    let sizes =
        run(&["sizes", skirt, "--bodies", "woman-38,man-50", "--fineness", "40mm", "--report", &report, "--pictures", &at("pictures")]);
    assert_eq!(sizes.status.code(), Some(0), "{}", String::from_utf8_lossy(&sizes.stderr));
    let rows: Value = serde_json::from_slice(&std::fs::read(&report).expect("a report")).expect("JSON");
    assert!(rows.as_array().is_some_and(|r| r.len() == 2 && r.iter().all(|r| r["report"]["at_rest"] == true)), "{rows}");
    assert_eq!(std::fs::read_dir(at("pictures")).expect("pictures").count(), 2);

    assert_eq!(run(&["drape", skirt, "--fineness", "40mm", "--out", &mesh]).status.code(), Some(0));
    let whole = run(&["check", &mesh, "--body", "woman-38"]);
    assert_eq!(whole.status.code(), Some(0), "{}", String::from_utf8_lossy(&whole.stderr));
    assert!(String::from_utf8_lossy(&whole.stdout).contains("in 1 parts"));
    let other = run(&["check", &mesh, "--body", "man-50"]);
    assert!(other.status.code() == Some(1) && String::from_utf8_lossy(&other.stderr).contains("with the body"));
    outside_reader_counts_the_same(&at, &mesh);
    let thick = at("thick.ply");
    let deliver =
        run(&["deliver", skirt, "--fineness", "40mm", "--out", &thick, "--thick", "1.2mm", "--side", "both", "--unit", "cm", "--z-up"]);
    assert_eq!(deliver.status.code(), Some(0), "{}", String::from_utf8_lossy(&deliver.stderr));
    let manifest: Value = serde_json::from_slice(&std::fs::read(at("thick.manifest.json")).expect("a manifest")).expect("JSON");
    assert_eq!((manifest["options"]["thickness"].as_f64(), manifest["files"][0].as_str()), (Some(1.2), Some("thick.ply")));
    // two sizes on cloth of 140 cm: within it, and most of it used
    let (plan, drawn) = (at("plan.json"), at("plan.svg"));
    let lay = ["lay", skirt, "--bodies", "woman-38,woman-46", "--rounds", "40", "--report", &plan, "--out", &drawn];
    assert_eq!(run(&lay).status.code(), Some(0));
    let plans: Value = serde_json::from_slice(&std::fs::read(&plan).expect("a plan")).expect("JSON");
    let (pieces, used) = (plans[0]["pieces"].as_array().expect("pieces"), plans[0]["used"].as_f64().expect("a share"));
    assert!(pieces.len() >= 8 && used > 0.5 && used < 1.0, "{} pieces, {used}", pieces.len());
    let outlines = pieces.iter().flat_map(|p| p["outline"].as_array().expect("an outline"));
    assert!(outlines.clone().all(|p| p[0].as_f64().is_some_and(|x| (-1e-6..=1400.0).contains(&x))));
    assert!(std::fs::read_to_string(&drawn).expect("a drawing").matches("<path").count() == pieces.len());
    for (arguments, word) in [
        (vec!["lay", skirt, "--width", "20cm"], "does not fit on cloth"),
        (vec!["deliver", skirt, "--out", "a.glb", "--unit", "cm"], "GLB is in metres"),
        (vec!["deliver", skirt, "--out", "a.ply", "--side", "under"], "no side"),
        (vec!["fit", skirt, "--ease", "waist=much"], "no length"),
        (vec!["fit", skirt, "--ease", "wing=5cm"], "no measure"),
        (vec!["fit", skirt, "--ease", "waist=5cm", "--change", "tee:ease"], "no block `tee`"),
        (vec!["sizes", skirt, "--bodies", "giant-90"], "no size `giant-90`"),
        (vec!["check", skirt, "--wanted", "waist=9..2cm"], "more than the most"),
        (vec!["check", &mesh, "--sheet", &sheet], "are for costumes"),
    ] {
        let refused = run(&arguments);
        assert!(refused.status.code() == Some(2) && String::from_utf8_lossy(&refused.stderr).contains(word), "{arguments:?}");
    }
}
