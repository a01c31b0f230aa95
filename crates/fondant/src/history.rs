//! `fondant history`: a year of finished casts for the demo.

use clap::Args;
use fondant_app::{AppError, large};

use crate::demo::history;
use crate::running::{RunArguments, RunError, workshop};

#[derive(Debug, Args)]
pub(crate) struct HistoryArguments {
    #[command(flatten)]
    run: RunArguments,
    /// How many casts, the last of them some days ago.
    #[arg(long, default_value_t = 60)]
    casts: usize,
    /// Then let it grow: ten thousand casts more, copied from these, and ten million readings of an
    /// instrument.
    #[arg(long)]
    large: bool,
}

/// Casts and readings of a workshop that is large.
const LARGE: (i64, i64) = (10_000, 10_000_000);

/// Adds the year once there is a workshop, unless its ledger has casts.
pub(crate) fn run(arguments: &HistoryArguments) -> Result<(), RunError> {
    let (casts, is_large) = (arguments.casts, arguments.large);
    arguments.run.run(|app, end| async move {
        let add = async {
            let shop = workshop(&app).await?;
            let added = history::add(&app, &shop, casts).await?;
            if is_large {
                let copies = large::fill(&app, &shop, LARGE).await?;
                tracing::info!(copies, readings = LARGE.1, "the workshop is large");
            }
            Ok::<_, AppError>(added)
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
