//! What can go wrong with kept data.

use sea_orm::{DbErr, RuntimeErr};

/// What can go wrong with kept data.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such row in this workshop.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// An edit was based on an outdated revision; nothing was written.
    #[error("revision {current} instead of {expected}")]
    Stale {
        /// The revision that the edit was made on.
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
    /// The database cannot be reached, or has no room for now.
    #[error("the database: {0}")]
    Unavailable(DbErr),
    /// The database refuses what it was asked: a fault of this program.
    #[error("the database refuses: {0}")]
    Refused(DbErr),
}

/// Classes of SQLSTATE (PostgreSQL, appendix A) of what passes by itself: lost connections,
/// deadlocks, no room, an operator's hand, a failing disk.
const PASSING: [&str; 5] = ["08", "40", "53", "57", "58"];

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        let passes = match &error {
            DbErr::Exec(RuntimeErr::SqlxError(inner))
            | DbErr::Query(RuntimeErr::SqlxError(inner)) => {
                let code = inner.as_database_error().and_then(|error| error.code());
                code.is_none_or(|code| PASSING.iter().any(|class| code.starts_with(class)))
            }
            DbErr::Conn(_) | DbErr::ConnectionAcquire(_) => true,
            _ => false,
        };
        if passes { Self::Unavailable(error) } else { Self::Refused(error) }
    }
}

impl From<sea_orm::sqlx::Error> for StoreError {
    fn from(error: sea_orm::sqlx::Error) -> Self {
        Self::Unavailable(DbErr::Conn(RuntimeErr::SqlxError(error.into())))
    }
}
