//! `fondant read`: a file from outside, within limits that this process sets on itself. The server
//! runs one such process for each file: whatever the file does to it, the server goes on.

use fondant_files::reading::Asked;
use rustix::process::{Resource, Rlimit, setrlimit};

/// Address space, bytes: twice what the largest photo takes, and what the largest mesh does.
const MEMORY: u64 = 1024 * 1024 * 1024;
/// Time on the processor, s. The signal that says so comes a second before the end.
const SECONDS: u64 = 10;
/// Open files: the streams, and what the run time keeps for itself.
const FILES: u64 = 16;

/// Reads standard input and answers on standard output.
pub(crate) fn run(kind: &Asked) -> std::io::Result<()> {
    limit()?;
    kind.answer(std::io::stdin().lock(), std::io::stdout().lock())
}

/// From now on this process takes no more memory and time than it is given, and writes no file.
fn limit() -> std::io::Result<()> {
    let limits = [
        (Resource::As, MEMORY, MEMORY),
        (Resource::Cpu, SECONDS, SECONDS + 1),
        (Resource::Nofile, FILES, FILES),
        (Resource::Fsize, 0, 0),
        (Resource::Core, 0, 0),
    ];
    for (resource, current, maximum) in limits {
        setrlimit(resource, Rlimit { current: Some(current), maximum: Some(maximum) })?;
    }
    Ok(())
}
