//! Joining edges with the pointer.

use e2e::desk;

/// Whether a stretch is walked from the end of its line to its start.
fn backwards(run: &serde_json::Value) -> bool {
    run["from"].as_f64().unwrap_or(0.0) > run["to"].as_f64().unwrap_or(1.0)
}

#[tokio::test(flavor = "multi_thread")]
async fn two_clicks_sew_a_seam_that_can_be_flipped_and_unpicked() {
    let desk = desk().await;
    let id = desk.unsewn().await;
    desk.stage("join").await;
    let seams = |state: &serde_json::Value| state["costume"]["seams"].as_array().map_or(0, Vec::len);
    assert_eq!(seams(&desk.server.costume(id)), 0);

    // an edge with itself is refused with a reason
    let edge = desk.on_edge(101, 103, 0.5).await;
    desk.click_at(edge).await;
    assert!(desk.text("[data-says]").await.contains("partner"));
    desk.click_at(edge).await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('sewn to itself')").await;
    assert_eq!(seams(&desk.server.costume(id)), 0);

    // right side of the front to left side of the back
    desk.click_at(edge).await;
    desk.click_at(desk.on_edge(110, 118, 0.5).await).await;
    desk.until_step(1).await;
    let seam = desk.server.costume(id)["costume"]["seams"][0].clone();
    assert_eq!((seam["tag"].as_str(), backwards(&seam["a"][0]), backwards(&seam["b"][0])), (Some("A"), false, true));
    desk.click("[data-seam-row='A']").await;
    // its second side is laid on the first one and walked to its end
    desk.click("[data-walk]").await;
    desk.until("document.querySelector('[data-walking]')?.dataset.walking === '0.0'").await;
    desk.click_text("button", "To the end").await;
    desk.until("Number(document.querySelector('[data-walking]').dataset.walking) > 100 && document.querySelector('[data-walked]').innerText.includes('Over at the end')").await;
    desk.click_text("button", "Take it off").await;
    desk.until("!document.querySelector('[data-walking]')").await;
    desk.until("document.querySelectorAll('[data-direction]').length === 2").await;
    // both sides run upwards: 571.5 mm each by Pythagoras (114 across, 560 up)
    let docket = desk.text("aside").await;
    assert_eq!(docket.matches("57.1 cm").count(), 2, "{docket}");
    assert!(docket.contains("+0.0 cm"), "{docket}");

    desk.click("[data-flip]").await;
    desk.until_step(2).await;
    assert!(!backwards(&desk.server.costume(id)["costume"]["seams"][0]["b"][0]));
    desk.click("[data-unpick]").await;
    desk.until_step(3).await;
    assert_eq!(seams(&desk.server.costume(id)), 0);

    // sides of unequal length are sewn, and the difference is shown
    desk.click_at(desk.on_edge(101, 102, 0.5).await).await;
    desk.click_at(desk.on_edge(110, 112, 0.5).await).await;
    desk.until_step(4).await;
    assert!(desk.text("[data-stage='join'] [data-words]").await.contains("1 uneven"));
}

/// What the docket tells of the seam that is put together.
async fn told(desk: &e2e::Desk) -> String {
    desk.text("aside").await
}

