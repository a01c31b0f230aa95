//! How hot a plan gets by the column model, and how deep it may pour.

use fondant_heat::bucket::BUCKET_FILM_W_M2K;
use fondant_heat::calibration::forecast::{self, caution};
use fondant_heat::calibration::sheet::deepest_elsewhere;
use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_heat::{
    Accuracy, Air, Bucket, Deepest, Goal, HeatError, LayerEvents, Lumped, Poured, Stack,
    Surroundings, Trace, deepest_layer,
};
use fondant_materials::resin::Resin;
use fondant_quantities::{Length, Span, Temperature, TemperatureDelta};
use fondant_shapes::volume::Fill;

use super::document::{DEPTH_CAUTION_RATIO, Plan};
use super::evaluation::Evaluation;

/// The whole depth in one pour is followed for so long, s.
const WHOLE_POUR_HORIZON_S: f64 = 14.0 * 86_400.0;
/// Temperatures of the whole pour are kept for so long past the peak, s.
const COOLING_SHOWN_S: f64 = 36.0 * 3600.0;
/// Points of the curve of peak against depth: smooth to the eye at 330 px.
const DEPTH_POINTS: usize = 22;

/// How hot it gets.
#[derive(Debug, Clone)]
pub struct Heat {
    /// The resin as it leaves the bucket.
    pub poured: Poured,
    /// All in one pour.
    pub whole: Result<WholePour, HeatError>,
    /// The deepest single layer that stays under the limit.
    pub deepest: Result<Deepest, HeatError>,
    /// What sets the depth of a layer.
    pub limits: DepthLimits,
    /// What the plan allows.
    pub allowed: Length,
}

/// What datasheet, shop and model say of the deepest layer, side by side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DepthLimits {
    /// The model's deepest layer, less its caution.
    pub cautious: Length,
    /// The share that the caution takes off.
    pub caution: f64,
    /// The datasheet's, in this cast's conditions.
    pub datasheet: Option<Length>,
    /// The shop's own rule.
    pub rule_of_thumb: Option<Length>,
    /// What the maker wants.
    pub wanted: Option<Length>,
    /// The maker wants more than they allow, and gives no reason.
    pub needs_reason: bool,
    /// Which of them holds.
    pub holds: Holds,
}

/// What holds the depth of a layer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Holds {
    /// The model, less its caution.
    Model,
    /// The datasheet.
    Datasheet,
    /// The shop's own rule.
    RuleOfThumb,
    /// The maker, who wants less.
    Wish,
    /// The maker, who takes more on himself and says why.
    Maker,
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

/// What stands around a column of the plan's resin.
pub(super) fn surroundings(plan: &Plan) -> Surroundings {
    plan.conditions.cooling.surroundings(Air::Steady(plan.conditions.air.k()))
}

/// The resin as it leaves the bucket in which it has waited.
pub(super) fn poured(plan: &Plan, resin: &Resin) -> Result<Poured, HeatError> {
    let conditions = &plan.conditions;
    let mixed_k = conditions.resin.k();
    if conditions.waits <= Span::ZERO {
        return Ok(Poured::fresh(mixed_k));
    }
    let bucket =
        Bucket::as_high_as_wide(resin, conditions.bucket, conditions.air, BUCKET_FILM_W_M2K);
    let mut batch = Lumped::new(resin, bucket, mixed_k, 0.0);
    batch.run(conditions.waits.s(), |_| {})?;
    let aged = batch.now();
    Ok(Poured { t_k: aged.temperature_k, conversion: aged.conversion })
}

/// How hot the plan gets in a resin as it has learnt.
pub(super) fn heat(plan: &Plan, resin: &Resin, fill: &Fill) -> Heat {
    let limit_k = resin.working.peak_limit.k();
    let around = surroundings(plan);
    let mixed = Poured::fresh(plan.conditions.resin.k());
    let aged = poured(plan, resin);
    let poured = *aged.as_ref().unwrap_or(&mixed);
    let deepest =
        aged.and_then(|poured| deepest_layer(resin, &around, poured, limit_k, Accuracy::default()));
    let safe = Length::from_m(deepest.as_ref().map_or(0.0, Deepest::safe_m));
    let limits = limits(plan, resin, &around, poured, safe);
    Heat {
        poured,
        whole: whole_pour(resin, around, poured, fill.heat_depth(fill.depth())),
        deepest,
        limits,
        allowed: limits.allowed(),
    }
}

