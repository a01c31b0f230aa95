//! Group codes and their values, from text or from the binary form.

use std::borrow::Cow;

use crate::FileError;

/// What a binary file begins with.
pub(super) const SENTINEL: &[u8] = b"AutoCAD Binary DXF\r\n\x1a\0";
/// Most pairs: 200 000 entities of a dozen pairs each, and the tables before them.
const MOST_PAIRS: usize = 6_000_000;

/// A group code and its value.
#[derive(Debug, Clone)]
pub(super) struct Pair<'a> {
    pub(super) code: i32,
    pub(super) value: Cow<'a, str>,
    /// Line of the value, or its place among the pairs of a binary file, from 1.
    pub(super) line: usize,
}

impl Pair<'_> {
    pub(super) fn is(&self, code: i32, value: &str) -> bool {
        self.code == code && self.value == value
    }

    /// Its value as a number.
    pub(super) fn number(&self) -> Result<f64, FileError> {
        match self.value.trim().parse::<f64>() {
            Ok(value) if value.is_finite() => Ok(value),
            _ => Err(FileError::BrokenLine {
                what: "a coordinate is not a number".into(),
                line: self.line,
            }),
        }
    }
}

/// The pairs of a text, up to its end mark.
pub(super) fn of_text(text: &str) -> Result<Vec<Pair<'_>>, FileError> {
    // Very old programs end a line by a carriage return alone.
    let separator = if text.contains('\n') { '\n' } else { '\r' };
    let text = text.strip_suffix(separator).unwrap_or(text);
    let mut lines = text.split(separator).enumerate();
    let mut pairs = Vec::new();
    while let Some((index, code)) = lines.next() {
        let code = code.trim();
        if code.is_empty() && lines.clone().all(|(_, rest)| rest.trim().is_empty()) {
            break;
        }
        let line = index + 1;
        let code = code.parse().map_err(|_| match index {
            0 => FileError::NotThis { wanted: "DXF".into() },
            _ => FileError::BrokenLine { what: "a group code is not a number".into(), line },
        })?;
        let Some((_, value)) = lines.next() else {
            return Err(FileError::BrokenLine { what: "the file breaks off".into(), line });
        };
        add(&mut pairs, Pair { code, value: Cow::Borrowed(value.trim()), line: line + 1 })?;
        if is_end(&pairs) {
            break;
        }
    }
    Ok(pairs)
}

fn add<'a>(pairs: &mut Vec<Pair<'a>>, pair: Pair<'a>) -> Result<(), FileError> {
    if pairs.len() >= MOST_PAIRS {
        return Err(FileError::TooMuch("it has more entities than are read".into()));
    }
    pairs.push(pair);
    Ok(())
}

fn is_end(pairs: &[Pair<'_>]) -> bool {
    pairs.last().is_some_and(|p| p.is(0, "EOF"))
}

/// The pairs of a binary file.
pub(super) fn of_binary<'a>(
    bytes: &'a [u8],
    decode: impl Fn(&'a [u8]) -> Cow<'a, str>,
) -> Result<Vec<Pair<'a>>, FileError> {
    let rest = bytes.get(SENTINEL.len()..).unwrap_or_default();
    // Before release 13 a code is one byte.
    let is_short = rest.get(1) == Some(&b'S');
    let mut input = Bytes { rest, is_short };
    let mut pairs = Vec::new();
    while !input.rest.is_empty() {
        let line = pairs.len() + 1;
        let broken = || FileError::BrokenLine { what: "the file breaks off".into(), line };
        let code = input.code().ok_or_else(broken)?;
        let value = input.value(code, &decode).ok_or_else(broken)?;
        add(&mut pairs, Pair { code, value, line })?;
        if is_end(&pairs) {
            break;
        }
    }
    Ok(pairs)
}

/// What is left to read of a binary file.
struct Bytes<'a> {
    rest: &'a [u8],
    is_short: bool,
}

impl<'a> Bytes<'a> {
    fn take(&mut self, count: usize) -> Option<&'a [u8]> {
        let (taken, rest) = self.rest.split_at_checked(count)?;
        self.rest = rest;
        Some(taken)
    }

    fn array<const N: usize>(&mut self) -> Option<[u8; N]> {
        self.take(N)?.try_into().ok()
    }

    fn code(&mut self) -> Option<i32> {
        if self.is_short {
            let [byte] = self.array()?;
            if byte != 255 {
                return Some(i32::from(byte));
            }
        }
        self.array().map(|bytes| i32::from(i16::from_le_bytes(bytes)))
    }

    /// A value as text: the type of a value follows from its code.
    fn value(
        &mut self,
        code: i32,
        decode: impl Fn(&'a [u8]) -> Cow<'a, str>,
    ) -> Option<Cow<'a, str>> {
        Some(match code {
            10..=59 | 110..=149 | 210..=239 | 460..=469 | 1010..=1059 => {
                f64::from_le_bytes(self.array()?).to_string().into()
            }
            60..=79 | 170..=179 | 270..=289 | 370..=389 | 400..=409 | 1060..=1070 => {
                i16::from_le_bytes(self.array()?).to_string().into()
            }
            90..=99 | 420..=429 | 440..=459 | 1071 => {
                i32::from_le_bytes(self.array()?).to_string().into()
            }
            160..=169 => i64::from_le_bytes(self.array()?).to_string().into(),
            290..=299 => {
                let [byte] = self.array()?;
                byte.to_string().into()
            }
            310..=319 | 1004 => {
                let [count] = self.array()?;
                self.take(usize::from(count))?;
                Cow::Borrowed("")
            }
            _ => {
                let end = self.rest.iter().position(|byte| *byte == 0)?;
                let text = self.take(end)?;
                self.take(1)?;
                decode(text)
            }
        })
    }
}

/// The first number of a code, or a default.
pub(super) fn first(pairs: &[Pair<'_>], code: i32, default: f64) -> Result<f64, FileError> {
    pairs.iter().find(|p| p.code == code).map_or(Ok(default), Pair::number)
}

/// All numbers of a code.
pub(super) fn all(pairs: &[Pair<'_>], code: i32) -> Result<Vec<f64>, FileError> {
    pairs.iter().filter(|p| p.code == code).map(Pair::number).collect()
}

/// The first text of a code; empty where there is none.
pub(super) fn text<'a>(pairs: &'a [Pair<'_>], code: i32) -> &'a str {
    pairs.iter().find(|p| p.code == code).map_or("", |p| p.value.as_ref())
}

/// The flags of a code.
pub(super) fn flags(pairs: &[Pair<'_>], code: i32) -> Result<i64, FileError> {
    Ok(first(pairs, code, 0.0)? as i64)
}
