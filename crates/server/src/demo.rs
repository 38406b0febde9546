//! The demo scenario, loaded once into an empty database.

use crate::error::StartError;
use crate::costumes::history;
use sqlx::PgPool;
use std::path::Path;

const PRODUCTION: &str = "The Salt Garden";
const COSTUMES: [&str; 5] = [
    "rakers-tabard.ourlet.json",
    "sluice-keepers-breeches.ourlet.json",
    "ferry-pinafore.ourlet.json",
    "marsh-jacket.ourlet.json",
    "heron-mantle.ourlet.json",
];

pub async fn load(pool: &PgPool, folder: &Path) -> Result<(), StartError> {
    let count = sqlx::query_scalar!(r#"SELECT count(*) AS "count!" FROM productions"#).fetch_one(pool).await?;
    if count > 0 {
        return Ok(());
    }
    let costumes = COSTUMES
        .iter()
        .map(|name| {
            let path = folder.join(name);
            let text = std::fs::read_to_string(&path).map_err(|e| StartError::Demo(format!("{}: {e}", path.display())))?;
            costume::read(&text).map_err(|e| StartError::Demo(format!("{}: {e}", path.display())))
        })
        .collect::<Result<Vec<_>, _>>()?;
    let production = sqlx::query_scalar!("INSERT INTO productions (name) VALUES ($1) RETURNING id", PRODUCTION).fetch_one(pool).await?;
    for costume in &costumes {
        history::create(pool, production, costume).await.map_err(|_| StartError::Demo("the database refused a costume".into()))?;
    }
    Ok(())
}
