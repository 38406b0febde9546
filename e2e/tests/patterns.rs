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

    // a side a centimetre longer: the seam's sides differ, which is told on the table, at the seam
    let length = |k: usize| desk.server.costume(id)["pattern"]["pieces"][0]["outline"][k]["length"].as_f64().expect("a length");
    let outline = desk.server.costume(id)["pattern"]["pieces"][0]["outline"].clone();
    let k = outline.as_array().expect("lines").iter().position(|l| l["line"] == json!(103)).expect("the side");
    let before = length(k);
    desk.key('p').await;
    desk.click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.fill("input[aria-label='Ease along it']", "1").await;
    desk.click_text("aside button", "Add").await;
    desk.until_step(3).await;
    assert!((length(k) - before - 10.0).abs() < 1e-3);
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
