//! What passes between a session, its windows and the other rooms.

use crate::costumes::document::{Document, Shown};
use crate::costumes::pattern_view::{PatternView, changes};
use crate::protocol::{Air, Event};
use costume::{Edit, Refusal, apply_on};
use std::sync::mpsc;
use std::sync::{Arc, Mutex, PoisonError};
use tokio::sync::{broadcast, oneshot, watch};
use workroom::{Assembly, Fitting, FittingSheet};

/// Control of a session thread.
pub(crate) enum Order {
    Command(crate::protocol::Command),
    /// The document as of a version; older ones than the present are passed over.
    Changed(Arc<Document>, i64),
    /// Shows a fitting with the air it was draped in; what is wrong with it is told to the window that asked.
    Open(Box<Fitting>, Option<Air>, tokio::sync::mpsc::Sender<Event>),
    Snapshot(oneshot::Sender<Option<Snapshot>>),
    /// What a fitting sheet says of the present drape.
    Sheet(oneshot::Sender<Option<(FittingSheet, Snapshot)>>),
    /// Somebody is about to come.
    Wake,
    /// A window came.
    Welcome,
    Leave,
    /// Others need the room: end if nobody watches.
    MakeRoom,
}

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
    /// Values of the map of the check that is shown.
    pub map: Option<Arc<Vec<u8>>>,
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
    pub fn trial(&self, edit: &Edit) -> Result<PatternView, Refusal> {
        let before = self.shown.lock().unwrap_or_else(PoisonError::into_inner).document.clone();
        let (costume, after) = apply_on(&before.costume, &before.pattern, edit)?;
        Ok(changes(&before.pattern, &costume, &after))
    }

    pub fn renew(&self, shown: &Shown) {
        let mut kept = self.shown.lock().unwrap_or_else(PoisonError::into_inner);
        if shown.version > kept.version {
            *kept = shown.clone();
        }
    }
}
