//! The record of one resin. A new property goes here, with its unit, its range
//! and where the figure comes from; the compiler then names every place that
//! builds a resin.

use serde::{Deserialize, Serialize};

use crate::quantities::{Density, Temperature, TemperatureDelta};

/// A resin's short name in plans and addresses, such as `slow-casting-epoxy`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct ResinId(pub String);

/// One resin, as mixed from its two parts.
#[derive(Debug, Clone, PartialEq)]
pub struct Resin {
    /// Short name.
    pub id: ResinId,
    /// What it is, in the words of the trade.
    pub name: String,
    /// One sentence on what it is for.
    pub purpose: String,
    /// How the parts go together.
    pub mix: MixRatio,
    /// Density as mixed, before curing.
    pub density: Density,
    /// Heat capacity, J/(kg·K).
    pub heat_capacity_j_kg_k: f64,
    /// Thermal conductivity, W/(m·K).
    pub conductivity_w_m_k: f64,
    /// How fast it cures and what heat that gives.
    pub cure: CureParameters,
    /// How it thickens.
    pub viscosity: Viscosity,
    /// What it tolerates.
    pub working: Working,
}

/// The two parts of a resin by mass, and their densities.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MixRatio {
    /// Parts of A by mass.
    pub a_by_mass: f64,
    /// Parts of B by mass.
    pub b_by_mass: f64,
    /// Density of part A.
    pub density_a: Density,
    /// Density of part B.
    pub density_b: Density,
}

/// Parameters of the autocatalytic cure model with a glass effect.
///
/// Rate: `(k1 + k2 α^m)(1 − α)^n / (1 + exp((Tg(α) − T − shift) / width))` with
/// `k = A exp(−E / RT)`; form of M. R. Kamal and S. Sourour, *Polymer
/// Engineering and Science* 13 (1973) 59–64. Glass temperature:
/// `Tg(α) = Tg0 + (Tg∞ − Tg0) λα / (1 − (1 − λ)α)`, J. P. Pascault and
/// R. J. J. Williams, *J. Polymer Science B* 28 (1990) 85–95.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CureParameters {
    /// Frequency factor of the uncatalysed reaction, 1/s.
    pub a1_per_s: f64,
    /// Its activation energy, J/mol.
    pub e1_j_mol: f64,
    /// Frequency factor of the autocatalytic reaction, 1/s.
    pub a2_per_s: f64,
    /// Its activation energy, J/mol.
    pub e2_j_mol: f64,
    /// Order of autocatalysis, m.
    pub order_m: f64,
    /// Order of reaction, n.
    pub order_n: f64,
    /// Heat of complete cure, J per kg of mixed resin.
    pub heat_j_kg: f64,
    /// Glass temperature of the uncured mix, K.
    pub tg_uncured_k: f64,
    /// Glass temperature at complete cure, K.
    pub tg_cured_k: f64,
    /// Shape λ of the rise of the glass temperature.
    pub tg_lambda: f64,
    /// Width of the slow-down near the glass, K.
    pub glass_width_k: f64,
    /// Shift of the slow-down, K: the rate halves at Tg = T + shift.
    pub glass_shift_k: f64,
    /// Conversion at which it gels, 0…1.
    pub gel_conversion: f64,
}

/// Viscosity as it cures: `η0 exp(E/R (1/T − 1/T0)) (αg / (αg − α))^(a + bα)`,
/// J. M. Castro and C. W. Macosko, *AIChE Journal* 28 (1982) 250–260.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Viscosity {
    /// Fresh mix at the reference temperature, Pa·s.
    pub fresh_pa_s: f64,
    /// Activation energy of flow, J/mol.
    pub activation_j_mol: f64,
    /// Reference temperature, K.
    pub reference_k: f64,
    /// Exponent a.
    pub exponent_a: f64,
    /// Exponent b.
    pub exponent_b: f64,
    /// Above this it can no longer be poured well, Pa·s.
    pub pot_limit_pa_s: f64,
}

/// Limits and margins of use. Conventions of this model, not measurements; the
/// resin's own datasheet comes first.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Working {
    /// No point of the casting should get hotter.
    pub peak_limit: Temperature,
    /// In the bucket, the pot life ends at this temperature.
    pub pot_limit: Temperature,
    /// Hard enough to leave the form: glass temperature above the surroundings by this.
    pub demould_margin: TemperatureDelta,
    /// Fully cured: glass temperature above the mean air by this.
    pub full_margin: TemperatureDelta,
    /// Coldest shop for curing.
    pub coldest: Temperature,
    /// Warmest shop for curing.
    pub warmest: Temperature,
    /// Highest relative humidity, percent.
    pub humidity_max_percent: f64,
}

/// Why two parts make no resin.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ResinError {
    /// No resin of that short name.
    #[error("There is no resin called “{0}” on the shelf. Choose one on the Resin page.")]
    Unknown(String),
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

impl Resin {
    /// Rise of temperature on complete cure without any loss.
    #[must_use]
    pub fn adiabatic_rise(&self) -> TemperatureDelta {
        TemperatureDelta::from_k(self.cure.heat_j_kg / self.heat_capacity_j_kg_k)
    }
}
