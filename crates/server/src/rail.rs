//! The rail: productions and their costumes.

use crate::costumes::CostumeState;
use crate::error::Failure;
use crate::history;
use crate::state::App;
use axum::Json;
use axum::extract::{Path, State};
use costume::{Costume, Refusal};
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
    /// The flat pieces, shown while there is no fitting.
    pub costume: Costume,
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
    let rows = sqlx::query!(
        r#"SELECT c.id, c.production, r.document,
                  (extract(epoch FROM c.updated_at) * 1000)::bigint AS "changed_at!",
                  (SELECT max(f.id) FROM fittings f WHERE f.costume = c.id) AS fitting,
                  (SELECT (extract(epoch FROM w.saved_at) * 1000)::bigint FROM running w WHERE w.costume = c.id AND NOT EXISTS
                    (SELECT 1 FROM fittings f WHERE f.costume = c.id AND f.kept_at >= w.saved_at - interval '3 seconds')) AS draped_at
           FROM costumes c JOIN revisions r ON r.costume = c.id AND r.step = c.head
           WHERE c.deleted_at IS NULL ORDER BY c.id"#
    )
    .fetch_all(&app.pool)
    .await?;
    let mut rail: Vec<RailProduction> =
        productions.into_iter().map(|p| RailProduction { id: p.id, name: p.name, costumes: Vec::new() }).collect();
    for row in rows {
        let costume: Costume = serde_json::from_value(row.document).map_err(|e| Failure::Internal(e.to_string()))?;
        if let Some(production) = rail.iter_mut().find(|p| p.id == row.production) {
            production.costumes.push(RailCostume {
                id: row.id,
                name: costume.name.clone(),
                pieces: costume.pieces.len(),
                seams: costume.seams.len(),
                body: costume.body.preset.clone(),
                fitting: row.fitting,
                draped_at: row.draped_at,
                changed_at: row.changed_at,
                costume,
            });
        }
    }
    Ok(Json(rail))
}

#[derive(Deserialize, TS)]
pub struct NewProduction {
    pub name: String,
}

fn named(name: &str) -> Result<&str, Refusal> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > costume::limits::NAME {
        return Err(Refusal::new("name", "is empty or too long", format!("write 1 to {} characters", costume::limits::NAME)));
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
    Ok(Json(CostumeState::new(id, history::shown(&app.pool, id).await?)))
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
    create(&app, import.production, &costume::read(&import.text)?).await
}

pub async fn duplicate(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<CostumeState>, Failure> {
    let shown = history::shown(&app.pool, id).await?;
    let mut copy = shown.costume;
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
