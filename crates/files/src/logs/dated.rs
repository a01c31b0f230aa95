//! Dates and times of day, as loggers write them.

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;

/// A date and a time of day.
pub(super) enum Written {
    /// With its zone.
    Moment(Timestamp),
    /// By a clock whose zone is not written.
    Local(DateTime),
}

impl Written {
    /// Seconds from one moment on, by its own clock.
    pub(super) fn seconds(&self) -> Option<f64> {
        let at = match self {
            Self::Moment(at) => *at,
            Self::Local(local) => TimeZone::UTC.to_timestamp(*local).ok()?,
        };
        Some(at.as_second() as f64)
    }
}

/// The date and time at the beginning of a line, and the cells after it. Some loggers give the date
/// and the time of day a cell each.
pub(super) fn leading(cells: &[String]) -> Option<(Written, &[String])> {
    match cells {
        [date, time, rest @ ..] if !date.contains(':') && time.contains(':') => {
            Some((written(&format!("{date}T{time}"))?, rest))
        }
        [first, rest @ ..] => Some((written(first)?, rest)),
        [] => None,
    }
}

fn written(text: &str) -> Option<Written> {
    let text = text.trim().replacen(' ', "T", 1);
    if let Ok(at) = text.parse::<Timestamp>() {
        return Some(Written::Moment(at));
    }
    text.parse::<DateTime>().ok().map(Written::Local)
}
