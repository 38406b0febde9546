//! The queue of long work. It is `graphile_worker`'s, in a schema of its own in the same database: workers say that they live by a
//! heartbeat, what a dead one had goes to another, waiting ones are woken by a notification. `apalis-postgres` does the same; with
//! Tokio it cannot be had without a TLS library (in C) that nothing here needs, and it wants a stack of layers around a handler,
//! where this one wants a type with a `run`. What was made of a job is in our own tables; the queue says only what is to be done,
//! so that a job that comes twice does no harm.

use crate::error::{Failure, StartError};
use crate::forms::BodyShelf;
use crate::jobs;
use crate::rehearsals::work;
use graphile_worker::{IntoTaskHandlerResult, JobSpec, TaskHandler, WorkerContext, WorkerOptions, WorkerUtils};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use std::time::Duration;

const SCHEMA: &str = "queue";
/// A worker tells that it lives, and looks after the others.
const HEARTBEAT: Duration = Duration::from_millis(700);
/// After so long without it is taken for dead.
const DEAD_AFTER: Duration = Duration::from_secs(4);
/// How often a worker looks whether something waits, besides being woken.
const POLL: Duration = Duration::from_secs(2);

/// The work at a rehearsal, by its number.
#[derive(Deserialize, Serialize)]
struct Rehearse {
    rehearsal: i64,
}

/// The work at a job, by its number.
#[derive(Deserialize, Serialize)]
struct Work {
    job: i64,
}

/// What jobs need; cheap to clone.
#[derive(Clone)]
struct Shared {
    pool: PgPool,
    forms: BodyShelf,
}

impl std::fmt::Debug for Shared {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("Shared")
    }
}

/// A worker may get a job again that it lost: the number of the try tells both apart.
fn name(ctx: &WorkerContext) -> String {
    format!("{} {}", ctx.worker_id(), ctx.job().attempts())
}

impl TaskHandler for Rehearse {
    const IDENTIFIER: &'static str = "rehearse";

    async fn run(self, ctx: WorkerContext) -> impl IntoTaskHandlerResult {
        let shared = ctx.get_ext::<Shared>().cloned().ok_or("the worker is not set up")?;
        work::rehearse(&shared.pool, &shared.forms, self.rehearsal, &name(&ctx)).await.map_err(|failure| {
            tracing::warn!("rehearsal {} was broken off and will be tried again: {failure:?}", self.rehearsal);
            format!("{failure:?}")
        })
    }
}

impl TaskHandler for Work {
    const IDENTIFIER: &'static str = "work";

    async fn run(self, ctx: WorkerContext) -> impl IntoTaskHandlerResult {
        let shared = ctx.get_ext::<Shared>().cloned().ok_or("the worker is not set up")?;
        jobs::work::work(&shared.pool, &shared.forms, self.job, &name(&ctx)).await.map_err(|failure| {
            tracing::warn!("job {} was broken off and will be tried again: {failure:?}", self.job);
            format!("{failure:?}")
        })
    }
}

/// The way to give work to workers.
#[derive(Clone)]
pub struct Queue(std::sync::Arc<WorkerUtils>);

impl Queue {
    /// Brings the queue's tables up to date.
    pub async fn new(pool: &PgPool) -> Result<Self, StartError> {
        let utils = WorkerUtils::new(pool.clone(), SCHEMA);
        utils.migrate().await.map_err(|e| StartError::Queue(e.to_string()))?;
        Ok(Self(std::sync::Arc::new(utils)))
    }

    /// Has a rehearsal worked at.
    pub async fn rehearse(&self, rehearsal: i64) -> Result<(), Failure> {
        self.give(Rehearse { rehearsal }).await
    }

    /// Has a job worked at.
    pub async fn job(&self, job: i64) -> Result<(), Failure> {
        self.give(Work { job }).await
    }

    async fn give(&self, task: impl TaskHandler) -> Result<(), Failure> {
        let added = self.0.add_job(task, JobSpec::default()).await;
        added.map(drop).map_err(|e| Failure::Internal(format!("the queue takes no work: {e}")))
    }
}

/// Works until `stop` resolves. Any number of workers may do so, on any machine that reaches the database.
pub async fn serve(url: &str, stop: impl Future<Output = ()> + Send + 'static) -> Result<(), StartError> {
    let pool = crate::database::connect(url).await?;
    let shared = Shared { forms: BodyShelf::new(pool.clone()), pool: pool.clone() };
    let fault = |e: &dyn std::fmt::Display| StartError::Queue(e.to_string());
    let worker = WorkerOptions::default()
        .pg_pool(pool)
        .schema(SCHEMA)
        // one rehearsal has both processors
        .concurrency(1)
        .poll_interval(POLL)
        .heartbeat_interval(HEARTBEAT)
        .sweep_interval(HEARTBEAT)
        .sweep_threshold(DEAD_AFTER)
        .recovery_delay(Duration::ZERO)
        .shutdown_grace_period(Duration::from_millis(300))
        .shutdown_interrupted_job_retry_delay(Duration::ZERO)
        .listen_os_shutdown_signals(false)
        .shutdown_signal(stop)
        .define_job::<Rehearse>()
        .define_job::<Work>()
        .add_extension(shared)
        .init()
        .await
        .map_err(|e| fault(&e))?;
    worker.run().await.map_err(|e| fault(&e))
}
