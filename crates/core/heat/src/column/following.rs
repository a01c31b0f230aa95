//! What happens in a column between two steps: peaks, windows, samples.

use fondant_numerics::parabola;
use fondant_numerics::roots::first_true;

use super::cells::LayerCells;
use super::events::LayerEvents;
use super::hot_spot::HotSpot;
use super::layer_resin::LayerResin;
use super::stack::Stack;
use super::trace::Sample;
use crate::conventions::CLOSE_MARGIN_K;

/// The moments within a step at which temperatures are looked at.
const MOMENTS: [f64; 4] = [0.25, 0.5, 0.75, 1.0];

impl Stack {
    /// Looks for the hottest point of every layer within the last step.
    pub(super) fn follow_peaks(&mut self, h: f64) {
        for index in 0..self.events.len() {
            let mut best: Option<f64> = None;
            for theta in MOMENTS {
                let spot = self.hot_spot(theta, index);
                if self.keep_if_hotter(index, spot, theta, h) {
                    best = Some(theta);
                }
            }
            if let Some(theta) = best {
                self.refine_peak(index, theta, h);
            }
        }
        if self.trace.is_some() {
            for theta in MOMENTS {
                self.sample(theta, h);
            }
        }
    }

    fn keep_if_hotter(&mut self, index: usize, spot: HotSpot, theta: f64, h: f64) -> bool {
        let events = &mut self.events[index];
        if spot.t_k <= events.peak_k {
            return false;
        }
        events.peak_k = spot.t_k;
        events.peak_s = self.time_s + theta * h;
        events.peak_height_ratio = spot.height_ratio;
        true
    }

    /// One parabola in time around the hottest moment of a step.
    fn refine_peak(&mut self, index: usize, theta: f64, h: f64) {
        let middle = theta.clamp(0.25, 0.75);
        let t = [middle - 0.25, middle, middle + 0.25].map(|m| self.hot_spot(m, index).t_k);
        if let Some((offset, _)) = parabola::maximum(t[0], t[1], t[2]) {
            let theta = middle + 0.25 * offset;
            if (0.0..=1.0).contains(&theta) {
                let spot = self.hot_spot(theta, index);
                self.keep_if_hotter(index, spot, theta, h);
            }
        }
    }

    fn hot_spot(&self, theta: f64, layer: usize) -> HotSpot {
        let cells = self.column.layers()[layer].cells.clone();
        let all = self.method.all_at(theta, cells.clone());
        HotSpot::among(cells, all, |cell| self.method.at(theta, cell))
    }

    pub(super) fn follow_events(&mut self, h: f64) {
        let Some(events) = self.events.last().copied() else { return };
        let when = |theta: Option<f64>| theta.map(|theta| self.time_s + theta * h);
        let first_gel_s = events.first_gel_s.or_else(|| when(self.crossing(Self::gelled_anywhere)));
        let opens_s = events.opens_s.or_else(|| when(self.crossing(Self::surface_gelled)));
        let closes_s = events.closes_s.or_else(|| {
            let closed = when(self.crossing(Self::surface_set))?;
            Some(closed.max(opens_s?))
        });
        let hard_s = events.hard_s.or_else(|| when(self.crossing(Self::hard_throughout)));
        let full_s = events.full_s.or_else(|| when(self.crossing(Self::cured_throughout)));
        if let Some(top) = self.events.last_mut() {
            *top = LayerEvents { first_gel_s, opens_s, closes_s, hard_s, full_s, ..events };
        }
    }

    /// Where in the last step a condition turned true, if it holds at its end.
    fn crossing(&self, holds: fn(&Self, f64) -> bool) -> Option<f64> {
        holds(self, 1.0).then(|| first_true(|theta| holds(self, theta)))
    }

    fn gelled_anywhere(&self, theta: f64) -> bool {
        let n = self.column.cells();
        let Some(layer) = self.column.layers().last() else { return false };
        let gel = layer.resin.cure.gel_conversion();
        layer.cells.clone().any(|i| self.method.at(theta, n + i) >= gel)
    }

    fn surface_gelled(&self, theta: f64) -> bool {
        let conversion = self.method.at(theta, 2 * self.column.cells());
        self.column.top_resin().is_some_and(|top| conversion >= top.cure.gel_conversion())
    }

    fn surface_set(&self, theta: f64) -> bool {
        let conversion = self.method.at(theta, 2 * self.column.cells());
        let closes_k = self.surface_at(theta) - CLOSE_MARGIN_K;
        let is_set = |top: &LayerResin| top.cure.glass_k(conversion) >= closes_k;
        self.surface_gelled(theta) && self.column.top_resin().is_some_and(is_set)
    }

    fn hard_throughout(&self, theta: f64) -> bool {
        let n = self.column.cells();
        let air = self.surroundings.air.at(self.time_within(theta));
        let hard = |resin: &LayerResin, conversion: f64, t_k: f64| {
            resin.cure.glass_k(conversion) - t_k.max(air) >= resin.hard_k
        };
        let surface = (self.method.at(theta, 2 * n), self.surface_at(theta));
        let is_hard = |layer: &LayerCells| {
            let at = |cell: usize| (self.method.at(theta, n + cell), self.method.at(theta, cell));
            layer.cells.clone().map(at).all(|(a, t_k)| hard(&layer.resin, a, t_k))
        };
        self.column.top_resin().is_some_and(|top| hard(top, surface.0, surface.1))
            && self.column.layers().iter().all(is_hard)
    }

    fn cured_throughout(&self, theta: f64) -> bool {
        let n = self.column.cells();
        let cured = |resin: &LayerResin, i: usize| {
            resin.cure.glass_k(self.method.at(theta, i)) >= resin.full_tg_k
        };
        let is_cured =
            |layer: &LayerCells| layer.cells.clone().all(|cell| cured(&layer.resin, n + cell));
        self.column.top_resin().is_some_and(|top| cured(top, 2 * n))
            && self.column.layers().iter().all(is_cured)
    }

    /// The moment at a share of the last step. Only of use while that step is
    /// looked at, when `time_s` is still its beginning.
    fn time_within(&self, theta: f64) -> f64 {
        self.time_s + theta * self.method.last_step()
    }

    fn surface_at(&self, theta: f64) -> f64 {
        self.column
            .surface_k(self.time_within(theta), self.method.at(theta, self.column.cells() - 1))
    }

    fn sample(&mut self, theta: f64, h: f64) {
        let n = self.column.cells();
        let hottest_k = (0..n).map(|i| self.method.at(theta, i)).fold(f64::MIN, f64::max);
        let sample = Sample {
            t_s: self.time_s + theta * h,
            hottest_k,
            surface_k: self.surface_at(theta),
            underside_k: self.column.underside_k(self.time_within(theta), self.method.at(theta, 0)),
        };
        if let Some(trace) = &mut self.trace {
            trace.samples.push(sample);
        }
    }

    /// The moment of a pour, which lies at the start of a step.
    pub(super) fn sample_now(&mut self) {
        let n = self.column.cells();
        let sample = Sample {
            t_s: self.time_s,
            hottest_k: self.y[..n].iter().copied().fold(f64::MIN, f64::max),
            surface_k: self.column.surface_k(self.time_s, self.y[n - 1]),
            underside_k: self.column.underside_k(self.time_s, self.y[0]),
        };
        if let Some(trace) = &mut self.trace {
            trace.samples.push(sample);
        }
    }
}
