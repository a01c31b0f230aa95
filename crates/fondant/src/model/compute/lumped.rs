//! Batches of one temperature throughout.

use fondant_heat::bucket::LumpedMoment;
use fondant_heat::cure::viscosity_pa_s;
use fondant_heat::{Bucket, Lumped};
use fondant_materials::resin::Calibrated;
use fondant_quantities::{Mass, Temperature};
use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::case::{CaseError, DAY_S, HORIZON_S, celsius};

#[derive(Deserialize)]
pub(super) struct AdiabaticInputs {
    #[serde(rename = "T0_C")]
    t0_c: f64,
    #[serde(default)]
    alpha0: f64,
}

pub(super) fn adiabatic(resin: &Calibrated, inputs: &AdiabaticInputs) -> Result<Value, CaseError> {
    let start = Temperature::from_celsius(inputs.t0_c);
    let batch = || Lumped::new(resin, Bucket::ADIABATIC, start.k(), inputs.alpha0);
    let mut outputs = Map::new();
    for celsius in [30, 40, 50, 60, 80, 100] {
        let threshold_k = Temperature::from_celsius(f64::from(celsius)).k();
        // A batch that starts at the threshold never crosses it.
        let at = if start.k() >= threshold_k {
            None
        } else {
            batch().run_until(30.0 * DAY_S, |m| m.temperature_k >= threshold_k)?
        };
        outputs.insert(format!("t_to_{celsius}C_s"), json!(at));
    }
    let gel = batch().run_until(30.0 * DAY_S, |m| m.conversion >= resin.cure.gel_conversion)?;
    outputs.insert("t_gel_s".into(), json!(gel));
    let mut run = batch();
    let mut fastest = run.now();
    run.run(30.0 * DAY_S, |m| {
        if m.warming_k_s > fastest.warming_k_s {
            fastest = m;
        }
    })?;
    outputs.insert("dTdt_max_K_per_s".into(), json!(fastest.warming_k_s));
    outputs.insert("t_dTdt_max_s".into(), json!(fastest.t_s));
    outputs.insert("T_end_30d_C".into(), json!(celsius(run.now().temperature_k)));
    outputs.insert("alpha_end_30d".into(), json!(run.now().conversion));
    outputs.insert("dT_adiabatic_full_K".into(), json!(resin.adiabatic_rise().k()));
    Ok(Value::Object(outputs))
}

#[derive(Deserialize)]
pub(super) struct CupInputs {
    mass_kg: f64,
    #[serde(rename = "T_amb_C")]
    t_amb_c: f64,
    #[serde(rename = "T0_C")]
    t0_c: f64,
    #[serde(default)]
    alpha0: f64,
    h_film: f64,
    eta_limit: f64,
    #[serde(rename = "T_limit_pot_C")]
    t_limit_pot_c: f64,
}

pub(super) fn cup(resin: &Calibrated, inputs: &CupInputs) -> Result<Value, CaseError> {
    let air = Temperature::from_celsius(inputs.t_amb_c);
    let bucket = Bucket::as_high_as_wide(resin, Mass::from_kg(inputs.mass_kg), air, inputs.h_film);
    let t0_k = Temperature::from_celsius(inputs.t0_c).k();
    let batch = || Lumped::new(resin, bucket, t0_k, inputs.alpha0);
    let first = |holds: &dyn Fn(LumpedMoment) -> bool| batch().run_until(HORIZON_S, holds);
    let mut run = batch();
    let mut hottest = run.now();
    run.run(HORIZON_S, |m| {
        if m.temperature_k > hottest.temperature_k {
            hottest = m;
        }
    })?;
    let limit_k = Temperature::from_celsius(inputs.t_limit_pot_c).k();
    let gel = first(&|m| m.conversion >= resin.cure.gel_conversion)?;
    let thick =
        first(&|m| viscosity_pa_s(resin, m.conversion, m.temperature_k) >= inputs.eta_limit)?;
    let warm = first(&|m| m.temperature_k >= limit_k)?;
    let pot = [thick, warm].into_iter().flatten().reduce(f64::min);
    Ok(json!({
        "T_peak_C": celsius(hottest.temperature_k),
        "t_peak_s": hottest.t_s,
        "t_gel_s": gel,
        "t_visc_s": thick,
        "t_Tlim_s": warm,
        "t_pot_s": pot,
    }))
}
