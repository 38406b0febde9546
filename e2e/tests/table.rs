//! Drafting with the pointer on the table.

use e2e::{Desk, desk};
use fantoccini::key::Key;
use serde_json::Value;

async fn piece(desk: &Desk, id: i64, index: usize) -> Value {
    desk.server.costume(id)["costume"]["pieces"][index].clone()
}

fn corners(piece: &Value) -> usize {
    piece["shape"]["drawn"]["outline"].as_array().map_or(0, Vec::len)
}

fn nodes(piece: &Value) -> &Vec<Value> {
    piece["shape"]["drawn"]["nodes"].as_array().expect("nodes")
}

fn line(piece: &Value, id: i64) -> &Value {
    piece["shape"]["drawn"]["lines"].as_array().expect("lines").iter().find(|l| l["id"] == id).expect("the line")
}

/// Table coordinates of the pointer as the footer shows them, cm.
async fn pointer(desk: &Desk) -> (f64, f64) {
    let text = desk.text("footer").await;
    let number = |name: &str| -> f64 {
        let rest = text.split(&format!("{name} ")).nth(1).expect("the pointer's place");
        rest.split([' ', '\n']).next().and_then(|v| v.replace('−', "-").parse().ok()).expect("a number")
    };
    (number("x"), number("y"))
}

#[tokio::test(flavor = "multi_thread")]
async fn corners_edges_and_handles_are_shaped_with_the_pointer() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;

    // a corner on a straight edge
    desk.click("[data-tool='corner']").await;
    desk.click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.until_step(1).await;
    let front = piece(&desk, id, 0).await;
    assert_eq!(corners(&front), 9);
    let added = nodes(&front).last().expect("the new corner").clone();
    assert!((added["at"]["x"].as_f64().expect("x") - 361.0).abs() < 8.0);
    let added = added["id"].as_i64().expect("its id");

    // the edge before it becomes a curve, and its handle bends it
    desk.click("[data-tool='bow']").await;
    desk.click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.until_step(2).await;
    desk.click("[data-tool='pick']").await;
    let straight = desk.text("[data-piece='101'] [data-length='103']").await;
    let handle = desk.middle("[data-piece='101'] [data-handle='leave'][data-edge='103'] ").await;
    desk.hold(handle, (handle.0 + 40.0, handle.1)).await;
    desk.until(&format!("document.querySelector(\"[data-piece='101'] [data-length='103']\").textContent !== '{straight}'")).await;
    desk.release().await;
    desk.until_step(3).await;
    assert!(line(&piece(&desk, id, 0).await, 103)["handles"][0]["x"].as_f64().expect("x") > 400.0);

    // back to straight, and the corner away again
    desk.click("[data-tool='bow']").await;
    desk.click_at(desk.on_edge(101, 103, 0.3).await).await;
    desk.until_step(4).await;
    assert!(line(&piece(&desk, id, 0).await, 103)["handles"].is_null());
    desk.click("[data-tool='pick']").await;
    desk.click(&format!("[data-piece='101'] [data-corner='{added}']")).await;
    desk.key(Key::Delete.into()).await;
    desk.until_step(5).await;
    assert_eq!(corners(&piece(&desk, id, 0).await), 8);

    // undo and redo survive a reload
    desk.client.refresh().await.expect("a reload");
    desk.until_step(5).await;
    for step in (0..5).rev() {
        desk.click("[aria-label='Undo']").await;
        desk.until_step(step).await;
    }
    desk.click("[aria-label='Redo']").await;
    desk.until_step(1).await;
    assert_eq!(corners(&piece(&desk, id, 0).await), 9);
}

