//! The generic resins that come with Fondant.
//!
//! Plausible stand-ins for their class, each fitted to a handful of typical
//! times and temperatures (pot life, gel, peak, demould). None is a product; a
//! datasheet or a reading of the shop's own beats every figure here. Prices are
//! examples without a currency.

use fondant_quantities::{Density, Money, Temperature, TemperatureDelta, Volume};

use super::calibrated::Calibrated;
use super::cure::{CureParameters, Viscosity};
use super::datasheet::Datasheet;
use super::error::ResinError;
use super::mix::{MeasuredBy, MixRatio};
use super::properties::{Cured, Hazard, Kit, Properties, ResinClass, ResinId, Sunlight, Working};
use super::record::Record;

/// Short name of the slow casting epoxy, the choice for a new cast.
pub const SLOW_CASTING: &str = "slow-casting-epoxy";
/// Short name of the medium casting epoxy, for small deep pockets and moulds.
pub const MEDIUM_CASTING: &str = "medium-casting-epoxy";
/// Short name of the small-batch casting epoxy.
pub const SMALL_BATCH: &str = "small-batch-casting-epoxy";
/// Short name of the fast casting epoxy.
pub const FAST_CASTING: &str = "fast-casting-epoxy";
/// Short name of the coating epoxy.
pub const COATING: &str = "coating-epoxy";
/// Short name of the casting urethane.
pub const URETHANE: &str = "casting-urethane";
/// Short name of the polyester casting resin.
pub const POLYESTER: &str = "polyester-casting-resin";

/// The resins that ship, the commonest first.
#[must_use]
pub fn all() -> Vec<Record> {
    ResinClass::ALL.map(generic).to_vec()
}

/// The generic resin of a class.
#[must_use]
pub fn generic(class: ResinClass) -> Record {
    Record::uncalibrated(match class {
        ResinClass::SlowCasting => slow_casting(),
        ResinClass::MediumCasting => medium_casting(),
        ResinClass::SmallBatch => small_batch(),
        ResinClass::FastCasting => fast_casting(),
        ResinClass::Coating => coating(),
        ResinClass::Urethane => urethane(),
        ResinClass::Polyester => polyester(),
    })
}

/// The generic resin of a class as the model runs on it.
#[must_use]
pub fn model(class: ResinClass) -> Calibrated {
    generic(class).generic()
}

/// The resins that ship as the model runs on them, the commonest first.
#[must_use]
pub fn models() -> Vec<Calibrated> {
    ResinClass::ALL.map(model).to_vec()
}

/// The generic resin of a short name.
///
/// # Errors
/// [`ResinError::Unknown`].
pub fn find(id: &ResinId) -> Result<Record, ResinError> {
    all().into_iter().find(|resin| resin.id == *id).ok_or_else(|| ResinError::Unknown(id.0.clone()))
}

fn slow_casting() -> Properties {
    Properties {
        id: ResinId(SLOW_CASTING.into()),
        name: "slow casting epoxy, 2:1 by volume".into(),
        class: ResinClass::SlowCasting,
        purpose: "Thin and slow: deep rivers and blocks, a night and a day between layers.".into(),
        mix: mix(100.0, 45.0, 1138.0, 1024.0),
        measured_by: MeasuredBy::Either,
        density: Density::from_kg_m3(1100.0),
        heat_capacity_j_kg_k: 2000.0,
        conductivity_w_m_k: 0.22,
        cure: CureParameters {
            a1_per_s: 5335.3,
            e1_j_mol: 48_000.0,
            a2_per_s: 946.26,
            e2_j_mol: 45_000.0,
            order_m: 0.8,
            order_n: 2.3,
            heat_j_kg: 250_000.0,
            tg_uncured_k: 240.0,
            tg_cured_k: 339.8,
            tg_lambda: 0.618,
            glass_width_k: 4.13,
            glass_shift_k: 12.24,
            gel_conversion: 0.5,
        },
        viscosity: viscosity(0.45, 45_000.0, 3.0),
        working: working(65.0, 45.0, 15.0, 30.0, 70.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 80.0, sunlight: Sunlight::Fair },
        hazards: vec![Hazard::Sensitiser, Hazard::Corrosive],
        colouring: "Powders, pastes and dyes for epoxy, a little at a time.".into(),
        kit: Some(Kit { volume: Volume::from_l(6.0), price: Money::from_units(150.0) }),
    }
}

