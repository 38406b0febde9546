//! The application's answers: history that lasts, edits that count once, bad input that loses nothing.

use e2e::{Cluster, Server, database, request, send};
use serde_json::{Value, json};
use std::net::TcpListener;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::Duration;

const TABARD: &str = "Raker's tabard";
/// Costumes of the demo.
const DEMO: usize = 8;

fn moved(state: &Value, x: f64) -> Value {
    json!({ "do": "move-piece", "piece": state["costume"]["pieces"][0]["id"], "at": { "x": x, "y": 0.0 } })
}

fn at(state: &Value) -> f64 {
    state["costume"]["pieces"][0]["at"]["x"].as_f64().expect("a position")
}

fn names(server: &Server) -> Vec<String> {
    let rail = server.get("/api/rail").json();
    let list = |p: &Value| {
        p["costumes"].as_array().expect("costumes").iter().map(|c| c["name"].as_str().expect("a name").to_owned()).collect::<Vec<_>>()
    };
    rail.as_array().expect("productions").iter().flat_map(list).collect()
}

#[test]
fn the_demo_is_loaded_once_and_kept() {
    let database = database();
    let mut server = Server::start(&database);
    let rail = server.get("/api/rail").json();
    assert_eq!(rail[0]["name"], "The Salt Garden");
    let found = names(&server);
    assert!(found.len() == DEMO && found.contains(&TABARD.to_owned()), "{found:?}");
    let id = server.find(TABARD);
    server.call("DELETE", &format!("/api/costumes/{id}"));
    server.kill();
    assert_eq!(names(&Server::start(&database)).len(), DEMO - 1, "a second start brings nothing back");
}

#[test]
fn undo_and_redo_walk_along_a_history_that_survives_a_restart() {
    let database = database();
    let mut server = Server::start(&database);
    let id = server.find(TABARD);
    for k in 1..=3 {
        let state = server.costume(id);
        let answer = server.edit(id, k - 1, &format!("k{k}"), moved(&state, 100.0 * k as f64));
        assert_eq!(answer.status, 200, "{}", answer.text());
    }
    // sent again because the answer was lost, it counts once
    for _ in 0..2 {
        assert_eq!(server.travel(id, "undo", 3, "back").status, 200);
        assert_eq!(at(&server.costume(id)), 200.0);
    }
    // asked for on a step that has passed, it is not carried out
    let stale = server.travel(id, "undo", 3, "late");
    assert_eq!((stale.status, at(&server.costume(id))), (409, 200.0));
    server.kill();
    let server = Server::start(&database);
    let state = server.costume(id);
    assert_eq!((at(&state), state["step"].as_i64(), state["can_redo"].as_bool()), (200.0, Some(2), Some(true)));
    server.travel(id, "redo", 2, "on");
    assert_eq!(at(&server.costume(id)), 300.0);
    for k in 0..5 {
        server.travel(id, "undo", (3 - k).max(0), &format!("back {k}"));
    }
    let state = server.costume(id);
    assert_eq!((at(&state), state["step"].as_i64(), state["can_undo"].as_bool()), (0.0, Some(0), Some(false)));
    // a new step begins a branch; the steps that were taken back stay and can be returned to
    server.edit(id, 0, "other", moved(&state, -50.0));
    let state = server.costume(id);
    assert_eq!((at(&state), state["step"].as_i64(), state["can_redo"].as_bool()), (-50.0, Some(4), Some(false)));
    let steps = server.get(&format!("/api/costumes/{id}/history")).json();
    let parents: Vec<Option<i64>> = steps.as_array().expect("steps").iter().map(|s| s["parent"].as_i64()).collect();
    assert_eq!(parents, [Some(0), Some(2), Some(1), Some(0), None], "the newest first");
    assert_eq!(server.post(&format!("/api/costumes/{id}/go"), &json!({ "base": 4, "key": "go", "step": 2 })).status, 200);
    let state = server.costume(id);
    assert_eq!((at(&state), state["step"].as_i64(), state["can_redo"].as_bool()), (200.0, Some(2), Some(true)));
    // redo leads on along the branch that was returned to
    server.travel(id, "undo", 2, "one back");
    server.travel(id, "undo", 1, "two back");
    server.travel(id, "redo", 0, "on again");
    assert_eq!(at(&server.costume(id)), 100.0);
    let nowhere = server.post(&format!("/api/costumes/{id}/go"), &json!({ "base": 1, "key": "nowhere", "step": 99 }));
    assert_eq!(nowhere.status, 404, "{}", nowhere.text());
}

