//! Why long work has ended without a result.

use fondant_app::records::JobFailure;

/// Nobody waits for it any more.
pub(crate) const GIVEN_UP: &str = "The work was given up.";

/// A sentence before the button that begins it again.
pub(crate) const fn failed(why: JobFailure) -> &'static str {
    match why {
        JobFailure::Panicked => "The work met a fault of Fondant's own and ended without a result.",
        JobFailure::TooLong => "The work took longer than it may and was ended.",
        JobFailure::Crowded => "Too much is being worked on already.",
    }
}
