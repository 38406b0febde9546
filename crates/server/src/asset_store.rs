//! Files from outside as they are stored: once, by the hash of their content.

use crate::error::Failure;
use costume::Refusal;
use sha2::{Digest, Sha256};
use sqlx::{PgExecutor, PgPool};

/// The hash by which the content is stored.
pub fn hash_of(parts: &[&[u8]]) -> String {
    let mut sha = Sha256::new();
    parts.iter().for_each(|part| sha.update(part));
    sha.finalize().iter().map(|b| format!("{b:02x}")).collect()
}

/// What is no hash is on no server; the database would not even take it.
pub fn check_hash(hash: &str, missing: impl Fn() -> Refusal) -> Result<(), Failure> {
    if hash.len() == 64 && hash.bytes().all(|b| b.is_ascii_hexdigit()) { Ok(()) } else { Err(missing().into()) }
}

/// Stores a file by its hash.
pub async fn keep(database: impl PgExecutor<'_>, hash: &str, name: &str, bytes: &[u8]) -> Result<(), sqlx::Error> {
    sqlx::query!("INSERT INTO assets (hash, name, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING", hash, name, bytes)
        .execute(database)
        .await?;
    Ok(())
}

/// The content of a stored file.
pub async fn bytes_of(pool: &PgPool, hash: &str, missing: impl Fn() -> Refusal) -> Result<Vec<u8>, Failure> {
    check_hash(hash, &missing)?;
    find(pool, hash).await?.ok_or_else(|| missing().into())
}

/// The content of a stored file, if it is here.
pub async fn find(pool: &PgPool, hash: &str) -> Result<Option<Vec<u8>>, sqlx::Error> {
    sqlx::query_scalar!("SELECT bytes FROM assets WHERE hash = $1", hash).fetch_optional(pool).await
}

/// Refuses what names a file that is not here.
pub async fn known(pool: &PgPool, hash: &str, missing: impl Fn() -> Refusal) -> Result<(), Failure> {
    check_hash(hash, &missing)?;
    let found = sqlx::query_scalar!(r#"SELECT 1 AS "one!" FROM assets WHERE hash = $1"#, hash).fetch_optional(pool).await?;
    found.map(|_| ()).ok_or_else(|| missing().into())
}
