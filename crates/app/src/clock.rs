//! The clock that everything goes by.

use std::sync::Arc;

use jiff::Timestamp;

/// A clock; tests set their own.
#[derive(Clone)]
pub struct Clock(Arc<dyn Fn() -> Timestamp + Send + Sync>);

impl Clock {
    /// The clock of the machine.
    #[must_use]
    pub fn system() -> Self {
        Self::new(Timestamp::now)
    }

    /// A clock that shows what a function says.
    #[must_use]
    pub fn new(now: impl Fn() -> Timestamp + Send + Sync + 'static) -> Self {
        Self(Arc::new(now))
    }

    /// The current time, UTC.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        (self.0)()
    }
}

impl std::fmt::Debug for Clock {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Clock({})", self.now())
    }
}
