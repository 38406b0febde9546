//! Costumes and their revisions in PostgreSQL. An edit is acknowledged only after its transaction is on disk.

use crate::error::{Failure, StartError};
use crate::state::off_the_async_threads;
use costume::{Costume, Edit, Refusal};
use sqlx::postgres::PgPoolOptions;
use sqlx::{PgConnection, PgPool};
use std::time::Duration;

/// A costume at the step that is shown.
#[derive(Debug)]
pub struct Shown {
    pub production: i64,
    pub costume: Costume,
    pub step: i32,
    /// The highest step that can be redone.
    pub last: i32,
    /// Grows with every change of what is shown, also by undo and redo.
    pub version: i64,
}

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

/// A value for the database, which holds no text with the sign 0.
pub fn json(value: &impl serde::Serialize) -> Result<serde_json::Value, Failure> {
    let value = serde_json::to_value(value).map_err(|e| Failure::Internal(e.to_string()))?;
    if holds_zero(&value) {
        return Err(Refusal::new("text", "holds a sign that is no text", "write it with letters, digits and signs").into());
    }
    Ok(value)
}

fn holds_zero(value: &serde_json::Value) -> bool {
    use serde_json::Value;
    match value {
        Value::String(text) => text.contains('\0'),
        Value::Array(all) => all.iter().any(holds_zero),
        Value::Object(all) => all.iter().any(|(key, v)| key.contains('\0') || holds_zero(v)),
        _ => false,
    }
}

/// A new costume with its first revision.
pub async fn create(pool: &PgPool, production: i64, costume: &Costume) -> Result<i64, Failure> {
    let mut tx = pool.begin().await?;
    let id = sqlx::query_scalar!("INSERT INTO costumes (production) VALUES ($1) RETURNING id", production).fetch_one(&mut *tx).await?;
    sqlx::query!("INSERT INTO revisions (costume, step, document) VALUES ($1, 0, $2)", id, json(costume)?).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(id)
}

/// The costume as it is shown now; removed costumes are not found.
pub async fn shown(pool: &PgPool, id: i64) -> Result<Shown, Failure> {
    let mut connection = pool.acquire().await?;
    load(&mut connection, id).await
}

async fn load(connection: &mut PgConnection, id: i64) -> Result<Shown, Failure> {
    let row = sqlx::query!(
        r#"SELECT c.production, c.head, c.version, r.document,
                  (SELECT max(step) FROM revisions WHERE costume = c.id) AS "last!"
           FROM costumes c JOIN revisions r ON r.costume = c.id AND r.step = c.head
           WHERE c.id = $1 AND c.deleted_at IS NULL"#,
        id
    )
    .fetch_optional(connection)
    .await?
    .ok_or(Failure::NotFound("costume"))?;
    let document = row.document;
    let costume = off_the_async_threads(move || Ok(read(document))).await??;
    Ok(Shown { production: row.production, costume, step: row.head, last: row.last, version: row.version })
}

/// What became of an edit, an undo or a redo.
pub enum Outcome {
    Done(Shown),
    /// It was based on an older step.
    Stale(Shown),
}

/// Applies an edit made at step `base`. A request whose key was carried out before is not carried out again.
pub async fn edit(pool: &PgPool, id: i64, base: i32, key: &str, edit: Edit) -> Result<Outcome, Failure> {
    let mut tx = pool.begin().await?;
    let now = match begin(&mut tx, id, base, key).await? {
        Ok(now) => now,
        Err(outcome) => return Ok(outcome),
    };
    let (before, step) = (now.costume.clone(), now.step + 1);
    let (changed, edit_json, document) = off_the_async_threads(move || {
        let changed = workroom::apply(&before, &edit)?;
        let (edit, document) = (json(&edit), json(&changed));
        Ok((changed, edit, document))
    })
    .await?;
    sqlx::query!("DELETE FROM revisions WHERE costume = $1 AND step >= $2", id, step).execute(&mut *tx).await?;
    sqlx::query!(
        "INSERT INTO revisions (costume, step, edit, document, key) VALUES ($1, $2, $3, $4, $5)",
        id,
        step,
        edit_json?,
        document?,
        key
    )
    .execute(&mut *tx)
    .await?;
    let version = set_head(&mut tx, id, step).await?;
    tx.commit().await?;
    Ok(Outcome::Done(Shown { costume: changed, step, last: step, version, ..now }))
}

/// Moves along the history by one step, from step `base`; at its ends nothing changes.
pub async fn travel(pool: &PgPool, id: i64, base: i32, key: &str, by: i32) -> Result<Outcome, Failure> {
    let mut tx = pool.begin().await?;
    let now = match begin(&mut tx, id, base, key).await? {
        Ok(now) => now,
        Err(outcome) => return Ok(outcome),
    };
    set_head(&mut tx, id, (now.step + by).clamp(0, now.last)).await?;
    let shown = load(&mut tx, id).await?;
    tx.commit().await?;
    Ok(Outcome::Done(shown))
}

/// Locks the costume and notes the key; the outcome, when there is nothing left to do.
async fn begin(tx: &mut PgConnection, id: i64, base: i32, key: &str) -> Result<Result<Shown, Outcome>, Failure> {
    lock(tx, id).await?;
    let now = load(tx, id).await?;
    let known = sqlx::query_scalar!(r#"SELECT 1 AS "one!" FROM carried_out WHERE costume = $1 AND key = $2"#, id, key);
    if known.fetch_optional(&mut *tx).await?.is_some() {
        return Ok(Err(Outcome::Done(now)));
    }
    if now.step != base {
        return Ok(Err(Outcome::Stale(now)));
    }
    sqlx::query!("INSERT INTO carried_out (costume, key) VALUES ($1, $2)", id, key).execute(tx).await?;
    Ok(Ok(now))
}

async fn lock(connection: &mut PgConnection, id: i64) -> Result<(), Failure> {
    sqlx::query_scalar!("SELECT id FROM costumes WHERE id = $1 FOR UPDATE", id)
        .fetch_optional(connection)
        .await?
        .ok_or(Failure::NotFound("costume"))?;
    Ok(())
}

/// Returns the new version.
async fn set_head(connection: &mut PgConnection, id: i64, step: i32) -> Result<i64, Failure> {
    let sql = sqlx::query_scalar!(
        "UPDATE costumes SET head = $2, version = version + 1, updated_at = now() WHERE id = $1 RETURNING version",
        id,
        step
    );
    Ok(sql.fetch_one(connection).await?)
}
