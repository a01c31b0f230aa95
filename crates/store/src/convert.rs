//! Core types and column types. Times are chrono's only here.

use chrono::{DateTime, Utc};
use jiff::Timestamp;
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::StoreError;

/// To a column; PostgreSQL keeps microseconds.
pub(crate) fn to_column(moment: Timestamp) -> Result<DateTime<Utc>, StoreError> {
    DateTime::from_timestamp_micros(moment.as_microsecond())
        .ok_or_else(|| StoreError::Corrupt(format!("{moment} is not a date")))
}

/// Converts a timestamp of a database column.
pub(crate) fn from_column(moment: DateTime<Utc>) -> Result<Timestamp, StoreError> {
    Timestamp::from_microsecond(moment.timestamp_micros())
        .map_err(|error| StoreError::Corrupt(error.to_string()))
}

/// To a JSONB column.
pub(crate) fn to_json(value: &impl Serialize) -> Result<Value, StoreError> {
    serde_json::to_value(value).map_err(|error| StoreError::Corrupt(error.to_string()))
}

/// From a JSONB column.
pub(crate) fn from_json<T: DeserializeOwned>(value: &Value) -> Result<T, StoreError> {
    T::deserialize(value).map_err(|error| StoreError::Corrupt(error.to_string()))
}
