//! From the inputs of a case to its outputs.
//!
//! - [`case`]: what all kinds share
//! - [`lumped`]: batches of one temperature
//! - [`columns`]: layers, with steady or changing air
//! - [`fields`]: sections and blocks

mod case;
mod columns;
mod fields;
mod lumped;

use serde_json::Value;

use super::schema::{Case, ResinFile};

pub(crate) use case::CaseError;

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
        "mixed" => columns::mixed(resins, &inputs(case)?)?,
        "daynight" => columns::day_night(&resin()?, &inputs(case)?)?,
        "preage" => columns::pre_aged(&resin()?, &inputs(case)?)?,
        "maxdepth" => columns::max_depth(&resin()?, &inputs(case)?)?,
        "river" => fields::river(&resin()?, &inputs(case)?)?,
        "block" => fields::block(&resin()?, &inputs(case)?)?,
        "block-insert" => fields::block_with_insert(&resin()?, &inputs(case)?)?,
        "block-max" => fields::largest_cube(&resin()?, &inputs(case)?)?,
        _ => return Ok(None),
    }))
}

fn inputs<T: serde::de::DeserializeOwned>(case: &Case) -> Result<T, CaseError> {
    Ok(T::deserialize(&case.inputs)?)
}
