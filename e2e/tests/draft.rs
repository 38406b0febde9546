//! Drafting as a cutter does it: blocks, halves across a fold, darts, notches on seams, cuts, spreads, several pieces at once.

use e2e::{Desk, desk};
use fantoccini::key::Key;
use serde_json::{Value, json};

fn empty(name: &str) -> String {
    let fabric = json!({ "id": 1, "name": "Calico", "swatch": "calico", "colour": "#d8d0b8", "print": null });
    json!({
        "format": 2, "name": name, "body": { "preset": "woman-38" }, "fineness": { "custom": 30.0 }, "fabrics": [fabric],
        "pieces": [], "seams": [], "next_id": 2
    })
    .to_string()
}

async fn open(desk: &Desk, id: i64) {
    desk.go(&format!("/costume/{id}")).await;
    desk.until("document.querySelector('[data-table]') && document.querySelector('[data-activity]')?.dataset.activity").await;
}

fn nodes(piece: &Value) -> Vec<(f64, f64)> {
    let list = piece["shape"]["drawn"]["nodes"].as_array().expect("nodes");
    list.iter().map(|n| (n["at"]["x"].as_f64().expect("x"), n["at"]["y"].as_f64().expect("y"))).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn three_clicks_lead_from_an_empty_costume_to_a_draped_shirt() {
    let desk = desk().await;
    let id = desk.server.import(&empty("Shirt"));
    open(&desk, id).await;
    desk.click("[data-lay-block]").await;
    desk.click("[data-block='tee']").await;
    desk.until_step(1).await;
    desk.until_activity(&["hung"]).await;
    desk.click_text("header button", "Drape").await;
    desk.until_activity(&["at-rest"]).await;
    let shirt = desk.document(id);
    assert_eq!((shirt["pieces"].as_array().map(Vec::len), shirt["blocks"].as_array().map(Vec::len)), (Some(4), Some(1)));

    // the pattern as a drawing, and some pieces as a document; nonsense is refused
    let drawing = desk.server.get(&format!("/api/costumes/{id}/pattern.svg")).text();
    assert!(drawing.starts_with("<?xml") && drawing.matches("class=\"outline\"").count() == 4, "{drawing}");
    let one = shirt["pieces"][2]["id"].as_i64().expect("an id");
    let clip = desk.server.get(&format!("/api/costumes/{id}/clip?pieces={one}")).json();
    assert_eq!((clip["pieces"].as_array().map(Vec::len), clip["blocks"].is_null()), (Some(1), true));
    assert!(desk.server.get(&format!("/api/costumes/{id}/clip?pieces=all")).text().contains("names no pieces"));

    // its values draft it anew, and so does another body
    desk.stage("draft").await;
    let front = shirt["pieces"][0]["id"].as_i64().expect("an id");
    desk.click(&format!("[data-piece='{front}'] [data-hit='piece']")).await;
    desk.fill("input[aria-label='Length from the shoulder']", "70").await;
    desk.until_step(2).await;
    let low = nodes(&desk.document(id)["pieces"][0]).iter().map(|n| n.1).fold(f64::MAX, f64::min);
    assert!((low + 700.0).abs() < 1e-6, "{low}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_half_is_drawn_across_its_fold_with_typed_numbers() {
    let desk = desk().await;
    let id = desk.server.import(&empty("Half"));
    open(&desk, id).await;
    desk.stage("draft").await;
    desk.key('v').await;
    let (x, y) = desk.on_table(0.5, 0.75).await;
    desk.click_at((x, y)).await;
    // 22 cm to the right, exactly
    desk.move_to((x + 60.0, y)).await;
    desk.key('2').await;
    desk.until("document.querySelector('[data-numbers]')").await;
    desk.type_text("2").await;
    desk.key(Key::Enter.into()).await;
    desk.until("document.querySelector('[data-sketch=\"2\"]')").await;
    // a curved side: pressed and drawn out upwards
    desk.drag((x + 50.0, y - 130.0), (x + 40.0, y - 180.0)).await;
    desk.move_to((x, y - 220.0)).await;
    desk.click_at((x, y - 220.0)).await;
    desk.key(Key::Enter.into()).await;
    desk.until_step(1).await;
    let piece = desk.document(id)["pieces"][0].clone();
    assert!(piece["cut"]["on_fold"].is_number(), "{piece}");
    let corners = nodes(&piece);
    assert!(corners.iter().any(|c| (c.0.abs() - 220.0).abs() < 1e-6 && c.1.abs() < 1e-6), "{corners:?}");
    let curves = piece["shape"]["drawn"]["lines"].as_array().expect("lines").iter().filter(|l| l["handles"].is_array()).count();
    assert!(curves >= 2, "{piece}");
    let view = desk.server.costume(id)["pattern"]["pieces"][0].clone();
    assert!((view["width"].as_f64().expect("a width") - 440.0).abs() < 60.0, "both halves are there: {}", view["width"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_hem_of_a_block_is_dragged_on_the_stand() {
    let desk = desk().await;
    let id = desk.server.import(&empty("Steered"));
    open(&desk, id).await;
    desk.click("[data-lay-block]").await;
    desk.click("[data-block='tee']").await;
    desk.until_step(1).await;
    let grips = desk.server.get(&format!("/api/costumes/{id}/grips")).json();
    let of = |key: &str| grips.as_array().expect("grips").iter().find(|g| g["key"] == key).expect("a grip").clone();
    let (hem, sleeve, neck) = (of("length"), of("sleeve"), of("neck"));
    let number = |v: &Value| v.as_f64().expect("a number");
    // the hem goes down, the sleeve out along the arm, the neck lower
    assert!(number(&hem["axis"][1]) < -0.95 && number(&sleeve["axis"][0]) > 0.4 && number(&neck["axis"][1]) < -0.5, "{grips}");
    desk.click_at(desk.on_table(0.03, 0.9).await).await;
    let front = desk.document(id)["pieces"][0]["id"].clone();
    desk.click(&format!("[data-piece='{front}'] [data-hit='piece']")).await;
    // the figure fills most of the stand's height
    let stand = desk.see("(() => { const b = document.querySelector('[data-stand]').getBoundingClientRect(); return [b.left + b.width / 2, b.top, b.height]; })()").await;
    let (x, top, height) = (number(&stand[0]), number(&stand[1]), number(&stand[2]));
    let scale = 0.82 * height / 1680.0;
    let around = (x + number(&hem["at"][0]) * scale, top + 0.9 * height - number(&hem["at"][1]) * scale);
    let from = desk.grip(around, 0.0, 90.0, "grab").await;
    desk.hold(from, (from.0 + 3.0, from.1 + 40.0)).await;
    desk.release().await;
    desk.until_step(2).await;
    let block = desk.document(id)["blocks"][0].clone();
    let length = number(&block["values"]["length"]);
    assert!(length > number(&hem["value"]) + 60.0 && length < number(&hem["value"]) + 250.0, "{block}");
    let low = nodes(&desk.document(id)["pieces"][0]).iter().map(|n| n.1).fold(f64::MAX, f64::min);
    assert!((low + length).abs() < 1e-6, "the pieces follow: {low} and {length}");
}

/// The line of a drawn piece between two places of the table, mm.
fn line_between(piece: &Value, from: (f64, f64), to: (f64, f64)) -> i64 {
    let at = |axis: &str| piece["at"][axis].as_f64().expect("a place");
    let nodes = piece["shape"]["drawn"]["nodes"].as_array().expect("nodes");
    let near = |(x, y): (f64, f64)| {
        let off = |n: &&Value| {
            let place = |axis: &str| n["at"][axis].as_f64().expect("a number") + at(axis);
            ((place("x") - x).hypot(place("y") - y) * 1000.0) as i64
        };
        nodes.iter().min_by_key(off).expect("a node")["id"].clone()
    };
    let ends = [near(from), near(to)];
    let lines = piece["shape"]["drawn"]["lines"].as_array().expect("lines");
    let joins = |l: &&Value| ends.contains(&l["from"]) && ends.contains(&l["to"]);
    lines.iter().find(joins).expect("a line")["id"].as_i64().expect("an id")
}

/// A shirt drawn point by point: halves beside their folds, one sleeve and its twin, five seams. Every press is counted.
#[tokio::test(flavor = "multi_thread")]
async fn a_shirt_is_drawn_by_hand_and_draped_in_forty_clicks() {
    let desk = desk().await;
    let id = desk.server.import(&empty("By hand"));
    open(&desk, id).await;
    desk.stage("draft").await;
    let mut clicks = 1;
    let scale: f64 = desk.see("Number(document.querySelector('[data-table]').dataset.scale)").await.as_f64().expect("a scale");
    let middle = desk.on_table(0.5, 0.5).await;
    let seen = |(x, y): (f64, f64)| (middle.0 + x * scale, middle.1 - y * scale);
    // hem, side, armhole, shoulder and neck of a half; the front to the right of its fold, the back to the left of its own
    let half = |fold: f64, side: f64, neck: f64| {
        [(0.0, -250.0), (245.0, -250.0), (245.0, 100.0), (190.0, 310.0), (80.0, 350.0), (0.0, 350.0 - neck)]
            .map(|(x, y)| (fold + side * x, y))
    };
    let (front, back) = (half(-480.0, 1.0, 90.0), half(60.0, -1.0, 25.0));
    let sleeve = [(410.0, -150.0), (710.0, -150.0), (735.0, 0.0), (560.0, 128.0), (385.0, 0.0)];
    let drawn =
        [('v', front.as_slice(), "Chest, front"), ('v', back.as_slice(), "Chest, back"), ('o', sleeve.as_slice(), "Upper arm, left")];
    let mut step = 0;
    for (key, points, station) in drawn {
        desk.key(key).await;
        for p in points {
            desk.click_at(seen(*p)).await;
            clicks += 1;
        }
        desk.key(Key::Enter.into()).await;
        step += 1;
        desk.until_step(step).await;
        desk.click("[aria-label='Station']").await;
        desk.click_text("[role=option]", station).await;
        clicks += 2;
        step += 1;
        desk.until_step(step).await;
    }
    desk.click_text("aside button", "Add a twin").await;
    clicks += 1;
    desk.until_step(step + 1).await;
    let pieces = desk.document(id)["pieces"].clone();
    desk.stage("join").await;
    clicks += 1;
    let line = |piece: usize, points: &[(f64, f64)], k: usize| {
        let piece = &pieces[piece];
        (piece["id"].as_i64().expect("an id"), line_between(piece, points[k], points[(k + 1) % points.len()]))
    };
    let seams = [
        (line(0, &front, 1), line(1, &back, 1)),
        (line(0, &front, 3), line(1, &back, 3)),
        (line(0, &front, 2), line(2, &sleeve, 3)),
        (line(1, &back, 2), line(2, &sleeve, 2)),
        (line(2, &sleeve, 1), line(2, &sleeve, 4)),
    ];
    for (k, ((a, from), (b, to))) in seams.into_iter().enumerate() {
        desk.click_at(desk.on_edge(a, from, 0.5).await).await;
        desk.click_at(desk.on_edge(b, to, 0.5).await).await;
        clicks += 2;
        desk.until_step(step + 2 + k as i64).await;
    }
    desk.click("[data-main]").await;
    clicks += 1;
    desk.until_activity(&["at-rest"]).await;
    println!("a shirt by hand: {clicks} clicks");
    assert!(clicks <= 40, "{clicks}");
    desk.stage("check").await;
    desk.until_data("crossings", "0").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn darts_notches_cuts_and_spreads_are_made_with_the_pointer() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let before = desk.document(id);
    let hem = 102;

    // a dart from the hem upwards, its legs a seam
    desk.key('a').await;
    let foot = desk.on_edge(101, hem, 0.5).await;
    desk.drag(foot, (foot.0, foot.1 - 90.0)).await;
    desk.until_step(1).await;
    let after = desk.document(id);
    assert_eq!(after["seams"].as_array().map(Vec::len), Some(5));

    // a notch on the side seam marks both sides
    desk.key('n').await;
    desk.click_at(desk.on_edge(101, 103, 0.4).await).await;
    desk.until_step(2).await;
    let marks = |document: &Value| -> Vec<usize> {
        let pieces = document["pieces"].as_array().expect("pieces");
        pieces.iter().map(|p| p["shape"]["drawn"]["marks"].as_array().map_or(0, Vec::len)).collect()
    };
    let more: Vec<usize> = marks(&before).iter().map(|n| n + 1).collect();
    assert_eq!(marks(&desk.document(id)), more);

    // cut apart from side to side: both parts keep their seams
    desk.key('x').await;
    desk.click_at(desk.on_edge(101, 103, 0.8).await).await;
    desk.click_at(desk.on_edge(101, 109, 0.3).await).await;
    desk.until_step(3).await;
    let parted = desk.document(id);
    assert_eq!(parted["pieces"].as_array().map(Vec::len), Some(3));
    assert!(parted["seams"].as_array().map_or(0, Vec::len) >= 6, "the cut is sewn");

    // and back again, step by step
    for step in (0..3).rev() {
        desk.click("[aria-label='Undo']").await;
        desk.until_step(step).await;
    }
    assert_eq!(desk.document(id)["pieces"], before["pieces"]);

    // a line inside from edge to edge, and away again
    desk.key('i').await;
    desk.click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.click_at(desk.on_edge(101, 109, 0.5).await).await;
    desk.until_step(4).await;
    let line = desk.document(id)["pieces"][0]["shape"]["drawn"]["inside"][0]["lines"][0].as_i64().expect("a line");
    desk.key('p').await;
    desk.click_at(desk.on_edge(101, line, 0.3).await).await;
    desk.until("document.querySelector('aside').innerText.includes('Line inside')").await;
    desk.key(Key::Delete.into()).await;
    desk.until_step(5).await;
    assert!(desk.document(id)["pieces"][0]["shape"]["drawn"]["inside"].is_null());

    // all pieces together: lined up, copied and pasted
    desk.key('p').await;
    desk.key_with(Key::Control, 'a').await;
    desk.until("document.body.innerText.includes('2 pieces')").await;
    desk.click_text("aside button", "Bottoms").await;
    desk.until_step(6).await;
    desk.key_with(Key::Control, 'c').await;
    desk.until("localStorage.getItem('ourlet.clip')").await;
    desk.key_with(Key::Control, 'v').await;
    desk.until_step(7).await;
    let pasted = desk.document(id);
    assert_eq!((pasted["pieces"].as_array().map(Vec::len), pasted["seams"].as_array().map(Vec::len)), (Some(4), Some(8)));

    // the tape reads between two places; a guide is drawn out of the ruler
    desk.key('t').await;
    let (a, b) = (desk.on_table(0.3, 0.3).await, desk.on_table(0.6, 0.3).await);
    desk.click_at(a).await;
    desk.click_at(b).await;
    desk.until("Number(document.querySelector('[data-measured]')?.dataset.measured) > 100").await;
    desk.key('p').await;
    let (from, to) = (desk.on_table(0.5, 0.01).await, desk.on_table(0.5, 0.4).await);
    desk.drag(from, to).await;
    desk.until("document.querySelectorAll('[data-guide]').length === 1").await;
}
