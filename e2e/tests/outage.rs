//! The database stops while the designer works: nothing is lost.

use e2e::{Cluster, Desk, Server};

#[tokio::test(flavor = "multi_thread")]
async fn edits_made_while_the_database_is_away_are_kept_and_sent_when_it_returns() {
    let cluster = Cluster::start();
    let desk = Desk::open(Server::start(&cluster.database())).await;
    let id = desk.take_off_rail("Raker's tabard").await;
    cluster.stop();
    let from = desk.middle("[data-piece='110'] [data-hit='piece']").await;
    desk.drag(from, (from.0 + 30.0, from.1)).await;
    desk.until_data("saved", "waiting").await;
    assert!(desk.text("[data-saved]").await.contains("1 step kept here"));
    let moved = desk.middle("[data-piece='110'] [data-hit='piece']").await;
    assert!((moved.0 - from.0 - 30.0).abs() < 2.0, "the piece stays where it was put");
    desk.drag(moved, (moved.0, moved.1 - 30.0)).await;
    desk.until("document.querySelector('[data-saved]').innerText.includes('2 steps kept')").await;

    // even a reload loses nothing: the steps wait in the browser
    desk.client.refresh().await.expect("a reload");
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    cluster.resume();
    desk.until_step(2).await;
    let at = desk.server.costume(id)["costume"]["pieces"][1]["at"].clone();
    assert!(at["x"].as_f64().expect("x") > 980.0 && at["y"].as_f64().expect("y") > 40.0, "{at}");
    desk.click("[aria-label='Undo']").await;
    desk.until_step(1).await;
}

/// A second tab on the same costume neither takes nor overwrites what the first has not sent yet; what a closed tab left
/// behind is sent by the one that stays.
#[tokio::test(flavor = "multi_thread")]
async fn two_tabs_keep_their_own_unsent_steps() {
    let cluster = Cluster::start();
    let desk = Desk::open(Server::start(&cluster.database())).await;
    let id = desk.take_off_rail("Raker's tabard").await;
    let first = desk.client.window().await.expect("a tab");
    let second = desk.client.new_window(true).await.expect("another tab").handle;
    desk.client.switch_to_window(second).await.expect("the other tab");
    desk.go(&format!("/costume/{id}")).await;
    desk.until_data("saved", "saved").await;
    cluster.stop();
    let push = async |by: f64| {
        let from = desk.middle("[data-piece='110'] [data-hit='piece']").await;
        desk.drag(from, (from.0 + by, from.1)).await;
        desk.until_data("saved", "waiting").await;
    };
    push(25.0).await;
    desk.client.switch_to_window(first.clone()).await.expect("the first tab");
    push(40.0).await;
    let unsent = "Object.keys(localStorage).filter((k) => k.startsWith('ourlet.unsent.')).length";
    assert_eq!(desk.see(unsent).await, 2, "each tab has its own");
    // the first tab is closed with its step unsent
    desk.client.close_window().await.expect("closed");
    let left = desk.client.windows().await.expect("tabs").remove(0);
    desk.client.switch_to_window(left).await.expect("the tab that stays");
    cluster.resume();
    desk.client.refresh().await.expect("a reload");
    desk.until_step(2).await;
    assert_eq!(desk.see(unsent).await, 0);
}

/// Nobody gets into the database without a password, and the application's role is a plain one.
#[test]
fn the_database_lets_no_other_account_in() {
    let cluster = e2e::Cluster::start();
    let url = cluster.database();
    let ask = |url: &str, sql: &str| {
        let out = std::process::Command::new("psql").args(["-w", "-tA", url, "-c", sql]).env_remove("PGPASSFILE").output().expect("psql");
        out.status.success().then(|| String::from_utf8_lossy(&out.stdout).trim().to_owned())
    };
    let sql = "SELECT rolsuper OR rolcreaterole OR rolreplication FROM pg_roles WHERE rolname = current_user";
    assert_eq!(ask(&url, sql).as_deref(), Some("f"));
    let (role, at) = url.split_once('@').expect("a role and a place");
    let plain = role.rsplit_once(':').expect("a password").0;
    assert_eq!(ask(&format!("{plain}@{at}"), sql), None, "without its password");
    for other in ["keeper", "postgres", "root"] {
        assert_eq!(ask(&format!("postgres://{other}@{at}"), sql), None, "as {other}");
    }
}
