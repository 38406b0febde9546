//! The application over HTTP: routes, live drapes over WebSocket, PostgreSQL.
//!
//! Handlers parse and answer; every rule about costumes is in the core crates. Nothing is reachable from other
//! machines: the listener is on loopback, and requests with a foreign Host or Origin are refused.

mod app;
mod asset_store;
mod assets;
mod background;
mod bodies;
mod comparing;
mod costumes;
mod database;
mod deliveries;
mod demo;
mod download;
mod drawing;
mod error;
mod figure_store;
mod figures;
mod fittings;
mod forms;
mod jobs;
mod origin_guard;
mod patterns;
mod prints;
mod priority;
mod protocol;
mod queue;
mod rail;
mod recipes;
mod rehearsals;
mod running;
mod samples;
mod scan_readers;
mod scans;
mod seaming;
mod session;
mod sheets;
mod shelf;
mod shown_body;
mod swatches;
mod types;
mod workers;

pub use asset_store::hash_of;
pub use error::StartError;
pub use queue::serve as work;
pub use types::typescript;
pub use workers::orphaned;

use app::App;
use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::routing::{get, post};
use std::net::{Ipv4Addr, SocketAddr};
use std::path::PathBuf;
use tokio::net::TcpListener;

/// Largest file of a prop, bytes.
const PROP_BYTES: usize = 4 << 20;
/// Largest request body in bytes.
const BODY_LIMIT: usize = costume::limits::FILE_BYTES + (64 << 10);

/// What the server needs to start.
pub struct Config {
    pub database_url: String,
    /// 0 takes any free port.
    pub port: u16,
    /// Folder with the demo costumes, loaded once into an empty database.
    pub demo: Option<PathBuf>,
    /// Whether costumes that were just loaded are draped in the background.
    pub drape_demo: bool,
    /// The program that is started as a worker, and how many of them; none when others work.
    pub workers: Option<(PathBuf, usize)>,
}

/// A server that listens but has not begun to answer.
pub struct Server {
    listener: TcpListener,
    router: Router,
    pub address: SocketAddr,
}

/// Connects, migrates, loads the demo data and listens.
pub async fn start(config: Config) -> Result<Server, StartError> {
    priority::builders_give_way();
    let pool = database::connect(&config.database_url).await?;
    let loaded = match &config.demo {
        Some(folder) => demo::load(&pool, folder).await?,
        None => Vec::new(),
    };
    let at = SocketAddr::from((Ipv4Addr::LOCALHOST, config.port));
    let listener = TcpListener::bind(at).await.map_err(|e| StartError::Port(config.port, e))?;
    let address = listener.local_addr().map_err(|e| StartError::Port(config.port, e))?;
    let queue = queue::Queue::new(&pool).await?;
    let app = App::new(pool, queue);
    if let Some((program, count)) = config.workers {
        app.workers.look_after(app.pool.clone(), workers::Start { program, database: config.database_url, count });
    }
    if config.drape_demo {
        demo::drape_in_the_background(app.clone(), loaded);
    }
    Ok(Server { listener, router: router(app), address })
}

impl Server {
    /// Answers until `stop` resolves.
    pub async fn run(self, stop: impl Future<Output = ()> + Send + 'static) -> std::io::Result<()> {
        axum::serve(self.listener, self.router).with_graceful_shutdown(stop).await
    }
}

