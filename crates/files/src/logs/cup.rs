//! The log of a cup of resin: typed, pasted or written by a logger.

use fondant_heat::calibration::log::{Log, Reading};
use serde::{Deserialize, Serialize};

use super::dated::{DateOrder, Written};
use super::sheet::{Cells, Gathered, NotGathered, Row, gathered};
use super::{Scale, is_blank, number};

/// Most rows that are read.
pub const MOST_ROWS: usize = 100_000;
/// What a thermometer in a cup can show, °C.
const CUP_C: std::ops::RangeInclusive<f64> = -20.0..=400.0;

/// The unit of the times in a log. Clock times and `h:mm` speak for themselves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum TimeUnit {
    /// Seconds.
    Seconds,
    /// Minutes.
    #[default]
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

/// How a log is to be read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct CupOptions {
    /// Unit of its times.
    pub times: TimeUnit,
    /// Scale of its temperatures; without it the heading's, else °C.
    pub scale: Option<Scale>,
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
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

impl From<NotGathered> for CupLogError {
    fn from(why: NotGathered) -> Self {
        match why {
            NotGathered::NotAReading { line, text } => Self::NotAReading { line, text },
            NotGathered::TooLong => Self::TooLong,
        }
    }
}

/// Reads a log: a time and a temperature on each line, parted by a comma, a
/// semicolon, a tab or blanks. Times are numbers of their unit, `h:mm` or
/// `h:mm:ss`, or dated; they count from the first. A heading says which column is
/// which, and the scale where none is said; other lines above the first reading and
/// a footer below the last are passed over, and so are rows without a temperature.
///
/// # Errors
/// [`CupLogError`] with the line.
pub fn read(text: &str, options: CupOptions) -> Result<Log, CupLogError> {
    let Gathered { heading, rows, .. } = gathered(text, separator, MOST_ROWS, cells)?;
    let said = heading.and_then(|heading| heading.columns.scale);
    let scale = options.scale.or(said).unwrap_or(Scale::Celsius);
    let (mut readings, mut clock) = (Vec::<Reading>::with_capacity(rows.len()), Clock::default());
    for Row { line, value: (time, degrees), .. } in rows {
        let at_s = match time {
            Time::Number(count) => count * options.times.seconds(),
            Time::Clock(shows_s) => clock.passed(shows_s),
            Time::Dated(at_s) => at_s,
        };
        // The first keeps its own time until all are read: the others count from it.
        let begin_s = readings.first().map_or(0.0, |first| first.t_s);
        let t_s = at_s - begin_s;
        let before_s =
            if readings.len() > 1 { readings.last().map_or(0.0, |r| r.t_s) } else { 0.0 };
        if !readings.is_empty() && t_s < before_s {
            return Err(CupLogError::BackInTime { line });
        }
        let celsius = scale.celsius(degrees);
        if !CUP_C.contains(&celsius) {
            return Err(CupLogError::Temperature { line, celsius });
        }
        readings.push(Reading { t_s, t_k: celsius + 273.15 });
    }
    let Some(first) = readings.first_mut() else { return Err(CupLogError::Empty) };
    first.t_s = 0.0;
    Ok(Log::of(readings))
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

/// The time and the temperature of a line; the inner `None` where its cell is blank.
fn cells(line: &Cells<'_>) -> Option<Option<(Time, f64)>> {
    let Cells { columns, cells, is_headed } = line;
    // Eight digits are seconds before they are a date.
    if cells.get(columns.time).is_some_and(|cell| cell.contains(['-', '/', '.']))
        && let Some(dated) = columns.written(cells)
    {
        let at_s = seconds(&dated)?;
        return value(cells.get(columns.temperature)).map(|v| v.map(|v| (Time::Dated(at_s), v)));
    }
    let (at, degrees) = if *is_headed { (columns.time, columns.temperature) } else { (0, 1) };
    let time = time(cells.get(at)?)?;
    value(cells.get(degrees)).map(|v| v.map(|v| (time, v)))
}

/// The number of a cell; the inner `None` where it is blank.
fn value(cell: Option<&String>) -> Option<Option<f64>> {
    let cell = cell?;
    if is_blank(cell) { Some(None) } else { number(cell).map(Some) }
}

/// Seconds of a date by its own clock. Which of day and month stands first matters only to a log
/// of weeks.
fn seconds(dated: &Written) -> Option<f64> {
    dated.seconds(None).or_else(|| dated.seconds(Some(DateOrder::DayFirst)))
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
        read(text, CupOptions::default())
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
        assert!(matches!(
            minutes("0 20\nx y\n9 21"),
            Err(CupLogError::NotAReading { line: 2, .. })
        ));
        assert!(matches!(minutes("0 20\n5 900"), Err(CupLogError::Temperature { line: 2, .. })));
        assert!(matches!(minutes("0 20\n5 NaNs\n9 21"), Err(CupLogError::NotAReading { .. })));
    }

    #[test]
    fn the_logger_of_the_air_is_understood_by_a_cup_too() {
        let text = "Nr;Date;Time;Humidity %;Temp °F\n1;23/11/2026;9:00 AM;60;68\n2;23/11/2026;9:10 AM;60;\n\
                    3;23/11/2026;9:20 AM;61;104\nstopped by hand;;;;";
        let log = minutes(text).unwrap();
        let found: Vec<(f64, f64)> =
            log.readings.iter().map(|r| (r.t_s, (r.t_k * 100.0).round() / 100.0)).collect();
        assert_eq!(found, [(0.0, 293.15), (1200.0, 313.15)]);
    }

    #[test]
    fn long_logs_are_read_and_longer_ones_refused() {
        let long: String = (0..20_000).map(|i| format!("{i} 20.5\n")).collect();
        let seconds = CupOptions { times: TimeUnit::Seconds, scale: None };
        let log = read(&long, seconds).unwrap();
        assert_eq!((log.rows, log.readings.len()), (20_000, 400));
        let more = "1 20.5\n".repeat(MOST_ROWS + 1);
        let refused = read(&more, seconds);
        assert_eq!(refused, Err(CupLogError::TooLong));
    }

    #[test]
    fn fahrenheit_is_read_as_such() {
        let fahrenheit = CupOptions { scale: Some(Scale::Fahrenheit), ..CupOptions::default() };
        let log = read("0 68\n10 104", fahrenheit).unwrap();
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
