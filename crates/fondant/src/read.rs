//! `fondant read`: a file from outside, within limits that this process sets on itself. The server
//! runs one such process for each file: whatever the file does to it, the server goes on.

use fondant_files::reading::Asked;
use rustix::process::{Resource, Rlimit, setrlimit};

/// Address space, bytes: twice what the largest photo takes, and what the largest mesh does.
const MEMORY: u64 = 1024 * 1024 * 1024;
/// Time on the processor, s.
const SECONDS: u64 = 10;
/// Open files: the streams, and what the run time keeps for itself.
const FILES: u64 = 16;

/// Reads standard input and answers on standard output.
pub(crate) fn run(kind: Asked) -> std::io::Result<()> {
    limit()?;
    kind.answer(std::io::stdin().lock(), std::io::stdout().lock())
}

/// From now on this process takes no more memory and time than it is given, and writes no file.
fn limit() -> std::io::Result<()> {
    let limits = [
        (Resource::As, MEMORY),
        (Resource::Cpu, SECONDS),
        (Resource::Nofile, FILES),
        (Resource::Fsize, 0),
        (Resource::Core, 0),
    ];
    for (resource, most) in limits {
        setrlimit(resource, Rlimit { current: Some(most), maximum: Some(most) })?;
    }
    Ok(())
}
