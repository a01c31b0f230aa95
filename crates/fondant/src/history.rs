//! `fondant history`: a year of finished casts for the demo.

use clap::Args;

use crate::demo::history;
use crate::running::{RunArguments, RunError};

#[derive(Debug, Args)]
pub(crate) struct HistoryArguments {
    #[command(flatten)]
    run: RunArguments,
}

/// Adds the year, unless the ledger has casts.
pub(crate) fn run(arguments: &HistoryArguments) -> Result<(), RunError> {
    arguments.run.run(|app, end| async move {
        tokio::select! {
            added = history::add(&app) => {
                tracing::info!(casts = added?, "a year is in the ledger");
                Ok(())
            }
            () = end.cancelled() => Ok(()),
        }
    })
}
