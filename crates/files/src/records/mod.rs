//! What Fondant writes so that another workshop has the same: JSON that says what it is and of which
//! version.
//!
//! - [`archive`]: a cast with all that happened to it and its photos
//! - [`cast`]: a cast with the resins that it names
//! - [`resin`]: a resin
//! - [`whole`]: a workshop with all its casts
//! - `unzip`: files out of a ZIP, within bounds

pub mod archive;
pub mod cast;
pub mod resin;
mod unzip;
pub mod whole;

use serde::{Deserialize, Serialize};
use serde_json::Value;

/// Why a file is not what was asked for.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize, Deserialize)]
pub enum NotARecord {
    /// It is not JSON, or something in it is of another kind.
    #[error("{0}")]
    Unreadable(String),
    /// It is JSON of another kind.
    #[error("it does not say that it is what was asked for")]
    OtherFormat,
    /// It was written by a newer version.
    #[error("it is of version {found}; up to {known} is read")]
    Newer {
        /// Version of the file or of what is in it.
        found: u32,
        /// Newest version that is read.
        known: u32,
    },
    /// A field that no version has.
    #[error("it has a field {0} that is not known")]
    UnknownField(String),
    /// What it tells cannot have been, or something of it is missing.
    #[error("it has {0}")]
    CannotBe(String),
}

impl From<serde_json::Error> for NotARecord {
    fn from(error: serde_json::Error) -> Self {
        Self::Unreadable(error.to_string())
    }
}

/// The version that a field says; 0 where it says none.
fn version(value: Option<&Value>) -> u32 {
    value.and_then(Value::as_u64).map_or(0, |version| u32::try_from(version).unwrap_or(u32::MAX))
}

/// Refuses a version that is not known yet.
fn no_newer(found: u32, known: u32) -> Result<(), NotARecord> {
    if found > known { Err(NotARecord::Newer { found, known }) } else { Ok(()) }
}

/// Refuses a field of what was given that is not in what was understood and written again. A field
/// that holds nothing is left out when it is written.
fn all_known(given: &Value, kept: &Value) -> Result<(), NotARecord> {
    match unknown("", given, kept) {
        Some(field) => Err(NotARecord::UnknownField(field)),
        None => Ok(()),
    }
}

fn unknown(path: &str, given: &Value, kept: &Value) -> Option<String> {
    match (given, kept) {
        (Value::Object(given), Value::Object(kept)) => given.iter().find_map(|(name, value)| {
            let path = if path.is_empty() { name.clone() } else { format!("{path}.{name}") };
            match kept.get(name) {
                Some(kept) => unknown(&path, value, kept),
                None if is_nothing(value) => None,
                None => Some(path),
            }
        }),
        (Value::Array(given), Value::Array(kept)) if given.len() == kept.len() => {
            given.iter().zip(kept).enumerate().find_map(|(index, (given, kept))| {
                unknown(&format!("{path}[{index}]"), given, kept)
            })
        }
        _ => None,
    }
}

fn is_nothing(value: &Value) -> bool {
    match value {
        Value::Null | Value::Bool(false) => true,
        Value::Number(number) => number.as_f64() == Some(0.0),
        Value::String(text) => text.is_empty(),
        Value::Array(items) => items.iter().all(is_nothing),
        Value::Object(fields) => fields.values().all(is_nothing),
        Value::Bool(true) => false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn a_field_that_is_not_known_is_named_with_its_place() {
        let kept = json!({"a": 1, "list": [{"b": 2}, {"b": 3}]});
        let given = json!({"a": 1, "list": [{"b": 2}, {"b": 3, "colour": "red"}]});
        assert_eq!(unknown("", &given, &kept).as_deref(), Some("list[1].colour"));
        let nothing = json!({"a": 1, "list": [], "holes": [], "note": "", "shift": [0.0, 0]});
        assert_eq!(unknown("", &nothing, &kept), None);
    }
}
