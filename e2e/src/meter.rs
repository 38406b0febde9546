//! A page that is watched by the browser's own counters, without the driver: what a driver listens to costs the page time.

use crate::Desk;
use crate::http::send;
use serde_json::{Value, json};
use std::net::TcpStream;
use std::time::{Duration, Instant};
use tungstenite::{Message, WebSocket};

/// Longest wait for a page.
const SOON: Duration = Duration::from_secs(30);

/// A page of its own in the browser of a desk, spoken to by the browser's debugging protocol.
pub struct Meter {
    socket: WebSocket<TcpStream>,
    sent: u64,
}

impl Meter {
    /// Opens a path of the desk's server on a new page.
    pub fn open(desk: &Desk, path: &str) -> Self {
        let options = &desk.client.capabilities().expect("capabilities")["goog:chromeOptions"];
        let browser = options["debuggerAddress"].as_str().expect("an address");
        // by number: a browser answers under no other name
        let browser = browser.replace("localhost", "127.0.0.1");
        let answer = send(&browser, "PUT", &format!("/json/new?http://{}{path}", desk.server.address), &[], b"").expect("a page").json();
        let address = answer["webSocketDebuggerUrl"].as_str().expect("an address").to_owned();
        let stream = TcpStream::connect(&browser).expect("the browser answers");
        stream.set_read_timeout(Some(SOON)).expect("a limit");
        let (socket, _) = tungstenite::client(address, stream).expect("a socket to the page");
        let mut meter = Self { socket, sent: 0 };
        meter.call("Performance.enable", &json!({ "timeDomain": "threadTicks" }));
        meter
    }

    fn call(&mut self, method: &str, params: &Value) -> Value {
        self.sent += 1;
        let command = json!({ "id": self.sent, "method": method, "params": params });
        self.socket.send(Message::text(command.to_string())).expect("a command is sent");
        loop {
            let heard = self.socket.read().expect("an answer");
            let said: Value = heard.to_text().ok().and_then(|t| serde_json::from_str(t).ok()).unwrap_or_default();
            if said["id"] == self.sent {
                return said["result"].clone();
            }
        }
    }

    /// The value of an expression on the page.
    pub fn see(&mut self, expression: &str) -> Value {
        let asked = json!({ "expression": expression, "returnByValue": true, "awaitPromise": true });
        self.call("Runtime.evaluate", &asked)["result"]["value"].clone()
    }

    /// Waits until an expression holds.
    pub fn until(&mut self, expression: &str) {
        let begun = Instant::now();
        while self.see(&format!("Boolean({expression})")) != true {
            assert!(begun.elapsed() < SOON, "never came true: {expression}");
            std::thread::sleep(Duration::from_millis(50));
        }
    }

    /// The middle of the first match, px.
    pub fn middle(&mut self, selector: &str) -> (f64, f64) {
        let found = format!(
            "(() => {{ const b = document.querySelector({}).getBoundingClientRect(); return [b.left + b.width / 2, b.top + b.height / 2]; }})()",
            json!(selector)
        );
        let at = self.see(&found);
        (at[0].as_f64().expect("a place"), at[1].as_f64().expect("a place"))
    }

    fn mouse(&mut self, kind: &str, (x, y): (f64, f64), button: &str, held: bool) {
        let event = json!({ "type": kind, "x": x.round(), "y": y.round(), "button": button, "buttons": u8::from(held), "clickCount": 1, "pointerType": "mouse" });
        self.call("Input.dispatchMouseEvent", &event);
    }
    /// The pointer moves; `held` says whether its left button is down.
    pub fn moved(&mut self, at: (f64, f64), held: bool) {
        self.mouse("mouseMoved", at, if held { "left" } else { "none" }, held);
    }
    pub fn press(&mut self, at: (f64, f64)) {
        self.mouse("mousePressed", at, "left", true);
    }
    pub fn release(&mut self, at: (f64, f64)) {
        self.mouse("mouseReleased", at, "left", false);
    }
    pub fn click(&mut self, at: (f64, f64)) {
        self.moved(at, false);
        self.press(at);
        self.release(at);
    }

    /// Seconds that the page's main thread has worked, by the browser's own counters: on all tasks, and of these on scripts,
    /// styles and layout.
    pub fn busy(&mut self) -> [f64; 4] {
        let answer = self.call("Performance.getMetrics", &json!({}));
        let all = answer["metrics"].as_array().expect("metrics");
        ["TaskDuration", "ScriptDuration", "RecalcStyleDuration", "LayoutDuration"]
            .map(|name| all.iter().find(|m| m["name"] == name).and_then(|m| m["value"].as_f64()).expect("a duration"))
    }
}
