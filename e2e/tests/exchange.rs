//! Patterns of other programs on the table, and the tools that go with drafting: ellipse, curve through points, ease,
//! the figure under the paper, advice at its place, pictures of the history.

use e2e::{Desk, desk};
use fantoccini::key::Key;
use serde_json::{Value, json};

fn count(value: &Value) -> usize {
    value.as_array().map_or(0, Vec::len)
}

async fn command(desk: &Desk, name: &str) {
    desk.key_with(Key::Control, 'k').await;
    desk.until("document.querySelector('[data-search] input') === document.activeElement").await;
    desk.type_text(name).await;
    desk.click_text("[data-search] [data-command]", name).await;
    desk.until("!document.querySelector('[data-search]')").await;
}

/// Two groups with an arc and a transform, a text, and a line on no piece.
const BLOUSE: &str = "<svg xmlns='http://www.w3.org/2000/svg' width='600mm' height='400mm' viewBox='0 0 600 400'>
<g id='Yoke'><path d='M50 50 H250 A100 100 0 0 1 50 50 Z'/></g>
<g transform='translate(300 0)'><title>Cuff</title><rect x='10' y='50' width='200' height='80'/><path d='M10 90H210' fill='none' stroke='black'/></g>
<text x='5' y='5'>Blouse</text><path d='M0 390H600' fill='none' stroke='black'/></svg>";

#[tokio::test(flavor = "multi_thread")]
async fn a_pattern_of_another_program_is_read_changed_and_written_again() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("draft").await;
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("blouse.svg");
    std::fs::write(&file, BLOUSE).expect("written");
    desk.choose_file("[data-pattern-file]", &file).await;
    desk.until_step(1).await;
    let read = desk.document(id);
    let names: Vec<&str> = read["pieces"].as_array().expect("pieces").iter().filter_map(|p| p["name"].as_str()).collect();
    assert_eq!(names[2..], ["Yoke", "Cuff"]);
    let told = desk.server.costume(id)["pattern"]["pieces"][3].clone();
    assert!((told["width"].as_f64().expect("a width") - 200.0).abs() < 0.01 && count(&told["inside"]) == 1, "{told}");
    // what was left out is told until it is closed; a click on the paper leaves the new piece
    desk.until("document.querySelector('[data-left-out]')?.innerText.includes('text is not read')").await;
    desk.click_text("aside button", "Close").await;
    desk.until("!document.querySelector('[data-left-out]')").await;
    desk.click_at(desk.on_table(0.5, 0.8).await).await;
    desk.until("document.querySelector('[data-pattern-file]')").await;

    // as DXF it is the same again, and what is no pattern is refused with its line
    let dxf = desk.server.get(&format!("/api/costumes/{id}/pattern.dxf"));
    let again = desk.server.post_bytes("/api/patterns?name=again.dxf", dxf.text().as_bytes()).json();
    assert_eq!(again["pieces"], json!(4), "{again}");
    let refused = desk.server.post_bytes("/api/patterns?name=a.dxf", b"0\nSECTION\nhello\n2\n");
    assert!(refused.status == 422 && refused.text().contains("line 3"), "{}", refused.text());
    std::fs::write(folder.path().join("bad.svg"), "<svg>\n<g>").expect("written");
    desk.choose_file("[data-pattern-file]", &folder.path().join("bad.svg")).await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('damaged')").await;
    assert_eq!(desk.server.costume(id)["step"], json!(1), "nothing was changed");

    // every step has its picture
    desk.key('h').await;
    desk.until("[...document.querySelectorAll('[data-history-step] img')].length === 2 && [...document.querySelectorAll('[data-history-step] img')].every((i) => i.complete && i.naturalWidth > 0)")
        .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn ellipses_curves_through_points_and_ease_are_drawn_and_the_figure_lies_under_them() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.stage("draft").await;
    // a box of exactly 30 by 20 cm
    command(&desk, "Ellipse").await;
    desk.hold(desk.on_table(0.1, 0.2).await, desk.on_table(0.2, 0.3).await).await;
    desk.key('3').await;
    desk.until("document.querySelector('[data-numbers]')").await;
    desk.type_text("0").await;
    desk.key(Key::Tab.into()).await;
    desk.type_text("20").await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(1).await;
    desk.release().await;
    let view = desk.server.costume(id)["pattern"]["pieces"][2].clone();
    assert_eq!((view["width"].as_f64().map(f64::round), view["height"].as_f64().map(f64::round)), (Some(300.0), Some(200.0)));

    // a curve through two points in the place of the hem
    command(&desk, "Through points").await;
    let hem = 102;
    desk.click_at(desk.on_edge(101, hem, 0.5).await).await;
    for share in [0.35, 0.65] {
        let (x, y) = desk.on_edge(101, hem, share).await;
        desk.click_at((x, y + 24.0)).await;
    }
    desk.key(Key::Enter.into()).await;
    desk.until_step(2).await;
    let lines = desk.document(id)["pieces"][0]["shape"]["drawn"]["lines"].clone();
    assert!(lines.as_array().expect("lines").iter().any(|l| l["handles"].is_array()), "{lines}");

    // a side three centimetres longer, more than the calico can be eased: the seam's sides differ, which is told on the table, at the seam
    let length = |k: usize| desk.server.costume(id)["pattern"]["pieces"][0]["outline"][k]["length"].as_f64().expect("a length");
    let outline = desk.server.costume(id)["pattern"]["pieces"][0]["outline"].clone();
    let k = outline.as_array().expect("lines").iter().position(|l| l["line"] == json!(103)).expect("the side");
    let before = length(k);
    desk.key('p').await;
    desk.click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.fill("input[aria-label='Ease along it']", "3").await;
    desk.click_text("aside button", "Add").await;
    desk.until_step(3).await;
    assert!((length(k) - before - 30.0).abs() < 1e-3);
    desk.until("document.querySelector('[data-advice=uneven]')").await;
    desk.click("[data-advice=uneven]").await;
    desk.until("document.querySelector('aside')?.innerText.includes('Seam')").await;

    // the figure, at true scale: as tall as it is
    command(&desk, "Figure under the paper").await;
    desk.until("document.querySelector('[data-figure]')").await;
    let tall =
        desk.see("document.querySelector('[data-figure]').getBoundingClientRect().height / +document.querySelector('[data-table]').dataset.scale").await;
    assert!((tall.as_f64().expect("a height") - 1680.0).abs() < 20.0, "{tall}");
}

