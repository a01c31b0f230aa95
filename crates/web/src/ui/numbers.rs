//! Numbers that are the same in every system of units: spans, money, and how a figure and its unit stand.

use fondant_quantities::units::trimmed;
use fondant_quantities::{Money, Span};

/// Between a figure and its unit: narrow, and never broken.
pub(crate) const THIN: &str = "\u{202f}";

/// A span as makers say it: "40 min", "5 h 10 min", "77 h".
#[must_use]
pub(crate) fn span(q: Span) -> String {
    let minutes = (q.s() / 60.0).round();
    if minutes < 90.0 {
        return with_unit(&trimmed(minutes, 0), "min");
    }
    let (hours, rest) = ((minutes / 60.0).floor(), minutes % 60.0);
    if hours >= 10.0 || rest < 5.0 {
        with_unit(&trimmed(minutes / 60.0, 0), "h")
    } else {
        format!("{hours}{THIN}h {rest}{THIN}min")
    }
}

/// Money to the hundredth, in whatever the shop pays with: "40.58", "4.00".
#[must_use]
pub(crate) fn money(q: Money) -> String {
    format!("{:.2}", q.units())
}

/// A sum of money to the whole unit.
#[must_use]
pub(crate) fn money_rounded(q: Money) -> String {
    trimmed(q.units(), 0)
}

/// A figure and its unit with a thin space.
#[must_use]
pub(crate) fn with_unit(figure: &str, unit: &str) -> String {
    format!("{}{THIN}{unit}", with_minus(figure))
}

/// A figure, under zero with a minus where Rust writes a hyphen; one that rounds to zero has none.
#[must_use]
pub(crate) fn with_minus(figure: &str) -> String {
    match figure.strip_prefix('-') {
        Some(zero) if zero.bytes().all(|b| b == b'0' || b == b'.') => zero.to_owned(),
        Some(figure) => format!("−{figure}"),
        None => figure.to_owned(),
    }
}

/// About three figures: 8.35, 11.6, 124.
pub(super) fn three_figures(value: f64) -> String {
    let places = if value.abs() < 10.0 {
        2
    } else if value.abs() < 100.0 {
        1
    } else {
        0
    };
    format!("{value:.places$}")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_figure_under_zero_has_a_minus_and_one_that_rounds_to_zero_none() {
        assert_eq!(with_minus("-0.5"), "−0.5");
        assert_eq!(with_unit("-0.0", "°C"), "0.0\u{202f}°C");
    }

    #[test]
    fn a_cost_has_two_decimals_and_a_total_none() {
        assert_eq!(money(Money::from_units(4.0)), "4.00");
        assert_eq!(money(Money::from_units(40.584)), "40.58");
        assert_eq!(money_rounded(Money::from_units(40.584)), "41");
    }

    #[test]
    fn spans_lose_their_minutes_when_they_no_longer_matter() {
        assert_eq!(span(Span::from_s(2400.0)), "40\u{202f}min");
        assert_eq!(span(Span::from_s(18_600.0)), "5\u{202f}h 10\u{202f}min");
        assert_eq!(span(Span::from_h(77.2)), "77\u{202f}h");
    }
}
