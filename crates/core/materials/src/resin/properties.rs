//! The record of one resin. A new property goes here, with its unit, its range
//! and where the figure comes from; the compiler then names every place that
//! builds a resin.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Density, Length, Mass, Span, Temperature, TemperatureDelta, Volume};

/// A resin's short name in plans and addresses, such as `slow-casting-epoxy`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct ResinId(pub String);

/// One resin, as mixed from its two parts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Resin {
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
    #[serde(default)]
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
    /// How it thickens.
    pub viscosity: Viscosity,
    /// What it tolerates.
    pub working: Working,
    /// What its datasheet says, in the datasheet's own conditions.
    #[serde(default)]
    pub sheet: Sheet,
    /// What it is like once cured.
    pub cured: Cured,
    /// What to beware of.
    #[serde(default)]
    pub hazards: Vec<Hazard>,
    /// How it takes colour, in the datasheet's or the shop's words.
    #[serde(default)]
    pub colouring: String,
    /// How it is sold.
    #[serde(default)]
    pub kit: Option<Kit>,
    /// What a reading of the shop's own has taught about it.
    #[serde(default)]
    pub learnt: Option<Learnt>,
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

/// How a resin may be measured out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum MeasuredBy {
    /// By weight or by volume.
    #[default]
    Either,
    /// By weight only.
    Weight,
    /// By volume only.
    Volume,
}

/// What a datasheet says. Every time comes with the conditions that it was
/// measured in: without them it says nothing.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Sheet {
    /// How long a mass of it can be poured.
    #[serde(default)]
    pub pot_life: Option<InBucket>,
    /// When a layer of it has turned from liquid to sticky.
    #[serde(default)]
    pub tacky: Option<InLayer>,
    /// When a layer of it can leave the form.
    #[serde(default)]
    pub demould: Option<InLayer>,
    /// When a layer of it is fully cured.
    #[serde(default)]
    pub full_cure: Option<InLayer>,
    /// The deepest single layer it allows.
    #[serde(default)]
    pub deepest: Option<DeepestAllowed>,
    /// What the shop itself pours at most, by its own rule of thumb.
    #[serde(rename = "rule_of_thumb_m", default)]
    pub rule_of_thumb: Option<Length>,
}

/// A time of a mass in a bucket.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct InBucket {
    /// The time.
    #[serde(rename = "after_s")]
    pub after: Span,
    /// The mass it was measured with.
    #[serde(rename = "mass_kg")]
    pub mass: Mass,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}

/// A time of a layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct InLayer {
    /// The time.
    #[serde(rename = "after_s")]
    pub after: Span,
    /// The thickness it was measured at.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}

/// A depth that a datasheet allows.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct DeepestAllowed {
    /// The depth.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}

/// What it is like once cured.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Cured {
    /// Hardness, Shore D.
    pub shore_d: f64,
    /// How it stands sunlight.
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
    /// Price of one, in whatever the shop pays with.
    pub price: f64,
}

/// What a temperature log of the shop's own has taught about a resin: factors on
/// the generic rate and heat, as far as the log settles them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Learnt {
    /// Factor on both frequency factors.
    pub rate: f64,
    /// Factor on the heat of cure.
    pub heat: f64,
    /// Variances of the natural logarithms of rate and heat, and their covariance.
    pub covariance: [f64; 3],
    /// The lot it was read with.
    pub lot: String,
    /// When.
    pub at: jiff::Timestamp,
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

/// Parameters of the autocatalytic cure model with a glass effect.
///
/// Rate: `(k1 + k2 α^m)(1 − α)^n / (1 + exp((Tg(α) − T − shift) / width))` with
/// `k = A exp(−E / RT)`; form of M. R. Kamal and S. Sourour, *Polymer
/// Engineering and Science* 13 (1973) 59–64. Glass temperature:
/// `Tg(α) = Tg0 + (Tg∞ − Tg0) λα / (1 − (1 − λ)α)`, J. P. Pascault and
/// R. J. J. Williams, *J. Polymer Science B* 28 (1990) 85–95.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
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

/// Why two parts make no resin.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ResinError {
    /// A figure beyond what any resin has.
    #[error("{what} is {found}; a resin has {from} to {to}. Check the file.")]
    Impossible {
        /// The figure.
        what: &'static str,
        /// What it is.
        found: f64,
        /// The least it can be.
        from: f64,
        /// The most.
        to: f64,
    },
    /// No name, or one beyond a line.
    #[error("it has no name, or one of more than 80 letters. Check the file.")]
    Unnamed,
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
    /// The resin with what has been learnt put into its rate and heat.
    #[must_use]
    pub fn as_learnt(&self) -> Self {
        let mut resin = self.clone();
        if let Some(learnt) = &self.learnt {
            resin.cure.a1_per_s *= learnt.rate;
            resin.cure.a2_per_s *= learnt.rate;
            resin.cure.heat_j_kg *= learnt.heat;
        }
        resin
    }

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
            if !(from..=to).contains(&found) {
                return Err(ResinError::Impossible { what, found, from, to });
            }
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
