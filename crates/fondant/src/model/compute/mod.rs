//! From the inputs of a case to its outputs.
//!
//! - [`lumped`]: batches of one temperature
//! - [`columns`]: layers, with steady or changing air
//! - [`fields`]: sections and blocks

mod columns;
mod fields;
mod lumped;

use fondant_heat::HeatError;
use fondant_quantities::Temperature;
use serde_json::Value;

use super::schema::{Case, ResinFile};

const DAY_S: f64 = 86_400.0;
/// Slabs, layers and cups are followed for so long.
const HORIZON_S: f64 = 14.0 * DAY_S;

/// Why a case could not be computed.
#[derive(Debug, thiserror::Error)]
pub(crate) enum CaseError {
    /// The inputs are not those of the kind.
    #[error("its inputs: {0}")]
    Inputs(#[from] serde_json::Error),
    /// No such resin in the file of resins.
    #[error("there is no resin “{0}” in the resins file")]
    Resin(String),
    /// The model refused.
    #[error(transparent)]
    Heat(#[from] HeatError),
}

/// The outputs by name, or `None` for a kind that is not known.
pub(crate) fn compute(case: &Case, resins: &ResinFile) -> Result<Option<Value>, CaseError> {
    let resin = || {
        let letter = case.inputs.get("resin").and_then(Value::as_str).unwrap_or_default();
        resins.find(letter).ok_or_else(|| CaseError::Resin(letter.to_owned()))
    };
    Ok(Some(match case.kind.as_str() {
        "adiabatic" => lumped::adiabatic(&resin()?, &inputs(case)?)?,
        "cup" => lumped::cup(&resin()?, &inputs(case)?)?,
        "slab" => columns::slab(&resin()?, &inputs(case)?)?,
        "layers" => columns::layers(&resin()?, &inputs(case)?)?,
        "daynight" => columns::day_night(&resin()?, &inputs(case)?)?,
        "preage" => columns::pre_aged(&resin()?, &inputs(case)?)?,
        "maxdepth" => columns::max_depth(&resin()?, &inputs(case)?)?,
        "river" => fields::river(&resin()?, &inputs(case)?)?,
        "block" => fields::block(&resin()?, &inputs(case)?)?,
        "block-max" => fields::largest_cube(&resin()?, &inputs(case)?)?,
        _ => return Ok(None),
    }))
}

fn inputs<T: serde::de::DeserializeOwned>(case: &Case) -> Result<T, CaseError> {
    Ok(T::deserialize(&case.inputs)?)
}

/// Kelvins of a temperature in °C.
fn kelvin(celsius: f64) -> f64 {
    Temperature::from_celsius(celsius).k()
}

fn celsius(k: f64) -> f64 {
    Temperature::from_k(k).celsius()
}
