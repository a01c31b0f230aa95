//! The files of cases and resins. SI units; names that end in `_C` are degrees
//! Celsius, conversions are 0…1.

use std::collections::BTreeMap;

use fondant_materials::resin::{
    Calibrated, CureParameters, Cured, Datasheet, MeasuredBy, MixRatio, Properties, ResinClass,
    ResinId, Sunlight, Viscosity, Working,
};
use fondant_quantities::{Density, Temperature, TemperatureDelta};
use serde::Deserialize;

/// A file of cases.
#[derive(Debug, Deserialize)]
pub(crate) struct CaseFile {
    /// Name of the file of resins beside this one.
    #[serde(default = "default_resins")]
    pub(crate) resins: String,
    /// The cases.
    pub(crate) cases: Vec<Case>,
}

fn default_resins() -> String {
    "resins.json".to_owned()
}

/// One case: what goes in and, for a check, what should come out.
#[derive(Debug, Deserialize)]
pub(crate) struct Case {
    /// Id of the case.
    pub(crate) id: String,
    /// Kind of computation, such as `slab`.
    pub(crate) kind: String,
    /// What goes in, by kind.
    pub(crate) inputs: serde_json::Value,
    /// Expected values by name, or by layer and name.
    #[serde(default)]
    pub(crate) outputs: BTreeMap<String, Expected>,
}

/// An expected value, or those of one layer.
#[derive(Debug, Deserialize)]
#[serde(untagged)]
pub(crate) enum Expected {
    /// One value; `null` where the event does not happen.
    Value {
        /// The converged value.
        value: Option<f64>,
        /// How far a solver may be off.
        tol: Option<f64>,
    },
    /// Values of a layer.
    Group(BTreeMap<String, Expected>),
    /// A yes or no.
    Fact(bool),
}

/// A file of resins by letter.
#[derive(Debug, Deserialize)]
pub(crate) struct ResinFile {
    classes: BTreeMap<String, ResinRecord>,
}

impl ResinFile {
    /// The resin of a letter.
    pub(crate) fn find(&self, letter: &str) -> Option<Calibrated> {
        self.classes.get(letter).map(ResinRecord::resin)
    }
}

#[derive(Debug, Deserialize)]
#[allow(non_snake_case, reason = "the names of the file")]
// Many fields: those of the file.
struct ResinRecord {
    id: String,
    name: String,
    mix_mass: [f64; 2],
    rho_A: f64,
    rho_B: f64,
    rho: f64,
    A1: f64,
    E1: f64,
    A2: f64,
    E2: f64,
    m: f64,
    n: f64,
    H: f64,
    cp: f64,
    k: f64,
    Tg0: f64,
    Tginf: f64,
    lam: f64,
    wd: f64,
    dTd: f64,
    alpha_gel: f64,
    eta0: f64,
    E_eta: f64,
    T_eta: f64,
    eta_a: f64,
    eta_b: f64,
    eta_pot: f64,
    T_pot_C: f64,
    M_demould: f64,
    M_full: f64,
    T_limit_C: f64,
    T_work_min_C: f64,
    T_work_max_C: f64,
    RH_max: f64,
}

impl ResinRecord {
    fn resin(&self) -> Calibrated {
        Calibrated::of_class(self.properties())
    }

    fn properties(&self) -> Properties {
        Properties {
            id: ResinId(self.id.clone()),
            name: self.name.clone(),
            class: ResinClass::SlowCasting,
            purpose: String::new(),
            measured_by: MeasuredBy::Either,
            mix: MixRatio {
                a_by_mass: self.mix_mass[0],
                b_by_mass: self.mix_mass[1],
                density_a: Density::from_kg_m3(self.rho_A),
                density_b: Density::from_kg_m3(self.rho_B),
            },
            density: Density::from_kg_m3(self.rho),
            heat_capacity_j_kg_k: self.cp,
            conductivity_w_m_k: self.k,
            cure: CureParameters {
                a1_per_s: self.A1,
                e1_j_mol: self.E1,
                a2_per_s: self.A2,
                e2_j_mol: self.E2,
                order_m: self.m,
                order_n: self.n,
                heat_j_kg: self.H,
                tg_uncured_k: self.Tg0,
                tg_cured_k: self.Tginf,
                tg_lambda: self.lam,
                glass_width_k: self.wd,
                glass_shift_k: self.dTd,
                gel_conversion: self.alpha_gel,
            },
            viscosity: Viscosity {
                fresh_pa_s: self.eta0,
                activation_j_mol: self.E_eta,
                reference_k: self.T_eta,
                exponent_a: self.eta_a,
                exponent_b: self.eta_b,
                pot_limit_pa_s: self.eta_pot,
            },
            working: Working {
                peak_limit: Temperature::from_celsius(self.T_limit_C),
                pot_limit: Temperature::from_celsius(self.T_pot_C),
                demould_margin: TemperatureDelta::from_k(self.M_demould),
                full_margin: TemperatureDelta::from_k(self.M_full),
                coldest: Temperature::from_celsius(self.T_work_min_C),
                warmest: Temperature::from_celsius(self.T_work_max_C),
                humidity_max_percent: self.RH_max,
            },
            datasheet: Datasheet::default(),
            cured: Cured { shore_d: 80.0, sunlight: Sunlight::Fair },
            hazards: Vec::new(),
            colouring: String::new(),
            kit: None,
        }
    }
}
