//! What the usual changes would do to a deep pour.

use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_heat::{Deepest, HeatError};
use fondant_materials::resin::Record;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Temperature, TemperatureDelta};

use rayon::prelude::*;

use crate::document::{Conditions, Document};
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::bulk::Bulk;

/// What a change would do.
#[derive(Debug, Clone, PartialEq)]
pub struct Change {
    /// Kind of change.
    pub what: ChangeOf,
    /// The deepest layer then; `None` where resin or air is over the limit already.
    pub deepest: Option<Deepest>,
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
/// [`HeatError`] of the solver.
pub fn changes(
    inputs: &Inputs,
    evaluation: &Evaluation,
    slower: Option<&Record>,
    stop: &Stop,
) -> Result<Vec<Change>, HeatError> {
    let document = inputs.site.in_mean_air(&inputs.document);
    let as_planned = document.conditions;
    let (measured, resin) = (&evaluation.measured, &evaluation.resin);
    let whole = measured.filling().depth_in_one();
    let with = |what, conditions: Conditions| {
        let document = Document { conditions, ..document.clone() };
        changed(what, &Bulk::of(&document, measured, resin, stop), whole)
    };
    let by = |by| Conditions { cooling: Cooling { by, ..Cooling::default() }, ..as_planned };
    let three = TemperatureDelta::from_k(-3.0);
    let cooler =
        Conditions { air: as_planned.air + three, resin: as_planned.resin + three, ..as_planned };
    // What is planned is known; a deepest pour does not depend on how it is split.
    let heat = &evaluation.heat;
    let deepest = heat.deepest.as_ref().ok().copied();
    let planned = |what, peak| Change { what, deepest, peak };
    let peak = heat.whole.as_ref().map_err(Clone::clone)?.peak;
    let others = [
        (ChangeOf::Cooler, cooler),
        (ChangeOf::Fan, by(CoolingBy::Fan)),
        (ChangeOf::Bath, by(CoolingBy::Bath)),
    ];
    let changed_by: Result<Vec<Change>, HeatError> =
        others.into_par_iter().map(|(what, conditions)| with(what, conditions)).collect();
    let mut all = vec![planned(ChangeOf::AsPlanned, peak)];
    all.extend(changed_by?);
    let half_peak = Bulk::of(&document, measured, resin, stop).peak(whole * 0.5)?;
    all.push(planned(ChangeOf::TwoPours, half_peak));
    if let Some(slower) = slower {
        let what = ChangeOf::Resin(slower.name.clone());
        let slower = slower.calibrated();
        all.push(changed(what, &Bulk::of(&document, measured, &slower, stop), whole)?);
    }
    Ok(all)
}

fn changed(what: ChangeOf, bulk: &Bulk<'_>, depth: Length) -> Result<Change, HeatError> {
    let deepest = bulk.deepest().ok().map(|(deepest, _)| deepest);
    Ok(Change { what, deepest, peak: bulk.peak(depth)? })
}
