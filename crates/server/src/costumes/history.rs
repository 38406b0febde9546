//! The history of a costume in PostgreSQL: a tree of steps, none of which is ever changed or thrown away. An edit after an
//! undo begins another branch. What is acknowledged is on disk.

use super::document::{Document, Shown};
use super::recent::Recent;
use crate::background::off_the_async_threads;
use crate::database::{json, read};
use crate::error::Failure;
use costume::{Costume, Edit};
use serde::Serialize;
use sqlx::{PgConnection, PgPool};
use std::sync::Arc;
use ts_rs::TS;

/// Most steps that are listed, the newest ones.
const LISTED: i64 = 2000;

/// Where costumes are stored, and those of their documents that are in use. Cheap to clone.
#[derive(Clone)]
pub struct Costumes {
    pub pool: PgPool,
    pub documents: Recent,
}

/// A new costume with its first step.
pub async fn create(pool: &PgPool, production: i64, costume: &Costume) -> Result<i64, Failure> {
    let document = json(costume)?;
    let mut tx = pool.begin().await?;
    let id = sqlx::query_scalar!("INSERT INTO costumes (production) VALUES ($1) RETURNING id", production).fetch_one(&mut *tx).await?;
    sqlx::query!("INSERT INTO revisions (costume, step, document) VALUES ($1, 0, $2)", id, document as _).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(id)
}

/// Where a costume stands in its history.
struct Place {
    production: i64,
    step: i32,
    parent: Option<i32>,
    next: Option<i32>,
    version: i64,
}

/// The costume as it is shown now; removed costumes are not found.
pub async fn shown(store: &Costumes, id: i64) -> Result<Shown, Failure> {
    let mut connection = store.pool.acquire().await?;
    let place = place(&mut connection, id).await?;
    shown_at(store, &mut connection, id, place).await
}

async fn place(connection: &mut PgConnection, id: i64) -> Result<Place, Failure> {
    sqlx::query_as!(
        Place,
        r#"SELECT c.production, r.step, r.parent, r.next, c.version
           FROM costumes c JOIN revisions r ON r.costume = c.id AND r.step = c.head
           WHERE c.id = $1 AND c.deleted_at IS NULL"#,
        id
    )
    .fetch_optional(connection)
    .await?
    .ok_or(Failure::NotFound("costume"))
}

async fn shown_at(store: &Costumes, connection: &mut PgConnection, id: i64, place: Place) -> Result<Shown, Failure> {
    let document = document_of(store, connection, id, place.step).await?;
    let Place { production, step, parent, next, version } = place;
    Ok(Shown { id, production, step, parent, next, version, document })
}

/// The document of a step.
pub async fn document(store: &Costumes, id: i64, step: i32) -> Result<Arc<Document>, Failure> {
    if let Some(document) = store.documents.get(id, step) {
        return Ok(document);
    }
    document_of(store, &mut *store.pool.acquire().await?, id, step).await
}

async fn document_of(store: &Costumes, connection: &mut PgConnection, id: i64, step: i32) -> Result<Arc<Document>, Failure> {
    if let Some(document) = store.documents.get(id, step) {
        return Ok(document);
    }
    let stored = sqlx::query_scalar!("SELECT document FROM revisions WHERE costume = $1 AND step = $2", id, step);
    let stored = stored.fetch_optional(connection).await?.ok_or(Failure::NotFound("step"))?;
    let document = off_the_async_threads(move || Ok(read(stored).map(|costume| Arc::new(Document::new(costume))))).await??;
    store.documents.put(id, step, document.clone());
    Ok(document)
}

/// What became of an edit or a way along the history.
pub enum Outcome {
    Done(Shown),
    /// It was based on another step than the one shown.
    Stale,
}

