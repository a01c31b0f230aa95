//! The file of an air logger: a date and time, a temperature and, where it has
//! one, a humidity on each line, parted by commas, semicolons or tabs.

use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use fondant_quantities::Temperature;

use super::series::AirAt;

/// Most rows that are read.
pub const MOST_ROWS: usize = 200_000;
/// Readings are gathered into quarters of an hour, s.
const GATHERED_S: i64 = 900;
/// Without a reading for so long there is a gap.
const GAP: SignedDuration = SignedDuration::from_hours(2);
/// The humidity where the logger has none, percent.
const UNKNOWN_HUMIDITY: f64 = 55.0;
/// Lines above the first reading that may be a heading.
const HEADING_LINES: usize = 12;

/// How the times in the file are meant.
#[derive(Debug, Clone)]
pub enum Clock {
    /// Each names its own offset from UTC, such as `Z` or `+01:00`.
    Written,
    /// The clock of a place.
    Of(TimeZone),
}

/// A log that was read.
#[derive(Debug, Clone, PartialEq)]
pub struct AirLog {
    /// Quarter-hour means, in order.
    pub readings: Vec<AirAt>,
    /// Rows that held a reading.
    pub rows: usize,
    /// Stretches of more than two hours without one.
    pub gaps: Vec<(Timestamp, Timestamp)>,
    /// It has no humidity; 55 % stands for it.
    pub lacks_humidity: bool,
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum AirLogError {
    /// Nothing in it is a reading.
    #[error(
        "There is no reading in it. A line is a date and time, a temperature and a humidity, such as “2026-11-23T06:00Z, 14.5, 62”."
    )]
    Empty,
    /// A line is no reading.
    #[error("Line {line} is no reading: “{text}”. Nothing was taken.")]
    NotAReading {
        /// The line, from 1.
        line: usize,
        /// What stands there.
        text: String,
    },
    /// A time without a zone.
    #[error(
        "Line {line} has a local time without a zone: “{text}”. Say below on whose clock the logger runs. Nothing was taken."
    )]
    NoZone {
        /// The line, from 1.
        line: usize,
        /// What stands there.
        text: String,
    },
    /// A time before the one above it.
    #[error(
        "Line {line} goes back in time. Put the file in order, or take the line out. Nothing was taken."
    )]
    BackInTime {
        /// The line, from 1.
        line: usize,
    },
    /// No shop's air is that.
    #[error(
        "Line {line} says {what}, which is no shop's air. Check whether the log is in °C or °F. Nothing was taken."
    )]
    Impossible {
        /// The line, from 1.
        line: usize,
        /// The figure with its unit.
        what: String,
    },
    /// Too much.
    #[error("The log has more than {MOST_ROWS} rows. Thin it out or leave off its beginning.")]
    TooLong,
}

