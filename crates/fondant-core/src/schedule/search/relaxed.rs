//! What a pour at an hour can lead to at best, whatever was poured before it.
//!
//! The window that a layer opens depends a little on the layers below: on how
//! warm they still are. Two twins bracket that: in the hot one the layer below
//! has only just turned sticky, in the cold one it is long cured. Delays are
//! worked out every [`STEP_S`] of the air, joined by straight lines and widened
//! by a margin; the search checks each pour it follows against them.

use std::collections::HashMap;
use std::ops::Range;

use rayon::prelude::*;

use super::course::{Course, accuracy, surroundings, timestamp};
use super::slots::{AFTER_CURE_WITHIN_S, Slots};
use super::{Cost, Terms};
use crate::heat::{Goal, Stack};
use crate::layers::{Layer, Rung};
use crate::schedule::types::{ScheduleError, Task};

/// Delays are worked out so far apart, s.
const STEP_S: i64 = 7200;
/// Margin of the opening, s.
const OPENS_MARGIN_S: f64 = 300.0;
/// Margin of the closing, s.
const CLOSES_MARGIN_S: f64 = 600.0;
/// Margin of hardness, s, and as a share of its delay.
const HARD_MARGIN_S: f64 = 150.0;
const HARD_MARGIN_RATIO: f64 = 0.0005;
/// Margin on the spread between the twins, s.
const SPREAD_MARGIN_S: f64 = 180.0;
/// Margin on a peak, K.
const MARGIN_K: f64 = 0.5;
/// What is long cured has come so far.
const CURED: f64 = 0.93;
/// More than this under the layer below makes no difference, m.
const UNDER_M: f64 = 0.02;

/// Delays from the pour, s, and the coolest peak, K.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Reach {
    pub(super) opens: (f64, f64),
    pub(super) closes_at_most: f64,
    pub(super) hard: (f64, f64),
    pub(super) peak_at_least_k: f64,
    /// How much the window, and hardness, depend on what lies below, s.
    pub(super) spread: (f64, f64),
}

impl Reach {
    fn of(courses: &[Course], at: i64) -> Result<Self, ScheduleError> {
        let mut reach = Self {
            opens: (f64::INFINITY, 0.0),
            closes_at_most: 0.0,
            hard: (f64::INFINITY, 0.0),
            peak_at_least_k: f64::INFINITY,
            spread: (0.0, 0.0),
        };
        let mut closes_at_least = f64::INFINITY;
        for course in courses {
            let (opens, closes) = ((course.opens - at) as f64, (course.closes - at) as f64);
            let hard = (course.hard()?.0 - at) as f64;
            reach.opens = (reach.opens.0.min(opens), reach.opens.1.max(opens));
            reach.closes_at_most = reach.closes_at_most.max(closes);
            closes_at_least = closes_at_least.min(closes);
            reach.hard = (reach.hard.0.min(hard), reach.hard.1.max(hard));
            reach.peak_at_least_k = reach.peak_at_least_k.min(course.peak_k);
        }
        // A single course has no twin: its window depends on nothing else.
        if courses.len() > 1 {
            let window =
                (reach.opens.1 - reach.opens.0).max(reach.closes_at_most - closes_at_least);
            let hard = reach.hard.1 - reach.hard.0;
            reach.spread = (window + SPREAD_MARGIN_S, hard + SPREAD_MARGIN_S);
        }
        Ok(reach)
    }

    fn between(a: Self, b: Self, share: f64) -> Self {
        let mix = |x: f64, y: f64| x + (y - x) * share;
        // Where it is the evening's fall of the air that closes a window, closing
        // jumps by hours from one pour to the next; but a pour made earlier
        // closes no later by the clock.
        let until_next = if share > 0.0 { (1.0 - share) * STEP_S as f64 } else { 0.0 };
        let latest = if share > 0.0 { b.closes_at_most + until_next } else { a.closes_at_most };
        Self {
            opens: (mix(a.opens.0, b.opens.0), mix(a.opens.1, b.opens.1)),
            closes_at_most: latest.max(mix(a.closes_at_most, b.closes_at_most)),
            hard: (mix(a.hard.0, b.hard.0), mix(a.hard.1, b.hard.1)),
            peak_at_least_k: mix(a.peak_at_least_k, b.peak_at_least_k),
            spread: (a.spread.0.max(b.spread.0), a.spread.1.max(b.spread.1)),
        }
    }

    fn widened(self, factor: f64) -> Self {
        let hard = factor * (HARD_MARGIN_S + HARD_MARGIN_RATIO * self.hard.0);
        Self {
            opens: (self.opens.0 - factor * OPENS_MARGIN_S, self.opens.1 + factor * OPENS_MARGIN_S),
            closes_at_most: self.closes_at_most + factor * CLOSES_MARGIN_S,
            hard: (self.hard.0 - hard, self.hard.1 + hard),
            peak_at_least_k: self.peak_at_least_k - factor * MARGIN_K,
            spread: (factor * self.spread.0, factor * self.spread.1),
        }
    }
}

/// Layers that are alike: their own depth and that of the thickest below, in
/// micrometres, and whether there is more under that one.
type Sort = (i64, i64, bool);

/// Delays by sort of layer and hour.
pub(super) struct Table<'a> {
    task: &'a Task<'a>,
    entries: HashMap<(Sort, i64), Option<Reach>>,
    is_steady: bool,
    /// Widens the margins, where the search found one too narrow.
    pub(super) widening: f64,
}

