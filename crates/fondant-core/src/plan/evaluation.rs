//! What follows from a plan. The one entry that pages call.

use crate::geometry::Point;
use crate::heat::{
    Accuracy, Deepest, Goal, HeatError, LayerEvents, Stack, Surroundings, Trace, deepest_layer,
};
use crate::layers::{self, LayersError, MOST_LAYERS};
use crate::mix::buying::{Order, order};
use crate::mix::{Parts, parts};
use crate::quantities::{Length, Span, Temperature, TemperatureDelta};
use crate::resin::Resin;
use crate::schedule::{self, Schedule, ScheduleError, ShopHours, Task};
use crate::volume::Fill;
use crate::volume::float::{Lift, lift, places};
use crate::volume::layout::What;

use super::conflicts::Conflict;
use super::document::{DEPTH_CAUTION_RATIO, Plan};
use super::kind::Kind;
use super::measuring::{Measured, measure};

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
    /// What lies in the form and how much resin it takes.
    pub measured: Measured,
    /// The resin chosen.
    pub resin: Resin,
    /// Mass and parts of the total.
    pub parts: Parts,
    /// What to buy.
    pub order: Order,
    /// The pull on what lies in the resin, and where to hold it.
    pub held: Vec<Held>,
    /// How hot it gets.
    pub heat: Heat,
    /// When each layer goes in.
    pub pours: Result<Schedule, PourTrouble>,
}

/// The pull on one thing, and where to hold it.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// What it is.
    pub what: What,
    /// The pull.
    pub lift: Lift,
    /// Places for clamps or weights, in the form.
    pub places: Vec<Point>,
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

/// Works out a plan with the resin that it names, as it stands on the shelf.
///
/// # Errors
/// The plan's conflicts, where it has any; see [`Plan::conflicts`].
pub fn evaluate(
    plan: &Plan,
    resin: &Resin,
    hours: &ShopHours,
) -> Result<Evaluation, Vec<Conflict>> {
    let measured = measure(plan)?;
    let resin = resin.as_learnt();
    let held = held(&measured, &resin);
    let heat = heat(plan, &resin, &measured.fill);
    let pours = pours(plan, &resin, &measured.fill, &heat, hours);
    let sizing = &measured.sizing;
    let parts = parts(sizing.total, &resin);
    let order = order(&plan.buying, sizing.total, sizing.uncertainty);
    Ok(Evaluation { measured, resin, parts, order, held, heat, pours })
}

fn held(measured: &Measured, resin: &Resin) -> Vec<Held> {
    let hold = |sunk: &super::measuring::Sunk| {
        let lift = lift(sunk.volume, sunk.mass, resin.density);
        let laid = measured.layout.laid.iter().find(|laid| laid.what == sunk.what);
        // An object is held at its own points; a board where it does not flex.
        let places = match (sunk.what, laid) {
            (What::Board(_), Some(laid)) => places(&laid.shape.upper, &lift),
            _ => Vec::new(),
        };
        Held { what: sunk.what, lift, places }
    };
    measured.sunk.iter().map(hold).collect()
}

fn surroundings(plan: &Plan) -> Surroundings {
    Surroundings::still_air(plan.conditions.air.k())
}

fn heat(plan: &Plan, resin: &Resin, fill: &Fill) -> Heat {
    let limit = resin.working.peak_limit;
    let deepest = deepest_layer(
        resin,
        &surroundings(plan),
        plan.conditions.resin.k(),
        limit.k(),
        Accuracy::default(),
    );
    let safe = deepest.as_ref().map_or(0.0, Deepest::safe_m);
    Heat {
        whole: whole_pour(plan, resin, fill.heat_depth(fill.depth())),
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
    let mut fewest = layers::fewest(fill, heat.allowed)?;
    if plan.kind == Kind::Coat {
        fewest = fewest.max(plan.coat.coats as usize);
    }
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
    let fill = &evaluation.measured.fill;
    let deepest_m = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
    let reach_m = (fill.heat_depth(fill.depth()).m() * 1.6).max(deepest_m * 1.25).min(0.3);
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
