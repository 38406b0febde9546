//! A table with 60 pieces of 40 lines: what each movement of the pointer draws again, and how long the page is busy with it.
//! The times are printed; what is asserted is that nothing is drawn which did not change.

use e2e::{Desk, Meter, desk};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const PIECES: usize = 60;
const LINES: usize = 40;
/// Events of a round, rounds that are measured, and those before them.
const EVENTS: usize = 8;
const ROUNDS: usize = 7;
const WARM: usize = 2;
/// Time left to the page after an event: a few frames, and the answer to a trial.
const FRAMES: Duration = Duration::from_millis(60);
/// Places between the first and the last piece of a row.
const PLACES: usize = 24;

/// Round pieces in rows of ten, each sewn to the next by one line.
fn costume() -> String {
    let mut next = 2;
    let mut fresh = || {
        next += 1;
        next - 1
    };
    let mut pieces = Vec::new();
    let mut sewn: Vec<(u32, u32, u32)> = Vec::new();
    for p in 0..PIECES {
        let id = fresh();
        let nodes: Vec<u32> = (0..LINES).map(|_| fresh()).collect();
        let lines: Vec<u32> = (0..LINES).map(|_| fresh()).collect();
        let at = |k: usize| {
            let angle = std::f64::consts::TAU * k as f64 / LINES as f64;
            // every other corner a little farther out, so that no two pieces are alike
            let radius = 200.0 + if k.is_multiple_of(2) { 0.0 } else { 4.0 + 0.1 * p as f64 };
            json!({ "x": radius * angle.cos(), "y": radius * angle.sin() })
        };
        let node = |k: usize| json!({ "id": nodes[k], "at": at(k) });
        let line = |k: usize| json!({ "id": lines[k], "from": nodes[k], "to": nodes[(k + 1) % LINES] });
        let drawing = json!({
            "nodes": (0..LINES).map(node).collect::<Vec<_>>(),
            "lines": (0..LINES).map(line).collect::<Vec<_>>(),
            "outline": lines,
        });
        let place = json!({ "x": 480.0 * (p % 10) as f64, "y": 480.0 * (p / 10) as f64 });
        pieces.push(json!({
            "id": id, "name": format!("Panel {}", p + 1), "at": place, "fabric": 1, "grain": 90.0, "parked": true, "placement": null,
            "wear": 1, "shape": { "drawn": drawing }
        }));
        sewn.push((id, lines[0], lines[LINES / 2]));
    }
    let seam = |(k, two): (usize, &[(u32, u32, u32)])| {
        let (a, b) = (two[0], two[1]);
        let run = |piece: u32, line: u32, from: f64, to: f64| json!([{ "piece": piece, "line": line, "from": from, "to": to }]);
        json!({ "id": 100_000 + k, "tag": format!("S{k}"), "a": run(a.0, a.1, 0.0, 1.0), "b": run(b.0, b.2, 1.0, 0.0) })
    };
    let fabric = json!({ "id": 1, "name": "Calico", "swatch": "calico", "colour": "#d8d0b8", "print": null });
    let seams: Vec<Value> = sewn.windows(2).enumerate().map(seam).collect();
    json!({
        "format": 2, "name": "Sixty panels", "body": { "preset": "woman-38" }, "fineness": "toile", "fabrics": [fabric],
        "pieces": pieces, "seams": seams, "next_id": 200_000
    })
    .to_string()
}

/// Nodes of the table that are changed from now on, each counted once, with the pieces they are in.
async fn watch(desk: &Desk) {
    let script = "(() => { window.seen = { nodes: new Set(), pieces: new Set() }; window.eye?.disconnect();
        window.eye = new MutationObserver((list) => { for (const m of list) { window.seen.nodes.add(m.target); const p = m.target.closest?.('[data-piece]'); if (p) window.seen.pieces.add(p.dataset.piece); } });
        window.eye.observe(document.querySelector('[data-table]'), { attributes: true, childList: true, characterData: true, subtree: true }); return true; })()";
    desk.see(script).await;
}

/// What was seen to change; nobody watches from then on.
async fn changed(desk: &Desk) -> (u64, Vec<String>) {
    let seen = desk.see("(() => { window.eye.disconnect(); return [window.seen.nodes.size, [...window.seen.pieces]]; })()").await;
    (seen[0].as_u64().expect("a count"), serde_json::from_value(seen[1].clone()).expect("pieces"))
}

