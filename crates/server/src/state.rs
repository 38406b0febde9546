//! What all handlers share: the database, bodies made ready once, live drapes.

use crate::error::Failure;
use crate::priority::giving_way;
use crate::running::Keeper;
use crate::session::Sessions;
use body::Figure;
use costume::{BodyChoice, Costume, Refusal};
use sqlx::PgPool;
use std::collections::BTreeSet;
use std::sync::{Arc, Mutex, PoisonError};
use tokio::runtime::Handle;
use workroom::laboratory::Sample;
use workroom::{Assembly, Form};

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
const KEPT: usize = 4;

/// A place for one value: whoever makes it holds up only those who want the same one.
type Slot<V> = Arc<Mutex<Option<V>>>;

/// Values by key, the last used at the end.
pub(crate) struct Shelf<K, V>(Mutex<Vec<(K, Slot<V>)>>);

impl<K, V> Default for Shelf<K, V> {
    fn default() -> Self {
        Self(Mutex::default())
    }
}

impl<K: PartialEq, V: Clone> Shelf<K, V> {
    /// The kept value, or a new one, made once while it is kept. What cannot be made is not kept.
    pub(crate) fn get(&self, key: K, make: impl FnOnce() -> Result<V, Refusal>) -> Result<V, Refusal> {
        let slot = self.slot(key);
        let mut value = slot.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(value) = &*value {
            return Ok(value.clone());
        }
        let made = make();
        match &made {
            Ok(new) => *value = Some(new.clone()),
            Err(_) => self.0.lock().unwrap_or_else(PoisonError::into_inner).retain(|(_, s)| !Arc::ptr_eq(s, &slot)),
        }
        made
    }

    fn clear(&self) {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    fn slot(&self, key: K) -> Slot<V> {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let slot = match kept.iter().position(|(known, _)| *known == key) {
            Some(k) => kept.remove(k).1,
            None => Slot::default(),
        };
        if kept.len() >= KEPT {
            kept.remove(0);
        }
        kept.push((key, slot.clone()));
        slot
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

    /// Lets go of what is quickly made again, when no costume is open any more.
    pub fn rest(&self) {
        self.0.forms.clear();
    }

    /// A coarse stand-in for [`Forms::figure`] while a measure changes; ready in a moment and not kept.
    pub fn rough(&self, choice: &BodyChoice) -> Result<Arc<Figure>, Refusal> {
        if choice.figure.is_some() { self.figure(choice) } else { Ok(Arc::new(workroom::rough_figure(choice)?)) }
    }

    /// The body of a costume, ready for cloth that has reached some of its parts. Blocks like [`Forms::figure`].
    pub fn of(&self, costume: &Costume, reached: &BTreeSet<String>) -> Result<Form, Refusal> {
        let figure = self.figure(&costume.body)?;
        let out = workroom::left_out(costume, &figure, reached);
        self.0.forms.get((costume.body.clone(), out.clone()), || Form::new(figure, &costume.body, out))
    }
}

impl Forms {
    /// A costume hung on its body.
    pub fn hang(&self, costume: &Costume) -> Result<Assembly, Refusal> {
        giving_way(|| workroom::hang(costume, |reached| self.of(costume, reached)))
    }
}

/// Runs a job that may take longer than a few milliseconds.
pub async fn off_the_async_threads<T: Send + 'static>(job: impl FnOnce() -> Result<T, Refusal> + Send + 'static) -> Result<T, Failure> {
    Ok(tokio::task::spawn_blocking(job).await.map_err(|e| Failure::Internal(e.to_string()))??)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc;

    #[test]
    fn a_value_that_takes_long_holds_up_only_those_who_want_it() {
        let shelf: Arc<Shelf<u8, u8>> = Arc::default();
        let (go, wait) = mpsc::channel::<()>();
        let (begun, started) = mpsc::channel::<()>();
        let slow = {
            let shelf = shelf.clone();
            std::thread::spawn(move || {
                shelf.get(1, || {
                    begun.send(()).expect("heard");
                    wait.recv().expect("a sign");
                    Ok(10)
                })
            })
        };
        started.recv().expect("the slow one is being made");
        // would wait for ever under one lock for all
        assert_eq!(shelf.get(2, || Ok(20)), Ok(20));
        go.send(()).expect("heard");
        assert_eq!(slow.join().expect("made"), Ok(10));
        assert_eq!(shelf.get(1, || unreachable!("it is kept")), Ok(10));
    }

    #[test]
    fn what_cannot_be_made_is_tried_again() {
        let shelf: Shelf<u8, u8> = Shelf::default();
        assert!(shelf.get(1, || Err(Refusal::new("a", "b", "c"))).is_err());
        assert_eq!(shelf.get(1, || Ok(3)), Ok(3));
        for key in 2..2 + KEPT as u8 {
            shelf.get(key, || Ok(key)).expect("made");
        }
        assert_eq!(shelf.get(1, || Ok(4)), Ok(4), "the oldest gave way");
    }
}
