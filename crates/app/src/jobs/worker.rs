//! How a process works on what is asked for.

use std::any::Any;
use std::sync::Arc;
use std::time::Duration;

use apalis::layers::WorkerBuilderExt;
use apalis::prelude::{BoxDynError, Data, WorkerBuilder};
use apalis_postgres::PostgresStorage;
use fondant_numerics::Stop;
use fondant_store::repos::{BegunJob, JobFailure};
use tokio::task::JoinHandle;
use tokio_util::sync::CancellationToken;

use super::kind::JobKind;
use super::progress::Progress;
use super::queue::{Ticket, config};
use super::{field, plans};
use crate::app::App;
use crate::compute::Key;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::random_hex;

/// Longest time of a job: a minute is much.
const LIMIT: Duration = Duration::from_secs(600);
/// Interval at which a worker saves its progress and asks whether the job is still wanted.
const SIGN: Duration = Duration::from_millis(300);
/// Work that is asked to end does so within a step of the solver; longer than this it is stuck.
const ENDS_WITHIN: Duration = Duration::from_secs(20);
/// Between two tries to reach the records.
const RETRY: Duration = Duration::from_secs(2);
/// Tries to keep a result while the records cannot be reached.
const KEEP_TRIES: u32 = 60;

/// Works on what is asked for, of all kinds, until it is ended.
///
/// # Errors
/// [`AppError`] where the machine gives it no threads.
pub async fn work(app: App, end: CancellationToken) -> Result<(), AppError> {
    let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
    // Threads of their own: a page never waits for those of a job.
    let pool = rayon::ThreadPoolBuilder::new()
        .num_threads((cores / 2).max(1))
        .thread_name(|n| format!("job-{n}"))
        .build()
        .map_err(AppError::fault)?;
    let bench = Bench { app, pool: Arc::new(pool), end };
    let lanes = JobKind::ALL.map(|kind| tokio::spawn(bench.clone().work_on(kind)));
    for lane in lanes {
        lane.await.map_err(AppError::fault)?;
    }
    Ok(())
}

/// A process at work.
#[derive(Clone)]
struct Bench {
    app: App,
    pool: Arc<rayon::ThreadPool>,
    end: CancellationToken,
}

impl Bench {
    /// One job of a kind after the other; an outage of the records is waited out.
    async fn work_on(self, kind: JobKind) {
        loop {
            tokio::select! {
                () = self.end.cancelled() => return,
                ended = self.until_trouble(kind) => {
                    if let Err(error) = ended {
                        tracing::warn!(%error, kind = kind.name(), "a worker begins again");
                    }
                }
            }
            tokio::select! {
                () = self.end.cancelled() => return,
                () = tokio::time::sleep(RETRY) => {}
            }
        }
    }

    async fn until_trouble(&self, kind: JobKind) -> Result<(), AppError> {
        let connections = self.app.store.connections();
        let backend =
            PostgresStorage::<Ticket>::new(connections).with_config(config(kind)).with_pubsub();
        // A name that no process has had before: the queue tells workers apart by it.
        let name = format!("{}-{}", kind.name(), random_hex(8)?);
        let worker = WorkerBuilder::new(name)
            .backend(backend)
            .data(self.clone())
            .concurrency(1)
            .build(take_turn);
        worker.run().await.map_err(|error| AppError::Unavailable(error.to_string()))
    }
}

async fn take_turn(ticket: Ticket, bench: Data<Bench>) -> Result<(), BoxDynError> {
    let Some(job) = begin(&bench.app, &ticket).await? else { return Ok(()) };
    let span = tracing::info_span!("job", key = %ticket.key, kind = job.kind);
    tracing::debug!(parent: &span, "begun");
    let ended = bench.see_through(&ticket, job).await;
    if let Err(error) = &ended {
        tracing::warn!(parent: &span, %error, "not ended");
    }
    Ok(ended?)
}

async fn begin(app: &App, ticket: &Ticket) -> Result<Option<BegunJob>, AppError> {
    let transaction = app.store.begin().await?;
    let which = (ticket.key.as_str(), ticket.generation);
    let begun = transaction.begin_job(ticket.workshop, which, app.now()).await?;
    transaction.commit().await?;
    Ok(begun)
}

/// Outcome of a job.
enum Ended {
    Done(Vec<u8>),
    Failed(JobFailure),
    /// Nobody wants it any more.
    Unwanted,
}

