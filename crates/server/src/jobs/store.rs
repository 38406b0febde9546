//! Jobs and their parts in the database.

use crate::database::{json, read};
use crate::error::Failure;
use costume::{BodyChoice, Costume, Refusal};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use ts_rs::TS;
use workroom::laboratory::{ClothAsked, LabSheet};
use workroom::{EaseAsked, EaseOutcome, EaseTry, FabricPlan, LayOptions, SizeRow, Tried};

/// Most jobs of one costume.
const MOST: i64 = 100;

/// What is to be done.
#[derive(Clone, Debug, Deserialize, Serialize, TS)]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
pub enum JobAsked {
    /// The costume on these bodies, one after the other.
    Sizes { bodies: Vec<BodyChoice> },
    /// The pattern changed until the garment has the wanted ease.
    Ease { asked: EaseAsked },
    /// Cloths in the textile laboratory, one after the other.
    Cloths { cloths: Vec<ClothAsked> },
    /// The pieces laid on cloth for these sizes together, fabric by fabric.
    Lay { sizes: Vec<BodyChoice>, options: LayOptions },
}

/// One part that is done.
#[derive(Clone, Debug, Deserialize, Serialize, TS)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum JobPart {
    Size { row: Box<SizeRow> },
    Try { tried: EaseTry },
    Cloth { sheet: Box<LabSheet> },
    Plan { plan: Box<FabricPlan> },
}

/// A job in the list of a costume.
#[derive(Clone, Debug, Serialize, TS)]
pub struct JobRow {
    #[ts(type = "number")]
    pub id: i64,
    pub name: String,
    #[ts(as = "JobAsked")]
    pub asked: sqlx::types::Json<JobAsked>,
    /// waiting, running, done, cancelled or failed.
    pub state: String,
    /// All parts as far as is known, and those that are done.
    pub parts: i32,
    pub done: i32,
    /// What each came to, in their order.
    #[ts(as = "Vec<JobPart>")]
    pub results: sqlx::types::Json<Vec<JobPart>>,
    #[ts(as = "Option<EaseOutcome>")]
    pub outcome: Option<sqlx::types::Json<EaseOutcome>>,
    /// Why it failed.
    #[ts(as = "Option<Refusal>")]
    pub fault: Option<serde_json::Value>,
    /// Seconds of work so far.
    pub seconds: f32,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub asked_at: i64,
}

/// The jobs of a costume, newest first.
pub async fn list(pool: &PgPool, costume: i64) -> Result<Vec<JobRow>, Failure> {
    let rows = sqlx::query_as!(
        JobRow,
        r#"SELECT id, name, asked AS "asked!: sqlx::types::Json<JobAsked>", state, parts, done,
                  (SELECT coalesce(jsonb_agg(result ORDER BY part), '[]'::jsonb) FROM job_parts p WHERE p.job = jobs.id)
                    AS "results!: sqlx::types::Json<Vec<JobPart>>",
                  outcome AS "outcome: sqlx::types::Json<EaseOutcome>", fault, seconds,
                  (extract(epoch FROM asked_at) * 1000)::bigint AS "asked_at!"
           FROM jobs WHERE costume = $1 ORDER BY id DESC"#,
        costume
    );
    Ok(rows.fetch_all(pool).await?)
}

