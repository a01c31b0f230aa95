//! What happens in a column between two steps: peaks, windows, samples.

use fondant_numerics::parabola;
use fondant_numerics::roots::first_true;

use super::element::Element;
use super::events::LayerEvents;
use super::hot_spot::HotSpot;
use super::stack::Stack;
use super::trace::Sample;
use crate::conventions::CLOSE_MARGIN_K;

/// The moments within a step at which temperatures are kept.
const MOMENTS: [f64; 4] = [0.25, 0.5, 0.75, 1.0];
/// How far from a peak's moment it is looked at again, in steps.
const BESIDE: f64 = 0.1;

/// The state of the column at a moment.
#[derive(Clone, Copy)]
pub(super) struct Moment<'a> {
    t_s: f64,
    t_k: &'a [f64],
    conversions: &'a [f64],
}

impl Stack {
    /// Looks at the last step, which began at `time_s`.
    pub(super) fn follow(&mut self, h: f64) {
        // Taken out, so that it is written to while the rest is read.
        let mut between = std::mem::take(&mut self.between);
        self.method.state_at(0.5, &mut between);
        for index in 0..self.events.len() {
            self.follow_peak(index, h, &between);
        }
        if self.trace.is_some() {
            for theta in MOMENTS {
                self.method.state_at(theta, &mut between);
                self.keep_sample(self.time_s + theta * h, &between);
            }
        }
        self.follow_events(h, &mut between);
        self.between = between;
    }

    /// Looks for the hottest point of a layer in the middle and at the end of the step, and at the top of
    /// the parabola through those and its beginning.
    fn follow_peak(&mut self, index: usize, h: f64, middle: &[f64]) {
        let before = self.events[index];
        let is_warming = before.peak_s >= self.time_s;
        let half = self.hotter(index, before.peak_k, middle);
        let end = self.hotter(index, half.map_or(before.peak_k, |spot| spot.t_k), &self.y);
        let found = end.map(|spot| (spot, 1.0)).or(half.map(|spot| (spot, 0.5)));
        self.keep_peak(index, found, h);
        if !is_warming && found.is_none() {
            return;
        }
        let mut state = Vec::new();
        let mut at = |theta: f64| {
            self.method.state_at(theta, &mut state);
            self.hotter(index, f64::MIN, &state)
        };
        let mut at_k = |theta: f64| at(theta).map_or(f64::MIN, |spot| spot.t_k);
        let begun_k = if is_warming { before.peak_k } else { at_k(0.0) };
        let half_k = half.map_or_else(|| at_k(0.5), |spot| spot.t_k);
        let end_k = end.map_or_else(|| at_k(1.0), |spot| spot.t_k);
        let Some(theta) = top_within(0.5, 0.5, [begun_k, half_k, end_k]) else { return };
        let middle = theta.clamp(BESIDE, 1.0 - BESIDE);
        let closer = [middle - BESIDE, middle, middle + BESIDE].map(&mut at_k);
        let theta = top_within(middle, BESIDE, closer).unwrap_or(theta);
        let hotter = at(theta).filter(|spot| spot.t_k > self.events[index].peak_k);
        self.keep_peak(index, hotter.map(|spot| (spot, theta)), h);
    }

    fn keep_peak(&mut self, index: usize, found: Option<(HotSpot, f64)>, h: f64) {
        let Some((spot, theta)) = found else { return };
        let events = &mut self.events[index];
        events.peak_k = spot.t_k;
        events.peak_s = self.time_s + theta * h;
        events.peak_height_ratio = spot.height_ratio;
    }

    /// The hottest point of a layer in a state, where it is hotter than that.
    fn hotter(&self, layer: usize, than_k: f64, state: &[f64]) -> Option<HotSpot> {
        HotSpot::hotter(than_k, self.column.layer(layer), state)
    }

    /// The hottest point of all layers in a state, K.
    pub(super) fn hottest_k(&self, state: &[f64]) -> f64 {
        HotSpot::hotter(f64::MIN, self.column.elements(), state).map_or(f64::MIN, |spot| spot.t_k)
    }

    fn follow_events(&mut self, h: f64, between: &mut Vec<f64>) {
        let Some(events) = self.events.last().copied() else { return };
        let mut when = |holds: fn(&Self, Moment<'_>) -> bool| {
            let theta = self.crossing(h, between, holds)?;
            Some(self.time_s + theta * h)
        };
        let first_gel_s = events.first_gel_s.or_else(|| when(Self::gelled_anywhere));
        let opens_s = events.opens_s.or_else(|| when(Self::surface_gelled));
        let closes_s = events.closes_s.or_else(|| {
            let closed = when(Self::surface_set)?;
            Some(closed.max(opens_s?))
        });
        let hard_s = events.hard_s.or_else(|| when(Self::hard_throughout));
        let full_s = events.full_s.or_else(|| when(Self::cured_throughout));
        if let Some(top) = self.events.last_mut() {
            *top = LayerEvents { first_gel_s, opens_s, closes_s, hard_s, full_s, ..events };
        }
    }

