//! The swatch book holds own cloths for all costumes.

use e2e::{Desk, desk};
use serde_json::json;

async fn choose(desk: &Desk, cloth: &str) {
    desk.click("[aria-label='Swatch']").await;
    desk.click_text("[role=option]", cloth).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_own_swatch_is_kept_used_in_another_costume_and_taken_out() {
    let desk = desk().await;
    desk.take_off_rail("Raker's tabard").await;
    desk.stage("drape").await;
    desk.click("[data-own-values]").await;
    desk.until("document.querySelector(\"[data-book='keep']\")?.disabled").await;
    desk.fill("[data-own='bend-warp'] input", "90").await;
    desk.until_step(1).await;
    desk.click("[data-book='keep']").await;
    desk.fill("input[name='name']", "Stiffened linen").await;
    desk.until("document.querySelector('[aria-label=Swatch]').innerText.includes('Stiffened linen')").await;
    desk.until("document.querySelector(\"[data-book='remove']\")").await;

    // in another costume it is offered, and brings its values, name and colour
    let other = desk.server.find("Ferry pinafore");
    desk.go(&format!("/costume/{other}")).await;
    desk.stage("drape").await;
    choose(&desk, "Stiffened linen").await;
    desk.until_step(1).await;
    let fabric = desk.server.costume(other)["costume"]["fabrics"][0].clone();
    assert_eq!((&fabric["name"], &fabric["own"]), (&json!("Stiffened linen"), &json!({ "bend-warp": 90.0 })));

    // taken out of the book, the costume keeps its cloth
    desk.click("[data-own-values]").await;
    desk.click("[data-book='remove']").await;
    desk.until("document.querySelector(\"[data-book='keep']\")").await;
    assert_eq!(desk.server.costume(other)["costume"]["fabrics"][0]["own"], json!({ "bend-warp": 90.0 }));
    let book = desk.server.get("/api/swatches").json();
    assert_eq!(book["own"], json!([]));

    // a cloth beyond its limits is refused whole
    let answer = desk.server.post(
        "/api/swatches/own",
        &json!({ "id": 1, "name": "Lead", "swatch": "calico", "colour": "#888888", "own": { "density": 9000.0 } }),
    );
    assert_eq!(answer.status, 422, "{}", answer.text());
}
