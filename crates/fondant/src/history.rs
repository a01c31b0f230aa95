//! `fondant history`: a year of finished casts for the demo.

use clap::Args;

use crate::demo::history;
use crate::running::{RunArguments, RunError, workshop};

#[derive(Debug, Args)]
pub(crate) struct HistoryArguments {
    #[command(flatten)]
    run: RunArguments,
    /// How many casts, the last of them some days ago.
    #[arg(long, default_value_t = 60)]
    casts: usize,
}

/// Adds the year once there is a workshop, unless its ledger has casts.
pub(crate) fn run(arguments: &HistoryArguments) -> Result<(), RunError> {
    let casts = arguments.casts;
    arguments.run.run(|app, end| async move {
        let add = async {
            let shop = workshop(&app).await?;
            history::add(&app, &shop, casts).await
        };
        tokio::select! {
            added = add => {
                tracing::info!(casts = added?, "a year is in the ledger");
                Ok(())
            }
            () = end.cancelled() => Ok(()),
        }
    })
}
