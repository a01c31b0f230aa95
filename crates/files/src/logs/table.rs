//! Lines of cells. Which character parts the cells is told by each line: what is typed by hand is
//! not always of one piece.

use csv::{ReaderBuilder, StringRecord, Trim};

/// A line that holds something.
pub(super) struct Line<'a> {
    /// Number of the line, from 1.
    pub(super) number: usize,
    /// Text of the whole line.
    pub(super) text: &'a str,
    /// Its cells; where blanks part them, empty ones are left out.
    pub(super) cells: Vec<String>,
    /// What parts them.
    pub(super) separator: u8,
}

/// Reads a text line by line until `take` refuses one. `separator` says what parts the cells of a
/// line.
pub(super) fn each_line<E>(
    text: &str,
    separator: impl Fn(&str) -> u8,
    mut take: impl FnMut(Line<'_>) -> Result<(), E>,
) -> Result<(), E> {
    let text = text.trim_start_matches('\u{feff}');
    let lines: Vec<&str> = text.lines().collect();
    let mut first = 0;
    for group in lines.chunk_by(|a, b| separator(a) == separator(b)) {
        let joined = group.join("\n");
        let mut reader = ReaderBuilder::new()
            .delimiter(separator(group[0]))
            .has_headers(false)
            .flexible(true)
            .trim(Trim::All)
            .from_reader(joined.as_bytes());
        for record in reader.records() {
            // The text is UTF-8 and rows may be of any length: nothing is left to go wrong.
            let Ok(record) = record else { continue };
            let within = record.position().map_or(1, csv::Position::line) as usize;
            let text = group.get(within - 1).copied().unwrap_or_default();
            let separator = separator(group[0]);
            let cells = cells(&record, separator);
            let line = Line { number: first + within, text, cells, separator };
            if line.cells.iter().any(|cell| !cell.is_empty()) {
                take(line)?;
            }
        }
        first += group.len();
    }
    Ok(())
}

fn cells(record: &StringRecord, separator: u8) -> Vec<String> {
    let cells = record.iter().map(str::trim);
    cells.filter(|cell| separator != b' ' || !cell.is_empty()).map(str::to_owned).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn cells_are_found_and_lines_keep_their_numbers() {
        let text = "\u{feff}a;b\n\n\"x, y\";2\n1 2   3\n4 5";
        let by = |line: &str| if line.contains(';') { b';' } else { b' ' };
        let mut found = Vec::new();
        let all: Result<(), ()> = each_line(text, by, |line| {
            found.push((line.number, line.cells.join("|")));
            Ok(())
        });
        assert!(all.is_ok());
        let expected = [(1, "a|b"), (3, "x, y|2"), (4, "1|2|3"), (5, "4|5")];
        assert_eq!(found, expected.map(|(number, cells)| (number, cells.to_owned())));
    }
}
