//! Who may work how much at once, and how long.
//!
//! Pages have a lane of their own: heavy work that is asked for beside them never stands before
//! them in a queue. A lane has a bounded queue; work that comes when it is full is refused at once.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

use fondant_numerics::Stop;
use tokio::sync::Semaphore;

use crate::error::AppError;

/// Deadline of a page's computation. A page normally takes milliseconds.
const PAGE_LIMIT: Duration = Duration::from_secs(20);
/// Charts, offers and lessons take seconds.
const BESIDE_LIMIT: Duration = Duration::from_secs(60);

/// The lanes of a process.
#[derive(Debug)]
pub(crate) struct Lanes {
    /// Lane of computations that a page waits for.
    pub(crate) pages: Lane,
    /// What is asked for beside a page: charts, offers, photos, lessons.
    pub(crate) beside: Lane,
}

/// A lane: work of one kind, so much of it at once, and each no longer than its limit.
#[derive(Debug)]
pub struct Lane {
    permits: Arc<Semaphore>,
    waiting: AtomicUsize,
    limit: Duration,
}

impl Default for Lanes {
    fn default() -> Self {
        let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
        Self {
            pages: Lane::new(cores, PAGE_LIMIT),
            beside: Lane::new((cores / 2).max(1), BESIDE_LIMIT),
        }
    }
}

/// Work that nobody waits for any more is told so when this is dropped.
struct StopOnDrop(Stop);

impl Drop for StopOnDrop {
    fn drop(&mut self) {
        self.0.request();
    }
}

/// Counts as waiting until it is dropped.
struct Waiting<'a>(&'a AtomicUsize);

impl Drop for Waiting<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::Relaxed);
    }
}

impl Lane {
    /// Requests that may wait in a lane for their turn.
    pub const MOST_WAITING: usize = 48;

    /// A lane with `at_once` places, in which work ends within `limit`.
    #[must_use]
    pub fn new(at_once: usize, limit: Duration) -> Self {
        Self { permits: Arc::new(Semaphore::new(at_once)), waiting: AtomicUsize::new(0), limit }
    }

    /// Works something out beside the threads that answer requests. The work hears by its flag
    /// when the time is up or the one who asked has gone; its place in the lane is free only when
    /// it has ended.
    ///
    /// # Errors
    /// [`AppError::Busy`] where too many wait, [`AppError::TooLong`] where the time is up,
    /// [`AppError::Fault`] where the work panicked.
    pub async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Stop) -> T + Send + 'static,
    ) -> Result<T, AppError> {
        let waiting = self.wait()?;
        let acquired = tokio::time::timeout(self.limit, Arc::clone(&self.permits).acquire_owned());
        let permit = acquired.await.map_err(|_| AppError::Busy)?.map_err(AppError::fault)?;
        drop(waiting);
        let stop = Stop::new();
        let _gone = StopOnDrop(stop.clone());
        let working = tokio::task::spawn_blocking(move || {
            let _place = permit;
            work(&stop)
        });
        match tokio::time::timeout(self.limit, working).await {
            Ok(done) => done.map_err(AppError::fault),
            Err(_) => Err(AppError::TooLong),
        }
    }

    fn wait(&self) -> Result<Waiting<'_>, AppError> {
        let before = self.waiting.fetch_add(1, Ordering::Relaxed);
        let waiting = Waiting(&self.waiting);
        if before >= Self::MOST_WAITING { Err(AppError::Busy) } else { Ok(waiting) }
    }
}
