//! What follows from a plan. The one entry that pages call.

use crate::form::CastSize;
use crate::heat::{
    Accuracy, Deepest, Goal, HeatError, LayerEvents, Stack, Surroundings, Trace, deepest_layer,
};
use crate::layers::{self, LayersError, MOST_LAYERS};
use crate::mix::{Parts, parts};
use crate::quantities::{Area, Length, Span, Temperature, TemperatureDelta};
use crate::resin::{Resin, shipped};
use crate::schedule::{self, Schedule, ScheduleError, ShopHours, Task};
use crate::timber::River;
use crate::volume::float::{Lift, lift};
use crate::volume::{Fill, Sizing, size};

use super::document::{Conflict, DEPTH_CAUTION_RATIO, Plan};

/// Time to mix and pour one layer.
pub const HANDS: Span = Span::from_s(1800.0);
/// The whole depth in one pour is followed for so long, s.
const WHOLE_POUR_HORIZON_S: f64 = 14.0 * 86_400.0;
/// Temperatures of the whole pour are kept for so long past the peak, s.
const COOLING_SHOWN_S: f64 = 36.0 * 3600.0;
/// Points of the curve of peak against depth: smooth to the eye at 330 px.
const DEPTH_POINTS: usize = 22;
/// So many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
const EXTRA_LAYERS: usize = 3;

/// Everything that follows from a plan.
#[derive(Debug, Clone)]
pub struct Evaluation {
    /// Inside size of the form.
    pub cast: CastSize,
    /// The river in it.
    pub river: River,
    /// What the resin fills.
    pub fill: Fill,
    /// The volume, line by line.
    pub sizing: Sizing,
    /// The resin chosen.
    pub resin: Resin,
    /// Mass and parts of the total.
    pub parts: Parts,
    /// The pull on the near and the far board.
    pub lifts: [Lift; 2],
    /// How hot it gets.
    pub heat: Heat,
    /// When each layer goes in.
    pub pours: Result<Schedule, PourTrouble>,
}

/// How hot it gets.
#[derive(Debug, Clone)]
pub struct Heat {
    /// All in one pour.
    pub whole: Result<WholePour, HeatError>,
    /// The deepest single layer that stays under the limit.
    pub deepest: Result<Deepest, HeatError>,
    /// What the plan allows: the deepest layer less the caution.
    pub allowed: Length,
}

/// The whole depth in one pour.
#[derive(Debug, Clone)]
pub struct WholePour {
    /// Its depth.
    pub depth: Length,
    /// The hottest point.
    pub peak: Temperature,
    /// When, from the pour.
    pub peak_at: Span,
    /// Limit less peak; negative where it is passed.
    pub margin: TemperatureDelta,
    /// Its events.
    pub events: LayerEvents,
    /// Temperatures over time.
    pub trace: Trace,
}

