//! The body stage: poses by joint and ring, tapes over the skin, what collides, figures from elsewhere.

use e2e::{Desk, desk};
use serde_json::Value;
use std::io::Write as _;

async fn body(desk: &Desk, id: i64) -> Value {
    desk.server.costume(id)["costume"]["body"].clone()
}

async fn tab(desk: &Desk, name: &str) {
    desk.click(&format!("[data-body-tab={name}]")).await;
    desk.until("document.querySelector('[data-passes]')").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_joint_is_turned_by_its_ring_and_by_its_slider_and_the_pose_is_kept() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("body").await;
    tab(&desk, "pose").await;

    // the elbow by name, then a ring of it on the stand
    desk.click("button[aria-label=Joint]").await;
    desk.click_text("[role=option]", "Forearm, left").await;
    desk.until("document.querySelector('[data-joint=forearm-left]')").await;
    let stand = desk.middle("[data-stand]").await;
    // the left elbow is to the right of the middle and above it
    let joint = desk.grip((stand.0 + 100.0, stand.1 - 95.0), 0.0, 80.0, "pointer").await;
    let ring = desk.grip(joint, 20.0, 70.0, "pointer").await;
    desk.drag(ring, (ring.0 + 25.0, ring.1 + 25.0)).await;
    desk.until_step(1).await;
    let turned = body(&desk, id).await;
    let pose = turned["pose"].as_object().expect("a pose");
    assert_eq!(pose.len(), 1, "{turned}");
    let angles = pose.values().next().and_then(Value::as_array).expect("angles").clone();
    assert!(angles.iter().any(|a| a.as_f64().is_some_and(|v| v != 0.0)), "{angles:?}");

    // the slider stops at what an elbow can do
    desk.fill("[data-joint=forearm-left] [data-freedom='0'] input", "999").await;
    desk.until_step(2).await;
    assert_eq!(body(&desk, id).await["pose"]["forearm-left"][0], 145.0);
    desk.click("[data-other-side]").await;
    desk.until_step(3).await;
    let both = body(&desk, id).await;
    assert_eq!(both["pose"]["forearm-left"], both["pose"]["forearm-right"]);

    desk.click("[data-keep-pose]").await;
    desk.fill("[role=dialog] input", "Salt carrier").await;
    desk.until_step(4).await;
    assert_eq!(desk.server.costume(id)["costume"]["poses"][0]["name"], "Salt carrier");
    desk.until("document.querySelector('[data-stage=body] [data-words]').innerText.includes('Salt carrier')").await;

    desk.click("button[aria-label=Pose]").await;
    desk.click_text("[role=option]", "Seated").await;
    desk.until_step(5).await;
    assert_eq!(body(&desk, id).await["pose"]["shin-left"][0], 84.0);
    desk.click("[data-reset-pose]").await;
    desk.until_step(6).await;
    assert!(body(&desk, id).await.get("pose").is_none());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tape_is_laid_over_the_skin_and_kept_with_the_costume() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("body").await;
    tab(&desk, "tape").await;
    desk.until("document.querySelectorAll('aside [class*=justify-between]').length > 10").await;
    desk.click("[data-start-tape]").await;
    let stand = desk.middle("[data-stand]").await;
    desk.click_at((stand.0 - 15.0, stand.1 - 90.0)).await;
    desk.until("document.querySelector('[data-laying]').dataset.laying === '1'").await;
    desk.click_at((stand.0 - 15.0, stand.1 + 30.0)).await;
    desk.until("document.querySelector('[data-laying]').innerText.includes('cm')").await;
    desk.click("[data-lay]").await;
    desk.until_step(1).await;
    let tape = desk.server.costume(id)["costume"]["tapes"][0].clone();
    assert_eq!((tape["name"].as_str(), tape["points"].as_array().map(Vec::len)), (Some("Tape 1"), Some(2)));
    desk.until("Number(document.querySelector('[data-length]')?.dataset.length) > 0").await;
    let mm: f64 = desk.data("length").await.parse().expect("a number");
    let point = |k: usize| [0, 1, 2].map(|c| tape["points"][k][c].as_f64().expect("mm"));
    let (a, b) = (point(0), point(1));
    let straight = (0..3).map(|k| (a[k] - b[k]).powi(2)).sum::<f64>().sqrt();
    assert!(mm >= straight - 0.5 && mm < 1.4 * straight, "{mm} mm over a distance of {straight} mm");
    desk.click("aside [aria-label='Take Tape 1 off']").await;
    desk.until_step(2).await;
    assert!(desk.server.costume(id)["costume"].get("tapes").is_none());
}

