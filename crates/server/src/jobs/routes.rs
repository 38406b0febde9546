//! Jobs over HTTP.

use super::store::{self, JobAsked, JobPart, JobRow};
use crate::app::App;
use crate::costumes::history;
use crate::error::Failure;
use crate::samples::ClothAsked;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Refusal};
use workroom::{FabricPlan, LayOptions, in_sizes, to_lay};

/// Most bodies of one run.
const BODIES: usize = 60;
/// Most sizes of one laying plan.
const LAID_SIZES: usize = 20;
/// Most cloths on the bench.
const CLOTHS: usize = 200;
/// Parts that a fit has at most, as far as is known before.
const TRIES: usize = 8;

pub async fn list(State(app): State<App>, Path(id): Path<i64>) -> Result<Json<Vec<JobRow>>, Failure> {
    Ok(Json(store::list(&app.pool, id).await?))
}

/// Asks for a job on the costume as it is now; the list of its jobs.
pub async fn add(State(app): State<App>, Path(id): Path<i64>, Json(asked): Json<JobAsked>) -> Result<Json<Vec<JobRow>>, Failure> {
    let document = history::shown(&app.costumes, id).await?.document.clone();
    let costume = &document.costume;
    let (name, parts) = match &asked {
        JobAsked::Sizes { bodies } => sizes(costume, bodies)?,
        JobAsked::Cloths { cloths } => laboratory(cloths)?,
        JobAsked::Lay { sizes, options } => laying(costume, sizes, options)?,
        JobAsked::Ease { asked } => {
            asked.check()?;
            let wanted = asked.wanted.iter().map(|w| {
                let name = body::Measure::from_key(&w.measure).map_or(w.measure.as_str(), |m| m.name());
                format!("{} {:+.1} cm", name.split(" or ").next().unwrap_or(name), w.ease / 10.0)
            });
            (format!("Ease: {}", wanted.collect::<Vec<_>>().join(", ")), TRIES)
        }
    };
    let job = store::add(&app.pool, id, &name, costume, &asked, parts).await?;
    app.workers.wake(app.queue.job(job)).await?;
    list(State(app), Path(id)).await
}

fn sizes(costume: &Costume, bodies: &[costume::BodyChoice]) -> Result<(String, usize), Failure> {
    if bodies.is_empty() || bodies.len() > BODIES {
        let remedy = format!("choose one to {BODIES} bodies");
        return Err(Refusal::elsewhere("size run", format!("has {} bodies", bodies.len()), remedy).into());
    }
    for body in bodies {
        workroom::on_body(costume, body)?;
    }
    Ok((format!("Sizes: {}", if bodies.len() == 1 { "one body".to_owned() } else { format!("{} bodies", bodies.len()) }), bodies.len()))
}

fn laying(costume: &Costume, sizes: &[costume::BodyChoice], options: &LayOptions) -> Result<(String, usize), Failure> {
    options.check()?;
    if sizes.is_empty() || sizes.len() > LAID_SIZES {
        let remedy = format!("choose one to {LAID_SIZES} sizes");
        return Err(Refusal::elsewhere("laying plan", format!("is for {} sizes", sizes.len()), remedy).into());
    }
    let cloths = to_lay(&in_sizes(costume, sizes)?)?;
    if cloths.is_empty() {
        return Err(Refusal::elsewhere("laying plan", "has no pieces to lay", "draw a piece first").into());
    }
    let of = if sizes.len() == 1 { "one size".to_owned() } else { format!("{} sizes", sizes.len()) };
    Ok((format!("Laying plan: {of}, {:.0} cm", options.width / 10.0), cloths.len()))
}

/// The plans of a job as one drawing (SVG).
pub async fn plan(State(app): State<App>, Path(id): Path<i64>) -> Result<impl IntoResponse, Failure> {
    let plans: Vec<FabricPlan> = store::results(&app.pool, id)
        .await?
        .into_iter()
        .filter_map(|part| if let JobPart::Plan { plan } = part { Some(*plan) } else { None })
        .collect();
    if plans.is_empty() {
        return Err(Failure::NotFound("laying plan"));
    }
    let named = (header::CONTENT_DISPOSITION, "attachment; filename=\"laying-plan.svg\"");
    Ok(([(header::CONTENT_TYPE, "image/svg+xml"), named], workroom::plan_svg(&plans)))
}

fn laboratory(cloths: &[ClothAsked]) -> Result<(String, usize), Failure> {
    if cloths.is_empty() || cloths.len() > CLOTHS {
        let remedy = format!("choose one to {CLOTHS} cloths");
        return Err(Refusal::elsewhere("laboratory", format!("is given {} cloths", cloths.len()), remedy).into());
    }
    for cloth in cloths {
        cloth.cloth()?;
    }
    let name = if let [one] = cloths {
        costume::swatch(&one.swatch).map_or(one.swatch.clone(), |s| s.name.to_owned())
    } else {
        format!("{} cloths", cloths.len())
    };
    Ok((format!("Laboratory: {name}"), cloths.len()))
}

pub async fn cancel(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    store::cancel(&app.pool, id).await
}

/// Goes on with a job that was cancelled or failed.
pub async fn resume(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    if store::reopen(&app.pool, id).await? {
        app.workers.wake(app.queue.job(id)).await?;
    }
    Ok(())
}

pub async fn remove(State(app): State<App>, Path(id): Path<i64>) -> Result<(), Failure> {
    store::remove(&app.pool, id).await
}

pub async fn picture(State(app): State<App>, Path((id, part)): Path<(i64, i32)>) -> Result<impl IntoResponse, Failure> {
    let bytes = store::picture(&app.pool, id, part).await?;
    Ok(([(header::CONTENT_TYPE, "image/png"), (header::CACHE_CONTROL, "max-age=86400, immutable")], bytes))
}
