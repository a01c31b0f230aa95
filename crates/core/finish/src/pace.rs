//! The shop's own pace: how its hours stand to those of the trade, learnt from steps that were timed.

use std::collections::BTreeMap;

use fondant_numerics::shrunk::{Prior, Shrunk, shrunk};
use fondant_quantities::Span;

use crate::work::{StepKind, Work};

/// How far shops lie from the pace of the trade (convention: two of three between 0.6 and 1.6 times),
/// and the least that a shop's own times spread.
const SHOPS: Prior = Prior { between: 0.5, least: 0.2 };

/// Pace of a shop at one step: what the trade's hours are multiplied by, and pieces that it was learnt
/// from.
pub type Pace = Shrunk;

/// Before anything was timed.
#[must_use]
pub fn of_the_trade() -> Pace {
    shrunk(&[], SHOPS)
}

/// Paces of a shop by step, from the finishing of its casts. Only steps that are done and were timed count.
#[must_use]
pub fn paces<'a>(casts: impl Iterator<Item = &'a Work>) -> BTreeMap<StepKind, Pace> {
    let mut ratios: BTreeMap<StepKind, Vec<f64>> = BTreeMap::new();
    for (kind, step) in casts.flat_map(|work| &work.steps) {
        let planned = step.planned.filter(|planned| *planned > Span::ZERO);
        if let Some(planned) = planned.filter(|_| step.done.is_some() && step.took > Span::ZERO) {
            ratios.entry(*kind).or_default().push(step.took.s() / planned.s());
        }
    }
    ratios.into_iter().map(|(kind, ratios)| (kind, shrunk(&ratios, SHOPS))).collect()
}
