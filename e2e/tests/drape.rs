//! The live drape: pause, tug, keep, change the pattern on the way, another body.

use e2e::desk;
use std::time::Duration;

#[tokio::test(flavor = "multi_thread")]
async fn a_drape_is_paused_tugged_changed_kept_and_opened_again() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.take_coarse_mesh().await;

    desk.until_activity(&["hung"]).await;
    // cloth this coarse soon rests: it is paused without looking twice
    let run = desk.middle("[data-run]").await;
    desk.click_at(run).await;
    desk.until_activity(&["closing", "falling"]).await;
    desk.click_at(run).await;
    desk.until_activity(&["paused"]).await;
    let time = desk.text("aside section").await;
    tokio::time::sleep(Duration::from_millis(700)).await;
    assert_eq!(desk.text("aside section").await, time, "nothing moves while it is paused");

    // changing the pattern carries on from the present shape
    desk.click("[data-run]").await;
    desk.until_activity(&["closing", "falling", "at-rest"]).await;
    let hem = desk.middle("[data-piece='101'] [data-corner='102']").await;
    desk.drag(hem, (hem.0 - 3.0, hem.1 + 9.0)).await;
    desk.until_step(3).await;
    desk.until_activity(&["closing", "falling", "at-rest"]).await;
    desk.until("document.querySelector('aside')?.innerText.includes('Carried over within')").await;
    desk.until_activity(&["at-rest"]).await;

    // the hand pulls at the skirt and lets go
    desk.click("[data-tug]").await;
    let stand = desk.middle("[data-stand]").await;
    desk.hold((stand.0, stand.1 + 60.0), (stand.0 + 70.0, stand.1 + 40.0)).await;
    desk.until_activity(&["falling"]).await;
    desk.release().await;
    desk.until_activity(&["at-rest"]).await;

    desk.click("[data-main]").await;
    desk.fill("[role=dialog] input", "First fitting").await;
    desk.until("document.querySelector('[data-fitting]')?.innerText.includes('First fitting')").await;
    let list = desk.server.get(&format!("/api/costumes/{id}/fittings")).json();
    assert_eq!((list[0]["name"].as_str(), list[0]["at_rest"].as_bool()), (Some("First fitting"), Some(true)));
    // a mesh this coarse may be cut by a bend of the body; the fitting says what the check says
    desk.stage("check").await;
    desk.until("document.querySelector('[data-crossings]')").await;
    assert_eq!(list[0]["crossings"].to_string(), desk.data("crossings").await);
    // the tape over the garment beside the body's, and other maps
    let bust = desk.text("[data-girth='bust']").await;
    assert!(bust.starts_with("Bust") && bust.contains('+'), "{bust}");
    for (place, map) in [(8, "ease"), (9, "touch")] {
        desk.click("[aria-label='It shows']").await;
        desk.click(&format!("[role=option]:nth-child({place})")).await;
        desk.until(&format!("document.querySelector('[data-legend]')?.dataset.legend === '{map}'")).await;
    }
    desk.until("document.querySelector('[data-bearer]')").await;
    desk.stage("drape").await;
    let picture = desk.server.get(&format!("/api/fittings/{}/picture", list[0]["id"]));
    assert!(picture.body.starts_with(b"\x89PNG") && picture.body.len() > 3000);

    desk.click("[data-rehang]").await;
    desk.until_activity(&["hung"]).await;
    desk.client.refresh().await.expect("a reload");
    desk.until("document.querySelector('[data-stage=drape]')").await;
    desk.stage("drape").await;
    desk.click("[data-fitting]").await;
    desk.until_activity(&["at-rest"]).await;

    // the rail shows it
    desk.click(".wordmark").await;
    desk.until(&format!("document.querySelector(\"[data-costume='{id}'] img\")?.naturalWidth > 0")).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_piece_without_a_station_is_named_and_mended_in_the_docket() {
    let desk = desk().await;
    let id = desk.unsewn().await;
    desk.key('w').await;
    desk.click("[data-add-band]").await;
    desk.until_step(1).await;
    desk.until_data("activity", "empty").await;
    desk.stage("drape").await;
    assert!(desk.text("aside").await.contains("has no station on the body"));
    desk.click("[aria-label='Station']").await;
    desk.click_text("[role=option]", "Waist").await;
    desk.until_step(2).await;
    desk.until_data("activity", "hung").await;
    let placement = desk.server.costume(id)["costume"]["pieces"][2]["placement"]["station"].clone();
    assert!(placement.as_str().is_some_and(|s| s.starts_with("waist")), "{placement}");
}

#[tokio::test(flavor = "multi_thread")]
async fn another_body_hangs_the_pieces_afresh() {
    let desk = desk().await;
    desk.take_off_rail("Raker's tabard").await;
    desk.until_activity(&["hung"]).await;
    desk.stage("body").await;
    desk.click("button[aria-label='Body']").await;
    desk.click_text("[role=option]", "Man 50").await;
    desk.until_step(1).await;
    desk.until_activity(&["hung"]).await;
    assert!(desk.text("[data-stage='body'] [data-words]").await.contains("Man 50"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_body_is_made_to_measure_in_the_docket() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("body").await;
    desk.until("document.querySelector('[data-measure=waist] [data-measured]')").await;
    desk.fill("[data-measure='waist'] input", "77").await;
    desk.until_step(1).await;
    assert_eq!(desk.server.costume(id)["costume"]["body"], serde_json::json!({ "preset": "woman-38", "set": { "waist": 770.0 } }));
    // the tape around the finished body reads it within 3 mm
    desk.until("Math.abs(document.querySelector('[data-measure=waist] [data-measured]')?.dataset.measured - 770) < 3").await;
    desk.until_activity(&["hung"]).await;

    // what cannot be is refused with the limit, and the sheet stays as it was
    desk.fill("[data-measure='waist'] input", "200").await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('is outside')").await;
    assert_eq!(desk.server.costume(id)["step"], 1);
    desk.click("[data-plain-size]").await;
    desk.until_step(2).await;
    assert_eq!(desk.server.costume(id)["costume"]["body"], serde_json::json!({ "preset": "woman-38" }));
}
