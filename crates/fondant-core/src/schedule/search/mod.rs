//! The best pour times and depths on a grid: A* over the pours, with the
//! layered heat model as the transition.
//!
//! A node is the pours so far; following it runs the model on from the state of
//! the one before. What is left to pay is bounded from below by a relaxed
//! graph in which a pour's window no longer depends on what lies below
//! ([`relaxed`]). Nodes are taken in the order of their bound, a fixed number at
//! a time and side by side, so that the answer does not depend on the number of
//! threads. The first complete plan whose cost is no more than the least bound
//! is the best on the grid.

mod course;
mod dive;
mod reach;
mod relaxed;
mod slots;
mod terms;
mod written;

use std::cmp::Ordering;
use std::collections::BinaryHeap;
use std::sync::Arc;

use jiff::Timestamp;
use rayon::prelude::*;

pub(super) use course::{Course, LAYER_HORIZON_S, LIMIT_SLACK_K, Shared, surroundings, timestamp};
use relaxed::{Table, ToGo};
pub use slots::GRID_S;
pub(super) use slots::Slots;
pub use written::bindings;

use super::types::{Proof, Schedule, ScheduleError, Task};
use crate::layers::Layer;
use crate::quantities::Span;
use slots::{AFTER_CURE_WITHIN_S, HORIZON};
use terms::Allowance as Terms;
use terms::Cost;
pub use terms::{Aim, Allowance};

/// Nodes followed side by side.
const SIDE_BY_SIDE: usize = 8;
/// With no plan to begin from, one is looked for within four weeks, s.
const NO_PLAN_WITHIN_S: i64 = 28 * 86_400;
/// Where another aim than the soonest counts, all is poured within two weeks of
/// the first hour that is open, s.
const OTHER_AIMS_WITHIN_S: i64 = 14 * 86_400;
/// A search that asks for so much or closer follows windows where they leap.
const LEAPS_FOLLOWED: Span = Span::from_s(1800.0);
/// Margins of the relaxed graph are widened so often at most.
const MOST_WIDENINGS: usize = 3;

/// One pour of a path.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Step {
    at: i64,
    rung: usize,
}

/// Pours so far, of which the last has not been followed yet.
struct Node {
    /// No plan with these pours costs less.
    bound: Cost,
    /// The same, so coarse that bounds as good as equal are: of those the
    /// longest path goes first.
    coarse: Cost,
    /// What the pours before the last have cost.
    spent: i64,
    /// The level that the last pour stands on.
    level: usize,
    path: Vec<Step>,
    before: Option<Shared>,
}

impl Node {
    fn key_of_last(&self, slots: &Slots) -> relaxed::Key {
        let (rung, at) = self.path.last().map_or((0, 0), |step| (step.rung, step.at));
        (self.level, rung, slots.within(at, at).start)
    }

    fn key(&self) -> (Cost, std::cmp::Reverse<usize>, Cost, &[Step]) {
        (self.coarse, std::cmp::Reverse(self.path.len()), self.bound, &self.path)
    }
}
impl PartialEq for Node {
    fn eq(&self, other: &Self) -> bool {
        self.key() == other.key()
    }
}
impl Eq for Node {}
impl PartialOrd for Node {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
impl Ord for Node {
    /// The heap gives the greatest first: that of least bound, then the longest.
    fn cmp(&self, other: &Self) -> Ordering {
        other.key().cmp(&self.key())
    }
}

/// A plan that is complete.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
struct Complete {
    cost: Cost,
    path: Vec<Step>,
}

/// What following a node led to.
struct Followed {
    course: Shared,
    spent: i64,
    complete: Option<Cost>,
    /// The relaxed graph had promised less.
    broke_bound: bool,
}

/// The best plan by what is asked for, or one as close to it as is allowed.
///
/// # Errors
/// [`ScheduleError`] where there is none.
pub fn search(task: &Task<'_>, terms: &Allowance<'_>) -> Result<Schedule, ScheduleError> {
    let end = task.not_before.checked_add(HORIZON).unwrap_or(Timestamp::MAX);
    let slots = Slots::of(task.hours, task.not_before, end);
    for level in 0..task.ladder.top() {
        let works = task.ladder.from(level).iter().map(|rung| task.work(&rung.layer));
        let Some(least) = works.min_by(|a, b| a.s().total_cmp(&b.s())) else {
            return Err(ScheduleError::TooHot);
        };
        if least.signed().as_secs() > slots.longest_s() {
            return Err(ScheduleError::NoTimeToPour { hands: least });
        }
    }
    let mut search = Search { task, terms, slots, runs: 0, never_sets: false };
    let (best, proof) = search.run()?;
    search.write_out(&best, proof)
}

struct Search<'a> {
    task: &'a Task<'a>,
    terms: &'a Terms<'a>,
    slots: Slots,
    runs: usize,
    never_sets: bool,
}