/// Reads a log.
///
/// # Errors
/// [`AirLogError`] with the line.
pub fn read(text: &str, clock: &Clock, is_fahrenheit: bool) -> Result<AirLog, AirLogError> {
    let mut rows: Vec<(Timestamp, f64, Option<f64>)> = Vec::new();
    for (index, raw) in text.lines().enumerate() {
        let line = index + 1;
        let raw = raw.trim().trim_start_matches('\u{feff}');
        if raw.is_empty() {
            continue;
        }
        if rows.len() >= MOST_ROWS {
            return Err(AirLogError::TooLong);
        }
        let shown = || raw.chars().take(40).collect::<String>();
        let Some(row) = cells(raw) else {
            if rows.is_empty() && line <= HEADING_LINES {
                continue;
            }
            return Err(AirLogError::NotAReading { line, text: shown() });
        };
        let last = rows.last().map(|row| row.0);
        let at = match row.time {
            Written::Moment(at) => at,
            Written::Local(local) => match clock {
                Clock::Written => return Err(AirLogError::NoZone { line, text: shown() }),
                Clock::Of(zone) => on_clock(local, zone, last)
                    .ok_or_else(|| AirLogError::NotAReading { line, text: shown() })?,
            },
        };
        if last.is_some_and(|last| at < last) {
            return Err(AirLogError::BackInTime { line });
        }
        let celsius = if is_fahrenheit { (row.degrees - 32.0) / 1.8 } else { row.degrees };
        if !(-30.0..=60.0).contains(&celsius) {
            let what = format!("{celsius:.0} °C");
            return Err(AirLogError::Impossible { line, what });
        }
        if let Some(percent) = row.percent.filter(|p| !(0.0..=100.0).contains(p)) {
            return Err(AirLogError::Impossible { line, what: format!("{percent:.0} % humidity") });
        }
        rows.push((at, celsius, row.percent));
    }
    if rows.is_empty() {
        return Err(AirLogError::Empty);
    }
    let gaps = rows.windows(2).filter(|p| p[1].0.duration_since(p[0].0) > GAP);
    Ok(AirLog {
        gaps: gaps.map(|p| (p[0].0, p[1].0)).collect(),
        lacks_humidity: rows.iter().all(|row| row.2.is_none()),
        rows: rows.len(),
        readings: gathered(&rows),
    })
}

/// A local time as a moment. In the hour that the clock runs through twice, the
/// second time is taken once the first lies behind.
fn on_clock(local: DateTime, zone: &TimeZone, last: Option<Timestamp>) -> Option<Timestamp> {
    let ambiguous = zone.to_ambiguous_zoned_datetime(local);
    let earlier = ambiguous.clone().earlier().ok()?.timestamp();
    match last {
        Some(last) if earlier < last && ambiguous.is_ambiguous() => {
            ambiguous.later().ok().map(|zoned| zoned.timestamp())
        }
        _ => Some(earlier),
    }
}

enum Written {
    Moment(Timestamp),
    Local(DateTime),
}

struct Row {
    time: Written,
    degrees: f64,
    percent: Option<f64>,
}

fn cells(line: &str) -> Option<Row> {
    let separator = [';', '\t', ','].into_iter().find(|s| line.contains(*s))?;
    let mut cells = line.split(separator).map(|cell| cell.trim().trim_matches('"'));
    let first = cells.next()?;
    let mut second = cells.next()?;
    let mut joined = first.to_owned();
    // Some loggers give the date and the time of day a cell each.
    if !first.contains(':') && second.contains(':') {
        joined = format!("{first}T{second}");
        second = cells.next()?;
    }
    Some(Row {
        time: time(&joined)?,
        degrees: number(second)?,
        percent: cells.next().and_then(number),
    })
}

fn time(text: &str) -> Option<Written> {
    let text = text.trim().replacen(' ', "T", 1);
    if let Ok(at) = text.parse::<Timestamp>() {
        return Some(Written::Moment(at));
    }
    text.parse::<DateTime>().ok().map(Written::Local)
}

fn number(cell: &str) -> Option<f64> {
    let plain = cell.trim().trim_end_matches(['°', 'C', 'F', '%', ' ']).replace(',', ".");
    plain.parse().ok().filter(|value: &f64| value.is_finite())
}

fn gathered(rows: &[(Timestamp, f64, Option<f64>)]) -> Vec<AirAt> {
    let mut all: Vec<AirAt> = Vec::new();
    for group in rows.chunk_by(|a, b| quarter(a.0) == quarter(b.0)) {
        let count = group.len() as f64;
        let celsius = group.iter().map(|row| row.1).sum::<f64>() / count;
        let humid: Vec<f64> = group.iter().filter_map(|row| row.2).collect();
        let percent = match humid.len() {
            0 => all.last().map_or(UNKNOWN_HUMIDITY, |before| before.humidity_percent),
            count => humid.iter().sum::<f64>() / count as f64,
        };
        all.push(AirAt {
            at: group[0].0,
            temperature: Temperature::from_celsius(celsius),
            humidity_percent: percent,
        });
    }
    all
}

