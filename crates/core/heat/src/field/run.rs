//! A section or block followed through time.
//!
//! Strang splitting: half a step of cure in every cell of resin without
//! conduction, a step of conduction, half a step of cure. Without conduction
//! `T = T0 + (H/cp)(α − α0)`, so that cure is one scalar equation a cell. The step
//! is as long as the fastest cell takes to warm itself by [`Steps::release_k`].
//! Source of the splitting: G. Strang, *SIAM J. Numer. Anal.* 5 (1968) 506–517.

use std::ops::ControlFlow;

use crate::air::DAY_S;
use crate::error::HeatError;
use crate::poured::Poured;

use super::body::{Around, Content};
use super::conduction::Conduction;
use super::peak::Highest;
use super::state::{Field, FieldResin, Middles, Stretch, in_range};
use super::steps::{FieldGoal, Progress, Segment};
use fondant_materials::Material;
use fondant_materials::resin::Calibrated;

/// The field would be wrong long before it is as hot as this, K.
const HOTTEST_SENSIBLE_K: f64 = 900.0;
/// A peak counts as passed once the hottest point has cooled by this, K.
const PAST_PEAK_K: f64 = 1.0;
/// How far a step may grow from one to the next.
const GROWTH: f64 = 1.5;

impl Field {
    /// Pours resin up to a level: every cell of resin below it that is still
    /// empty is filled.
    ///
    /// # Errors
    /// [`HeatError::Depth`] where the pours hold no resin;
    /// [`HeatError::Temperature`] outside 230 to 450 K.
    pub fn pour(&mut self, to_m: f64, t_k: f64, conversion: f64) -> Result<(), HeatError> {
        self.pour_resin(0, to_m, Poured { t_k, conversion })
    }

    /// The same with another resin than the field was made with.
    ///
    /// # Errors
    /// As [`Field::pour`].
    pub fn pour_of(
        &mut self,
        resin: &Calibrated,
        to_m: f64,
        poured: Poured,
    ) -> Result<(), HeatError> {
        let known = self.resins.iter().position(|known| known.resin == *resin);
        let index = known.unwrap_or(self.resins.len());
        if known.is_none() {
            self.resins.push(FieldResin::new(resin));
        }
        self.pour_resin(index, to_m, poured)
    }

    fn pour_resin(&mut self, resin: usize, to_m: f64, poured: Poured) -> Result<(), HeatError> {
        let Poured { t_k, conversion } = poured;
        in_range(t_k)?;
        let fresh: Vec<usize> = (0..self.body.mesh.cells())
            .filter(|cell| {
                self.body.contents[*cell] == Content::Resin
                    && !self.poured[*cell]
                    && self.body.mesh.middle_m(*cell)[2] < to_m
            })
            .collect();
        if fresh.is_empty() {
            return Err(HeatError::Depth { depth_m: to_m });
        }
        for cell in &fresh {
            self.poured[*cell] = true;
            self.t_k[*cell] = t_k;
            self.conversion[*cell] = conversion;
            self.resin_of[*cell] = resin;
            self.rate_per_s[*cell] = self.resins[resin].cure.rate_per_s(conversion, t_k);
            self.rate_at_k[*cell] = t_k;
        }
        self.wet.extend(fresh);
        self.wet.sort_unstable();
        self.find_stretches();
        self.find_faces();
        self.settle_surface(conversion);
        let again = self.from_each_pour.clone().filter(|_| self.time_s > 0.0);
        self.stand_in(
            again.map_or_else(|| self.around.clone(), |again| again.delayed(self.time_s)),
        );
        self.segments.push(Segment {
            poured_s: self.time_s,
            to_m,
            peak: None,
            opens_s: None,
            opens_everywhere_s: None,
            closes_s: None,
            hard_s: None,
        });
        self.hottest_in_segment = Highest::default();
        self.gaps = None;
        self.look();
        Ok(())
    }

    fn find_stretches(&mut self) {
        self.stretches.clear();
        for (place, cell) in self.wet.iter().enumerate() {
            let resin = self.resin_of[*cell];
            match self.stretches.last_mut().filter(|last| last.resin == resin) {
                Some(last) => last.wet.end = place + 1,
                None => self.stretches.push(Stretch { wet: place..place + 1, resin }),
            }
        }
    }

    fn stand_in(&mut self, around: Around) {
        let resins: Vec<Material> =
            self.resins.iter().map(|resin| Material::resin(&resin.resin)).collect();
        let materials: Vec<Option<Material>> = self
            .body
            .contents
            .iter()
            .zip(self.poured.iter().zip(&self.resin_of))
            .map(|(content, (poured, of))| match content {
                Content::Resin => poured.then_some(resins[*of]),
                Content::Solid(material) => Some(*material),
                Content::Nothing => None,
            })
            .collect();
        self.conduction = Some(Conduction::new(&self.body.mesh, &materials, &around));
        self.around = around;
        self.next_s = self.steps.first_s;
    }

    /// Follows it until `end_s`, until the goal is met, or until `watch` says
    /// that it is no longer wanted.
    ///
    /// # Errors
    /// [`HeatError::Empty`] before any pour; [`HeatError::Diverged`] where the
    /// field stops making sense; [`HeatError::Abandoned`].
    pub fn run(
        &mut self,
        end_s: f64,
        goal: FieldGoal,
        watch: &mut dyn FnMut(Progress) -> ControlFlow<()>,
    ) -> Result<(), HeatError> {
        if self.segments.is_empty() {
            return Err(HeatError::Empty);
        }
        while self.time_s < end_s && !self.met(goal) {
            let change_s = self.change_around();
            let smooth_s = self.around.air.smooth_until(self.time_s).min(end_s).min(change_s);
            let left = smooth_s - self.time_s;
            let mut h = self.next_s;
            // A last step that would leave a sliver is stretched to the end.
            if 1.2 * h >= left {
                h = left;
            }
            self.step(h)?;
            self.look();
            let hottest_k = self.peak().map_or(0.0, |peak| peak.t_k);
            if watch(Progress { at_s: self.time_s, hottest_k }).is_break() {
                return Err(HeatError::Abandoned { at_s: self.time_s });
            }
        }
        Ok(())
    }

