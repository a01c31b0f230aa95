//! Layers of resin on a form board.

use fondant_heat::bucket::BUCKET_FILM_W_M2K;
use fondant_heat::{
    Accuracy, Air, Bucket, Deepest, Goal, LayerEvents, Lumped, Poured, Stack, Surroundings,
    deepest_layer,
};
use fondant_materials::resin::Calibrated;
use fondant_quantities::{Mass, Temperature};
use serde::Deserialize;
use serde_json::{Map, Value, json};

use super::case::{CaseError, HORIZON_S, celsius, kelvin};
use crate::model::schema::ResinFile;

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
            air: Air::Steady(kelvin(self.t_amb_c)),
            top_film_w_m2k: self.h_top,
            base_resistance_m2k_w: self.r_base,
            under_k: None,
            side_loss_w_m3k: 0.0,
            then: None,
        }
    }
}

#[derive(Deserialize)]
pub(super) struct SlabInputs {
    depth_m: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(flatten)]
    column: Column,
}

pub(super) fn slab(resin: &Calibrated, inputs: &SlabInputs) -> Result<Value, CaseError> {
    let column = &inputs.column;
    let mut stack = Stack::new(resin, column.surroundings(), &Accuracy::default());
    stack.pour(inputs.depth_m, kelvin(inputs.t_pour_c), column.alpha0)?;
    stack.run(HORIZON_S, Goal::Full)?;
    Ok(stack.top().map_or(Value::Null, layer))
}

#[derive(Deserialize)]
pub(super) struct LayersInputs {
    depths_m: Vec<f64>,
    t_pour_s: Vec<f64>,
    #[serde(rename = "T_pour_C")]
    t_pour_c: Vec<f64>,
    #[serde(flatten)]
    column: Column,
}

pub(super) fn layers(resin: &Calibrated, inputs: &LayersInputs) -> Result<Value, CaseError> {
    let column = &inputs.column;
    let mut stack = Stack::new(resin, column.surroundings(), &Accuracy::default());
    let pours = inputs.depths_m.iter().zip(&inputs.t_pour_c).zip(&inputs.t_pour_s);
    for ((depth_m, t_pour_c), at_s) in pours {
        if *at_s > 0.0 {
            stack.run(*at_s, Goal::Time)?;
        }
        stack.pour(*depth_m, kelvin(*t_pour_c), column.alpha0)?;
    }
    stack.run(HORIZON_S, Goal::Full)?;
    Ok(of_layers(&stack))
}

#[derive(Deserialize)]
pub(super) struct MixedInputs {
    layers: Vec<MixedLayer>,
    #[serde(flatten)]
    column: Column,
}

/// One layer of a column of several resins.
#[derive(Deserialize)]
struct MixedLayer {
    resin: String,
    depth_m: f64,
    t_pour_s: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(default)]
    alpha0: f64,
}

pub(super) fn mixed(resins: &ResinFile, inputs: &MixedInputs) -> Result<Value, CaseError> {
    let find = |letter: &str| resins.find(letter).ok_or_else(|| CaseError::Resin(letter.into()));
    let first = inputs.layers.first().ok_or(fondant_heat::HeatError::Empty)?;
    let around = inputs.column.surroundings();
    let mut stack = Stack::new(&find(&first.resin)?, around, &Accuracy::default());
    for layer in &inputs.layers {
        if layer.t_pour_s > 0.0 {
            stack.run(layer.t_pour_s, Goal::Time)?;
        }
        let resin = find(&layer.resin)?;
        stack.pour_of(&resin, layer.depth_m, kelvin(layer.t_pour_c), layer.alpha0)?;
    }
    stack.run(HORIZON_S, Goal::Full)?;
    Ok(of_layers(&stack))
}

fn of_layers(stack: &Stack) -> Value {
    let mut outputs = Map::new();
    for (index, events) in stack.layers().enumerate() {
        outputs.insert(format!("layer{}", index + 1), layer(events));
    }
    let (peak_k, peak_s) = stack.peak().unwrap_or_default();
    outputs.insert("T_peak_C".into(), json!(celsius(peak_k)));
    outputs.insert("t_peak_s".into(), json!(peak_s));
    Value::Object(outputs)
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
pub(super) struct MaxDepthInputs {
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(rename = "T_limit_C")]
    t_limit_c: f64,
    #[serde(flatten)]
    column: Column,
}

pub(super) fn max_depth(resin: &Calibrated, inputs: &MaxDepthInputs) -> Result<Value, CaseError> {
    let deepest = deepest_layer(
        resin,
        &inputs.column.surroundings(),
        Poured::fresh(kelvin(inputs.t_pour_c)),
        kelvin(inputs.t_limit_c),
        &Accuracy::default(),
    )?;
    let depth_m = match deepest {
        Deepest::Limited { depth_m } => Some(depth_m),
        Deepest::Beyond { .. } | Deepest::None { .. } => None,
    };
    Ok(json!({ "depth_max_m": depth_m }))
}

#[derive(Deserialize)]
pub(super) struct DayNightInputs {
    depth_m: f64,
    #[serde(rename = "T_amb_mean_C")]
    mean_c: f64,
    #[serde(rename = "T_amb_amp_C")]
    amplitude_c: f64,
    phase_rad: f64,
    #[serde(rename = "T_pour_C")]
    t_pour_c: f64,
    #[serde(default)]
    alpha0: f64,
    h_top: f64,
    #[serde(rename = "R_base")]
    r_base: f64,
}

pub(super) fn day_night(resin: &Calibrated, inputs: &DayNightInputs) -> Result<Value, CaseError> {
    let surroundings = Surroundings {
        air: Air::DayNight {
            mean_k: kelvin(inputs.mean_c),
            amplitude_k: inputs.amplitude_c,
            phase_rad: inputs.phase_rad,
        },
        top_film_w_m2k: inputs.h_top,
        base_resistance_m2k_w: inputs.r_base,
        under_k: None,
        side_loss_w_m3k: 0.0,
        then: None,
    };
    let mut stack = Stack::new(resin, surroundings, &Accuracy::default());
    stack.pour(inputs.depth_m, kelvin(inputs.t_pour_c), inputs.alpha0)?;
    stack.run(HORIZON_S, Goal::Hard)?;
    Ok(stack.top().map_or(Value::Null, layer))
}

#[derive(Deserialize)]
pub(super) struct PreAgedInputs {
    depth_m: f64,
    bucket_mass_kg: f64,
    delay_s: f64,
    #[serde(rename = "T_mix_C")]
    t_mix_c: f64,
    #[serde(flatten)]
    column: Column,
}

pub(super) fn pre_aged(resin: &Calibrated, inputs: &PreAgedInputs) -> Result<Value, CaseError> {
    let column = &inputs.column;
    let air = Temperature::from_celsius(column.t_amb_c);
    let mass = Mass::from_kg(inputs.bucket_mass_kg);
    let bucket = Bucket::as_high_as_wide(resin, mass, air, BUCKET_FILM_W_M2K);
    let mut batch = Lumped::new(resin, bucket, kelvin(inputs.t_mix_c), 0.0);
    batch.run(inputs.delay_s, |_| {})?;
    let aged = batch.now();
    let mut stack = Stack::new(resin, column.surroundings(), &Accuracy::default());
    stack.pour(inputs.depth_m, aged.temperature_k, aged.conversion)?;
    stack.run(HORIZON_S, Goal::Full)?;
    let mut outputs = stack.top().map_or(Value::Null, layer);
    outputs["T_transfer_C"] = json!(celsius(aged.temperature_k));
    outputs["alpha_transfer"] = json!(aged.conversion);
    Ok(outputs)
}
