//! The rail: productions and their costumes.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::change::CostumeState;
use crate::costumes::history;
use crate::costumes::routes::state;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use costume::{Costume, FlatPicture, Refusal, flat_picture};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A costume as it hangs on the rail.
#[derive(Serialize, TS)]
pub struct RailCostume {
    #[ts(type = "number")]
    pub id: i64,
    pub name: String,
    pub pieces: usize,
    pub seams: usize,
    pub body: String,
    /// The newest fitting, whose picture is shown.
    #[ts(type = "number | null")]
    pub fitting: Option<i64>,
    /// When the drape on the stand was saved, if it is newer than that fitting; milliseconds since 1970.
    #[ts(type = "number | null")]
    pub draped_at: Option<i64>,
    /// Milliseconds since 1970.
    #[ts(type = "number")]
    pub changed_at: i64,
    /// The flat pieces, while there is no picture of a drape.
    pub flat: Option<FlatPicture>,
    /// Its document cannot be read by this build; the others are not held up by it.
    pub unreadable: bool,
}

#[derive(Serialize, TS)]
pub struct RailProduction {
    #[ts(type = "number")]
    pub id: i64,
    pub name: String,
    pub costumes: Vec<RailCostume>,
}

pub async fn show(State(app): State<App>) -> Result<Json<Vec<RailProduction>>, Failure> {
    let productions = sqlx::query!("SELECT id, name FROM productions ORDER BY id").fetch_all(&app.pool).await?;
    // of a costume with a picture no more is taken from its document than stands on the card
    let rows = sqlx::query!(
        r#"WITH shown AS (
             SELECT c.id, c.production, r.document AS d,
                    (extract(epoch FROM c.updated_at) * 1000)::bigint AS changed_at,
                    (SELECT max(f.id) FROM fittings f WHERE f.costume = c.id) AS fitting,
                    (SELECT (extract(epoch FROM w.saved_at) * 1000)::bigint FROM running w WHERE w.costume = c.id AND NOT EXISTS
                      (SELECT 1 FROM fittings f WHERE f.costume = c.id AND f.kept_at >= w.saved_at - interval '3 seconds')) AS draped_at
             FROM costumes c JOIN revisions r ON r.costume = c.id AND r.step = c.head WHERE c.deleted_at IS NULL)
           SELECT id AS "id!", production AS "production!", changed_at AS "changed_at!", fitting, draped_at,
                  coalesce(d ->> 'name', '') AS "name!", coalesce(d #>> '{body,preset}', '') AS "body!",
                  CASE WHEN jsonb_typeof(d -> 'pieces') = 'array' THEN jsonb_array_length(d -> 'pieces') END AS pieces,
                  CASE WHEN jsonb_typeof(d -> 'seams') = 'array' THEN jsonb_array_length(d -> 'seams') END AS seams,
                  CASE WHEN fitting IS NULL AND draped_at IS NULL THEN d END AS document
           FROM shown ORDER BY id"#
    )
    .fetch_all(&app.pool)
    .await?;
    let mut rail: Vec<RailProduction> =
        productions.into_iter().map(|p| RailProduction { id: p.id, name: p.name, costumes: Vec::new() }).collect();
    for row in rows {
        let (flat, damaged) = drawn(row.document).await?;
        if let Some(production) = rail.iter_mut().find(|p| p.id == row.production) {
            production.costumes.push(RailCostume {
                id: row.id,
                name: if row.name.is_empty() { format!("Costume {}", row.id) } else { row.name },
                pieces: row.pieces.unwrap_or(0).max(0) as usize,
                seams: row.seams.unwrap_or(0).max(0) as usize,
                body: row.body,
                fitting: row.fitting,
                draped_at: row.draped_at,
                changed_at: row.changed_at,
                flat,
                unreadable: damaged || row.pieces.is_none() || row.seams.is_none(),
            });
        }
    }
    Ok(Json(rail))
}

/// The drawing of a document, and whether it cannot be read.
async fn drawn(document: Option<serde_json::Value>) -> Result<(Option<FlatPicture>, bool), Failure> {
    let Some(document) = document else { return Ok((None, false)) };
    off_the_async_threads(move || {
        Ok(match costume::from_value(document) {
            Ok(costume) => (flat_picture(&costume), false),
            Err(e) => {
                tracing::warn!("a costume on the rail cannot be read: {e}");
                (None, true)
            }
        })
    })
    .await
}

#[derive(Deserialize, TS)]
pub struct NewProduction {
    pub name: String,
}

fn named(name: &str) -> Result<&str, Refusal> {
    let name = name.trim();
    if !costume::is_name(name) {
        return Err(Refusal::elsewhere(
            "name",
            "is empty, too long or holds a sign that is no text",
            format!("write 1 to {} characters", costume::limits::NAME),
        ));
    }
    Ok(name)
}

pub async fn add_production(State(app): State<App>, Json(new): Json<NewProduction>) -> Result<Json<i64>, Failure> {
    Ok(Json(sqlx::query_scalar!("INSERT INTO productions (name) VALUES ($1) RETURNING id", named(&new.name)?).fetch_one(&app.pool).await?))
}

pub async fn rename_production(State(app): State<App>, Path(id): Path<i64>, Json(new): Json<NewProduction>) -> Result<(), Failure> {
    let done = sqlx::query!("UPDATE productions SET name = $2 WHERE id = $1", id, named(&new.name)?).execute(&app.pool).await?;
    if done.rows_affected() == 0 { Err(Failure::NotFound("production")) } else { Ok(()) }
}

#[derive(Deserialize, TS)]
pub struct NewCostume {
    #[ts(type = "number")]
    pub production: i64,
    pub name: String,
}

async fn create(app: &App, production: i64, costume: &Costume) -> Result<Json<CostumeState>, Failure> {
    let found = sqlx::query_scalar!("SELECT id FROM productions WHERE id = $1", production).fetch_optional(&app.pool).await?;
    found.ok_or(Failure::NotFound("production"))?;
    let id = history::create(&app.pool, production, costume).await?;
    state(app, id).await
}

pub async fn add_costume(State(app): State<App>, Json(new): Json<NewCostume>) -> Result<Json<CostumeState>, Failure> {
    create(&app, new.production, &Costume::new(named(&new.name)?)).await
}

/// The text of a costume file, for a production.
#[derive(Deserialize, TS)]
pub struct Import {
    #[ts(type = "number")]
    pub production: i64,
    pub text: String,
}

pub async fn import(State(app): State<App>, Json(import): Json<Import>) -> Result<Json<CostumeState>, Failure> {
    let costume = off_the_async_threads(move || costume::read(&import.text)).await?;
    create(&app, import.production, &costume).await
}

pub async fn duplicate(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<CostumeState>, Failure> {
    let shown = history::shown(&app.costumes, id).await?;
    let mut copy = shown.document.costume.clone();
    copy.name = format!("{} copy", copy.name).chars().take(costume::limits::NAME).collect();
    create(&app, shown.production, &copy).await
}

/// Takes a costume off the rail; it can be put back.
pub async fn remove(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    let done = sqlx::query!("UPDATE costumes SET deleted_at = now() WHERE id = $1 AND deleted_at IS NULL", id).execute(&app.pool).await?;
    if done.rows_affected() == 0 { Err(Failure::NotFound("costume")) } else { Ok(()) }
}

pub async fn restore(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    let done = sqlx::query!("UPDATE costumes SET deleted_at = NULL WHERE id = $1", id).execute(&app.pool).await?;
    if done.rows_affected() == 0 { Err(Failure::NotFound("costume")) } else { Ok(()) }
}
