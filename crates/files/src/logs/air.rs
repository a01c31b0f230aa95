//! The file of an air logger: on each line a date and time, a temperature and, where it has one, a
//! humidity, parted by commas, semicolons or tabs. A heading says which column is which.

use fondant_heat::climate::log::{AirLog, AirRow};
use fondant_quantities::Temperature;
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, Offset, TimeZone};
use serde::{Deserialize, Serialize};

use super::dated::{self, DateOrder, Written};
use super::sheet::{Cells, Gathered, NotGathered, Row, gathered, parts};
use super::{Scale, is_blank, number};

/// Most rows that are read.
pub const MOST_ROWS: usize = 200_000;
/// What the air of a shop can be, °C.
const AIR_C: std::ops::RangeInclusive<f64> = -30.0..=60.0;

/// How the times in the file are meant.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Clock {
    /// Each names its own offset from UTC, such as `Z` or `+01:00`.
    Written,
    /// The clock of a place, by its name in the time zone database.
    Place(String),
    /// A clock that is never changed, seconds ahead of UTC.
    Fixed(i32),
}

/// How a log is to be read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct AirOptions {
    /// What its times mean.
    pub clock: Clock,
    /// Its scale; what its heading says, or °C, where nothing is said.
    pub scale: Option<Scale>,
    /// The order of its dates, where they may be read both ways.
    pub order: Option<DateOrder>,
}

/// A log as read, with what was found out on the way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ReadAir {
    /// Readings of the log.
    pub log: AirLog,
    /// Its heading, in small letters; empty where it has none. The same logger writes the same.
    pub heading: String,
    /// The scale that it was read in.
    pub scale: Scale,
    /// The order that its dates were read in, where it matters.
    pub order: Option<DateOrder>,
    /// Rows without a temperature.
    pub blank: usize,
    /// Lines below the last reading.
    pub footer: usize,
    /// Its newest reading came first.
    pub was_descending: bool,
    /// Rows at times that the clock passed over when it was put forward.
    pub missing: usize,
}

/// Why a log cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
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
    /// Its dates may be read with the day first and with the month first.
    #[error("line {line} may be read with the day or the month first")]
    EitherOrder {
        /// The line, from 1.
        line: usize,
        /// The text found there.
        text: String,
        /// The heading of the log, by which its logger is known.
        heading: String,
    },
    /// A time zone that does not exist.
    #[error("there is no time zone {0}")]
    NoSuchZone(String),
    /// Too much.
    #[error("more than {MOST_ROWS} rows")]
    TooLong,
}

impl From<NotGathered> for AirLogError {
    fn from(why: NotGathered) -> Self {
        match why {
            NotGathered::NotAReading { line, text } => Self::NotAReading { line, text },
            NotGathered::TooLong => Self::TooLong,
        }
    }
}

/// Reads a log.
///
/// # Errors
/// [`AirLogError`] with the line.
pub fn read(text: &str, options: &AirOptions) -> Result<ReadAir, AirLogError> {
    let zone = match &options.clock {
        Clock::Written => None,
        Clock::Fixed(seconds) => Offset::from_seconds(*seconds).ok().map(TimeZone::fixed),
        Clock::Place(name) => {
            Some(TimeZone::get(name).map_err(|_| AirLogError::NoSuchZone(name.clone()))?)
        }
    };
    let Gathered { heading, mut rows, blank, footer } = gathered(text, parts, MOST_ROWS, reading)?;
    if rows.is_empty() {
        return Err(AirLogError::Empty);
    }
    let words = heading.as_ref().map(|h| h.words.clone()).unwrap_or_default();
    let times: Vec<Written> = rows.iter().map(|row| row.value.time.clone()).collect();
    let order = dated::order(&times, options.order).map_err(|index| AirLogError::EitherOrder {
        line: rows[index].line,
        text: rows[index].text.clone(),
        heading: words.clone(),
    })?;
    let ends = [times.first(), times.last()].map(|time| time.and_then(|t| t.seconds(order)));
    let was_descending = matches!(ends, [Some(first), Some(last)] if last < first);
    if was_descending {
        rows.reverse();
    }
    let said = heading.as_ref().and_then(|h| h.columns.scale);
    let scale = options.scale.or(said).unwrap_or(Scale::Celsius);
    let (readings, missing) = dated_rows(&rows, zone.as_ref(), (order, scale))?;
    Ok(ReadAir {
        log: AirLog::of(&readings),
        heading: words,
        scale,
        order,
        blank,
        footer,
        was_descending,
        missing,
    })
}

