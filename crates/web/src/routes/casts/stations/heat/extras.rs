//! What the station works out beside the plan itself.

use fondant_cast::{Change, DepthPoint, Evaluation, Plan, changes, peak_by_depth, peak_by_wait};
use fondant_heat::bubbles::{self, Bubbles};
use fondant_heat::bucket::pot_life_s;
use fondant_heat::calibration::forecast::{self, Interval, Knowledge};
use fondant_heat::{Air, Poured};
use fondant_materials::resin::{Resin, ResinClass};
use fondant_quantities::{Span, Temperature};

/// A warmer resin is compared by this, K.
const WARMER_K: f64 = 5.0;
/// Waits in the bucket that are compared, minutes.
const WAITS_MIN: [f64; 4] = [0.0, 5.0, 10.0, 20.0];

/// What the station works out beside the plan itself. Parts that the model
/// cannot answer are empty, which the page says elsewhere.
pub(in crate::routes) struct HeatExtras {
    pub(super) by_depth: Vec<DepthPoint>,
    pub(super) changes: Vec<Change>,
    pub(super) by_wait: Vec<(Span, Temperature)>,
    /// As planned, and with the resin warmer.
    pub(super) bubbles: Option<(Bubbles, Bubbles)>,
    pub(super) pot_life: Option<Span>,
    pub(super) peak: Option<Interval>,
    pub(super) deepest: Option<Interval>,
}

impl HeatExtras {
    /// `generic` is the resin as it stands on the shelf; `slower` another one to
    /// compare it with.
    pub(in crate::routes) fn work(
        plan: &Plan,
        evaluation: &Evaluation,
        generic: &Resin,
        slower: Option<&Resin>,
    ) -> Self {
        let (resin, poured) = (&evaluation.resin, evaluation.heat.poured);
        let fill = &evaluation.measured.fill;
        let whole_m = fill.heat_depth(fill.depth()).m();
        let conditions = &plan.conditions;
        let layer = forecast::Layer {
            depth_m: whole_m,
            poured,
            surroundings: conditions.cooling.surroundings(Air::Steady(conditions.air.k())),
        };
        let known = Knowledge::of(generic);
        let fresh_k = conditions.resin.k();
        let rising = |k: f64| bubbles::rising(resin, fill.depth().m(), Poured::fresh(k)).ok();
        let waits = WAITS_MIN.map(|minutes| Span::from_s(minutes * 60.0));
        Self {
            by_depth: peak_by_depth(plan, evaluation).unwrap_or_default(),
            changes: changes(plan, evaluation, slower).unwrap_or_default(),
            by_wait: peak_by_wait(plan, evaluation, &waits).unwrap_or_default(),
            bubbles: rising(fresh_k).zip(rising(fresh_k + WARMER_K)),
            pot_life: pot_life_s(resin, conditions.bucket, conditions.air, conditions.resin)
                .ok()
                .flatten()
                .map(Span::from_s),
            peak: forecast::peak(generic, &known, &layer).ok(),
            deepest: forecast::deepest(generic, &known, &layer).ok(),
        }
    }
}

/// A slower resin of the shelf to compare one with, if there is one.
pub(in crate::routes) fn slower<'a>(
    than: &Resin,
    offered: impl Iterator<Item = &'a Resin>,
) -> Option<&'a Resin> {
    let mut offered = offered.filter(|resin| resin.class == ResinClass::SlowCasting);
    if than.class == ResinClass::SlowCasting { None } else { offered.next() }
}
