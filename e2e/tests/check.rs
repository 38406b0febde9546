//! Judging in the application: fitting to an ease, a run over sizes whose worker is killed, fittings beside each other, notes, the
//! sheet, and the mends of a crossing.

use e2e::{Server, Worker, database, desk};
use fantoccini::key::Key;
use serde_json::{Value, json};
use std::time::{Duration, Instant};

/// A demo costume with triangles of so many mm.
fn coarse(text: &str, mm: f64) -> String {
    let mut costume: Value = serde_json::from_str(text).expect("a costume");
    costume["fineness"] = json!({ "custom": mm });
    costume.to_string()
}

const SKIRT: &str = include_str!("../../demo/gull-skirt.ourlet.json");

#[tokio::test(flavor = "multi_thread")]
async fn a_skirt_is_fitted_to_an_ease_compared_noted_and_put_on_paper() {
    let desk = desk().await;
    let id = desk.server.import(&coarse(SKIRT, 36.0));
    desk.go(&format!("/costume/{id}")).await;
    desk.stage("drape").await;
    desk.until_activity(&["hung"]).await;
    desk.click("[data-run]").await;
    desk.until_activity(&["at-rest"]).await;
    // to the beginning of the last ten seconds (Home on the slider), and on from there
    desk.click("[aria-label='Wind back']").await;
    desk.key('\u{e011}').await;
    desk.until("Number(document.querySelector('[data-past]')?.dataset.back) > 3").await;
    desk.until_activity(&["paused"]).await;
    desk.click("[data-run]").await;
    desk.until_activity(&["at-rest"]).await;
    desk.click("[data-main]").await;
    desk.fill("[role=dialog] input", "As drafted").await;
    desk.until("document.querySelector('[data-fitting]')").await;

    desk.stage("check").await;
    desk.until("document.querySelector('[data-girth=waist]')").await;
    let grades = desk.text("[data-grade='beyond its stretch']").await;
    assert!(grades.contains("0.0 %"), "flannel is not stretched: {grades}");
    // more room is wanted than there is
    desk.click("[data-check-tab=fit]").await;
    desk.click("[data-wanted=waist] input").await;
    desk.until_step(1).await;
    desk.click("[data-check-tab=findings]").await;
    desk.until("document.querySelector('[data-girth=waist] [data-side=tight]')").await;
    desk.until_activity(&["at-rest"]).await;

    // the pattern is changed until it is there; taking it is a step of its own
    desk.click("[data-check-tab=fit]").await;
    desk.fill("[aria-label='Wanted ease']", "6").await;
    desk.click("[data-fit]").await;
    desk.until_within("document.querySelector('[data-job]')?.dataset.state === 'done'", Duration::from_secs(180)).await;
    let told = desk.text("[data-job]").await;
    assert!(told.contains("before") && told.contains("ease at the waist") && told.contains("Waistband front"), "{told}");
    assert_eq!(desk.server.costume(id)["step"], 1, "nothing is taken before the designer says so");
    desk.click("[data-take-fit]").await;
    desk.until_step(2).await;
    desk.stage("drape").await;
    desk.until_activity(&["at-rest"]).await;
    desk.click("[data-main]").await;
    desk.fill("[role=dialog] input", "Fitted").await;
    desk.until("document.querySelectorAll('[data-fitting]').length === 2").await;
    desk.stage("check").await;
    desk.click("[data-check-tab=findings]").await;
    desk.until("document.querySelector('[data-girth=waist]') && !document.querySelector('[data-side=tight]')").await;

    // both beside each other, and how far one lies from the other
    desk.click("[data-check-tab=compare]").await;
    desk.click("label:has([data-compare-fitting]) [data-compare-fitting]").await;
    desk.click("label:nth-of-type(2) [data-compare-fitting]").await;
    desk.until("document.querySelector('[data-compare]')?.dataset.drawn === '2'").await;
    let table = desk.text("[data-measures='2']").await;
    let waist = table.lines().find_map(|row| row.strip_prefix("waist, ease")?.split_whitespace().next()?.parse::<f64>().ok());
    assert!(waist.is_some_and(|cm| (cm - 6.0).abs() < 0.4), "{table}");
    desk.click("[aria-label=Show]").await;
    desk.click_text("[role=option]", "the difference").await;
    desk.until("document.querySelector('[data-legend]')").await;

    // a note stays with its piece; the sheet holds it
    desk.click("[data-check-tab=findings]").await;
    let piece = desk.server.costume(id)["costume"]["pieces"][0]["id"].clone();
    desk.click(&format!("[data-piece='{piece}']")).await;
    desk.fill("[data-note-text]", "Let the hem down by a finger").await;
    desk.until_step(3).await;
    desk.until("document.querySelector('[data-note]')?.innerText.includes('Let the hem down')").await;
    desk.until_activity(&["at-rest"]).await;
    desk.click("[data-sheet=json]").await;
    let sheet: Value = serde_json::from_slice(&desk.downloaded("gull-skirt-fitting.json").await).expect("JSON");
    assert_eq!(sheet["notes"][0][1], "Let the hem down by a finger", "{sheet}");
    desk.click("[data-sheet=pdf]").await;
    assert!(desk.downloaded("gull-skirt-fitting.pdf").await.starts_with(b"%PDF"));
    desk.click("[data-read-mesh]").await;
    desk.until("document.querySelector('[data-mesh]')?.innerText.includes('Nothing is doubled')").await;
    desk.click("[data-note] input").await;
    desk.until_step(4).await;
    assert_eq!(desk.server.costume(id)["costume"]["notes"][0]["done"], true);
    // one at a place of the cloth lies there on the table too
    desk.click("[data-noting]").await;
    desk.click_at(desk.middle("[data-stand]").await).await;
    desk.until("document.querySelector('[data-note-place]')?.dataset.notePlace").await;
    desk.fill("[data-note-text]", "Press the fold here").await;
    desk.until_step(5).await;
    desk.until("document.querySelectorAll('[data-note-mark]').length === 1").await;
    let note = desk.server.costume(id)["costume"]["notes"][1].clone();
    assert!(note["text"] == "Press the fold here" && note["at"]["y"].as_f64().is_some_and(|y| y != 0.0), "{note}");

    // lab numbers become the values of the fabric
    desk.stage("drape").await;
    desk.click("[data-lab-open]").await;
    desk.fill("[data-lab-number=weight] input", "220").await;
    desk.click("[data-lab-fit]").await;
    desk.until_within("document.querySelector('[data-residuals]')", Duration::from_secs(90)).await;
    desk.click("[data-lab-take]").await;
    desk.until_step(6).await;
    assert_eq!(desk.server.costume(id)["costume"]["fabrics"][0]["own"]["density"], 220.0);
    // in the laboratory it stands first; another cloth is put on the bench
    desk.click("[data-open-laboratory]").await;
    desk.click("[data-lab-cloth=calico] button").await;
    desk.click("[data-lab-one]").await;
    desk.until_within("document.querySelector('[data-lab-cloth=calico]')?.dataset.labDone === 'yes'", Duration::from_secs(90)).await;
    let told = desk.text("[data-lab-chosen=calico]").await;
    assert!(told.contains("folds") && told.contains("Sag, bias") && told.contains("Slides at"), "{told}");

    // the pieces are laid on cloth in two sizes, and the cutter goes around every one of them
    desk.key(Key::Escape.into()).await;
    desk.stage("deliver").await;
    desk.click("[data-open-laying]").await;
    desk.click("[data-lay-size='woman-46']").await;
    desk.click("[data-lay-pieces]").await;
    desk.until_within("document.querySelector('[data-plan]')?.dataset.plan === '8'", Duration::from_secs(90)).await;
    let figures = desk.text("[data-plan-figures]").await;
    assert!(figures.contains("140.0 cm wide") && figures.contains("8 pieces"), "{figures}");
    desk.click("[data-play-cutter]").await;
    desk.until_within("document.querySelector('[data-plan]')?.dataset.cut === '8'", Duration::from_secs(90)).await;
    desk.click("[data-plan-svg]").await;
    let drawn = String::from_utf8(desk.downloaded("laying-plan.svg").await).expect("text");
    assert!(drawn.starts_with("<svg") && drawn.matches("<path").count() == 8 && drawn.contains("Woman 46"), "{}", &drawn[..200]);
}

