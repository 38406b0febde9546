//! Why an edit or a file is not accepted: what it is, with ids and numbers, and the words for it.

mod kind;
mod words;

pub use kind::{Counted, LineSpot, Quantity, RefusalKind, Thing};

use serde::Serialize;
use ts_rs::TS;

/// Names the item, the reason and the remedy, each in plain words, and what it is for whoever does not read them.
#[derive(Clone, Debug, PartialEq, Serialize, TS, thiserror::Error)]
#[error("{item}: {reason}. {remedy}.")]
pub struct Refusal {
    /// What is refused, with its numbers.
    pub kind: Box<RefusalKind>,
    /// What is concerned, by the name the designer gave it.
    pub item: String,
    /// Why it cannot be done, in words that follow the name.
    pub reason: String,
    /// What would be accepted.
    pub remedy: String,
}

impl Refusal {
    /// Of something in the document, in the words for its kind.
    pub fn of(item: impl Into<String>, kind: RefusalKind) -> Self {
        let (reason, remedy) = kind.words();
        Self { item: item.into(), reason, remedy: capital(&remedy), kind: Box::new(kind) }
    }

    /// Of something outside the document (a body, a file, the database), in words without full stops.
    pub fn elsewhere(item: impl Into<String>, reason: impl Into<String>, remedy: impl Into<String>) -> Self {
        Self { kind: Box::new(RefusalKind::Elsewhere), item: item.into(), reason: reason.into(), remedy: capital(&remedy.into()) }
    }
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + letters.as_str())
}