/// What a window makes of a change that is told against the state it knows.
fn merged(mut state: Value, change: &Value) -> Value {
    assert_eq!(state["step"], change["since"]);
    let list = |old: &Value, change: &Value| {
        let mut list = old.as_array().expect("a list").clone();
        list.resize(change["count"].as_u64().expect("a count") as usize, Value::Null);
        for entry in change["changed"].as_array().expect("changes") {
            list[entry[0].as_u64().expect("a place") as usize] = entry[1].clone();
        }
        Value::Array(list)
    };
    let mut costume = change["rest"].clone();
    for key in ["pieces", "seams"] {
        costume[key] = list(&state["costume"][key], &change[key]);
        state["pattern"][key] = list(&state["pattern"][key], &change[&format!("shown_{key}")]);
    }
    state["costume"] = costume;
    for key in ["step", "version", "can_undo", "can_redo", "diagnostics"] {
        state[key] = change[key].clone();
    }
    state
}

#[test]
fn only_what_changed_is_told_and_a_window_that_was_away_catches_up() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let whole = |id| server.costume(id);
    let first = whole(id);
    let mut known = first.clone();
    let (a, b) = (&first["costume"]["pieces"][0], &first["costume"]["pieces"][1]);
    let edits = [
        moved(&first, 40.0),
        json!({ "do": "move-node", "piece": b["id"], "node": b["shape"]["drawn"]["nodes"][0]["id"], "to": { "x": 3.0, "y": -4.0 } }),
        json!({ "do": "add-twin", "piece": a["id"], "at": { "x": 900.0, "y": 0.0 } }),
        json!({ "do": "rename-costume", "name": "Tabard of two" }),
        json!({ "do": "remove-piece", "piece": a["id"] }),
    ];
    for (k, edit) in edits.iter().enumerate() {
        let told = server.edit(id, k as i64, &format!("e{k}"), edit.clone());
        assert_eq!(told.status, 200, "{}", told.text());
        let told = told.json();
        if k == 0 {
            assert_eq!(told["pieces"]["changed"].as_array().map(Vec::len), Some(1), "only the piece that moved");
            assert_eq!(told["shown_pieces"]["changed"].as_array().map(Vec::len), Some(1));
        }
        known = merged(known, &told);
        assert_eq!(known, whole(id), "after {}", edit["do"]);
    }
    let told = server.travel(id, "undo", 5, "back").json();
    assert_eq!(merged(known, &told), whole(id));
    // a window that has seen nothing since it was opened
    let missed = server.get(&format!("/api/costumes/{id}?since=0")).json();
    assert_eq!(merged(first, &missed), whole(id));
    assert_eq!(server.get(&format!("/api/costumes/{id}?since=77")).json()["is"], "whole", "no such step");
}

#[test]
fn an_edit_sent_twice_counts_once_and_a_stale_one_is_not_carried_out() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let state = server.costume(id);
    for _ in 0..2 {
        let answer = server.edit(id, 0, "same key", moved(&state, 70.0));
        assert_eq!((answer.status, answer.json()["step"].as_i64()), (200, Some(1)));
    }
    let stale = server.edit(id, 0, "another key", moved(&state, 90.0));
    assert_eq!(stale.status, 409);
    assert!(stale.json()["refusal"]["remedy"].as_str().is_some_and(|m| !m.is_empty()));
    assert_eq!(at(&server.costume(id)), 70.0);
}

#[test]
fn refused_edits_name_the_item_and_change_nothing() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let before = server.costume(id);
    let piece = &before["costume"]["pieces"][0];
    let (p, edge) = (&piece["id"], &piece["shape"]["drawn"]["outline"][0]);
    let this = json!({ "piece": p, "line": edge });
    let cases = [
        (json!({ "do": "join", "a": this, "b": this }), "Front panel, edge 1", "sewn to itself"),
        (json!({ "do": "move-node", "piece": p, "node": edge, "to": { "x": 0.0, "y": 5000.0 } }), "Front panel", "would cross"),
        (
            json!({ "do": "add-piece", "name": "Dot", "at": { "x": 0, "y": 0 }, "points": [{ "x": 0, "y": 0 }, { "x": 0, "y": 0 }, { "x": 9, "y": 9 }] }),
            "Dot",
            "would have no length",
        ),
        (json!({ "do": "choose-body", "body": { "preset": "giant-99" } }), "body", "giant-99"),
        (
            json!({ "do": "place", "piece": p, "placement": { "station": "tail", "shift": { "x": 0, "y": 0 }, "turn": 0 } }),
            "Front panel",
            "tail",
        ),
    ];
    for (k, (edit, item, reason)) in cases.into_iter().enumerate() {
        let answer = server.edit(id, 0, &format!("bad {k}"), edit);
        let refusal = &answer.json()["refusal"];
        assert_eq!(answer.status, 422, "{}", answer.text());
        assert!(refusal["item"].as_str().is_some_and(|t| t.contains(item)), "{refusal}");
        assert!(refusal["reason"].as_str().is_some_and(|t| t.contains(reason)), "{refusal}");
        assert!(refusal["remedy"].as_str().is_some_and(|t| !t.is_empty()), "{refusal}");
    }
    let nonsense = server.post(&format!("/api/costumes/{id}/edits"), &json!({ "base": 0, "key": "x", "edit": { "do": "explode" } }));
    assert!((400..500).contains(&nonsense.status));
    assert_eq!(server.costume(id), before);
}