/// Stores what is asked for; its id.
pub async fn add(pool: &PgPool, costume: i64, name: &str, document: &Costume, asked: &JobAsked, parts: usize) -> Result<i64, Failure> {
    let count = sqlx::query_scalar!(r#"SELECT count(*) AS "count!" FROM jobs WHERE costume = $1"#, costume).fetch_one(pool).await?;
    if count >= MOST {
        return Err(Refusal::elsewhere("costume", format!("has {MOST} jobs"), "throw some of them away").into());
    }
    let id = sqlx::query_scalar!(
        "INSERT INTO jobs (costume, name, document, asked, parts) VALUES ($1, $2, $3, $4, $5) RETURNING id",
        costume,
        name,
        json(document)? as _,
        json(asked)? as _,
        parts as i32
    );
    Ok(id.fetch_one(pool).await?)
}

/// What a worker needs to begin or to go on.
pub struct Begun {
    pub costume: Costume,
    pub asked: JobAsked,
    pub cancelled: bool,
    /// Parts that are done.
    pub done: usize,
    /// Of a fit: the tries with their cloth.
    pub known: Vec<Tried>,
}

/// Gives a job to a worker; none when it has ended.
pub async fn take(pool: &PgPool, id: i64, worker: &str) -> Result<Option<Begun>, Failure> {
    let row = sqlx::query!(
        "UPDATE jobs SET state = 'running', worker = $2 WHERE id = $1 AND state IN ('waiting', 'running')
         RETURNING document, asked, cancelled",
        id,
        worker
    );
    let Some(row) = row.fetch_optional(pool).await? else { return Ok(None) };
    let asked = serde_json::from_value(row.asked).map_err(unread)?;
    let parts = sqlx::query!("SELECT result, cloth FROM job_parts WHERE job = $1 ORDER BY part", id).fetch_all(pool).await?;
    let done = parts.len();
    let mut known = Vec::new();
    for part in parts {
        if let (JobPart::Try { tried }, Some(cloth)) = (serde_json::from_value(part.result).map_err(unread)?, part.cloth) {
            known.push((tried, crate::running::positions(&cloth)));
        }
    }
    Ok(Some(Begun { costume: read(row.document)?, asked, cancelled: row.cancelled, done, known }))
}

fn unread(e: serde_json::Error) -> Failure {
    Failure::Internal(format!("a stored job cannot be read: {e}"))
}

/// A part that was made.
pub struct Made {
    pub part: usize,
    pub result: JobPart,
    pub picture: Option<Vec<u8>>,
    pub cloth: Option<Vec<[f32; 3]>>,
    /// Seconds that it took.
    pub seconds: f32,
}

/// Stores a part by whoever has the job. False when the work is to end: it was cancelled or given to another worker.
pub async fn put(pool: &PgPool, id: i64, worker: &str, made: &Made) -> Result<bool, Failure> {
    let mut tx = pool.begin().await?;
    let done = made.part as i32 + 1;
    let kept = sqlx::query_scalar!(
        "UPDATE jobs SET done = $3, parts = greatest(parts, $3), seconds = seconds + $4 WHERE id = $1 AND worker = $2 AND state = 'running'
         RETURNING cancelled",
        id,
        worker,
        done,
        made.seconds
    );
    let Some(cancelled) = kept.fetch_optional(&mut *tx).await? else { return Ok(false) };
    sqlx::query!(
        "INSERT INTO job_parts (job, part, result, picture, cloth) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING",
        id,
        made.part as i32,
        json(&made.result)? as _,
        made.picture,
        made.cloth.as_ref().map(|c| crate::running::bytes_of(c))
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(!cancelled)
}

/// Whether a worker that has a job is to go on with it.
pub async fn is_wanted(pool: &PgPool, id: i64, worker: &str) -> Result<bool, Failure> {
    let row = sqlx::query_scalar!("SELECT cancelled FROM jobs WHERE id = $1 AND worker = $2 AND state = 'running'", id, worker);
    Ok(row.fetch_optional(pool).await? == Some(false))
}

/// Ends a job that a worker has.
pub async fn end(
    pool: &PgPool,
    id: i64,
    worker: &str,
    state: &str,
    outcome: Option<&EaseOutcome>,
    fault: Option<&Refusal>,
) -> Result<(), Failure> {
    sqlx::query!(
        "UPDATE jobs SET state = $3, outcome = $4, fault = $5, parts = CASE $3 WHEN 'done' THEN done ELSE parts END, ended_at = now()
         WHERE id = $1 AND worker = $2 AND state = 'running'",
        id,
        worker,
        state,
        outcome.map(json).transpose()? as _,
        fault.map(json).transpose()? as _
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Asks for an end; what is done stays. One that nobody has begun ends at once.
pub async fn cancel(pool: &PgPool, id: i64) -> Result<(), Failure> {
    sqlx::query!(
        "UPDATE jobs SET cancelled = true, state = CASE state WHEN 'waiting' THEN 'cancelled' ELSE state END,
           ended_at = CASE state WHEN 'waiting' THEN now() ELSE ended_at END
         WHERE id = $1 AND state IN ('waiting', 'running')",
        id
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Lets a job that was cancelled or failed go on from what is done. False when it was neither.
pub async fn reopen(pool: &PgPool, id: i64) -> Result<bool, Failure> {
    let done = sqlx::query!(
        "UPDATE jobs SET cancelled = false, state = 'waiting', ended_at = NULL, fault = NULL WHERE id = $1 AND state IN ('cancelled', 'failed')",
        id
    );
    Ok(done.execute(pool).await?.rows_affected() > 0)
}

/// Throws a job away; one that is worked at ends.
pub async fn remove(pool: &PgPool, id: i64) -> Result<(), Failure> {
    sqlx::query!("DELETE FROM jobs WHERE id = $1", id).execute(pool).await?;
    Ok(())
}

/// What the parts of a job came to, in their order.
pub async fn results(pool: &PgPool, id: i64) -> Result<Vec<JobPart>, Failure> {
    let parts = sqlx::query_scalar!("SELECT result FROM job_parts WHERE job = $1 ORDER BY part", id).fetch_all(pool).await?;
    parts.into_iter().map(|part| serde_json::from_value(part).map_err(unread)).collect()
}

/// The picture of a part (PNG).
pub async fn picture(pool: &PgPool, id: i64, part: i32) -> Result<Vec<u8>, Failure> {
    let found = sqlx::query_scalar!("SELECT picture FROM job_parts WHERE job = $1 AND part = $2", id, part).fetch_optional(pool).await?;
    found.flatten().ok_or(Failure::NotFound("picture"))
}
