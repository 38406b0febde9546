//! The demo scenario, loaded once into an empty database.

use crate::app::App;
use crate::asset_store::hash_of;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::error::{Failure, StartError};
use crate::priority::giving_way;
use cloth::{Drape, Phase};
use costume::Refusal;
use sqlx::PgPool;
use std::path::Path;
use workroom::{Fitting, KeptMesh};

/// A costume that has not come to rest after so many simulated seconds is left to the designer.
const LIMIT: f64 = 20.0;

const PRODUCTION: &str = "The Salt Garden";
const COSTUMES: [&str; 8] = [
    "rakers-tabard.ourlet.json",
    "sluice-keepers-breeches.ourlet.json",
    "ferry-pinafore.ourlet.json",
    "marsh-jacket.ourlet.json",
    "heron-mantle.ourlet.json",
    "gull-skirt.ourlet.json",
    "brine-carriers-shirt.ourlet.json",
    "tracing-practice.ourlet.json",
];

/// A scanned pattern to practise tracing on, under the paper of the last costume.
const SHEET: &str = "practice-sheet.png";

/// The ids of the costumes that were loaded; none when something was there already.
pub async fn load(pool: &PgPool, folder: &Path) -> Result<Vec<i64>, StartError> {
    let count = sqlx::query_scalar!(r#"SELECT count(*) AS "count!" FROM productions"#).fetch_one(pool).await?;
    if count > 0 {
        return Ok(Vec::new());
    }
    let costumes = COSTUMES
        .iter()
        .map(|name| {
            let path = folder.join(name);
            let text = std::fs::read_to_string(&path).map_err(|e| StartError::Demo(format!("{}: {e}", path.display())))?;
            costume::read(&text).map_err(|e| StartError::Demo(format!("{}: {e}", path.display())))
        })
        .collect::<Result<Vec<_>, _>>()?;
    let path = folder.join(SHEET);
    let sheet = std::fs::read(&path).map_err(|e| StartError::Demo(format!("{}: {e}", path.display())))?;
    crate::asset_store::keep(pool, &hash_of(&[&sheet]), SHEET, &sheet).await?;
    let production = sqlx::query_scalar!("INSERT INTO productions (name) VALUES ($1) RETURNING id", PRODUCTION).fetch_one(pool).await?;
    let mut ids = Vec::new();
    for costume in &costumes {
        ids.push(history::create(pool, production, costume).await.map_err(|_| StartError::Demo("the database refused a costume".into()))?);
    }
    Ok(ids)
}

/// Drapes costumes one after the other, so that the rail shows them as cloth. One that somebody opens meanwhile is left to
/// its own drape.
pub fn drape_in_the_background(app: App, ids: Vec<i64>) {
    if ids.is_empty() {
        return;
    }
    tokio::spawn(async move {
        for id in ids {
            if let Err(failure) = drape(&app, id).await {
                tracing::warn!("costume {id} was not draped for the rail: {failure:?}");
            }
        }
    });
}

async fn drape(app: &App, id: i64) -> Result<(), Failure> {
    let document = history::shown(&app.costumes, id).await?.document;
    let (forms, sessions) = (app.forms.clone(), app.sessions.clone());
    let draped = off_the_async_threads(move || {
        giving_way(|| {
            let mut assembly = forms.hang(&document.costume)?;
            let mut drape =
                Drape::new(assembly.scene.clone()).map_err(|e| Refusal::elsewhere("drape", e.to_string(), "drape it by hand"))?;
            let mut wanted = true;
            while wanted && drape.phase() != Phase::AtRest && drape.time() < LIMIT {
                let until = drape.time() + 0.25;
                workroom::drape_to_rest(&mut assembly, &mut drape, until, |_| {})?;
                wanted = !sessions.is_open(id);
            }
            let rests = drape.phase() == Phase::AtRest;
            let mesh = Some(KeptMesh::of(&assembly));
            let fitting = Fitting { costume: assembly.costume, positions: drape.positions(), at_rest: true, mesh };
            Ok((rests && wanted).then_some(fitting))
        })
    });
    if let Some(fitting) = draped.await?
        && !app.sessions.is_open(id)
    {
        crate::running::store_first(&app.pool, id, &fitting).await?;
    }
    Ok(())
}
