//! `fondant export` and `fondant import`: a whole workshop in one file.

use std::fs::File;
use std::io::{BufReader, BufWriter};
use std::path::PathBuf;

use clap::Args;
use fondant_app::whole;

use crate::running::{RunArguments, RunError};

#[derive(Debug, Args)]
pub(crate) struct WholeArguments {
    #[command(flatten)]
    run: RunArguments,
    /// The file, a ZIP.
    file: PathBuf,
}

/// Writes the workshop beside the file first, so that one that was there stays until this one is whole.
pub(crate) fn export(arguments: &WholeArguments) -> Result<(), RunError> {
    let file = arguments.file.clone();
    arguments.run.run(|app, _| async move {
        let mut name = file.file_name().unwrap_or_default().to_owned();
        name.push(".part");
        let part = file.with_file_name(name);
        let casts = whole::write(&app, BufWriter::new(File::create(&part)?)).await?;
        File::open(&part)?.sync_all()?;
        std::fs::rename(&part, &file)?;
        tracing::info!(casts, file = %file.display(), "the workshop is saved");
        Ok(())
    })
}

/// Makes the workshop of a file.
pub(crate) fn import(arguments: &WholeArguments) -> Result<(), RunError> {
    let file = arguments.file.clone();
    arguments.run.run(|app, _| async move {
        let casts = whole::read(&app, BufReader::new(File::open(&file)?)).await?;
        tracing::info!(casts, "the workshop is here");
        Ok(())
    })
}
