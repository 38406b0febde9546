//! Rehearsals, their frames and their states in the database.

use crate::database::{json, read};
use crate::error::Failure;
use costume::{Costume, Refusal};
use serde::Serialize;
use sqlx::PgPool;
use ts_rs::TS;
use workroom::rehearsal::{FrameReport, MotionChoice, Plan, SavedRehearsal};
use workroom::{Fitting, KeptMesh};

/// States that stay when newer ones come are at least so many frames apart.
const STATES_APART: usize = 12;
/// Largest state, bytes.
const LARGEST_STATE: usize = 1 << 30;
/// Most rehearsals of one costume.
pub const MOST: i64 = 200;

/// A rehearsal in the list of a costume.
#[derive(Clone, Debug, Serialize, TS)]
pub struct RehearsalRow {
    #[ts(type = "number")]
    pub id: i64,
    pub name: String,
    /// waiting, running, done, cancelled or failed.
    pub state: String,
    /// All frames with the lead-in, those of the lead-in, and those that are stored.
    pub frames: i32,
    pub lead_in: i32,
    pub done: i32,
    /// Frames with a fault.
    pub bad: i32,
    /// The rehearsal whose first frames this one has, and how many.
    #[ts(type = "number | null")]
    pub begun_with: Option<i64>,
    pub begun_at: i32,
    /// Without its props, which may be large.
    #[ts(as = "Plan")]
    pub plan: sqlx::types::Json<Plan>,
    /// Why it failed.
    #[ts(as = "Option<Refusal>")]
    pub fault: Option<serde_json::Value>,
    /// Seconds of work so far.
    pub seconds: f32,
    pub triangles: Option<i32>,
    /// Only pieces worn up to this are in it.
    pub layers: Option<i32>,
    /// The rehearsal whose cloth lies beneath this one.
    #[ts(type = "number | null")]
    pub beneath: Option<i64>,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub asked_at: i64,
}

/// The rehearsals of a costume, newest first.
pub async fn list(pool: &PgPool, costume: i64) -> Result<Vec<RehearsalRow>, Failure> {
    rows(pool, Some(costume), None).await
}

/// One of them.
pub async fn row(pool: &PgPool, id: i64) -> Result<RehearsalRow, Failure> {
    rows(pool, None, Some(id)).await?.pop().ok_or(Failure::NotFound("rehearsal"))
}

/// Those of a costume, or the one with a number.
async fn rows(pool: &PgPool, costume: Option<i64>, id: Option<i64>) -> Result<Vec<RehearsalRow>, Failure> {
    let rows = sqlx::query_as!(
        RehearsalRow,
        r#"SELECT id, name, state, frames, lead_in, done, bad, begun_with, begun_at, seconds, triangles, layers, beneath,
                  plan - 'props' AS "plan!: sqlx::types::Json<Plan>", fault,
                  (extract(epoch FROM asked_at) * 1000)::bigint AS "asked_at!"
           FROM rehearsals WHERE costume = $1 OR id = $2 ORDER BY id DESC"#,
        costume,
        id
    );
    Ok(rows.fetch_all(pool).await?)
}

/// What is rehearsed.
pub struct Asked {
    pub costume: Costume,
    pub motion: MotionChoice,
    pub plan: Plan,
    pub start: Option<Fitting>,
    /// Only pieces worn up to this are in it.
    pub layers: Option<i32>,
    /// The rehearsal whose cloth lies beneath.
    pub beneath: Option<i64>,
}

impl Asked {
    /// What was asked for as it is stored, without the drape it begins with.
    fn read(document: serde_json::Value, motion: serde_json::Value, plan: serde_json::Value) -> Result<Self, Failure> {
        let unread = |e: serde_json::Error| Failure::Internal(format!("a stored rehearsal cannot be read: {e}"));
        let motion = serde_json::from_value(motion).map_err(unread)?;
        let plan = serde_json::from_value(plan).map_err(unread)?;
        Ok(Self { costume: read(document)?, motion, plan, start: None, layers: None, beneath: None })
    }
}

