//! Memory given back. The allocator of the C library learns from large blocks that it is given back
//! to keep such blocks for itself: a server through which files of megabytes pass then holds four
//! times what it needs. With the threshold said, it does not learn; it is read once, at the start of
//! a process, so the program begins again with it.

use std::os::unix::process::CommandExt as _;
use std::process::Command;

/// Says from what size on a block is asked of the system and given back to it, bytes (mallopt(3)).
const NAME: &str = "MALLOC_MMAP_THRESHOLD_";
const BYTES: &str = "262144";

/// Begins this program again, as the same process, where its memory is not given back. Where that
/// cannot be done it goes on as it is.
pub(crate) fn give_back() {
    if std::env::var_os(NAME).is_some() {
        return;
    }
    let Ok(program) = std::env::current_exe() else { return };
    let _failed = Command::new(program).args(std::env::args_os().skip(1)).env(NAME, BYTES).exec();
}
