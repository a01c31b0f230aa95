//! What was promised when a plan was taken: kept beside the cast, so that a record compares what
//! happened with what was forecast then, not with a later model.

use fondant_heat::calibration::forecast::{self, Interval};
use fondant_heat::{HeatError, Sample};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_pours::layers::LayerKind;
use fondant_pours::{Schedule, ScheduledPour};
use fondant_quantities::{Length, Span, Temperature, Volume};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::document::{Document, PourId};
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::conditions::surroundings;
use crate::pours::Planned;

/// Version of the heat model, counted by hand: raised whenever the same inputs give other figures.
pub const MODEL_VERSION: u32 = 4;

/// The forecast of a cast at the moment its plan was taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Forecast {
    /// [`MODEL_VERSION`] of the code that made it.
    pub model: u32,
    /// The resin as the model ran on it.
    pub resin: Calibrated,
    /// Mixed volume of the whole cast, and the half-width of its 95 % interval.
    #[serde(rename = "volume_m3")]
    pub volume: Volume,
    /// See [`Forecast::volume`].
    #[serde(rename = "volume_uncertainty_m3")]
    pub volume_uncertainty: Volume,
    /// The pours, in order.
    pub pours: Vec<ForecastPour>,
    /// The hottest point of the whole plan.
    #[serde(rename = "peak_k")]
    pub peak: Temperature,
    /// How far the peak of the deepest layer may lie below and above its forecast, K: nine in ten
    /// lie between; `None` where the model could not say.
    pub peak_interval_k: Option<(f64, f64)>,
    /// When the cast is hard all through.
    pub hard: Timestamp,
    /// The hottest point over time, thinned to what a drawing shows. Forecasts of before it was kept
    /// have none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub course: Vec<Moment>,
}

/// How hot it was to be at a moment.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Moment {
    /// From the first pour on, to the second.
    #[serde(rename = "after_s")]
    pub after: Span,
    /// The hottest point, to a hundredth of a kelvin.
    #[serde(rename = "hottest_k")]
    pub hottest: Temperature,
}

/// Stretches that a forecast's course is thinned to: one for every few pixels of a drawing.
const STRETCHES: usize = 120;

/// One pour as it was forecast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ForecastPour {
    /// Id of the pour; it stays the same when layers are split again.
    pub id: PourId,
    /// Kind of layer.
    pub layer: LayerKind,
    /// When the first bucket is measured out.
    pub at: Timestamp,
    /// When the last is in.
    pub done: Timestamp,
    /// Level that it reaches.
    #[serde(rename = "to_m")]
    pub to: Length,
    /// Volume in the form.
    #[serde(rename = "volume_m3")]
    pub volume: Volume,
    /// Predicted opening of the window, UTC.
    pub opens: Timestamp,
    /// Predicted closing of the window, UTC.
    pub closes: Timestamp,
    /// The hottest it gets.
    #[serde(rename = "peak_k")]
    pub peak: Temperature,
    /// When it is hottest, from its pour on.
    #[serde(rename = "peak_after_s")]
    pub peak_after: Span,
}

impl Forecast {
    /// Of an evaluation whose pours were taken; `None` where there is no schedule of them.
    #[must_use]
    pub fn of(inputs: &Inputs, evaluation: &Evaluation, stop: &Stop) -> Option<Self> {
        let schedule = evaluation.pours.as_ref().ok()?;
        let planned = evaluation.planned.as_ref()?;
        let document = inputs.site.in_mean_air(&inputs.document);
        Some(Self {
            model: MODEL_VERSION,
            resin: evaluation.resin.clone(),
            volume: evaluation.total(),
            volume_uncertainty: evaluation.uncertainty(),
            pours: schedule.pours.iter().zip(planned).map(pour).collect(),
            peak: schedule.peak(),
            peak_interval_k: peak_interval(&document, evaluation, schedule, stop)
                .ok()
                .map(|peak| (peak.value - peak.low, peak.high - peak.value)),
            hard: schedule.hard,
            course: schedule.run.trace().map_or_else(Vec::new, |trace| course(&trace.samples)),
        })
    }
}

fn pour((scheduled, planned): (&ScheduledPour, &Planned)) -> ForecastPour {
    let peak_after = scheduled.peak_at.duration_since(scheduled.at).as_secs_f64();
    ForecastPour {
        id: planned.id,
        layer: scheduled.layer.kind,
        at: scheduled.at,
        done: scheduled.done,
        to: scheduled.layer.to,
        volume: scheduled.layer.volume,
        opens: scheduled.opens,
        closes: scheduled.closes,
        peak: scheduled.peak,
        peak_after: Span::from_s(peak_after),
    }
}

/// The first and the hottest moment of each stretch of time, of as many as a drawing shows: peaks and
/// the jumps of a pour stay where they are.
fn course(samples: &[Sample]) -> Vec<Moment> {
    let Some(last) = samples.last().filter(|last| last.t_s > 0.0) else { return Vec::new() };
    let stretch = |sample: &Sample| (sample.t_s / last.t_s * STRETCHES as f64) as usize;
    let moment = |sample: &Sample| Moment {
        after: Span::from_s(sample.t_s.round()),
        hottest: Temperature::from_k((sample.hottest_k * 100.0).round() / 100.0),
    };
    let both = |group: &[Sample]| {
        let hottest = group.iter().max_by(|a, b| a.hottest_k.total_cmp(&b.hottest_k));
        [group.first(), hottest].into_iter().flatten().map(moment).collect::<Vec<_>>()
    };
    let mut course: Vec<Moment> =
        samples.chunk_by(|a, b| stretch(a) == stretch(b)).flat_map(both).collect();
    course.dedup();
    course
}

/// The interval of the peak of the deepest layer poured on its own.
fn peak_interval(
    document: &Document,
    evaluation: &Evaluation,
    schedule: &Schedule,
    stop: &Stop,
) -> Result<Interval, HeatError> {
    let depth = schedule.thickest();
    let losses = evaluation.heat.losses;
    let layer = forecast::Layer {
        depth_m: depth.m(),
        poured: evaluation.heat.poured,
        surroundings: surroundings(&document.conditions).with_sides(losses.at(depth)),
        stop: stop.clone(),
    };
    forecast::peak(&evaluation.resin, &layer)
}
