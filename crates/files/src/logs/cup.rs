//! The log of a cup of resin: typed, pasted or written by a logger.

use fondant_heat::calibration::log::{Log, Reading};

use super::dated::leading;
use super::table::{Line, each_line};
use super::{HEADING_LINES, Scale, number, told};

/// Most rows that are read.
pub const MOST_ROWS: usize = 100_000;
/// What a thermometer in a cup can show, °C.
const CUP_C: std::ops::RangeInclusive<f64> = -20.0..=400.0;

/// The unit of the times in a log. Clock times and `h:mm` speak for themselves.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TimeUnit {
    /// Seconds.
    Seconds,
    /// Minutes.
    Minutes,
    /// Hours.
    Hours,
}

impl TimeUnit {
    const fn seconds(self) -> f64 {
        match self {
            Self::Seconds => 1.0,
            Self::Minutes => 60.0,
            Self::Hours => 3600.0,
        }
    }
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum CupLogError {
    /// Nothing in it is a reading.
    #[error("no reading")]
    Empty,
    /// A line is not a reading.
    #[error("line {line} is not a reading")]
    NotAReading {
        /// The line, from 1.
        line: usize,
        /// The text found there.
        text: String,
    },
    /// A time before the one above it.
    #[error("line {line} goes back in time")]
    BackInTime {
        /// The line, from 1.
        line: usize,
    },
    /// No thermometer in a cup shows that.
    #[error("line {line} says {celsius} °C")]
    Temperature {
        /// The line, from 1.
        line: usize,
        /// The reading.
        celsius: f64,
    },
    /// Too much.
    #[error("more than {MOST_ROWS} rows")]
    TooLong,
}

/// Reads a log: a time and a temperature on each line, parted by a comma, a
/// semicolon, a tab or blanks. Times are numbers of `unit`, `h:mm` or
/// `h:mm:ss`; they count from the first. Lines above the first reading are taken
/// for a heading.
///
/// # Errors
/// [`CupLogError`] with the line.
pub fn read(text: &str, unit: TimeUnit, scale: Scale) -> Result<Log, CupLogError> {
    let mut reading = Reader { unit, scale, readings: Vec::new(), clock: Clock::default() };
    each_line(text, separator, |line| reading.take(&line))?;
    let mut readings = reading.readings;
    let Some(first) = readings.first_mut() else { return Err(CupLogError::Empty) };
    first.t_s = 0.0;
    Ok(Log::of(readings))
}

struct Reader {
    unit: TimeUnit,
    scale: Scale,
    readings: Vec<Reading>,
    clock: Clock,
}

/// A clock on the wall over several days.
#[derive(Default)]
struct Clock {
    days_s: f64,
    before_s: Option<f64>,
}

impl Clock {
    fn passed(&mut self, shows_s: f64) -> f64 {
        // A clock that falls by more than half a day has passed midnight.
        if self.before_s.is_some_and(|before| shows_s < before - 43_200.0) {
            self.days_s += 86_400.0;
        }
        self.before_s = Some(shows_s);
        shows_s + self.days_s
    }
}

impl Reader {
    fn take(&mut self, line: &Line<'_>) -> Result<(), CupLogError> {
        let number = line.number;
        if self.readings.len() >= MOST_ROWS {
            return Err(CupLogError::TooLong);
        }
        let Some((time, value)) = cells(line) else {
            if self.readings.is_empty() && number <= HEADING_LINES {
                return Ok(());
            }
            return Err(CupLogError::NotAReading { line: number, text: told(line.text) });
        };
        let mut t_s = match time {
            Time::Number(count) => count * self.unit.seconds(),
            Time::Clock(shows_s) => self.clock.passed(shows_s),
            Time::Dated(at_s) => at_s,
        };
        // The first keeps its own time until all are read: the others count from it.
        if let Some(first) = self.readings.first() {
            t_s -= first.t_s;
            let before_s = if self.readings.len() > 1 { self.readings.last() } else { None };
            if t_s < before_s.map_or(0.0, |before| before.t_s) {
                return Err(CupLogError::BackInTime { line: number });
            }
        }
        let celsius = self.scale.celsius(value);
        if !CUP_C.contains(&celsius) {
            return Err(CupLogError::Temperature { line: number, celsius });
        }
        self.readings.push(Reading { t_s, t_k: celsius + 273.15 });
        Ok(())
    }
}

/// A comma parts cells, unless it stands for the decimal point.
fn separator(line: &str) -> u8 {
    if let Some(found) = [b';', b'\t'].into_iter().find(|s| line.as_bytes().contains(s)) {
        return found;
    }
    let commas = line.matches(',').count();
    let has_blanks = line.trim().contains(char::is_whitespace);
    let before = line.split(',').next().and_then(|text| text.split_whitespace().last());
    // What follows a time of day at once is no decimal place of it.
    let after_clock = before.is_some_and(|word| word.contains(':'));
    let parts = commas > 1 || commas == 1 && (!has_blanks || after_clock) || line.contains(", ");
    if parts { b',' } else { b' ' }
}

enum Time {
    Number(f64),
    /// Seconds of a clock or a stopwatch with colons.
    Clock(f64),
    /// Seconds of a date and a time of day, from one moment on.
    Dated(f64),
}

/// The first two cells of a line that read as a time and a number.
fn cells(line: &Line<'_>) -> Option<(Time, f64)> {
    let [first, second, ..] = line.cells.as_slice() else { return None };
    // Eight digits are seconds before they are a date.
    if first.contains('-')
        && let Some((dated, [value, ..])) = leading(&line.cells)
    {
        return Some((Time::Dated(dated.seconds()?), number(value)?));
    }
    Some((time(first)?, number(second)?))
}

fn time(cell: &str) -> Option<Time> {
    // A date that is written in another way than ISO 8601 says nothing that the order does not.
    let cell = cell.rsplit([' ', 'T']).next()?.trim_end_matches('Z');
    if !cell.contains(':') {
        return number(cell).map(Time::Number);
    }
    let parts: Option<Vec<f64>> = cell.split(':').map(number).collect();
    match parts?.as_slice() {
        [h, m] => Some(Time::Clock(h * 3600.0 + m * 60.0)),
        [h, m, s] => Some(Time::Clock(h * 3600.0 + m * 60.0 + s)),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn minutes(text: &str) -> Result<Log, CupLogError> {
        read(text, TimeUnit::Minutes, Scale::Celsius)
    }

    /// Dates were thrown away: 20:00 and then 10:00 the next day "went back in time".
    #[test]
    fn dates_tell_the_days_apart() {
        for text in [
            "2026-11-23 20:00, 20.5\n2026-11-24 10:00, 21\n2026-11-26 09:30, 20",
            "2026-11-23 20:00,20.5\n2026-11-24 10:00,21\n2026-11-26 09:30,20",
            "2026-11-23,20:00,20.5\n2026-11-24,10:00,21\n2026-11-26,09:30,20",
            "2026-11-23 20:00 20,5\n2026-11-24 10:00 21,0\n2026-11-26 09:30 20,0",
            "2026-11-23T20:00Z;20.5\n2026-11-24T10:00Z;21\n2026-11-26T09:30Z;20",
        ] {
            let log = minutes(text).unwrap_or_else(|error| panic!("{text}: {error}"));
            let hours: Vec<f64> = log.readings.iter().map(|r| r.t_s / 3600.0).collect();
            assert_eq!(hours, [0.0, 14.0, 61.5], "{text}");
            assert!((log.readings[0].t_k - 293.65).abs() < 1e-9, "{text}");
        }
        let backwards = minutes("2026-11-24T10:00,20\n2026-11-23T20:00,21");
        assert_eq!(backwards, Err(CupLogError::BackInTime { line: 2 }));
    }

    #[test]
    fn the_ways_of_writing_a_log_are_understood() {
        for text in [
            "0 20.5\n10 21\n20 22.5",
            "0, 20.5\n10 21\n20;22.5",
            "time,temp\n0,20.5\n10,21\n20,22.5\n",
            "min;°C\n0;20,5\n10;21,0\n20;22,5",
            "9:00  20.5\n9:10  21\n9:20  22.5",
            "2026-11-23 09:00:00\t20.5\n2026-11-23 09:10:00\t21\n2026-11-23 09:20:00\t22.5",
            "23:55, 20.5 °C\n0:05, 21 °C\n0:15, 22.5 °C",
        ] {
            let log = minutes(text).unwrap_or_else(|error| panic!("{text}: {error}"));
            let times: Vec<f64> = log.readings.iter().map(|r| r.t_s).collect();
            assert_eq!(times, [0.0, 600.0, 1200.0], "{text}");
            assert!((log.readings[2].t_k - 295.65).abs() < 1e-9, "{text}");
        }
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        assert_eq!(minutes("hello\nworld"), Err(CupLogError::Empty));
        assert_eq!(minutes("0 20\n10 21\n5 22"), Err(CupLogError::BackInTime { line: 3 }));
        assert_eq!(minutes("10 20\n5 21"), Err(CupLogError::BackInTime { line: 2 }));
        assert!(matches!(minutes("0 20\nx y"), Err(CupLogError::NotAReading { line: 2, .. })));
        assert!(matches!(minutes("0 20\n5 900"), Err(CupLogError::Temperature { line: 2, .. })));
        assert!(matches!(minutes("0 20\n5 NaN"), Err(CupLogError::NotAReading { .. })));
    }

    #[test]
    fn long_logs_are_read_and_longer_ones_refused() {
        let long: String = (0..90_000).map(|i| format!("{i} 20.5\n")).collect();
        let log = read(&long, TimeUnit::Seconds, Scale::Celsius).unwrap();
        assert_eq!((log.rows, log.readings.len()), (90_000, 400));
        let more: String = (0..=MOST_ROWS).map(|i| format!("{i} 20.5\n")).collect();
        let refused = read(&more, TimeUnit::Seconds, Scale::Celsius);
        assert_eq!(refused, Err(CupLogError::TooLong));
    }

    #[test]
    fn fahrenheit_is_read_as_such() {
        let log = read("0 68\n10 104", TimeUnit::Minutes, Scale::Fahrenheit).unwrap();
        assert!((log.readings[0].t_k - 293.15).abs() < 1e-9);
        assert!((log.readings[1].t_k - 313.15).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn any_text_is_read_or_refused(text in "[0-9a-z ,;:.\t\"\n-]{0,200}") {
            if let Ok(log) = minutes(&text) {
                prop_assert!(log.readings.windows(2).all(|p| p[1].t_s >= p[0].t_s));
            }
        }
    }
}
