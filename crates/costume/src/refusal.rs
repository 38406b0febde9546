//! Why an edit or a file is not accepted.

use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Names the item, the reason and the remedy, each in plain words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, TS, thiserror::Error)]
#[error("{item}: {reason}. {remedy}.")]
pub struct Refusal {
    /// What is concerned, by the name the designer gave it.
    pub item: String,
    /// Why it cannot be done, in words that follow the name.
    pub reason: String,
    /// What would be accepted.
    pub remedy: String,
}

impl Refusal {
    /// From words without full stops.
    pub fn new(item: impl Into<String>, reason: impl Into<String>, remedy: impl Into<String>) -> Self {
        let remedy: String = remedy.into();
        let mut letters = remedy.chars();
        let remedy = letters.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + letters.as_str());
        Self { item: item.into(), reason: reason.into(), remedy }
    }
}