/// Why there are no pour times.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum PourTrouble {
    /// The depth cannot be split into layers.
    #[error(transparent)]
    Layers(#[from] LayersError),
    /// No deepest layer is known.
    #[error(transparent)]
    Heat(#[from] HeatError),
    /// No pour times.
    #[error(transparent)]
    Schedule(#[from] ScheduleError),
}

/// The measuring alone, without heat and hours: cheap enough for a long list.
#[derive(Debug, Clone)]
pub struct Measured {
    /// Inside size of the form.
    pub cast: CastSize,
    /// The river in it.
    pub river: River,
    /// What the resin fills.
    pub fill: Fill,
    /// The volume, line by line.
    pub sizing: Sizing,
}

/// Measures a plan.
///
/// # Errors
/// The plan's conflicts, where it has any; see [`Plan::conflicts`].
pub fn measure(plan: &Plan) -> Result<Measured, Vec<Conflict>> {
    let conflicts = plan.conflicts();
    if !conflicts.is_empty() {
        return Err(conflicts);
    }
    let river = plan
        .river()
        .map_err(|errors| errors.into_iter().map(Conflict::River).collect::<Vec<_>>())?;
    let cast = CastSize::of(&plan.piece);
    let fill = fill(plan, &cast, &river);
    let sizing = size(&fill, &river, plan.river.tape_tolerance, plan.form.bucket_residue_ratio);
    Ok(Measured { cast, river, fill, sizing })
}

/// Works out a plan.
///
/// # Errors
/// The plan's conflicts, where it has any; see [`Plan::conflicts`].
pub fn evaluate(plan: &Plan, hours: &ShopHours) -> Result<Evaluation, Vec<Conflict>> {
    let Measured { cast, river, fill, sizing } = measure(plan)?;
    let resin = shipped::find(&plan.resin)
        .map_err(|error| vec![Conflict::OutOfBounds(error.to_string())])?;
    let (near, far) = (&plan.timber.near, &plan.timber.far);
    let lifts = [(near, river.near_board_area()), (far, river.far_board_area())]
        .map(|(board, area)| lift(area, board.thickness, board.density, resin.density));
    let heat = heat(plan, &resin, fill.depth());
    let pours = pours(plan, &resin, &fill, &heat, hours);
    let parts = parts(sizing.total, &resin);
    Ok(Evaluation { cast, river, fill, sizing, resin, parts, lifts, heat, pours })
}

fn fill(plan: &Plan, cast: &CastSize, river: &River) -> Fill {
    let (near, far) = (plan.timber.near.thickness, plan.timber.far.thickness);
    let thinner_area = if near < far {
        river.near_board_area()
    } else if far < near {
        river.far_board_area()
    } else {
        Area::ZERO
    };
    Fill {
        form_area: cast.area(),
        river_area: river.area(),
        thinner_area,
        base: plan.form.base_gap,
        thinner: near.min(far),
        thicker: near.max(far),
        overfill: plan.form.overfill,
    }
}

fn surroundings(plan: &Plan) -> Surroundings {
    Surroundings::still_air(plan.conditions.air.k())
}

fn heat(plan: &Plan, resin: &Resin, depth: Length) -> Heat {
    let limit = resin.working.peak_limit;
    let deepest = deepest_layer(
        resin,
        surroundings(plan),
        plan.conditions.resin.k(),
        limit.k(),
        Accuracy::default(),
    );
    let safe = deepest.as_ref().map_or(0.0, Deepest::safe_m);
    Heat {
        whole: whole_pour(plan, resin, depth),
        deepest,
        allowed: Length::from_m(safe * (1.0 - DEPTH_CAUTION_RATIO)),
    }
}

fn whole_pour(plan: &Plan, resin: &Resin, depth: Length) -> Result<WholePour, HeatError> {
    let mut stack = Stack::new(resin, surroundings(plan), Accuracy::default());
    stack.record();
    stack.pour(depth.m(), plan.conditions.resin.k(), 0.0)?;
    stack.run(WHOLE_POUR_HORIZON_S, Goal::Hard)?;
    // A fast resin is hard while still hot; the curve goes on until it has cooled.
    let peak_s = stack.peak().map_or(0.0, |(_, at_s)| at_s);
    stack.run(peak_s + COOLING_SHOWN_S, Goal::Time)?;
    let events = *stack.top().ok_or(HeatError::Empty)?;
    let peak = Temperature::from_k(events.peak_k);
    Ok(WholePour {
        depth,
        peak,
        peak_at: Span::from_s(events.peak_s),
        margin: resin.working.peak_limit - peak,
        events,
        trace: stack.trace().cloned().unwrap_or_default(),
    })
}

fn pours(
    plan: &Plan,
    resin: &Resin,
    fill: &Fill,
    heat: &Heat,
    hours: &ShopHours,
) -> Result<Schedule, PourTrouble> {
    if let Err(error) = &heat.deepest {
        return Err(error.clone().into());
    }
    let fewest = layers::fewest(fill, heat.allowed)?;
    let mut refusal = PourTrouble::Schedule(ScheduleError::TooHot);
    for count in fewest..=(fewest + EXTRA_LAYERS).min(MOST_LAYERS) {
        let split = layers::split(fill, count);
        let task = Task {
            resin,
            surroundings: surroundings(plan),
            pour: plan.conditions.resin,
            limit: resin.working.peak_limit,
            layers: &split,
            hours,
            not_before: plan.pours.not_before,
            hands: HANDS,
            sanding: plan.pours.sanding,
        };
        match schedule::plan(&task) {
            Ok(schedule) => return Ok(schedule),
            Err(ScheduleError::TooHot) => refusal = ScheduleError::TooHot.into(),
            Err(error) => return Err(error.into()),
        }
    }
    Err(refusal)
}

/// Peak of a single pour at a depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DepthPoint {
    /// Depth of the pour.
    pub depth: Length,
    /// Its hottest point.
    pub peak: Temperature,
}

/// The peak of single pours of rising depth, from a few millimetres to well
/// past both the whole depth and the deepest layer, for drawing.
///
/// # Errors
/// What the solver reports.
pub fn peak_by_depth(plan: &Plan, evaluation: &Evaluation) -> Result<Vec<DepthPoint>, HeatError> {
    let deepest_m = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
    let reach_m = (evaluation.fill.depth().m() * 1.6).max(deepest_m * 1.25).min(0.3);
    (1..=DEPTH_POINTS)
        .map(|index| {
            let depth_m = reach_m * (index as f64 / DEPTH_POINTS as f64);
            let mut stack = Stack::new(&evaluation.resin, surroundings(plan), Accuracy::default());
            stack.pour(depth_m, plan.conditions.resin.k(), 0.0)?;
            stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
            let peak_k = stack.peak().map_or(0.0, |(peak, _)| peak);
            Ok(DepthPoint { depth: Length::from_m(depth_m), peak: Temperature::from_k(peak_k) })
        })
        .collect()
}

#[cfg(test)]
mod tests;
