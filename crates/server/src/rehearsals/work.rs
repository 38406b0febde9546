//! One rehearsal from its beginning, or from its last saved state, to its end.

use super::shown::ShownRehearsal;
use super::store::{self, Begun, Made};
use crate::error::Failure;
use crate::forms::BodyShelf;
use cloth::Drape;
use costume::Refusal;
use formats::WHOLE_EVERY;
use sqlx::PgPool;
use std::time::Instant;
use tokio::runtime::Handle;
use workroom::rehearsal::{Beneath, BodyMotion, Rehearsal};
use workroom::{Assembly, LIMIT, drape_to_rest};

/// Works at a rehearsal until it ends, is cancelled, or is given to another worker. What cannot be rehearsed is told in its row;
/// a failure here means that the work is to be tried again.
pub async fn rehearse(pool: &PgPool, forms: &BodyShelf, id: i64, worker: &str) -> Result<(), Failure> {
    let Some(begun) = store::take(pool, id, worker).await? else { return Ok(()) };
    if begun.cancelled {
        return store::end(pool, id, worker, "cancelled", None).await;
    }
    let (forms, own, name) = (forms.clone(), pool.clone(), worker.to_owned());
    let work = tokio::task::spawn_blocking(move || record(&own, &forms, begun, id, &name));
    match work.await.map_err(|e| Failure::Internal(e.to_string()))? {
        Ok(true) => store::end(pool, id, worker, "done", None).await,
        Ok(false) => store::end(pool, id, worker, "cancelled", None).await,
        Err(Failure::Refused(refusal)) => store::end(pool, id, worker, "failed", Some(&refusal)).await,
        Err(failure) => Err(failure),
    }
}

/// Makes and stores frames; false when it was told to end before the last.
fn record(pool: &PgPool, forms: &BodyShelf, begun: Begun, id: i64, worker: &str) -> Result<bool, Failure> {
    let runtime = Handle::current();
    let below = begun.asked.beneath;
    let mut rehearsal = ready(forms, begun)?;
    let recorded = |id: i64| {
        let inner = ShownRehearsal::new(forms, runtime.block_on(store::stored(pool, id))?)?;
        let beneath = Beneath::new(&inner.assembly, rehearsal.assembly());
        Ok::<_, Failure>((id, inner, beneath))
    };
    let inner = below.map(recorded).transpose()?;
    runtime.block_on(store::go_on(pool, id, worker, rehearsal.done(), rehearsal.fused(), rehearsal.assembly().scene.triangles.len()))?;
    let mut before = formats::on_lattice(&rehearsal.positions());
    loop {
        let (since, frame) = (Instant::now(), rehearsal.done());
        let state = if rehearsal.is_to_be_saved() { Some(formats::squeezed(&rehearsal.checkpoint()?.to_bytes())) } else { None };
        if frame >= rehearsal.frames() {
            return Ok(true);
        }
        let lain = match &inner {
            Some((id, inner, beneath)) => beneath.places(&runtime.block_on(inner.cloth(pool, *id, frame))?),
            None => Vec::new(),
        };
        let Some(report) = rehearsal.advance_over(&lain) else { return Ok(true) };
        let now = formats::on_lattice(&rehearsal.positions());
        let cloth = formats::packed(&now, (!frame.is_multiple_of(WHOLE_EVERY)).then_some(&before));
        before = now;
        let made = Made { frame, report, cloth, state, seconds: since.elapsed().as_secs_f32() };
        if !runtime.block_on(store::put(pool, id, worker, &made))? {
            return Ok(false);
        }
    }
}

/// A rehearsal that begins, or goes on from its last state.
fn ready(forms: &BodyShelf, begun: Begun) -> Result<Rehearsal, Refusal> {
    let asked = begun.asked;
    let mut assembly = forms.hang(&asked.costume)?;
    let motion: BodyMotion = asked.motion.on(&assembly.form.figure)?;
    if let Some(saved) = begun.saved {
        return Rehearsal::resume(assembly, &saved, motion, asked.plan);
    }
    let start = asked.start.and_then(|fitting| fitting.positions_on(&assembly).map(|at| (at, fitting.at_rest)));
    let drape = draped(&mut assembly, start)?;
    Rehearsal::new(assembly, drape, motion, asked.plan)
}

fn draped(assembly: &mut Assembly, start: Option<(Vec<[f32; 3]>, bool)>) -> Result<Drape, Refusal> {
    let mut scene = assembly.scene.clone();
    let rested = start.as_ref().is_some_and(|s| s.1);
    if let Some((positions, _)) = start {
        scene.positions = positions;
    }
    let mut drape =
        Drape::new(scene).map_err(|e| Refusal::elsewhere(&assembly.costume.name, e.to_string(), "undo the last change, or rehang"))?;
    if rested {
        drape.rest();
    } else {
        drape_to_rest(assembly, &mut drape, LIMIT, |_| {})?;
    }
    Ok(drape)
}
