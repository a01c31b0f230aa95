//! Files from outside, each read in a process of its own: nothing in a file takes the server's
//! memory, holds up its pages or ends it.

use std::os::unix::process::ExitStatusExt;
use std::path::{Path, PathBuf};
use std::process::{ExitStatus, Stdio};
use std::time::Duration;

use fondant_files::FileError;
use fondant_files::reading::{Answer, Asked, answered};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::process::{Child, Command};
use tokio::sync::Semaphore;

use crate::error::AppError;

/// Processes that read at a time; each may take a gigabyte.
const MOST_AT_ONCE: usize = 2;
/// Files that may wait for their turn.
const MOST_WAITING: usize = 24;
/// Longest that a file is read.
const DEADLINE: Duration = Duration::from_secs(30);
/// Largest answer, bytes: the outlines of a drawing of most points, or a cast with its photos.
const ANSWER_LIMIT: u64 = 96 * 1024 * 1024;
/// The signal that ends a process which has spent its time on the processor.
const SIGXCPU: i32 = 24;
/// How a process ends whose reader has panicked.
const PANICKED: i32 = 101;

/// Who reads files from outside.
#[derive(Debug, Clone, Default)]
pub enum Readers {
    /// A process of its own of this program, for each file.
    Program(PathBuf),
    /// This process: for tests of pages, which have no program.
    #[default]
    Here,
}

/// The readers of a process, and whose turn it is.
#[derive(Debug)]
pub(crate) struct Reading {
    pub(crate) readers: Readers,
    turns: Semaphore,
    places: Semaphore,
}

impl Default for Reading {
    fn default() -> Self {
        Self::by(Readers::default())
    }
}

impl Reading {
    pub(crate) fn by(readers: Readers) -> Self {
        Self {
            readers,
            turns: Semaphore::new(MOST_AT_ONCE),
            places: Semaphore::new(MOST_AT_ONCE + MOST_WAITING),
        }
    }

    pub(crate) async fn read(
        &self,
        program: &Path,
        asked: &Asked,
        bytes: &[u8],
    ) -> Result<Result<Answer, FileError>, AppError> {
        let _place = self.places.try_acquire().map_err(|_| AppError::Busy)?;
        let _turn = self.turns.acquire().await.map_err(AppError::fault)?;
        // It needs nothing of where the server stands, and is ended when nobody waits for it.
        let mut process = Command::new(program)
            .args(["read", &asked.to_string()])
            .env_clear()
            .current_dir("/")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .kill_on_drop(true)
            .spawn()
            .map_err(AppError::fault)?;
        match tokio::time::timeout(DEADLINE, exchanged(&mut process, bytes)).await {
            Ok(Ok((written, status))) => match answered(&written) {
                Some(answer) => Ok(answer),
                None => ended(&written, status).map(Err),
            },
            Ok(Err(error)) => Err(AppError::fault(error)),
            Err(_) => Ok(Err(too_long())),
        }
    }
}

/// What a process writes that is given a file, and how it ends.
async fn exchanged(process: &mut Child, bytes: &[u8]) -> std::io::Result<(Vec<u8>, ExitStatus)> {
    let (input, output) = (process.stdin.take(), process.stdout.take());
    let give = async {
        if let Some(mut input) = input {
            // One that has seen enough closes its end.
            let _ = input.write_all(bytes).await;
        }
    };
    let take = async {
        let mut written = Vec::new();
        if let Some(output) = output {
            output.take(ANSWER_LIMIT).read_to_end(&mut written).await?;
        }
        Ok::<_, std::io::Error>(written)
    };
    let ((), written) = tokio::join!(give, take);
    Ok((written?, process.wait().await?))
}

fn too_long() -> FileError {
    FileError::TooMuch("reading it takes too long".into())
}

/// What is said of a file whose process has come to its end without an answer. One that ended by
/// itself, with no panic, could not begin to read: that is no fault of the file.
fn ended(written: &[u8], status: ExitStatus) -> Result<FileError, AppError> {
    match (status.signal(), status.code()) {
        _ if written.len() as u64 >= ANSWER_LIMIT => {
            Ok(FileError::TooMuch("there is too much in it".into()))
        }
        (Some(SIGXCPU), _) => Ok(too_long()),
        (Some(_), _) => {
            let why = "it needs more memory, or is nested deeper, than is allowed";
            Ok(FileError::TooMuch(why.into()))
        }
        (None, Some(PANICKED)) => Ok(FileError::Broken("its reader gave it up".into())),
        (None, code) => Err(AppError::fault(format!("a reader ended by itself: {code:?}"))),
    }
}
