//! What the station works out beside the plan itself.

use fondant_cast::planning::{Change, DepthPoint, changes, peak_by_depth, peak_by_wait};
use fondant_cast::{Document, Evaluation, Inputs};
use fondant_heat::bubbles::{self, Bubbles};
use fondant_heat::bucket::pot_life_s;
use fondant_heat::calibration::forecast::{self, Interval};
use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_heat::{Accuracy, Air, Deepest, Goal, Poured, Stack};
use fondant_materials::resin::{Record, ResinClass, ResinId};
use fondant_numerics::Stop;
use fondant_pours::Schedule;
use fondant_quantities::{Length, Span, Temperature};

/// A warmer resin is compared by this, K.
pub(super) const WARMER_K: f64 = 5.0;
/// A cooling is followed for this long, s.
const LONGEST_COOLED_S: f64 = 14.0 * 86_400.0;
const HALF_HOUR_S: f64 = 1800.0;
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
    /// How long a cooling that is never ended takes to bring the thickest layer past its peak.
    pub(crate) past_peak: Option<Span>,
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
    planned.unwrap_or_else(|_| evaluation.measured.filling().depth_in_one())
}

/// Until the thickest layer has cooled past its peak while it is kept cool, in whole half hours;
/// `None` where it is not kept cool.
fn past_peak(
    document: &Document,
    evaluation: &Evaluation,
    depth: Length,
    stop: &Stop,
) -> Option<Span> {
    let conditions = &document.conditions;
    if conditions.cooling.by == CoolingBy::Nothing {
        return None;
    }
    let poured = evaluation.heat.poured;
    let cooling = Cooling { lasts: Span::ZERO, ..conditions.cooling };
    let around = cooling.surroundings(Air::Steady(conditions.air.k()));
    let around = around.with_sides(evaluation.heat.losses.at(depth));
    let mut stack = Stack::new(&evaluation.resin, around, &Accuracy::coarse().until(stop));
    stack.pour(depth.m(), poured.t_k, poured.conversion).ok()?;
    stack.run(LONGEST_COOLED_S, Goal::Peak { enough_k: f64::INFINITY }).ok()?;
    Some(Span::from_s((stack.time_s() / HALF_HOUR_S).ceil() * HALF_HOUR_S))
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
        let conditions = &document.conditions;
        let depth = evaluation.measured.filling().depth_in_one();
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
            past_peak: past_peak(document, evaluation, thickest, stop),
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
