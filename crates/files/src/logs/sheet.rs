//! A log as lines of cells under a heading: one reader for all loggers. What parts the cells is told
//! by the heading, or by each line where there is none, since what is typed by hand is not always of
//! one piece.

use super::dated::{Written, written};
use super::table::{Line, each_line};
use super::{FOOTER_LINES, HEADING_LINES, Scale, told};

/// What the columns of a log hold, by their places.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Columns {
    /// Date, date and time, or time since the beginning.
    pub(super) time: usize,
    /// Time of day, where it has a column of its own.
    pub(super) clock: Option<usize>,
    pub(super) temperature: usize,
    pub(super) humidity: Option<usize>,
    /// What the heading says of the temperatures.
    pub(super) scale: Option<Scale>,
    count: usize,
}

/// A heading that was understood.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Heading {
    pub(super) columns: Columns,
    /// Number of its line, from 1.
    pub(super) line: usize,
    /// Its words, by which the same logger is known again.
    pub(super) words: String,
}

/// The cells of a line, and what its columns hold.
pub(super) struct Cells<'a> {
    pub(super) columns: &'a Columns,
    pub(super) cells: &'a [String],
    /// The columns are those of a heading.
    pub(super) is_headed: bool,
}

/// A line that holds a reading.
pub(super) struct Row<T> {
    /// Number of its line, from 1.
    pub(super) line: usize,
    /// Its beginning, for messages.
    pub(super) text: String,
    pub(super) value: T,
}

/// The readings of a log.
pub(super) struct Gathered<T> {
    pub(super) heading: Option<Heading>,
    pub(super) rows: Vec<Row<T>>,
    /// Rows without a temperature.
    pub(super) blank: usize,
    /// Lines below the last reading.
    pub(super) footer: usize,
}

/// Why the lines of a log are not its readings.
pub(super) enum NotGathered {
    /// A line is not a reading.
    NotAReading { line: usize, text: String },
    /// More rows than are read.
    TooLong,
}

