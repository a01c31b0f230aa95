//! How a page asks for long work.

use std::sync::Arc;

use fondant_store::repos::{CastId, JobFailure, JobStanding, JobState, NewJob, WorkshopId};
use serde::Serialize;
use serde::de::DeserializeOwned;

use super::kind::{JobKind, RESULTS};
use super::queue;
use crate::app::App;
use crate::compute::Key;
use crate::compute::kept::Kept;
use crate::error::AppError;

/// A job as a page sees it.
#[derive(Debug, Clone)]
pub enum JobView<T> {
    /// It waits for its turn, or is worked.
    Working(Working),
    /// The result of the job.
    Done(Arc<T>),
    /// It ended without a result; it can be retried.
    Failed(JobFailure),
    /// Nobody has asked for it.
    Unknown,
}

/// A job that has not ended.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Working {
    /// Key of the job.
    pub key: Key,
    /// How far it has come, thousandths.
    pub permille: u16,
    /// Whether it is still queued.
    pub waits: bool,
}

/// A job to be asked for.
pub(super) struct Asking<'a, I> {
    pub(super) workshop: WorkshopId,
    pub(super) cast: CastId,
    pub(super) kind: JobKind,
    /// Everything that goes into it.
    pub(super) input: &'a I,
    /// Retry it where it has failed before.
    pub(super) again: bool,
}

/// By what a job of these inputs is found.
pub(super) fn key_of(kind: JobKind, input: &impl Serialize) -> Result<Key, AppError> {
    Key::of(&(kind.name(), RESULTS, input))
}

/// Asks for a job, joins it where it is there, and gives its result where it is done.
pub(super) async fn ask<I: Serialize, T: DeserializeOwned + Send + Sync + 'static>(
    app: &App,
    asking: Asking<'_, I>,
    kept: &Kept<T>,
) -> Result<JobView<T>, AppError> {
    let key = key_of(asking.kind, asking.input)?;
    if let Some(done) = kept.get(&key).await {
        return Ok(JobView::Done(done));
    }
    let input = serde_json::to_vec(asking.input).map_err(AppError::fault)?;
    let new =
        NewJob { cast: asking.cast, kind: asking.kind.name(), key: key.as_str(), input: &input };
    let transaction = app.store.begin().await?;
    let standing = transaction.ask_job(asking.workshop, new, asking.again, app.now()).await?;
    transaction.commit().await?;
    // Also one that waits is put into the queue: the process that asked first may have ended
    // between the two. A job that is there is not put there twice.
    if standing.state == JobState::Waiting {
        let ticket = queue::Ticket::new(asking.workshop, &key, standing.generation);
        queue::push(&app.store, asking.kind, &ticket).await?;
    }
    view(app, asking.workshop, key, standing, kept).await
}

/// A job by its key, without asking for it.
pub(super) async fn look<T: DeserializeOwned + Send + Sync + 'static>(
    app: &App,
    workshop: WorkshopId,
    key: &Key,
    kept: &Kept<T>,
) -> Result<JobView<T>, AppError> {
    if let Some(done) = kept.get(key).await {
        return Ok(JobView::Done(done));
    }
    match app.store.read().job(workshop, key.as_str()).await? {
        Some(standing) => view(app, workshop, key.clone(), standing, kept).await,
        None => Ok(JobView::Unknown),
    }
}

async fn view<T: DeserializeOwned + Send + Sync + 'static>(
    app: &App,
    workshop: WorkshopId,
    key: Key,
    standing: JobStanding,
    kept: &Kept<T>,
) -> Result<JobView<T>, AppError> {
    let permille = standing.permille;
    Ok(match standing.state {
        JobState::Waiting => JobView::Working(Working { key, permille, waits: true }),
        JobState::Running => JobView::Working(Working { key, permille, waits: false }),
        JobState::Failed(failure) => JobView::Failed(failure),
        JobState::Cancelled => JobView::Unknown,
        JobState::Done => {
            let read = async {
                let bytes = app.store.read().job_result(workshop, key.as_str()).await?;
                let bytes = bytes.ok_or(AppError::NotFound("result"))?;
                // Results are large: they are not read on the threads that answer requests.
                let parsed = tokio::task::spawn_blocking(move || serde_json::from_slice(&bytes));
                let parsed = parsed.await.map_err(AppError::fault)?;
                parsed.map_err(|error| AppError::Unreadable(error.to_string()))
            };
            JobView::Done(kept.get_or(&key, read).await?)
        }
    })
}

/// Nobody waits for what a cast has asked for of a kind any more.
///
/// # Errors
/// [`AppError`].
pub async fn abandon(
    app: &App,
    workshop: WorkshopId,
    cast: CastId,
    kind: JobKind,
) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.cancel_jobs(workshop, cast, kind.name()).await?;
    Ok(transaction.commit().await?)
}
