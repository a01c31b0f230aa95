//! What the usual changes would do to a deep pour.

use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_heat::{Accuracy, Goal, HeatError, Stack, deepest_layer};
use fondant_materials::resin::{Calibrated, Record};
use fondant_numerics::Stop;
use fondant_quantities::{Length, Temperature, TemperatureDelta};

use crate::document::Conditions;
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::conditions::{poured, surroundings};
use crate::heat::limits::WHOLE_POUR_HORIZON_S;

/// What a change would do.
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

/// What the usual changes would do, each by a run of its own.
///
/// # Errors
/// What the solver reports.
pub fn changes(
    inputs: &Inputs,
    evaluation: &Evaluation,
    slower: Option<&Record>,
    stop: &Stop,
) -> Result<Vec<Change>, HeatError> {
    let as_planned = inputs.site.in_mean_air(&inputs.document).conditions;
    let fill = &evaluation.measured.fill;
    let whole = fill.heat_depth(fill.depth());
    let half = fill.heat_depth(fill.depth() * 0.5);
    let resin = &evaluation.resin;
    let with = |what, conditions: &Conditions, depth| changed(what, conditions, resin, depth, stop);
    let by = |by| Conditions { cooling: Cooling { by, ..Cooling::default() }, ..as_planned };
    let three = TemperatureDelta::from_k(-3.0);
    let cooler =
        Conditions { air: as_planned.air + three, resin: as_planned.resin + three, ..as_planned };
    let mut all = vec![
        with(ChangeOf::AsPlanned, &as_planned, whole)?,
        with(ChangeOf::Cooler, &cooler, whole)?,
        with(ChangeOf::Fan, &by(CoolingBy::Fan), whole)?,
        with(ChangeOf::Bath, &by(CoolingBy::Bath), whole)?,
        with(ChangeOf::TwoPours, &as_planned, half)?,
    ];
    if let Some(slower) = slower {
        let what = ChangeOf::Resin(slower.name.clone());
        all.push(changed(what, &as_planned, &slower.calibrated(), whole, stop)?);
    }
    Ok(all)
}

fn changed(
    what: ChangeOf,
    conditions: &Conditions,
    resin: &Calibrated,
    depth: Length,
    stop: &Stop,
) -> Result<Change, HeatError> {
    let (around, poured) = (surroundings(conditions), poured(conditions, resin, stop)?);
    let limit_k = resin.working.peak_limit.k();
    let accuracy = Accuracy::default().until(stop);
    let mut stack = Stack::new(resin, around.clone(), &accuracy);
    stack.pour(depth.m(), poured.t_k, poured.conversion)?;
    stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
    let peak_k = stack.peak().map_or(poured.t_k, |(peak, _)| peak);
    // No depth is safe where resin or air is over the limit already.
    let deepest = deepest_layer(resin, &around, poured, limit_k, &accuracy);
    Ok(Change {
        what,
        deepest: Length::from_m(deepest.map_or(0.0, |found| found.safe_m())),
        peak: Temperature::from_k(peak_k),
    })
}
