//! A temperature log: typed, pasted or written by a logger.

use serde::{Deserialize, Serialize};

/// Most rows that are read.
pub const MOST_ROWS: usize = 100_000;
/// More readings than this are gathered into as many stretches of time, each
/// with its median.
const MOST_READINGS: usize = 400;
/// A gap is told of where it is this many times the usual spacing ...
const GAP_RATIO: f64 = 6.0;
/// ... and at least so long, s.
const GAP_LEAST_S: f64 = 180.0;

/// One reading.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Reading {
    /// Seconds from mixing.
    pub t_s: f64,
    /// Temperature, K.
    pub t_k: f64,
}

/// The unit of the times in a log. Clock times and `h:mm` speak for themselves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
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

/// The unit of the temperatures in a log.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum LogScale {
    /// °C.
    Celsius,
    /// °F.
    Fahrenheit,
}

impl LogScale {
    fn kelvin(self, value: f64) -> f64 {
        match self {
            Self::Celsius => value + 273.15,
            Self::Fahrenheit => (value - 32.0) / 1.8 + 273.15,
        }
    }
}

/// A log that was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Log {
    /// In order of time.
    pub readings: Vec<Reading>,
    /// Rows that held a reading.
    pub rows: usize,
    /// Stretches without a reading: from and to, s.
    pub gaps: Vec<(f64, f64)>,
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum LogError {
    /// Nothing in it is a reading.
    #[error(
        "There is no reading in it. Type one on each line: the time, then the temperature, such as “10  24.5”."
    )]
    Empty,
    /// A line is no reading.
    #[error(
        "Line {line} is no reading: “{text}”. Type a time and a temperature, such as “10  24.5”."
    )]
    NotAReading {
        /// The line, from 1.
        line: usize,
        /// What stands there.
        text: String,
    },
    /// A time before the one above it.
    #[error(
        "Line {line} goes back in time. Put the readings in the order in which they were taken, or take the line out."
    )]
    BackInTime {
        /// The line, from 1.
        line: usize,
    },
    /// No thermometer in a cup shows that.
    #[error(
        "Line {line} says {celsius:.0} °C, which no cup of resin shows. Check the reading and whether the log is in °C or °F."
    )]
    Impossible {
        /// The line, from 1.
        line: usize,
        /// The reading, °C.
        celsius: f64,
    },
    /// Too much.
    #[error(
        "The log has more than {MOST_ROWS} rows. A reading every ten seconds is plenty: thin it out or leave off its end."
    )]
    TooLong,
}

/// Reads a log: a time and a temperature on each line, parted by a comma, a
/// semicolon, a tab or blanks. Times are numbers of `unit`, `h:mm` or
/// `h:mm:ss`; they count from the first. Lines above the first reading are taken
/// for a heading.
///
/// # Errors
/// [`LogError`] with the line.
pub fn read(text: &str, unit: TimeUnit, scale: LogScale) -> Result<Log, LogError> {
    let mut readings: Vec<Reading> = Vec::new();
    let mut days_s = 0.0;
    let mut clock_before: Option<f64> = None;
    for (index, raw) in text.lines().enumerate() {
        let line = index + 1;
        let raw = raw.trim();
        if raw.is_empty() {
            continue;
        }
        if readings.len() >= MOST_ROWS {
            return Err(LogError::TooLong);
        }
        let Some((time, value)) = row(raw) else {
            if readings.is_empty() && line <= 12 {
                continue;
            }
            let text: String = raw.chars().take(40).collect();
            return Err(LogError::NotAReading { line, text });
        };
        let mut t_s = match time {
            Time::Number(number) => number * unit.seconds(),
            Time::Clock(seconds) => {
                // A clock that falls by more than half a day has passed midnight.
                if clock_before.is_some_and(|before| seconds < before - 43_200.0) {
                    days_s += 86_400.0;
                }
                clock_before = Some(seconds);
                seconds + days_s
            }
        };
        if let Some(first) = readings.first() {
            t_s -= first.t_s;
            if readings.len() > 1 && readings.last().is_some_and(|last| t_s < last.t_s)
                || readings.len() == 1 && t_s < 0.0
            {
                return Err(LogError::BackInTime { line });
            }
        }
        let t_k = scale.kelvin(value);
        if !(253.0..=673.0).contains(&t_k) {
            return Err(LogError::Impossible { line, celsius: t_k - 273.15 });
        }
        readings.push(Reading { t_s, t_k });
    }
    let Some(first) = readings.first_mut() else { return Err(LogError::Empty) };
    first.t_s = 0.0;
    let rows = readings.len();
    let gaps = gaps(&readings);
    Ok(Log { readings: thinned(readings), rows, gaps })
}

enum Time {
    Number(f64),
    /// Seconds of a clock or a stopwatch with colons.
    Clock(f64),
}

