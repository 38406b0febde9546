//! Who may read a picture now, and for how long.

use crate::error::Failure;
use costume::Refusal;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::Semaphore;

/// A picture that takes longer to read is refused.
const LIMIT: Duration = Duration::from_secs(30);

/// Pictures that are read at the same time.
const AT_ONCE: usize = 2;

/// Who may read a picture now; one that never ends keeps its place, so that no more than these ever run.
#[derive(Clone)]
pub struct ScanReaders(Arc<Semaphore>);

impl Default for ScanReaders {
    fn default() -> Self {
        Self(Arc::new(Semaphore::new(AT_ONCE)))
    }
}

impl ScanReaders {
    /// Reads on a thread that may be blocked, within the time limit.
    pub async fn read<T: Send + 'static>(
        &self,
        name: &str,
        job: impl FnOnce() -> Result<T, Refusal> + Send + 'static,
    ) -> Result<T, Failure> {
        let late = || Refusal::elsewhere(name, "takes too long to read", "bring the page as a PNG");
        let place = tokio::time::timeout(LIMIT, self.0.clone().acquire_owned()).await.map_err(|_| late())?;
        let place = place.map_err(|e| Failure::Internal(e.to_string()))?;
        let read = tokio::task::spawn_blocking(move || {
            let _place = place;
            job()
        });
        let read = tokio::time::timeout(LIMIT, read).await.map_err(|_| late())?;
        Ok(read.map_err(|e| Failure::Internal(e.to_string()))??)
    }
}
