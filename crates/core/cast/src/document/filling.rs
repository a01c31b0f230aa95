//! Other ways of measuring, and how the resin is bought.

use fondant_quantities::{Money, Volume};
use fondant_shapes::volume::methods::Method;
use serde::{Deserialize, Serialize};

/// Other ways of measuring, and which one is believed.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Checks {
    /// Bulk of rice or sand that filled the form to the boards' faces, the
    /// boards lying on its floor.
    #[serde(rename = "dry_fill_m3", default, skip_serializing_if = "Option::is_none")]
    pub dry_fill: Option<Volume>,
    /// The one that is believed; `None` for the one that is drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<Method>,
}

/// How the resin is sold and what is already open.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Buying {
    /// Mixed volume of one kit.
    #[serde(rename = "kit_m3")]
    pub kit: Volume,
    /// Price of one kit.
    pub price: Money,
    /// Mixed volume that opened stock still gives.
    #[serde(rename = "opened_m3")]
    pub opened: Volume,
}

impl Default for Buying {
    fn default() -> Self {
        Self { kit: Volume::from_l(3.0), price: Money::ZERO, opened: Volume::ZERO }
    }
}
