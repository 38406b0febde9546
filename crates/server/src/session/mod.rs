//! Live drapes: one thread per open costume, watched by any number of windows.

mod frames;
mod going;
mod hands;
mod keeping;
mod socket;
mod telling;
mod thread;

pub use socket::socket;

use crate::protocol::Event;
use crate::state::Forms;
use costume::Costume;
use std::collections::HashMap;
use std::sync::mpsc;
use std::sync::{Arc, Mutex};
use tokio::sync::{broadcast, oneshot, watch};
use workroom::{Assembly, Fitting};

/// Control of a session thread.
pub(crate) enum Order {
    Command(crate::protocol::Command),
    Changed(Box<Costume>),
    Open(Box<Fitting>),
    Snapshot(oneshot::Sender<Option<Snapshot>>),
    /// A window came.
    Welcome,
    Leave,
}

/// A copy of a drape for keeping or delivering.
pub struct Snapshot {
    pub assembly: Assembly,
    pub positions: Vec<[f32; 3]>,
    pub fused: Vec<u32>,
    pub at_rest: bool,
    pub crossings: usize,
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
}

/// All running sessions by costume.
#[derive(Clone)]
pub struct Sessions {
    forms: Forms,
    running: Arc<Mutex<HashMap<i64, Session>>>,
}

impl Sessions {
    pub fn new(forms: Forms) -> Self {
        Self { forms, running: Arc::default() }
    }

    fn get(&self, id: i64) -> Option<Session> {
        self.running.lock().unwrap_or_else(std::sync::PoisonError::into_inner).get(&id).cloned()
    }

    /// The session of a costume, started when it is new.
    pub(crate) fn open(&self, id: i64, costume: &Costume) -> Session {
        let mut running = self.running.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(session) = running.get(&id)
            && session.orders.send(Order::Welcome).is_ok()
        {
            return session.clone();
        }
        let session = thread::start(self.forms.clone(), id, costume.clone());
        running.insert(id, session.clone());
        session
    }

    /// Tells the session, if there is one, that its document changed.
    pub fn changed(&self, id: i64, costume: &Costume, step: i32) {
        if let Some(session) = self.get(id) {
            let _ = session.orders.send(Order::Changed(Box::new(costume.clone())));
            let _ = session.events.send(Event::Changed { step });
        }
    }

    /// A copy of the present drape.
    pub async fn snapshot(&self, id: i64) -> Option<Snapshot> {
        let (answer, receive) = oneshot::channel();
        self.get(id)?.orders.send(Order::Snapshot(answer)).ok()?;
        receive.await.ok().flatten()
    }
}
