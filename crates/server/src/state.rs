//! What all handlers share: the database, bodies made ready once, live drapes.

use crate::error::Failure;
use crate::session::Sessions;
use costume::BodyChoice;
use sqlx::PgPool;
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

/// Most bodies kept ready; the one not used for longest gives way.
const KEPT: usize = 12;

/// Bodies by choice, the last used at the end; each is generated once while it is kept.
#[derive(Clone, Default)]
pub struct Forms(Arc<Mutex<Vec<(BodyChoice, Form)>>>);

impl Forms {
    /// Blocks for about a second when the body is new: call it off the async threads.
    pub fn get(&self, choice: &BodyChoice) -> Result<Form, costume::Refusal> {
        let mut forms = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let form = match forms.iter().position(|(known, _)| known == choice) {
            Some(k) => forms.remove(k).1,
            None => Form::new(choice)?,
        };
        if forms.len() >= KEPT {
            forms.remove(0);
        }
        forms.push((choice.clone(), form.clone()));
        Ok(form)
    }

    /// [`Forms::get`] on a blocking thread.
    pub async fn fetch(&self, choice: BodyChoice) -> Result<Form, Failure> {
        let forms = self.clone();
        let made = tokio::task::spawn_blocking(move || forms.get(&choice)).await;
        Ok(made.map_err(|e| Failure::Internal(e.to_string()))??)
    }
}
