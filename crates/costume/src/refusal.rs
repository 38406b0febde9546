//! Why an edit or a file is not accepted.

use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Names the item, the reason and the mend, each in plain words.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, TS, thiserror::Error)]
#[error("{item}: {reason}. {mend}.")]
pub struct Refusal {
    pub item: String,
    pub reason: String,
    pub mend: String,
}

impl Refusal {
    pub fn new(item: impl Into<String>, reason: impl Into<String>, mend: impl Into<String>) -> Self {
        let mend: String = mend.into();
        let mut letters = mend.chars();
        let mend = letters.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + letters.as_str());
        Self { item: item.into(), reason: reason.into(), mend }
    }
}
