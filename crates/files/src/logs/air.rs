//! The file of an air logger: on each line a date and time, a temperature and, where it has one, a
//! humidity, parted by commas, semicolons or tabs. A heading says which column is which.

use fondant_heat::climate::log::{AirLog, AirRow};
use fondant_quantities::Temperature;
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, Offset, TimeZone};
use serde::{Deserialize, Serialize};

use super::dated::{self, DateOrder, Written};
use super::sheet::{Columns, Heading, heading, parts};
use super::table::{Line, each_line};
use super::{FOOTER_LINES, HEADING_LINES, Scale, is_blank, number, told};

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
    /// Its readings.
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
    /// Its newest reading stood first.
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
    },
    /// A time zone that does not exist.
    #[error("there is no time zone {0}")]
    NoSuchZone(String),
    /// Too much.
    #[error("more than {MOST_ROWS} rows")]
    TooLong,
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
    let heading = heading(text);
    let mut gathered =
        Gathered { heading: heading.as_ref(), rows: Vec::new(), odd: Vec::new(), blank: 0 };
    // Under a heading all lines are parted as it is.
    let parted = heading.as_ref().and_then(|h| text.lines().nth(h.line - 1)).map(parts);
    each_line(text, |line| parted.unwrap_or_else(|| parts(line)), |line| gathered.take(&line))?;
    let Gathered { mut rows, odd, blank, .. } = gathered;
    if odd.len() > FOOTER_LINES && !rows.is_empty() {
        return Err(odd.into_iter().next().unwrap_or(AirLogError::Empty));
    }
    if rows.is_empty() {
        return Err(odd.into_iter().next().unwrap_or(AirLogError::Empty));
    }
    let times: Vec<Written> = rows.iter().map(|row| row.time.clone()).collect();
    let order = dated::order(&times, options.order).map_err(|index| AirLogError::EitherOrder {
        line: rows[index].line,
        text: rows[index].text.clone(),
    })?;
    let ends = [rows.first(), rows.last()].map(|row| row.and_then(|r| r.time.seconds(order)));
    let was_descending = matches!(ends, [Some(first), Some(last)] if last < first);
    if was_descending {
        rows.reverse();
    }
    let said = heading.as_ref().and_then(|h| h.columns.scale);
    let scale = options.scale.or(said).unwrap_or(Scale::Celsius);
    let (readings, missing) = dated_rows(&rows, zone.as_ref(), (order, scale))?;
    Ok(ReadAir {
        log: AirLog::of(&readings),
        heading: heading.map(|h| h.words).unwrap_or_default(),
        scale,
        order,
        blank,
        footer: odd.len(),
        was_descending,
        missing,
    })
}

/// A line that holds a reading.
struct Row {
    line: usize,
    text: String,
    time: Written,
    degrees: f64,
    percent: Option<f64>,
}

struct Gathered<'a> {
    heading: Option<&'a Heading>,
    rows: Vec<Row>,
    /// Lines that are no readings, since the last reading.
    odd: Vec<AirLogError>,
    blank: usize,
}

impl Gathered<'_> {
    fn take(&mut self, line: &Line<'_>) -> Result<(), AirLogError> {
        if self.rows.len() >= MOST_ROWS {
            return Err(AirLogError::TooLong);
        }
        if self.heading.is_some_and(|heading| line.number <= heading.line) {
            return Ok(());
        }
        match self.row(line) {
            // What is no reading between two readings is no footer.
            Some(_) if !self.odd.is_empty() => Err(self.odd.swap_remove(0)),
            Some(Some(row)) => {
                self.rows.push(row);
                Ok(())
            }
            Some(None) => {
                self.blank += 1;
                Ok(())
            }
            None if self.rows.is_empty() && line.number <= HEADING_LINES => Ok(()),
            None => {
                let text = told(line.text);
                self.odd.push(AirLogError::NotAReading { line: line.number, text });
                Ok(())
            }
        }
    }

    /// The reading of a line; the inner `None` where its cell is blank.
    fn row(&self, line: &Line<'_>) -> Option<Option<Row>> {
        let (columns, cells) = match self.heading {
            Some(heading) => {
                let columns = heading.columns.clone();
                let cells = columns.joined(&line.cells, line.separator);
                (columns, cells)
            }
            None => {
                let cells: Vec<String> =
                    line.cells.iter().filter(|cell| !cell.is_empty()).cloned().collect();
                (Columns::of(&cells), cells)
            }
        };
        let time = columns.written(&cells)?;
        let cell = cells.get(columns.temperature).map_or("", String::as_str);
        if is_blank(cell) {
            return Some(None);
        }
        let degrees = number(cell)?;
        let percent = columns.humidity.and_then(|place| cells.get(place)).and_then(|c| number(c));
        Some(Some(Row { line: line.number, text: told(line.text), time, degrees, percent }))
    }
}

/// The rows as readings in order of time, and how many of them the clock had passed over.
fn dated_rows(
    rows: &[Row],
    zone: Option<&TimeZone>,
    (order, scale): (Option<DateOrder>, Scale),
) -> Result<(Vec<AirRow>, usize), AirLogError> {
    let (mut readings, mut missing) = (Vec::<AirRow>::with_capacity(rows.len()), 0);
    for row in rows {
        let line = row.line;
        let last = readings.last().map(|reading| reading.at);
        let not_a_reading = || AirLogError::NotAReading { line, text: row.text.clone() };
        let at = match (&row.time, zone) {
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
        let celsius = scale.celsius(row.degrees);
        if !AIR_C.contains(&celsius) {
            return Err(AirLogError::Temperature { line, celsius });
        }
        if let Some(percent) = row.percent.filter(|p| !(0.0..=100.0).contains(p)) {
            return Err(AirLogError::Humidity { line, percent });
        }
        let temperature = Temperature::from_celsius(celsius);
        readings.push(AirRow { at, temperature, humidity_percent: row.percent });
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
