//! What a pour at an hour can lead to at best, whatever was poured before it.
//!
//! The window that a layer opens depends a little on the layers below: on how
//! warm they still are. Two twins bracket that: in the hot one the layer below
//! has only just turned sticky, in the cold one it is long cured. Delays are
//! worked out every [`STEP_S`] of the air and joined by straight lines where they
//! move evenly, at every pour where they leap, and widened by a margin
//! ([`super::reach`]); the search checks each pour it follows against them.

use fondant_heat::{Goal, Poured};
use rayon::prelude::*;
use rustc_hash::FxHashMap;

use super::reach::{Reach, STEP_S};
use crate::layers::{Joins, Layer, Rung};
use crate::simulate::column::Column;
use crate::simulate::course::Course;
use crate::simulate::error::ScheduleError;
use crate::simulate::grid::timestamp;
use crate::simulate::task::Task;

/// More than this under the layer below makes no difference, m.
const UNDER_M: f64 = 0.02;

/// Layers that are alike: their own depth and that of the thickest below, in
/// micrometres, whether there is more under that one, and the resins of both.
type Sort = (i64, i64, bool, (u8, u8));

/// Delays by sort of layer and hour.
pub(super) struct Table<'a> {
    pub(super) task: &'a Task<'a>,
    /// By sort and time of the pour: every [`STEP_S`], and the pours themselves
    /// where delays move unevenly.
    entries: FxHashMap<(Sort, i64), Option<Reach>>,
    is_steady: bool,
    /// Widens the margins, where the search found one too narrow.
    pub(super) widening: f64,
    /// Works out each pour where delays leap: dear, and better bounded.
    follows_leaps: bool,
    most_runs: usize,
}

/// More runs of the model would be needed than the table may spend.
#[derive(Debug)]
pub(super) struct Spent;

impl<'a> Table<'a> {
    pub(super) fn new(task: &'a Task<'a>, follows_leaps: bool, most_runs: usize) -> Self {
        Self {
            most_runs,
            task,
            entries: FxHashMap::default(),
            is_steady: task.air.is_steady(),
            widening: 1.0,
            follows_leaps,
        }
    }

    /// Runs of the model spent.
    pub(super) fn runs(&self) -> usize {
        self.entries.len() * 2
    }

    /// The hours on both sides of a time.
    fn hours(&self, at: i64) -> (i64, i64) {
        if self.is_steady {
            let any = self.task.not_before.as_second();
            return (any, any);
        }
        let hour = at.div_euclid(STEP_S) * STEP_S;
        (hour, hour + STEP_S)
    }

    fn sort(&self, level: usize, rung: usize) -> Sort {
        let micro = |layer: &Layer| (layer.heat_depth.m() * 1e6).round() as i64;
        let layer = &self.task.ladder.from(level)[rung].layer;
        match self.task.ladder.thickest_to(level) {
            None => (micro(layer), 0, false, (layer.resin, 0)),
            Some(below) => {
                let is_high = layer.from.m() > below.heat_depth.m() + 1e-3;
                (micro(layer), micro(&below), is_high, (layer.resin, below.resin))
            }
        }
    }

    /// Works out what is needed at a level for pours at these times.
    pub(super) fn fill(&mut self, level: usize, times: &[i64]) -> Result<(), Spent> {
        let rungs = 0..self.task.ladder.from(level).len();
        let mut hours: Vec<i64> =
            times.iter().flat_map(|at| <[i64; 2]>::from(self.hours(*at))).collect();
        hours.sort_unstable();
        hours.dedup();
        let all = |times: Vec<i64>| {
            rungs.clone().flat_map(move |r| times.clone().into_iter().map(move |at| (r, at)))
        };
        self.work_out(level, all(hours).collect())?;
        if !self.follows_leaps {
            return Ok(());
        }
        let leaps = all(times.to_vec()).filter(|(rung, at)| !self.is_even(level, *rung, *at));
        let leaps = leaps.collect();
        self.work_out(level, leaps)
    }

    fn is_even(&self, level: usize, rung: usize, at: i64) -> bool {
        match self.around(level, rung, at) {
            (Some(a), Some(b)) => self.is_steady || Reach::is_even(&a, &b),
            _ => true,
        }
    }