/// Takes a tool of the tracing family from the tray.
async fn tool(desk: &Desk, name: &str) {
    desk.click("[data-family=trace]").await;
    desk.click(&format!("[data-take={name}]")).await;
    desk.until(&format!("document.querySelector('[data-tool={name}]')?.getAttribute('aria-pressed') === 'true'")).await;
}

/// Where a pixel of the picture under the paper is seen, while it lies straight.
async fn on_picture(desk: &Desk, x: f64, y: f64) -> (f64, f64) {
    let place = format!(
        "(() => {{ const i = document.querySelector('[data-underlay]'); const b = i.getBoundingClientRect();
           return [b.left + {x} / i.width * b.width, b.top + {y} / i.height * b.height]; }})()"
    );
    let at = desk.see(&place).await;
    (at[0].as_f64().expect("a place"), at[1].as_f64().expect("a place"))
}

/// Corners of a piece as it is drawn.
fn corners_of(document: &Value, piece: usize) -> usize {
    count(&document["pieces"][piece]["shape"]["drawn"]["nodes"])
}

#[tokio::test(flavor = "multi_thread")]
async fn a_scanned_sheet_is_scaled_straightened_and_traced() {
    let desk = desk().await;
    let id = desk.take_off_rail("Tracing practice").await;
    desk.stage("draft").await;
    desk.until("document.querySelector('[data-underlay]')?.naturalWidth === 4370").await;
    // a click proposes an outline: Escape refuses it, Enter takes it
    desk.click("[data-trace-first]").await;
    desk.click_at(on_picture(&desk, 2000.0, 1300.0).await).await;
    desk.until("document.querySelector('[data-found]') && document.querySelector('[data-proposal]')").await;
    desk.key(Key::Escape.into()).await;
    desk.until("!document.querySelector('[data-found]') && !document.querySelector('[data-proposal]')").await;
    assert_eq!(desk.server.costume(id)["step"], json!(0), "a proposal is no step");
    desk.click_at(on_picture(&desk, 2000.0, 1300.0).await).await;
    desk.until("document.querySelector('[data-found]')").await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(1).await;
    // the next is taken by its button, and what has no outline is told
    desk.click_at(on_picture(&desk, 3950.0, 1500.0).await).await;
    desk.until("document.querySelector('[data-proposal=\"5\"]')").await;
    desk.click("[data-take-traced]").await;
    desk.until_step(2).await;
    let traced = desk.document(id);
    assert_eq!((corners_of(&traced, 1), count(&traced["pieces"])), (5, 2));
    let width = desk.server.costume(id)["pattern"]["pieces"][1]["width"].as_f64().expect("a width");
    assert!((width - 140.0 * 1.4f64.to_radians().cos() - 160.0 * 1.4f64.to_radians().sin()).abs() < 1.5, "{width} mm");
    desk.click_at(on_picture(&desk, 2500.0, 2970.0).await).await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('no closed line')").await;
    desk.click("[data-notice] button").await;
    desk.until("!document.querySelector('[data-notice]')").await;

    // laid at another resolution, the ruler brings it back; its ticks are a millimetre apart
    desk.fill("[aria-label=Resolution]", "120").await;
    desk.until_step(3).await;
    desk.click("[aria-label='Show all pieces']").await;
    tool(&desk, "ruler").await;
    desk.click_at(on_picture(&desk, 176.0, 2848.0).await).await;
    desk.click_at(on_picture(&desk, 1300.0, 2875.0).await).await;
    desk.until("document.querySelector('[data-asked=ruler]')?.innerText.includes('1.25')").await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(4).await;
    let resolution = |document: &Value| {
        let at = |k: usize, axis: &str| document["underlays"][0]["corners"][k][axis].as_f64().expect("a corner");
        25.4 * 4370.0 / (at(1, "x") - at(0, "x")).hypot(at(1, "y") - at(0, "y"))
    };
    assert!((resolution(&desk.document(id)) - 150.0).abs() < 0.6, "{}", resolution(&desk.document(id)));
    // two places that are told to be 40 cm apart
    desk.click("[aria-label='Show all pieces']").await;
    tool(&desk, "two-points").await;
    desk.click_at(on_picture(&desk, 500.0, 1500.0).await).await;
    desk.click_at(on_picture(&desk, 2500.0, 1500.0).await).await;
    desk.until("document.querySelector('[data-asked=length] input') === document.activeElement").await;
    desk.type_text("40").await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(5).await;
    assert!((resolution(&desk.document(id)) / (2000.0 / 400.0 * 25.4) - 1.0).abs() < 0.01);
    // four corners of a rectangle
    desk.click("[aria-label='Show all pieces']").await;
    tool(&desk, "straighten").await;
    for (x, y) in [(300.0, 2700.0), (4000.0, 2700.0), (4000.0, 300.0), (300.0, 300.0)] {
        desk.click_at(on_picture(&desk, x, y).await).await;
    }
    desk.until("document.querySelector('[data-asked=rectangle] input') === document.activeElement").await;
    desk.type_text("74").await;
    desk.key(Key::Tab.into()).await;
    desk.type_text("50").await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(6).await;
    let flat = desk.document(id);
    let corner = |k: usize, axis: &str| flat["underlays"][0]["corners"][k][axis].as_f64().expect("a corner");
    assert!(((corner(1, "x") - corner(0, "x")) / (740.0 * 4370.0 / 3700.0) - 1.0).abs() < 0.01);
    assert!(((corner(0, "y") - corner(3, "y")) / (500.0 * 3041.0 / 2400.0) - 1.0).abs() < 0.01);
    // it is dragged by the pointer until it is held
    desk.click("[aria-label='Show all pieces']").await;
    let from = on_picture(&desk, 4000.0, 2500.0).await;
    desk.drag(from, (from.0 - 60.0, from.1 - 20.0)).await;
    desk.until_step(7).await;
    assert!(desk.document(id)["underlays"][0]["corners"][0]["x"].as_f64().expect("a corner") < corner(0, "x") - 20.0);
    desk.click_at(desk.on_table(0.06, 0.9).await).await;
    desk.click_text("[data-underlay-card] label", "Held where it lies").await;
    desk.until_step(8).await;
    desk.drag(on_picture(&desk, 4000.0, 2500.0).await, on_picture(&desk, 3500.0, 2300.0).await).await;
    assert_eq!(desk.server.costume(id)["step"], json!(8), "what is held is not dragged");

    // others come in by a file: a photo, and what is no picture is refused
    let folder = tempfile::tempdir().expect("a folder");
    let photo = folder.path().join("pocket.jpg");
    std::fs::write(&photo, include_bytes!("../../crates/formats/tests/data/pocket.jpg")).expect("written");
    desk.choose_file("[data-picture-file]", &photo).await;
    desk.until_step(9).await;
    desk.until("[...document.querySelectorAll('[data-underlay]')].some((i) => i.naturalWidth === 667)").await;
    std::fs::write(folder.path().join("bad.png"), b"no picture").expect("written");
    desk.choose_file("[data-picture-file]", &folder.path().join("bad.png")).await;
    desk.until("[...document.querySelectorAll('[data-notice]')].some((n) => n.innerText.includes('PNG, a JPEG or a PDF'))").await;
    // neither is part of a delivery, and an unknown picture is not laid
    let delivered = desk.server.get(&format!("/api/costumes/{id}/pattern.svg")).text();
    assert!(!delivered.contains("image") && delivered.contains("class=\"outline\""));
    let step = desk.server.costume(id)["step"].clone();
    let mut unknown = desk.document(id)["underlays"][0].clone();
    unknown["asset"] = json!("0".repeat(64));
    let refused = desk.server.post(
        &format!("/api/costumes/{id}/edits"),
        &json!({ "base": step, "key": "unknown", "edit": { "do": "lay-underlay", "underlay": unknown } }),
    );
    assert!(refused.status == 422 && refused.text().contains("not on this server"), "{}", refused.text());
    while desk.see("document.querySelector('[data-notice]') !== null").await == true {
        desk.click("[data-notice] button").await;
    }
    // the photo is printed on the cloth, in a half drop, and begins elsewhere on one of the pieces
    desk.stage("drape").await;
    desk.choose_file("[data-bring-print-1]", &photo).await;
    desk.until_step(10).await;
    desk.click("[data-print] [aria-label=Lies]").await;
    desk.click_text("[role=option]", "in a half drop").await;
    desk.until_step(11).await;
    desk.stage("draft").await;
    desk.click("[aria-label='Fill with fabric']").await;
    desk.until("document.querySelectorAll('[data-printed=pocket] pattern image').length === 2").await;
    let piece = desk.document(id)["pieces"][0]["id"].as_u64().expect("an id");
    let moved = |document: &Value| document["pieces"][0]["print_at"].clone();
    desk.click(&format!("[data-piece='{piece}'] [data-hit=piece]")).await;
    desk.fill("[data-print-place] input", "2.5").await;
    desk.until_step(12).await;
    assert_eq!(moved(&desk.document(id)), json!({ "at": { "x": 25.0, "y": 0.0 } }));
    let print = desk.document(id)["fabrics"][0]["print"].clone();
    let query = url::form_urlencoded::Serializer::new(String::new())
        .append_pair("base", "#d8d2c4")
        .append_pair("print", &print.to_string())
        .finish();
    let tile = desk.server.get(&format!("/api/prints/tile?{query}"));
    assert!(tile.status == 200 && tile.body.starts_with(b"\x89PNG"));
    // what is no print, or no picture, is refused
    let broken = query.replace("half_drop", "half-drop");
    assert_eq!(desk.server.get(&format!("/api/prints/tile?{broken}")).status, 422);
    let fabric = desk.document(id)["fabrics"][0].clone();
    let mut strange = print.clone();
    strange["image"] = json!("1".repeat(64));
    let edit = json!({ "do": "change-fabric", "fabric": 1, "name": fabric["name"], "swatch": fabric["swatch"], "colour": fabric["colour"], "print": strange });
    let refused = desk.server.post(&format!("/api/costumes/{id}/edits"), &json!({ "base": 12, "key": "strange", "edit": edit }));
    assert!(refused.status == 422 && refused.text().contains("not on this server"), "{}", refused.text());
}
