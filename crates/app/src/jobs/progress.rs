//! How far a job has come.

use std::sync::Arc;
use std::sync::atomic::{AtomicU16, Ordering};

/// What the work itself sees of the job.
#[derive(Debug, Clone, Default)]
pub(super) struct Progress(Arc<AtomicU16>);

impl Progress {
    /// How far it has come, 0…1; it never goes back.
    pub(super) fn tell(&self, share: f64) {
        self.0.fetch_max((share.clamp(0.0, 1.0) * 1e3) as u16, Ordering::Relaxed);
    }

    /// Progress in thousandths, 0…1000.
    pub(super) fn permille(&self) -> u16 {
        self.0.load(Ordering::Relaxed)
    }
}
