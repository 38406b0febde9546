//! Headless Chromium driven by ChromeDriver, with a real pointer and keyboard.

use crate::{Server, database};
use fantoccini::actions::{InputSource, KeyAction, KeyActions, MOUSE_BUTTON_LEFT, MOUSE_BUTTON_RIGHT, MouseActions, PointerAction};
use fantoccini::key::Key;
use fantoccini::{Client, ClientBuilder, Locator};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};
use std::net::{TcpListener, TcpStream};
use std::os::unix::process::CommandExt;
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};
use tempfile::TempDir;
use tokio::sync::{Mutex, MutexGuard};

/// Longest wait for anything that needs no simulation.
const SOON: Duration = Duration::from_secs(30);
/// Longest wait for a drape.
const LONG: Duration = Duration::from_secs(180);

static ONE_AT_A_TIME: Mutex<()> = Mutex::const_new(());

/// The turn of a test without a browser that keeps the whole machine busy.
pub fn turn() -> MutexGuard<'static, ()> {
    ONE_AT_A_TIME.blocking_lock()
}

/// ChromeDriver with everything it starts.
struct Driver(Child, u16);

impl Driver {
    fn start() -> Self {
        let port = TcpListener::bind("127.0.0.1:0").and_then(|l| l.local_addr()).expect("a free port").port();
        let mut command = Command::new("chromedriver");
        command.arg(format!("--port={port}")).stdout(Stdio::null()).stderr(Stdio::null()).process_group(0);
        let child = command.spawn().expect("chromedriver starts (Debian package chromium-driver)");
        let begun = Instant::now();
        while TcpStream::connect(("127.0.0.1", port)).is_err() {
            assert!(begun.elapsed() < SOON, "chromedriver does not answer");
            std::thread::sleep(Duration::from_millis(50));
        }
        Self(child, port)
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = Command::new("kill").args(["-9", "--", &format!("-{}", self.0.id())]).status();
        let _ = self.0.wait();
    }
}

/// A browser window on a running application.
pub struct Desk {
    pub client: Client,
    pub server: Server,
    downloads: TempDir,
    _driver: Driver,
    _turn: MutexGuard<'static, ()>,
}

/// A browser on a new server with the demo data, on its rail.
pub async fn desk() -> Desk {
    Desk::open(Server::start(&database())).await
}

/// The same on a database that is there already.
pub async fn desk_on(database: &str) -> Desk {
    Desk::open(Server::start(database)).await
}

fn capabilities(downloads: &TempDir) -> serde_json::Map<String, Value> {
    let arguments = [
        "--headless",
        "--no-sandbox",
        "--use-angle=swiftshader",
        "--enable-unsafe-swiftshader",
        // only the stand is drawn by the simulated graphics card: a page takes it three times as long
        "--disable-gpu-compositing",
        "--disable-background-networking",
        "--no-first-run",
        "--window-size=1280,939",
        "--force-prefers-reduced-motion",
    ];
    let preferences = json!({ "download.default_directory": downloads.path(), "download.prompt_for_download": false });
    let options = json!({ "args": arguments, "prefs": preferences, "binary": "/usr/bin/chromium" });
    [("goog:chromeOptions".to_owned(), options)].into_iter().collect()
}

impl Desk {
    pub async fn open(server: Server) -> Self {
        let turn = ONE_AT_A_TIME.lock().await;
        let driver = Driver::start();
        let downloads = TempDir::new().expect("a folder");
        let mut builder = ClientBuilder::new(HttpConnector::new());
        builder.capabilities(capabilities(&downloads));
        let client = builder.connect(&format!("http://127.0.0.1:{}", driver.1)).await.expect("a browser session");
        let desk = Self { client, server, downloads, _driver: driver, _turn: turn };
        desk.go("/").await;
        // the processor draws here: shaders for full pictures take it seconds in every new browser
        desk.see("localStorage.setItem('ourlet.pictures', 'plain')").await;
        desk
    }

    pub async fn go(&self, path: &str) {
        self.client.goto(&format!("http://{}{path}", self.server.address)).await.expect("the page loads");
    }

