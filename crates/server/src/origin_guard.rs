//! Only pages served by this server may talk to it: foreign Host and Origin headers are refused.

use axum::extract::Request;
use axum::http::{HeaderMap, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

/// Lets requests through whose Host is loopback and whose Origin, if any, is that same host.
pub async fn admit(request: Request, next: Next) -> Response {
    if is_own(request.headers()) {
        next.run(request).await
    } else {
        (StatusCode::FORBIDDEN, "Ourlet answers only pages that it served itself, on this machine").into_response()
    }
}

fn is_own(headers: &HeaderMap) -> bool {
    let text = |name| headers.get(name).map(|v| v.to_str().unwrap_or("?"));
    let Some(host) = text(header::HOST) else { return false };
    let name = host.rsplit_once(':').map_or(host, |(name, port)| if port.bytes().all(|b| b.is_ascii_digit()) { name } else { host });
    let loopback = matches!(name, "127.0.0.1" | "localhost" | "[::1]");
    loopback && text(header::ORIGIN).is_none_or(|origin| origin == format!("http://{host}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn admitted(host: Option<&str>, origin: Option<&str>) -> bool {
        let mut headers = HeaderMap::new();
        for (name, value) in [(header::HOST, host), (header::ORIGIN, origin)] {
            if let Some(value) = value {
                headers.insert(name, value.parse().expect("header value"));
            }
        }
        is_own(&headers)
    }

    #[test]
    fn own_pages_are_admitted_and_foreign_ones_refused() {
        assert!(admitted(Some("127.0.0.1:4600"), None));
        assert!(admitted(Some("localhost:4600"), Some("http://localhost:4600")));
        assert!(admitted(Some("[::1]:4600"), None));
        assert!(!admitted(None, None));
        assert!(!admitted(Some("evil.example"), None));
        assert!(!admitted(Some("127.0.0.1.evil.example:4600"), None));
        assert!(!admitted(Some("127.0.0.1:4600"), Some("http://evil.example")));
        assert!(!admitted(Some("127.0.0.1:4600"), Some("http://127.0.0.1:9999")));
        assert!(!admitted(Some("127.0.0.1:4600"), Some("null")));
    }
}
