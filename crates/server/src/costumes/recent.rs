//! Documents in use. A step of the history never changes, so what was made of it once holds as long as it is kept.

use super::document::Document;
use std::sync::{Arc, Mutex, PoisonError};

/// Most documents kept, and most lines in all of them together; the one not used for longest gives way.
const KEPT: usize = 32;
const LINES: usize = 120_000;

type Entry = ((i64, i32), Arc<Document>);

/// Documents by costume and step, the last used at the end. Cheap to clone.
#[derive(Clone, Default)]
pub struct Recent(Arc<Mutex<Vec<Entry>>>);

impl Recent {
    pub fn get(&self, costume: i64, step: i32) -> Option<Arc<Document>> {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let at = kept.iter().position(|(key, _)| *key == (costume, step))?;
        let entry = kept.remove(at);
        kept.push(entry.clone());
        Some(entry.1)
    }

    pub fn put(&self, costume: i64, step: i32, document: Arc<Document>) {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.retain(|(key, _)| *key != (costume, step));
        kept.push(((costume, step), document));
        while kept.len() > KEPT || (kept.len() > 2 && kept.iter().map(|(_, d)| lines(d)).sum::<usize>() > LINES) {
            kept.remove(0);
        }
    }
}

fn lines(document: &Document) -> usize {
    document.pattern.pieces.iter().map(|p| p.lines.len()).sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use costume::Costume;

    #[test]
    fn the_document_that_was_not_used_for_longest_gives_way() {
        let recent = Recent::default();
        let document = Arc::new(Document::new(Costume::new("Coat")));
        (0..KEPT as i32).for_each(|step| recent.put(1, step, document.clone()));
        assert!(recent.get(1, 0).is_some(), "used again");
        recent.put(2, 0, document.clone());
        assert!(recent.get(1, 0).is_some() && recent.get(2, 0).is_some());
        assert!(recent.get(1, 1).is_none());
    }
}