#[tokio::test(flavor = "multi_thread")]
async fn parts_are_left_out_and_a_stand_in_takes_their_place() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("body").await;
    tab(&desk, "contact").await;
    // while no piece hangs near them, hands are passed through, and the stand says so
    assert_eq!(desk.data("passes").await, "hand-left hand-right");
    desk.click("[aria-label='Hand, left meets cloth']").await;
    desk.until_step(1).await;
    assert_eq!(body(&desk, id).await["contact"]["parts"]["hand-left"]["left_out"], false);
    desk.until("document.querySelector('[data-passes]').dataset.passes === 'hand-right'").await;
    desk.click("[aria-label='Foot, right meets cloth']").await;
    desk.until_step(2).await;
    desk.until("document.querySelector('[data-passes]').dataset.passes.includes('foot-right')").await;

    desk.click("[data-add-stand-in]").await;
    desk.until_step(3).await;
    desk.fill("input[aria-label=Width]", "40").await;
    desk.until_step(4).await;
    let shape = body(&desk, id).await["contact"]["shapes"][0].clone();
    assert_eq!(
        (shape["shape"].as_str(), shape["bone"].as_str(), shape["size"][0].as_f64()),
        (Some("capsule"), Some("pelvis"), Some(200.0))
    );
    desk.click("[data-remove-stand-in]").await;
    desk.until_step(5).await;
    assert!(body(&desk, id).await["contact"].get("shapes").is_none());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_figure_is_brought_mended_corrected_and_shared() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    // the mannequin itself, in centimetres and lying on its back, with a hole
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("marsh walker.obj");
    std::fs::write(&file, lying_figure(&desk)).expect("a file");
    desk.stage("body").await;
    desk.until("document.querySelector('[data-figure-file]')").await;
    desk.choose_file("[data-figure-file]", &file).await;
    desk.until_step(1).await;
    desk.until("document.querySelector('[data-flaw=holes]')").await;
    let hash = body(&desk, id).await["figure"].as_str().expect("a hash").to_owned();
    let figure = desk.server.get(&format!("/api/figures/{hash}")).json();
    assert_eq!((figure["sheet"]["stance"]["up"].as_str(), figure["sheet"]["stance"]["unit"].as_f64()), (Some("+z"), Some(0.01)));
    assert_eq!((figure["flaws"]["holes"].as_i64(), figure["sheet"]["mended"].as_bool()), (Some(1), Some(true)));
    assert!((figure["height"].as_f64().expect("mm") - 1680.0).abs() < 2.0);
    desk.until("document.querySelector('[data-stage=body] [data-words]').innerText.includes('marsh walker')").await;

    // another height is another figure; undo brings the first one back
    desk.fill("input[aria-label=Height]", "150").await;
    desk.until_step(2).await;
    let smaller = body(&desk, id).await["figure"].as_str().expect("a hash").to_owned();
    assert_ne!(smaller, hash);
    assert!((desk.server.get(&format!("/api/figures/{smaller}")).json()["height"].as_f64().expect("mm") - 1500.0).abs() < 2.0);
    desk.click_text("header button", "Undo").await;
    desk.until_step(1).await;
    assert_eq!(body(&desk, id).await["figure"], *hash);

    // the file is stored once and offered to other costumes
    let again = desk.server.post_bytes("/api/figures?name=marsh%20walker.obj", &std::fs::read(&file).expect("the file"));
    assert_eq!(again.json()["hash"], *hash);
    assert_eq!(desk.server.get("/api/figures").json().as_array().map(Vec::len), Some(1));

    // what cannot be read is refused and leaves the body as it is
    let cloud = folder.path().join("cloud.obj");
    std::fs::write(&cloud, "v 0 0 0\nv 1 1 1\nv 0 1 0\n").expect("a file");
    desk.choose_file("[data-figure-file]", &cloud).await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('only 3 points')").await;
    assert_eq!(body(&desk, id).await["figure"], *hash);
}

fn lying_figure(desk: &Desk) -> Vec<u8> {
    let id = desk.server.find("Raker's tabard");
    let asked = serde_json::json!({ "body": { "preset": "woman-38" }, "share": 0 });
    let bytes = desk.server.post(&format!("/api/costumes/{id}/body"), &asked).body;
    let word = |at: usize| <[u8; 4]>::try_from(&bytes[at..at + 4]).expect("four bytes");
    let head = u32::from_le_bytes(word(0)) as usize;
    let shown: Value = serde_json::from_slice(&bytes[4..4 + head]).expect("JSON");
    let (n, m) = (shown["vertices"].as_u64().expect("a count") as usize, shown["triangles"].as_u64().expect("a count") as usize);
    let positions = 4 + head;
    let triangles = positions + n * 24;
    let mut text = Vec::new();
    for v in 0..n {
        let [x, y, z] = [0, 1, 2].map(|k| 100.0 * f32::from_le_bytes(word(positions + 12 * v + 4 * k)));
        writeln!(text, "v {x} {} {y}", -z).expect("text");
    }
    for t in 1..m {
        let [a, b, c] = [0, 1, 2].map(|k| u32::from_le_bytes(word(triangles + 12 * t + 4 * k)) + 1);
        writeln!(text, "f {a} {b} {c}").expect("text");
    }
    text
}