/// The first and the last cell of a line that read as a time and a number.
fn row(line: &str) -> Option<(Time, f64)> {
    let has_separator = line.contains([';', '\t']);
    // A comma parts cells, unless it stands for the decimal point.
    let cells: Vec<&str> = if has_separator {
        line.split([';', '\t']).map(str::trim).collect()
    } else if line.split(',').count() == 2 && !line.trim().contains(char::is_whitespace) {
        line.split(',').collect()
    } else if line.contains(", ") || line.split(',').count() > 2 {
        line.split(',').map(str::trim).collect()
    } else {
        line.split_whitespace().collect()
    };
    let mut filled = cells.into_iter().filter(|cell| !cell.is_empty());
    let (first, second) = (filled.next()?, filled.next()?);
    Some((time(first)?, number(second)?))
}

fn time(cell: &str) -> Option<Time> {
    // A date before the time of day says nothing that the order does not.
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

fn number(cell: &str) -> Option<f64> {
    let plain = cell.trim().trim_end_matches(['°', 'C', 'F', 'c', 'f']).trim();
    let value: f64 = plain.replace(',', ".").parse().ok()?;
    value.is_finite().then_some(value)
}

fn gaps(readings: &[Reading]) -> Vec<(f64, f64)> {
    let mut steps: Vec<f64> = readings.windows(2).map(|p| p[1].t_s - p[0].t_s).collect();
    if steps.is_empty() {
        return Vec::new();
    }
    steps.sort_by(f64::total_cmp);
    let usual = steps[steps.len() / 2];
    let long = (GAP_RATIO * usual).max(GAP_LEAST_S);
    let pairs = readings.windows(2).filter(|p| p[1].t_s - p[0].t_s > long);
    pairs.map(|p| (p[0].t_s, p[1].t_s)).collect()
}

/// The medians of equal stretches of time, where there are many readings: what
/// lies in between costs time and teaches nothing.
fn thinned(readings: Vec<Reading>) -> Vec<Reading> {
    if readings.len() <= MOST_READINGS {
        return readings;
    }
    let end_s = readings[readings.len() - 1].t_s.max(1e-9);
    let mut groups: Vec<Vec<Reading>> = vec![Vec::new(); MOST_READINGS];
    for reading in readings {
        let group = (reading.t_s / end_s * MOST_READINGS as f64) as usize;
        groups[group.min(MOST_READINGS - 1)].push(reading);
    }
    let middle = |group: Vec<Reading>| {
        let t_s = group.iter().map(|r| r.t_s).sum::<f64>() / group.len() as f64;
        let mut values: Vec<f64> = group.iter().map(|r| r.t_k).collect();
        values.sort_by(f64::total_cmp);
        Reading { t_s, t_k: values[values.len() / 2] }
    };
    groups.into_iter().filter(|group| !group.is_empty()).map(middle).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn minutes(text: &str) -> Result<Log, LogError> {
        read(text, TimeUnit::Minutes, LogScale::Celsius)
    }

    #[test]
    fn the_ways_of_writing_a_log_are_understood() {
        for text in [
            "0 20.5\n10 21\n20 22.5",
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
        assert_eq!(minutes("hello\nworld"), Err(LogError::Empty));
        assert_eq!(minutes("0 20\n10 21\n5 22"), Err(LogError::BackInTime { line: 3 }));
        assert!(matches!(minutes("0 20\nx y"), Err(LogError::NotAReading { line: 2, .. })));
        assert!(matches!(minutes("0 20\n5 900"), Err(LogError::Impossible { line: 2, .. })));
        assert!(matches!(minutes("0 20\n5 NaN"), Err(LogError::NotAReading { .. })));
    }

    #[test]
    fn gaps_are_found_and_long_logs_thinned() {
        let log = minutes("0 20\n1 20\n2 20\n3 20\n30 25\n31 25").unwrap();
        assert_eq!(log.gaps, [(180.0, 1800.0)]);
        let long: String = (0..90_000).map(|i| format!("{i} 20.5\n")).collect();
        let log = read(&long, TimeUnit::Seconds, LogScale::Celsius).unwrap();
        assert_eq!((log.rows, log.readings.len()), (90_000, 400));
        let more: String = (0..100_001).map(|i| format!("{i} 20.5\n")).collect();
        assert_eq!(read(&more, TimeUnit::Seconds, LogScale::Celsius), Err(LogError::TooLong));
    }

    #[test]
    fn fahrenheit_is_read_as_such() {
        let log = read("0 68\n10 104", TimeUnit::Minutes, LogScale::Fahrenheit).unwrap();
        assert!((log.readings[0].t_k - 293.15).abs() < 1e-9);
        assert!((log.readings[1].t_k - 313.15).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn any_text_is_read_or_refused(text in "[0-9a-z ,;:.\t\n-]{0,200}") {
            if let Ok(log) = minutes(&text) {
                prop_assert!(log.readings.windows(2).all(|p| p[1].t_s >= p[0].t_s));
            }
        }
    }
}