#[test]
fn what_the_database_could_not_take_is_refused_with_a_reason() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let before = server.costume(id);
    let move_it = moved(&before, 5.0);
    let hash = "a\u{0}b".repeat(22);
    let body = json!({ "do": "choose-body", "body": { "preset": "woman-38", "figure": hash } });
    let station = json!({ "station": "chest\u{0}", "shift": { "x": 0, "y": 0 }, "turn": 0 });
    let answers = [
        server.edit(id, 0, &"k".repeat(5000), move_it.clone()),
        server.edit(id, 0, "a\u{0}b", move_it.clone()),
        server.edit(id, 0, "", move_it),
        server.edit(id, 0, "name", json!({ "do": "rename-costume", "name": "a\u{0}b" })),
        server.edit(id, 0, "figure", body),
        server.edit(id, 0, "place", json!({ "do": "place", "piece": 101, "placement": station })),
        server.post("/api/productions", &json!({ "name": "a\u{0}b" })),
        server.post("/api/costumes", &json!({ "production": 1, "name": "\u{7}" })),
        server.travel(id, "undo", 0, &"k".repeat(5000)),
        server.get("/api/figures/a%00b"),
    ];
    for (k, answer) in answers.iter().enumerate() {
        assert_eq!(answer.status, 422, "request {k}: {}", answer.text());
        assert!(answer.json()["refusal"]["remedy"].as_str().is_some_and(|t| !t.is_empty()), "request {k}: {}", answer.text());
    }
    assert_eq!(server.costume(id), before);
}

#[test]
fn one_unreadable_document_leaves_the_others_on_the_rail() {
    let database = database();
    let server = Server::start(&database);
    let id = server.find(TABARD);
    let spoil = format!("UPDATE revisions SET document = '{{\"name\": \"Later build\", \"format\": 9}}' WHERE costume = {id}");
    assert!(std::process::Command::new("psql").args(["-q", &database, "-c", &spoil]).status().is_ok_and(|s| s.success()));
    let rail = server.get("/api/rail").json();
    let all = rail[0]["costumes"].as_array().expect("costumes");
    let (bad, good): (Vec<&Value>, Vec<&Value>) = all.iter().partition(|c| c["unreadable"] == true);
    assert_eq!((bad.len(), bad[0]["name"].as_str(), good.len()), (1, Some("Later build"), DEMO - 1));
    // the card is drawn from outlines, not from whole documents; the practice sheet has no pieces yet
    let is_drawn = |c: &Value| c["name"] == "Tracing practice" || c["flat"]["pieces"].as_array().is_some_and(|p| !p.is_empty());
    assert!(good.iter().all(|c| c.get("costume").is_none() && is_drawn(c)));
    assert_eq!(server.get(&format!("/api/costumes/{id}")).status, 500);
}

#[test]
fn two_windows_that_edit_at_once_lose_nothing() {
    let server = std::sync::Arc::new(Server::start(&database()));
    let id = server.find(TABARD);
    let done = std::sync::Arc::new(AtomicI64::new(0));
    let windows: Vec<_> = (0..2)
        .map(|window| {
            let (server, done) = (server.clone(), done.clone());
            std::thread::spawn(move || {
                let mut base = 0;
                for k in 0..40 {
                    let name = format!("{window}-{k}");
                    // as the browser does: a stale step is made again on the newest state, with the same key
                    loop {
                        let points = json!([{ "x": 0, "y": 0 }, { "x": 50, "y": 0 }, { "x": 0, "y": 50 }]);
                        let edit = json!({ "do": "add-piece", "name": name, "at": { "x": 0, "y": 0 }, "points": points });
                        let answer = server.edit(id, base, &name, edit);
                        let state = if answer.status == 409 { server.costume(id) } else { answer.json() };
                        base = state["step"].as_i64().expect("a step");
                        if answer.status == 200 {
                            done.fetch_add(1, Ordering::Relaxed);
                            break;
                        }
                        assert_eq!(answer.status, 409, "{}", answer.text());
                    }
                }
            })
        })
        .collect();
    windows.into_iter().for_each(|w| w.join().expect("a window"));
    let state = server.costume(id);
    let pieces = state["costume"]["pieces"].as_array().expect("pieces");
    let kept = |window: usize| (0..40).all(|k| pieces.iter().any(|p| p["name"] == format!("{window}-{k}").as_str()));
    assert!(kept(0) && kept(1) && done.load(Ordering::Relaxed) == 80);
    assert_eq!((state["step"].as_i64(), state["version"].as_i64()), (Some(80), Some(80)));
}