#[tokio::test(flavor = "multi_thread")]
async fn stretches_of_both_sides_are_chosen_seen_turned_and_made() {
    let desk = desk().await;
    let id = desk.unsewn().await;
    desk.stage("join").await;
    let seams = |state: &serde_json::Value| state["costume"]["seams"].as_array().cloned().unwrap_or_default();

    // a part of an edge by dragging along it
    desk.drag(desk.on_edge(101, 103, 0.25).await, desk.on_edge(101, 103, 0.75).await).await;
    desk.until("document.querySelector('[data-joining]')?.dataset.joining === '1'").await;
    assert!(told(&desk).await.contains('%'), "{}", told(&desk).await);
    // with Shift its partner waits for more: threads show how it would be sewn
    desk.shift_click_at(desk.on_edge(110, 118, 0.5).await).await;
    desk.until("document.querySelector('[data-threads]')").await;
    desk.until("document.querySelector('aside').innerText.includes('Difference')").await;
    let before = desk.see("document.querySelector('[data-threads] path').getAttribute('d')").await;
    desk.key('r').await;
    desk.until(&format!("document.querySelector('[data-threads] path')?.getAttribute('d') !== {before}")).await;
    desk.key('r').await;
    desk.until(&format!("document.querySelector('[data-threads] path')?.getAttribute('d') === {before}")).await;
    desk.key(fantoccini::key::Key::Enter.into()).await;
    desk.until_step(1).await;
    let seam = seams(&desk.server.costume(id))[0].clone();
    let (from, to) = (seam["a"][0]["from"].as_f64().expect("a share"), seam["a"][0]["to"].as_f64().expect("a share"));
    assert!((from.min(to) - 0.25).abs() < 0.02 && (from.max(to) - 0.75).abs() < 0.02, "{seam}");
    // half of one side to all of the other is gathered, which is told with what mends it
    desk.click("[data-seam-row='A']").await;
    desk.until("document.querySelector('[data-mend=meant]')").await;
    desk.click("[data-mend=meant]").await;
    desk.until_step(2).await;
    desk.until("!document.querySelector('[data-mend=meant]')").await;
    assert!(seams(&desk.server.costume(id))[0]["make"]["gather"].as_f64().is_some_and(|g| (g - 2.0).abs() < 0.1));

    // one to two by the keyboard's Enter: the back's other side to both halves of nothing else is refused, and told
    desk.click_at(desk.on_edge(110, 112, 0.5).await).await;
    desk.shift_click_at(desk.on_edge(101, 109, 0.5).await).await;
    desk.until("document.querySelector('[data-threads]')").await;
    desk.key(fantoccini::key::Key::Enter.into()).await;
    desk.until_step(3).await;
    assert_eq!(seams(&desk.server.costume(id)).len(), 2);

    // its partners are proposed, best first, and nothing is sewn by that
    desk.click("[data-what-fits]").await;
    desk.until("document.querySelector('[data-proposal]')").await;
    assert_eq!(seams(&desk.server.costume(id)).len(), 2);
    desk.click("[data-take-proposals]").await;
    desk.until_step(4).await;
    assert!(seams(&desk.server.costume(id)).len() > 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_piece_is_carried_to_a_spot_of_the_body_and_slides_there() {
    let desk = desk().await;
    let id = desk.unsewn().await;
    desk.stage("join").await;
    let placed = |k: usize| desk.server.costume(id)["costume"]["pieces"][k]["placement"].clone();
    let edit = |edit: serde_json::Value, step: i64| {
        desk.server
            .post(&format!("/api/costumes/{id}/edits"), &serde_json::json!({ "base": step, "key": format!("k{step}"), "edit": edit }))
    };
    assert_eq!(edit(serde_json::json!({ "do": "place", "piece": 101, "placement": null }), 0).status, 200);
    desk.until_step(1).await;
    // from the middle of the piece to the belly of the body, wherever its spot is on the screen
    let from = desk.middle("[data-piece='101'] [data-hit='piece']").await;
    let stand = desk.middle("[data-stand]").await;
    desk.hold(from, (stand.0, stand.1)).await;
    desk.until("document.querySelector('[data-spot]')?.dataset.spot").await;
    let spot = desk.data("spot").await;
    desk.release().await;
    desk.until_step(2).await;
    assert_eq!(placed(0)["station"].as_str(), Some(spot.as_str()));

    // or all of them by their seams, seen before they are taken
    desk.click("[data-hang-all]").await;
    desk.until("document.querySelector('[data-take-hangings]')").await;
    assert_eq!(placed(0)["station"].as_str(), Some(spot.as_str()));
    desk.click("[data-take-hangings]").await;
    desk.until_step(3).await;
    assert_eq!(placed(0)["station"].as_str(), Some("chest-front"));
    // one that hangs is moved by the hand
    desk.until_activity(&["hung"]).await;
    desk.key('p').await;
    desk.click_at(stand).await;
    desk.until("document.querySelector('[data-lift]')").await;
    let name = desk.see("document.querySelector('aside h3').innerText").await;
    let pieces = desk.server.costume(id)["costume"]["pieces"].as_array().expect("pieces").clone();
    let chosen = pieces.iter().position(|p| p["name"] == name).expect("the piece under the pointer");
    let before = placed(chosen)["shift"].clone();
    desk.drag(stand, (stand.0 + 40.0, stand.1 + 30.0)).await;
    desk.until_step(4).await;
    let after = placed(chosen)["shift"].clone();
    let by = |k: &str| after[k].as_f64().expect("mm") - before[k].as_f64().expect("mm");
    assert!(by("x") > 20.0 && by("y") < -20.0, "{before} {after}");
    desk.click("[data-lift]").await;
    desk.until_step(5).await;
    assert_eq!(placed(chosen)["clearance"].as_f64(), Some(50.0));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stay_is_painted_an_edge_drawn_snug_and_the_skin_made_rough() {
    let desk = desk().await;
    let id = desk.unsewn().await;
    desk.stage("join").await;
    let front = || desk.document(id)["pieces"][0].clone();
    let drawing = || front()["shape"]["drawn"].clone();
    // a stroke of the brush across the piece, seen while it is drawn
    desk.key('m').await;
    let (x, y) = desk.middle("[data-piece='101'] [data-hit='piece']").await;
    desk.hold((x - 25.0, y), (x + 25.0, y + 4.0)).await;
    desk.until("document.querySelector('[data-piece=\"101\"] [data-painted=\"skin\"] image')").await;
    desk.release().await;
    desk.until_step(1).await;
    let image = drawing()["paint"][0]["image"].as_str().expect("a picture").to_owned();
    // what it means, and how firmly
    desk.fill("[data-paint-means] input[aria-label='Strength']", "80").await;
    desk.until_step(2).await;
    assert_eq!(drawing()["paint"][0]["use"]["skin"]["strength"].as_f64(), Some(80.0));
    // the stand marks the vertices that are held there
    desk.until("Number(document.querySelector('[data-held]').dataset.held) > 0").await;
    desk.click("[data-paint-fill]").await;
    desk.until_step(3).await;
    assert_ne!(drawing()["paint"][0]["image"].as_str(), Some(image.as_str()));
    // a picture comes in as a map
    let file = std::env::temp_dir().join(format!("ourlet-map-{}.png", std::process::id()));
    std::fs::write(&file, GREY).expect("a file");
    desk.choose_file("[data-paint-picture]", &file).await;
    desk.until_step(4).await;
    std::fs::remove_file(&file).expect("the file goes");

    // an edge is drawn snug to the skin
    desk.key('p').await;
    desk.click_at(desk.on_edge(101, 102, 0.5).await).await;
    desk.click("[aria-label='Held']").await;
    desk.click_text("[role=option]", "snug to the skin").await;
    desk.until_step(5).await;
    let along = drawing()["along"].as_array().expect("finishes").clone();
    assert!(along.iter().any(|a| a["line"] == 102 && a["finish"]["skin"]["distance"] == 4.0), "{along:?}");

    // and the skin is made rough with a brush on the body
    desk.stage("body").await;
    desk.click("[data-body-tab='contact']").await;
    desk.click("[data-roughen]").await;
    desk.click("[data-clothed]").await;
    let (x, y) = desk.middle("[data-stand]").await;
    desk.drag((x - 20.0, y - 60.0), (x + 20.0, y - 60.0)).await;
    desk.until_step(6).await;
    let rough = desk.document(id)["body"]["contact"]["rough"].as_array().expect("rough spots").clone();
    assert!(!rough.is_empty() && rough.iter().all(|r| r["friction"] == 3.0 && r["radius"] == 40.0), "{rough:?}");
}

/// A grey picture of 2 x 2 pixels.
const GREY: &[u8] = b"\x89\x50\x4e\x47\x0d\x0a\x1a\x0a\x00\x00\x00\x0d\x49\x48\x44\x52\x00\x00\x00\x02\x00\x00\x00\x02\x08\x00\x00\x00\x00\x57\xdd\x52\xf8\x00\x00\x00\x0e\x49\x44\x41\x54\x78\x9c\x63\xf8\xdf\xc0\xc0\xe0\x00\x00\x07\x41\x01\xc0\xb5\x2e\xb6\x46\x00\x00\x00\x00\x49\x45\x4e\x44\xae\x42\x60\x82";

/// Walks on with Tab until the docket tells of a piece and an edge of it.
async fn walk_to(desk: &e2e::Desk, piece: &str, edge: &str) {
    let titles = "[...document.querySelectorAll('aside h3')].map(h => h.innerText).join('|')";
    // out of whatever is selected, then from the first piece on
    for _ in 0..2 {
        desk.key_with(fantoccini::key::Key::Shift, fantoccini::key::Key::Enter.into()).await;
    }
    let shown = async |title: &str| desk.see(titles).await.as_str().is_some_and(|all| all.split('|').any(|t| t == title));
    for _ in 0..12 {
        desk.key(fantoccini::key::Key::Tab.into()).await;
        if shown(piece).await {
            break;
        }
    }
    assert!(shown(piece).await, "{piece} is reached");
    desk.key(fantoccini::key::Key::Enter.into()).await;
    for _ in 0..24 {
        if shown(edge).await {
            return;
        }
        desk.key(fantoccini::key::Key::Tab.into()).await;
    }
    panic!("{edge} of {piece} is not reached");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_keyboard_alone_sews_hangs_and_drapes_a_t_shirt() {
    let desk = desk().await;
    let id = desk.server.import(include_str!("../data/bare-tee.ourlet.json"));
    desk.client.refresh().await.expect("a reload");
    desk.until(&format!("document.querySelector(\"[data-costume='{id}']\")")).await;
    // from the rail to the table with Tab and Enter
    let focused = |what: &str| format!("document.activeElement?.closest(\"{what}\") != null");
    let tab_to = async |what: &str| {
        for _ in 0..80 {
            if desk.see(&focused(what)).await == serde_json::json!(true) {
                return;
            }
            desk.key(fantoccini::key::Key::Tab.into()).await;
        }
        panic!("{what} is not reached with Tab");
    };
    tab_to(&format!("[data-costume='{id}']")).await;
    desk.key(fantoccini::key::Key::Enter.into()).await;
    desk.until("document.querySelector('[data-piece]') && document.querySelector('[data-activity]')?.dataset.activity").await;
    desk.key('3').await;
    tab_to("[data-table-focus]").await;
    // shoulder, side, both halves of the armhole to the sleeve, and the sleeve to itself; twins and halves follow
    let seams = [
        (("Front", "Edge 2"), ("Back", "Edge 4")),
        (("Front", "Edge 4"), ("Back", "Edge 2")),
        (("Front", "Edge 3"), ("Sleeve", "Edge 4")),
        (("Back", "Edge 3"), ("Sleeve", "Edge 3")),
        (("Sleeve", "Edge 2"), ("Sleeve", "Edge 5")),
    ];
    for (k, (a, b)) in seams.into_iter().enumerate() {
        for (piece, edge) in [a, b] {
            walk_to(&desk, piece, edge).await;
            desk.key('j').await;
        }
        desk.until_step(k as i64 + 1).await;
    }
    assert_eq!(desk.document(id)["seams"].as_array().map(Vec::len), Some(5));
    // hung by its seams, and draped
    tab_to("[data-hang-all]").await;
    desk.key(fantoccini::key::Key::Enter.into()).await;
    desk.until("document.querySelector('[data-take-hangings]')").await;
    tab_to("[data-take-hangings]").await;
    desk.key(fantoccini::key::Key::Enter.into()).await;
    desk.until_step(6).await;
    desk.until_activity(&["hung"]).await;
    desk.key('d').await;
    desk.until_activity(&["at-rest"]).await;
    let words = desk.text("[data-stage='drape'] [data-words]").await;
    assert!(!words.contains("open"), "{words}");
}
