//! What a pour at an hour can lead to at best, whatever was poured before it.
//!
//! The window that a layer opens depends a little on the layers below: on how
//! warm they still are. Two twins bracket that: in the hot one the layer below
//! has only just turned sticky, in the cold one it is long cured. Delays are
//! worked out every [`STEP_S`] of the air and joined by straight lines where they
//! move evenly, at every pour where they leap, and widened by a margin
//! ([`super::reach`]); the search checks each pour it follows against them.

use std::collections::HashMap;
use std::ops::Range;

use rayon::prelude::*;

use super::course::{Course, surroundings, timestamp};
use super::reach::{Reach, STEP_S};
use super::slots::{AFTER_CURE_WITHIN_S, Slots};
use super::{Cost, Terms};
use crate::heat::{Accuracy, Goal, Stack};
use crate::layers::{Layer, Rung};
use crate::schedule::types::{ScheduleError, Task};

/// What is long cured has come so far.
const CURED: f64 = 0.93;
/// More than this under the layer below makes no difference, m.
const UNDER_M: f64 = 0.02;

/// Layers that are alike: their own depth and that of the thickest below, in
/// micrometres, and whether there is more under that one.
type Sort = (i64, i64, bool);

/// Delays by sort of layer and hour.
pub(super) struct Table<'a> {
    task: &'a Task<'a>,
    /// By sort and time of the pour: every [`STEP_S`], and the pours themselves
    /// where delays move unevenly.
    entries: HashMap<(Sort, i64), Option<Reach>>,
    is_steady: bool,
    /// Widens the margins, where the search found one too narrow.
    pub(super) widening: f64,
    /// Works out each pour where delays leap: dear, and better bounded.
    follows_leaps: bool,
}

impl<'a> Table<'a> {
    pub(super) fn new(task: &'a Task<'a>, follows_leaps: bool) -> Self {
        Self {
            task,
            entries: HashMap::new(),
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
            None => (micro(layer), 0, false),
            Some(below) => {
                (micro(layer), micro(&below), layer.from.m() > below.heat_depth.m() + 1e-3)
            }
        }
    }

