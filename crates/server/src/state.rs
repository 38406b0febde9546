//! What all handlers share: the database, bodies made ready once, live drapes.

use crate::error::Failure;
use crate::running::Keeper;
use crate::session::Sessions;
use body::Figure;
use costume::{BodyChoice, Costume, Refusal};
use sqlx::PgPool;
use std::collections::BTreeSet;
use std::sync::{Arc, Mutex, PoisonError};
use tokio::runtime::Handle;
use workroom::Form;
use workroom::laboratory::Sample;

#[derive(Clone)]
pub struct App {
    pub pool: PgPool,
    pub forms: Forms,
    pub sessions: Sessions,
    pub samples: Arc<Shelf<String, Sample>>,
}

impl App {
    pub fn new(pool: PgPool) -> Self {
        let forms = Forms::new(pool.clone());
        Self { sessions: Sessions::new(forms.clone()), samples: Arc::default(), forms, pool }
    }
}

/// Most figures and most forms kept ready; the one not used for longest gives way.
const KEPT: usize = 12;

/// Values by key, the last used at the end.
pub(crate) struct Shelf<K, V>(Mutex<Vec<(K, V)>>);

impl<K, V> Default for Shelf<K, V> {
    fn default() -> Self {
        Self(Mutex::default())
    }
}

impl<K: PartialEq, V: Clone> Shelf<K, V> {
    /// The kept value, or a new one, made once while it is kept.
    pub(crate) fn get(&self, key: K, make: impl FnOnce() -> Result<V, Refusal>) -> Result<V, Refusal> {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let value = match kept.iter().position(|(known, _)| *known == key) {
            Some(k) => kept.remove(k).1,
            None => make()?,
        };
        if kept.len() >= KEPT {
            kept.remove(0);
        }
        kept.push((key, value.clone()));
        Ok(value)
    }
}

/// Figures by what their shape depends on, and forms by the whole choice and the parts left out.
struct Shelves {
    /// Where imported figures are, and the runtime that can ask for them from any thread.
    pool: PgPool,
    runtime: Handle,
    figures: Shelf<BodyChoice, Arc<Figure>>,
    forms: Shelf<(BodyChoice, BTreeSet<String>), Form>,
}

/// Bodies that are ready; cheap to clone.
#[derive(Clone)]
pub struct Forms(Arc<Shelves>);

impl Forms {
    /// Where running drapes are saved.
    pub fn keeper(&self) -> Keeper {
        Keeper::new(self.0.pool.clone(), self.0.runtime.clone())
    }

    /// Must be called within the runtime.
    pub fn new(pool: PgPool) -> Self {
        Self(Arc::new(Shelves { pool, runtime: Handle::current(), figures: Shelf::default(), forms: Shelf::default() }))
    }

    /// Blocks for about a second when the figure is new: call it off the async threads.
    pub fn figure(&self, choice: &BodyChoice) -> Result<Arc<Figure>, Refusal> {
        self.0.figures.get(choice.shape(), || {
            Ok(Arc::new(match &choice.figure {
                None => workroom::figure(choice)?,
                Some(hash) => self.0.runtime.block_on(crate::figures::figure(&self.0.pool, hash)).map_err(|failure| match failure {
                    Failure::Refused(refusal) => refusal,
                    _ => Refusal::new("figure", "cannot be read from the database", "try again when it answers"),
                })?,
            }))
        })
    }

    /// A coarse stand-in for [`Forms::figure`] while a measure changes; ready in a moment and not kept.
    pub fn rough(&self, choice: &BodyChoice) -> Result<Arc<Figure>, Refusal> {
        if choice.figure.is_some() { self.figure(choice) } else { Ok(Arc::new(workroom::rough_figure(choice)?)) }
    }

    /// The body of a costume, ready for cloth. Blocks like [`Forms::figure`].
    pub fn of(&self, costume: &Costume) -> Result<Form, Refusal> {
        let figure = self.figure(&costume.body)?;
        let out = workroom::left_out(costume, &figure);
        self.0.forms.get((costume.body.clone(), out.clone()), || Form::new(figure, &costume.body, out))
    }
}

/// Runs a job that may take long.
pub async fn off_the_async_threads<T: Send + 'static>(job: impl FnOnce() -> Result<T, Refusal> + Send + 'static) -> Result<T, Failure> {
    Ok(tokio::task::spawn_blocking(job).await.map_err(|e| Failure::Internal(e.to_string()))??)
}