#[tokio::test(flavor = "multi_thread")]
async fn pieces_are_drawn_corner_by_corner_by_dragging_and_by_size() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let (left, top, right, bottom) = {
        let b = desk.see("(() => { const b = document.querySelector('[data-table]').getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]; })()").await;
        let at = |k: usize| b[k].as_f64().expect("a number");
        (at(0), at(1), at(2), at(3))
    };
    // room above the pieces
    let (x, y) = (left + 60.0, top + 40.0);
    desk.key('o').await;
    desk.click_at((x, y)).await;
    desk.click_at((x + 90.0, y + 3.0)).await;
    desk.move_to((x + 92.0, y + 60.0)).await;
    assert_eq!(
        desk.see("[...document.querySelectorAll('[data-table] text')].some((t) => t.textContent === 'plumb')").await,
        true,
        "a snap says why"
    );
    desk.click_at((x + 92.0, y + 60.0)).await;
    desk.click_at((x, y)).await;
    desk.until_step(1).await;
    let drawn = piece(&desk, id, 2).await;
    assert_eq!(corners(&drawn), 3);
    let across = |p: &Value, k: usize| nodes(p)[k]["at"]["x"].as_f64().expect("x");
    assert!((0..3).any(|k| across(&drawn, k) == across(&drawn, (k + 1) % 3)), "two corners are plumb: {drawn}");

    desk.key('w').await;
    desk.drag((x + 160.0, y), (x + 230.0, y + 40.0)).await;
    desk.until_step(2).await;
    assert_eq!(corners(&piece(&desk, id, 3).await), 4);

    desk.key('w').await;
    desk.fill("input[aria-label='Width']", "2*21+0.5").await;
    desk.fill("input[aria-label='Height']", "5in").await;
    desk.click("[data-add-band]").await;
    desk.until_step(3).await;
    let band = piece(&desk, id, 4).await;
    let size = |axis: &str| {
        let values: Vec<f64> = (0..4).filter_map(|k| nodes(&band)[k]["at"][axis].as_f64()).collect();
        values.iter().fold(f64::MIN, |a, b| a.max(*b)) - values.iter().fold(f64::MAX, |a, b| a.min(*b))
    };
    assert!((size("x") - 425.0).abs() < 1e-6 && (size("y") - 127.0).abs() < 1e-6, "{band}");
    // the new piece is selected and within sight
    desk.until(&format!("(() => {{ const b = document.querySelector(\"[data-piece='{}']\").getBoundingClientRect(); return b.left >= {left} && b.right <= {right} && b.bottom <= {bottom}; }})()", band["id"])).await;
    desk.key(Key::Delete.into()).await;
    desk.until_step(4).await;
    assert_eq!(desk.server.costume(id)["costume"]["pieces"].as_array().map(Vec::len), Some(4));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_self_crossing_outline_is_refused_with_a_reason_and_stays_as_it_was() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let before = desk.server.costume(id);
    let from = desk.middle("[data-piece='101'] [data-corner='103']").await;
    let over = desk.middle("[data-piece='101'] [data-corner='108']").await;
    desk.drag(from, (over.0 - 30.0, over.1)).await;
    desk.until("document.querySelector('[data-notice]')").await;
    let notice = desk.text("[data-notice]").await;
    assert!(notice.contains("Front panel") && notice.contains("would cross"), "{notice}");
    desk.until_step(0).await;
    assert_eq!(desk.server.costume(id), before);
    let back = desk.middle("[data-piece='101'] [data-corner='103']").await;
    assert!((back.0 - from.0).abs() < 1.0 && (back.1 - from.1).abs() < 1.0, "the corner is back");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_table_zooms_to_the_pointer_pans_and_fits() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let at = desk.middle("[data-piece='110'] [data-corner='113']").await;
    desk.move_to(at).await;
    let (x, y) = pointer(&desk).await;
    let scale = desk.data("scale").await;
    desk.see(&format!("(document.querySelector('[data-table]').dispatchEvent(new WheelEvent('wheel', {{ deltaY: -400, clientX: {}, clientY: {}, bubbles: true, cancelable: true }})), true)", at.0.round(), at.1.round())).await;
    desk.until(&format!("document.querySelector('[data-table]').dataset.scale > 1.5 * {scale}")).await;
    desk.move_to((at.0 + 1.0, at.1)).await;
    let (zoomed_x, zoomed_y) = pointer(&desk).await;
    assert!((zoomed_x - x).abs() < 0.6 && (zoomed_y - y).abs() < 0.6, "{x} {y} became {zoomed_x} {zoomed_y}");

    let corner = "[data-piece='110'] [data-corner='113']";
    let before = desk.middle(corner).await;
    let paper = desk.see("(() => { const b = document.querySelector('[data-table]').getBoundingClientRect(); for (let y = b.top + 20; y < b.bottom - 90; y += 15) for (let x = b.left + 20; x < b.right - 120; x += 15) if (document.elementFromPoint(x, y)?.matches('[data-table]')) return [x, y]; })()").await;
    let from = (paper[0].as_f64().expect("free paper"), paper[1].as_f64().expect("free paper"));
    desk.drag(from, (from.0 + 60.0, from.1 + 25.0)).await;
    let after = desk.middle(corner).await;
    assert!((after.0 - before.0 - 60.0).abs() < 1.5 && (after.1 - before.1 - 25.0).abs() < 1.5, "{before:?} to {after:?}");
    desk.key('0').await;
    desk.until(&format!("Math.abs(document.querySelector('[data-table]').dataset.scale - {scale}) < 1e-6")).await;
    assert_eq!(desk.server.costume(id)["step"], 0, "looking around changes nothing");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_right_click_offers_what_can_be_done_and_a_piece_is_dragged() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let middle = desk.middle("[data-piece='110'] [data-hit='piece']").await;
    desk.right_click_at(middle).await;
    desk.click_text("[role=menuitem]", "Park").await;
    desk.until_step(1).await;
    assert_eq!(piece(&desk, id, 1).await["parked"], true);
    desk.right_click_at(desk.on_edge(101, 103, 0.5).await).await;
    desk.click_text("[role=menuitem]", "Make a curve").await;
    desk.until_step(2).await;
    let from = desk.middle("[data-piece='110'] [data-hit='piece']").await;
    desk.drag(from, (from.0 + 26.0, from.1 - 32.0)).await;
    desk.until_step(3).await;
    let at = piece(&desk, id, 1).await["at"].clone();
    assert!(at["x"].as_f64().expect("x") > 960.0 && at["y"].as_f64().expect("y") > 20.0, "{at}");
    desk.key('?').await;
    desk.until("document.querySelector('[data-keys]')").await;
    assert!(desk.text("[data-keys]").await.contains("Undo"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_piece_is_folded_along_a_line_between_two_corners() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.click("[data-piece='101'] [data-hit='piece']").await;
    desk.click("[data-piece='101'] [data-corner='103']").await;
    desk.click("[aria-label='New fold line']").await;
    desk.click_text("[role=option]", "corner 5").await;
    desk.until_step(1).await;
    desk.until("document.querySelector(\"[data-fold='103 106']\")").await;
    desk.fill("[data-fold-row='106'] input", "-120").await;
    desk.until_step(2).await;
    let front = piece(&desk, id, 0).await;
    let folds = &front["shape"]["drawn"]["inside"];
    assert_eq!(folds[0]["use"], serde_json::json!({ "fold": { "angle": -120.0 } }));
    let fold = line(&front, folds[0]["lines"][0].as_i64().expect("its id"));
    assert_eq!((&fold["from"], &fold["to"]), (&serde_json::json!(103), &serde_json::json!(106)));
    // a line that would cross it is refused with the reason, and nothing changes
    desk.click("[data-piece='101'] [data-corner='102']").await;
    desk.click("[aria-label='New fold line']").await;
    desk.click_text("[role=option]", "corner 4").await;
    desk.until("document.querySelector('[data-notice]')?.innerText.includes('crosses another fold line')").await;
    assert_eq!(piece(&desk, id, 0).await["shape"]["drawn"]["inside"].as_array().map(Vec::len), Some(1));
    desk.click("[data-piece='101'] [data-corner='103']").await;
    desk.click("[aria-label='Take out the fold to corner 5']").await;
    desk.until_step(3).await;
    assert!(piece(&desk, id, 0).await["shape"]["drawn"]["inside"].is_null());
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_only_touched_is_no_step() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;

    // a click that shakes selects and moves nothing
    let corner = desk.middle("[data-piece='101'] [data-corner='103']").await;
    desk.hold(corner, (corner.0 + 3.0, corner.1 + 2.0)).await;
    desk.release().await;
    // a drag that Escape ends is taken back
    desk.hold(corner, (corner.0 + 60.0, corner.1 + 20.0)).await;
    desk.key(Key::Escape.into()).await;
    desk.release().await;
    // a field that is only passed through does not write its rounded text back
    desk.click("[data-piece='101'] [data-corner='103']").await;
    for name in ["Across", "Up"] {
        desk.click(&format!("input[aria-label='{name}']")).await;
        desk.key(Key::Tab.into()).await;
    }
    // a letter with a choice in focus neither changes it nor is a shortcut, and Delete takes nothing away
    desk.click("[data-piece='101'] [data-hit='piece']").await;
    desk.see("document.querySelector(\"[aria-label='Fabric']\").focus()").await;
    for key in ['s', 'l', 'o'] {
        desk.key(key).await;
    }
    desk.key(Key::Delete.into()).await;
    assert_eq!(desk.see("document.querySelector('[data-tool=pick]').ariaPressed").await, "true");
    // one honest step afterwards is the first
    let piece = desk.middle("[data-piece='101'] [data-hit='piece']").await;
    desk.hold(piece, (piece.0 + 30.0, piece.1)).await;
    desk.release().await;
    desk.until_step(1).await;
    let state = desk.server.costume(id);
    assert_eq!((state["step"].as_i64(), state["costume"]["pieces"].as_array().map(Vec::len)), (Some(1), Some(2)));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_keyboard_alone_moves_a_corner_sews_two_edges_and_drapes() {
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let before = desk.server.costume(id)["costume"].clone();
    desk.see("document.querySelector('[data-table]').focus()").await;
    // the front panel, its first corner, the edge after it, the second corner
    let tab = || Key::Tab.into();
    desk.key(tab()).await;
    desk.key(Key::Enter.into()).await;
    desk.key(tab()).await;
    desk.key(tab()).await;
    desk.key(Key::Right.into()).await;
    desk.until_step(1).await;
    let at = |state: &Value, k: usize| nodes(&state["pieces"][0])[k]["at"]["x"].as_f64().expect("x");
    let moved = desk.server.costume(id)["costume"].clone();
    assert!((at(&moved, 1) - at(&before, 1) - 1.0).abs() < 1e-9, "one millimetre to the right");
    desk.key_with(Key::Control, 'z').await;
    desk.until_step(0).await;

    // a command is found by its name
    desk.key_with(Key::Control, 'k').await;
    desk.until("document.querySelector('[data-search] input')").await;
    desk.type_text("go to jo").await;
    desk.key(Key::Enter.into()).await;
    desk.until("!document.querySelector('[data-search]') && document.querySelector('[data-seam-row]')").await;

    // the right side of the front and the left side of the back, which are sewn already: unpicked first, then sewn by J
    desk.click("[data-seam-row='C']").await;
    desk.key(Key::Delete.into()).await;
    desk.until_step(2).await;
    // out of every selection, then into the front: its corner, the edge, the next corner, the right side
    desk.see("document.querySelector('[data-table]').focus()").await;
    desk.key(tab()).await;
    desk.key(Key::Enter.into()).await;
    for _ in 0..3 {
        desk.key(tab()).await;
    }
    desk.key('j').await;
    desk.until("document.querySelector('[data-says]').innerText.includes('partner')").await;
    // on to the back and to its left side, the last of eight edges
    desk.key_with(Key::Shift, Key::Enter.into()).await;
    desk.key(tab()).await;
    desk.key(Key::Enter.into()).await;
    for _ in 0..15 {
        desk.key(tab()).await;
    }
    desk.key('j').await;
    desk.until_step(3).await;
    let seams = desk.server.costume(id)["costume"]["seams"].clone();
    let new = seams.as_array().expect("seams").last().expect("the new one").clone();
    assert_eq!((&new["a"][0]["line"], &new["b"][0]["line"]), (&serde_json::json!(103), &serde_json::json!(118)));

    desk.key('d').await;
    desk.until_activity(&["closing", "falling"]).await;
}