/// Gathers the readings of a log. `separator` says what parts the cells of a line where there is no
/// heading; `read` makes a reading of a line, an inner `None` where its cell is blank. Lines above
/// the first reading are a heading and lines below the last a footer; one in between is refused.
pub(super) fn gathered<T>(
    text: &str,
    separator: impl Fn(&str) -> u8,
    most: usize,
    read: impl Fn(&Cells<'_>) -> Option<Option<T>>,
) -> Result<Gathered<T>, NotGathered> {
    let heading = heading(text);
    let below = heading.as_ref().map_or(0, |heading| heading.line);
    let parted = heading.as_ref().and_then(|h| text.lines().nth(h.line - 1)).map(parts);
    let (mut rows, mut blank) = (Vec::new(), 0);
    let mut odd: Vec<NotGathered> = Vec::new();
    each_line(
        text,
        |line| parted.unwrap_or_else(|| separator(line)),
        |line| {
            if line.number <= below {
                return Ok(());
            }
            if rows.len() >= most {
                return Err(NotGathered::TooLong);
            }
            match cells_of(&line, heading.as_ref(), &read) {
                Some(_) if !odd.is_empty() => return Err(odd.swap_remove(0)),
                Some(Some(value)) => {
                    rows.push(Row { line: line.number, text: told(line.text), value });
                }
                Some(None) => blank += 1,
                None if rows.is_empty() && line.number <= HEADING_LINES => {}
                None => {
                    odd.push(NotGathered::NotAReading { line: line.number, text: told(line.text) });
                    if odd.len() > FOOTER_LINES {
                        return Err(odd.swap_remove(0));
                    }
                }
            }
            Ok(())
        },
    )?;
    if rows.is_empty() && !odd.is_empty() {
        return Err(odd.swap_remove(0));
    }
    Ok(Gathered { heading, rows, blank, footer: odd.len() })
}

fn cells_of<T>(
    line: &Line<'_>,
    heading: Option<&Heading>,
    read: impl Fn(&Cells<'_>) -> Option<Option<T>>,
) -> Option<Option<T>> {
    match heading {
        Some(heading) => {
            let cells = heading.columns.joined(&line.cells, line.separator);
            read(&Cells { columns: &heading.columns, cells: &cells, is_headed: true })
        }
        None => {
            let full = line.cells.iter().filter(|cell| !cell.is_empty());
            let cells: Vec<String> = full.cloned().collect();
            let columns = Columns::of(&cells);
            read(&Cells { columns: &columns, cells: &cells, is_headed: false })
        }
    }
}

/// Words in a heading, in small letters.
const TIME: [&str; 12] = [
    "time", "date", "datum", "zeit", "fecha", "hora", "uhr", "heure", "data", "elapsed", "minutes",
    "seconds",
];
const CLOCK: [&str; 4] = ["time", "zeit", "hora", "heure"];
const TEMPERATURE: [&str; 8] = ["temp", "°c", "°f", "celsius", "fahrenheit", "degc", "degf", "ºc"];
const HUMIDITY: [&str; 7] = ["hum", "rh", "r.h", "feucht", "humedad", "umid", "%"];
/// Columns that look like one of these and are not.
const OTHERS: [&str; 6] = ["dew", "taupunkt", "rocío", "rosée", "max", "min."];

/// Finds the heading among the first lines.
fn heading(text: &str) -> Option<Heading> {
    let text = text.trim_start_matches('\u{feff}');
    for (index, line) in text.lines().take(HEADING_LINES).enumerate() {
        let separator = parts(line);
        let mut found = None;
        let read = each_line(
            line,
            |_| separator,
            |line: Line<'_>| {
                found = columns(&line.cells);
                Ok::<(), ()>(())
            },
        );
        if let (Ok(()), Some(columns)) = (read, found) {
            let words = line.trim().to_lowercase().chars().take(200).collect();
            return Some(Heading { columns, line: index + 1, words });
        }
    }
    None
}

/// What parts the cells of a line in a file of one piece.
pub(super) fn parts(line: &str) -> u8 {
    [b';', b'\t', b','].into_iter().find(|s| line.as_bytes().contains(s)).unwrap_or(b' ')
}

fn columns(cells: &[String]) -> Option<Columns> {
    let lower: Vec<String> = cells.iter().map(|cell| cell.to_lowercase()).collect();
    let holds = |words: &[&str], cell: &String| {
        words.iter().any(|word| cell.contains(word)) && !OTHERS.iter().any(|o| cell.contains(o))
    };
    // A heading holds words, no readings.
    if lower.iter().any(|cell| super::number(cell).is_some()) {
        return None;
    }
    let find = |words: &[&str]| lower.iter().position(|cell| holds(words, cell));
    let temperature = find(&TEMPERATURE)?;
    let is_other = |index: usize| index != temperature;
    let time = lower.iter().position(|cell| holds(&TIME, cell)).filter(|i| is_other(*i))?;
    let clock = (time + 1 < lower.len())
        .then_some(time + 1)
        .filter(|next| !holds(&TEMPERATURE, &lower[*next]) && holds(&CLOCK, &lower[*next]));
    let humidity = lower.iter().position(|cell| holds(&HUMIDITY, cell)).filter(|i| is_other(*i));
    Some(Columns {
        time,
        clock,
        temperature,
        humidity,
        scale: scale(&lower[temperature]),
        count: lower.len(),
    })
}

/// The scale that a heading names.
fn scale(cell: &str) -> Option<Scale> {
    let last = cell.trim_end_matches([')', ']', ' ']).rsplit([' ', '(', '[', '/', '_', ',']).next();
    let names = |words: &[&str]| {
        words.iter().any(|word| cell.contains(word)) || last.is_some_and(|l| words.contains(&l))
    };
    if names(&["°f", "fahrenheit", "degf", "f"]) && last != Some("of") {
        // A lone f counts only as a word of its own.
        let is_word = cell.contains("°f")
            || cell.contains("fahrenheit")
            || cell.contains("degf")
            || last == Some("f");
        return is_word.then_some(Scale::Fahrenheit);
    }
    let is_celsius = cell.contains("°c") || cell.contains("ºc") || cell.contains("celsius");
    (is_celsius || cell.contains("degc") || last == Some("c")).then_some(Scale::Celsius)
}

impl Columns {
    /// The columns of a line without a heading over it: date, clock where it stands apart,
    /// temperature, humidity; a number before the date counts the rows.
    pub(super) fn of(cells: &[String]) -> Self {
        let is_date = |i: usize| cells.get(i).is_some_and(|c| c.contains(['-', '/', '.', ':']));
        let counts = |cell: &String| cell.chars().all(|c| c.is_ascii_digit());
        let has_colon = |i: usize| cells.get(i).is_some_and(|c| c.contains(':'));
        let is_counted = cells.first().is_some_and(counts)
            && is_date(1)
            && (has_colon(1) || has_colon(2))
            && cells.len() > 2;
        let time = usize::from(is_counted);
        let clock = (!has_colon(time) && has_colon(time + 1)).then_some(time + 1);
        let temperature = clock.unwrap_or(time) + 1;
        let humidity = (cells.len() > temperature + 1).then_some(temperature + 1);
        Self { time, clock, temperature, humidity, scale: None, count: cells.len() }
    }

    /// The date and time of a line.
    pub(super) fn written(&self, cells: &[String]) -> Option<Written> {
        let date = cells.get(self.time)?;
        match self.clock {
            Some(clock) => written(&format!("{date} {}", cells.get(clock)?)),
            None => written(date),
        }
    }

    /// The cells of a line with decimal commas put together that a comma between cells has parted.
    pub(super) fn joined(&self, cells: &[String], separator: u8) -> Vec<String> {
        let mut extra = cells.len().saturating_sub(self.count);
        let numbers = self.count.saturating_sub(self.clock.unwrap_or(self.time) + 1);
        // Only where all are parted is it sure which belong together.
        if separator != b',' || extra == 0 || extra != numbers {
            return cells.to_vec();
        }
        let is_whole = |cell: &String| {
            !cell.is_empty() && cell.trim_start_matches('-').chars().all(|c| c.is_ascii_digit())
        };
        let is_part = |cell: &String| cell.len() <= 3 && cell.chars().all(|c| c.is_ascii_digit());
        let mut joined = Vec::new();
        let mut rest = cells.iter().peekable();
        while let Some(cell) = rest.next() {
            let is_number = joined.len() > self.clock.unwrap_or(self.time);
            match rest.peek() {
                Some(next)
                    if extra > 0
                        && is_number
                        && is_whole(cell)
                        && !next.is_empty()
                        && is_part(next) =>
                {
                    joined.push(format!("{cell}.{next}"));
                    rest.next();
                    extra -= 1;
                }
                _ => joined.push(cell.clone()),
            }
        }
        joined
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn headings_say_what_is_where() {
        let of = |line: &str| heading(line).unwrap_or_else(|| panic!("{line}")).columns;
        let swapped = of("Time,Humidity (%),Temperature (°F)");
        assert_eq!((swapped.time, swapped.humidity, swapped.temperature), (0, Some(1), 2));
        assert_eq!(swapped.scale, Some(Scale::Fahrenheit));
        let german = of("Nr.;Datum;Uhrzeit;Temperatur [°C];rel. Feuchte [%];Taupunkt [°C]");
        assert_eq!((german.time, german.clock, german.temperature), (1, Some(2), 3));
        assert_eq!((german.humidity, german.scale), (Some(4), Some(Scale::Celsius)));
        let dew_first = of("#\tDate Time\tDew point C\tTemp F\tRH");
        assert_eq!((dew_first.time, dew_first.temperature, dew_first.humidity), (1, 3, Some(4)));
        assert_eq!(dew_first.scale, Some(Scale::Fahrenheit));
        assert!(heading("logger 7, shop, north wall").is_none());
        assert!(heading("2026-11-23 06:00,14.5,62").is_none());
    }

    #[test]
    fn decimal_commas_between_commas_are_put_together() {
        let cells = |text: &str| text.split(',').map(str::to_owned).collect::<Vec<_>>();
        let columns = heading("Time,Temperature,Humidity").unwrap().columns;
        let found = columns.joined(&cells("2026-11-23 06:00,14,5,62,0"), b',');
        assert_eq!(found, ["2026-11-23 06:00", "14.5", "62.0"]);
        assert_eq!(columns.joined(&cells("2026-11-23 06:00,14.5,62"), b',').len(), 3);
    }
}
