//! The application on a database of its own.

use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use fondant_store::repos::{CastId, NewWorkshop, WorkshopId};
use fondant_web::AppState;
use jiff::Timestamp;
use tokio::net::TcpListener;
use tokio::sync::oneshot;

use crate::{Browser, TestDb, plans, with_browser};

/// The application with one workshop, and a clock that a test sets.
#[derive(Debug)]
pub struct TestApp {
    /// Its database.
    pub db: TestDb,
    /// Its workshop.
    pub workshop: WorkshopId,
    clock: Arc<AtomicI64>,
}

/// A running server.
#[derive(Debug)]
struct Running {
    stop: oneshot::Sender<()>,
    task: tokio::task::JoinHandle<std::io::Result<()>>,
}

impl TestApp {
    /// The application with a workshop and no casts; now is [`plans::now`].
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn new(workshop: &NewWorkshop) -> Self {
        let db = TestDb::migrated().await;
        let workshop = db.store.create_workshop(workshop).await.expect("a workshop is made");
        Self { db, workshop, clock: Arc::new(AtomicI64::new(plans::now().as_second())) }
    }

    /// The application's state, for its router.
    #[must_use]
    pub fn state(&self) -> AppState {
        let clock = Arc::clone(&self.clock);
        AppState::new(self.db.store.clone(), move || {
            Timestamp::from_second(clock.load(Ordering::Relaxed)).expect("a time of the test")
        })
    }

    /// Sets the clock.
    pub fn set_now(&self, now: Timestamp) {
        self.clock.store(now.as_second(), Ordering::Relaxed);
    }

    /// A cast with [`plans::river_top`].
    ///
    /// # Panics
    /// Where the store refuses.
    pub async fn cast(&self, name: &str) -> CastId {
        self.db
            .store
            .create_cast(self.workshop, &plans::river_top(name), plans::now())
            .await
            .expect("a cast is made")
    }

    /// Serves the application to a browser, which does its work on it.
    pub async fn drive<F>(&self, work: impl FnOnce(Browser) -> F + Send + 'static)
    where
        F: Future<Output = ()> + Send + 'static,
    {
        self.serving(async |base| with_browser(base, work).await).await;
    }

    /// Serves the application while `work` runs, and stops it cleanly.
    ///
    /// # Panics
    /// Where the server does not stop as it should.
    pub async fn serving<T>(&self, work: impl AsyncFnOnce(String) -> T) -> T {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let base = format!("http://{}", listener.local_addr().expect("an address"));
        let (stop, stopped) = oneshot::channel();
        let state = self.state();
        let task = tokio::spawn(fondant_web::serve(listener, state, async move {
            let _ = stopped.await;
        }));
        let running = Running { stop, task };
        let result = work(base).await;
        let _ = running.stop.send(());
        running.task.await.expect("the server's task ends").expect("the server stops cleanly");
        result
    }
}