fn median(mut all: Vec<f64>) -> f64 {
    all.sort_by(f64::total_cmp);
    all[all.len() / 2]
}

/// Milliseconds that the main thread works for each event: in all, and of that on scripts, styles and layout. The counters
/// are read after every few events, since reading them disturbs what comes next; the median of these rounds is told, without
/// the first ones, in which the page warms up, and without what the page does when nothing moves.
fn busy_for_each(page: &mut Meter, held: bool, way: impl Fn(usize) -> (f64, f64)) -> String {
    let mut spent: [Vec<f64>; 4] = Default::default();
    let mut still: [Vec<f64>; 4] = Default::default();
    for round in 0..WARM + ROUNDS {
        let start = page.busy();
        for k in 0..EVENTS {
            page.moved(way(round * EVENTS + k), held);
            std::thread::sleep(FRAMES);
        }
        let moved = page.busy();
        std::thread::sleep(FRAMES * EVENTS as u32);
        let after = page.busy();
        for c in (0..4).filter(|_| round >= WARM) {
            spent[c].push((moved[c] - start[c]) / EVENTS as f64);
            still[c].push((after[c] - moved[c]) / EVENTS as f64);
        }
    }
    let mut ms = spent.into_iter().zip(still).map(|(spent, still)| 1000.0 * (median(spent) - median(still)).max(0.0));
    let mut next = || ms.next().unwrap_or_default();
    format!("{:.1} ms (scripts {:.1}, styles {:.1}, layout {:.1})", next(), next(), next(), next())
}

/// What is told of the main thread: hovering, panning and dragging a corner, and the time to the answer of a trial.
fn times(page: &mut Meter, pieces: &Value) -> String {
    page.until(&format!("document.querySelectorAll('[data-piece]').length === {PIECES}"));
    page.until("document.querySelector('[data-activity]')?.dataset.activity");
    let hit = |k: usize| format!("[data-piece='{}'] [data-hit='piece']", pieces[k]);
    let (from, to) = (page.middle(&hit(0)), page.middle(&hit(9)));
    let along = along(from, to);
    page.moved(along(0), false);
    let hovering = busy_for_each(page, false, along);

    let gap = gap(from, to);
    let panned = |k: usize| (gap.0 + 20.0 + 3.0 * (k % 7) as f64, gap.1 + 5.0 + (k % 24) as f64);
    page.moved(gap, false);
    page.press(gap);
    let panning = busy_for_each(page, true, panned);
    // back to where it was
    page.moved(gap, true);
    page.release(gap);

    let middle = page.middle(&hit(5));
    page.click(middle);
    let corner = format!("[data-piece='{}'] [data-corner]", pieces[5]);
    page.until(&format!("document.querySelectorAll(\"{corner}\").length === {LINES}"));
    let node = page.see(&format!("document.querySelectorAll(\"{corner}\")[10].dataset.corner"));
    let at = page.middle(&format!("[data-piece='{}'] [data-corner='{}']", pieces[5], node.as_str().expect("an id")));
    let dragged = |k: usize| (at.0 + 21.0 + (k % 5) as f64, at.1 - 17.0 - (k % 3) as f64);
    page.moved(at, false);
    page.press(at);
    let dragging = busy_for_each(page, true, dragged);
    page.release(dragged(0));
    format!("hovering {hovering}, panning {panning}, dragging a corner {dragging}")
}

/// Milliseconds from sending a trial over the costume's socket to its answer, at the median; each can be done.
fn trial_time(desk: &Desk, id: i64) -> f64 {
    let document = desk.document(id);
    let piece = &document["pieces"][5];
    let node = &piece["shape"]["drawn"]["nodes"][10];
    let mut socket = desk.server.socket(id);
    let mut times = Vec::new();
    for k in 0..5 * EVENTS {
        let to = json!({ "x": node["at"]["x"].as_f64().expect("a number") + (k % 5) as f64, "y": node["at"]["y"].as_f64().expect("a number") + 1.0 });
        let edit = json!({ "do": "move-node", "piece": piece["id"], "node": node["id"], "to": to });
        let command = json!({ "do": "trial", "number": k, "edit": edit }).to_string();
        let sent = Instant::now();
        socket.send(tungstenite::Message::text(command)).expect("a command is sent");
        let said = loop {
            let heard = socket.read().expect("an answer");
            let said: Value = heard.to_text().ok().and_then(|t| serde_json::from_str(t).ok()).unwrap_or_default();
            if said["number"] == k {
                break said;
            }
        };
        times.push(1000.0 * sent.elapsed().as_secs_f64());
        assert_eq!(said["refusal"], Value::Null, "what is tried can be done");
        std::thread::sleep(FRAMES);
    }
    median(times)
}

