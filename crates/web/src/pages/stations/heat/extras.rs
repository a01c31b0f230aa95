//! What the station works out beside the plan itself.

use fondant_cast::planning::{Change, DepthPoint, changes, peak_by_depth, peak_by_wait};
use fondant_cast::{Document, Evaluation, Inputs};
use fondant_heat::bubbles::{self, Bubbles};
use fondant_heat::bucket::pot_life_s;
use fondant_heat::calibration::forecast::{self, Interval};
use fondant_heat::{Air, Deepest, Poured};
use fondant_materials::resin::{Record, ResinClass, ResinId};
use fondant_numerics::Stop;
use fondant_pours::Schedule;
use fondant_quantities::{Length, Span, Temperature};

/// A warmer resin is compared by this, K.
pub(super) const WARMER_K: f64 = 5.0;
/// Waits in the bucket that are compared, minutes.
const WAITS_MIN: [f64; 4] = [0.0, 5.0, 10.0, 20.0];

/// What the station works out beside the plan itself. Parts that the model
/// cannot answer are empty, which the page says elsewhere.
pub(crate) struct HeatExtras {
    pub(crate) by_depth: Vec<DepthPoint>,
    pub(crate) changes: Vec<Change>,
    pub(crate) by_wait: Vec<(Span, Temperature)>,
    /// As planned, and with the resin warmer.
    pub(crate) bubbles: Option<Clearing>,
    pub(crate) pot_life: Option<Span>,
    pub(crate) peak: Option<Interval>,
    pub(crate) deepest: Option<Interval>,
}

/// What rises out of the thickest layer of the plan.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Clearing {
    pub(crate) depth: Length,
    pub(crate) now: Bubbles,
    /// With warmer resin.
    pub(crate) warmer: Bubbles,
}

/// The thickest layer that is planned; all of it where nothing is.
fn thickest(evaluation: &Evaluation) -> Length {
    let planned = evaluation.pours.as_ref().map(Schedule::thickest);
    planned.unwrap_or_else(|_| evaluation.measured.fill.depth())
}

impl HeatExtras {
    /// `document` is the cast's in the mean of its air; `slower` another resin to compare it with.
    pub(super) fn work(
        inputs: &Inputs,
        document: &Document,
        evaluation: &Evaluation,
        slower: Option<&Record>,
        stop: &Stop,
    ) -> Self {
        let (resin, poured) = (&evaluation.resin, evaluation.heat.poured);
        let (fill, conditions) = (&evaluation.measured.fill, &document.conditions);
        let depth = fill.depth();
        let column = conditions.cooling.surroundings(Air::Steady(conditions.air.k()));
        let between = |depth: Length| forecast::Layer {
            depth_m: depth.m(),
            poured,
            surroundings: column.clone().with_sides(evaluation.heat.losses.at(depth)),
            stop: stop.clone(),
        };
        let safe = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
        let fresh_k = conditions.resin.k();
        let thickest = thickest(evaluation);
        let rising = |k: f64| {
            let around = column.clone().with_sides(evaluation.heat.losses.at(thickest));
            bubbles::rising(resin, around, thickest.m(), Poured { t_k: k, ..poured }, stop).ok()
        };
        let waits = WAITS_MIN.map(|minutes| Span::from_s(minutes * 60.0));
        Self {
            by_depth: peak_by_depth(inputs, evaluation, stop).unwrap_or_default(),
            changes: changes(inputs, evaluation, slower, stop).unwrap_or_default(),
            by_wait: peak_by_wait(inputs, evaluation, &waits, stop).unwrap_or_default(),
            bubbles: rising(fresh_k)
                .zip(rising(fresh_k + WARMER_K))
                .map(|(now, warmer)| Clearing { depth: thickest, now, warmer }),
            pot_life: pot_life_s(resin, evaluation.batch, conditions.air, conditions.resin)
                .ok()
                .flatten()
                .map(Span::from_s),
            peak: forecast::peak(resin, &between(depth)).ok(),
            deepest: forecast::deepest(resin, &between(Length::from_m(safe))).ok(),
        }
    }
}

/// A slower resin of the shelf to compare one with, if there is one.
pub(super) fn slower<'a>(
    than: &ResinId,
    offered: impl Iterator<Item = &'a Record>,
) -> Option<&'a Record> {
    let slow: Vec<&Record> =
        offered.filter(|resin| resin.class == ResinClass::SlowCasting).collect();
    let is_itself = slow.iter().any(|resin| resin.id == *than);
    if is_itself { None } else { slow.into_iter().next() }
}
