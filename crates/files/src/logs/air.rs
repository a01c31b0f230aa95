//! The file of an air logger: a date and time, a temperature and, where it has one, a humidity on
//! each line, parted by commas, semicolons or tabs.

use fondant_heat::climate::log::{AirLog, AirRow};
use fondant_quantities::Temperature;
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;

use super::dated::{Written, leading};
use super::table::{Line, each_line};
use super::{HEADING_LINES, Scale, number, told};

/// Most rows that are read.
pub const MOST_ROWS: usize = 200_000;
/// What the air of a shop can be, °C.
const AIR_C: std::ops::RangeInclusive<f64> = -30.0..=60.0;

/// How the times in the file are meant.
#[derive(Debug, Clone)]
pub enum Clock {
    /// Each names its own offset from UTC, such as `Z` or `+01:00`.
    Written,
    /// The clock of a place.
    Of(TimeZone),
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum AirLogError {
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
    /// A time without a zone.
    #[error("line {line} has a local time")]
    NoZone {
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
    /// A temperature that no shop's air has.
    #[error("line {line} says {celsius} °C")]
    Temperature {
        /// The line, from 1.
        line: usize,
        /// The temperature.
        celsius: f64,
    },
    /// A humidity that no air has.
    #[error("line {line} says {percent} % humidity")]
    Humidity {
        /// The line, from 1.
        line: usize,
        /// The humidity.
        percent: f64,
    },
    /// Too much.
    #[error("more than {MOST_ROWS} rows")]
    TooLong,
}

/// Reads a log.
///
/// # Errors
/// [`AirLogError`] with the line.
pub fn read(text: &str, clock: &Clock, scale: Scale) -> Result<AirLog, AirLogError> {
    let mut rows: Vec<AirRow> = Vec::new();
    each_line(text, separator, |line| {
        if rows.len() >= MOST_ROWS {
            return Err(AirLogError::TooLong);
        }
        let Some(cells) = Cells::of(&line) else {
            if rows.is_empty() && line.number <= HEADING_LINES {
                return Ok(());
            }
            return Err(not_a_reading(&line));
        };
        rows.push(row(&line, cells, (clock, scale), rows.last().map(|row| row.at))?);
        Ok(())
    })?;
    if rows.is_empty() {
        return Err(AirLogError::Empty);
    }
    Ok(AirLog::of(&rows))
}

fn separator(line: &str) -> u8 {
    [b';', b'\t', b','].into_iter().find(|s| line.as_bytes().contains(s)).unwrap_or(b' ')
}

fn not_a_reading(line: &Line<'_>) -> AirLogError {
    AirLogError::NotAReading { line: line.number, text: told(line.text) }
}

fn row(
    line: &Line<'_>,
    cells: Cells,
    (clock, scale): (&Clock, Scale),
    last: Option<Timestamp>,
) -> Result<AirRow, AirLogError> {
    let number = line.number;
    let at = match (cells.time, clock) {
        (Written::Moment(at), _) => at,
        (Written::Local(_), Clock::Written) => {
            return Err(AirLogError::NoZone { line: number, text: told(line.text) });
        }
        (Written::Local(local), Clock::Of(zone)) => {
            on_clock(local, zone, last).ok_or_else(|| not_a_reading(line))?
        }
    };
    if last.is_some_and(|last| at < last) {
        return Err(AirLogError::BackInTime { line: number });
    }
    let celsius = scale.celsius(cells.degrees);
    if !AIR_C.contains(&celsius) {
        return Err(AirLogError::Temperature { line: number, celsius });
    }
    if let Some(percent) = cells.percent.filter(|p| !(0.0..=100.0).contains(p)) {
        return Err(AirLogError::Humidity { line: number, percent });
    }
    let temperature = Temperature::from_celsius(celsius);
    Ok(AirRow { at, temperature, humidity_percent: cells.percent })
}

/// A local time as a moment. In the hour that the clock runs through twice, the second time is
/// taken once the first lies behind.
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

struct Cells {
    time: Written,
    degrees: f64,
    percent: Option<f64>,
}

impl Cells {
    fn of(line: &Line<'_>) -> Option<Self> {
        let (time, [degrees, rest @ ..]) = leading(&line.cells)? else { return None };
        Some(Self {
            time,
            degrees: number(degrees)?,
            percent: rest.first().and_then(|cell| number(cell)),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::SignedDuration;
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
            let log =
                read(text, &lisbon(), Scale::Celsius).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert_eq!(log.readings.len(), 2, "{text}");
            assert_eq!(log.readings[0].at, "2026-11-23T06:00:00Z".parse().unwrap(), "{text}");
            assert!((log.readings[1].temperature.celsius() - 14.7).abs() < 1e-9);
            assert!((log.readings[1].humidity_percent - 61.0).abs() < 1e-9);
        }
    }

    #[test]
    fn local_times_without_a_zone_are_refused_until_somebody_says_whose() {
        let text = "2026-11-23 06:00, 14.5, 62\n2026-11-23 06:15, 14.7, 61";
        let refused = read(text, &Clock::Written, Scale::Celsius);
        assert!(matches!(refused, Err(AirLogError::NoZone { line: 1, .. })));
        assert!(read(text, &lisbon(), Scale::Celsius).is_ok());
    }

    #[test]
    fn the_hour_that_comes_twice_is_read_twice() {
        let text: String = ["00:30", "01:00", "01:30", "01:00", "01:30", "02:00"]
            .map(|clock| format!("2026-10-25 {clock};15\n"))
            .concat();
        let log = read(&text, &lisbon(), Scale::Celsius).unwrap();
        let first = log.readings[0].at;
        let hour = |at: Timestamp| at.duration_since(first).as_secs_f64() / 3600.0;
        let hours: Vec<f64> = log.readings.iter().map(|r| hour(r.at)).collect();
        assert_eq!(hours, [0.0, 0.5, 1.0, 1.5, 2.0, 2.5]);
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        let after_a_good_line = |text: &str| {
            let text = format!("2026-11-23T06:00Z,14.5\n{text}");
            read(&text, &Clock::Written, Scale::Celsius).unwrap_err()
        };
        let back = after_a_good_line("2026-11-23T05:00Z,14.5");
        assert_eq!(back, AirLogError::BackInTime { line: 2 });
        let rain = AirLogError::NotAReading { line: 2, text: "rain".into() };
        assert_eq!(after_a_good_line("rain"), rain);
        let hot = after_a_good_line("2026-11-23T07:00Z,93");
        assert_eq!(hot, AirLogError::Temperature { line: 2, celsius: 93.0 });
        let wet = after_a_good_line("2026-11-23T07:00Z,20,130");
        assert_eq!(wet, AirLogError::Humidity { line: 2, percent: 130.0 });
        assert_eq!(read("", &Clock::Written, Scale::Celsius), Err(AirLogError::Empty));
    }

    #[test]
    fn fahrenheit_is_read_as_such() {
        let text = "2026-11-23T06:00Z,59\n2026-11-23T06:15Z,68";
        let log = read(text, &Clock::Written, Scale::Fahrenheit).unwrap();
        assert!((log.readings[0].temperature.celsius() - 15.0).abs() < 1e-9);
    }

    #[test]
    fn more_rows_than_any_log_has_are_refused() {
        let start: Timestamp = "2026-01-01T00:00:00Z".parse().unwrap();
        let text: String = (0..=MOST_ROWS as i64)
            .map(|i| format!("{},15\n", start + SignedDuration::from_secs(i)))
            .collect();
        assert_eq!(read(&text, &Clock::Written, Scale::Celsius), Err(AirLogError::TooLong));
    }

    proptest! {
        #[test]
        fn any_text_is_read_or_refused(text in "[0-9TZ ,;:.\"\n-]{0,160}") {
            if let Ok(log) = read(&text, &lisbon(), Scale::Celsius) {
                prop_assert!(log.readings.windows(2).all(|p| p[1].at >= p[0].at));
            }
        }
    }
}
