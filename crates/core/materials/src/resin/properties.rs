//! The properties of one resin. A new property goes here, with its unit, its range and where the
//! figure comes from; the compiler then names every place that builds a resin.

use fondant_quantities::{Density, Money, Temperature, TemperatureDelta, Volume};
use serde::{Deserialize, Serialize};

use super::cure::{CureParameters, Viscosity};
use super::datasheet::Datasheet;
use super::error::{ResinError, within};
use super::mix::{MeasuredBy, MixRatio};

/// A resin's short name in plans and addresses, such as `slow-casting-epoxy`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct ResinId(pub String);

/// One resin as mixed from its two parts: what its datasheet and its class say.
// Many fields: a datasheet has them; each is one line of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Properties {
    /// Short name.
    pub id: ResinId,
    /// What it is, in the words of the trade.
    pub name: String,
    /// What kind of resin it is.
    pub class: ResinClass,
    /// One sentence on what it is for.
    pub purpose: String,
    /// How the parts go together.
    pub mix: MixRatio,
    /// How it may be measured out.
    pub measured_by: MeasuredBy,
    /// Density as mixed, before curing.
    #[serde(rename = "density_kg_m3")]
    pub density: Density,
    /// Heat capacity, J/(kg·K).
    pub heat_capacity_j_kg_k: f64,
    /// Thermal conductivity, W/(m·K).
    pub conductivity_w_m_k: f64,
    /// How fast it cures and what heat that gives.
    pub cure: CureParameters,
    /// Viscosity as a function of temperature and conversion.
    pub viscosity: Viscosity,
    /// Limits and working properties.
    pub working: Working,
    /// What its datasheet says, in the datasheet's own conditions.
    #[serde(rename = "sheet")]
    pub datasheet: Datasheet,
    /// What it is like once cured.
    pub cured: Cured,
    /// Hazards that the datasheet warns of.
    pub hazards: Vec<Hazard>,
    /// How it takes colour, in the datasheet's or the shop's words.
    pub colouring: String,
    /// Size and price of a kit.
    pub kit: Option<Kit>,
}

/// What kind of resin it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ResinClass {
    /// Epoxy for deep pours: thin, slow, a day and a night.
    SlowCasting,
    /// Epoxy for layers of a finger's depth.
    MediumCasting,
    /// Epoxy for small moulds, by volume 1:1.
    SmallBatch,
    /// Epoxy that sets within hours.
    FastCasting,
    /// Epoxy for thin coats.
    Coating,
    /// Two-part urethane: minutes.
    Urethane,
    /// Polyester with a catalyst.
    Polyester,
}

impl ResinClass {
    /// All of them, the commonest first.
    pub const ALL: [Self; 7] = [
        Self::SlowCasting,
        Self::MediumCasting,
        Self::Coating,
        Self::SmallBatch,
        Self::FastCasting,
        Self::Urethane,
        Self::Polyester,
    ];
}

/// What it is like once cured.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Cured {
    /// Hardness, Shore D.
    pub shore_d: f64,
    /// Resistance to sunlight.
    pub sunlight: Sunlight,
}

/// How a resin stands sunlight.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Sunlight {
    /// Ambers within months.
    Poor,
    /// Ambers within years.
    Fair,
    /// Hardly ambers.
    Good,
}

/// What to beware of. The safety sheet comes first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Hazard {
    /// Sensitises the skin.
    Sensitiser,
    /// Hardener burns skin and eyes.
    Corrosive,
    /// Isocyanate vapour.
    Isocyanate,
    /// Strong vapour.
    Vapour,
    /// Burns and flashes: no flame, no heat gun.
    Flammable,
    /// Foams with moisture.
    HatesMoisture,
}

/// How a resin is sold.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Kit {
    /// Mixed volume of one.
    #[serde(rename = "volume_m3")]
    pub volume: Volume,
    /// Price of one.
    pub price: Money,
}

/// Limits and margins of use. Conventions of this model, not measurements; the
/// resin's own datasheet comes first.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Working {
    /// No point of the casting should get hotter.
    #[serde(rename = "peak_limit_k")]
    pub peak_limit: Temperature,
    /// In the bucket, the pot life ends at this temperature.
    #[serde(rename = "pot_limit_k")]
    pub pot_limit: Temperature,
    /// Hard enough to leave the form: glass temperature above the surroundings by this.
    #[serde(rename = "demould_margin_k")]
    pub demould_margin: TemperatureDelta,
    /// Fully cured: glass temperature above the mean air by this.
    #[serde(rename = "full_margin_k")]
    pub full_margin: TemperatureDelta,
    /// Coldest shop for curing.
    #[serde(rename = "coldest_k")]
    pub coldest: Temperature,
    /// Warmest shop for curing.
    #[serde(rename = "warmest_k")]
    pub warmest: Temperature,
    /// Highest relative humidity, percent.
    pub humidity_max_percent: f64,
}