fn router(app: App) -> Router {
    Router::new()
        .route("/api/rail", get(rail::show))
        .route("/api/productions", post(rail::add_production))
        .route("/api/productions/{id}/rename", post(rail::rename_production))
        .route("/api/costumes", post(rail::add_costume))
        .route("/api/costumes/import", post(rail::import))
        .route("/api/costumes/{id}", get(costumes::routes::show).delete(rail::remove))
        .route("/api/costumes/{id}/restore", post(rail::restore))
        .route("/api/costumes/{id}/duplicate", post(rail::duplicate))
        .route("/api/costumes/{id}/edits", post(costumes::routes::edit))
        .route("/api/costumes/{id}/body", post(shown_body::show))
        .route("/api/costumes/{id}/body/outline", get(shown_body::outline))
        .route("/api/costumes/{id}/grips", get(shown_body::grips))
        .route("/api/costumes/{id}/undo", post(costumes::routes::undo))
        .route("/api/costumes/{id}/redo", post(costumes::routes::redo))
        .route("/api/costumes/{id}/go", post(costumes::routes::go))
        .route("/api/costumes/{id}/history", get(costumes::routes::steps))
        .route("/api/recipes", get(recipes::list))
        .route("/api/recipes/{key}/picture", get(recipes::picture))
        .route("/api/costumes/{id}/file", get(costumes::routes::file))
        .route("/api/costumes/{id}/pattern.svg", get(patterns::svg))
        .route("/api/costumes/{id}/steps/{step}/picture", get(patterns::step_picture))
        .route("/api/costumes/{id}/pattern.dxf", get(patterns::dxf))
        .route("/api/costumes/{id}/pattern.pdf", get(patterns::print))
        .route("/api/patterns", post(patterns::read).layer(DefaultBodyLimit::max(formats::pattern_limits::FILE_BYTES)))
        .route("/api/scans", post(scans::add).layer(DefaultBodyLimit::max(formats::scan_limits::FILE_BYTES)))
        .route("/api/scans/{asset}/{page}", get(scans::picture))
        .route("/api/costumes/{id}/trace", post(scans::outline))
        .route("/api/costumes/{id}/ruler", post(scans::ruler))
        .route("/api/costumes/{id}/proposals", get(seaming::proposals))
        .route("/api/costumes/{id}/hangings", get(seaming::hangings))
        .route("/api/costumes/{id}/walks", get(seaming::walks))
        .route("/api/costumes/{id}/clip", get(costumes::routes::clip))
        .route("/api/costumes/{id}/drape", get(session::socket::socket))
        .route("/api/costumes/{id}/picture", get(fittings::running_picture))
        .route("/api/costumes/{id}/fittings", get(fittings::list))
        .route("/api/costumes/{id}/deliver/{file}", get(deliveries::deliver))
        .route("/api/costumes/{id}/delivery", get(deliveries::preview))
        .route("/api/fittings/{id}", axum::routing::delete(fittings::remove))
        .route("/api/fittings/{id}/shown", get(comparing::show))
        .route("/api/fittings/{id}/from/{other}", get(comparing::difference))
        .route("/api/fittings/{id}/picture", get(fittings::picture))
        .route("/api/costumes/{id}/motions", get(rehearsals::routes::motions))
        .route("/api/costumes/{id}/rehearsals", get(rehearsals::routes::list).post(rehearsals::routes::add))
        .route("/api/props", post(rehearsals::routes::prop).layer(DefaultBodyLimit::max(PROP_BYTES)))
        .route("/api/rehearsals/{id}", get(rehearsals::routes::state).delete(rehearsals::routes::remove))
        .route("/api/rehearsals/{id}/again", post(rehearsals::routes::again))
        .route("/api/rehearsals/{id}/cancel", post(rehearsals::routes::cancel))
        .route("/api/rehearsals/{id}/resume", post(rehearsals::routes::resume))
        .route("/api/rehearsals/{id}/keep", post(rehearsals::routes::keep))
        .route("/api/rehearsals/{id}/layout", get(rehearsals::routes::layout))
        .route("/api/rehearsals/{id}/frames/{frame}", get(rehearsals::routes::frame))
        .route("/api/rehearsals/{id}/deliver/{ending}", get(rehearsals::routes::deliver))
        .route("/api/costumes/{id}/sheet/{ending}", get(sheets::sheet))
        .route("/api/costumes/{id}/mesh", get(sheets::mesh))
        .route("/api/ease/{kind}", get(sheets::usual_ease))
        .route("/api/costumes/{id}/jobs", get(jobs::routes::list).post(jobs::routes::add))
        .route("/api/work", get(jobs::everywhere::list))
        .route("/api/jobs/{id}", axum::routing::delete(jobs::routes::remove))
        .route("/api/jobs/{id}/cancel", post(jobs::routes::cancel))
        .route("/api/jobs/{id}/resume", post(jobs::routes::resume))
        .route("/api/jobs/{id}/plan.svg", get(jobs::routes::plan))
        .route("/api/jobs/{id}/parts/{part}/picture", get(jobs::routes::picture))
        .route("/api/bodies", get(bodies::list))
        .route("/api/figures", get(figures::list).post(figures::add).layer(DefaultBodyLimit::max(formats::figure_limits::FILE_BYTES)))
        .route("/api/figures/{hash}", get(figures::show))
        .route("/api/figures/{hash}/sheet", post(figures::correct))
        .route("/api/figures/{hash}/motions/{motion}/{frame}", get(figures::frame))
        .route("/api/swatches", get(swatches::show))
        .route("/api/swatches/own", post(swatches::keep))
        .route("/api/swatches/own/{id}", axum::routing::delete(swatches::remove))
        .route("/api/motifs", get(prints::motifs))
        .route("/api/prints/tile", get(prints::tile))
        .route("/api/samples", post(samples::show))
        .route("/api/lab", post(samples::fit))
        .fallback(assets::serve)
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(axum::middleware::from_fn(origin_guard::admit))
        .with_state(app)
}
