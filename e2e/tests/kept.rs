//! What a killed server leaves behind: the drape that was on the stand.

use e2e::{Desk, Server, database};
use std::time::Duration;

#[tokio::test(flavor = "multi_thread")]
async fn a_drape_is_there_again_after_the_server_was_killed() {
    let database = database();
    let mut desk = Desk::open(Server::start(&database)).await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.take_coarse_mesh().await;
    desk.until_activity(&["hung"]).await;
    desk.click("[data-run]").await;
    desk.until_activity(&["falling"]).await;
    // a pin in the skirt, and a piece that stands still
    desk.click("[data-pin]").await;
    let stand = desk.middle("[data-stand]").await;
    desk.click_at((stand.0, stand.1 + 60.0)).await;
    desk.until("document.querySelector('[data-stand]').dataset.pins === '1'").await;
    desk.click("[data-hold='110']").await;
    // saved every second and a half, also while it falls
    tokio::time::sleep(Duration::from_millis(2600)).await;
    desk.server.kill();
    drop(desk);

    let mut again = Desk::open(Server::start(&database)).await;
    again.go(&format!("/costume/{id}")).await;
    again.stage("drape").await;
    again.until_activity(&["paused", "at-rest"]).await;
    again.until("document.querySelector('[data-stand]').dataset.pins === '1'").await;
    again.until("document.querySelector(\"[data-hold='110']\").getAttribute('aria-pressed') === 'true'").await;
    // it goes on from there
    if again.data("activity").await == "paused" {
        again.click("[data-run]").await;
        again.until_activity(&["at-rest"]).await;
    }

    // rehung cloth is not found again as it was draped
    again.click("[data-rehang]").await;
    again.until_activity(&["hung"]).await;
    tokio::time::sleep(Duration::from_millis(600)).await;
    again.server.kill();
    drop(again);
    let last = Desk::open(Server::start(&database)).await;
    last.go(&format!("/costume/{id}")).await;
    last.stage("drape").await;
    last.until_activity(&["hung"]).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn draped_cloth_goes_along_into_another_pose_with_its_pins_and_the_wind() {
    let desk = Desk::open(Server::start(&database())).await;
    let _ = desk.take_off_rail("Raker's tabard").await;
    desk.take_coarse_mesh().await;
    desk.until_activity(&["hung"]).await;
    desk.click("[data-run]").await;
    desk.until_activity(&["at-rest"]).await;

    // another pose: the cloth is not hung afresh but moves
    desk.stage("body").await;
    desk.click("[data-body-tab=pose]").await;
    desk.until("document.querySelector('[data-reset-pose]')").await;
    desk.click("button[aria-label=Pose]").await;
    desk.click_text("[role=option]", "T-pose").await;
    desk.until_step(3).await;
    desk.until_activity(&["closing", "falling"]).await;

    // a pin in the skirt, wind, and a fabric with a value of its own
    desk.stage("drape").await;
    desk.click("[data-pin]").await;
    let stand = desk.middle("[data-stand]").await;
    desk.click_at((stand.0, stand.1 + 60.0)).await;
    desk.until("document.querySelector('[data-stand]').dataset.pins === '1'").await;
    desk.click_at((stand.0, stand.1 + 60.0)).await;
    desk.until("document.querySelector('[data-stand]').dataset.pins === '0'").await;
    desk.fill("input[aria-label=Speed]", "9").await;
    desk.until("document.querySelector('[data-beaufort]').innerText === 'fresh breeze'").await;
    desk.click("[data-own-values]").await;
    desk.fill("[data-own=density] input", "300").await;
    desk.until_step(4).await;
    desk.fill("[data-own=density] input", "99999").await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('choose one from 1 to 5000') || document.querySelector('[data-notice]')?.innerText.includes('Choose one from 1 to 5000')").await;
}