    /// Works out what is needed at a level for pours at these times.
    pub(super) fn fill(&mut self, level: usize, times: &[i64]) {
        let rungs = 0..self.task.ladder.from(level).len();
        let mut hours: Vec<i64> =
            times.iter().flat_map(|at| <[i64; 2]>::from(self.hours(*at))).collect();
        hours.sort_unstable();
        hours.dedup();
        let all = |times: Vec<i64>| {
            rungs.clone().flat_map(move |r| times.clone().into_iter().map(move |at| (r, at)))
        };
        self.work_out(level, all(hours).collect());
        if !self.follows_leaps {
            return;
        }
        let leaps = all(times.to_vec()).filter(|(rung, at)| !self.is_even(level, *rung, *at));
        let leaps = leaps.collect();
        self.work_out(level, leaps);
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

    fn work_out(&mut self, level: usize, mut wanted: Vec<(usize, i64)>) {
        wanted.retain(|(rung, at)| !self.entries.contains_key(&(self.sort(level, *rung), *at)));
        let found: Vec<Option<Reach>> =
            wanted.par_iter().map(|(rung, at)| self.work(level, *rung, *at).ok()).collect();
        for ((rung, at), reach) in wanted.into_iter().zip(found) {
            self.entries.insert((self.sort(level, rung), at), reach);
        }
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
        let Some(below) = ladder.thickest_to(level) else {
            return Reach::of(&[Course::begin(task, &layer, at)?], at);
        };
        let cured = |first: i64, depth_m: f64| -> Result<Stack, ScheduleError> {
            let mut stack = Stack::new(task.resin, surroundings(task, first)?, Accuracy::coarse());
            let air_k = task.air.at(timestamp(first)).temperature.k();
            stack.pour(depth_m.max(2e-4), air_k, CURED)?;
            Ok(stack)
        };
        let below_m = below.heat_depth.m();
        let under_m = (layer.from.m() - below_m).clamp(0.0, UNDER_M);
        let cold =
            Course::pour(task, task.poured, cured(at, below_m + under_m)?, &layer, (at, at))?;
        let since = self.opening_delay(level, at);
        let first = at - since;
        let mut stack = if under_m > 1e-3 {
            cured(first, under_m)?
        } else {
            Stack::new(task.resin, surroundings(task, first)?, Accuracy::coarse())
        };
        stack.pour(below_m, task.poured.t_k, task.poured.conversion)?;
        stack.run(since as f64, Goal::Time)?;
        let hot = Course::pour(task, task.poured, stack, &layer, (first, at))?;
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

/// What is left to pay at best after each pour: by level, rung and slot. The
/// search makes it sharper as it goes: what one path found of a pour's window
/// bounds that of every other path to the same pour.
pub(super) struct ToGo {
    pours: HashMap<Key, ToPay>,
    rungs: Vec<usize>,
}

/// Level, rung and slot of a pour.
pub(super) type Key = (usize, usize, usize);

/// What may follow a pour, and what that costs at best.
struct ToPay {
    cost: Cost,
    /// What the pour itself adds at least.
    own: i64,
    /// The level it reaches.
    to: usize,
    /// When all is hard at best, where nothing follows.
    hard: i64,
    /// Slots of the next pour inside the window ...
    wet: Range<usize>,
    /// ... and after cure.
    cured: Range<usize>,
    /// Opening, closing and hardness depend by so much on what lies below, s.
    spread: [i64; 3],
}

impl ToGo {
    /// Follows every pour that could be reached from the first slots up to
    /// `until`, then reckons back from the top.
    pub(super) fn work(
        table: &mut Table<'_>,
        slots: &Slots,
        terms: &Terms<'_>,
        first: Range<usize>,
        until: i64,
    ) -> Self {
        let (task, ladder) = (table.task, table.task.ladder);
        let end = slots.within(i64::MIN, until).end;
        let mut reached = vec![vec![false; end]; ladder.top() + 1];
        let from = first.start.min(end);
        reached[0][from..first.end.min(end).max(from)].fill(true);
        let limit_k = terms.limit_k(task);
        let mut pours = HashMap::new();
        for level in 0..ladder.top() {
            let here: Vec<usize> = (0..end).filter(|index| reached[level][*index]).collect();
            let times: Vec<i64> = here.iter().map(|index| slots.at(*index)).collect();
            table.fill(level, &times);
            for index in here {
                for (number, rung) in ladder.from(level).iter().enumerate() {
                    let at = slots.at(index);
                    let Some(reach) = table.at(level, number, at) else { continue };
                    let work_s = task.work(&rung.layer).signed().as_secs();
                    if reach.peak_at_least_k > limit_k || !slots.has_time(index, work_s) {
                        continue;
                    }
                    let is_last = rung.to == ladder.top();
                    let (wet, cured) = if is_last {
                        (0..0, 0..0)
                    } else {
                        following(task, slots, at, &reach, end)
                    };
                    for next in wet.clone().chain(cured.clone()) {
                        reached[rung.to][next] = true;
                    }
                    let own = terms.aim.step(slots, at + work_s, at + reach.opens.least as i64);
                    let hard = at + reach.hard.least as i64;
                    let to = if is_last { usize::MAX } else { rung.to };
                    let spread = [reach.opens, reach.closes, reach.hard]
                        .map(|bracket| bracket.spread as i64);
                    let to_pay = ToPay { cost: Cost::NEVER, own, to, hard, wet, cured, spread };
                    pours.insert((level, number, index), to_pay);
                }
            }
        }
        let rungs = (0..ladder.top()).map(|level| ladder.from(level).len()).collect();
        let mut to_go = Self { pours, rungs };
        let mut keys: Vec<Key> = to_go.pours.keys().copied().collect();
        keys.sort_unstable_by(|a, b| b.cmp(a));
        for key in keys {
            to_go.renew(key);
        }
        to_go
    }

    /// What a pour costs at best with all that must follow it.
    pub(super) fn from(&self, key: Key) -> Option<Cost> {
        self.pours.get(&key).map(|to_pay| to_pay.cost).filter(|cost| *cost < Cost::NEVER)
    }

    /// The same by what has been found since.
    pub(super) fn renew(&mut self, key: Key) -> Option<Cost> {
        let to_pay = self.pours.get(&key)?;
        let rest = if to_pay.to == usize::MAX {
            Cost { first: 0, hard: to_pay.hard }
        } else {
            let next = to_pay.wet.clone().chain(to_pay.cured.clone());
            let rungs = 0..self.rungs[to_pay.to];
            next.flat_map(|slot| rungs.clone().map(move |rung| (slot, rung)))
                .filter_map(|(slot, rung)| self.from((to_pay.to, rung, slot)))
                .min()
                .unwrap_or(Cost::NEVER)
        };
        let cost = rest.plus(to_pay.own);
        if let Some(to_pay) = self.pours.get_mut(&key) {
            to_pay.cost = cost;
        }
        self.from(key)
    }

    /// What one path found of a pour, for all paths to it.
    pub(super) fn learn(&mut self, key: Key, slots: &Slots, course: &Course, hard: Option<i64>) {
        let Some(to_pay) = self.pours.get_mut(&key) else { return };
        let [opens, closes, hardens] = to_pay.spread;
        let window = slots.within(course.opens - opens, course.closes + closes);
        let start = window.start.max(to_pay.wet.start);
        to_pay.wet = start..window.end.min(to_pay.wet.end).max(start);
        if let Some(hard) = hard {
            to_pay.hard = to_pay.hard.max(hard - hardens);
        }
        self.renew(key);
    }
}

/// Slots in which the next layer may go in: in the window, and after cure.
fn following(
    task: &Task<'_>,
    slots: &Slots,
    at: i64,
    reach: &Reach,
    end: usize,
) -> (Range<usize>, Range<usize>) {
    let wet = slots.within(at + reach.opens.least as i64, at + reach.closes.most as i64);
    let ready = |delay: f64| slots.sanded(at + delay as i64, task.sanding);
    let cured = match (ready(reach.hard.least), ready(reach.hard.most)) {
        (Some(from), Some(to)) => slots.within(from.1, to.1 + AFTER_CURE_WITHIN_S),
        (Some(from), None) => slots.within(from.1, i64::MAX),
        (None, _) => 0..0,
    };
    let cut = |range: Range<usize>| range.start.min(end)..range.end.min(end);
    (cut(wet), cut(cured))
}
