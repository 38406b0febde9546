//! `ourlet worker`: works at what was asked for in the application, until Ctrl-C or a stop signal.

use crate::options::WorkerOptions;
use std::process::ExitCode;
use tokio::signal::unix::{SignalKind, signal};

pub fn run(options: WorkerOptions) -> Result<ExitCode, String> {
    tracing_subscriber::fmt().with_max_level(tracing::Level::WARN).with_writer(std::io::stderr).init();
    let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(2).enable_all().build().map_err(|e| e.to_string())?;
    let ended = runtime.block_on(work(options));
    // a rehearsal that is broken off goes on from its last state, here or elsewhere
    runtime.shutdown_timeout(std::time::Duration::from_millis(100));
    ended
}

async fn work(options: WorkerOptions) -> Result<ExitCode, String> {
    let mut ended = signal(SignalKind::terminate()).map_err(|e| e.to_string())?;
    let parent = options.parent;
    let alone = async move {
        match parent {
            Some(parent) => server::orphaned(parent).await,
            None => std::future::pending().await,
        }
    };
    let stop = async move {
        tokio::select! {
            _ = tokio::signal::ctrl_c() => {}
            _ = ended.recv() => {}
            () = alone => {}
        }
    };
    server::work(&options.database, stop).await.map_err(|e| e.to_string())?;
    Ok(ExitCode::SUCCESS)
}
