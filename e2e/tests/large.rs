//! A table with 60 pieces of 40 lines: what each movement of the pointer draws again, and how long the page is busy with it.
//! The times are printed; what is asserted is that nothing is drawn which did not change.

use e2e::{Desk, desk};
use serde_json::{Value, json};

const PIECES: usize = 60;
const LINES: usize = 40;
/// Events of a round, rounds that are measured, and those before them.
const EVENTS: usize = 8;
const ROUNDS: usize = 7;
const WARM: usize = 2;
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

async fn changed(desk: &Desk) -> (u64, Vec<String>) {
    let seen = desk.see("[window.seen.nodes.size, [...window.seen.pieces]]").await;
    (seen[0].as_u64().expect("a count"), serde_json::from_value(seen[1].clone()).expect("pieces"))
}

fn median(mut all: Vec<f64>) -> f64 {
    all.sort_by(f64::total_cmp);
    all[all.len() / 2]
}

/// Milliseconds that the main thread is busy for each event: in all, and of that with scripts, styles and layout. The
/// counters are read after every few events, since reading them disturbs what comes next; the median of these rounds is
/// told, without the first ones, in which the page warms up, and without what waiting for frames takes.
async fn busy_for_each(desk: &Desk, way: impl Fn(usize) -> (f64, f64)) -> String {
    let mut spent: [Vec<f64>; 4] = Default::default();
    let mut still: [Vec<f64>; 4] = Default::default();
    for round in 0..WARM + ROUNDS {
        let start = desk.busy().await;
        for k in 0..EVENTS {
            desk.jump_to(way(round * EVENTS + k)).await;
            desk.two_frames().await;
        }
        let moved = desk.busy().await;
        for _ in 0..EVENTS {
            desk.two_frames().await;
        }
        let after = desk.busy().await;
        for c in (0..4).filter(|_| round >= WARM) {
            spent[c].push((moved[c] - start[c]) / EVENTS as f64);
            still[c].push((after[c] - moved[c]) / EVENTS as f64);
        }
    }
    let mut ms = spent.into_iter().zip(still).map(|(spent, still)| 1000.0 * (median(spent) - median(still)).max(0.0));
    let mut next = || ms.next().unwrap_or_default();
    format!("{:.1} ms (scripts {:.1}, styles {:.1}, layout {:.1})", next(), next(), next(), next())
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
    let along = |k: usize| {
        let t = (k % PLACES) as f64 / PLACES as f64;
        (from.0 + (to.0 - from.0) * t, from.1 + (to.1 - from.1) * t)
    };
    desk.move_to(along(0)).await;
    watch(&desk).await;
    desk.move_to(along(3)).await;
    let (nodes, hovered) = changed(&desk).await;
    assert!(nodes <= 4 && hovered.len() <= 2, "hovering changes {nodes} nodes of {hovered:?}");
    let hovering = busy_for_each(&desk, along).await;

    // pan by the paper between the pieces
    let gap = (0.5 * (from.0 + along(2).0), from.1 - (to.0 - from.0) / 18.0);
    desk.hold(gap, (gap.0 + 20.0, gap.1 + 5.0)).await;
    watch(&desk).await;
    desk.move_to((gap.0 + 26.0, gap.1 + 9.0)).await;
    let (nodes, redrawn) = changed(&desk).await;
    assert!(redrawn.is_empty() && (1..=5).contains(&nodes), "panning changes {nodes} nodes, of the pieces {redrawn:?}");
    let panning = busy_for_each(&desk, |k| (gap.0 + 20.0 + 3.0 * (k % 7) as f64, gap.1 + 5.0 + (k % 24) as f64)).await;
    desk.release().await;
    desk.key('0').await;

    // drag a corner: tried out on the server, drawn as it answers
    desk.see("(() => { const own = WebSocket.prototype.send; window.trials = []; WebSocket.prototype.send = function (text) { const c = JSON.parse(text); if (c.do === 'trial') { const t = performance.now(); const heard = (e) => { if (typeof e.data === 'string' && JSON.parse(e.data).number === c.number) { window.trials.push(performance.now() - t); this.removeEventListener('message', heard); } }; this.addEventListener('message', heard); } own.call(this, text); }; return true; })()").await;
    desk.click(&format!("[data-piece='{}'] [data-hit='piece']", piece(5))).await;
    // one at the top, away from the letters of the seams
    let node = desk.see(&format!("document.querySelectorAll(\"[data-piece='{}'] [data-corner]\")[10].dataset.corner", piece(5))).await;
    let corner = format!("[data-piece='{}'] [data-corner='{}']", piece(5), node.as_str().expect("an id"));
    let at = desk.middle(&corner).await;
    desk.hold(at, (at.0 + 21.0, at.1 - 17.0)).await;
    desk.until("window.trials.length > 0").await;
    watch(&desk).await;
    desk.move_to((at.0 + 28.0, at.1 - 26.0)).await;
    desk.until("window.seen.pieces.size > 0").await;
    let (_, redrawn) = changed(&desk).await;
    assert_eq!(redrawn, [piece(5).to_string()], "only the piece whose corner moves");
    let dragging = busy_for_each(&desk, |k| (at.0 + 21.0 + (k % 5) as f64, at.1 - 17.0 - (k % 3) as f64)).await;
    let trial = desk.see("[...window.trials].sort((a, b) => a - b)[Math.floor(window.trials.length / 2)]").await;
    desk.release().await;
    desk.until_step(1).await;

    println!(
        "60 pieces of 40 lines, main thread for each pointer event at the median of {ROUNDS} rounds: hovering {hovering}, panning {panning}, dragging a corner {dragging}; trial answered in {:.1} ms",
        trial.as_f64().unwrap_or_default()
    );
}
