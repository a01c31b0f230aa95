//! Boards, what is hollow in them, what lies beside them in the resin, and
//! the river between them.
//!
//! - this file: a board
//! - [`river`]: the river's width by stations along its length
//! - [`cavity`]: knots, cracks, milled pockets and channels
//! - [`insert`]: objects embedded in the resin

pub mod cavity;
pub mod insert;
pub mod river;

pub use cavity::{Cavity, CavityShape};
pub use insert::{Insert, InsertShape};
pub use river::{River, RiverError, Station};

use serde::{Deserialize, Serialize};

use crate::geometry::Outline;
use crate::geometry::ruled::{Ruled, Underside};
use fondant_quantities::{Absorption, Density, Length, Mass};

/// Timber above this moisture moves, bubbles and blooms in resin, percent.
pub const DRY_ENOUGH_PERCENT: f64 = 12.0;
/// Absorption of an unsealed live edge of timber of medium density.
pub const USUAL_ABSORPTION: Absorption = Absorption::from_ml_m2(100.0);

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
    /// Absorption of its bare edges; 0 where they are sealed.
    #[serde(rename = "absorption_ml_m2", default)]
    pub absorption: Absorption,
    /// Mass by a scale, where it was weighed.
    #[serde(rename = "weighed_kg", default, skip_serializing_if = "Option::is_none")]
    pub weighed: Option<Mass>,
    /// Its shape where it lies in the form; `None` where stations tell it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shape: Option<BoardShape>,
}

/// A board's shape, in the coordinates of the form.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct BoardShape {
    /// Outline of the upper face.
    pub outline: Outline,
    /// How the underside follows from the upper face.
    #[serde(default)]
    pub underside: Underside,
}

impl BoardShape {
    /// With square edges.
    #[must_use]
    pub fn square(outline: Outline) -> Self {
        Self { outline, underside: Underside::Same }
    }

    /// The solid between upper face and underside.
    #[must_use]
    pub fn ruled(&self) -> Ruled {
        Ruled::new(&self.outline, &self.underside)
    }
}

impl Board {
    /// Ash of a thickness, dry, with open edges.
    #[must_use]
    pub fn usual(thickness: Length) -> Self {
        Self {
            timber: "ash".into(),
            thickness,
            density: Density::from_kg_m3(650.0),
            moisture_percent: 9.0,
            absorption: USUAL_ABSORPTION,
            weighed: None,
            shape: None,
        }
    }

    /// Whether it is dry enough to be cast.
    #[must_use]
    pub fn is_dry(&self) -> bool {
        self.moisture_percent <= DRY_ENOUGH_PERCENT
    }
}