impl<'a> Table<'a> {
    pub(super) fn new(task: &'a Task<'a>) -> Self {
        Self { task, entries: HashMap::new(), is_steady: task.air.is_steady(), widening: 1.0 }
    }

    /// Runs of the model spent.
    pub(super) fn runs(&self) -> usize {
        self.entries.len() * 2
    }

    fn cells(&self, at: i64) -> (i64, i64) {
        let cell = at.div_euclid(STEP_S);
        if self.is_steady { (0, 0) } else { (cell, cell + 1) }
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
    pub(super) fn fill(&mut self, level: usize, times: impl Iterator<Item = i64> + Clone) {
        let rungs = self.task.ladder.from(level).len();
        let mut cells: Vec<i64> = times.flat_map(|at| <[i64; 2]>::from(self.cells(at))).collect();
        cells.sort_unstable();
        cells.dedup();
        let mut wanted: Vec<(usize, Sort, i64)> = Vec::new();
        for rung in 0..rungs {
            let sort = self.sort(level, rung);
            let missing = cells.iter().filter(|cell| !self.entries.contains_key(&(sort, **cell)));
            wanted.extend(missing.map(|cell| (rung, sort, *cell)));
        }
        let found: Vec<Option<Reach>> =
            wanted.par_iter().map(|(rung, _, cell)| self.work(level, *rung, *cell).ok()).collect();
        for ((_, sort, cell), reach) in wanted.into_iter().zip(found) {
            self.entries.insert((sort, cell), reach);
        }
    }

    /// What a pour can lead to; `None` where it never sets.
    pub(super) fn at(&self, level: usize, rung: usize, at: i64) -> Option<Reach> {
        let (a, b) = self.cells(at);
        let sort = self.sort(level, rung);
        let first = (*self.entries.get(&(sort, a))?)?;
        let second = (*self.entries.get(&(sort, b))?)?;
        let share = if a == b { 0.0 } else { (at - a * STEP_S) as f64 / STEP_S as f64 };
        Some(Reach::between(first, second, share).widened(self.widening))
    }

    fn work(&self, level: usize, rung: usize, cell: i64) -> Result<Reach, ScheduleError> {
        let (task, ladder) = (self.task, self.task.ladder);
        let Rung { layer, .. } = ladder.from(level)[rung];
        let at = if self.is_steady { task.not_before.as_second() } else { cell * STEP_S };
        let Some(below) = ladder.thickest_to(level) else {
            return Reach::of(&[Course::begin(task, &layer, at)?], at);
        };
        let cured = |first: i64, depth_m: f64| -> Result<Stack, ScheduleError> {
            let mut stack = Stack::new(task.resin, surroundings(task, first)?, accuracy());
            let air_k = task.air.at(timestamp(first)).temperature.k();
            stack.pour(depth_m.max(2e-4), air_k, CURED)?;
            Ok(stack)
        };
        let below_m = below.heat_depth.m();
        let under_m = (layer.from.m() - below_m).clamp(0.0, UNDER_M);
        let cold = Course::pour(task.poured, cured(at, below_m + under_m)?, &layer, at, at)?;
        let since = self.opening_delay(level, at);
        let first = at - since;
        let mut stack = if under_m > 1e-3 {
            cured(first, under_m)?
        } else {
            Stack::new(task.resin, surroundings(task, first)?, accuracy())
        };
        stack.pour(below_m, task.poured.t_k, task.poured.conversion)?;
        stack.run(since as f64, Goal::Time)?;
        let hot = Course::pour(task.poured, stack, &layer, first, at)?;
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
                let (cell, _) = self.cells(at);
                let sort = self.sort(under, rung);
                let known = (0..60).find_map(|back| {
                    let reach = self.entries.get(&(sort, cell - back)).copied().flatten()?;
                    (self.is_steady || reach.opens.0 <= ((back + 1) * STEP_S) as f64)
                        .then_some(reach)
                });
                if let Some(reach) = known {
                    thickest = step.layer.heat_depth.m();
                    delay = reach.opens.0;
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
    /// The window and hardness depend by so much on what lies below, s.
    spread: (f64, f64),
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
            table.fill(level, here.iter().map(|index| slots.at(*index)));
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
                    let own = terms.aim.step(slots, at + work_s, at + reach.opens.0 as i64);
                    let hard = at + reach.hard.0 as i64;
                    let to = if is_last { usize::MAX } else { rung.to };
                    let spread = reach.spread;
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
        let off = to_pay.spread.0 as i64;
        let window = slots.within(course.opens - off, course.closes + off);
        let start = window.start.max(to_pay.wet.start);
        to_pay.wet = start..window.end.min(to_pay.wet.end).max(start);
        if let Some(hard) = hard {
            to_pay.hard = to_pay.hard.max(hard - to_pay.spread.1 as i64);
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
    let wet = slots.within(at + reach.opens.0 as i64, at + reach.closes_at_most as i64);
    let ready = |delay: f64| slots.sanded(at + delay as i64, task.sanding);
    let cured = match (ready(reach.hard.0), ready(reach.hard.1)) {
        (Some(from), Some(to)) => slots.within(from.1, to.1 + AFTER_CURE_WITHIN_S),
        (Some(from), None) => slots.within(from.1, i64::MAX),
        (None, _) => 0..0,
    };
    let cut = |range: Range<usize>| range.start.min(end)..range.end.min(end);
    (cut(wet), cut(cured))
}