/// What a line of the log says.
struct Said {
    time: Written,
    degrees: f64,
    percent: Option<f64>,
}

/// The reading of a line; the inner `None` where its cell is blank.
fn reading(line: &Cells<'_>) -> Option<Option<Said>> {
    let Cells { columns, cells, .. } = line;
    let time = columns.written(cells)?;
    let cell = cells.get(columns.temperature).map_or("", String::as_str);
    if is_blank(cell) {
        return Some(None);
    }
    let degrees = number(cell)?;
    let percent = columns.humidity.and_then(|place| cells.get(place)).and_then(|c| number(c));
    Some(Some(Said { time, degrees, percent }))
}

/// The rows as readings in order of time, and how many of them the clock had passed over.
fn dated_rows(
    rows: &[Row<Said>],
    zone: Option<&TimeZone>,
    (order, scale): (Option<DateOrder>, Scale),
) -> Result<(Vec<AirRow>, usize), AirLogError> {
    let (mut readings, mut missing) = (Vec::<AirRow>::with_capacity(rows.len()), 0);
    for row in rows {
        let (line, said) = (row.line, &row.value);
        let last = readings.last().map(|reading| reading.at);
        let not_a_reading = || AirLogError::NotAReading { line, text: row.text.clone() };
        let at = match (&said.time, zone) {
            (Written::Moment(at), _) => *at,
            (_, None) => return Err(AirLogError::NoZone { line, text: row.text.clone() }),
            (time, Some(zone)) => {
                let local = time.local(order).ok_or_else(not_a_reading)?;
                let (at, is_missing) = on_clock(local, zone, last).ok_or_else(not_a_reading)?;
                missing += usize::from(is_missing);
                at
            }
        };
        if last.is_some_and(|last| at < last) {
            return Err(AirLogError::BackInTime { line });
        }
        let celsius = scale.celsius(said.degrees);
        if !AIR_C.contains(&celsius) {
            return Err(AirLogError::Temperature { line, celsius });
        }
        if let Some(percent) = said.percent.filter(|p| !(0.0..=100.0).contains(p)) {
            return Err(AirLogError::Humidity { line, percent });
        }
        let temperature = Temperature::from_celsius(celsius);
        readings.push(AirRow { at, temperature, humidity_percent: said.percent });
    }
    Ok((readings, missing))
}

/// A local time as a moment, and whether the clock had passed it over. In the hour that the clock
/// runs through twice, the second time is taken once the first lies behind.
fn on_clock(
    local: DateTime,
    zone: &TimeZone,
    last: Option<Timestamp>,
) -> Option<(Timestamp, bool)> {
    let ambiguous = zone.to_ambiguous_zoned_datetime(local);
    let is_gap = matches!(ambiguous.offset(), AmbiguousOffset::Gap { .. });
    // A logger whose clock was not put forward yet goes on by the offset before.
    let compatible = ambiguous.clone().compatible().ok()?.timestamp();
    match last {
        Some(last) if compatible < last && ambiguous.is_ambiguous() && !is_gap => {
            ambiguous.later().ok().map(|zoned| (zoned.timestamp(), false))
        }
        _ => Some((compatible, is_gap)),
    }
}

#[cfg(test)]
mod tests;
