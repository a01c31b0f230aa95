//! What can go wrong with kept data.

use sea_orm::DbErr;

/// What can go wrong with kept data.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such row in this workshop.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// Somebody saved in between; nothing was written.
    #[error("it was changed in between: revision {current} instead of {expected}")]
    Stale {
        /// The revision that the change was made on.
        expected: i32,
        /// The revision kept now.
        current: i32,
    },
    /// Another cast uses it; nothing was changed.
    #[error("another cast uses it")]
    Booked,
    /// There is no change to undo or redo.
    #[error("there is nothing to {0}")]
    Nothing(&'static str),
    /// What is kept cannot be understood.
    #[error("kept data cannot be read: {0}")]
    Corrupt(String),
    /// The database did not answer as it should.
    #[error("the database: {0}")]
    Unavailable(#[from] DbErr),
}
