//! A database made by a build that wrote format 1 opens in this one: documents, history, fittings and the drape on the
//! stand. The dump holds Raker's tabard at 45 mm with a fold line, a corner in its hem, an elastic (undone once), a kept
//! fitting and its drape at rest.

use e2e::{desk_on, restored};
use serde_json::{Value, json};

fn at<'a>(piece: &'a Value, list: &str, id: i64) -> &'a Value {
    piece["shape"]["drawn"][list].as_array().expect("a list").iter().find(|n| n["id"] == id).expect("it is there")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_of_format_1_opens_with_its_history_fittings_and_drape() {
    let desk = desk_on(&restored(include_str!("data/format1.sql"))).await;
    let id = desk.server.find("Raker's tabard");
    let state = desk.server.costume(id);
    assert_eq!((&state["costume"]["format"], &state["step"], &state["can_redo"]), (&json!(2), &json!(3), &json!(true)));
    let front = &state["costume"]["pieces"][0];
    assert_eq!(at(front, "nodes", 106)["at"], json!({ "x": 85.0, "y": 960.0 }));
    assert_eq!(at(front, "lines", 104)["handles"], json!([{ "x": 252.0, "y": 690.0 }, { "x": 172.0, "y": 790.0 }]));
    assert_eq!(front["shape"]["drawn"]["inside"][0]["use"], json!({ "fold": { "angle": 60.0 } }));
    let sides: Vec<f64> = ["a", "b"]
        .iter()
        .flat_map(|s| state["pattern"]["seams"].as_array().expect("seams").iter().map(move |m| m[s].as_f64().expect("mm")))
        .collect();
    // shoulders by Pythagoras: 100 across, 35 down; sides 158 across, 770 up
    let (shoulder, side) = (100f64.hypot(35.0), 158f64.hypot(770.0));
    assert!(sides.iter().all(|l| (l - shoulder).abs() < 0.01 || (l - side).abs() < 0.01), "{sides:?}");

    // the step that was undone can be done again, and a new one goes on from it
    assert_eq!(desk.server.travel(id, "redo", 3, "again").status, 200);
    let redone = desk.server.costume(id);
    assert_eq!(redone["costume"]["pieces"][0]["shape"]["drawn"]["along"][0]["finish"], json!({ "elastic": { "length": 80.0 } }));
    assert_eq!(desk.server.travel(id, "undo", 4, "back").status, 200);

    // the fitting opens with the cloth that was kept
    desk.go(&format!("/costume/{id}")).await;
    desk.stage("drape").await;
    desk.click("[data-fitting]").await;
    desk.until_activity(&["at-rest"]).await;
    assert!(desk.see("document.querySelector('[data-notice]')").await.is_null(), "nothing is refused");
    desk.stage("check").await;
    desk.click("[data-main]").await;
    desk.until_data("crossings", "0").await;
}
