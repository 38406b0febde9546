//! Rehearsals in the application: a fault that is planted, found and mended on the time line; workers that are killed.

use e2e::{Desk, Server, Worker, database, turn};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const LONG: Duration = Duration::from_secs(180);

/// A bow so quick that coarse cloth does not get out of its way.
fn quick_bow() -> Value {
    let down = json!({ "bones": { "pelvis": [42, 0, 0], "thigh-left": [48, 0, 0], "thigh-right": [48, 0, 0], "spine-1": [20, 0, 0], "spine-2": [15, 0, 0] } });
    let key = |time: f64, pose: &Value| json!({ "time": time, "pose": pose });
    json!({ "poses": { "name": "Quick bow", "keys": [key(0.0, &json!({ "bones": {} })), key(0.05, &down), key(0.5, &down)] } })
}

/// The tabard with a mesh so coarse that tests are short.
fn coarse_tabard() -> String {
    include_str!("../../demo/rakers-tabard.ourlet.json").replacen("\"fineness\": \"toile\"", "\"fineness\": { \"custom\": 40 }", 1)
}

fn ask(server: &Server, costume: i64, motion: &Value, plan: Value) -> i64 {
    let answer = server.post(&format!("/api/costumes/{costume}/rehearsals"), &json!({ "motion": motion, "plan": plan }));
    answer.json()["id"].as_i64().unwrap_or_else(|| panic!("{}", answer.text()))
}

fn row(server: &Server, rehearsal: i64) -> Value {
    server.get(&format!("/api/rehearsals/{rehearsal}?from=9999")).json()["row"].clone()
}

fn until(what: &str, mut holds: impl FnMut() -> bool) {
    let begun = Instant::now();
    while !holds() {
        assert!(begun.elapsed() < LONG, "{what}");
        std::thread::sleep(Duration::from_millis(40));
    }
}

/// All frames as the browser gets them, without the number of the rehearsal, which every message has.
fn frames(server: &Server, rehearsal: i64, count: i64) -> Vec<Vec<u8>> {
    let plain = |mut bytes: Vec<u8>| {
        let cloth = u32::from_le_bytes(bytes[..4].try_into().expect("a length")) as usize;
        let body = 4 * (4 + cloth).div_ceil(4);
        bytes[8..12].fill(0);
        bytes[body + 8..body + 12].fill(0);
        bytes
    };
    (0..count).map(|k| plain(server.get(&format!("/api/rehearsals/{rehearsal}/frames/{k}")).body)).collect()
}

#[test]
fn a_rehearsal_whose_workers_are_killed_ends_complete_with_the_same_bits() {
    let _turn = turn();
    let database = database();
    let server = Server::start_with(&database, &["--workers", "0"]);
    let costume = server.import(&coarse_tabard());
    let plan = json!({ "lead_in": 14, "settle": 16 });
    let motion = quick_bow();
    let undisturbed = ask(&server, costume, &motion, plan.clone());
    let mut worker = Worker::start(&database);
    until("the first rehearsal ends", || row(&server, undisturbed)["state"] == "done");
    let total = row(&server, undisturbed)["frames"].as_i64().expect("a number");
    assert!(total > 40, "{total} frames");
    worker.kill();

    let disturbed = ask(&server, costume, &motion, plan);
    let done = || row(&server, disturbed)["done"].as_i64().expect("a number");
    // killed while it hangs the costume, and on the way; another one goes on each time
    for until_frame in [0, total / 2] {
        let mut worker = Worker::start(&database);
        until("it gets so far", || done() >= until_frame && row(&server, disturbed)["state"] == "running");
        worker.kill();
        assert!(done() < total, "it was killed on the way");
    }
    let before = done();
    let _worker = Worker::start(&database);
    let mut least = before;
    until("the second rehearsal ends", || {
        least = least.min(done());
        row(&server, disturbed)["state"] == "done"
    });
    // states of cloth as light as this are twelve frames apart
    assert!(least >= before - 12, "it goes on from its last state: {least} after {before}");
    let end = row(&server, disturbed);
    assert_eq!((end["done"].as_i64(), end["bad"].clone()), (Some(total), row(&server, undisturbed)["bad"].clone()));
    assert!(before >= total / 2);
    assert_eq!(frames(&server, undisturbed, total), frames(&server, disturbed, total));
    let reports = |id: i64| server.get(&format!("/api/rehearsals/{id}")).json()["reports"].clone();
    assert_eq!(reports(undisturbed), reports(disturbed));
}

