//! Every view, read by a checker of accessibility: names, roles, contrast, order.

use e2e::{Desk, desk};
use fantoccini::key::Key;
use serde_json::Value;

const CHECKER: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../web/node_modules/axe-core/axe.min.js");

/// What is wrong on the page as it is now, each with the first element concerned.
async fn found(desk: &Desk, view: &str) -> Vec<String> {
    found_in(desk, view, "html").await
}

/// The same of a part; an open menu takes the page below it out of reach.
async fn found_in(desk: &Desk, view: &str, part: &str) -> Vec<String> {
    // menus and sheets come in within a few frames
    tokio::time::sleep(std::time::Duration::from_millis(250)).await;
    let run = "const done = arguments[1]; axe.run(arguments[0], { resultTypes: ['violations'] }).then((r) => done(r.violations.map((v) => [v.id, v.help, v.nodes.length, v.nodes[0].html.slice(0, 160), v.nodes[0].failureSummary.slice(0, 300)])), (e) => done([['failed', String(e)]]));";
    let list = desk.client.execute_async(run, vec![part.into()]).await.expect("the checker runs");
    list.as_array().expect("a list").iter().map(|v: &Value| format!("{view}: {v}")).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_is_found_on_any_view() {
    let desk = desk().await;
    let checker = std::fs::read_to_string(CHECKER).expect("the checker; run npm ci in web/");
    let mut all = Vec::new();
    desk.client.execute(&checker, vec![]).await.expect("loaded");
    desk.until("document.querySelectorAll('[data-costume]').length > 4").await;
    all.extend(found(&desk, "rail").await);
    desk.click_text("button", "New production").await;
    all.extend(found(&desk, "a dialog").await);
    desk.key(Key::Escape.into()).await;

    desk.take_off_rail("Raker's tabard").await;
    for stage in ["body", "draft", "join", "drape", "check", "deliver"] {
        desk.stage(stage).await;
        all.extend(found(&desk, stage).await);
    }
    desk.stage("body").await;
    for tab in ["pose", "tape", "contact"] {
        desk.click(&format!("[data-body-tab='{tab}']")).await;
        all.extend(found(&desk, &format!("body, {tab}")).await);
    }
    desk.stage("draft").await;
    desk.click("[data-piece='101'] [data-hit='piece']").await;
    all.extend(found(&desk, "a piece").await);
    desk.click("[data-piece='101'] [data-corner='103']").await;
    all.extend(found(&desk, "a corner").await);
    desk.click("[aria-label='New fold line']").await;
    all.extend(found_in(&desk, "a choice", "[role=listbox]").await);
    desk.key(Key::Escape.into()).await;
    let middle = desk.middle("[data-piece='110'] [data-hit='piece']").await;
    desk.right_click_at(middle).await;
    all.extend(found_in(&desk, "a menu", "[role=menu]").await);
    desk.key(Key::Escape.into()).await;
    desk.stage("join").await;
    desk.click("[data-seam] [data-hit='tag']").await;
    all.extend(found(&desk, "a seam").await);
    desk.key('h').await;
    desk.until("document.querySelector('[data-history]')").await;
    all.extend(found(&desk, "history").await);
    desk.key(Key::Escape.into()).await;
    desk.key('?').await;
    desk.until("document.querySelector('[data-keys]')").await;
    all.extend(found(&desk, "keys").await);
    desk.key(Key::Escape.into()).await;
    desk.key_with(Key::Control, 'k').await;
    desk.until("document.querySelector('[data-search]')").await;
    all.extend(found(&desk, "search").await);
    assert!(all.is_empty(), "{:#?}", all);
}