impl Properties {
    /// Whether every figure is one that a resin can have, wherever the record
    /// came from. Within these ranges the model stays within its own.
    ///
    /// # Errors
    /// [`ResinError::Impossible`] with the first figure that is not.
    pub fn check(&self) -> Result<(), ResinError> {
        let (cure, flow, work) = (&self.cure, &self.viscosity, &self.working);
        let rise = self.cure.heat_j_kg / self.heat_capacity_j_kg_k;
        // Half cured at 20 °C within minutes to months.
        let k = |a: f64, e: f64| a * (-e / (8.314 * 293.15)).exp();
        let rate = k(cure.a1_per_s, cure.e1_j_mol) + k(cure.a2_per_s, cure.e2_j_mol);
        let figures = [
            ("part A by mass", self.mix.a_by_mass, 0.1, 1000.0),
            ("part B by mass", self.mix.b_by_mass, 0.1, 1000.0),
            ("density of A", self.mix.density_a.kg_m3(), 700.0, 2000.0),
            ("density of B", self.mix.density_b.kg_m3(), 700.0, 2000.0),
            ("density", self.density.kg_m3(), 700.0, 2000.0),
            ("heat capacity", self.heat_capacity_j_kg_k, 800.0, 3500.0),
            ("conductivity", self.conductivity_w_m_k, 0.05, 2.0),
            ("heat of cure", cure.heat_j_kg, 5e4, 6e5),
            ("rise without loss", rise, 20.0, 260.0),
            ("activation energy E1", cure.e1_j_mol, 2e4, 1.5e5),
            ("activation energy E2", cure.e2_j_mol, 2e4, 1.5e5),
            ("rate at 20 °C", rate, 1e-8, 0.1),
            ("order m", cure.order_m, 0.3, 4.0),
            ("order n", cure.order_n, 0.5, 4.0),
            ("glass temperature uncured", cure.tg_uncured_k, 150.0, 290.0),
            ("glass temperature cured", cure.tg_cured_k, 290.0, 480.0),
            ("glass shape", cure.tg_lambda, 0.05, 1.0),
            ("glass width", cure.glass_width_k, 1.0, 30.0),
            ("glass shift", cure.glass_shift_k, -30.0, 40.0),
            ("conversion at the gel", cure.gel_conversion, 0.05, 0.9),
            ("fresh viscosity", flow.fresh_pa_s, 0.01, 200.0),
            ("activation of flow", flow.activation_j_mol, 0.0, 2e5),
            ("viscosity's reference", flow.reference_k, 250.0, 350.0),
            ("viscosity exponent a", flow.exponent_a, 0.0, 10.0),
            ("viscosity exponent b", flow.exponent_b, -10.0, 10.0),
            ("viscosity of the pot life", flow.pot_limit_pa_s, 0.02, 2000.0),
            ("peak limit", work.peak_limit.k(), 310.0, 400.0),
            ("pot limit", work.pot_limit.k(), 295.0, 400.0),
            ("demould margin", work.demould_margin.k(), 0.0, 60.0),
            ("full margin", work.full_margin.k(), 0.0, 80.0),
            ("coldest shop", work.coldest.k(), 270.0, 320.0),
            ("warmest shop", work.warmest.k(), 270.0, 330.0),
            ("humidity", work.humidity_max_percent, 10.0, 100.0),
            ("hardness", self.cured.shore_d, 10.0, 100.0),
        ];
        for (what, found, from, to) in figures {
            within(what, found, from, to)?;
        }
        if self.name.trim().is_empty() || self.name.chars().count() > 80 {
            return Err(ResinError::Unnamed);
        }
        Ok(())
    }

    /// Rise of temperature on complete cure without any loss.
    #[must_use]
    pub fn adiabatic_rise(&self) -> TemperatureDelta {
        TemperatureDelta::from_k(self.cure.heat_j_kg / self.heat_capacity_j_kg_k)
    }
}
