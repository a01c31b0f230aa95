//! Boards and the river between them.
//!
//! - this file: a board
//! - [`river`]: the river's width by stations along its length

pub mod river;

pub use river::{River, RiverError, Station};

use serde::{Deserialize, Serialize};

use crate::quantities::{Density, Length};

/// Timber above this moisture moves, bubbles and blooms in resin, percent.
pub const DRY_ENOUGH_PERCENT: f64 = 12.0;

/// A board as it goes into the form.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Board {
    /// Kind of timber, in the maker's words; may be empty.
    pub timber: String,
    /// Thickness.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// Density as it is, at its moisture.
    #[serde(rename = "density_kg_m3")]
    pub density: Density,
    /// Moisture by a meter, percent of the dry mass.
    pub moisture_percent: f64,
}

impl Board {
    /// Whether it is dry enough to be cast.
    #[must_use]
    pub fn is_dry(&self) -> bool {
        self.moisture_percent <= DRY_ENOUGH_PERCENT
    }
}