impl Search<'_> {
    fn layer(&self, level: usize, rung: usize) -> &Layer {
        &self.task.ladder.from(level)[rung].layer
    }

    fn work_s(&self, level: usize, rung: usize) -> i64 {
        self.task.work(self.layer(level, rung)).signed().as_secs()
    }

    /// Slots of the first pour.
    fn first_slots(&self) -> std::ops::Range<usize> {
        let rungs = 0..self.task.ladder.from(0).len();
        let can =
            |slot: &usize| rungs.clone().any(|r| self.slots.has_time(*slot, self.work_s(0, r)));
        let Some(first) = (0..self.slots.len()).find(can) else { return 0..0 };
        let last = self.slots.at(first) + self.terms.first_within.as_secs();
        self.slots.within(self.slots.at(first), last)
    }

    fn run(&mut self) -> Result<(Complete, Proof), ScheduleError> {
        let first = self.first_slots();
        let mut best = self.dive(first.clone())?;
        let mut table = Table::new(self.task, self.terms.close <= LEAPS_FOLLOWED);
        for widening in 0.. {
            let until = best.as_ref().map(|b| b.cost.hard);
            let begin = if first.is_empty() { 0 } else { self.slots.at(first.start) };
            let horizon = match (self.terms.aim, until) {
                // Nothing poured after the best is hard can be sooner.
                (Aim::Soonest, Some(hard)) => hard,
                (Aim::Soonest, None) => begin + NO_PLAN_WITHIN_S,
                // Fewer pours or quieter nights may well take longer.
                (Aim::FewestPours | Aim::QuietNights, _) => begin + OTHER_AIMS_WITHIN_S,
            };
            let mut to_go = ToGo::work(&mut table, &self.slots, self.terms, first.clone(), horizon);
            let sound = self.climb(&first, &table, &mut to_go, &mut best)?;
            match (sound, best.clone()) {
                (Some(proof), Some(best)) => {
                    self.runs += table.runs();
                    return Ok((best, proof));
                }
                (Some(_), None) if self.never_sets => return Err(ScheduleError::NeverSets),
                (Some(_), None) => return Err(ScheduleError::TooHot),
                (None, _) if widening >= MOST_WIDENINGS => {
                    return best.map(|best| (best, Proof::Unproven)).ok_or(ScheduleError::TooHot);
                }
                // A pour did what the relaxed graph had ruled out: wider margins.
                (None, _) => table.widening *= 2.0,
            }
        }
        Err(ScheduleError::TooHot)
    }

    /// Goes through the nodes by their bounds. `None` where the relaxed graph
    /// turned out too narrow.
    fn climb(
        &mut self,
        first: &std::ops::Range<usize>,
        table: &Table<'_>,
        to_go: &mut ToGo,
        best: &mut Option<Complete>,
    ) -> Result<Option<Proof>, ScheduleError> {
        let mut open = BinaryHeap::new();
        for slot in first.clone() {
            self.push(&mut open, &*to_go, best.as_ref(), slot, None, 0, 0, &[]);
        }
        while !open.is_empty() {
            if self.runs > self.terms.most_runs {
                let least = open.peek().map(|node: &Node| node.bound);
                return Ok(Some(gap(best.as_ref(), least)));
            }
            let mut batch = Vec::with_capacity(SIDE_BY_SIDE);
            while batch.len() < SIDE_BY_SIDE
                && let Some(mut node) = open.pop()
            {
                // Other paths may have found since that this cannot be as good.
                let Some(rest) = to_go.renew(node.key_of_last(&self.slots)) else { continue };
                let bound = rest.plus(node.spent);
                if !self.terms.could_beat(bound, best.as_ref()) {
                    continue;
                }
                if bound > node.bound {
                    node.bound = bound;
                    node.coarse = self.terms.coarse(bound);
                    open.push(node);
                } else {
                    batch.push(node);
                }
            }
            if batch.is_empty() {
                break;
            }
            self.runs += batch.len();
            if !(self.terms.watch)(self.runs) {
                return Err(ScheduleError::Abandoned);
            }
            let followed: Vec<Result<Option<Followed>, ScheduleError>> =
                batch.par_iter().map(|node| self.follow(node, table)).collect();
            for (node, followed) in batch.into_iter().zip(followed) {
                let followed = match followed {
                    Ok(Some(followed)) => followed,
                    Ok(None) => continue,
                    Err(ScheduleError::NeverSets) => {
                        self.never_sets = true;
                        continue;
                    }
                    Err(error) => return Err(error),
                };
                if followed.broke_bound {
                    return Ok(None);
                }
                let hard = followed.complete.map(|cost| cost.hard);
                to_go.learn(node.key_of_last(&self.slots), &self.slots, &followed.course, hard);
                if let Some(cost) = followed.complete {
                    let complete = Complete { cost, path: node.path };
                    if best.as_ref().is_none_or(|b| complete < *b) {
                        *best = Some(complete);
                    }
                    continue;
                }
                self.branch(&mut open, (table, &*to_go), best.as_ref(), &node, &followed)?;
            }
        }
        Ok(Some(Proof::Best))
    }

    /// The model after a node's last pour; `None` where it gets too hot.
    fn follow(&self, node: &Node, table: &Table<'_>) -> Result<Option<Followed>, ScheduleError> {
        let Some(step) = node.path.last() else { return Ok(None) };
        let layer = self.layer(node.level, step.rung);
        let course = match &node.before {
            None => Course::begin(self.task, layer, step.at)?,
            Some(before) => before.follow(self.task, layer, step.at)?,
        };
        if course.peak_k > self.terms.limit_k(self.task) {
            return Ok(None);
        }
        let rung = self.task.ladder.from(node.level)[step.rung];
        let done = step.at + self.work_s(node.level, step.rung);
        let spent = node.spent + self.terms.aim.step(&self.slots, done, course.opens);
        let mut broke_bound = table.at(node.level, step.rung, step.at).is_none_or(|reach| {
            let (opens, closes) = (course.opens - step.at, course.closes - step.at);
            (opens as f64) < reach.opens.least || closes as f64 > reach.closes.most
        });
        let mut complete = None;
        if rung.to == self.task.ladder.top() {
            let (hard, peak_k) = course.hard()?;
            if peak_k > self.terms.limit_k(self.task) {
                return Ok(None);
            }
            let cost = Cost { first: spent, hard };
            broke_bound |= cost < node.bound;
            complete = Some(cost);
        }
        Ok(Some(Followed { course: Arc::new(course), spent, complete, broke_bound }))
    }

    /// Every pour that may come next.
    fn branch(
        &mut self,
        open: &mut BinaryHeap<Node>,
        (table, to_go): (&Table<'_>, &ToGo),
        best: Option<&Complete>,
        node: &Node,
        followed: &Followed,
    ) -> Result<(), ScheduleError> {
        let Some(step) = node.path.last() else { return Ok(()) };
        let level = self.task.ladder.from(node.level)[step.rung].to;
        let inset = self.terms.inset.signed().as_secs();
        let course = &followed.course;
        for slot in self.slots.within(course.opens + inset, course.closes - inset) {
            for rung in 0..self.task.ladder.from(level).len() {
                if self.slots.at(slot) + self.work_s(level, rung) > course.closes - inset {
                    continue;
                }
                let before = Some(course);
                self.push_one(
                    open,
                    to_go,
                    best,
                    (slot, rung),
                    before,
                    followed.spent,
                    level,
                    &node.path,
                );
            }
        }
        // Only where sanding could still lead to something better is it worth
        // following the cure to its end.
        let could_help = table.at(node.level, step.rung, step.at).is_some_and(|reach| {
            let ready = |delay: f64| self.slots.sanded(step.at + delay as i64, self.task.sanding);
            let (Some((_, from)), Some((_, to))) =
                (ready(reach.hard.least), ready(reach.hard.most))
            else {
                return false;
            };
            let rungs = 0..self.task.ladder.from(level).len();
            self.slots.within(from, to + AFTER_CURE_WITHIN_S).any(|slot| {
                rungs.clone().any(|rung| {
                    let bound =
                        to_go.from((level, rung, slot)).map(|rest| rest.plus(followed.spent));
                    bound.is_some_and(|bound| self.terms.could_beat(bound, best))
                })
            })
        });
        if !could_help {
            return Ok(());
        }
        let hard = match course.hard() {
            Ok((hard, _)) => hard,
            Err(ScheduleError::NeverSets) => return Ok(()),
            Err(error) => return Err(error),
        };
        if let Some((_, ready)) = self.slots.sanded(hard, self.task.sanding) {
            for slot in self.slots.within(ready, ready + AFTER_CURE_WITHIN_S) {
                self.push(open, to_go, best, slot, Some(course), followed.spent, level, &node.path);
            }
        }
        Ok(())
    }

    #[allow(clippy::too_many_arguments, reason = "what makes a node, each of it needed once")]
    fn push(
        &self,
        open: &mut BinaryHeap<Node>,
        to_go: &ToGo,
        best: Option<&Complete>,
        slot: usize,
        before: Option<&Shared>,
        spent: i64,
        level: usize,
        path: &[Step],
    ) {
        for rung in 0..self.task.ladder.from(level).len() {
            self.push_one(open, to_go, best, (slot, rung), before, spent, level, path);
        }
    }

    #[allow(clippy::too_many_arguments, reason = "what makes a node, each of it needed once")]
    fn push_one(
        &self,
        open: &mut BinaryHeap<Node>,
        to_go: &ToGo,
        best: Option<&Complete>,
        (slot, rung): (usize, usize),
        before: Option<&Shared>,
        spent: i64,
        level: usize,
        path: &[Step],
    ) {
        if !self.slots.has_time(slot, self.work_s(level, rung)) {
            return;
        }
        let Some(rest) = to_go.from((level, rung, slot)) else { return };
        let bound = rest.plus(spent);
        if !self.terms.could_beat(bound, best) {
            return;
        }
        let step = Step { at: self.slots.at(slot), rung };
        let path = path.iter().copied().chain([step]).collect();
        let coarse = self.terms.coarse(bound);
        open.push(Node { bound, coarse, spent, level, path, before: before.cloned() });
    }
}

/// How much better than the best a plan with the least open bound could be.
fn gap(best: Option<&Complete>, least: Option<Cost>) -> Proof {
    match (best, least) {
        (Some(best), Some(least)) => {
            Proof::Within(Span::from_s((best.cost.hard - least.hard).max(0) as f64))
        }
        _ => Proof::Best,
    }
}

#[cfg(test)]
mod tests;