/// Stores what is asked for; its id.
pub async fn add(pool: &PgPool, costume: i64, name: &str, asked: &Asked, frames: usize) -> Result<i64, Failure> {
    let count = sqlx::query_scalar!(r#"SELECT count(*) AS "count!" FROM rehearsals WHERE costume = $1"#, costume).fetch_one(pool).await?;
    if count >= MOST {
        return Err(Refusal::elsewhere("costume", "has 200 rehearsals", "throw some of them away").into());
    }
    let start = asked.start.as_ref();
    let id = sqlx::query_scalar!(
        "INSERT INTO rehearsals (costume, name, document, motion, plan, positions, mesh, frames, lead_in, at_rest, layers, beneath)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) RETURNING id",
        costume,
        name,
        json(&asked.costume)? as _,
        json(&asked.motion)? as _,
        json(&asked.plan)? as _,
        start.map(|s| crate::running::bytes_of(&s.positions)),
        start.and_then(|s| s.mesh.as_ref().map(KeptMesh::to_bytes)),
        frames as i32,
        asked.plan.lead_in as i32,
        start.is_some_and(|s| s.at_rest),
        asked.layers,
        asked.beneath
    );
    Ok(id.fetch_one(pool).await?)
}

/// A rehearsal that goes on from the frames and the state that another one has at a frame or before it, by another plan.
pub async fn add_from(pool: &PgPool, old: i64, frame: i32, plan: &Plan) -> Result<i64, Failure> {
    let mut tx = pool.begin().await?;
    let from = sqlx::query_scalar!("SELECT max(frame) FROM rehearsal_states WHERE rehearsal = $1 AND frame <= $2", old, frame);
    let from = from.fetch_one(&mut *tx).await?.unwrap_or(0);
    let id = sqlx::query_scalar!(
        "INSERT INTO rehearsals (costume, name, document, motion, plan, positions, mesh, at_rest, frames, lead_in, begun_with, begun_at, done, bad, fused,
           triangles, layers, beneath)
         SELECT costume, name, document, motion, $2, positions, mesh, at_rest, frames, lead_in, id, $3, $3,
           (SELECT count(*) FROM rehearsal_frames f WHERE f.rehearsal = $1 AND f.frame < $3 AND f.report ->> 'cause' IS NOT NULL)::int, fused,
           triangles, layers, beneath
         FROM rehearsals WHERE id = $1 RETURNING id",
        old,
        json(plan)? as _,
        from
    );
    let id = id.fetch_optional(&mut *tx).await?.ok_or(Failure::NotFound("rehearsal"))?;
    sqlx::query!(
        "INSERT INTO rehearsal_frames (rehearsal, frame, report, cloth)
         SELECT $2, frame, report, cloth FROM rehearsal_frames WHERE rehearsal = $1 AND frame < $3",
        old,
        id,
        from
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "INSERT INTO rehearsal_states (rehearsal, frame, state)
         SELECT $2, frame, state FROM rehearsal_states WHERE rehearsal = $1 AND frame <= $3",
        old,
        id,
        from
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(id)
}

/// What a worker needs to begin or to go on.
pub struct Begun {
    pub asked: Asked,
    pub saved: Option<SavedRehearsal>,
    pub cancelled: bool,
}

/// Gives a rehearsal to a worker; none when it has ended.
pub async fn take(pool: &PgPool, id: i64, worker: &str) -> Result<Option<Begun>, Failure> {
    let row = sqlx::query!(
        "UPDATE rehearsals SET state = 'running', worker = $2 WHERE id = $1 AND state IN ('waiting', 'running')
         RETURNING document, motion, plan, positions, mesh, at_rest, cancelled, beneath",
        id,
        worker
    );
    let Some(row) = row.fetch_optional(pool).await? else { return Ok(None) };
    let mut asked = Asked { beneath: row.beneath, ..Asked::read(row.document, row.motion, row.plan)? };
    let mesh = row.mesh.as_deref().and_then(KeptMesh::from_bytes);
    let costume = asked.costume.clone();
    asked.start = row.positions.map(|p| Fitting { costume, positions: crate::running::positions(&p), at_rest: row.at_rest, mesh });
    let state = sqlx::query_scalar!("SELECT state FROM rehearsal_states WHERE rehearsal = $1 ORDER BY frame DESC LIMIT 1", id);
    let state = state.fetch_optional(pool).await?;
    let saved = state.and_then(|s| formats::unsqueezed(&s, LARGEST_STATE)).and_then(|s| SavedRehearsal::from_bytes(&s));
    Ok(Some(Begun { asked, saved, cancelled: row.cancelled }))
}

/// A frame that was made.
pub struct Made {
    pub frame: usize,
    pub report: FrameReport,
    pub cloth: Vec<u8>,
    /// The state before it, when one is to be kept.
    pub state: Option<Vec<u8>>,
    /// Seconds that it took.
    pub seconds: f32,
}

/// Stores a frame by whoever has the rehearsal. False when the work is to end: it was cancelled or given to another worker.
pub async fn put(pool: &PgPool, id: i64, worker: &str, made: &Made) -> Result<bool, Failure> {
    let frame = made.frame as i32;
    let mut tx = pool.begin().await?;
    let kept = sqlx::query_scalar!(
        "UPDATE rehearsals SET done = $3, seconds = seconds + $4, bad = bad + $5 WHERE id = $1 AND worker = $2 AND state = 'running'
         RETURNING cancelled",
        id,
        worker,
        frame + 1,
        made.seconds,
        i32::from(!made.report.is_good())
    );
    let Some(cancelled) = kept.fetch_optional(&mut *tx).await? else { return Ok(false) };
    sqlx::query!(
        "INSERT INTO rehearsal_frames (rehearsal, frame, report, cloth) VALUES ($1, $2, $3, $4)
         ON CONFLICT (rehearsal, frame) DO UPDATE SET report = $3, cloth = $4",
        id,
        frame,
        json(&made.report)? as _,
        made.cloth
    )
    .execute(&mut *tx)
    .await?;
    if let Some(state) = &made.state {
        sqlx::query!("INSERT INTO rehearsal_states (rehearsal, frame, state) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING", id, frame, state)
            .execute(&mut *tx)
            .await?;
        // of the older ones some are left, from which the designer can begin again
        sqlx::query!(
            "DELETE FROM rehearsal_states s WHERE rehearsal = $1 AND frame < $2 AND EXISTS
               (SELECT 1 FROM rehearsal_states o WHERE o.rehearsal = $1 AND o.frame < s.frame AND o.frame / $3 = s.frame / $3)",
            id,
            frame,
            STATES_APART as i32
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(!cancelled)
}

/// Frames after the state that work goes on from count anew.
pub async fn go_on(pool: &PgPool, id: i64, worker: &str, next: usize, fused: &[u32], triangles: usize) -> Result<(), Failure> {
    sqlx::query!(
        "UPDATE rehearsals SET done = $3, fused = $4, triangles = $5,
           bad = (SELECT count(*) FROM rehearsal_frames f WHERE f.rehearsal = $1 AND f.frame < $3 AND f.report ->> 'cause' IS NOT NULL)::int
         WHERE id = $1 AND worker = $2",
        id,
        worker,
        next as i32,
        fused.iter().flat_map(|v| v.to_le_bytes()).collect::<Vec<u8>>(),
        triangles as i32
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Ends a rehearsal that a worker has.
pub async fn end(pool: &PgPool, id: i64, worker: &str, state: &str, fault: Option<&Refusal>) -> Result<(), Failure> {
    sqlx::query!(
        "UPDATE rehearsals SET state = $3, fault = $4, ended_at = now() WHERE id = $1 AND worker = $2 AND state = 'running'",
        id,
        worker,
        state,
        fault.map(json).transpose()? as _
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Asks for an end; what is done stays. One that nobody has begun ends at once.
pub async fn cancel(pool: &PgPool, id: i64) -> Result<(), Failure> {
    sqlx::query!(
        "UPDATE rehearsals SET cancelled = true, state = CASE state WHEN 'waiting' THEN 'cancelled' ELSE state END,
           ended_at = CASE state WHEN 'waiting' THEN now() ELSE ended_at END
         WHERE id = $1 AND state IN ('waiting', 'running')",
        id
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Lets a rehearsal that was cancelled go on from what is done. False when it was not cancelled.
pub async fn reopen(pool: &PgPool, id: i64) -> Result<bool, Failure> {
    let done = sqlx::query!(
        "UPDATE rehearsals SET cancelled = false, state = 'waiting', ended_at = NULL WHERE id = $1 AND state IN ('cancelled', 'failed')",
        id
    );
    Ok(done.execute(pool).await?.rows_affected() > 0)
}

/// Throws a rehearsal away. Refused while others lie over its cloth.
pub async fn remove(pool: &PgPool, id: i64) -> Result<(), Failure> {
    let over = sqlx::query_scalar!("SELECT name FROM rehearsals WHERE beneath = $1 LIMIT 1", id).fetch_optional(pool).await?;
    if let Some(over) = over {
        return Err(Refusal::elsewhere("rehearsal", format!("lies beneath `{over}`"), "throw that one away first").into());
    }
    sqlx::query!("DELETE FROM rehearsals WHERE id = $1", id).execute(pool).await?;
    Ok(())
}

/// How many rehearsals and jobs are to be worked at.
pub async fn waiting(pool: &PgPool) -> Result<i64, Failure> {
    let count = sqlx::query_scalar!(
        r#"SELECT (SELECT count(*) FROM rehearsals WHERE state IN ('waiting', 'running'))
                + (SELECT count(*) FROM jobs WHERE state IN ('waiting', 'running')) AS "count!""#
    );
    Ok(count.fetch_one(pool).await?)
}

/// What was found in the frames from one on.
pub async fn reports(pool: &PgPool, id: i64, from: i32) -> Result<Vec<sqlx::types::Json<FrameReport>>, Failure> {
    let reports = sqlx::query_scalar!(
        r#"SELECT report AS "report: sqlx::types::Json<FrameReport>" FROM rehearsal_frames
           WHERE rehearsal = $1 AND frame >= $2 AND frame < (SELECT done FROM rehearsals WHERE id = $1) ORDER BY frame"#,
        id,
        from
    );
    Ok(reports.fetch_all(pool).await?)
}

/// Cloth of a stretch of frames as it is stored, with the number of the first.
pub async fn cloth(pool: &PgPool, id: i64, from: usize, to: usize) -> Result<Vec<Vec<u8>>, Failure> {
    let frames = sqlx::query_scalar!(
        "SELECT cloth FROM rehearsal_frames WHERE rehearsal = $1 AND frame BETWEEN $2 AND $3 ORDER BY frame",
        id,
        from as i32,
        to as i32
    );
    Ok(frames.fetch_all(pool).await?)
}

/// What a rehearsal is shown and delivered with.
pub struct Stored {
    pub costume_id: i64,
    pub asked: Asked,
    pub name: String,
    pub fused: Vec<u32>,
}

/// Refused while nothing is stored of it.
pub async fn stored(pool: &PgPool, id: i64) -> Result<Stored, Failure> {
    let row = sqlx::query!("SELECT costume, name, document, motion, plan, fused FROM rehearsals WHERE id = $1", id);
    let row = row.fetch_optional(pool).await?.ok_or(Failure::NotFound("rehearsal"))?;
    let asked = Asked::read(row.document, row.motion, row.plan)?;
    let fused = row.fused.ok_or_else(|| Refusal::elsewhere(row.name.clone(), "has no frames yet", "wait for the first one"))?;
    let fused = fused.chunks_exact(4).map(|b| u32::from_le_bytes([b[0], b[1], b[2], b[3]])).collect();
    Ok(Stored { costume_id: row.costume, asked, name: row.name, fused })
}
