//! The quarter hours on which pours begin, as seconds since 1970.

use jiff::Timestamp;

/// Pours begin on the quarter hour, s.
pub const GRID_S: i64 = 900;

/// A second of the search as a moment; the search never leaves the calendar.
pub(crate) fn timestamp(second: i64) -> Timestamp {
    Timestamp::from_second(second).unwrap_or(Timestamp::MAX)
}

/// The next quarter hour at or after a second.
pub(crate) fn up_to_grid(second: i64) -> i64 {
    second.div_euclid(GRID_S) * GRID_S + if second.rem_euclid(GRID_S) > 0 { GRID_S } else { 0 }
}
