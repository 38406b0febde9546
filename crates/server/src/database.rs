//! The connection to PostgreSQL, and values as they are stored in it.

use crate::error::{Failure, StartError};
use costume::{Costume, Refusal};
use serde_json::value::RawValue;
use sqlx::PgPool;
use sqlx::postgres::PgPoolOptions;
use std::time::Duration;

/// Connects and migrates; fails quickly when nothing listens.
pub async fn connect(url: &str) -> Result<PgPool, StartError> {
    let pool = PgPoolOptions::new().max_connections(8).acquire_timeout(Duration::from_secs(3)).connect(url).await?;
    sqlx::migrate!().run(&pool).await?;
    Ok(pool)
}

/// A stored document, of whatever format it was stored in.
pub fn read(document: serde_json::Value) -> Result<Costume, Failure> {
    costume::from_value(document).map_err(|e| Failure::Internal(format!("a stored costume cannot be read: {e}")))
}

/// Text that goes into a `jsonb` column as it is; a large document never becomes a tree on its way.
pub type Stored = sqlx::types::Json<Box<RawValue>>;

/// A value for the database, which holds no text with the sign 0.
pub fn json(value: &impl serde::Serialize) -> Result<Stored, Failure> {
    let text = serde_json::to_string(value).map_err(|e| Failure::Internal(e.to_string()))?;
    if holds_zero(&text) {
        return Err(Refusal::elsewhere("text", "holds a sign that is no text", "write it with letters, digits and signs").into());
    }
    Ok(sqlx::types::Json(RawValue::from_string(text).map_err(|e| Failure::Internal(e.to_string()))?))
}

/// Whether JSON text holds the escape of the sign 0; a backslash that is itself escaped begins none.
fn holds_zero(json: &str) -> bool {
    json.match_indices("\\u0000").any(|(at, _)| json[..at].bytes().rev().take_while(|b| *b == b'\\').count() % 2 == 0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_sign_zero_is_found_and_its_spelling_is_not_mistaken_for_it() {
        assert!(json(&"a\0b").is_err());
        assert!(json(&vec!["\\\0"]).is_err(), "a backslash, then the sign");
        for harmless in ["\\u0000", "u0000", "\\\\u0000", "a"] {
            assert_eq!(json(&harmless).expect("taken").0.get(), serde_json::to_string(harmless).expect("JSON"));
        }
    }
}
