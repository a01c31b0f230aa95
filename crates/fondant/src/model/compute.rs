//! From the inputs of a case to its outputs.

use fondant_core::cure::viscosity_pa_s;
use fondant_core::heat::lumped::LumpedMoment;
use fondant_core::heat::{
    Accuracy, Bucket, Deepest, Goal, HeatError, LayerEvents, Lumped, Stack, Surroundings,
    deepest_layer,
};
use fondant_core::quantities::{Mass, Temperature};
use fondant_core::resin::Resin;
use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::schema::{Case, ResinFile};

const DAY_S: f64 = 86_400.0;
/// Slabs, layers and cups are followed for so long.
const HORIZON_S: f64 = 14.0 * DAY_S;

/// Why a case could not be computed.
#[derive(Debug, thiserror::Error)]
pub(crate) enum CaseError {
    /// The inputs are not those of the kind.
    #[error("its inputs: {0}")]
    Inputs(#[from] serde_json::Error),
    /// No such resin in the file of resins.
    #[error("there is no resin “{0}” in the resins file")]
    Resin(String),
    /// The model refused.
    #[error(transparent)]
    Heat(#[from] HeatError),
}

/// The outputs by name, or `None` for a kind that is not known.
pub(crate) fn compute(case: &Case, resins: &ResinFile) -> Result<Option<Value>, CaseError> {
    let resin = || {
        let letter = case.inputs.get("resin").and_then(Value::as_str).unwrap_or_default();
        resins.find(letter).ok_or_else(|| CaseError::Resin(letter.to_owned()))
    };
    Ok(Some(match case.kind.as_str() {
        "adiabatic" => adiabatic(&resin()?, &inputs(case)?)?,
        "cup" => cup(&resin()?, &inputs(case)?)?,
        "slab" => slab(&resin()?, &inputs(case)?)?,
        "layers" => layers(&resin()?, &inputs(case)?)?,
        "maxdepth" => max_depth(&resin()?, &inputs(case)?)?,
        _ => return Ok(None),
    }))
}

fn inputs<T: serde::de::DeserializeOwned>(case: &Case) -> Result<T, CaseError> {
    Ok(T::deserialize(&case.inputs)?)
}

#[derive(Deserialize)]
struct AdiabaticInputs {
    #[serde(rename = "T0_C")]
    t0_c: f64,
    #[serde(default)]
    alpha0: f64,
}

fn adiabatic(resin: &Resin, inputs: &AdiabaticInputs) -> Result<Value, CaseError> {
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
struct CupInputs {
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

fn cup(resin: &Resin, inputs: &CupInputs) -> Result<Value, CaseError> {
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

#[derive(Deserialize)]
struct Column {
    #[serde(rename = "T_amb_C")]
    t_amb_c: f64,
    #[serde(default)]
    alpha0: f64,
    h_top: f64,
    #[serde(rename = "R_base")]
    r_base: f64,
}

impl Column {
    fn surroundings(&self) -> Surroundings {
        Surroundings {
            air_k: Temperature::from_celsius(self.t_amb_c).k(),
            top_film_w_m2k: self.h_top,
            base_resistance_m2k_w: self.r_base,
        }
    }
}

#[derive(Deserialize)]
struct SlabInputs {
    depth_m: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(flatten)]
    column: Column,
}

fn slab(resin: &Resin, inputs: &SlabInputs) -> Result<Value, CaseError> {
    let column = &inputs.column;
    let mut stack = Stack::new(resin, column.surroundings(), Accuracy::default());
    let pour = Temperature::from_celsius(inputs.t_pour_c);
    stack.pour(inputs.depth_m, pour.k(), column.alpha0)?;
    stack.run(HORIZON_S, Goal::Full)?;
    Ok(stack.top().map_or(Value::Null, layer))
}

#[derive(Deserialize)]
struct LayersInputs {
    depths_m: Vec<f64>,
    t_pour_s: Vec<f64>,
    #[serde(rename = "T_pour_C")]
    t_pour_c: Vec<f64>,
    #[serde(flatten)]
    column: Column,
}

fn layers(resin: &Resin, inputs: &LayersInputs) -> Result<Value, CaseError> {
    let column = &inputs.column;
    let mut stack = Stack::new(resin, column.surroundings(), Accuracy::default());
    let pours = inputs.depths_m.iter().zip(&inputs.t_pour_c).zip(&inputs.t_pour_s);
    for ((depth_m, t_pour_c), at_s) in pours {
        if *at_s > 0.0 {
            stack.run(*at_s, Goal::Time)?;
        }
        stack.pour(*depth_m, Temperature::from_celsius(*t_pour_c).k(), column.alpha0)?;
    }
    stack.run(HORIZON_S, Goal::Full)?;
    let mut outputs = Map::new();
    for (index, events) in stack.layers().enumerate() {
        outputs.insert(format!("layer{}", index + 1), layer(events));
    }
    let (peak_k, peak_s) = stack.peak().unwrap_or_default();
    outputs.insert("T_peak_C".into(), json!(celsius(peak_k)));
    outputs.insert("t_peak_s".into(), json!(peak_s));
    Ok(Value::Object(outputs))
}

fn layer(events: &LayerEvents) -> Value {
    json!({
        "T_peak_C": celsius(events.peak_k),
        "t_peak_s": events.peak_s,
        "peak_pos": events.peak_height_ratio,
        "t_gel_first_s": events.first_gel_s,
        "t_open_s": events.opens_s,
        "t_close_s": events.closes_s,
        "t_demould_s": events.hard_s,
        "t_full_s": events.full_s,
    })
}

#[derive(Deserialize)]
struct MaxDepthInputs {
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(rename = "T_limit_C")]
    t_limit_c: f64,
    #[serde(flatten)]
    column: Column,
}

fn max_depth(resin: &Resin, inputs: &MaxDepthInputs) -> Result<Value, CaseError> {
    let deepest = deepest_layer(
        resin,
        inputs.column.surroundings(),
        Temperature::from_celsius(inputs.t_pour_c).k(),
        Temperature::from_celsius(inputs.t_limit_c).k(),
        Accuracy::default(),
    )?;
    let depth_m = match deepest {
        Deepest::Limited { depth_m } => Some(depth_m),
        Deepest::Beyond { .. } | Deepest::None { .. } => None,
    };
    Ok(json!({ "depth_max_m": depth_m }))
}

fn celsius(k: f64) -> f64 {
    Temperature::from_k(k).celsius()
}
