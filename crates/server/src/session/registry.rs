//! All live drapes, by costume.

use super::thread;
use super::values::{Order, Session, Snapshot};
use crate::costumes::change::CostumeChange;
use crate::costumes::document::Shown;
use crate::forms::BodyShelf;
use crate::protocol::Event;
use costume::Refusal;
use std::collections::HashMap;
use std::sync::mpsc::Receiver;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use tokio::sync::oneshot;
use workroom::FittingSheet;

/// Sessions above this number end as soon as nobody watches them; above twice as many none is added.
const ROOM: usize = 12;

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
            return Err(Refusal::elsewhere("costumes", reason, "close some of their windows and try again"));
        }
        let session = {
            let (all, id) = (self.clone(), shown.id);
            thread::start(&self.forms, shown, Box::new(move |orders| all.end(id, orders)))
        };
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

    /// The fitting sheet of the present drape, with a copy of it.
    pub async fn sheet(&self, shown: &Shown) -> Result<Option<(FittingSheet, Snapshot)>, Refusal> {
        let (answer, receive) = oneshot::channel();
        let sent = self.open(shown)?.orders.send(Order::Sheet(answer));
        Ok(if sent.is_ok() { receive.await.ok().flatten() } else { None })
    }
}
