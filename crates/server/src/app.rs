//! What all handlers share.

use crate::costumes::history::Costumes;
use crate::costumes::recent::Recent;
use crate::forms::BodyShelf;
use crate::queue::Queue;
use crate::rehearsals::shown::ShownRehearsal;
use crate::scan_readers::ScanReaders;
use crate::session::registry::Sessions;
use crate::shelf::Shelf;
use crate::workers::Workers;
use sqlx::PgPool;
use std::sync::Arc;
use workroom::laboratory::Sample;

/// The database, bodies made ready once, documents in use, live drapes. Cheap to clone.
#[derive(Clone)]
pub struct App {
    pub pool: PgPool,
    pub forms: BodyShelf,
    pub costumes: Costumes,
    pub sessions: Sessions,
    pub samples: Arc<Shelf<String, Sample>>,
    /// Readers of pictures under the paper, and the pixels of those that are traced, by asset and page.
    pub scans: ScanReaders,
    pub pixels: Arc<Shelf<(String, u32), Arc<trace::Grey>>>,
    /// Rehearsals that are looked at.
    pub rehearsals: Arc<Shelf<i64, Arc<ShownRehearsal>>>,
    pub queue: Queue,
    pub workers: Workers,
}

impl App {
    pub fn new(pool: PgPool, queue: Queue) -> Self {
        let forms = BodyShelf::new(pool.clone());
        Self {
            sessions: Sessions::new(forms.clone()),
            costumes: Costumes { pool: pool.clone(), documents: Recent::default() },
            samples: Arc::default(),
            scans: ScanReaders::default(),
            pixels: Arc::default(),
            rehearsals: Arc::default(),
            workers: Workers::default(),
            queue,
            forms,
            pool,
        }
    }
}