#[test]
fn inner_layers_are_rehearsed_first_and_the_others_over_them_beside_a_thing_from_a_file() {
    let _turn = turn();
    let server = Server::start(&database());
    // the tabard, and over it another one
    let clip: Value = serde_json::from_str(&coarse_tabard().replacen("\"custom\": 40", "\"custom\": 60", 1)).expect("a costume");
    let costume = server.import(&clip.to_string());
    let edit = |key: &str, edit: Value| {
        let answer = server.edit(costume, server.costume(costume)["step"].as_i64().expect("a step"), key, edit);
        assert_eq!(answer.status, 200, "{}", answer.text());
    };
    edit("over", json!({ "do": "paste", "clip": clip, "by": { "x": 1500, "y": 0 } }));
    for k in [2, 3] {
        let piece = server.costume(costume)["costume"]["pieces"][k]["id"].clone();
        edit(&format!("wear {k}"), json!({ "do": "set-wear", "piece": piece, "wear": 2 }));
    }
    let path = format!("/api/costumes/{costume}/rehearsals");
    let ask = |asked: Value| {
        let answer = server.post(&path, &asked);
        answer.json()["id"].as_i64().unwrap_or_else(|| panic!("{}", answer.text()))
    };
    // a pyramid of 40 cm, written in cm
    let pyramid = "v -20 0 -20\nv 20 0 -20\nv 20 0 20\nv -20 0 20\nv 0 40 0\nf 1 2 3 4\nf 2 1 5\nf 3 2 5\nf 4 3 5\nf 1 4 5\n";
    let shape = server.post_bytes("/api/props?name=pyramid.obj", pyramid.as_bytes()).json();
    let highest = shape["mesh"]["positions"].as_array().expect("a mesh").iter().map(|p| p[1].as_f64().expect("m")).fold(0.0, f64::max);
    assert!((highest - 0.2).abs() < 1e-6, "around its middle: {shape}");
    assert_eq!(server.post_bytes("/api/props?name=pyramid.obj", b"v 0 0 0\n").status, 422);
    let thing = json!({ "name": "Pyramid", "shape": shape, "keys": [{ "time": 0, "at": [0.6, 0.2, 0], "turn": 0 }] });
    let plan = json!({ "lead_in": 4, "settle": 2, "props": [thing] });
    let arm = |degrees: f64| json!({ "bones": { "forearm-left": [degrees, 0, 0] } });
    let wave = json!({ "poses": { "name": "Wave", "keys": [{ "time": 0, "pose": arm(0.0) }, { "time": 0.3, "pose": arm(20.0) }] } });
    let inner = ask(json!({ "motion": wave, "plan": plan, "layers": 1 }));
    until("the inner layers are rehearsed", || row(&server, inner)["state"] == "done");
    assert_eq!(row(&server, inner)["layers"].as_i64(), Some(1));
    assert_eq!(row(&server, inner)["plan"]["props"], json!([]), "props do not weigh on the list");
    let outer = ask(json!({ "motion": { "named": "walk" }, "plan": { "props": [thing] }, "beneath": inner }));
    until("the outer ones are rehearsed", || row(&server, outer)["done"].as_i64() > Some(5));
    let state = row(&server, outer);
    assert_eq!((state["beneath"].as_i64(), state["lead_in"].as_i64()), (Some(inner), Some(4)), "{state}");
    assert_eq!(state["frames"], row(&server, inner)["frames"], "in the frames of what lies beneath");
    // thrown away only after what lies over it
    let gone = |id: i64| server.call("DELETE", &format!("/api/rehearsals/{id}")).status;
    assert_eq!(gone(inner), 422);
    let layout = server.get(&format!("/api/rehearsals/{outer}/layout")).body;
    assert!(String::from_utf8_lossy(&layout[4..600]).contains("Pyramid"));
    let file = server.get(&format!("/api/rehearsals/{inner}/deliver/abc")).body;
    assert!(file.starts_with(b"Ogawa\xff"));
    assert_eq!((gone(outer), gone(inner)), (200, 200));
}