    fn around(&self, level: usize, rung: usize, at: i64) -> (Option<Reach>, Option<Reach>) {
        let (sort, hours) = (self.sort(level, rung), self.hours(at));
        let of = |hour| self.entries.get(&(sort, hour)).copied().flatten();
        (of(hours.0), of(hours.1))
    }

    fn work_out(&mut self, level: usize, mut wanted: Vec<(usize, i64)>) -> Result<(), Spent> {
        wanted.retain(|(rung, at)| !self.entries.contains_key(&(self.sort(level, *rung), *at)));
        if self.runs() + 2 * wanted.len() > self.most_runs {
            return Err(Spent);
        }
        let found: Vec<Option<Reach>> =
            wanted.par_iter().map(|(rung, at)| self.work(level, *rung, *at).ok()).collect();
        for ((rung, at), reach) in wanted.into_iter().zip(found) {
            self.entries.insert((self.sort(level, rung), at), reach);
        }
        Ok(())
    }

    /// What a pour can lead to; `None` where it never sets.
    pub(super) fn at(&self, level: usize, rung: usize, at: i64) -> Option<Reach> {
        let exact = self.entries.get(&(self.sort(level, rung), at)).copied().flatten();
        if let Some(reach) = exact {
            return Some(Reach::between(reach, reach, 0.0, self.widening));
        }
        let (first, second) = self.around(level, rung, at);
        let (from, to) = self.hours(at);
        let share = if from == to { 0.0 } else { (at - from) as f64 / STEP_S as f64 };
        Some(Reach::between(first?, second?, share, self.widening))
    }

    fn work(&self, level: usize, rung: usize, at: i64) -> Result<Reach, ScheduleError> {
        let (task, ladder) = (self.task, self.task.ladder);
        let Rung { layer, .. } = ladder.from(level)[rung];
        let below = ladder.thickest_to(level).filter(|below| !below.kind.is_of_cracks());
        let Some(below) = below else {
            return Reach::of(&[Course::begin(task, &layer, at)?], at);
        };
        let cured = |first: i64, depth_m: f64| -> Result<Column, ScheduleError> {
            let mut column = Column::empty(task, first)?;
            let air_k = task.air.at(timestamp(first)).temperature.k();
            column.lay_cured(task, depth_m.max(2e-4), &below, Poured::long_cured(air_k))?;
            Ok(column)
        };
        let below_m = below.heat_depth.m();
        let under_m = (layer.from.m() - below_m).clamp(0.0, UNDER_M);
        let poured = task.poured_of(&layer);
        let cold = Course::pour(task, poured, cured(at, below_m + under_m)?, &layer, (at, at))?;
        if ladder.joins(level) == Some(Joins::Finished) {
            // Nothing below is still warm.
            return Reach::of(&[cold], at);
        }
        let since = self.opening_delay(level, at);
        let first = at - since;
        let mut column =
            if under_m > 1e-3 { cured(first, under_m)? } else { Column::empty(task, first)? };
        column.pour(task, &below, task.poured_of(&below))?;
        column.run(since as f64, Goal::Time)?;
        let hot = Course::pour(task, poured, column, &layer, (first, at))?;
        Reach::of(&[hot, cold], at)
    }

    /// How long before `at` the thickest layer that ends at a level must have
    /// been poured to turn sticky then: from its own delays, which were worked
    /// out before.
    fn opening_delay(&self, level: usize, at: i64) -> i64 {
        let ladder = self.task.ladder;
        let mut delay = 3600.0;
        let mut thickest = 0.0;
        for under in 0..level {
            for (rung, step) in ladder.from(under).iter().enumerate() {
                if step.to != level || step.layer.heat_depth.m() <= thickest {
                    continue;
                }
                // The nearest hour that was worked out, a few days back at most.
                let (hour, _) = self.hours(at);
                let sort = self.sort(under, rung);
                let known = (0..60).find_map(|back| {
                    let reach =
                        self.entries.get(&(sort, hour - back * STEP_S)).copied().flatten()?;
                    (self.is_steady || reach.opens.least <= ((back + 1) * STEP_S) as f64)
                        .then_some(reach)
                });
                if let Some(reach) = known {
                    thickest = step.layer.heat_depth.m();
                    delay = reach.opens.least;
                }
            }
        }
        delay as i64
    }
}
