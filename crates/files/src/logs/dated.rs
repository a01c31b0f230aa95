//! Dates and times of day, as loggers write them.

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, Time};
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

/// The order of a date's figures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum DateOrder {
    /// 23/11/2026.
    DayFirst,
    /// 11/23/2026.
    MonthFirst,
    /// 2026/11/23.
    YearFirst,
}

/// A date and a time of day.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Written {
    /// With its zone.
    Moment(Timestamp),
    /// By a clock whose zone is not written.
    Local(DateTime),
    /// Day and month may be the other way round: as the day stands first, and as the month does.
    Either(DateTime, DateTime),
}

/// Longest step between readings of one log, s, by which the order of its dates is told (convention:
/// a logger that writes less often than every second day tells nothing).
const LONGEST_STEP_S: f64 = 172_800.0;

/// The order in which the dates of a log are written: as told, or the only one in which its times go
/// one way without long steps; `None` where none is needed.
///
/// # Errors
/// The place of the first date that may be read both ways.
pub(super) fn order(all: &[Written], told: Option<DateOrder>) -> Result<Option<DateOrder>, usize> {
    let first =
        all.iter().position(|w| w.local(None).is_none() && !matches!(w, Written::Moment(_)));
    let Some(first) = first else { return Ok(None) };
    if told.is_some_and(|told| told != DateOrder::YearFirst) {
        return Ok(told);
    }
    let fits = |order: DateOrder| {
        let at: Option<Vec<f64>> = all.iter().map(|w| w.seconds(Some(order))).collect();
        at.is_some_and(|at| {
            let steps: Vec<f64> = at.windows(2).map(|pair| pair[1] - pair[0]).collect();
            let is_one_way =
                steps.iter().all(|s| *s >= -7_200.0) || steps.iter().all(|s| *s <= 7_200.0);
            is_one_way && steps.iter().all(|step| step.abs() <= LONGEST_STEP_S)
        })
    };
    match (fits(DateOrder::DayFirst), fits(DateOrder::MonthFirst)) {
        (true, false) => Ok(Some(DateOrder::DayFirst)),
        (false, true) => Ok(Some(DateOrder::MonthFirst)),
        _ => Err(first),
    }
}

/// Names of months begin like this, in the languages of the usual loggers.
const MONTHS: [&[&str]; 12] = [
    &["jan", "ene"],
    &["feb", "fév"],
    &["mar", "mär"],
    &["apr", "avr", "abr"],
    &["may", "mai"],
    &["jun", "juin"],
    &["jul", "juil"],
    &["aug", "aoû", "ago"],
    &["sep"],
    &["oct", "okt"],
    &["nov"],
    &["dec", "dez", "déc", "dic"],
];

impl Written {
    /// Seconds from one moment on, by its own clock.
    pub(super) fn seconds(&self, order: Option<DateOrder>) -> Option<f64> {
        let at = match self {
            Self::Moment(at) => *at,
            _ => TimeZone::UTC.to_timestamp(self.local(order)?).ok()?,
        };
        Some(at.as_second() as f64)
    }

    /// The local time, with the figures of its date in an order; `None` where the order is needed
    /// and not known, and for a moment.
    pub(super) fn local(&self, order: Option<DateOrder>) -> Option<DateTime> {
        match (self, order) {
            (Self::Local(local), _) => Some(*local),
            (Self::Either(day_first, _), Some(DateOrder::DayFirst)) => Some(*day_first),
            (Self::Either(_, month_first), Some(DateOrder::MonthFirst)) => Some(*month_first),
            (Self::Either(day, month), _) if day == month => Some(*day),
            _ => None,
        }
    }
}

/// Reads a date with its time of day.
pub(super) fn written(text: &str) -> Option<Written> {
    let text = text.trim().trim_matches('"');
    let joined = text.replacen(' ', "T", 1);
    if let Ok(at) = joined.parse::<Timestamp>() {
        return Some(Written::Moment(at));
    }
    if let Ok(local) = joined.parse::<DateTime>() {
        return joined.contains(':').then_some(Written::Local(local));
    }
    let colon = text.find(':')?;
    let start = text[..colon].trim_end_matches(|c: char| c.is_ascii_digit()).len();
    let (date, clock) = text.split_at(start);
    let time = time_of_day(clock)?;
    let date = date.trim().trim_end_matches(['T', 't', ',']).trim();
    Some(match dated(date)? {
        (one, None) => Written::Local(one.to_datetime(time)),
        (day, Some(month)) => Written::Either(day.to_datetime(time), month.to_datetime(time)),
    })
}

