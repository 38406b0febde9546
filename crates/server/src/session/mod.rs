//! Live drapes: one thread per open costume, watched by any number of windows.

mod events;
mod frames;
mod manipulation;
mod motion;
mod persistence;
mod socket;
mod thread;

pub use socket::socket;

use crate::costumes::pattern_view::PatternView;
use crate::costumes::{CostumeChange, Document, Shown};
use crate::forms::BodyShelf;
use crate::protocol::{Air, Event};
use costume::{Edit, Refusal, apply_on};
use std::collections::HashMap;
use std::sync::mpsc::{self, Receiver};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use tokio::sync::{broadcast, oneshot, watch};
use workroom::{Assembly, Fitting};

/// Control of a session thread.
pub(crate) enum Order {
    Command(crate::protocol::Command),
    /// The document as of a version; older ones than the present are passed over.
    Changed(Arc<Document>, i64),
    /// Shows a fitting with the air it was draped in; what is wrong with it is told to the window that asked.
    Open(Box<Fitting>, Option<Air>, tokio::sync::mpsc::Sender<Event>),
    Snapshot(oneshot::Sender<Option<Snapshot>>),
    /// Somebody is about to come.
    Wake,
    /// A window came.
    Welcome,
    Leave,
    /// Others need the room: end if nobody watches.
    MakeRoom,
}

/// Sessions above this number end as soon as nobody watches them; above twice as many none is added.
const ROOM: usize = 12;

/// A copy of a drape for keeping or delivering.
pub struct Snapshot {
    pub assembly: Assembly,
    pub positions: Vec<[f32; 3]>,
    pub fused: Vec<u32>,
    pub at_rest: bool,
    pub crossings: usize,
    pub air: Air,
}

/// What every window needs, also one that comes later: the newest of each kind.
#[derive(Clone, Default)]
pub(crate) struct Latest {
    pub layout: Option<Arc<Layout>>,
    pub cloth: Option<Arc<Vec<u8>>>,
    pub tension: Option<Arc<Vec<u8>>>,
    pub status: Option<Arc<Event>>,
    /// The findings on the present cloth.
    pub checked: Option<Arc<Event>>,
}

/// The announcement of a generation and its binary layout.
pub(crate) struct Layout {
    pub generation: u32,
    pub event: Event,
    pub bytes: Vec<u8>,
}

/// The way to a running session.
#[derive(Clone)]
pub(crate) struct Session {
    pub orders: mpsc::Sender<Order>,
    pub latest: watch::Receiver<Latest>,
    pub events: broadcast::Sender<Event>,
    /// What trials are made on.
    pub shown: Arc<Mutex<Shown>>,
}

impl Session {
    /// What an edit would come to; takes a few milliseconds.
    fn trial(&self, edit: &Edit) -> Result<PatternView, Refusal> {
        let before = self.shown.lock().unwrap_or_else(PoisonError::into_inner).document.clone();
        let (_, after) = apply_on(&before.costume, &before.pattern, edit)?;
        Ok(crate::costumes::pattern_view::changes(&before.pattern, &after))
    }

    fn renew(&self, shown: &Shown) {
        let mut kept = self.shown.lock().unwrap_or_else(PoisonError::into_inner);
        if shown.version > kept.version {
            *kept = shown.clone();
        }
    }
}

/// All running sessions by costume.
#[derive(Clone)]
pub struct Sessions {
    forms: BodyShelf,
    running: Arc<Mutex<HashMap<i64, Session>>>,
}

impl Sessions {
    pub fn new(forms: BodyShelf) -> Self {
        Self { forms, running: Arc::default() }
    }

    fn lock(&self) -> MutexGuard<'_, HashMap<i64, Session>> {
        self.running.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The session of a costume, started when it is new.
    pub(crate) fn open(&self, shown: &Shown) -> Result<Session, Refusal> {
        let mut running = self.lock();
        if let Some(session) = running.get(&shown.id)
            && session.orders.send(Order::Wake).is_ok()
        {
            return Ok(session.clone());
        }
        if running.len() >= ROOM {
            running.values().for_each(|s| drop(s.orders.send(Order::MakeRoom)));
        }
        if running.len() >= 2 * ROOM {
            let reason = format!("{} are open already", running.len());
            return Err(Refusal::new("costumes", reason, "close some of their windows and try again"));
        }
        let session = thread::start(self.clone(), shown);
        running.insert(shown.id, session.clone());
        Ok(session)
    }

    /// Whether a costume has a session.
    pub fn is_open(&self, id: i64) -> bool {
        self.lock().contains_key(&id)
    }

    /// Ends a session unless an order has come meanwhile, which is returned.
    fn end(&self, id: i64, orders: &Receiver<Order>) -> Option<Order> {
        // orders to sessions that may be new are sent under the same lock
        let mut running = self.lock();
        let late = orders.try_recv().ok();
        if late.is_none() {
            running.remove(&id);
            if running.is_empty() {
                self.forms.rest();
            }
        }
        late
    }

    /// Tells the session and its windows, if there are any, what its document became.
    pub fn changed(&self, shown: &Shown, change: &CostumeChange) {
        if let Some(session) = self.renewed(shown) {
            let _ = session.events.send(Event::Changed { change: Arc::new(change.clone()) });
        }
    }

    /// Tells the session what its document is by now.
    pub(crate) fn renewed(&self, shown: &Shown) -> Option<Session> {
        let session = self.lock().get(&shown.id).cloned()?;
        session.renew(shown);
        let _ = session.orders.send(Order::Changed(shown.document.clone(), shown.version));
        Some(session)
    }

    /// A copy of the present drape, or of the one that was on the stand when nobody watched it any more.
    pub async fn snapshot(&self, shown: &Shown) -> Result<Option<Snapshot>, Refusal> {
        let (answer, receive) = oneshot::channel();
        let sent = self.open(shown)?.orders.send(Order::Snapshot(answer));
        Ok(if sent.is_ok() { receive.await.ok().flatten() } else { None })
    }
}
