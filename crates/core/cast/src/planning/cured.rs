//! When a piece is cured through: for load, warm things and food.

use fondant_heat::{Accuracy, Air, Goal, HeatError, Stack};
use fondant_materials::resin::Record;
use fondant_numerics::Stop;
use fondant_pours::ScheduledPour;
use fondant_quantities::{Span, TemperatureDelta};
use jiff::Timestamp;

use crate::document::Document;
use crate::evaluate::{Evaluation, Inputs};

/// Resin that is not cured through after this long, in this air, never is: it would have to be warmer, s.
const HORIZON_S: f64 = 60.0 * 86_400.0;

/// When all resin of a piece is cured through.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CuredThrough {
    /// The later of what model and datasheet say, UTC; `None` where the model says that it never is
    /// in this air.
    pub at: Option<Timestamp>,
    /// The datasheet says it, later than the model.
    pub is_by_datasheet: bool,
}

/// When all pours of a cast are cured through, in the mean of the air in `document`; `None` without pour
/// times, and where the model cannot follow them.
///
/// Each pour is followed as a layer of its own: what is poured on it warms it, and makes this late rather
/// than early.
#[must_use]
pub fn cured_through(
    inputs: &Inputs,
    document: &Document,
    evaluation: &Evaluation,
    stop: &Stop,
) -> Option<CuredThrough> {
    let schedule = evaluation.pours.as_ref().ok()?;
    let mut latest: Option<CuredThrough> = None;
    for pour in &schedule.pours {
        let Some(by_model) = by_model(document, evaluation, pour, stop).ok()? else {
            return Some(CuredThrough { at: None, is_by_datasheet: false });
        };
        let sheet = resin_of(inputs, pour).and_then(|record| record.datasheet.full_cure);
        let by_sheet = sheet.map_or(Span::ZERO, |layer| layer.after);
        let at = Some(pour.done.checked_add(by_model.max(by_sheet).signed()).ok()?);
        if latest.is_none_or(|latest| at > latest.at) {
            latest = Some(CuredThrough { at, is_by_datasheet: by_sheet > by_model });
        }
    }
    latest
}

/// Least margin of the glass transition over the resin's own temperature at a moment, over all pours that
/// are in by then; `None` before the first, and where the model cannot follow them.
///
/// Each pour is followed as a layer of its own, which makes the margin small rather than large.
#[must_use]
pub fn glass_margin(
    document: &Document,
    evaluation: &Evaluation,
    at: Timestamp,
    stop: &Stop,
) -> Option<TemperatureDelta> {
    let schedule = evaluation.pours.as_ref().ok()?;
    let mut least: Option<f64> = None;
    for pour in schedule.pours.iter().filter(|pour| pour.done < at) {
        let mut stack = alone(document, evaluation, pour, stop).ok()?;
        stack.run(Span::between(pour.done, at).s(), Goal::Time).ok()?;
        let margin = stack.glass_margin_k()?;
        least = Some(least.map_or(margin, |least| least.min(margin)));
    }
    least.map(TemperatureDelta::from_k)
}

/// Time from a pour to its full cure; `None` where it is not reached.
fn by_model(
    document: &Document,
    evaluation: &Evaluation,
    pour: &ScheduledPour,
    stop: &Stop,
) -> Result<Option<Span>, HeatError> {
    let mut stack = alone(document, evaluation, pour, stop)?;
    stack.run(HORIZON_S, Goal::Full)?;
    Ok(stack.top().and_then(|events| events.full_s).map(Span::from_s))
}

/// A pour as a layer of its own, just poured.
fn alone(
    document: &Document,
    evaluation: &Evaluation,
    pour: &ScheduledPour,
    stop: &Stop,
) -> Result<Stack, HeatError> {
    let conditions = &document.conditions;
    let resin = &evaluation.need_of(&pour.layer).resin;
    let depth = pour.layer.heat_depth;
    let around = conditions.cooling.surroundings(Air::Steady(conditions.air.k()));
    let around = around.with_sides(evaluation.heat.losses.at(depth));
    let mut stack = Stack::new(resin, around, &Accuracy::coarse().until(stop));
    stack.pour(depth.m(), conditions.resin.k(), 0.0)?;
    Ok(stack)
}

fn resin_of<'a>(inputs: &'a Inputs, pour: &ScheduledPour) -> Option<&'a Record> {
    let id = inputs.document.resin_of(&pour.layer);
    std::iter::once(&inputs.resin).chain(&inputs.stage_resins).find(|record| record.id == id)
}