#[test]
fn the_rail_renames_duplicates_removes_and_puts_back() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let copy = server.call("POST", &format!("/api/costumes/{id}/duplicate"));
    assert_eq!(copy.status, 200, "{}", copy.text());
    assert_eq!(names(&server).len(), DEMO + 1);
    server.call("DELETE", &format!("/api/costumes/{id}"));
    assert!(!names(&server).contains(&TABARD.to_owned()));
    assert_eq!(server.get(&format!("/api/costumes/{id}")).status, 404);
    assert_eq!(server.edit(id, 0, "late", json!({ "do": "rename-costume", "name": "Ghost" })).status, 404);
    server.call("POST", &format!("/api/costumes/{id}/restore"));
    assert!(names(&server).contains(&TABARD.to_owned()));
    let production = server.get("/api/rail").json()[0]["id"].clone();
    let made = server.post("/api/costumes", &json!({ "production": production, "name": "Marsh hood" })).json();
    assert_eq!(made["costume"]["pieces"], json!([]));
    assert_eq!(server.post("/api/costumes", &json!({ "production": production, "name": " " })).status, 422);
    assert_eq!(server.post("/api/costumes", &json!({ "production": 987_654, "name": "Lost" })).status / 100, 4);
}

#[test]
fn the_open_file_comes_back_whole_and_damaged_ones_are_refused_whole() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let file = server.get(&format!("/api/costumes/{id}/file")).text();
    let production = server.get("/api/rail").json()[0]["id"].clone();
    let import = |text: &str| server.post("/api/costumes/import", &json!({ "production": production, "text": text }));
    let again = import(&file);
    assert_eq!(again.json()["costume"], server.costume(id)["costume"]);
    let before = names(&server);
    for (text, reason) in [
        (file[..file.len() / 2].to_owned(), "cannot be read"),
        (file.replace("\"format\": 2", "\"format\": 7"), "format 7"),
        (file.replacen("-440.0", "440.0", 1), "edge"),
        ("<svg/>".to_owned(), "cannot be read"),
        (String::new(), "cannot be read"),
    ] {
        let answer = import(&text);
        assert_eq!(answer.status, 422, "{}", answer.text());
        assert!(answer.json()["refusal"].to_string().contains(reason), "{}", answer.text());
    }
    assert_eq!(names(&server), before);
}