    /// Goes over to what comes next around it, where its time has come, and
    /// says when the next change is.
    fn change_around(&mut self) -> f64 {
        while let Some(then) = self.around.then.take_if(|then| then.0 <= self.time_s + 1e-6) {
            self.stand_in(then.1);
        }
        self.around.then.as_ref().map_or(f64::INFINITY, |then| then.0)
    }

    fn met(&self, goal: FieldGoal) -> bool {
        match goal {
            FieldGoal::Time => false,
            FieldGoal::Peak { enough_k } => {
                self.peak().is_some_and(|peak| peak.t_k >= enough_k) || self.past_peak()
            }
            FieldGoal::Hard => {
                self.segments.last().is_some_and(|s| s.hard_s.is_some()) && self.past_peak()
            }
        }
    }

    /// All resin has gelled, after which the reaction only slows in steady
    /// surroundings, and the hottest has cooled.
    fn past_peak(&self) -> bool {
        let Some(peak) = self.peak() else { return false };
        let is_liquid =
            |cell: &usize| self.conversion[*cell] < self.at(*cell).cure.gel_conversion();
        if self.wet.iter().any(is_liquid) {
            return false;
        }
        let changes = !self.around.air.is_steady() || self.around.then.is_some();
        if changes && self.time_s < peak.at_s + DAY_S {
            return false;
        }
        let hottest = self.wet.iter().map(|c| self.t_k[*c]).fold(f64::MIN, f64::max);
        let air_k = self.around.air.at(self.time_s);
        hottest < peak.t_k - PAST_PEAK_K || hottest < air_k + PAST_PEAK_K
    }

    fn step(&mut self, h: f64) -> Result<(), HeatError> {
        let middle_k = self.around.air.at(self.time_s + 0.5 * h);
        self.cure_half(0.5 * h);
        if let Some(conduction) = &mut self.conduction {
            conduction.step(&mut self.t_k, h, middle_k);
        }
        let fastest_k_s = self.cure_half(0.5 * h);
        self.time_s += h;
        self.work.steps += 1;
        self.cure_surface(h);
        self.check()?;
        let liquid = self.segments.last().is_some_and(|s| s.opens_everywhere_s.is_none());
        let longest = if liquid { self.steps.liquid_s } else { self.steps.longest_s };
        let wanted = self.steps.release_k / fastest_k_s.max(1e-12);
        self.next_s = wanted.min(GROWTH * h.max(self.steps.first_s)).min(longest);
        Ok(())
    }

    /// Cure alone for a time, by the midpoint rule. The way to the middle goes at the rate of the middle
    /// before, warmed or cooled to now: what that is off by, in a step that changes the rate by a
    /// tenth, is under a hundredth of half a step. Returns how fast the fastest cell warms itself, K/s.
    fn cure_half(&mut self, h: f64) -> f64 {
        let cells = self.wet.len();
        let Middles { conversion, t_k, rate_per_s } = &mut self.middles;
        for all in [&mut *conversion, t_k, rate_per_s] {
            all.resize(cells, 0.0);
        }
        let mut fastest_k_s = 0.0f64;
        for Stretch { wet, resin } in &self.stretches {
            let FieldResin { cure, rise_k, .. } = &self.resins[*resin];
            let wet = || wet.clone();
            let (conversion, t_k) = (&mut conversion[wet()], &mut t_k[wet()]);
            let rate_per_s = &mut rate_per_s[wet()];
            let wet = &self.wet[wet()];
            for ((a, t), cell) in conversion.iter_mut().zip(t_k.iter_mut()).zip(wet) {
                let (rate, at_k) = (self.rate_per_s[*cell], self.rate_at_k[*cell]);
                let half = 0.5 * h * cure.rate_at(rate, [at_k, self.t_k[*cell]]);
                *a = self.conversion[*cell] + half;
                *t = self.t_k[*cell] + rise_k * half;
            }
            cure.rates_of(conversion, t_k, rate_per_s);
            for ((rate, t), cell) in rate_per_s.iter().zip(t_k.iter()).zip(wet) {
                self.rate_per_s[*cell] = *rate;
                self.rate_at_k[*cell] = *t;
                self.conversion[*cell] += h * rate;
                self.t_k[*cell] += rise_k * h * rate;
                fastest_k_s = fastest_k_s.max(rise_k * rate);
            }
        }
        self.work.evaluations += cells as u64;
        fastest_k_s
    }

    fn check(&self) -> Result<(), HeatError> {
        let bad = self.wet.iter().find(|cell| {
            let (t, a) = (self.t_k[**cell], self.conversion[**cell]);
            !(t > 0.0 && t < HOTTEST_SENSIBLE_K && (-1e-6..=1.0 + 1e-3).contains(&a))
        });
        match bad {
            Some(cell) => Err(HeatError::Diverged {
                at_s: self.time_s,
                place_m: self.body.mesh.middle_m(*cell),
            }),
            None => Ok(()),
        }
    }
}