fn quarter(at: Timestamp) -> i64 {
    at.as_second().div_euclid(GATHERED_S)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn lisbon() -> Clock {
        Clock::Of(TimeZone::get("Europe/Lisbon").unwrap())
    }

    #[test]
    fn the_ways_of_writing_a_log_are_understood() {
        for text in [
            "time,temp,rh\n2026-11-23T06:00:00Z,14.5,62\n2026-11-23T06:15:00Z,14.7,61",
            "2026-11-23 06:00;14,5;62\n2026-11-23 06:15;14,7;61",
            "\"2026-11-23\",\"06:00:00\",14.5,62\n2026-11-23,06:15:00,14.7,61",
            "2026-11-23T07:00:00+01:00\t14.5 °C\t62 %\n2026-11-23T07:15:00+01:00\t14.7\t61",
        ] {
            let log = read(text, &lisbon(), false).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert_eq!(log.readings.len(), 2, "{text}");
            assert_eq!(log.readings[0].at, "2026-11-23T06:00:00Z".parse().unwrap(), "{text}");
            assert!((log.readings[1].temperature.celsius() - 14.7).abs() < 1e-9);
            assert!((log.readings[1].humidity_percent - 61.0).abs() < 1e-9);
        }
    }

    #[test]
    fn local_times_without_a_zone_are_refused_until_somebody_says_whose() {
        let text = "2026-11-23 06:00, 14.5, 62\n2026-11-23 06:15, 14.7, 61";
        assert!(matches!(
            read(text, &Clock::Written, false),
            Err(AirLogError::NoZone { line: 1, .. })
        ));
        assert!(read(text, &lisbon(), false).is_ok());
    }

    #[test]
    fn the_hour_that_comes_twice_is_read_twice() {
        let text: String = ["00:30", "01:00", "01:30", "01:00", "01:30", "02:00"]
            .map(|clock| format!("2026-10-25 {clock};15\n"))
            .concat();
        let log = read(&text, &lisbon(), false).unwrap();
        let first = log.readings[0].at;
        let hours: Vec<f64> = log
            .readings
            .iter()
            .map(|r| r.at.duration_since(first).as_secs_f64() / 3600.0)
            .collect();
        assert_eq!(hours, [0.0, 0.5, 1.0, 1.5, 2.0, 2.5]);
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        let good = "2026-11-23T06:00Z,14.5\n";
        for (text, line) in [
            (format!("{good}2026-11-23T05:00Z,14.5"), "Line 2 goes back"),
            (format!("{good}rain"), "Line 2 is no reading"),
            (format!("{good}2026-11-23T07:00Z,93"), "Line 2 says 93 °C"),
            (format!("{good}2026-11-23T07:00Z,20,130"), "Line 2 says 130 %"),
            (String::new(), "There is no reading"),
        ] {
            let error = read(&text, &Clock::Written, false).unwrap_err().to_string();
            assert!(error.starts_with(line), "{error}");
        }
    }

    #[test]
    fn gaps_are_told_and_dense_logs_gathered() {
        let start: Timestamp = "2026-11-23T06:00:00Z".parse().unwrap();
        let text: String = (0..600)
            .filter(|i| !(200..400).contains(i))
            .map(|i| format!("{},{}\n", start + SignedDuration::from_mins(i), 15.0))
            .collect();
        let log = read(&text, &Clock::Written, false).unwrap();
        assert_eq!((log.rows, log.gaps.len(), log.lacks_humidity), (400, 1, true));
        assert!(log.readings.len() < 30);
    }

    proptest! {
        #[test]
        fn any_text_is_read_or_refused(text in "[0-9TZ ,;:.\n-]{0,160}") {
            if let Ok(log) = read(&text, &lisbon(), false) {
                prop_assert!(log.readings.windows(2).all(|p| p[1].at >= p[0].at));
            }
        }
    }
}
