//! How a resin is mixed and measured out.

use fondant_quantities::Density;
use serde::{Deserialize, Serialize};

/// How a resin may be measured out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum MeasuredBy {
    /// By weight or by volume.
    #[default]
    Either,
    /// By mass only.
    Weight,
    /// By volume only.
    Volume,
}

/// The two parts of a resin by mass, and their densities.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct MixRatio {
    /// Parts of A by mass.
    pub a_by_mass: f64,
    /// Parts of B by mass.
    pub b_by_mass: f64,
    /// Density of part A.
    #[serde(rename = "density_a_kg_m3")]
    pub density_a: Density,
    /// Density of part B.
    #[serde(rename = "density_b_kg_m3")]
    pub density_b: Density,
}

impl MixRatio {
    /// Share of the mixed mass that is part A, 0…1.
    #[must_use]
    pub fn share_a_by_mass(&self) -> f64 {
        self.a_by_mass / (self.a_by_mass + self.b_by_mass)
    }

    /// Volume of part B for one volume of part A.
    #[must_use]
    pub fn b_per_a_by_volume(&self) -> f64 {
        (self.b_by_mass / self.density_b.kg_m3()) / (self.a_by_mass / self.density_a.kg_m3())
    }

    /// Density of the mix where volumes add up (no shrinkage).
    #[must_use]
    pub fn mixed_density(&self) -> Density {
        let volume =
            self.a_by_mass / self.density_a.kg_m3() + self.b_by_mass / self.density_b.kg_m3();
        Density::from_kg_m3((self.a_by_mass + self.b_by_mass) / volume)
    }
}
