//! Fondant's program: the pages, the workers, the demo data, the model on files.

mod demo;
mod devices;
mod history;
mod memory;
mod model;
mod read;
mod running;
mod serve;
mod whole;
mod work;

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::{Parser, Subcommand};
use fondant_files::reading::Asked;

/// Plans resin pours with timber: sizes, heat, layers and hours.
#[derive(Debug, Parser)]
#[command(name = "fondant", version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Serve the pages.
    Serve(serve::ServeArguments),
    /// Simulated instruments that send what they read to a server.
    Devices(devices::DevicesArguments),
    /// Add a year of made-up finished casts to a workshop whose ledger is empty.
    History(history::HistoryArguments),
    /// Save the whole workshop, with all its casts, in one file.
    Export(whole::WholeArguments),
    /// Bring a whole workshop in from such a file, where there is none yet.
    Import(whole::WholeArguments),
    /// Work on long jobs for servers on the same database.
    Work(work::WorkArguments),
    /// Read a file from outside on standard input, within limits of memory and time, and answer in
    /// JSON: svg, dxf, stl, photo, air, cup, cast or resin.
    Read {
        /// What the file is to be read as.
        kind: Asked,
    },
    /// Compute the heat and cure model for the cases of a JSON file.
    Model {
        /// The file of cases; its resins stand beside it.
        file: PathBuf,
        /// Compare with the expected values in the file; exit 1 where any is out of tolerance.
        #[arg(long)]
        check: bool,
    },
}

fn main() -> ExitCode {
    match Arguments::parse().command {
        Command::Serve(arguments) => {
            memory::give_back();
            ended(serve::run(&arguments))
        }
        Command::Work(arguments) => {
            memory::give_back();
            ended(work::run(&arguments))
        }
        Command::Export(arguments) => ended(whole::export(&arguments)),
        Command::Import(arguments) => ended(whole::import(&arguments)),
        Command::History(arguments) => ended(history::run(&arguments)),
        Command::Devices(arguments) => ended(devices::run(&arguments)),
        Command::Read { kind } => ended(read::run(&kind)),
        Command::Model { file, check } => model(&file, check),
    }
}

fn ended(result: Result<(), impl std::error::Error>) -> ExitCode {
    match result {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => fail(&error),
    }
}

fn model(file: &Path, check: bool) -> ExitCode {
    let mut out = std::io::stdout().lock();
    let result = if check {
        model::check(file, &mut out)
    } else {
        model::run(file, &mut out).map(|()| true)
    };
    match result {
        Ok(true) => ExitCode::SUCCESS,
        Ok(false) => ExitCode::from(1),
        Err(error) => fail(&error),
    }
}

#[allow(clippy::print_stderr, reason = "a command says what went wrong on standard error")]
fn fail(error: &dyn std::error::Error) -> ExitCode {
    eprintln!("fondant: {error}");
    ExitCode::from(2)
}