    /// Opens a costume from the rail with the pointer and waits for its pieces and its body.
    pub async fn take_off_rail(&self, name: &str) -> i64 {
        let id = self.server.find(name);
        self.click(&format!("[data-costume='{id}'] button")).await;
        self.until(
            "document.querySelector('[data-piece], [data-underlay]') && document.querySelector('[data-activity]')?.dataset.activity",
        )
        .await;
        id
    }

    /// Opens a pinafore of two panels that hang but are not sewn.
    pub async fn unsewn(&self) -> i64 {
        let id = self.server.import(include_str!("../data/unsewn-pinafore.ourlet.json"));
        self.client.refresh().await.expect("a reload");
        self.until(&format!("document.querySelector(\"[data-costume='{id}']\")")).await;
        self.take_off_rail("Unsewn pinafore").await
    }

    /// The value of an expression in the page.
    pub async fn see(&self, expression: &str) -> Value {
        self.client.execute(&format!("return ({expression})"), vec![]).await.unwrap_or_else(|e| panic!("{expression}: {e}"))
    }

    pub async fn text(&self, selector: &str) -> String {
        let find = format!("document.querySelector({})", json!(selector));
        self.until(&find).await;
        // SVG text has no innerText
        let found = self.see(&format!("({find}).innerText ?? ({find}).textContent")).await;
        found.as_str().unwrap_or_default().to_owned()
    }

    /// The value of a data attribute.
    pub async fn data(&self, name: &str) -> String {
        let attribute = json!(format!("data-{name}"));
        let selector = json!(format!("[data-{name}]"));
        let found = self.see(&format!("document.querySelector({selector})?.getAttribute({attribute}) ?? null")).await;
        found.as_str().unwrap_or_default().to_owned()
    }

    pub async fn until(&self, expression: &str) {
        self.until_within(expression, SOON).await;
    }

