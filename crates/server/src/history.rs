//! Costumes and their revisions in PostgreSQL. An edit is acknowledged only after its transaction is on disk.

use crate::error::{Failure, StartError};
use costume::{Costume, Edit};
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
}

/// Connects and migrates; fails quickly when nothing listens.
pub async fn connect(url: &str) -> Result<PgPool, StartError> {
    let pool = PgPoolOptions::new().max_connections(8).acquire_timeout(Duration::from_secs(3)).connect(url).await?;
    sqlx::migrate!().run(&pool).await?;
    Ok(pool)
}

fn read(document: serde_json::Value) -> Result<Costume, Failure> {
    serde_json::from_value(document).map_err(|e| Failure::Internal(format!("a stored costume cannot be read: {e}")))
}

fn json(value: &impl serde::Serialize) -> Result<serde_json::Value, Failure> {
    serde_json::to_value(value).map_err(|e| Failure::Internal(e.to_string()))
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
        r#"SELECT c.production, c.head, r.document,
                  (SELECT max(step) FROM revisions WHERE costume = c.id) AS "last!"
           FROM costumes c JOIN revisions r ON r.costume = c.id AND r.step = c.head
           WHERE c.id = $1 AND c.deleted_at IS NULL"#,
        id
    )
    .fetch_optional(connection)
    .await?
    .ok_or(Failure::NotFound("costume"))?;
    Ok(Shown { production: row.production, costume: read(row.document)?, step: row.head, last: row.last })
}

/// What became of an edit.
pub enum Outcome {
    Done(Shown),
    /// It was based on an older step.
    Stale(Shown),
}

/// Applies an edit made at step `base`. An edit whose key was stored before is not applied again.
pub async fn edit(pool: &PgPool, id: i64, base: i32, key: &str, edit: &Edit) -> Result<Outcome, Failure> {
    let mut tx = pool.begin().await?;
    lock(&mut tx, id).await?;
    let known = sqlx::query_scalar!("SELECT step FROM revisions WHERE costume = $1 AND key = $2", id, key).fetch_optional(&mut *tx).await?;
    let now = load(&mut tx, id).await?;
    if known.is_some() {
        return Ok(Outcome::Done(now));
    }
    if now.step != base {
        return Ok(Outcome::Stale(now));
    }
    let changed = workroom::apply(&now.costume, edit)?;
    let step = now.step + 1;
    sqlx::query!("DELETE FROM revisions WHERE costume = $1 AND step >= $2", id, step).execute(&mut *tx).await?;
    sqlx::query!(
        "INSERT INTO revisions (costume, step, edit, document, key) VALUES ($1, $2, $3, $4, $5)",
        id,
        step,
        json(edit)?,
        json(&changed)?,
        key
    )
    .execute(&mut *tx)
    .await?;
    set_head(&mut tx, id, step).await?;
    tx.commit().await?;
    Ok(Outcome::Done(Shown { costume: changed, step, last: step, ..now }))
}

/// Moves along the history by one step; at its ends nothing changes.
pub async fn travel(pool: &PgPool, id: i64, by: i32) -> Result<Shown, Failure> {
    let mut tx = pool.begin().await?;
    lock(&mut tx, id).await?;
    let now = load(&mut tx, id).await?;
    set_head(&mut tx, id, (now.step + by).clamp(0, now.last)).await?;
    let shown = load(&mut tx, id).await?;
    tx.commit().await?;
    Ok(shown)
}

async fn lock(connection: &mut PgConnection, id: i64) -> Result<(), Failure> {
    sqlx::query_scalar!("SELECT id FROM costumes WHERE id = $1 FOR UPDATE", id)
        .fetch_optional(connection)
        .await?
        .ok_or(Failure::NotFound("costume"))?;
    Ok(())
}

async fn set_head(connection: &mut PgConnection, id: i64, step: i32) -> Result<(), Failure> {
    sqlx::query!("UPDATE costumes SET head = $2, updated_at = now() WHERE id = $1", id, step).execute(connection).await?;
    Ok(())
}