impl Bench {
    async fn see_through(&self, ticket: &Ticket, job: BegunJob) -> Result<(), AppError> {
        let (stop, progress) = (Stop::new(), Progress::default());
        let cast = job.cast;
        let working = {
            let (pool, stop, progress) = (Arc::clone(&self.pool), stop.clone(), progress.clone());
            tokio::task::spawn_blocking(move || pool.install(|| done(&job, &stop, &progress)))
        };
        let mut seen = Seen { bench: self, ticket, cast, stop, progress };
        let ended = seen.until_it_ends(working).await;
        for _ in 0..KEEP_TRIES {
            match seen.keep(&ended).await {
                Err(AppError::Unavailable(error)) => {
                    tracing::warn!(error, "a result waits for the records");
                    tokio::time::sleep(RETRY).await;
                }
                kept => return kept,
            }
        }
        Err(AppError::Busy)
    }
}

/// A job while it is worked.
struct Seen<'a> {
    bench: &'a Bench,
    ticket: &'a Ticket,
    cast: fondant_store::repos::CastId,
    stop: Stop,
    progress: Progress,
}

/// Work that nobody sees through any more is told so.
impl Drop for Seen<'_> {
    fn drop(&mut self) {
        self.stop.request();
    }
}

impl Seen<'_> {
    async fn until_it_ends(&mut self, mut working: JoinHandle<Result<Vec<u8>, AppError>>) -> Ended {
        let deadline = tokio::time::Instant::now() + LIMIT;
        let mut sign = tokio::time::interval(SIGN);
        loop {
            tokio::select! {
                ended = &mut working => return of(ended),
                _ = sign.tick() => {
                    let why = if tokio::time::Instant::now() > deadline {
                        Ended::Failed(JobFailure::TooLong)
                    } else if self.is_wanted().await {
                        continue;
                    } else {
                        Ended::Unwanted
                    };
                    self.stop.request();
                    let _ = tokio::time::timeout(ENDS_WITHIN, &mut working).await;
                    return why;
                }
            }
        }
    }

    /// Says how far it is. A record that cannot be reached for a moment ends no work.
    async fn is_wanted(&self) -> bool {
        match self.give_a_sign().await {
            Ok(wanted) => wanted,
            Err(error) => {
                tracing::warn!(%error, "a job gives no sign");
                true
            }
        }
    }

    async fn give_a_sign(&self) -> Result<bool, AppError> {
        let (app, ticket) = (&self.bench.app, self.ticket);
        let (which, permille) = (self.which(), self.progress.permille());
        let transaction = app.store.begin().await?;
        let wanted = transaction.job_progress(ticket.workshop, which, permille, app.now()).await?;
        tell(&transaction, &self.event(Some(permille))).await?;
        transaction.commit().await?;
        Ok(wanted)
    }

    async fn keep(&self, ended: &Ended) -> Result<(), AppError> {
        let (app, workshop) = (&self.bench.app, self.ticket.workshop);
        let transaction = app.store.begin().await?;
        match ended {
            Ended::Done(result) => {
                transaction.finish_job(workshop, self.which(), result.clone(), app.now()).await?;
            }
            Ended::Failed(why) => {
                transaction.fail_job(workshop, self.which(), *why, app.now()).await?;
            }
            Ended::Unwanted => {}
        }
        tell(&transaction, &self.event(None)).await?;
        Ok(transaction.commit().await?)
    }

    fn which(&self) -> (&str, i32) {
        (self.ticket.key.as_str(), self.ticket.generation)
    }

    fn event(&self, permille: Option<u16>) -> Event {
        let (workshop, key): (_, Key) = (self.ticket.workshop, self.ticket.key.clone());
        Event::JobProgress { workshop, cast: self.cast, key, permille }
    }
}

fn of(ended: Result<Result<Vec<u8>, AppError>, tokio::task::JoinError>) -> Ended {
    match ended {
        Ok(Ok(result)) => Ended::Done(result),
        Ok(Err(error)) => {
            tracing::error!(%error, "a job failed");
            Ended::Failed(JobFailure::Panicked)
        }
        Err(error) => {
            let panic = error.try_into_panic().ok();
            let said = panic.as_deref().map(said).unwrap_or_default();
            tracing::error!(said, "a job panicked");
            Ended::Failed(JobFailure::Panicked)
        }
    }
}

fn said(panic: &(dyn Any + Send)) -> String {
    let text = panic.downcast_ref::<&str>().map(|text| (*text).to_owned());
    text.or_else(|| panic.downcast_ref::<String>().cloned()).unwrap_or_default()
}

fn done(job: &BegunJob, stop: &Stop, progress: &Progress) -> Result<Vec<u8>, AppError> {
    match JobKind::of(&job.kind) {
        Some(JobKind::Field) => field::done(&job.input, stop, progress),
        Some(JobKind::Plans) => plans::done(&job.input, stop, progress),
        None => Err(AppError::Fault(format!("nobody knows how to work on {}", job.kind))),
    }
}
