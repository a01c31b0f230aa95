//! Air and resin at the pour, and the depth that the maker asks for.

use fondant_heat::cooling::Cooling;
use fondant_quantities::{Length, Mass, Span, Temperature, TemperatureDelta};
use serde::{Deserialize, Serialize};

/// Where the air of the pours comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum AirFrom {
    /// Steady, as the plan says.
    #[default]
    Steady,
    /// The shop's, by day and night.
    Shop,
}

/// Air and resin at the pour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Conditions {
    /// The air, steady; where it is the shop's own, its mean over the first days.
    #[serde(rename = "air_k")]
    pub air: Temperature,
    /// Where the air of the pours comes from.
    #[serde(default)]
    pub air_from: AirFrom,
    /// A heater makes the shop's own air warmer by this.
    #[serde(rename = "heated_k", default)]
    pub heated: TemperatureDelta,
    /// A dehumidifier keeps the air of the pours at or below this humidity, percent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dried_to_percent: Option<f64>,
    /// Resin when it is mixed.
    #[serde(rename = "resin_k")]
    pub resin: Temperature,
    /// How the pour is kept cool.
    #[serde(default)]
    pub cooling: Cooling,
    /// What is mixed in one bucket.
    #[serde(rename = "bucket_kg", default = "usual_bucket")]
    pub bucket: Mass,
    /// How long it stands there before the pour.
    #[serde(rename = "waits_s", default)]
    pub waits: Span,
}

const fn usual_bucket() -> Mass {
    Mass::from_kg(2.0)
}

impl Conditions {
    /// Steady air, resin just mixed, nothing to keep it cool.
    #[must_use]
    pub fn steady(air: Temperature, resin: Temperature) -> Self {
        Self {
            air,
            air_from: AirFrom::Steady,
            heated: TemperatureDelta::ZERO,
            dried_to_percent: None,
            resin,
            cooling: Cooling::default(),
            bucket: usual_bucket(),
            waits: Span::ZERO,
        }
    }
}

/// The deepest layer that the maker wants to pour. Deeper than datasheet, rule
/// and model allow, it counts only with a reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DepthOverride {
    /// The depth.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Why it may be deeper than they allow; empty where it is not.
    pub reason: String,
}
