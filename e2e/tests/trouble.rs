//! Trouble on the stand is told with its piece, its cause and a remedy that works.

use e2e::desk;
use serde_json::{Value, json};

/// The demo tabard cut too narrow for any body, as the text of a file.
fn too_narrow() -> String {
    let path = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../demo/rakers-tabard.ourlet.json");
    let mut costume: Value = serde_json::from_str(&std::fs::read_to_string(path).expect("a demo")).expect("a costume");
    costume["name"] = json!("Narrow tabard");
    costume["fineness"] = json!({ "custom": 45.0 });
    let squeeze = |x: &mut Value| *x = json!(0.6 * x.as_f64().expect("x"));
    for piece in costume["pieces"].as_array_mut().expect("pieces").iter_mut().take(2) {
        let drawing = &mut piece["shape"]["drawn"];
        drawing["nodes"].as_array_mut().expect("nodes").iter_mut().for_each(|n| squeeze(&mut n["at"]["x"]));
        for line in drawing["lines"].as_array_mut().expect("lines") {
            line["handles"].as_array_mut().into_iter().flatten().for_each(|h| squeeze(&mut h["x"]));
        }
    }
    costume.to_string()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_seam_that_does_not_close_is_named_and_its_piece_hung_again() {
    let desk = desk().await;
    let id = desk.server.import(&too_narrow());
    desk.go(&format!("/costume/{id}")).await;
    desk.stage("drape").await;
    desk.until_activity(&["hung"]).await;
    desk.click("[data-main]").await;
    desk.until_activity(&["at-rest"]).await;
    let told = desk.text("[data-trouble]").await;
    assert!(told.contains("Seam") && told.contains("stays open by") && told.contains("too small"), "{told}");
    assert!(told.contains("since"), "{told}");
    // the same words on the tape, in the footer, on the docket and before a delivery
    let words = desk.text("[data-finding='open-seams']").await;
    assert!(words.contains("open by up to") && words.contains("cm"), "{words}");
    let words = words.to_lowercase();
    for place in ["[data-stage='drape'] [data-words]", "[data-stage='deliver'] [data-words]", "[data-standing]"] {
        assert_eq!(desk.text(place).await.to_lowercase(), words, "{place}");
    }
    assert_ne!(desk.text("[data-stage='deliver'] [data-words]").await, "ready");
    desk.stage("deliver").await;
    assert_eq!(desk.text("[data-finding='open-seams']").await.to_lowercase(), words);
    desk.stage("drape").await;
    // hung again it closes anew, and the trouble is told again, as the cloth is no larger
    desk.click("[data-mend='rehang']").await;
    desk.until_activity(&["closing", "falling"]).await;
    desk.until_activity(&["at-rest"]).await;
    assert!(desk.text("[data-trouble]").await.contains("stays open by"));
    // on the narrowest part of its remedy list: nothing the designer did is lost
    let row = desk.server.costume(id);
    assert_eq!(row["step"], 0);
}
