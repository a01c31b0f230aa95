//! `fondant work`: jobs for servers on the same database.

use clap::Args;
use fondant_app::{Background, Works};

use crate::running::{LAST_WORK, RunArguments, RunError};

#[derive(Debug, Args)]
pub(crate) struct WorkArguments {
    #[command(flatten)]
    run: RunArguments,
}

/// Works until the process is told to stop.
pub(crate) fn run(arguments: &WorkArguments) -> Result<(), RunError> {
    arguments.run.run(|app, end| async move {
        let background = Background::start(&app, Works::Here);
        end.cancelled().await;
        background.stop(LAST_WORK).await;
        Ok(())
    })
}
