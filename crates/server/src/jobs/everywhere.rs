//! All long work of the server, of every costume: what is running and what waits first, then what was done last.

use crate::app::App;
use crate::error::Failure;
use axum::Json;
use axum::extract::State;
use serde::Serialize;
use ts_rs::TS;

/// Most that are listed.
const MOST: i64 = 40;

/// A rehearsal or a job in the list of the rail.
#[derive(Debug, Serialize, TS)]
pub struct WorkRow {
    /// `rehearsal` or `job`.
    pub kind: String,
    #[ts(type = "number")]
    pub id: i64,
    #[ts(type = "number")]
    pub costume: i64,
    pub costume_name: String,
    pub name: String,
    /// waiting, running, done, cancelled or failed.
    pub state: String,
    /// Frames or parts: those that are done, and all.
    pub done: i32,
    pub of: i32,
    /// Seconds of work so far.
    pub seconds: f32,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub asked_at: i64,
}

pub async fn list(State(app): State<App>) -> Result<Json<Vec<WorkRow>>, Failure> {
    let rows = sqlx::query_as!(
        WorkRow,
        r#"WITH work AS (
             SELECT 'rehearsal' AS kind, id, costume, name, state, done, frames AS parts, seconds, asked_at FROM rehearsals
             UNION ALL
             SELECT 'job', id, costume, name, state, done, parts, seconds, asked_at FROM jobs)
           SELECT w.kind AS "kind!", w.id AS "id!", w.costume AS "costume!", coalesce(r.document ->> 'name', '') AS "costume_name!", w.name AS "name!",
                  w.state AS "state!", w.done AS "done!", w.parts AS "of!", w.seconds AS "seconds!",
                  (extract(epoch FROM w.asked_at) * 1000)::bigint AS "asked_at!"
           FROM work w JOIN costumes c ON c.id = w.costume JOIN revisions r ON r.costume = c.id AND r.step = c.head
           WHERE c.deleted_at IS NULL
           ORDER BY CASE w.state WHEN 'running' THEN 0 WHEN 'waiting' THEN 1 ELSE 2 END, w.asked_at DESC, w.id DESC LIMIT $1"#,
        MOST
    );
    Ok(Json(rows.fetch_all(&app.pool).await?))
}
