//! What stands in a pressure pot, in words.

use fondant_cast::measure::standing_name;
use fondant_cast::{Document, Kind};

use super::counting::counted;

/// "12 blanks", "6 moulds of Cubes": moulds of one size, by what the maker calls them.
#[must_use]
pub(crate) fn standing(kind: Kind, name: &str, count: u32) -> String {
    let one = match kind {
        Kind::Block => "block",
        Kind::Tubes => "blank",
        _ => "mould",
    };
    match name {
        "" => counted(count, one),
        name => format!("{} of {name}", counted(count, one)),
    }
}

/// The same by their place among the sizes of a cast.
#[must_use]
pub(crate) fn standing_of(document: &Document, of: usize, count: u32) -> String {
    standing(document.kind(), standing_name(document, of), count)
}

/// Why what has no place in the pot has to wait.
#[must_use]
pub(crate) fn out_of_pot(count: u32) -> String {
    let have = if count == 1 { "1 has".to_owned() } else { format!("{count} have") };
    format!(
        "▲ The pot does not take all: {have} no place in it. Pour one load at a time; the next goes in \
         once the first has set and the pot is vented."
    )
}