fn limits(
    plan: &Plan,
    resin: &Resin,
    around: &Surroundings,
    poured: Poured,
    safe: Length,
) -> DepthLimits {
    let layer = forecast::Layer { depth_m: safe.m(), poured, surroundings: around.clone() };
    let caution = match &resin.learnt {
        // The resin already carries what was learnt: only its doubt is asked for.
        Some(learnt) => {
            let doubt = fondant_materials::resin::Learnt { rate: 1.0, heat: 1.0, ..learnt.clone() };
            caution(resin, &doubt, &layer).unwrap_or(DEPTH_CAUTION_RATIO).min(DEPTH_CAUTION_RATIO)
        }
        None => DEPTH_CAUTION_RATIO,
    };
    let cautious = safe * (1.0 - caution);
    let datasheet = resin.sheet.deepest.map(|said| {
        deepest_elsewhere(resin, said.depth, said.at, around, poured).unwrap_or(said.depth)
    });
    let rule_of_thumb = resin.sheet.rule_of_thumb;
    let mut found = DepthLimits {
        cautious,
        caution,
        datasheet,
        rule_of_thumb,
        wanted: plan.depth_override.as_ref().map(|taken| taken.depth),
        needs_reason: false,
        holds: Holds::Model,
    };
    let strictest = found.strictest();
    if datasheet.is_some_and(|depth| depth <= strictest) {
        found.holds = Holds::Datasheet;
    } else if rule_of_thumb.is_some_and(|depth| depth <= strictest) {
        found.holds = Holds::RuleOfThumb;
    }
    if let Some(taken) = &plan.depth_override {
        let has_reason = !taken.reason.trim().is_empty();
        if taken.depth <= strictest {
            found.holds = Holds::Wish;
        } else if has_reason {
            found.holds = Holds::Maker;
        }
        found.needs_reason = taken.depth > strictest && !has_reason;
    }
    found
}

impl DepthLimits {
    /// The strictest of datasheet, rule and model.
    #[must_use]
    pub fn strictest(&self) -> Length {
        let stated = [self.datasheet, self.rule_of_thumb].into_iter().flatten();
        stated.fold(self.cautious, Length::min)
    }

    /// The deepest layer that the plan pours.
    fn allowed(&self) -> Length {
        match (self.wanted, self.holds) {
            (Some(wanted), Holds::Wish | Holds::Maker) => wanted,
            _ => self.strictest(),
        }
    }
}

