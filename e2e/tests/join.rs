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