    /// Where in the last step a condition turned true, if it holds at its end.
    fn crossing(
        &self,
        h: f64,
        between: &mut Vec<f64>,
        holds: fn(&Self, Moment<'_>) -> bool,
    ) -> Option<f64> {
        holds(self, self.moment(self.time_s + h, &self.y)).then(|| {
            first_true(|theta| {
                self.method.state_at(theta, between);
                holds(self, self.moment(self.time_s + theta * h, between))
            })
        })
    }

    pub(super) fn moment<'a>(&self, t_s: f64, state: &'a [f64]) -> Moment<'a> {
        let (t_k, conversions) = state.split_at(self.column.nodes());
        Moment { t_s, t_k, conversions }
    }

    fn gelled_anywhere(&self, moment: Moment<'_>) -> bool {
        let Some(top) = self.events.len().checked_sub(1) else { return false };
        self.column.layer(top).iter().any(|element| {
            let gel = element.resin.cure.gel_conversion();
            element.crest_over(&moment.conversions[element.cured()], gel).is_some()
        })
    }

    fn surface_gelled(&self, moment: Moment<'_>) -> bool {
        let conversion = moment.conversions.last();
        self.column
            .top_resin()
            .zip(conversion)
            .is_some_and(|(top, conversion)| *conversion >= top.cure.gel_conversion())
    }

    fn surface_set(&self, moment: Moment<'_>) -> bool {
        let surface = moment.conversions.last().zip(moment.t_k.last());
        let is_set =
            self.column.top_resin().zip(surface).is_some_and(|(top, (conversion, t_k))| {
                top.cure.glass_k(*conversion) >= t_k - CLOSE_MARGIN_K
            });
        is_set && self.surface_gelled(moment)
    }

    fn hard_throughout(&self, moment: Moment<'_>) -> bool {
        let air_k = self.surroundings.air.at(moment.t_s);
        // What was poured last is the softest, most of the time.
        self.column.elements().iter().rev().all(|element| {
            let is_short = |above_k: &dyn Fn(usize) -> f64| {
                shortfall_over(element, moment, above_k, -element.resin.hard_k)
            };
            let t_k = &moment.t_k[element.nodes()];
            !is_short(&|_| air_k) && !is_short(&|node| t_k[node])
        })
    }

    fn cured_throughout(&self, moment: Moment<'_>) -> bool {
        self.column
            .elements()
            .iter()
            .rev()
            .all(|element| !shortfall_over(element, moment, &|_| element.resin.full_tg_k, 0.0))
    }

    /// Least margin of the glass transition over the temperature of the same place, K.
    pub(super) fn least_glass_margin_k(&self, moment: Moment<'_>) -> Option<f64> {
        let margin = |element: &Element| {
            let t_k = &moment.t_k[element.nodes()];
            let conversions = &moment.conversions[element.cured()];
            let short = element.short_of_glass(conversions, |node| t_k[node]);
            -element.lobatto.crest(&short[..element.count()]).value
        };
        self.column.elements().iter().map(margin).reduce(f64::min)
    }

    /// Keeps the temperatures of a moment.
    fn keep_sample(&mut self, t_s: f64, state: &[f64]) {
        let sample = Sample {
            t_s,
            hottest_k: self.hottest_k(state),
            surface_k: state[self.column.nodes() - 1],
            underside_k: state[0],
        };
        if let Some(trace) = &mut self.trace {
            trace.samples.push(sample);
        }
    }

    /// The moment of a pour, which lies at the start of a step.
    pub(super) fn sample_now(&mut self) {
        if self.trace.is_some() {
            let state = self.y.clone();
            self.keep_sample(self.time_s, &state);
        }
    }
}

/// Whether the glass transition of a place in an element falls short by more than `than_k` of what
/// `above_k` says of its node.
fn shortfall_over(
    element: &Element,
    moment: Moment<'_>,
    above_k: &dyn Fn(usize) -> f64,
    than_k: f64,
) -> bool {
    let short = element.short_of_glass(&moment.conversions[element.cured()], above_k);
    element.crest_over(&short[..element.count()], than_k).is_some()
}

/// Where the parabola through three equally spaced points has its top, if that is within a step.
fn top_within(middle: f64, beside: f64, values: [f64; 3]) -> Option<f64> {
    let (offset, _) = parabola::maximum(values[0], values[1], values[2])?;
    let theta = middle + beside * offset;
    (0.0..=1.0).contains(&theta).then_some(theta)
}
