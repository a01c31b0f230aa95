//! What all commands that keep running share: the database, the log, the end.

use std::future::Future;
use std::time::Duration;

use clap::{Args, ValueEnum};
use fondant_app::whole::WholeError;
use fondant_app::{App, AppError, Clock, Readers, Shop, beginning};
use fondant_store::{Store, StoreError};
use tokio::signal::unix::{SignalKind, signal};
use tokio_util::sync::CancellationToken;
use tracing_subscriber::EnvFilter;

use crate::demo::DemoError;

/// Work beside requests has this long to end; computations that go on after it end with the process.
pub(crate) const LAST_WORK: Duration = Duration::from_millis(500);

/// Arguments of every command that keeps running.
#[derive(Debug, Args)]
pub(crate) struct RunArguments {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "FONDANT_DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// How the log is written to standard error.
    #[arg(long, env = "FONDANT_LOG_FORMAT", value_enum, default_value_t = LogFormat::Text)]
    log_format: LogFormat,
}

/// How the log is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
enum LogFormat {
    /// Lines for people.
    Text,
    /// A JSON object a line, for programs.
    Json,
}

/// Interval between checks for a workshop that is still being loaded.
const LOOK: Duration = Duration::from_secs(1);

/// The workshop, once there is one: a demo that is begun for the first time takes a moment.
pub(crate) async fn workshop(app: &App) -> Result<Shop, AppError> {
    loop {
        match app.shop().await {
            Err(AppError::NotFound(_)) => tokio::time::sleep(LOOK).await,
            found => return found,
        }
    }
}

/// Why a command did not run.
#[derive(Debug, thiserror::Error)]
pub(crate) enum RunError {
    /// The database.
    #[error("{0}")]
    Store(#[from] StoreError),
    /// The application.
    #[error("{0}")]
    App(#[from] AppError),
    /// A whole workshop in a file.
    #[error("{0}")]
    Whole(#[from] WholeError),
    /// The demo data.
    #[error("the demo: {0}")]
    Demo(#[from] DemoError),
    /// Listening or serving.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// Every port tried is in use.
    #[error("ports {first} to {last} are all in use; choose another with --port")]
    NoPort {
        /// The first one tried.
        first: u16,
        /// The last one tried.
        last: u16,
    },
}

impl RunArguments {
    /// Runs a command on the application until it ends. Computations that still go on then are not
    /// waited for.
    pub(crate) fn run<F>(
        &self,
        command: impl FnOnce(App, CancellationToken) -> F,
    ) -> Result<(), RunError>
    where
        F: Future<Output = Result<(), RunError>>,
    {
        self.log();
        let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build()?;
        let result = runtime.block_on(async {
            let end = ended_by_signal();
            let store = Store::connect(&self.database_url).await?;
            let app = App::new(store.clone(), Clock::system());
            let app = app.with_readers(Readers::Program(std::env::current_exe()?));
            beginning::migrate(&app).await?;
            let result = command(app, end).await;
            // What holds a connection still has half a second; a pool that does not close is dropped.
            let _ = tokio::time::timeout(LAST_WORK, store.close()).await;
            result
        });
        runtime.shutdown_timeout(Duration::ZERO);
        result
    }

    fn log(&self) {
        let filter = EnvFilter::try_from_default_env()
            .unwrap_or_else(|_| "fondant=info,fondant_app=info,fondant_web=info,warn".into());
        let lines = tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr);
        match self.log_format {
            LogFormat::Text => lines.init(),
            LogFormat::Json => lines.json().flatten_event(true).init(),
        }
    }
}

/// Cancelled once the process is interrupted or terminated.
fn ended_by_signal() -> CancellationToken {
    let end = CancellationToken::new();
    let ends = end.clone();
    tokio::spawn(async move {
        let (Ok(mut interrupt), Ok(mut terminate)) =
            (signal(SignalKind::interrupt()), signal(SignalKind::terminate()))
        else {
            // Without signals there is no gentle way to stop; run on.
            return;
        };
        tokio::select! {
            _ = interrupt.recv() => {}
            _ = terminate.recv() => {}
        }
        ends.cancel();
    });
    end
}
