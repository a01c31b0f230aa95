//! Logs of thermometers: of the air in a shop, of a cup of resin.
//!
//! - [`air`]: dated readings of temperature and humidity
//! - [`cup`]: times from mixing and temperatures
//! - `sheet`: which column holds what
//! - `dated`: dates and times of day, in every order
//! - `table`: lines and cells, however they are parted

pub mod air;
pub mod cup;
mod dated;
mod sheet;
mod table;

pub use dated::DateOrder;

use serde::{Deserialize, Serialize};

/// Lines above the first reading that may be a heading.
const HEADING_LINES: usize = 12;
/// Lines below the last reading that may be a footer.
const FOOTER_LINES: usize = 12;
/// Characters of an invalid line that a message quotes.
const TOLD_CHARACTERS: usize = 40;

/// A scale of temperature.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
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

/// Whether a cell says that there is no reading.
fn is_blank(cell: &str) -> bool {
    matches!(
        cell.trim().to_lowercase().as_str(),
        "" | "-" | "--" | "---" | "n/a" | "na" | "nan" | "null"
    )
}

fn told(line: &str) -> String {
    line.trim().chars().take(TOLD_CHARACTERS).collect()
}
