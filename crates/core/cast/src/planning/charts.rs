//! Charts of a cast's heat: peak against depth and wait, the deepest layer by air and resin.

use fondant_heat::cooling::Cooling;
use fondant_heat::{Accuracy, Air, Deepest, HeatError, Poured, deepest_layer};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::bounds::AIR_MODELLED;
use fondant_quantities::{Length, Span, Temperature};

use crate::document::{Conditions, Document};
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::bulk::peak;
use crate::heat::conditions::{poured, surroundings};

/// Points of the curve of peak against depth: smooth to the eye at 330 px.
const DEPTH_POINTS: usize = 22;

/// Peak of a single pour at a depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DepthPoint {
    /// Depth of the pour.
    pub depth: Length,
    /// Peak temperature.
    pub peak: Temperature,
}

/// The peak of single pours of rising depth, from a few millimetres to well
/// past both the whole depth and the deepest layer, for drawing.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn peak_by_depth(
    inputs: &Inputs,
    evaluation: &Evaluation,
    stop: &Stop,
) -> Result<Vec<DepthPoint>, HeatError> {
    let conditions = inputs.site.in_mean_air(&inputs.document).conditions;
    let depth = evaluation.measured.filling().depth_in_one();
    let heat = &evaluation.heat;
    let deepest_m = heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
    let reach_m = (depth.m() * 1.6).max(deepest_m * 1.25).min(0.3);
    let accuracy = Accuracy::default().until(stop);
    (1..=DEPTH_POINTS)
        .map(|index| {
            let depth = Length::from_m(reach_m * (index as f64 / DEPTH_POINTS as f64));
            let around = surroundings(&conditions).with_sides(heat.losses.at(depth));
            let peak = peak(&evaluation.resin, around, heat.poured, depth, &accuracy)?;
            Ok(DepthPoint { depth, peak })
        })
        .collect()
}

/// The deepest single layer for a range of air and resin temperatures.
#[derive(Debug, Clone, PartialEq)]
pub struct DepthMap {
    /// Air, K, rising.
    pub air_k: Vec<f64>,
    /// Resin at the pour, K, rising.
    pub resin_k: Vec<f64>,
    /// By resin, then air: the deepest layer, m; 0 where none is safe.
    pub depth_m: Vec<Vec<f64>>,
}

/// The map of deepest layers, with a way of cooling and sides that take `side_loss` W/(m³·K), as at
/// the deepest layer of the plan. It takes about half a millisecond a cell.
#[must_use]
pub fn depth_map(
    (cooling, side_loss): (Cooling, f64),
    resin: &Calibrated,
    air_k: &[f64],
    resin_k: &[f64],
    stop: &Stop,
) -> DepthMap {
    let limit_k = resin.working.peak_limit.k();
    let accuracy = Accuracy::default().until(stop);
    let row = |pour_k: &f64| {
        air_k
            .iter()
            .map(|air_k| {
                let air = Air::Steady(*air_k);
                let around = cooling.surroundings(air).with_sides(side_loss);
                deepest_layer(resin, &around, Poured::fresh(*pour_k), limit_k, &accuracy)
                    .map_or(0.0, |found| found.safe_m())
            })
            .collect()
    };
    let depth_m = resin_k.iter().map(row).collect();
    DepthMap { air_k: air_k.to_vec(), resin_k: resin_k.to_vec(), depth_m }
}

/// The peak of a layer that is poured of resin in some state, as of a bucket that has stood.
/// `document` is in the mean of its air.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn peak_of(
    (document, evaluation): (&Document, &Evaluation),
    resin: &Calibrated,
    depth: Length,
    poured: Poured,
    stop: &Stop,
) -> Result<Temperature, HeatError> {
    if !AIR_MODELLED.contains(&poured.t_k) {
        return Ok(Temperature::from_k(poured.t_k));
    }
    let losses = evaluation.heat.losses.at(depth);
    let around = surroundings(&document.conditions).with_sides(losses);
    peak(resin, around, poured, depth, &Accuracy::default().until(stop))
}

/// The peak of the whole depth after waits in the bucket.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn peak_by_wait(
    inputs: &Inputs,
    evaluation: &Evaluation,
    waits: &[Span],
    stop: &Stop,
) -> Result<Vec<(Span, Temperature)>, HeatError> {
    let conditions = inputs.site.in_mean_air(&inputs.document).conditions;
    let accuracy = Accuracy::default().until(stop);
    let main = evaluation.measured.filling().depth_in_one();
    let depth = main.min(evaluation.heat.allowed.max(Length::from_mm(1.0)));
    waits
        .iter()
        .map(|wait| {
            let conditions = Conditions { waits: *wait, ..conditions };
            let poured = poured(&conditions, evaluation.batch, &evaluation.resin, stop)?;
            // A bucket that runs away is the hottest there will be: nothing is poured of it.
            if !AIR_MODELLED.contains(&poured.t_k) {
                return Ok((*wait, Temperature::from_k(poured.t_k)));
            }
            let loss = evaluation.heat.losses.at(depth);
            let around = surroundings(&conditions).with_sides(loss);
            Ok((*wait, peak(&evaluation.resin, around, poured, depth, &accuracy)?))
        })
        .collect()
}
