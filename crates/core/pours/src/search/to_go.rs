//! What is left to pay at best after each pour, by a graph in which a pour's window no longer
//! depends on what lies below.

use std::ops::Range;

use rustc_hash::FxHashMap;

use super::path::Cost;
use super::reach::Reach;
use super::table::{Spent, Table};
use super::terms::Allowance;
use crate::simulate::course::Course;
use crate::simulate::slots::{AFTER_CURE_WITHIN_S, Slots};
use crate::simulate::task::Task;

/// What is left to pay at best after each pour: by level, rung and slot. The
/// search makes it sharper as it goes: what one path found of a pour's window
/// bounds that of every other path to the same pour.
pub(super) struct ToGo {
    pours: FxHashMap<Key, ToPay>,
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
    /// Slots of the next pour inside the window.
    wet: Range<usize>,
    /// Slots of the next pour once the layer has cured.
    cured: Range<usize>,
    /// Widths of the opening, closing and demould times over what may lie below, s.
    spread: [i64; 3],
}

impl ToGo {
    /// Follows every pour that could be reached from the first slots up to
    /// `until`, then works back from the top.
    ///
    /// # Errors
    /// [`Spent`] where the table may not spend what that takes.
    pub(super) fn work(
        table: &mut Table<'_>,
        slots: &Slots,
        terms: &Allowance<'_>,
        first: Range<usize>,
        until: i64,
    ) -> Result<Self, Spent> {
        let (task, ladder) = (table.task, table.task.ladder);
        let end = slots.within(i64::MIN, until).end;
        let mut reached = vec![vec![false; end]; ladder.top() + 1];
        let from = first.start.min(end);
        reached[0][from..first.end.min(end).max(from)].fill(true);
        let most_k = terms.over_k();
        let mut pours = FxHashMap::default();
        for level in 0..ladder.top() {
            let here: Vec<usize> = (0..end).filter(|index| reached[level][*index]).collect();
            let times: Vec<i64> = here.iter().map(|index| slots.at(*index)).collect();
            table.fill(level, &times)?;
            for index in here {
                for (number, rung) in ladder.from(level).iter().enumerate() {
                    let at = slots.at(index);
                    let Some(reach) = table.at(level, number, at) else { continue };
                    let work_s = task.work(&rung.layer).signed().as_secs();
                    if reach.over_at_least_k > most_k
                        || !slots.has_time(index, work_s, rung.layer.resin)
                    {
                        continue;
                    }
                    let is_last = rung.to == ladder.top();
                    let (wet, cured) = if is_last {
                        (0..0, 0..0)
                    } else {
                        following((task, rung.to), slots, at, &reach, end)
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
        Ok(to_go)
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

/// Slots in which the layer on a level may go in: in the window below it, and after cure.
fn following(
    (task, level): (&Task<'_>, usize),
    slots: &Slots,
    at: i64,
    reach: &Reach,
    end: usize,
) -> (Range<usize>, Range<usize>) {
    let wet = slots.within(at + reach.opens.least as i64, at + reach.closes.most as i64);
    let Some(joins) = task.ladder.joins(level) else { return (0..0, 0..0) };
    let wet = if joins.is_never_wet() { 0..0 } else { wet };
    let work = task.preparation(joins);
    let ready = |delay: f64| slots.prepared(at + delay as i64, work?);
    let cured = match (ready(reach.hard.least), ready(reach.hard.most)) {
        (Some(from), Some(to)) => slots.within(from.1, to.1 + AFTER_CURE_WITHIN_S),
        (Some(from), None) => slots.within(from.1, i64::MAX),
        (None, _) => 0..0,
    };
    let cut = |range: Range<usize>| range.start.min(end)..range.end.min(end);
    (cut(wet), cut(cured))
}
