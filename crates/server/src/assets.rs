//! The browser bundle, embedded in the binary.

use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Bundle;

/// A file of the bundle; any other path is a place within the application and gets its page.
pub async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return StatusCode::NOT_FOUND.into_response();
    }
    let (name, cache) =
        if Bundle::get(path).is_some() && path.starts_with("assets/") { (path, "max-age=31536000, immutable") } else { (path, "no-cache") };
    let name = if Bundle::get(name).is_some() { name } else { "index.html" };
    let Some(file) = Bundle::get(name) else {
        return (StatusCode::NOT_FOUND, "The interface is not part of this build; run scripts/demo.").into_response();
    };
    let kind = mime_guess::from_path(name).first_or_octet_stream();
    ([(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, cache)], file.data).into_response()
}
