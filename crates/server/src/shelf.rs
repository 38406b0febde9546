//! Values that take long to make, each made once for all who want it.

use costume::Refusal;
use std::sync::{Arc, Mutex, PoisonError};

/// Most values of a shelf kept ready.
const KEPT: usize = 4;

/// A place for one value: whoever makes it holds up only those who want the same one.
type Slot<V> = Arc<Mutex<Option<V>>>;

/// Values by key, the last used at the end; the one not used for longest gives way.
pub(crate) struct Shelf<K, V> {
    all: Mutex<Vec<(K, Slot<V>)>>,
}

impl<K, V> Default for Shelf<K, V> {
    fn default() -> Self {
        Self { all: Mutex::default() }
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
            Err(_) => self.all.lock().unwrap_or_else(PoisonError::into_inner).retain(|(_, s)| !Arc::ptr_eq(s, &slot)),
        }
        made
    }

    /// The value if it is kept and ready.
    pub(crate) fn kept(&self, key: &K) -> Option<V> {
        let slot = self.all.lock().unwrap_or_else(PoisonError::into_inner).iter().find(|(known, _)| known == key)?.1.clone();
        slot.try_lock().ok()?.clone()
    }

    pub(crate) fn clear(&self) {
        self.all.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    fn slot(&self, key: K) -> Slot<V> {
        let mut kept = self.all.lock().unwrap_or_else(PoisonError::into_inner);
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
        assert!(shelf.get(1, || Err(Refusal::elsewhere("a", "b", "c"))).is_err());
        assert_eq!(shelf.get(1, || Ok(3)), Ok(3));
        for key in 2..2 + KEPT as u8 {
            shelf.get(key, || Ok(key)).expect("made");
        }
        assert_eq!(shelf.get(1, || Ok(4)), Ok(4), "the oldest gave way");
    }
}
