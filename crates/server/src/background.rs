//! Work that takes longer than a few milliseconds leaves the async threads.

use crate::error::Failure;
use costume::Refusal;

/// Runs a job on a thread that may be blocked.
pub async fn off_the_async_threads<T: Send + 'static>(job: impl FnOnce() -> Result<T, Refusal> + Send + 'static) -> Result<T, Failure> {
    Ok(tokio::task::spawn_blocking(job).await.map_err(|e| Failure::Internal(e.to_string()))??)
}
