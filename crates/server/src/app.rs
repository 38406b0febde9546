//! What all handlers share.

use crate::costumes::Recent;
use crate::forms::BodyShelf;
use crate::session::Sessions;
use crate::shelf::Shelf;
use sqlx::PgPool;
use std::sync::Arc;
use workroom::laboratory::Sample;

/// The database, bodies made ready once, documents in use, live drapes. Cheap to clone.
#[derive(Clone)]
pub struct App {
    pub pool: PgPool,
    pub forms: BodyShelf,
    pub documents: Recent,
    pub sessions: Sessions,
    pub samples: Arc<Shelf<String, Sample>>,
}

impl App {
    pub fn new(pool: PgPool) -> Self {
        let forms = BodyShelf::new(pool.clone());
        Self { sessions: Sessions::new(forms.clone()), documents: Recent::default(), samples: Arc::default(), forms, pool }
    }
}
