//! What can go wrong with what is asked of Fondant.

use std::future::Future;
use std::pin::Pin;

use fondant_cast::{Conflict, PourTrouble};
use fondant_store::StoreError;

/// What nearly everything waits for is boxed: the compiler looks through a future for each thing that
/// waits for it, and what is boxed it has looked through once.
pub type Boxed<'a, T> = Pin<Box<dyn Future<Output = Result<T, AppError>> + Send + 'a>>;

/// What can go wrong with what is asked of Fondant. It carries no sentences: those are made where
/// they are shown.
#[derive(Debug, Clone, thiserror::Error)]
pub enum AppError {
    /// There is no such thing in this workshop.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// It was changed since it was shown; nothing was written.
    #[error("revision {current} instead of {expected}")]
    Stale {
        /// The revision that the change was made on.
        expected: i32,
        /// The revision now.
        current: i32,
    },
    /// The document would contradict itself or leave its bounds; nothing was written.
    #[error("{} conflicts", .0.len())]
    Conflicts(Vec<Conflict>),
    /// There are no such pour times; nothing was written.
    #[error(transparent)]
    Pours(#[from] PourTrouble),
    /// What was offered is no longer what would be done; nothing was written.
    #[error("the offer has changed")]
    OfferGone,
    /// What it asks for is still being worked out.
    #[error("not worked out yet")]
    NotReady,
    /// It cannot happen at the bench as things stand; nothing was written.
    #[error(transparent)]
    AtBench(#[from] fondant_bench::Refused),
    /// No run can begin; nothing was written.
    #[error(transparent)]
    NotPrepared(#[from] fondant_bench::NotPrepared),
    /// Another cast uses it; nothing was written.
    #[error("another cast uses it")]
    Booked,
    /// There is no change to undo or redo.
    #[error("there is nothing to {0}")]
    Nothing(&'static str),
    /// More is asked for at once than is worked out; nothing was written.
    #[error("too busy")]
    Busy,
    /// It took longer than it may.
    #[error("took too long")]
    TooLong,
    /// The records cannot be reached; nothing was written.
    #[error("the store: {0}")]
    Unavailable(String),
    /// A record cannot be understood.
    #[error("a record cannot be read: {0}")]
    Unreadable(String),
    /// A fault of the program.
    #[error("{0}")]
    Fault(String),
}

impl AppError {
    /// A fault of the program, by another error.
    pub(crate) fn fault(error: impl std::fmt::Display) -> Self {
        Self::Fault(error.to_string())
    }
}

impl From<StoreError> for AppError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound(what) => Self::NotFound(what),
            StoreError::Stale { expected, current } => Self::Stale { expected, current },
            StoreError::Booked => Self::Booked,
            StoreError::Nothing(act) => Self::Nothing(act),
            StoreError::Corrupt(what) => Self::Unreadable(what),
            StoreError::Unavailable(error) => Self::Unavailable(error.to_string()),
            StoreError::Refused(error) => Self::fault(error),
        }
    }
}
