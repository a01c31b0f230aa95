//! From text to a quantity.

use super::measured::{Measured, Unit};

/// Why a text is not a quantity.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ParseQuantityError {
    /// Nothing but blanks.
    #[error("nothing was typed where {noun} is wanted")]
    Empty {
        /// What is wanted: "a length".
        noun: &'static str,
        /// Symbol of the unit that a bare number has.
        symbol: &'static str,
    },
    /// No number where one should be.
    #[error("“{text}” is not {noun}")]
    NotANumber {
        /// What was typed, shortened.
        text: String,
        /// What is wanted: "a length".
        noun: &'static str,
        /// Symbol of the unit that a bare number has.
        symbol: &'static str,
    },
    /// A number, then text that is not a unit of this quantity.
    #[error("“{unit}” is not a unit of {noun}")]
    UnknownUnit {
        /// The unit as typed, shortened.
        unit: String,
        /// What is wanted, without its article: "length".
        noun: &'static str,
        /// Symbols of the units that would be understood, the commonest first.
        known: Vec<&'static str>,
    },
}

/// Reads a quantity. A number without a unit is taken in `default`.
///
/// Understood: decimals with a point or a comma ("3.8", "3,8"), fractions
/// ("1/2", "1 1/2", "1-1/2", "1½"), a unit directly after or after a blank, and several
/// parts that add up ("5 ft 3 in", "5' 3 1/2\"").
///
/// # Errors
/// [`ParseQuantityError`].
pub fn parse<Q: Measured>(text: &str, default: Q::Unit) -> Result<Q, ParseQuantityError> {
    let text = text.trim();
    let symbol = default.symbol();
    if text.is_empty() {
        return Err(ParseQuantityError::Empty { noun: Q::NOUN, symbol });
    }
    let not_a_number =
        || ParseQuantityError::NotANumber { text: shortened(text), noun: Q::NOUN, symbol };

    let mut rest = text;
    let mut total: Option<(f64, Q::Unit)> = None;
    while !rest.is_empty() {
        let (number, after) = read_number(rest).ok_or_else(not_a_number)?;
        let (unit, after) = read_unit::<Q>(after, default)?;
        total = Some(match total {
            None => (number, unit),
            // Feet and inches: the second part counts in the first one's unit,
            // and carries the sign of the whole ("-5 ft 3 in").
            Some((sum, first)) => {
                let part = first.write(unit.read(number)) - first.write(unit.read(0.0));
                (if sum < 0.0 { sum - part } else { sum + part }, first)
            }
        });
        rest = after;
    }
    let (number, unit) = total.ok_or_else(not_a_number)?;
    if number.is_finite() { Ok(unit.read(number)) } else { Err(not_a_number()) }
}

/// A number with an optional fraction at the start of the text, and what follows.
fn read_number(text: &str) -> Option<(f64, &str)> {
    let (sign, text) = match text.strip_prefix(['-', '−']) {
        Some(rest) => (-1.0, rest.trim_start()),
        None => (1.0, text.strip_prefix('+').unwrap_or(text).trim_start()),
    };
    if let Some((fraction, rest)) = read_fraction(text) {
        return Some((sign * fraction, rest));
    }
    let end =
        text.find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ',')).unwrap_or(text.len());
    let digits = text[..end].replace(',', ".");
    if !digits.contains(|c: char| c.is_ascii_digit()) {
        return None;
    }
    let whole: f64 = digits.parse().ok()?;
    let rest = text[end..].trim_start();
    // A hyphen joins a whole number and its fraction, as they stand on plans.
    let joined = rest.strip_prefix(['-', '–']).filter(|_| !digits.contains('.'));
    match read_fraction(joined.unwrap_or(rest)) {
        Some((fraction, rest)) => Some((sign * (whole + fraction), rest)),
        None => Some((sign * whole, rest)),
    }
}

/// "1/2" or "½" at the start of the text, and what follows.
fn read_fraction(text: &str) -> Option<(f64, &str)> {
    const SIGNS: [(char, f64); 9] = [
        ('½', 0.5),
        ('¼', 0.25),
        ('¾', 0.75),
        ('⅛', 0.125),
        ('⅜', 0.375),
        ('⅝', 0.625),
        ('⅞', 0.875),
        ('⅓', 1.0 / 3.0),
        ('⅔', 2.0 / 3.0),
    ];
    for (sign, value) in SIGNS {
        if let Some(rest) = text.strip_prefix(sign) {
            return Some((value, rest.trim_start()));
        }
    }
    let (numerator, rest) = read_integer(text)?;
    let rest = rest.trim_start().strip_prefix('/')?.trim_start();
    let (denominator, rest) = read_integer(rest)?;
    // A zero denominator gives an infinity, which the caller refuses.
    Some((numerator / denominator, rest.trim_start()))
}

fn read_integer(text: &str) -> Option<(f64, &str)> {
    let end = text.find(|c: char| !c.is_ascii_digit()).unwrap_or(text.len());
    Some((text[..end].parse().ok()?, &text[end..]))
}

/// The unit at the start of the text, or the default where none stands there.
fn read_unit<Q: Measured>(
    text: &str,
    default: Q::Unit,
) -> Result<(Q::Unit, &str), ParseQuantityError> {
    if text.is_empty() {
        return Ok((default, text));
    }
    let mut best: Option<(Q::Unit, usize)> = None;
    for unit in Q::Unit::ALL {
        for spelling in unit.spellings() {
            if let Some(length) = matched_length(text, spelling)
                && best.is_none_or(|(_, longest)| length > longest)
            {
                best = Some((*unit, length));
            }
        }
    }
    let Some((unit, length)) = best else {
        let end =
            text.find(|c: char| c.is_whitespace() || c.is_ascii_digit()).unwrap_or(text.len());
        let end = if end == 0 { text.len() } else { end };
        return Err(ParseQuantityError::UnknownUnit {
            unit: shortened(&text[..end]),
            noun: Q::NOUN.trim_start_matches("a "),
            known: Q::Unit::ALL.iter().map(|u| u.symbol()).collect(),
        });
    };
    Ok((unit, text[length..].trim_start_matches(['.', ',']).trim_start()))
}

/// Bytes of `text` that spell the unit, in any case, and end where a word ends.
fn matched_length(text: &str, spelling: &str) -> Option<usize> {
    let head = text.get(..spelling.len())?;
    if !head.eq_ignore_ascii_case(spelling) {
        return None;
    }
    let is_word = spelling.ends_with(char::is_alphabetic);
    let goes_on = text[spelling.len()..].starts_with(|c: char| c.is_alphabetic() || c == '/');
    (!(is_word && goes_on)).then_some(spelling.len())
}

/// At most 24 characters of what was typed, so that a sentence stays one.
fn shortened(text: &str) -> String {
    match text.char_indices().nth(24) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}
