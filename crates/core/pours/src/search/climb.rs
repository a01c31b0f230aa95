//! Nodes followed in the order of their bounds.

use std::collections::BinaryHeap;
use std::ops::Range;
use std::sync::Arc;

use fondant_quantities::Span;
use rayon::prelude::*;

use super::node::Node;
use super::path::{Complete, Cost, Step};
use super::state::Search;
use super::table::Table;
use super::to_go::ToGo;
use crate::simulate::course::{Course, Shared};
use crate::simulate::error::ScheduleError;
use crate::simulate::schedule::Proof;
use crate::simulate::slots::{AFTER_CURE_WITHIN_S, Preparation};

/// Nodes followed side by side.
const SIDE_BY_SIDE: usize = 8;

/// What following a node led to.
struct Followed {
    course: Shared,
    spent: i64,
    complete: Option<Cost>,
    /// The relaxed graph had promised less.
    broke_bound: bool,
}

/// Nodes not yet followed, and the best complete plan so far.
struct Frontier {
    open: BinaryHeap<Node>,
    best: Option<Complete>,
}

/// The pours that a next one would stand on.
struct Below<'a> {
    before: Option<&'a Shared>,
    spent: i64,
    level: usize,
    path: &'a [Step],
}

impl Search<'_> {
    /// Goes through the nodes by their bounds. `None` where the relaxed graph
    /// turned out too narrow.
    pub(super) fn climb(
        &mut self,
        first: &Range<usize>,
        table: &Table<'_>,
        to_go: &mut ToGo,
        best: &mut Option<Complete>,
    ) -> Result<Option<Proof>, ScheduleError> {
        let mut frontier = Frontier { open: BinaryHeap::new(), best: best.take() };
        let floor = Below { before: None, spent: 0, level: 0, path: &[] };
        for slot in first.clone() {
            self.push(&mut frontier, to_go, slot, &floor);
        }
        let proof = self.climb_on(&mut frontier, table, to_go);
        *best = frontier.best;
        proof
    }

    fn climb_on(
        &mut self,
        frontier: &mut Frontier,
        table: &Table<'_>,
        to_go: &mut ToGo,
    ) -> Result<Option<Proof>, ScheduleError> {
        while !frontier.open.is_empty() {
            if self.runs > self.terms.most_runs {
                let least = frontier.open.peek().map(|node| node.bound);
                return Ok(Some(gap(frontier.best.as_ref(), least)));
            }
            let batch = self.most_promising(frontier, to_go);
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
                match followed {
                    Ok(Some(followed)) if followed.broke_bound => return Ok(None),
                    Ok(Some(followed)) => self.go_on(frontier, table, to_go, node, &followed)?,
                    Ok(None) => {}
                    Err(ScheduleError::NeverSets) => self.never_sets = true,
                    Err(error) => return Err(error),
                }
            }
        }
        Ok(Some(Proof::Best))
    }

    /// The nodes to follow next, those of least bound.
    fn most_promising(&self, frontier: &mut Frontier, to_go: &mut ToGo) -> Vec<Node> {
        let mut batch = Vec::with_capacity(SIDE_BY_SIDE);
        while batch.len() < SIDE_BY_SIDE
            && let Some(mut node) = frontier.open.pop()
        {
            // Other paths may have found since that this cannot be as good.
            let Some(rest) = to_go.renew(node.key_of_last(&self.slots)) else { continue };
            let bound = rest.plus(node.spent);
            if !self.terms.could_beat(bound, frontier.best.as_ref()) {
                continue;
            }
            if bound > node.bound {
                node.bound = bound;
                node.coarse = self.terms.coarse(bound);
                frontier.open.push(node);
            } else {
                batch.push(node);
            }
        }
        batch
    }

    /// Keeps what following a node has shown: a complete plan, or its next pours.
    fn go_on(
        &self,
        frontier: &mut Frontier,
        table: &Table<'_>,
        to_go: &mut ToGo,
        node: Node,
        followed: &Followed,
    ) -> Result<(), ScheduleError> {
        let hard = followed.complete.map(|cost| cost.hard);
        to_go.learn(node.key_of_last(&self.slots), &self.slots, &followed.course, hard);
        let Some(cost) = followed.complete else {
            return self.branch(frontier, (table, to_go), &node, followed);
        };
        let complete = Complete { cost, path: node.path };
        if frontier.best.as_ref().is_none_or(|best| complete < *best) {
            frontier.best = Some(complete);
        }
        Ok(())
    }

    /// The model after a node's last pour; `None` where it gets too hot.
    fn follow(&self, node: &Node, table: &Table<'_>) -> Result<Option<Followed>, ScheduleError> {
        let Some(step) = node.path.last() else { return Ok(None) };
        let layer = self.layer(node.level, step.rung);
        let course = match &node.before {
            None => Course::begin(self.task, layer, step.at)?,
            Some(before) => before.follow(self.task, layer, step.at)?,
        };
        if course.over_k > self.terms.over_k() {
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
            let (hard, over_k) = course.hard()?;
            if over_k > self.terms.over_k() {
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
        &self,
        frontier: &mut Frontier,
        (table, to_go): (&Table<'_>, &ToGo),
        node: &Node,
        followed: &Followed,
    ) -> Result<(), ScheduleError> {
        let Some(step) = node.path.last() else { return Ok(()) };
        let level = self.task.ladder.from(node.level)[step.rung].to;
        let inset = self.terms.inset.signed().as_secs();
        let course = &followed.course;
        let below = Below { before: Some(course), spent: followed.spent, level, path: &node.path };
        let joins = self.task.ladder.joins(level);
        let wet = match joins {
            Some(joins) if joins.is_never_wet() => 0..0,
            _ => self.slots.within(course.opens + inset, course.closes - inset),
        };
        for slot in wet {
            for rung in 0..self.task.ladder.from(level).len() {
                if self.slots.at(slot) + self.work_s(level, rung) <= course.closes - inset {
                    self.push_one(frontier, to_go, (slot, rung), &below);
                }
            }
        }
        let Some(work) = joins.and_then(|joins| self.task.preparation(joins)) else {
            return Ok(());
        };
        if !self.could_sand(frontier.best.as_ref(), (table, to_go), node, &below, work) {
            return Ok(());
        }
        let hard = match course.hard() {
            Ok((hard, _)) => hard,
            Err(ScheduleError::NeverSets) => return Ok(()),
            Err(error) => return Err(error),
        };
        if let Some((_, ready)) = self.slots.prepared(hard, work) {
            for slot in self.slots.within(ready, ready + AFTER_CURE_WITHIN_S) {
                self.push(frontier, to_go, slot, &below);
            }
        }
        Ok(())
    }

    /// Whether sanding after a node's last pour could still lead to something better: only then
    /// is it worth following the cure to its end.
    fn could_sand(
        &self,
        best: Option<&Complete>,
        (table, to_go): (&Table<'_>, &ToGo),
        node: &Node,
        below: &Below<'_>,
        work: Preparation,
    ) -> bool {
        let Some(step) = node.path.last() else { return false };
        let Some(reach) = table.at(node.level, step.rung, step.at) else { return false };
        let ready = |delay: f64| self.slots.prepared(step.at + delay as i64, work);
        let (Some((_, from)), Some((_, to))) = (ready(reach.hard.least), ready(reach.hard.most))
        else {
            return false;
        };
        let rungs = 0..self.task.ladder.from(below.level).len();
        self.slots.within(from, to + AFTER_CURE_WITHIN_S).any(|slot| {
            rungs.clone().any(|rung| {
                let rest = to_go.from((below.level, rung, slot));
                let bound = rest.map(|rest| rest.plus(below.spent));
                bound.is_some_and(|bound| self.terms.could_beat(bound, best))
            })
        })
    }

    fn push(&self, frontier: &mut Frontier, to_go: &ToGo, slot: usize, below: &Below<'_>) {
        for rung in 0..self.task.ladder.from(below.level).len() {
            self.push_one(frontier, to_go, (slot, rung), below);
        }
    }

    fn push_one(
        &self,
        frontier: &mut Frontier,
        to_go: &ToGo,
        (slot, rung): (usize, usize),
        below: &Below<'_>,
    ) {
        let Below { before, spent, level, path } = *below;
        if !self.can_begin(slot, level, rung) {
            return;
        }
        let Some(rest) = to_go.from((level, rung, slot)) else { return };
        let bound = rest.plus(spent);
        if !self.terms.could_beat(bound, frontier.best.as_ref()) {
            return;
        }
        let step = Step { at: self.slots.at(slot), rung };
        let path = path.iter().copied().chain([step]).collect();
        let coarse = self.terms.coarse(bound);
        frontier.open.push(Node { bound, coarse, spent, level, path, before: before.cloned() });
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
