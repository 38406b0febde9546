//! A designer in a hurry: tugs, edits, fabrics, holds and winds at random on a live drape. Half a minute here;
//! OURLET_STORM_SECONDS makes it longer.

use e2e::{Desk, desk};
use std::time::{Duration, Instant};

/// Fixed pseudo-random numbers (xorshift), so that a failure can be repeated.
struct Dice(u64);

impl Dice {
    fn up_to(&mut self, n: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 >> 11) as usize % n
    }
    fn around(&mut self, reach: f64) -> f64 {
        (self.up_to(2001) as f64 / 1000.0 - 1.0) * reach
    }
}

/// One act of the designer; says how many steps the document grew by.
async fn act(desk: &Desk, dice: &mut Dice) -> i64 {
    match dice.up_to(8) {
        0..=2 => {
            let stand = desk.middle("[data-stand]").await;
            let from = (stand.0 + dice.around(50.0), stand.1 + dice.around(130.0));
            desk.drag(from, (from.0 + dice.around(120.0), from.1 + dice.around(120.0))).await;
            0
        }
        3 | 4 => {
            let corner = ["102", "103", "105", "108"][dice.up_to(4)];
            let at = desk.middle(&format!("[data-piece='101'] [data-corner='{corner}']")).await;
            desk.drag(at, (at.0 + dice.around(9.0), at.1 + dice.around(9.0))).await;
            -1
        }
        5 => {
            let cloth = ["Silk charmeuse", "Denim", "Single jersey", "Soft leather", "Tulle", "Calico"][dice.up_to(6)];
            desk.click("[aria-label='Swatch']").await;
            desk.click_text("[role=option]", cloth).await;
            -1
        }
        6 => {
            desk.click("[data-hold='110']").await;
            0
        }
        _ => {
            let gravity = ["0.2", "1", "2"][dice.up_to(3)];
            desk.fill("input[aria-label='Gravity']", gravity).await;
            0
        }
    }
}

async fn number(desk: &Desk, name: &str) -> f64 {
    let row = serde_json::json!(name);
    let find = format!(
        "[...document.querySelectorAll('aside section div')].find((d) => d.firstElementChild?.innerText === {row})?.lastElementChild?.innerText"
    );
    let shown = desk.see(&format!("parseFloat({find})")).await;
    shown.as_f64().unwrap_or_else(|| panic!("{name} shows no number"))
}

#[tokio::test(flavor = "multi_thread")]
async fn a_storm_of_tugs_edits_and_cloths_breaks_nothing_and_loses_nothing() {
    let seconds = std::env::var("OURLET_STORM_SECONDS").ok().and_then(|s| s.parse().ok()).unwrap_or(30);
    let desk = desk().await;
    let id = desk.take_off_rail("Raker's tabard").await;
    desk.take_coarse_mesh().await;
    desk.until_activity(&["hung"]).await;
    desk.see("(window.diagnostics = [], window.addEventListener('error', (e) => window.diagnostics.push(e.message)), true)").await;
    desk.click("[data-run]").await;
    desk.until_activity(&["falling", "at-rest"]).await;
    desk.click("[data-tug]").await;

    let (begun, mut dice) = (Instant::now(), Dice(0x5EED_CA11));
    let (mut acts, mut warm) = (0, 0.0);
    while begun.elapsed() < Duration::from_secs(seconds) || acts <= 12 {
        let before = desk.server.costume(id);
        let grew = act(&desk, &mut dice).await;
        desk.until_data("saved", "saved").await;
        let after = desk.server.costume(id);
        let steps = after["step"].as_i64().expect("a step") - before["step"].as_i64().expect("a step");
        assert!(if grew == 0 { steps == 0 } else { (0..=1).contains(&steps) }, "act {acts}: {steps} steps");
        desk.until_data("step", &after["step"].to_string()).await;
        acts += 1;
        if acts == 12 {
            warm = desk.server.memory();
        }
    }

    let grown = desk.server.memory() - warm;
    println!("{acts} acts in {seconds} s; the server grew by {grown:.1} MB from {warm:.1} MB");
    assert!(grown < 60.0, "the server grew by {grown:.1} MB from {warm:.1} MB");
    assert_eq!(desk.see("window.diagnostics.join()").await, "");
    for name in ["Fastest point", "Largest stretch"] {
        assert!(number(&desk, name).await.is_finite());
    }
    // the calm after it: everything comes to rest once nothing is held or pulled
    desk.click("[data-tug]").await;
    desk.fill("input[aria-label='Gravity']", "1").await;
    if desk.see("document.querySelector('[data-hold=\"110\"]').ariaPressed === 'true'").await == true {
        desk.click("[data-hold='110']").await;
    }
    desk.click("[data-rehang]").await;
    desk.until_activity(&["hung"]).await;
    desk.click("[data-run]").await;
    desk.until_activity(&["at-rest", "closing", "falling"]).await;
}