fn medium_casting() -> Properties {
    Properties {
        id: ResinId(MEDIUM_CASTING.into()),
        name: "medium casting epoxy, 100:60 by mass".into(),
        class: ResinClass::MediumCasting,
        purpose: "Layers of a finger's depth, the next one within the working day.".into(),
        mix: mix(100.0, 60.0, 1140.0, 980.0),
        measured_by: MeasuredBy::Weight,
        density: Density::from_kg_m3(1074.2),
        heat_capacity_j_kg_k: 1850.0,
        conductivity_w_m_k: 0.2,
        cure: CureParameters {
            a1_per_s: 38_734.0,
            e1_j_mol: 52_000.0,
            a2_per_s: 10_399.0,
            e2_j_mol: 50_000.0,
            order_m: 0.9,
            order_n: 2.0,
            heat_j_kg: 300_000.0,
            tg_uncured_k: 230.4,
            tg_cured_k: 343.6,
            tg_lambda: 0.522,
            glass_width_k: 3.96,
            glass_shift_k: 9.97,
            gel_conversion: 0.56,
        },
        viscosity: viscosity(0.8, 50_000.0, 3.5),
        working: working(55.0, 42.0, 16.0, 30.0, 70.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 82.0, sunlight: Sunlight::Fair },
        hazards: vec![Hazard::Sensitiser, Hazard::Corrosive],
        colouring: "Powders, pastes and dyes for epoxy, a little at a time.".into(),
        kit: Some(Kit { volume: Volume::from_l(3.0), price: Money::from_units(75.0) }),
    }
}

fn small_batch() -> Properties {
    Properties {
        id: ResinId(SMALL_BATCH.into()),
        name: "small-batch casting epoxy, 1:1 by volume".into(),
        class: ResinClass::SmallBatch,
        purpose: "Small moulds and pockets, measured in cups.".into(),
        mix: mix(100.0, 86.96, 1150.0, 1000.0),
        measured_by: MeasuredBy::Either,
        density: Density::from_kg_m3(1075.0),
        heat_capacity_j_kg_k: 1850.0,
        conductivity_w_m_k: 0.2,
        cure: CureParameters {
            a1_per_s: 83_210.0,
            e1_j_mol: 52_000.0,
            a2_per_s: 6003.0,
            e2_j_mol: 48_000.0,
            order_m: 1.4,
            order_n: 1.8,
            heat_j_kg: 255_000.0,
            tg_uncured_k: 235.2,
            tg_cured_k: 338.1,
            tg_lambda: 0.5,
            glass_width_k: 5.0,
            glass_shift_k: 8.0,
            gel_conversion: 0.56,
        },
        viscosity: viscosity(0.9, 50_000.0, 4.0),
        working: working(70.0, 52.0, 18.0, 30.0, 70.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 80.0, sunlight: Sunlight::Fair },
        hazards: vec![Hazard::Sensitiser, Hazard::Corrosive],
        colouring: "Powders, pastes and dyes for epoxy, a little at a time.".into(),
        kit: Some(Kit { volume: Volume::from_l(1.0), price: Money::from_units(32.0) }),
    }
}

fn fast_casting() -> Properties {
    Properties {
        id: ResinId(FAST_CASTING.into()),
        name: "fast casting epoxy, 1:1 by volume".into(),
        class: ResinClass::FastCasting,
        purpose: "Thin castings out of the form the next day. It spikes within two hours.".into(),
        mix: mix(100.0, 86.84, 1140.0, 990.0),
        measured_by: MeasuredBy::Either,
        density: Density::from_kg_m3(1065.0),
        heat_capacity_j_kg_k: 1900.0,
        conductivity_w_m_k: 0.21,
        cure: CureParameters {
            a1_per_s: 113_450.0,
            e1_j_mol: 54_000.0,
            a2_per_s: 30_459.0,
            e2_j_mol: 52_000.0,
            order_m: 1.0,
            order_n: 2.3,
            heat_j_kg: 285_000.0,
            tg_uncured_k: 228.9,
            tg_cured_k: 342.4,
            tg_lambda: 0.46,
            glass_width_k: 8.0,
            glass_shift_k: 10.21,
            gel_conversion: 0.55,
        },
        viscosity: viscosity(0.6, 50_000.0, 3.0),
        working: working(90.0, 50.0, 18.0, 32.0, 70.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 83.0, sunlight: Sunlight::Fair },
        hazards: vec![Hazard::Sensitiser, Hazard::Corrosive],
        colouring: "Powders, pastes and dyes for epoxy, a little at a time.".into(),
        kit: Some(Kit { volume: Volume::from_l(2.0), price: Money::from_units(58.0) }),
    }
}

fn coating() -> Properties {
    Properties {
        id: ResinId(COATING.into()),
        name: "coating epoxy, 1:1 by volume".into(),
        class: ResinClass::Coating,
        purpose: "Thick and quick: for seal coats and flood coats.".into(),
        mix: mix(100.0, 85.22, 1150.0, 980.0),
        measured_by: MeasuredBy::Either,
        density: Density::from_kg_m3(1065.0),
        heat_capacity_j_kg_k: 1800.0,
        conductivity_w_m_k: 0.2,
        cure: CureParameters {
            a1_per_s: 64_068.0,
            e1_j_mol: 52_000.0,
            a2_per_s: 40_794.0,
            e2_j_mol: 50_000.0,
            order_m: 0.9,
            order_n: 2.0,
            heat_j_kg: 280_000.0,
            tg_uncured_k: 236.6,
            tg_cured_k: 329.1,
            tg_lambda: 0.499,
            glass_width_k: 6.82,
            glass_shift_k: 11.6,
            gel_conversion: 0.55,
        },
        viscosity: viscosity(3.0, 55_000.0, 10.0),
        working: working(60.0, 50.0, 18.0, 30.0, 75.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 84.0, sunlight: Sunlight::Good },
        hazards: vec![Hazard::Sensitiser, Hazard::Corrosive],
        colouring: "Powders, pastes and dyes for epoxy, a little at a time.".into(),
        kit: Some(Kit { volume: Volume::from_l(2.0), price: Money::from_units(60.0) }),
    }
}

