//! Bodies that are ready, shared by all costumes.

use crate::error::Failure;
use crate::priority::giving_way;
use crate::running::Keeper;
use crate::shelf::Shelf;
use body::Body;
use costume::{BodyChoice, Costume, Refusal};
use sqlx::PgPool;
use std::collections::BTreeSet;
use std::sync::Arc;
use tokio::runtime::Handle;
use workroom::{Assembly, ContactBody};

/// Figures by what their shape depends on, and forms by the whole choice and the parts left out.
struct Shelves {
    /// Where imported figures are, and the runtime that can ask for them from any thread.
    pool: PgPool,
    runtime: Handle,
    figures: Shelf<BodyChoice, Arc<Body>>,
    forms: Shelf<(BodyChoice, BTreeSet<String>), ContactBody>,
}

/// Bodies that are ready; cheap to clone.
#[derive(Clone)]
pub struct BodyShelf(Arc<Shelves>);

impl BodyShelf {
    /// Where running drapes are saved.
    pub fn keeper(&self) -> Keeper {
        Keeper::new(self.0.pool.clone(), self.0.runtime.clone())
    }

    /// Must be called within the runtime.
    pub fn new(pool: PgPool) -> Self {
        Self(Arc::new(Shelves { pool, runtime: Handle::current(), figures: Shelf::default(), forms: Shelf::default() }))
    }

    /// Blocks for about a second when the figure is new: call it off the async threads.
    pub fn figure(&self, choice: &BodyChoice) -> Result<Arc<Body>, Refusal> {
        self.0.figures.get(choice.shape(), || {
            Ok(Arc::new(match &choice.figure {
                None => workroom::figure(choice)?,
                Some(hash) => {
                    self.0.runtime.block_on(crate::figure_store::figure(&self.0.pool, hash)).map_err(|failure| match failure {
                        Failure::Refused(refusal) => refusal,
                        _ => Refusal::elsewhere("figure", "cannot be read from the database", "try again when it answers"),
                    })?
                }
            }))
        })
    }

    /// Lets go of what is quickly made again, when no costume is open any more.
    pub fn rest(&self) {
        self.0.forms.clear();
    }

    /// A coarse stand-in for [`BodyShelf::figure`] while a measure changes; ready in a moment and not kept.
    pub fn rough(&self, choice: &BodyChoice) -> Result<Arc<Body>, Refusal> {
        if choice.figure.is_some() { self.figure(choice) } else { Ok(Arc::new(workroom::rough_figure(choice)?)) }
    }

    /// The body of a costume, ready for cloth that has reached some of its parts. Blocks like [`BodyShelf::figure`].
    pub fn of(&self, costume: &Costume, reached: &BTreeSet<String>) -> Result<ContactBody, Refusal> {
        let figure = self.figure(&costume.body)?;
        let out = workroom::left_out(costume, &figure, reached);
        self.0.forms.get((costume.body.clone(), out.clone()), || ContactBody::new(figure, &costume.body, out))
    }
}

impl BodyShelf {
    /// A costume hung on its body.
    pub fn hang(&self, costume: &Costume) -> Result<Assembly, Refusal> {
        giving_way(|| workroom::hang(costume, |reached| self.of(costume, reached)))
    }
}
