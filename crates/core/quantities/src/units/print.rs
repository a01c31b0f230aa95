//! Numbers and quantities as text.

use super::each::LengthUnit;
use super::measured::Unit;
use crate::types::Length;

/// A number with at most `decimals` digits after the point and no trailing zeros.
#[must_use]
pub fn trimmed(number: f64, decimals: usize) -> String {
    let text = format!("{number:.decimals$}");
    let text =
        if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.') } else { &text };
    // A small negative number rounds to "-0", which nobody writes.
    if text == "-0" { "0".to_owned() } else { text.to_owned() }
}

/// The length as inches and the nearest 1/32, as a rule is read: "1 1/2 in".
#[must_use]
pub fn fraction_of_inch(length: Length) -> String {
    let thirty_seconds = (LengthUnit::Inch.write(length) * 32.0).round();
    let sign = if thirty_seconds < 0.0 { "-" } else { "" };
    let whole = (thirty_seconds.abs() / 32.0).floor();
    let mut numerator = thirty_seconds.abs() - whole * 32.0;
    if numerator < 0.5 {
        return format!("{sign}{whole} in");
    }
    let mut denominator = 32.0;
    while numerator % 2.0 == 0.0 {
        numerator /= 2.0;
        denominator /= 2.0;
    }
    if whole < 0.5 {
        format!("{sign}{numerator}/{denominator} in")
    } else {
        format!("{sign}{whole} {numerator}/{denominator} in")
    }
}
