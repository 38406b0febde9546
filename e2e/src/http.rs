//! Plain requests, with whatever headers a test wants to send.

use serde_json::Value;
use std::io::{Read, Write};
use std::net::TcpStream;

/// An answer's status and body.
#[derive(Debug)]
pub struct Answer {
    pub status: u16,
    pub body: Vec<u8>,
}

impl Answer {
    pub fn json(&self) -> Value {
        serde_json::from_slice(&self.body).unwrap_or_default()
    }
    pub fn text(&self) -> String {
        String::from_utf8_lossy(&self.body).into_owned()
    }
}

/// Sends a request with the given headers; errors when the server goes away meanwhile.
pub fn send(address: &str, method: &str, path: &str, headers: &[(&str, &str)], body: &[u8]) -> std::io::Result<Answer> {
    let mut stream = TcpStream::connect(address)?;
    let mut head = format!("{method} {path} HTTP/1.1\r\nConnection: close\r\nContent-Length: {}\r\n", body.len());
    if !headers.iter().any(|(name, _)| name.eq_ignore_ascii_case("host")) {
        head += &format!("Host: {address}\r\n");
    }
    for (name, value) in headers {
        head += &format!("{name}: {value}\r\n");
    }
    stream.write_all(format!("{head}\r\n").as_bytes())?;
    // a server that refuses a long body answers before it has read it
    let _ = stream.write_all(body);
    let mut bytes = Vec::new();
    let mut part = [0; 65536];
    // not every server closes the connection when it is asked to
    while !is_whole(&bytes) {
        match stream.read(&mut part) {
            Ok(0) | Err(_) => break,
            Ok(n) => bytes.extend_from_slice(&part[..n]),
        }
    }
    let end = bytes.windows(4).position(|w| w == b"\r\n\r\n").ok_or(std::io::ErrorKind::UnexpectedEof)?;
    let status = std::str::from_utf8(&bytes[..end]).ok().and_then(|h| h.split(' ').nth(1)?.parse().ok());
    Ok(Answer { status: status.ok_or(std::io::ErrorKind::InvalidData)?, body: bytes.split_off(end + 4) })
}

/// All that the head of an answer announces is there.
fn is_whole(bytes: &[u8]) -> bool {
    let Some(end) = bytes.windows(4).position(|w| w == b"\r\n\r\n") else { return false };
    let head = String::from_utf8_lossy(&bytes[..end]).to_ascii_lowercase();
    let told = head.lines().find_map(|l| l.strip_prefix("content-length:")?.trim().parse::<usize>().ok());
    told.is_some_and(|length| bytes.len() >= end + 4 + length)
}

/// Sends JSON (or nothing) as a page of the server would.
pub fn request(address: &str, method: &str, path: &str, body: Option<&Value>) -> Answer {
    let text = body.map(Value::to_string).unwrap_or_default();
    let headers: &[_] = if body.is_some() { &[("Content-Type", "application/json")] } else { &[] };
    send(address, method, path, headers, text.as_bytes()).expect("the server answers")
}
