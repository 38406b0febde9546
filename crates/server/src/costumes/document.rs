//! One step of a costume: the document with all that follows from it, never changed once made.

use costume::{Costume, Diagnostic, Edit, Pattern, Refusal, resolve};
use std::sync::Arc;

/// A document with its pattern and its diagnostics.
#[derive(Debug)]
pub struct Document {
    pub costume: Costume,
    pub pattern: Pattern,
    pub diagnostics: Vec<Diagnostic>,
}

impl Document {
    /// Takes up to a few hundred milliseconds for the largest: call it off the async threads.
    pub fn new(costume: Costume) -> Self {
        let pattern = resolve(&costume);
        Self { diagnostics: workroom::diagnostics_of(&costume, &pattern), costume, pattern }
    }

    /// What an edit makes of it; only what the edit touches is resolved and checked again.
    pub fn edited(&self, edit: &Edit) -> Result<Self, Refusal> {
        let (costume, pattern) = workroom::apply_on(&self.costume, &self.pattern, edit)?;
        Ok(Self { diagnostics: workroom::diagnostics_of(&costume, &pattern), costume, pattern })
    }
}

/// A costume at the step that is shown.
#[derive(Clone, Debug)]
pub struct Shown {
    pub id: i64,
    pub production: i64,
    pub step: i32,
    /// The step before it, where undo leads; the first has none.
    pub parent: Option<i32>,
    /// Where redo leads: the following step that was shown last.
    pub next: Option<i32>,
    /// Grows with every change of what is shown, also by undo and redo.
    pub version: i64,
    pub document: Arc<Document>,
}
