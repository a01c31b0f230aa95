//! Whether a computation is still wanted.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// A flag by which the caller of a long computation ends it: a deadline has passed, or nobody
/// waits for the answer. The solvers poll it at every step. Clones share one flag.
#[derive(Debug, Clone, Default)]
pub struct Stop(Option<Arc<AtomicBool>>);

impl Stop {
    /// For computations that run to their end.
    pub const NEVER: Self = Self(None);

    /// A flag that has not been raised.
    #[must_use]
    pub fn new() -> Self {
        Self(Some(Arc::default()))
    }

    /// Asks the computation to end. Without effect on [`Stop::NEVER`].
    pub fn request(&self) {
        if let Some(flag) = &self.0 {
            flag.store(true, Ordering::Relaxed);
        }
    }

    /// Whether the computation should end.
    #[must_use]
    pub fn is_requested(&self) -> bool {
        self.0.as_ref().is_some_and(|flag| flag.load(Ordering::Relaxed))
    }
}

/// Two flags are alike to whatever compares what is computed: they change no figure.
impl PartialEq for Stop {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn clones_share_one_flag_and_never_is_never_raised() {
        let stop = Stop::new();
        let clone = stop.clone();
        assert!(!clone.is_requested());
        stop.request();
        assert!(clone.is_requested());
        Stop::NEVER.request();
        assert!(!Stop::NEVER.is_requested());
    }
}