/// Applies an edit made at step `base`. A request whose key was carried out before is not carried out again.
pub async fn edit(store: &Costumes, id: i64, base: i32, key: &str, edit: Edit) -> Result<Outcome, Failure> {
    let mut tx = store.pool.begin().await?;
    let now = match begin(store, &mut tx, id, base, key).await? {
        Ok(now) => now,
        Err(outcome) => return Ok(outcome),
    };
    let before = now.document.clone();
    let (after, edit, document) = off_the_async_threads(move || {
        let after = before.edited(&edit)?;
        let (edit, document) = (json(&edit), json(&after.costume));
        Ok((Arc::new(after), edit, document))
    })
    .await?;
    let step = sqlx::query_scalar!(
        r#"INSERT INTO revisions (costume, step, parent, edit, document, key)
           SELECT $1, (SELECT max(step) + 1 FROM revisions WHERE costume = $1), $2, $3, $4, $5 RETURNING step"#,
        id,
        now.step,
        edit? as _,
        document? as _,
        key
    )
    .fetch_one(&mut *tx)
    .await?;
    sqlx::query!("UPDATE revisions SET next = $3 WHERE costume = $1 AND step = $2", id, now.step, step).execute(&mut *tx).await?;
    let version = set_head(&mut tx, id, step).await?;
    tx.commit().await?;
    store.documents.put(id, step, after.clone());
    Ok(Outcome::Done(Shown { step, parent: Some(now.step), next: None, version, document: after, ..now }))
}

/// A way along the history.
#[derive(Clone, Copy, Debug)]
pub enum Travel {
    Back,
    On,
    To(i32),
}

/// Goes along the history from step `base`; at its ends nothing changes.
pub async fn travel(store: &Costumes, id: i64, base: i32, key: &str, way: Travel) -> Result<Outcome, Failure> {
    let mut tx = store.pool.begin().await?;
    let now = match begin(store, &mut tx, id, base, key).await? {
        Ok(now) => now,
        Err(outcome) => return Ok(outcome),
    };
    let to = match way {
        Travel::Back => now.parent.unwrap_or(now.step),
        Travel::On => now.next.unwrap_or(now.step),
        Travel::To(step) => {
            let found = sqlx::query_scalar!(r#"SELECT 1 AS "one!" FROM revisions WHERE costume = $1 AND step = $2"#, id, step);
            found.fetch_optional(&mut *tx).await?.ok_or(Failure::NotFound("step"))?;
            lead_to(&mut tx, id, step).await?;
            step
        }
    };
    set_head(&mut tx, id, to).await?;
    let place = place(&mut tx, id).await?;
    let shown = shown_at(store, &mut tx, id, place).await?;
    tx.commit().await?;
    Ok(Outcome::Done(shown))
}

/// Lets redo lead from the first step to the given one.
async fn lead_to(connection: &mut PgConnection, id: i64, step: i32) -> Result<(), Failure> {
    sqlx::query!(
        "WITH RECURSIVE way AS (
           SELECT step, parent FROM revisions WHERE costume = $1 AND step = $2
           UNION ALL SELECT r.step, r.parent FROM revisions r JOIN way ON r.costume = $1 AND r.step = way.parent)
         UPDATE revisions r SET next = way.step FROM way WHERE r.costume = $1 AND r.step = way.parent",
        id,
        step
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// Locks the costume and notes the key; the outcome, when there is nothing left to do.
async fn begin(store: &Costumes, tx: &mut PgConnection, id: i64, base: i32, key: &str) -> Result<Result<Shown, Outcome>, Failure> {
    lock(tx, id).await?;
    let place = place(tx, id).await?;
    let known = sqlx::query_scalar!(r#"SELECT 1 AS "one!" FROM carried_out WHERE costume = $1 AND key = $2"#, id, key);
    let known = known.fetch_optional(&mut *tx).await?.is_some();
    if !known && place.step != base {
        return Ok(Err(Outcome::Stale));
    }
    let now = shown_at(store, tx, id, place).await?;
    if known {
        return Ok(Err(Outcome::Done(now)));
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

/// A step of the history as it is listed.
#[derive(Debug, Serialize, TS)]
pub struct HistoryStep {
    pub step: i32,
    pub parent: Option<i32>,
    /// Where redo leads from it.
    pub next: Option<i32>,
    /// What was done, by the kind of the edit; the first step has none.
    #[ts(type = "Edit[\"do\"] | null")]
    pub kind: Option<String>,
    /// The name that the edit gives, if it gives one.
    pub name: Option<String>,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub made_at: i64,
}

/// The newest steps, the newest first.
pub async fn steps(pool: &PgPool, id: i64) -> Result<Vec<HistoryStep>, Failure> {
    let rows = sqlx::query_as!(
        HistoryStep,
        r#"SELECT step, parent, next, edit ->> 'do' AS kind, edit ->> 'name' AS name,
                  (extract(epoch FROM made_at) * 1000)::bigint AS "made_at!"
           FROM revisions WHERE costume = $1 ORDER BY step DESC LIMIT $2"#,
        id,
        LISTED
    )
    .fetch_all(pool)
    .await?;
    Ok(rows)
}
