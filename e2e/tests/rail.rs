//! The home screen: costumes on their rail.

use e2e::desk;
use fantoccini::key::Key;

const SHOWN: &str = "[...document.querySelectorAll('[data-costume]')].map((c) => c.querySelector('.font-heading').innerText).sort().join()";

/// The demo costumes that the test leaves alone.
const OTHERS: [&str; 7] = [
    "Brine-carrier's shirt",
    "Ferry pinafore",
    "Gull skirt",
    "Heron mantle",
    "Marsh jacket",
    "Sluice-keeper's breeches",
    "Tracing practice",
];

/// Waits until the rail shows these and the others.
async fn until_shown(desk: &e2e::Desk, names: &str) {
    let mut all: Vec<&str> = names.split(',').chain(OTHERS).collect();
    all.sort_unstable();
    desk.until(&format!("{SHOWN} === {}", serde_json::json!(all.join(",")))).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn costumes_are_made_renamed_duplicated_removed_and_put_back() {
    let desk = desk().await;
    until_shown(&desk, "Raker's tabard").await;
    let tabard = desk.server.find("Raker's tabard");
    let menu = format!("[data-costume='{tabard}'] [aria-haspopup=menu]");

    desk.click(&menu).await;
    desk.click_text("[role=menuitem]", "Duplicate").await;
    until_shown(&desk, "Raker's tabard,Raker's tabard copy").await;

    desk.click(&menu).await;
    desk.click_text("[role=menuitem]", "Rename").await;
    desk.fill("[role=dialog] input", "Rake tabard").await;
    until_shown(&desk, "Rake tabard,Raker's tabard copy").await;

    desk.click(&menu).await;
    desk.click_text("[role=menuitem]", "Take off").await;
    until_shown(&desk, "Raker's tabard copy").await;
    desk.click_text("[data-notice] button", "Put back").await;
    until_shown(&desk, "Rake tabard,Raker's tabard copy").await;

    // a new costume opens on an empty table that offers the first thing to do
    desk.click_text("button", "New costume").await;
    desk.until("document.activeElement?.name === 'name'").await;
    desk.type_text("Salt apron").await;
    desk.key(Key::Enter.into()).await;
    desk.until("document.querySelector('[data-table]')").await;
    assert_eq!(desk.text("[data-name]").await, "Salt apron");
    desk.until("document.body.innerText.includes('Draw the first piece')").await;
    desk.click(".wordmark").await;
    until_shown(&desk, "Rake tabard,Raker's tabard copy,Salt apron").await;
}
