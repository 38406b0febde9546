//! Prints of fabrics: the motifs that ship, a print as a picture of its repeat, and those of a costume for a delivery.

use crate::app::App;
use crate::asset_store::{bytes_of, find};
use crate::background::off_the_async_threads;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Query, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Print, Refusal};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use ts_rs::TS;
use workroom::{MOTIFS, PictureFiles, Prints, print_tile};

/// A motif that ships with the application.
#[derive(Serialize, TS)]
pub struct MotifState {
    pub key: &'static str,
    pub name: &'static str,
}

/// The motifs, as they are offered.
pub async fn motifs() -> Json<Vec<MotifState>> {
    Json(MOTIFS.iter().map(|m| MotifState { key: m.key, name: m.name }).collect())
}

/// A print over the colour of its cloth.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TileRequest {
    /// `#rrggbb`.
    base: String,
    /// A print as documents hold it, in JSON.
    print: String,
}

fn missing() -> Refusal {
    Refusal::elsewhere("print", "its picture is not on this server", "bring the picture again")
}

/// The whole repeat of a print as PNG; the same question always has the same answer.
pub async fn tile(State(app): State<App>, Query(asked): Query<TileRequest>) -> Result<impl IntoResponse, Failure> {
    let no_print = |e: serde_json::Error| Refusal::elsewhere("print", format!("is not understood: {e}"), "choose it again");
    let print: Print = serde_json::from_str(&asked.print).map_err(no_print)?;
    costume::check_print("print", &asked.base, &print)?;
    let file = match &print.image {
        Some(hash) => Some(bytes_of(&app.pool, hash, missing).await?),
        None => None,
    };
    let job = move || Ok(print_tile("print", &asked.base, &print, file.as_deref())?.png());
    let bytes = off_the_async_threads(job).await?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "private, max-age=31536000, immutable")], bytes))
}

/// The pictures that the prints of a costume need; those that are not here are left out.
async fn files(pool: &PgPool, costume: &Costume) -> Result<PictureFiles, Failure> {
    let mut found = PictureFiles::new();
    for hash in Prints::pictures(costume) {
        if let Some(bytes) = find(pool, hash).await? {
            found.insert(hash.to_owned(), bytes);
        }
    }
    Ok(found)
}

/// The prints of a costume as they are delivered; refused when a picture is missing.
pub async fn of(pool: &PgPool, costume: &Costume) -> Result<Prints, Failure> {
    let (files, costume) = (files(pool, costume).await?, costume.clone());
    off_the_async_threads(move || Prints::of(&costume, &files)).await
}

/// The prints of a costume as far as they are here, for pictures of it.
pub async fn shown(pool: &PgPool, costume: &Costume) -> Result<Prints, Failure> {
    let (files, costume) = (files(pool, costume).await?, costume.clone());
    off_the_async_threads(move || Ok(Prints::of(&costume, &files).unwrap_or_else(|_| Prints::of_motifs(&costume)))).await
}
