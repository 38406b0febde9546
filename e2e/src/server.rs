//! The application as its own process.

use crate::http::{Answer, request, send};
use serde_json::{Value, json};
use std::io::{BufRead, BufReader};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::Duration;
use tungstenite::WebSocket;
use tungstenite::client::IntoClientRequest;

/// The application itself, which Cargo builds along with the tests of the workspace.
fn binary() -> PathBuf {
    let own = std::env::current_exe().expect("a path");
    let built = own.ancestors().nth(2).expect("a target folder").join("ourlet");
    assert!(built.exists(), "{} is missing; run scripts/test", built.display());
    built
}

pub struct Server {
    child: Child,
    /// Host and port.
    pub address: String,
}

impl Server {
    fn command(database: &str, port: u16) -> Command {
        let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../demo");
        let mut command = Command::new(binary());
        command.args(["serve", "--port", &port.to_string(), "--database", database, "--demo"]).arg(demo);
        command
    }

    /// Memory in use, MB.
    pub fn memory(&self) -> f64 {
        let status = std::fs::read_to_string(format!("/proc/{}/status", self.child.id())).unwrap_or_default();
        let kb = status.lines().find_map(|l| l.strip_prefix("VmRSS:")).and_then(|l| l.split_whitespace().next()?.parse::<f64>().ok());
        kb.expect("a running server") / 1024.0
    }

    /// Starts on a free port with the demo data.
    pub fn start(database: &str) -> Self {
        Self::start_with(database, &[])
    }

    /// The same with more said on the command line.
    pub fn start_with(database: &str, more: &[&str]) -> Self {
        let mut child = Self::command(database, 0).args(more).stdout(Stdio::piped()).spawn().expect("the server starts");
        let mut line = String::new();
        let out = child.stdout.take().expect("its output");
        BufReader::new(out).read_line(&mut line).expect("its first line");
        let address = line.trim().rsplit_once("http://").expect("its address").1.to_owned();
        Self { child, address }
    }

    /// Exit status and messages of a server that cannot start.
    pub fn refuse(database: &str, port: u16) -> (Option<i32>, String) {
        let output = Self::command(database, port).output().expect("the server ends");
        (output.status.code(), String::from_utf8_lossy(&output.stderr).into_owned())
    }

    pub fn get(&self, path: &str) -> Answer {
        request(&self.address, "GET", path, None)
    }
    pub fn post(&self, path: &str, body: &Value) -> Answer {
        request(&self.address, "POST", path, Some(body))
    }
    /// Undo or redo, seen at a step.
    pub fn travel(&self, id: i64, way: &str, base: i64, key: &str) -> Answer {
        self.post(&format!("/api/costumes/{id}/{way}"), &json!({ "base": base, "key": key }))
    }
    /// Sends a file.
    pub fn post_bytes(&self, path: &str, bytes: &[u8]) -> Answer {
        send(&self.address, "POST", path, &[], bytes).expect("the server answers")
    }
    pub fn call(&self, method: &str, path: &str) -> Answer {
        request(&self.address, method, path, None)
    }

    /// The state of a costume.
    pub fn costume(&self, id: i64) -> Value {
        let answer = self.get(&format!("/api/costumes/{id}"));
        assert_eq!(answer.status, 200, "{}", answer.text());
        answer.json()
    }

    pub fn edit(&self, id: i64, base: i64, key: &str, edit: Value) -> Answer {
        self.post(&format!("/api/costumes/{id}/edits"), &json!({ "base": base, "key": key, "edit": edit }))
    }

    /// The id of the costume with this name.
    pub fn find(&self, name: &str) -> i64 {
        let rail = self.get("/api/rail").json();
        let costumes = rail.as_array().expect("productions").iter().flat_map(|p| p["costumes"].as_array().expect("costumes").clone());
        let found = costumes.filter(|c| c["name"] == name).find_map(|c| c["id"].as_i64());
        found.unwrap_or_else(|| panic!("no costume `{name}` on the rail"))
    }

    /// Puts a costume file on the rail; its id.
    pub fn import(&self, text: &str) -> i64 {
        let production = self.get("/api/rail").json()[0]["id"].clone();
        let answer = self.post("/api/costumes/import", &json!({ "production": production, "text": text }));
        answer.json()["id"].as_i64().unwrap_or_else(|| panic!("{}", answer.text()))
    }

    /// A window's socket to a costume; it speaks the commands and events of the application.
    pub fn socket(&self, id: i64) -> WebSocket<TcpStream> {
        let stream = TcpStream::connect(&self.address).expect("the server answers");
        stream.set_read_timeout(Some(Duration::from_secs(30))).expect("a limit");
        let mut asked = format!("ws://{}/api/costumes/{id}/drape", self.address).into_client_request().expect("a request");
        let origin = format!("http://{}", self.address).parse().expect("a header");
        asked.headers_mut().insert("Origin", origin);
        tungstenite::client(asked, stream).expect("a socket").0
    }

    /// Ends it at once, without any chance to tidy up.
    pub fn kill(&mut self) {
        self.child.kill().expect("it is killed");
        self.child.wait().expect("it has ended");
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// A worker as its own process.
pub struct Worker(Child);

impl Worker {
    pub fn start(database: &str) -> Self {
        Self(Command::new(binary()).args(["worker", "--database", database]).spawn().expect("the worker starts"))
    }

    /// Ends it at once, without any chance to tidy up.
    pub fn kill(&mut self) {
        self.0.kill().expect("it is killed");
        self.0.wait().expect("it has ended");
    }
}

impl Drop for Worker {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}
