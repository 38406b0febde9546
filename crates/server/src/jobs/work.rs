//! One job from its beginning, or from its last stored part, to its end.

use super::store::{self, Begun, JobAsked, JobPart, Made};
use crate::error::Failure;
use crate::forms::BodyShelf;
use costume::Costume;
use sqlx::PgPool;
use std::time::{Duration, Instant};
use tokio::runtime::Handle;
use workroom::{EaseOutcome, Trial, fit_to_ease, in_sizes, size_row, to_lay};

/// How often a worker looks whether its job is still wanted.
const LOOK: Duration = Duration::from_millis(700);
/// Pixels of a picture of a part.
const PICTURE: (usize, usize) = (300, 420);

/// What a job came to.
enum Ended {
    Done(Option<Box<EaseOutcome>>),
    Stopped,
}

/// Works at a job until it ends, is cancelled, or is given to another worker. What cannot be done is told in its row; a failure here
/// means that the work is to be tried again.
pub async fn work(pool: &PgPool, forms: &BodyShelf, id: i64, worker: &str) -> Result<(), Failure> {
    let Some(begun) = store::take(pool, id, worker).await? else { return Ok(()) };
    if begun.cancelled {
        return store::end(pool, id, worker, "cancelled", None, None).await;
    }
    let desk = Desk { pool: pool.clone(), forms: forms.clone(), runtime: Handle::current(), id, worker: worker.to_owned() };
    let made = tokio::task::spawn_blocking(move || desk.make(begun));
    match made.await.map_err(|e| Failure::Internal(e.to_string()))? {
        Ok(Ended::Done(outcome)) => store::end(pool, id, worker, "done", outcome.as_deref(), None).await,
        Ok(Ended::Stopped) => store::end(pool, id, worker, "cancelled", None, None).await,
        Err(Failure::Refused(refusal)) => store::end(pool, id, worker, "failed", None, Some(&refusal)).await,
        Err(failure) => Err(failure),
    }
}

/// Where a worker has its job.
struct Desk {
    pool: PgPool,
    forms: BodyShelf,
    runtime: Handle,
    id: i64,
    worker: String,
}

impl Desk {
    fn make(&self, begun: Begun) -> Result<Ended, Failure> {
        match begun.asked.clone() {
            JobAsked::Sizes { bodies } => self.each(&bodies, begun.done, |body| {
                let made = size_row(&begun.costume, body, &mut |c| self.forms.hang(c), &mut self.wanted());
                Ok(made.map(|(row, trial)| (JobPart::Size { row: Box::new(row) }, trial.as_ref().map(picture))))
            }),
            JobAsked::Cloths { cloths } => {
                self.each(&cloths, begun.done, |cloth| Ok(Some((JobPart::Cloth { sheet: Box::new(cloth.sheet()?) }, None))))
            }
            JobAsked::Lay { sizes, options } => {
                let cloths = to_lay(&in_sizes(&begun.costume, &sizes)?)?;
                self.each(cloths, begun.done, |cloth| Ok(Some((JobPart::Plan { plan: Box::new(cloth.plan(&options)?) }, None))))
            }
            JobAsked::Ease { asked } => {
                let (mut part, mut since, mut fault) = (begun.known.len(), Instant::now(), None);
                let mut each = |tried: &workroom::EaseTry, trial: &Trial| {
                    let made = Made {
                        part,
                        result: JobPart::Try { tried: tried.clone() },
                        picture: Some(picture(trial)),
                        cloth: Some(trial.drape.positions()),
                        seconds: since.elapsed().as_secs_f32(),
                    };
                    (part, since) = (part + 1, Instant::now());
                    self.put(&made).unwrap_or_else(|failure| {
                        fault = Some(failure);
                        false
                    })
                };
                let hang = &mut |c: &Costume| self.forms.hang(c);
                let outcome = fit_to_ease(&begun.costume, &asked, &begun.known, hang, &mut self.wanted(), &mut each);
                match (fault, outcome?) {
                    (Some(failure), _) => Err(failure),
                    (None, Some(outcome)) => Ok(Ended::Done(Some(Box::new(outcome)))),
                    (None, None) => Ok(Ended::Stopped),
                }
            }
        }
    }

    /// Makes a part of each item that is not done yet, with its picture if it has one; stops when one is not made to its end.
    fn each<T>(
        &self,
        items: impl IntoIterator<Item = T>,
        done: usize,
        mut make: impl FnMut(T) -> Result<Option<(JobPart, Option<Vec<u8>>)>, Failure>,
    ) -> Result<Ended, Failure> {
        for (part, item) in items.into_iter().enumerate().skip(done) {
            let since = Instant::now();
            let Some((result, picture)) = make(item)? else { return Ok(Ended::Stopped) };
            if !self.put(&Made { part, result, picture, cloth: None, seconds: since.elapsed().as_secs_f32() })? {
                return Ok(Ended::Stopped);
            }
        }
        Ok(Ended::Done(None))
    }

    fn put(&self, made: &Made) -> Result<bool, Failure> {
        self.runtime.block_on(store::put(&self.pool, self.id, &self.worker, made))
    }

    /// Asks now and then whether the job is still wanted; while the database does not answer it is.
    fn wanted(&self) -> impl FnMut() -> bool {
        let mut last = Instant::now();
        move || {
            if last.elapsed() < LOOK {
                return true;
            }
            last = Instant::now();
            self.runtime.block_on(store::is_wanted(&self.pool, self.id, &self.worker)).unwrap_or(true)
        }
    }
}

fn picture(trial: &Trial) -> Vec<u8> {
    trial.picture(PICTURE.0, PICTURE.1, 24.0)
}
