//! What goes on in a process beside requests: events heard, agendas kept up with the air, jobs
//! worked.

use std::time::Duration;

use tokio_util::sync::CancellationToken;
use tokio_util::task::TaskTracker;

use crate::app::App;
use crate::casts::keep::forget_deleted;
use crate::jobs;

const HOUR: Duration = Duration::from_secs(3600);

/// Whether a process works on jobs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Works {
    /// This process works on jobs.
    Here,
    /// Only other processes work on jobs.
    Elsewhere,
}

/// What goes on beside requests until it is ended.
#[derive(Debug)]
pub struct Background {
    end: CancellationToken,
    tasks: TaskTracker,
}

impl Background {
    /// Starts the background tasks of a process.
    #[must_use]
    pub fn start(app: &App, works: Works) -> Self {
        let (end, tasks) = (CancellationToken::new(), TaskTracker::new());
        tasks.spawn(app.clone().listen(end.clone()));
        tasks.spawn(app.clone().follow_the_air(end.clone()));
        tasks.spawn(forget_what_was_deleted(app.clone(), end.clone()));
        if works == Works::Here {
            tasks.spawn(work(app.clone(), end.clone()));
        }
        tasks.close();
        Self { end, tasks }
    }

    /// Ends it; what has not ended within `limit` is left to end by itself.
    pub async fn stop(self, limit: Duration) {
        self.end.cancel();
        if tokio::time::timeout(limit, self.tasks.wait()).await.is_err() {
            tracing::warn!("work goes on after the end");
        }
    }
}

/// Deletes for good, at the start and every hour, what can no longer be brought back.
async fn forget_what_was_deleted(app: App, end: CancellationToken) {
    loop {
        if let Err(error) = forget_deleted(&app).await {
            tracing::warn!(%error, "deleted casts are kept longer");
        }
        tokio::select! {
            () = tokio::time::sleep(HOUR) => {}
            () = end.cancelled() => return,
        }
    }
}

async fn work(app: App, end: CancellationToken) {
    if let Err(error) = jobs::work(app, end).await {
        tracing::error!(%error, "this process works on no jobs");
    }
}

/// Dropped, it ends.
impl Drop for Background {
    fn drop(&mut self) {
        self.end.cancel();
    }
}