#[test]
fn what_is_no_rehearsal_is_refused_and_one_that_is_stopped_keeps_what_is_done() {
    let _turn = turn();
    let database = database();
    let server = Server::start(&database);
    let costume = server.import(&coarse_tabard());
    let path = format!("/api/costumes/{costume}/rehearsals");
    for asked in [
        json!({ "motion": { "named": "fly" }, "plan": {} }),
        json!({ "motion": { "clip": 3 }, "plan": {} }),
        json!({ "motion": { "named": "walk" }, "plan": { "fps": 0 } }),
        json!({ "motion": { "named": "walk" }, "plan": { "lead_in": 1_000_000 } }),
        json!({ "motion": { "named": "walk" }, "plan": { "wind": [{ "time": 0, "speed": 1e300, "from": 0 }] } }),
        json!({ "motion": { "poses": { "name": "Odd", "keys": [] } }, "plan": {} }),
    ] {
        let answer = server.post(&path, &asked);
        assert_eq!(answer.status, 422, "{asked}: {}", answer.text());
    }
    assert_eq!(server.get(&path).json(), json!([]));
    for gone in ["", "/layout", "/frames/0", "/frames/-1", "/deliver/usda"] {
        assert!((400..500).contains(&server.get(&format!("/api/rehearsals/99{gone}")).status), "{gone}");
    }

    let rehearsal = ask(&server, costume, &json!({ "named": "walk" }), json!({ "lead_in": 4, "settle": 4 }));
    until("it begins", || row(&server, rehearsal)["done"].as_i64() > Some(5));
    assert_eq!(server.post(&format!("/api/rehearsals/{rehearsal}/cancel"), &json!({})).status, 200);
    until("it stops", || row(&server, rehearsal)["state"] == "cancelled");
    let done = row(&server, rehearsal)["done"].as_i64().expect("a number");
    let frame = |k: i64| server.get(&format!("/api/rehearsals/{rehearsal}/frames/{k}")).status;
    assert_eq!((frame(done - 1), frame(done)), (200, 404));
    let file = server.get(&format!("/api/rehearsals/{rehearsal}/deliver/usda"));
    assert_eq!(file.text().matches(": [(").count() as i64, 2 * (done - 4), "extent and points of every frame after the lead-in");
    // it goes on where it stopped
    server.post(&format!("/api/rehearsals/{rehearsal}/resume"), &json!({}));
    until("it goes on", || row(&server, rehearsal)["done"].as_i64() > Some(done + 2));
    assert_eq!(server.call("DELETE", &format!("/api/rehearsals/{rehearsal}")).status, 200);
    assert_eq!(server.get(&path).json(), json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_planted_fault_is_found_on_the_time_line_and_mended_by_a_click() {
    let desk = Desk::open(Server::start(&database())).await;
    let id = desk.server.import(&coarse_tabard());
    desk.go(&format!("/costume/{id}")).await;
    // a motion from the list, asked for by pointer; the costume only hangs, so it is draped first
    desk.stage("rehearse").await;
    desk.fill("input[aria-label='Lead-in']", "4").await;
    desk.fill("input[aria-label='Settle']", "4").await;
    desk.click("[aria-label='Motion']").await;
    desk.click_text("[role=option]", "Kneel").await;
    // a ring that goes with a bone and holds an edge picked on the table, and goes again
    desk.click("[data-add-ring]").await;
    desk.click("[aria-label='Goes with']").await;
    desk.click_text("[role=option]", "Pelvis").await;
    desk.click_at(desk.on_edge(101, 102, 0.5).await).await;
    desk.click("[data-hold-edge]").await;
    desk.until_data("holds", "1").await;
    desk.click("[aria-label='Take Ring away']").await;
    desk.until("!document.querySelector('[data-thing]')").await;
    // so few frames are soon made
    desk.click("aside summary").await;
    desk.fill("input[aria-label='Frame rate']", "8").await;
    desk.click("[data-rehearse]").await;
    desk.until_within("document.querySelector('[data-rehearsal]')?.dataset.state === 'done'", LONG).await;
    // the list may know of the last frame before the time line does
    let made = desk.data("rehearsal").await.parse().expect("a number");
    let frames = row(&desk.server, made)["frames"].as_i64().expect("a number");
    desk.until_data("done", &frames.to_string()).await;
    let end = frames - 1;

    // dragged along from end to end, stepped by key, played
    desk.until_data("frame", &end.to_string()).await;
    let strip = desk.middle("[data-strip]").await;
    desk.click_at((strip.0 - 200.0, strip.1)).await;
    let there: i64 = desk.data("frame").await.parse().expect("a number");
    assert!(there > 0 && there < end / 2, "{there} of {end}");
    desk.drag((strip.0 - 200.0, strip.1), (strip.0 + 200.0, strip.1)).await;
    let on_stand = "Number(document.querySelector('[data-frame]').dataset.frame)";
    desk.until(&format!("{on_stand} > {}", end / 2)).await;
    let there: i64 = desk.data("frame").await.parse().expect("a number");
    desk.click("[aria-label='One frame back']").await;
    desk.until_data("frame", &(there - 1).to_string()).await;
    desk.click("[data-play]").await;
    desk.until(&format!("{on_stand} !== {}", there - 1)).await;
    desk.click("[data-play]").await;

    // a fault is planted: cloth as coarse as this, let nearer to the skin than it can be
    let bow = ask(&desk.server, id, &quick_bow(), json!({ "lead_in": 4, "settle": 4, "clearance": -2.0 }));
    until("the bow ends", || row(&desk.server, bow)["state"] == "done");
    let planted = row(&desk.server, bow)["bad"].as_i64().expect("a number");
    assert!(planted > 0, "cloth this coarse crosses");
    desk.client.refresh().await.expect("a reload");
    desk.stage("rehearse").await;
    desk.click(&format!("[data-rehearsal='{bow}'] button")).await;
    desk.until_data("faults", &planted.to_string()).await;
    desk.click("[data-next-fault]").await;
    desk.until("document.querySelector('[data-cause]')").await;
    let frame = desk.data("frame").await;
    let marked = format!("document.querySelector(\"[data-mark=fault][data-at='{frame}']\")");
    desk.until(&marked).await;

    // kept as a fitting, with its crossings
    desk.click("[data-keep-frame]").await;
    desk.fill("[role=dialog] input", "Where it fails").await;
    desk.until("!document.querySelector('[role=dialog]')").await;
    until("it is kept", || {
        let fittings = desk.server.get(&format!("/api/costumes/{id}/fittings")).json();
        fittings[0]["name"] == "Where it fails" && fittings[0]["crossings"].as_i64() > Some(0)
    });

    // mended from ten frames before
    desk.click("[data-mend]").await;
    desk.until(&format!("document.querySelector('[data-rehearsal]').dataset.rehearsal > {bow}")).await;
    desk.until_within("document.querySelector('[data-rehearsal]').dataset.state === 'done'", LONG).await;
    let list = desk.server.get(&format!("/api/costumes/{id}/rehearsals")).json();
    assert_eq!((list[0]["begun_with"].as_i64(), list[1]["id"].as_i64()), (Some(bow), Some(bow)));
    assert_ne!(list[0]["plan"], list[1]["plan"], "it was tried otherwise");
    assert!(list[0]["bad"].as_i64() <= list[1]["bad"].as_i64(), "{list}");

    // and delivered
    desk.click("[data-deliver-motion]").await;
    let file = desk.downloaded("rakers-tabard-quick-bow.usda").await;
    assert!(String::from_utf8_lossy(&file).contains("timeCodesPerSecond = 24"));
}