    /// Waits until an expression in the page is true.
    pub async fn until_within(&self, expression: &str, limit: Duration) {
        let begun = Instant::now();
        loop {
            // what is not there yet is not true yet
            let seen = self.see(&format!("(() => {{ try {{ return Boolean({expression}); }} catch {{ return false; }} }})()")).await;
            if seen == true {
                return;
            }
            if begun.elapsed() > limit {
                let picture = self.picture().await;
                panic!("waited in vain for {expression}; see {}", picture.display());
            }
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }

    /// Waits for a data attribute to have a value.
    pub async fn until_data(&self, name: &str, value: &str) {
        self.until(&format!("document.querySelector('[data-{name}]')?.getAttribute('data-{name}') === {}", json!(value))).await;
    }

    /// A picture of the page beside the test binaries, for looking into a failure.
    async fn picture(&self) -> PathBuf {
        let name = std::thread::current().name().unwrap_or("test").replace("::", "-");
        let path = std::env::current_exe().expect("a path").with_file_name(format!("{name}.png"));
        if let Ok(bytes) = self.client.screenshot().await {
            let _ = std::fs::write(&path, bytes);
        }
        path
    }

    /// The middle of the first match, px in the viewport.
    pub async fn middle(&self, selector: &str) -> (f64, f64) {
        self.until(&format!("document.querySelector({})", json!(selector))).await;
        let find = format!(
            "(() => {{ const e = document.querySelector({}); e.scrollIntoView({{ block: 'nearest' }}); const b = e.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]; }})()",
            json!(selector)
        );
        let at = self.see(&find).await;
        (at[0].as_f64().expect("a number"), at[1].as_f64().expect("a number"))
    }

    /// A point on an edge of a piece at a share of its length on screen, px.
    pub async fn on_edge(&self, piece: i64, edge: i64, share: f64) -> (f64, f64) {
        let selector = json!(format!("[data-piece='{piece}'] [data-hit='edge'][data-edge='{edge}']"));
        let find = format!(
            "(() => {{ const e = document.querySelector({selector}); const p = e.getPointAtLength(e.getTotalLength() * {share}).matrixTransform(e.getScreenCTM()); return [p.x, p.y]; }})()"
        );
        let at = self.see(&find).await;
        (at[0].as_f64().expect("a number"), at[1].as_f64().expect("a number"))
    }

    /// The place of the table at shares of its width and height.
    pub async fn on_table(&self, x: f64, y: f64) -> (f64, f64) {
        let b = self
            .see("(() => { const b = document.querySelector('[data-table]').getBoundingClientRect(); return [b.left, b.top, b.width, b.height]; })()")
            .await;
        let at = |k: usize| b[k].as_f64().expect("a number");
        (at(0) + at(2) * x, at(1) + at(3) * y)
    }

    /// A costume's document as the server has it.
    pub fn document(&self, id: i64) -> Value {
        self.server.costume(id)["costume"].clone()
    }

    async fn pointer(&self, actions: Vec<PointerAction>) {
        let mouse = actions.into_iter().fold(MouseActions::new("pointer".into()), MouseActions::then);
        self.client.perform_actions(mouse).await.expect("the pointer moves");
    }

    pub async fn move_to(&self, (x, y): (f64, f64)) {
        self.pointer(vec![PointerAction::MoveTo { duration: Some(Duration::from_millis(30)), x: x.round(), y: y.round() }]).await;
    }
    pub async fn press(&self) {
        self.pointer(vec![PointerAction::Down { button: MOUSE_BUTTON_LEFT }]).await;
    }
    pub async fn release(&self) {
        self.pointer(vec![PointerAction::Up { button: MOUSE_BUTTON_LEFT }]).await;
    }
    pub async fn click_at(&self, at: (f64, f64)) {
        self.move_to(at).await;
        self.press().await;
        self.release().await;
    }
    /// A click with Shift held.
    pub async fn shift_click_at(&self, at: (f64, f64)) {
        self.move_to(at).await;
        let shift = char::from(Key::Shift);
        let keys = |action| KeyActions::new("keys".into()).then(action);
        self.client.perform_actions(keys(KeyAction::Down { value: shift })).await.expect("a key");
        self.press().await;
        self.release().await;
        self.client.perform_actions(keys(KeyAction::Up { value: shift })).await.expect("a key");
    }
    pub async fn right_click_at(&self, at: (f64, f64)) {
        self.move_to(at).await;
        let button = MOUSE_BUTTON_RIGHT;
        self.pointer(vec![PointerAction::Down { button }, PointerAction::Up { button }]).await;
    }
    /// A place on the stand where the pointer would take hold of something, as its cursor tells; searched in a spiral.
    pub async fn grip(&self, around: (f64, f64), from: f64, to: f64, cursor: &str) -> (f64, f64) {
        let mut radius = from;
        while radius < to {
            for k in 0..48 {
                let (sin, cos) = (f64::from(k) / 48.0 * std::f64::consts::TAU).sin_cos();
                let at = (around.0 + radius * cos, around.1 + radius * sin);
                self.move_to(at).await;
                if self.see("document.querySelector('[data-stand]').style.cursor").await == cursor {
                    return at;
                }
            }
            radius += 6.0;
        }
        panic!("nothing to take hold of between {from} and {to} pixels of {around:?}");
    }
    /// Clicks the middle of the first match, once it stands still.
    pub async fn click(&self, selector: &str) {
        for _ in 0..4 {
            let mut at = self.middle(selector).await;
            for _ in 0..100 {
                tokio::time::sleep(Duration::from_millis(50)).await;
                let now = self.middle(selector).await;
                // lists that open lie outside of the window until they have their place
                if now == at
                    && self.see(&format!("{} >= 0 && {} >= 0 && {} < innerWidth && {} < innerHeight", at.0, at.1, at.0, at.1)).await == true
                {
                    break;
                }
                at = now;
            }
            // a shape of a drawing may lie under another
            let aim = format!(
                "(() => {{ const aim = document.querySelector({}); window.missed = false; document.addEventListener('pointerdown', (e) => {{ window.missed = aim instanceof HTMLElement && !aim.contains(e.target); }}, {{ capture: true, once: true }}); }})()",
                json!(selector)
            );
            self.see(&aim).await;
            self.click_at(at).await;
            // on a busy machine the page may move between the look and the press
            if self.see("window.missed === true").await != true {
                return;
            }
            eprintln!("the page moved under the pointer at {selector}");
        }
    }

    /// Clicks the first element of a kind with this text.
    pub async fn click_text(&self, selector: &str, text: &str) {
        let mark = format!(
            "(() => {{ const e = [...document.querySelectorAll({})].find((e) => e.innerText.trim().startsWith({})); if (!e) return false; for (const o of document.querySelectorAll('[data-here]')) delete o.dataset.here; e.dataset.here = ''; return true; }})()",
            json!(selector),
            json!(text)
        );
        self.until(&mark).await;
        self.click("[data-here]").await;
    }

    /// Presses at one point, moves in steps to another and lets go there.
    pub async fn drag(&self, from: (f64, f64), to: (f64, f64)) {
        self.hold(from, to).await;
        self.release().await;
    }
    /// The same without letting go.
    pub async fn hold(&self, from: (f64, f64), to: (f64, f64)) {
        self.move_to(from).await;
        self.press().await;
        for k in 1..=4 {
            let t = f64::from(k) / 4.0;
            self.move_to((from.0 + (to.0 - from.0) * t, from.1 + (to.1 - from.1) * t)).await;
        }
    }

    pub async fn key(&self, value: char) {
        let keys = KeyActions::new("keys".into()).then(KeyAction::Down { value }).then(KeyAction::Up { value });
        self.client.perform_actions(keys).await.expect("a key");
    }
    /// A key while Control or Shift is held.
    pub async fn key_with(&self, held: Key, value: char) {
        let keys = KeyActions::new("keys".into())
            .then(KeyAction::Down { value: held.into() })
            .then(KeyAction::Down { value })
            .then(KeyAction::Up { value })
            .then(KeyAction::Up { value: held.into() });
        self.client.perform_actions(keys).await.expect("a key");
    }
    /// Types text, such as into the focused field.
    pub async fn type_text(&self, text: &str) {
        let keys =
            text.chars().fold(KeyActions::new("keys".into()), |k, value| k.then(KeyAction::Down { value }).then(KeyAction::Up { value }));
        self.client.perform_actions(keys).await.expect("keys");
    }
    /// Replaces the text of a field and confirms it.
    pub async fn fill(&self, selector: &str, text: &str) {
        self.click(selector).await;
        self.see(&format!("document.querySelector({}).select()", json!(selector))).await;
        self.type_text(text).await;
        self.key(fantoccini::key::Key::Enter.into()).await;
    }

    /// Chooses a file as in the dialog of the browser.
    pub async fn choose_file(&self, selector: &str, path: &std::path::Path) {
        let field = self.client.find(Locator::Css(selector)).await.expect("a file field");
        field.send_keys(&path.to_string_lossy()).await.expect("a file");
    }

    pub async fn stage(&self, name: &str) {
        self.click(&format!("[data-stage='{name}']")).await;
    }

    /// Goes to the Drape stage of a fresh costume and takes a mesh so coarse that tests are short; two steps of the document.
    pub async fn take_coarse_mesh(&self) {
        self.stage("drape").await;
        self.click("[aria-label='Mesh']").await;
        self.click_text("[role=option]", "Own length").await;
        self.until_step(1).await;
        self.fill("input[aria-label='Triangle edge']", "3.6").await;
        self.until_step(2).await;
    }

    /// Waits until the drape does one of these, such as `at-rest`.
    pub async fn until_activity(&self, any: &[&str]) {
        let list = json!(any);
        self.until_within(&format!("{list}.includes(document.querySelector('[data-activity]').dataset.activity)"), LONG).await;
    }

    /// Waits until the costume stands at a step and everything is saved.
    pub async fn until_step(&self, step: i64) {
        self.until_data("step", &step.to_string()).await;
        self.until_data("saved", "saved").await;
    }

    /// Waits for a downloaded file and returns its bytes.
    pub async fn downloaded(&self, name: &str) -> Vec<u8> {
        let path = self.downloads.path().join(name);
        let begun = Instant::now();
        loop {
            // Chromium writes under another name and renames at the end
            if let Ok(bytes) = std::fs::read(&path)
                && !bytes.is_empty()
            {
                return bytes;
            }
            assert!(begun.elapsed() < SOON, "{name} was not downloaded");
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }
}