/// Places from the middle of the first piece of a row to that of its last.
fn along(from: (f64, f64), to: (f64, f64)) -> impl Fn(usize) -> (f64, f64) + Copy {
    move |k| {
        let t = (k % PLACES) as f64 / PLACES as f64;
        (from.0 + (to.0 - from.0) * t, from.1 + (to.1 - from.1) * t)
    }
}

/// The paper between the pieces.
fn gap(from: (f64, f64), to: (f64, f64)) -> (f64, f64) {
    (0.5 * (from.0 + along(from, to)(2).0), from.1 - (to.0 - from.0) / 18.0)
}

#[tokio::test(flavor = "multi_thread")]
async fn only_what_changes_is_drawn_again() {
    let desk = desk().await;
    let id = desk.server.import(&costume());
    desk.go(&format!("/costume/{id}")).await;
    desk.until(&format!("document.querySelectorAll('[data-piece]').length === {PIECES}")).await;
    desk.until("document.querySelector('[data-activity]')?.dataset.activity").await;
    let pieces = desk.see("[...document.querySelectorAll('[data-piece]')].map((p) => Number(p.dataset.piece))").await;
    let piece = |k: usize| pieces[k].as_i64().expect("an id");

    let (from, to) = (
        desk.middle(&format!("[data-piece='{}'] [data-hit='piece']", piece(0))).await,
        desk.middle(&format!("[data-piece='{}'] [data-hit='piece']", piece(9))).await,
    );
    let along = along(from, to);
    desk.move_to(along(0)).await;
    watch(&desk).await;
    desk.move_to(along(3)).await;
    let (nodes, hovered) = changed(&desk).await;
    assert!(nodes <= 4 && hovered.len() <= 2, "hovering changes {nodes} nodes of {hovered:?}");

    // pan by the paper between the pieces
    let gap = gap(from, to);
    desk.hold(gap, (gap.0 + 20.0, gap.1 + 5.0)).await;
    watch(&desk).await;
    desk.move_to((gap.0 + 26.0, gap.1 + 9.0)).await;
    let (nodes, redrawn) = changed(&desk).await;
    assert!(redrawn.is_empty() && (1..=5).contains(&nodes), "panning changes {nodes} nodes, of the pieces {redrawn:?}");
    desk.release().await;
    desk.key('0').await;

    // drag a corner: tried out on the server, drawn as it answers
    desk.click(&format!("[data-piece='{}'] [data-hit='piece']", piece(5))).await;
    // one at the top, away from the letters of the seams
    let node = desk.see(&format!("document.querySelectorAll(\"[data-piece='{}'] [data-corner]\")[10].dataset.corner", piece(5))).await;
    let corner = format!("[data-piece='{}'] [data-corner='{}']", piece(5), node.as_str().expect("an id"));
    let at = desk.middle(&corner).await;
    desk.hold(at, (at.0 + 21.0, at.1 - 17.0)).await;
    tokio::time::sleep(4 * FRAMES).await;
    watch(&desk).await;
    desk.move_to((at.0 + 28.0, at.1 - 26.0)).await;
    desk.until("window.seen.pieces.size > 0").await;
    let (_, redrawn) = changed(&desk).await;
    assert_eq!(redrawn, [piece(5).to_string()], "only the piece whose corner moves");
    desk.release().await;
    desk.until_step(1).await;

    desk.client.goto("about:blank").await.expect("an empty page");
    let times = times(&mut Meter::open(&desk, &format!("/costume/{id}")), &pieces);
    println!(
        "60 pieces of 40 lines, the main thread's own time for each pointer event at the median of {ROUNDS} rounds: {times}; a trial answered over loopback in {:.1} ms",
        trial_time(&desk, id)
    );
}
