//! What the kinds of cases share.

use fondant_heat::HeatError;
use fondant_quantities::Temperature;

pub(super) const DAY_S: f64 = 86_400.0;
/// Longest time that slabs, layers and cups are simulated, s.
pub(super) const HORIZON_S: f64 = 14.0 * DAY_S;

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

/// Kelvins of a temperature in °C.
pub(super) fn kelvin(celsius: f64) -> f64 {
    Temperature::from_celsius(celsius).k()
}

pub(super) fn celsius(k: f64) -> f64 {
    Temperature::from_k(k).celsius()
}
