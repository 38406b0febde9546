//! What goes wrong, as an answer that names the item, the reason and the remedy.

use axum::Json;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use costume::Refusal;
use serde::Serialize;

/// Why the server does not start; one clear line each.
#[derive(Debug, thiserror::Error)]
pub enum StartError {
    #[error("the database cannot be reached: {0}")]
    Database(#[from] sqlx::Error),
    #[error("the database could not be brought up to date: {0}")]
    Migrate(#[from] sqlx::migrate::MigrateError),
    #[error("port {0} cannot be used ({1}); stop the other program or choose another with --port")]
    Port(u16, std::io::Error),
    #[error("the queue of long work cannot be used: {0}")]
    Queue(String),
    #[error("the demo data cannot be loaded: {0}")]
    Demo(String),
}

/// An answer other than the expected one.
#[derive(Debug)]
pub enum Failure {
    Refused(Refusal),
    NotFound(&'static str),
    /// The request is based on another step than the one shown.
    Stale,
    /// The database does not answer for now.
    Unavailable,
    Internal(String),
}

impl From<Refusal> for Failure {
    fn from(refusal: Refusal) -> Self {
        Self::Refused(refusal)
    }
}

impl From<sqlx::Error> for Failure {
    fn from(error: sqlx::Error) -> Self {
        match error {
            sqlx::Error::Io(_) | sqlx::Error::PoolTimedOut | sqlx::Error::PoolClosed | sqlx::Error::WorkerCrashed | sqlx::Error::Tls(_) => {
                Self::Unavailable
            }
            // class 57: the server is shutting down or was ended; 53: out of resources such as disk space
            sqlx::Error::Database(e) if e.code().is_some_and(|c| c.starts_with("57") || c.starts_with("53")) => Self::Unavailable,
            other => Self::Internal(other.to_string()),
        }
    }
}

#[derive(Serialize)]
struct Answer {
    refusal: Refusal,
}

impl IntoResponse for Failure {
    fn into_response(self) -> Response {
        let (status, refusal) = match self {
            Self::Refused(refusal) => (StatusCode::UNPROCESSABLE_ENTITY, refusal),
            Self::NotFound(what) => {
                (StatusCode::NOT_FOUND, Refusal::elsewhere(what, "does not exist or was removed", "go back to the rail"))
            }
            Self::Stale => (
                StatusCode::CONFLICT,
                Refusal::elsewhere("costume", "was changed in another window meanwhile", "look at the newest state and repeat the step"),
            ),
            Self::Unavailable => (
                StatusCode::SERVICE_UNAVAILABLE,
                Refusal::elsewhere("database", "does not answer", "your step is kept here and sent when it returns"),
            ),
            Self::Internal(message) => {
                tracing::error!("{message}");
                (StatusCode::INTERNAL_SERVER_ERROR, Refusal::elsewhere("server", "met an unexpected fault", "try again; the log says more"))
            }
        };
        (status, Json(Answer { refusal })).into_response()
    }
}
