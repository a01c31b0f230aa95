//! The application on a database of its own.

use std::sync::atomic::{AtomicI64, Ordering};
use std::sync::{Arc, OnceLock};
use std::time::Duration;

use axum::Router;
use fondant_app::beginning::{self, NewWorkshop};
use fondant_app::casts::{self, Open};
use fondant_app::records::{CastId, WorkshopId, WorkshopSettings};
use fondant_app::{App, Background, Clock, Request, Shop, Works};
use fondant_cast::Document;
use fondant_store::Store;
use fondant_web::{Settings, Web};
use jiff::Timestamp;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;

use crate::browser::{Work, boxed, run};
use crate::{Browser, TestDb, documents};

/// What goes on beside requests ends within this long.
const ENDS_WITHIN: Duration = Duration::from_secs(20);

/// The application with one workshop, and a clock that a test sets.
#[derive(Debug)]
pub struct TestApp {
    /// Database of the test.
    pub db: TestDb,
    /// The application.
    pub app: App,
    /// Id of its workshop.
    pub workshop: WorkshopId,
    clock: Arc<AtomicI64>,
    /// Jobs are worked as long as this lives.
    background: Option<Background>,
    /// Building one takes as long as a page.
    router: OnceLock<Router>,
}

/// A clock that shows what is stored.
fn clock(shown: &Arc<AtomicI64>) -> Clock {
    let shown = Arc::clone(shown);
    Clock::new(move || {
        Timestamp::from_second(shown.load(Ordering::Relaxed)).expect("a time of the test")
    })
}

impl TestApp {
    /// The application with a workshop and no casts; now is [`documents::now`].
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn new(workshop: &WorkshopSettings) -> Self {
        Self::with(&NewWorkshop::empty(workshop.clone())).await
    }

    /// The application with a workshop and everything in it.
    ///
    /// # Panics
    /// Where no test cluster runs.
    pub async fn with(workshop: &NewWorkshop) -> Self {
        let db = TestDb::migrated().await;
        let shown = Arc::new(AtomicI64::new(documents::now().as_second()));
        let app = App::new(db.store.clone(), clock(&shown));
        let begun = beginning::begin(&app, workshop).await.expect("a workshop is made");
        let workshop = begun.expect("there was none");
        Self { db, app, workshop, clock: shown, background: None, router: OnceLock::new() }
    }

    /// With jobs worked and events heard, as in a running server.
    #[must_use]
    pub fn at_work(mut self) -> Self {
        self.background = Some(Background::start(&self.app, Works::Here));
        self
    }

    /// Another process on the same database, with the same clock.
    ///
    /// # Panics
    /// Where the database does not answer.
    pub async fn another(&self) -> App {
        let store = Store::connect(&self.db.address).await.expect("the database answers");
        App::new(store, clock(&self.clock))
    }

    /// What handlers share, for a router.
    #[must_use]
    pub fn web(&self) -> Web {
        let settings =
            Settings { listening: "127.0.0.1:7350".parse().expect("an address"), public_url: None };
        Web { app: self.app.clone(), settings, end: CancellationToken::new() }
    }

    /// All pages, as a service; each call answers with the same one.
    pub fn router(&self) -> Router {
        self.router.get_or_init(|| fondant_web::router(self.web())).clone()
    }

    /// Sets the clock.
    pub fn set_now(&self, now: Timestamp) {
        self.clock.store(now.as_second(), Ordering::Relaxed);
    }

    /// The workshop as its casts see it now.
    ///
    /// # Panics
    /// Where it cannot be read; so do all methods here where a use case refuses.
    pub async fn shop(&self) -> Shop {
        self.app.shop().await.expect("the shop")
    }

    /// A cast with [`documents::river_top`].
    pub async fn cast(&self, name: &str) -> CastId {
        self.create(&documents::river_top(name)).await
    }

    /// A cast with a document.
    pub async fn create(&self, document: &Document) -> CastId {
        let shop = self.shop().await;
        let created = casts::create(&self.app, &shop, document, &Request::default()).await;
        created.expect("a cast is made")
    }

    /// A cast as it is kept.
    pub async fn open(&self, cast: CastId) -> Open {
        casts::open(&self.app, cast).await.expect("the cast")
    }

    /// The document of a cast.
    pub async fn document(&self, cast: CastId) -> Document {
        self.open(cast).await.record.document
    }

    /// Serves the application to a browser, which does its work on it.
    pub async fn drive<F>(&self, work: impl FnOnce(Browser) -> F + Send + 'static)
    where
        F: Future<Output = ()> + Send + 'static,
    {
        self.driven(boxed(work)).await;
    }

    async fn driven(&self, work: Work) {
        self.serving(async |base| run(base, work).await).await;
    }

    /// Serves the application while `work` runs, and stops it cleanly.
    ///
    /// # Panics
    /// Where the server does not stop as it should.
    pub async fn serving<T>(&self, work: impl AsyncFnOnce(String) -> T) -> T {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let listening = listener.local_addr().expect("an address");
        let settings = Settings { listening, public_url: None };
        let (app, end) = (self.app.clone(), CancellationToken::new());
        let background = Background::start(&app, Works::Here);
        let base = settings.address();
        let server = tokio::spawn(fondant_web::serve(listener, app, settings, end.clone()));
        let result = work(base).await;
        end.cancel();
        server.await.expect("the server's task ends").expect("the server stops cleanly");
        background.stop(ENDS_WITHIN).await;
        result
    }
}
