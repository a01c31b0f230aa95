//! Logs of thermometers: of the air in a shop, of a cup of resin.
//!
//! - [`air`]: dated readings of temperature and humidity
//! - [`cup`]: times from mixing and temperatures
//! - `dated`: dates and times of day
//! - `table`: lines and cells, however they are parted

pub mod air;
pub mod cup;
mod dated;
mod table;

/// Lines above the first reading that may be a heading.
const HEADING_LINES: usize = 12;
/// Characters of an invalid line that a message quotes.
const TOLD_CHARACTERS: usize = 40;

/// A scale of temperature.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Scale {
    /// °C.
    Celsius,
    /// °F.
    Fahrenheit,
}

impl Scale {
    fn celsius(self, value: f64) -> f64 {
        match self {
            Self::Celsius => value,
            Self::Fahrenheit => (value - 32.0) / 1.8,
        }
    }
}

/// A figure in a cell, with a comma or a point, with or without its unit.
fn number(cell: &str) -> Option<f64> {
    let plain = cell.trim().trim_end_matches(['°', 'C', 'F', 'c', 'f', '%', ' ']).replace(',', ".");
    plain.parse().ok().filter(|value: &f64| value.is_finite())
}

fn told(line: &str) -> String {
    line.trim().chars().take(TOLD_CHARACTERS).collect()
}
