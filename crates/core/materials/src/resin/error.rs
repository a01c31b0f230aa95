//! Why a resin cannot be used.

/// Why a record is not a valid resin, or is not on the shelf.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ResinError {
    /// A figure beyond what any resin has.
    #[error("{what} is {found}, not within {from} and {to}")]
    Impossible {
        /// The figure.
        what: &'static str,
        /// Value found.
        found: f64,
        /// The least it can be.
        from: f64,
        /// The most.
        to: f64,
    },
    /// No name, or one beyond a line.
    #[error("no name, or too long a one")]
    Unnamed,
    /// No resin of that short name.
    #[error("no resin “{0}”")]
    Unknown(String),
}

/// A figure within what resins have.
pub(super) fn within(what: &'static str, found: f64, from: f64, to: f64) -> Result<(), ResinError> {
    if (from..=to).contains(&found) {
        Ok(())
    } else {
        Err(ResinError::Impossible { what, found, from, to })
    }
}
