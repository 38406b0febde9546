//! Files that the browser keeps.

use axum::http::header;
use axum::response::{IntoResponse, Response};

/// A file with its name and kind.
pub struct Download {
    name: String,
    kind: String,
    bytes: Vec<u8>,
}

impl Download {
    /// A file called like a costume, with an ending such as `svg`.
    pub fn of(costume: &str, ending: &str, bytes: Vec<u8>) -> Self {
        Self::named(format!("{}.{ending}", file_stem(costume)), bytes)
    }

    /// A file with a whole name; its ending tells its kind.
    pub fn named(name: String, bytes: Vec<u8>) -> Self {
        let kind = mime_guess::from_path(&name).first_or_octet_stream().to_string();
        Self { name, kind, bytes }
    }
}

impl IntoResponse for Download {
    fn into_response(self) -> Response {
        let attached = format!("attachment; filename=\"{}\"", self.name);
        ([(header::CONTENT_TYPE, self.kind), (header::CONTENT_DISPOSITION, attached)], self.bytes).into_response()
    }
}

/// A costume's name as a plain file name.
pub fn file_stem(name: &str) -> String {
    let mut stem = String::new();
    for c in name.to_lowercase().chars().filter(|c| *c != '\'') {
        if c.is_ascii_alphanumeric() {
            stem.push(c);
        } else if !stem.ends_with('-') && !stem.is_empty() {
            stem.push('-');
        }
    }
    let stem = stem.trim_end_matches('-');
    if stem.is_empty() { "costume".into() } else { stem.into() }
}

#[cfg(test)]
mod tests {
    #[test]
    fn file_names_are_plain() {
        assert_eq!(super::file_stem("Raker's tabard"), "rakers-tabard");
        assert_eq!(super::file_stem("  ../..\"; "), "costume");
    }
}
