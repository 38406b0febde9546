//! Workers that the server starts on its own machine, as processes of their own: what they compute holds up no answer, and one
//! that ends, for whatever reason, is replaced while there is work.

use crate::error::Failure;
use crate::rehearsals::store;
use sqlx::PgPool;
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::Notify;

/// How often a server looks after its workers while there is work.
const LOOK: Duration = Duration::from_secs(1);

/// The way to wake them; cheap to clone.
#[derive(Clone, Default)]
pub struct Workers(Arc<Notify>);

/// How workers are started.
pub struct Start {
    /// The program, which is told where the database is by `--database`.
    pub program: PathBuf,
    pub database: String,
    pub count: usize,
}

impl Workers {
    /// Gives work to the queue, and wakes who does it.
    pub async fn wake(&self, given: impl Future<Output = Result<(), Failure>>) -> Result<(), Failure> {
        given.await?;
        self.0.notify_one();
        Ok(())
    }

    /// Keeps workers running while there is work; they end with the server.
    pub fn look_after(&self, pool: PgPool, start: Start) {
        let wake = self.0.clone();
        tokio::spawn(async move {
            let mut crew: Vec<Child> = Vec::new();
            loop {
                let work = store::waiting(&pool).await.unwrap_or(0);
                crew.retain_mut(|worker| matches!(worker.try_wait(), Ok(None)));
                while work > 0 && crew.len() < start.count {
                    match spawn(&start) {
                        Ok(worker) => crew.push(worker),
                        Err(e) => {
                            tracing::warn!("a worker could not be started: {e}");
                            break;
                        }
                    }
                }
                if work > 0 { tokio::time::sleep(LOOK).await } else { wake.notified().await }
            }
        });
    }
}

fn spawn(start: &Start) -> std::io::Result<Child> {
    let parent = std::process::id().to_string();
    Command::new(&start.program)
        .args(["worker", "--database", &start.database, "--parent", &parent])
        .stdin(Stdio::null())
        .stdout(Stdio::null())
        .spawn()
}

/// Resolves when the process that started this one has ended.
pub async fn orphaned(parent: u32) {
    let own = || rustix::process::getppid().map(|p| p.as_raw_nonzero().get() as u32);
    while own() == Some(parent) {
        tokio::time::sleep(LOOK / 2).await;
    }
}
