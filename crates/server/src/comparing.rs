//! Kept drapes beside each other: each with its body and its figures, and how far one lies from another.

use crate::app::App;
use crate::background::off_the_async_threads;
use crate::error::Failure;
use crate::fittings;
use crate::forms::BodyShelf;
use crate::protocol::PieceSpan;
use crate::session::frames;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use cloth::Drape;
use costume::{Fabric, PrintPlace, Refusal};
use serde::Serialize;
use sqlx::PgPool;
use ts_rs::TS;
use workroom::{Assembly, CheckMap, DrapeReport, Fitting, apart, drape_report};

/// The head of the answer that shows a fitting.
#[derive(Serialize, TS)]
pub struct FittingHead {
    pub name: String,
    pub pieces: Vec<PieceSpan>,
    /// Of each of the pieces: its fabric and its grain, degrees.
    pub worn: Vec<(Fabric, f64, Option<PrintPlace>)>,
    pub body_triangles: usize,
    pub report: DrapeReport,
}

/// A fitting on its body again.
struct Reopened {
    assembly: Assembly,
    drape: Drape,
}

async fn load(pool: &PgPool, id: i64) -> Result<(String, Fitting), Failure> {
    let name = sqlx::query_scalar!("SELECT name FROM fittings WHERE id = $1", id).fetch_optional(pool).await?;
    let name = name.ok_or(Failure::NotFound("fitting"))?;
    Ok((name, fittings::load(pool, id).await?.0))
}

fn reopen(forms: &BodyShelf, name: &str, fitting: &Fitting) -> Result<Reopened, Refusal> {
    let assembly = forms.hang(&fitting.costume)?;
    let lost = || Refusal::elsewhere(name, "was kept with another cut of the costume", "open it on the stand and keep it again");
    let mut scene = assembly.scene.clone();
    scene.positions = fitting.positions_on(&assembly).ok_or_else(lost)?;
    let mut drape = Drape::new(scene).map_err(|e| Refusal::elsewhere(name, e.to_string(), "open it on the stand"))?;
    if fitting.at_rest {
        drape.rest();
    }
    Ok(Reopened { assembly, drape })
}

fn kept(bytes: Vec<u8>) -> impl IntoResponse {
    ([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, "max-age=86400, immutable")], bytes)
}

/// Length of a JSON head (u32, little-endian), the head padded to a multiple of four, then three messages with their lengths before
/// them, padded likewise: the layout of the cloth, the cloth, the body; then the triangles of the body.
pub async fn show(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let (name, fitting) = load(&app.pool, id).await?;
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let Reopened { assembly, drape } = reopen(&forms, &name, &fitting)?;
        let costume = &assembly.costume;
        let worn = assembly.pieces.iter().filter_map(|range| {
            let piece = costume.piece(range.piece)?;
            Some((costume.fabric(piece.fabric)?.clone(), piece.grain, piece.print_at))
        });
        let body = &assembly.form.posed.surface;
        let head = FittingHead {
            name,
            pieces: PieceSpan::all(&assembly),
            worn: worn.collect(),
            body_triangles: body.triangles.len(),
            report: drape_report(&assembly, &drape, 0.0),
        };
        let alone: Vec<u32> = (0..body.positions.len() as u32).collect();
        let messages = [
            frames::layout(0, &assembly),
            frames::cloth(0, &drape.positions(), &assembly.scene.triangles, drape.fused_with()),
            frames::cloth(0, &body.positions, &body.triangles, &alone),
        ];
        let mut bytes = Vec::new();
        frames::put_head(&mut bytes, &head);
        messages.iter().for_each(|message| frames::put_message(&mut bytes, message));
        bytes.extend(body.triangles.iter().flatten().flat_map(|v| v.to_le_bytes()));
        Ok(kept(bytes))
    })
    .await
}

/// How far each vertex of a fitting lies outside of another one's cloth, mm, as a message of a map.
pub async fn difference(State(app): State<App>, Path((id, other)): Path<(i64, i64)>) -> Result<impl IntoResponse, Failure> {
    let (name, fitting) = load(&app.pool, id).await?;
    let (first_name, first) = load(&app.pool, other).await?;
    let forms = app.forms.clone();
    off_the_async_threads(move || {
        let (own, from) = (reopen(&forms, &name, &fitting)?, reopen(&forms, &first_name, &first)?);
        let values = apart(&own.drape.positions(), &from.drape.positions(), &from.assembly.scene.triangles);
        Ok(kept(frames::map(0, CheckMap::Tension, &values)))
    })
    .await
}
