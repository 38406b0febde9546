//! Jobs over HTTP.

use super::store::{self, JobAsked, JobPart, JobRow};
use crate::app::App;
use crate::background::off_the_async_threads;
use crate::costumes::history;
use crate::download::Download;
use crate::error::Failure;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use costume::{Costume, Refusal};
use workroom::laboratory::ClothAsked;
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
    let looked_at = (document.clone(), asked.clone());
    let (name, parts) = off_the_async_threads(move || described(&looked_at.0.costume, &looked_at.1)).await?;
    let job = store::add(&app.pool, id, &name, &document.costume, &asked, parts).await?;
    app.workers.wake(app.queue.job(job)).await?;
    list(State(app), Path(id)).await
}

/// What a job is called in the list, and how many parts it has; what cannot be done is refused.
fn described(costume: &Costume, asked: &JobAsked) -> Result<(String, usize), Refusal> {
    Ok(match asked {
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
    })
}

/// Refuses none and more than `most` of what is asked for.
fn counted(count: usize, most: usize, item: &str, has: &str, things: &str) -> Result<(), Refusal> {
    if (1..=most).contains(&count) {
        return Ok(());
    }
    Err(Refusal::elsewhere(item, format!("{has} {count} {things}"), format!("choose one to {most} {things}")))
}

fn sizes(costume: &Costume, bodies: &[costume::BodyChoice]) -> Result<(String, usize), Refusal> {
    counted(bodies.len(), BODIES, "size run", "has", "bodies")?;
    for body in bodies {
        workroom::on_body(costume, body)?;
    }
    Ok((format!("Sizes: {}", if bodies.len() == 1 { "one body".to_owned() } else { format!("{} bodies", bodies.len()) }), bodies.len()))
}

fn laying(costume: &Costume, sizes: &[costume::BodyChoice], options: &LayOptions) -> Result<(String, usize), Refusal> {
    options.check()?;
    counted(sizes.len(), LAID_SIZES, "laying plan", "is for", "sizes")?;
    let cloths = to_lay(&in_sizes(costume, sizes)?)?;
    if cloths.is_empty() {
        return Err(Refusal::elsewhere("laying plan", "has no pieces to lay", "draw a piece first"));
    }
    let of = if sizes.len() == 1 { "one size".to_owned() } else { format!("{} sizes", sizes.len()) };
    Ok((format!("Laying plan: {of}, {:.0} cm", options.width / 10.0), cloths.len()))
}

/// The plans of a job as one drawing (SVG).
pub async fn plan(State(app): State<App>, Path(id): Path<i64>) -> Result<Download, Failure> {
    let plans: Vec<FabricPlan> = store::results(&app.pool, id)
        .await?
        .into_iter()
        .filter_map(|part| if let JobPart::Plan { plan } = part { Some(*plan) } else { None })
        .collect();
    if plans.is_empty() {
        return Err(Failure::NotFound("laying plan"));
    }
    Ok(Download::named("laying-plan.svg".into(), workroom::plan_svg(&plans).into_bytes()))
}

fn laboratory(cloths: &[ClothAsked]) -> Result<(String, usize), Refusal> {
    counted(cloths.len(), CLOTHS, "laboratory", "is given", "cloths")?;
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