fn whole_pour(
    resin: &Resin,
    around: Surroundings,
    poured: Poured,
    depth: Length,
) -> Result<WholePour, HeatError> {
    let mut stack = Stack::new(resin, around, Accuracy::default());
    stack.record();
    stack.pour(depth.m(), poured.t_k, poured.conversion)?;
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
    let heat = &evaluation.heat;
    let deepest_m = heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
    let reach_m = (fill.heat_depth(fill.depth()).m() * 1.6).max(deepest_m * 1.25).min(0.3);
    (1..=DEPTH_POINTS)
        .map(|index| {
            let depth_m = reach_m * (index as f64 / DEPTH_POINTS as f64);
            let mut stack = Stack::new(&evaluation.resin, surroundings(plan), Accuracy::default());
            stack.pour(depth_m, heat.poured.t_k, heat.poured.conversion)?;
            stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
            let peak_k = stack.peak().map_or(0.0, |(peak, _)| peak);
            Ok(DepthPoint { depth: Length::from_m(depth_m), peak: Temperature::from_k(peak_k) })
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
    /// By resin, then air: the deepest layer, m; nought where none is safe.
    pub depth_m: Vec<Vec<f64>>,
}

/// The map of deepest layers, with the plan's cooling. It takes about a
/// millisecond a cell.
#[must_use]
pub fn depth_map(plan: &Plan, resin: &Resin, air_k: &[f64], resin_k: &[f64]) -> DepthMap {
    let limit_k = resin.working.peak_limit.k();
    let accuracy = Accuracy { cells_per_layer: 12, ..Accuracy::default() };
    let row = |pour_k: &f64| {
        air_k
            .iter()
            .map(|air_k| {
                let around = plan.conditions.cooling.surroundings(Air::Steady(*air_k));
                deepest_layer(resin, &around, Poured::fresh(*pour_k), limit_k, accuracy)
                    .map_or(0.0, |found| found.safe_m())
            })
            .collect()
    };
    let depth_m = resin_k.iter().map(row).collect();
    DepthMap { air_k: air_k.to_vec(), resin_k: resin_k.to_vec(), depth_m }
}

/// What a change would buy.
#[derive(Debug, Clone, PartialEq)]
pub struct Change {
    /// What is changed.
    pub what: ChangeOf,
    /// The deepest layer then.
    pub deepest: Length,
    /// The hottest point of the whole depth in one pour then.
    pub peak: Temperature,
}

/// A change that may make a pour cooler.
#[derive(Debug, Clone, PartialEq)]
pub enum ChangeOf {
    /// Nothing: as planned.
    AsPlanned,
    /// Air and resin three degrees cooler.
    Cooler,
    /// A fan over the top.
    Fan,
    /// Ice water under and around the form.
    Bath,
    /// Two pours, each when the one before is hard.
    TwoPours,
    /// Another resin of the shelf, by its name.
    Resin(String),
}

/// What the usual changes would buy, each by a run of its own.
///
/// # Errors
/// What the solver reports.
pub fn changes(
    plan: &Plan,
    evaluation: &Evaluation,
    slower: Option<&Resin>,
) -> Result<Vec<Change>, HeatError> {
    let resin = &evaluation.resin;
    let fill = &evaluation.measured.fill;
    let whole = fill.heat_depth(fill.depth());
    let with =
        |what: ChangeOf, plan: &Plan, resin: &Resin, depth: Length| -> Result<Change, HeatError> {
            let (around, poured) = (surroundings(plan), poured(plan, resin)?);
            let limit_k = resin.working.peak_limit.k();
            let mut stack = Stack::new(resin, around.clone(), Accuracy::default());
            stack.pour(depth.m(), poured.t_k, poured.conversion)?;
            stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
            let peak_k = stack.peak().map_or(poured.t_k, |(peak, _)| peak);
            // No depth is safe where resin or air is over the limit already.
            let deepest = deepest_layer(resin, &around, poured, limit_k, Accuracy::default());
            Ok(Change {
                what,
                deepest: Length::from_m(deepest.map_or(0.0, |found| found.safe_m())),
                peak: Temperature::from_k(peak_k),
            })
        };
    let changed = |change: &dyn Fn(&mut Plan)| {
        let mut plan = plan.clone();
        change(&mut plan);
        plan
    };
    let by =
        |by| changed(&move |plan| plan.conditions.cooling = Cooling { by, ..Cooling::default() });
    let cooler = changed(&|plan| {
        let three = TemperatureDelta::from_k(-3.0);
        plan.conditions.air = plan.conditions.air + three;
        plan.conditions.resin = plan.conditions.resin + three;
    });
    let half = fill.heat_depth(fill.depth() * 0.5);
    let mut all = vec![
        with(ChangeOf::AsPlanned, plan, resin, whole)?,
        with(ChangeOf::Cooler, &cooler, resin, whole)?,
        with(ChangeOf::Fan, &by(CoolingBy::Fan), resin, whole)?,
        with(ChangeOf::Bath, &by(CoolingBy::Bath), resin, whole)?,
        with(ChangeOf::TwoPours, plan, resin, half)?,
    ];
    if let Some(slower) = slower {
        let what = ChangeOf::Resin(slower.name.clone());
        all.push(with(what, plan, &slower.as_learnt(), whole)?);
    }
    Ok(all)
}

/// The peak of the whole depth after waits in the bucket.
///
/// # Errors
/// What the solver reports.
pub fn peak_by_wait(
    plan: &Plan,
    evaluation: &Evaluation,
    waits: &[Span],
) -> Result<Vec<(Span, Temperature)>, HeatError> {
    let fill = &evaluation.measured.fill;
    let depth =
        fill.heat_depth(fill.depth()).min(evaluation.heat.allowed.max(Length::from_mm(1.0)));
    waits
        .iter()
        .map(|wait| {
            let mut plan = plan.clone();
            plan.conditions.waits = *wait;
            let poured = poured(&plan, &evaluation.resin)?;
            let mut stack = Stack::new(&evaluation.resin, surroundings(&plan), Accuracy::default());
            stack.pour(depth.m(), poured.t_k.min(449.0), poured.conversion)?;
            stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
            let peak_k = stack.peak().map_or(poured.t_k, |(peak, _)| peak);
            Ok((*wait, Temperature::from_k(peak_k)))
        })
        .collect()
}

#[cfg(test)]
mod tests;