fn until(what: &str, mut is: impl FnMut() -> bool) {
    let begun = Instant::now();
    while !is() {
        assert!(begun.elapsed() < Duration::from_secs(180), "waited in vain: {what}");
        std::thread::sleep(Duration::from_millis(50));
    }
}

#[test]
fn a_run_over_sizes_is_taken_up_after_its_worker_was_killed_and_what_is_done_outlives_a_stop() {
    let database = database();
    let server = Server::start_with(&database, &["--workers", "0"]);
    let costume = server.import(&coarse(SKIRT, 45.0));
    let jobs = || server.get(&format!("/api/costumes/{costume}/jobs")).json();
    let job = |id: &Value| jobs().as_array().expect("jobs").iter().find(|j| j["id"] == *id).cloned().expect("the job");
    let ask = |bodies: &[&str]| {
        let bodies: Vec<Value> = bodies.iter().map(|b| json!({ "preset": b })).collect();
        let answer = server.post(&format!("/api/costumes/{costume}/jobs"), &json!({ "kind": "sizes", "bodies": bodies }));
        assert_eq!(answer.status, 200, "{}", answer.text());
        answer.json()[0]["id"].clone()
    };
    let sizes = ["woman-38", "man-50", "woman-46"];
    let (undisturbed, disturbed) = (ask(&sizes), ask(&sizes));
    {
        let mut worker = Worker::start(&database);
        until("the first run ends, and one body of the second is done", || job(&disturbed)["done"].as_i64() >= Some(1));
        worker.kill();
    }
    assert!(job(&disturbed)["done"].as_i64() < Some(3), "it was killed on the way");
    let _worker = Worker::start(&database);
    until("another worker ends it", || job(&disturbed)["state"] == "done");
    assert_eq!(job(&undisturbed)["results"], job(&disturbed)["results"], "the same to the bit");
    let picture = |id: &Value, part: usize| server.get(&format!("/api/jobs/{id}/parts/{part}/picture")).body;
    assert!(picture(&undisturbed, 2).starts_with(b"\x89PNG") && picture(&undisturbed, 2) == picture(&disturbed, 2));

    // a stop keeps what is done; it goes on from there
    let stopped = ask(&["woman-38", "man-50", "woman-46", "man-56", "child-140"]);
    until("one body is done", || job(&stopped)["done"].as_i64() >= Some(1));
    assert_eq!(server.post(&format!("/api/jobs/{stopped}/cancel"), &json!(null)).status, 200);
    until("it stops", || job(&stopped)["state"] == "cancelled");
    let kept = job(&stopped)["results"].as_array().expect("results").len();
    assert!((1..5).contains(&kept), "{kept} of 5 bodies");
    assert_eq!(server.post(&format!("/api/jobs/{stopped}/resume"), &json!(null)).status, 200);
    until("it goes on", || job(&stopped)["results"].as_array().expect("results").len() > kept);
    assert_eq!(server.call("DELETE", &format!("/api/jobs/{stopped}")).status, 200);
    assert_eq!(jobs().as_array().expect("jobs").len(), 2);

    // what cannot be is refused whole
    for asked in [
        json!({ "kind": "sizes", "bodies": [] }),
        json!({ "kind": "sizes", "bodies": [{ "preset": "giant-90" }] }),
        json!({ "kind": "sizes", "bodies": vec![json!({ "preset": "man-50" }); 61] }),
        json!({ "kind": "ease", "asked": { "wanted": [], "free": [] } }),
        json!({ "kind": "ease", "asked": { "wanted": [{ "measure": "waist", "ease": 1e9 }], "free": [] } }),
        json!({ "kind": "lay", "sizes": [], "options": { "width": 1400, "gap": 3, "nap": false, "rounds": 40 } }),
        json!({ "kind": "lay", "sizes": [{ "preset": "man-50" }], "options": { "width": 1e9, "gap": 3, "nap": false, "rounds": 40 } }),
        json!({ "kind": "lay", "sizes": [{ "preset": "man-50" }], "options": { "width": 1400, "gap": 3, "nap": false, "rounds": 1e6 } }),
        json!({ "kind": "cloths", "cloths": [] }),
        json!({ "kind": "cloths", "cloths": [{ "swatch": "spider-silk" }] }),
        json!({ "kind": "cloths", "cloths": [{ "swatch": "calico", "own": { "density": 1e12 } }] }),
        json!({ "kind": "wings" }),
    ] {
        let answer = server.post(&format!("/api/costumes/{costume}/jobs"), &asked);
        assert!((400..500).contains(&answer.status), "{asked}: {}", answer.status);
    }
    assert_eq!(jobs().as_array().expect("jobs").len(), 2);
}