#[test]
fn foreign_pages_are_refused_and_uploads_are_bounded() {
    let server = Server::start(&database());
    let status = |method: &str, path: &str, headers: &[(&str, &str)], body: &[u8]| {
        send(&server.address, method, path, headers, body).expect("an answer").status
    };
    let own = format!("http://{}", server.address);
    assert_eq!(status("GET", "/api/rail", &[("Origin", &own)], b""), 200);
    assert_eq!(status("GET", "/api/rail", &[("Host", "evil.example")], b""), 403);
    assert_eq!(status("GET", "/", &[("Host", "evil.example:4600")], b""), 403);
    assert_eq!(status("GET", "/api/rail", &[("Origin", "http://evil.example")], b""), 403);
    let post = [("Origin", "http://evil.example"), ("Content-Type", "application/json")];
    assert_eq!(status("POST", "/api/productions", &post, br#"{"name":"Stolen"}"#), 403);
    let upgrade = [
        ("Origin", "http://evil.example"),
        ("Upgrade", "websocket"),
        ("Sec-WebSocket-Version", "13"),
        ("Sec-WebSocket-Key", "dGhlIHNhbXBsZSBub25jZQ=="),
    ];
    assert_eq!(status("GET", &format!("/api/costumes/{}/drape", server.find(TABARD)), &upgrade, b""), 403);
    let long = vec![b' '; 17 << 20];
    assert_eq!(status("POST", "/api/costumes/import", &[("Content-Type", "application/json")], &long), 413);
    assert_eq!(server.get("/api/rail").json().as_array().map(Vec::len), Some(1));
    // and nothing listens for other machines
    let port = server.address.rsplit_once(':').expect("a port").1;
    let everywhere = TcpListener::bind(format!("127.0.0.2:{port}"));
    assert!(everywhere.is_ok(), "only 127.0.0.1 is taken");
}

#[test]
fn a_server_that_cannot_start_says_why_in_one_line() {
    let taken = TcpListener::bind("127.0.0.1:0").expect("a port");
    let port = taken.local_addr().expect("an address").port();
    let (code, message) = Server::refuse(&database(), port);
    assert_eq!(code, Some(2));
    assert!(message.contains(&port.to_string()) && message.contains("--port") && message.trim().lines().count() == 1, "{message}");
    let (code, message) = Server::refuse("postgres://ourlet@127.0.0.1:1/nowhere", 0);
    assert_eq!(code, Some(2));
    assert!(message.contains("database cannot be reached") && message.trim().lines().count() == 1, "{message}");
}

#[test]
fn the_last_acknowledged_edit_is_there_after_a_kill_at_any_moment() {
    let database = database();
    let mut server = Server::start(&database);
    let id = server.find(TABARD);
    for (round, delay) in [0u64, 37, 110, 211].into_iter().enumerate() {
        let first = server.costume(id)["step"].as_i64().expect("a step");
        let acknowledged = AtomicI64::new(first);
        let address = server.address.clone();
        std::thread::scope(|scope| {
            let sender = scope.spawn(|| {
                let state = json!({ "costume": { "pieces": [{ "id": 101 }] } });
                for base in first.. {
                    let body = json!({ "base": base, "key": format!("{round}.{base}"), "edit": moved(&state, (base + 1) as f64) });
                    let path = format!("/api/costumes/{id}/edits");
                    let sent = send(&address, "POST", &path, &[("Content-Type", "application/json")], body.to_string().as_bytes());
                    match sent {
                        Ok(answer) if answer.status == 200 => acknowledged.store(base + 1, Ordering::SeqCst),
                        _ => return,
                    }
                }
            });
            while acknowledged.load(Ordering::SeqCst) == first && !sender.is_finished() {
                std::thread::sleep(Duration::from_millis(2));
            }
            std::thread::sleep(Duration::from_millis(delay));
            server.kill();
        });
        server = Server::start(&database);
        let state = server.costume(id);
        let (step, last) = (state["step"].as_i64().expect("a step"), acknowledged.load(Ordering::SeqCst));
        assert!(last > first, "edits are acknowledged");
        // one more may have been stored without the answer getting through
        assert!(step == last || step == last + 1, "acknowledged {last}, found {step}");
        assert_eq!(at(&state), step as f64);
    }
}

#[test]
fn a_stopped_database_is_named_and_found_again_when_it_returns() {
    let cluster = Cluster::start();
    let server = Server::start(&cluster.database());
    let id = server.find(TABARD);
    let state = server.costume(id);
    cluster.stop();
    let answer = server.edit(id, 0, "kept", moved(&state, 33.0));
    assert_eq!(answer.status, 503, "{}", answer.text());
    assert_eq!(answer.json()["refusal"]["item"], "database");
    cluster.resume();
    let answer = server.edit(id, 0, "kept", moved(&state, 33.0));
    assert_eq!((answer.status, at(&server.costume(id))), (200, 33.0));
}

#[test]
fn deliveries_and_fittings_need_a_drape() {
    let server = Server::start(&database());
    let id = server.find(TABARD);
    let query = "kind=glb&welded=true&layout=metres&with_body=false";
    let answer = server.get(&format!("/api/costumes/{id}/deliver/tabard.glb?{query}"));
    assert_eq!(answer.status, 422, "{}", answer.text());
    assert_eq!(request(&server.address, "GET", "/api/fittings/4711/picture", None).status, 404);
    assert_eq!(server.get(&format!("/api/costumes/{id}/fittings")).json(), json!([]));
    let heavy = server.post_bytes("/api/figures?name=heavy.obj", &vec![b' '; (96 << 20) + 1]);
    assert_eq!((heavy.status, heavy.json()["refusal"]["item"].as_str()), (422, Some("heavy.obj")), "{}", heavy.text());
    let unknown = json!({ "do": "choose-body", "body": { "preset": "woman-38", "figure": "0".repeat(64) } });
    assert_eq!(server.edit(id, 0, "figure", unknown).status, 422);
    let giant = json!({ "body": { "preset": "giant-99" }, "share": 0 });
    assert_eq!(server.post(&format!("/api/costumes/{id}/body"), &giant).status, 422);
}
