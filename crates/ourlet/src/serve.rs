//! `ourlet serve`: the application on loopback until Ctrl-C or a stop signal.

use crate::options::ServeOptions;
use crate::output::say;
use std::process::ExitCode;
use tokio::signal::unix::{SignalKind, signal};

pub fn run(options: ServeOptions) -> Result<ExitCode, String> {
    // standard output has the address alone
    tracing_subscriber::fmt().with_max_level(tracing::Level::WARN).with_writer(std::io::stderr).init();
    // more threads than processors: a large document that is read or written on one holds up no other answer
    let threads = 2 * std::thread::available_parallelism().map_or(1, usize::from).max(2);
    let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(threads).enable_all().build().map_err(|e| e.to_string())?;
    let ended = runtime.block_on(serve(options));
    // a drape in the background is no reason to stay
    runtime.shutdown_timeout(std::time::Duration::from_millis(300));
    ended
}

async fn serve(options: ServeOptions) -> Result<ExitCode, String> {
    let own = std::env::current_exe().map_err(|e| format!("this program does not find itself: {e}"))?;
    let config = server::Config {
        database_url: options.database,
        port: options.port,
        demo: options.demo,
        drape_demo: options.drape_demo,
        workers: Some((own, usize::from(options.workers))).filter(|w| w.1 > 0),
    };
    let server = server::start(config).await.map_err(|e| e.to_string())?;
    say!("Ourlet is ready: http://{}", server.address);
    let mut ended = signal(SignalKind::terminate()).map_err(|e| e.to_string())?;
    let stop = async move {
        tokio::select! {
            _ = tokio::signal::ctrl_c() => {}
            _ = ended.recv() => {}
        }
    };
    // open sockets must not hold the door: give answers in flight a moment, then leave
    let (begun, begins) = tokio::sync::oneshot::channel();
    let running = server.run(async move {
        stop.await;
        let _ = begun.send(());
    });
    tokio::select! {
        outcome = running => outcome.map_err(|e| e.to_string())?,
        () = async { let _ = begins.await; tokio::time::sleep(std::time::Duration::from_secs(1)).await; } => {}
    }
    Ok(ExitCode::SUCCESS)
}
