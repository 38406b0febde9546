//! What all handlers share: the database, bodies made ready once, live drapes.

use crate::error::Failure;
use crate::session::Sessions;
use sqlx::PgPool;
use std::collections::HashMap;
use std::sync::{Arc, Mutex};
use workroom::Form;

#[derive(Clone)]
pub struct App {
    pub pool: PgPool,
    pub forms: Forms,
    pub sessions: Sessions,
}

impl App {
    pub fn new(pool: PgPool) -> Self {
        let forms = Forms::default();
        Self { sessions: Sessions::new(forms.clone()), forms, pool }
    }
}

/// Bodies by preset key; each is generated once.
#[derive(Clone, Default)]
pub struct Forms(Arc<Mutex<HashMap<String, Form>>>);

impl Forms {
    /// Blocks for the better part of a second when the body is new: call it off the async threads.
    pub fn get(&self, preset: &str) -> Result<Form, costume::Refusal> {
        let mut forms = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(form) = forms.get(preset) {
            return Ok(form.clone());
        }
        let form = Form::new(preset)?;
        forms.insert(preset.to_owned(), form.clone());
        Ok(form)
    }

    /// [`Forms::get`] on a blocking thread.
    pub async fn fetch(&self, preset: String) -> Result<Form, Failure> {
        let forms = self.clone();
        let made = tokio::task::spawn_blocking(move || forms.get(&preset)).await;
        Ok(made.map_err(|e| Failure::Internal(e.to_string()))??)
    }
}