fn urethane() -> Properties {
    Properties {
        id: ResinId(URETHANE.into()),
        name: "casting urethane, 1:1 by mass".into(),
        class: ResinClass::Urethane,
        purpose: "Minutes of open time: tube blanks and small parts under pressure.".into(),
        mix: mix(100.0, 100.0, 1080.0, 1020.0),
        measured_by: MeasuredBy::Weight,
        density: Density::from_kg_m3(1049.1),
        heat_capacity_j_kg_k: 1950.0,
        conductivity_w_m_k: 0.2,
        cure: CureParameters {
            a1_per_s: 45_007.0,
            e1_j_mol: 46_000.0,
            a2_per_s: 48_966.0,
            e2_j_mol: 45_000.0,
            order_m: 0.8,
            order_n: 2.2,
            heat_j_kg: 250_000.0,
            tg_uncured_k: 225.5,
            tg_cured_k: 349.1,
            tg_lambda: 0.414,
            glass_width_k: 5.36,
            glass_shift_k: 6.13,
            gel_conversion: 0.65,
        },
        viscosity: viscosity(0.12, 35_000.0, 1.5),
        working: working(80.0, 70.0, 18.0, 30.0, 50.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 75.0, sunlight: Sunlight::Poor },
        hazards: vec![Hazard::Isocyanate, Hazard::Sensitiser, Hazard::HatesMoisture],
        colouring: "Dyes and dry powders; anything with water in it foams.".into(),
        kit: Some(Kit { volume: Volume::from_l(1.0), price: Money::from_units(34.0) }),
    }
}

fn polyester() -> Properties {
    Properties {
        id: ResinId(POLYESTER.into()),
        name: "polyester casting resin, 1.5 % catalyst".into(),
        class: ResinClass::Polyester,
        purpose: "Cheap, brittle and clear in thin layers. Flammable, with a strong vapour.".into(),
        mix: mix(100.0, 1.5, 1121.0, 1120.0),
        measured_by: MeasuredBy::Weight,
        density: Density::from_kg_m3(1121.0),
        heat_capacity_j_kg_k: 1900.0,
        conductivity_w_m_k: 0.18,
        cure: CureParameters {
            a1_per_s: 7_471_200.0,
            e1_j_mol: 62_000.0,
            a2_per_s: 1_216_600.0,
            e2_j_mol: 60_000.0,
            order_m: 1.2,
            order_n: 1.6,
            heat_j_kg: 260_000.0,
            tg_uncured_k: 215.2,
            tg_cured_k: 358.1,
            tg_lambda: 0.45,
            glass_width_k: 6.0,
            glass_shift_k: 8.0,
            gel_conversion: 0.2,
        },
        viscosity: Viscosity { exponent_a: 1.2, ..viscosity(0.45, 40_000.0, 1.5) },
        working: working(90.0, 55.0, 18.0, 28.0, 75.0),
        datasheet: Datasheet::default(),
        cured: Cured { shore_d: 85.0, sunlight: Sunlight::Poor },
        hazards: vec![Hazard::Flammable, Hazard::Vapour, Hazard::Corrosive],
        colouring: "Pastes made for polyester; others may stop its cure.".into(),
        kit: Some(Kit { volume: Volume::from_l(5.0), price: Money::from_units(55.0) }),
    }
}

fn mix(a_by_mass: f64, b_by_mass: f64, a_kg_m3: f64, b_kg_m3: f64) -> MixRatio {
    MixRatio {
        a_by_mass,
        b_by_mass,
        density_a: Density::from_kg_m3(a_kg_m3),
        density_b: Density::from_kg_m3(b_kg_m3),
    }
}

fn viscosity(fresh_pa_s: f64, activation_j_mol: f64, pot_limit_pa_s: f64) -> Viscosity {
    Viscosity {
        fresh_pa_s,
        activation_j_mol,
        reference_k: 298.15,
        exponent_a: 1.5,
        exponent_b: 1.0,
        pot_limit_pa_s,
    }
}

fn working(
    peak_limit_c: f64,
    pot_limit_c: f64,
    coldest_c: f64,
    warmest_c: f64,
    humidity_max_percent: f64,
) -> Working {
    Working {
        peak_limit: Temperature::from_celsius(peak_limit_c),
        pot_limit: Temperature::from_celsius(pot_limit_c),
        demould_margin: TemperatureDelta::from_k(10.0),
        full_margin: TemperatureDelta::from_k(20.0),
        coldest: Temperature::from_celsius(coldest_c),
        warmest: Temperature::from_celsius(warmest_c),
        humidity_max_percent,
    }
}

#[cfg(test)]
mod tests;