/// A time of day, with or without seconds, by twelve hours or by twenty-four.
pub(super) fn time_of_day(text: &str) -> Option<Time> {
    let lower = text.trim().to_ascii_lowercase().replace('.', "");
    let (clock, half) = match lower.strip_suffix("pm") {
        Some(clock) => (clock, Some(12)),
        None => (lower.strip_suffix("am").unwrap_or(&lower), lower.ends_with("am").then_some(0)),
    };
    // Fractions of a second say nothing of a shop's air.
    let whole = text.trim().split(['.', ',']).next().filter(|_| half.is_none()).unwrap_or(clock);
    let parts: Option<Vec<i8>> = whole.trim().split(':').map(|p| p.trim().parse().ok()).collect();
    let (hour, minute, second) = match parts?[..] {
        [h, m] => (h, m, 0),
        [h, m, s] => (h, m, s),
        _ => return None,
    };
    let hour = match half {
        Some(half) if (1..=12).contains(&hour) => hour % 12 + half,
        Some(_) => return None,
        None => hour,
    };
    Time::new(hour, minute, second, 0).ok()
}

/// A date; a second one where its first two figures may be day and month or month and day.
fn dated(text: &str) -> Option<(Date, Option<Date>)> {
    let parts: Vec<&str> =
        text.split(['.', '/', '-', ' ', ',']).filter(|part| !part.is_empty()).collect();
    let [a, b, c] = parts[..] else { return None };
    let figure = |part: &str| part.parse::<i16>().ok();
    let year = |figure: i16| if figure < 100 { 2000 + figure } else { figure };
    let date = |y: i16, m: i16, d: i16| {
        Date::new(year(y), i8::try_from(m).ok()?, i8::try_from(d).ok()?).ok()
    };
    match (figure(a), figure(b), figure(c)) {
        (Some(y), Some(m), Some(d)) if a.len() == 4 => Some((date(y, m, d)?, None)),
        (Some(first), Some(second), Some(y)) => {
            let (day, month) = (date(y, second, first), date(y, first, second));
            match (day, month) {
                // A point parts day, month and year in this order wherever it does.
                (Some(day), _) if text.contains('.') => Some((day, None)),
                (Some(day), Some(month)) => Some((day, Some(month))),
                (Some(one), None) | (None, Some(one)) => Some((one, None)),
                (None, None) => None,
            }
        }
        (Some(d), None, Some(y)) => Some((date(y, named(b)?, d)?, None)),
        (None, Some(d), Some(y)) => Some((date(y, named(a)?, d)?, None)),
        _ => None,
    }
}

fn named(month: &str) -> Option<i16> {
    let lower = month.to_lowercase();
    let found = MONTHS.iter().position(|names| names.iter().any(|name| lower.starts_with(name)));
    found.and_then(|index| i16::try_from(index + 1).ok())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn dates_are_read_in_every_order_and_language() {
        let expected: DateTime = "2026-11-23T18:05:00".parse().unwrap();
        for text in [
            "2026-11-23 18:05",
            "2026/11/23 18:05:00",
            "23.11.2026 18:05",
            "23.11.26 18:05:00",
            "23/11/2026 6:05 PM",
            "11/23/2026 06:05:00 pm",
            "23 Nov 2026 18:05",
            "Nov 23, 2026, 6:05 p.m.",
            "23-Nov-26 18:05:00.500",
            "23. Nov. 2026 18:05",
        ] {
            let read = written(text).unwrap_or_else(|| panic!("{text}"));
            assert_eq!(read.local(None), Some(expected), "{text}");
        }
    }

    #[test]
    fn day_and_month_may_be_the_other_way_round() {
        let either = written("03/04/2026 12:00 AM").unwrap();
        assert_eq!(either.local(None), None);
        let day = either.local(Some(DateOrder::DayFirst)).unwrap();
        let month = either.local(Some(DateOrder::MonthFirst)).unwrap();
        assert_eq!((day.month(), month.month(), day.hour()), (4, 3, 0));
        assert!(written("04/04/2026 12:00").unwrap().local(None).is_some());
        for odd in ["", "32/13/2026 10:00", "10:00", "2026-11-23", "23.11.2026 25:00"] {
            assert!(written(odd).is_none(), "{odd}");
        }
    }
}
