//! The search for pour times.
//!
//! The layered heat model is the transition: given when the layers so far went
//! in, it says when the surface turns sticky, when it sets, when all is hard
//! and how hot it got. In steady air all of that depends only on the times
//! between pours, so runs are kept by those and shared between first pours.
//! For each first pour every layer is first poured as early as window, hours
//! and limit allow; then, while a budget of runs lasts, also in the middle and
//! at the end of its window. The best plan so far prunes. The result is the
//! best of what is tried, not a proven optimum.

use std::cell::OnceCell;
use std::collections::HashMap;
use std::rc::Rc;

use jiff::{SignedDuration, Timestamp};

use crate::heat::{Accuracy, Goal, Stack};
use crate::quantities::{Span, Temperature};

use super::hours::OpenSpan;
use super::types::{Joint, Schedule, ScheduleError, ScheduledPour, Task};

/// Pours begin on the quarter hour, s.
const GRID_S: i64 = 900;
/// First pours are tried this far apart, s.
const FIRST_POUR_STEP_S: i64 = 3600;
/// First pours are tried within the first so many open stretches.
const FIRST_POUR_SPANS: usize = 3;
/// Shop hours are looked at so far ahead.
const HORIZON: SignedDuration = SignedDuration::from_hours(60 * 24);
/// A layer is followed for so long at most, s.
const LAYER_HORIZON_S: f64 = 14.0 * 86_400.0;
/// Runs of the model that a search may spend on alternatives. Past it only the
/// earliest moment is tried, so that an edit of twelve layers still answers at once.
const RUNS_FOR_ALTERNATIVES: usize = 80;
/// Cells of each layer in the search. Against 40 cells windows move by less
/// than three minutes and peaks by less than 0.15 K, which pours on the quarter
/// hour do not notice; 20 would double the time of a search.
const CELLS_PER_LAYER: usize = 12;
/// A base layer of 2 mm needs no cells of a sixth of a millimetre.
const THINNEST_CELL_M: f64 = 1.2e-3;
/// Peaks may pass the limit by the error of the model's own arithmetic, K.
const LIMIT_SLACK_K: f64 = 0.15;

/// Finds pour times: as few sanded joints as the hours allow, then the form
/// opened soonest, then coolest.
///
/// # Errors
/// [`ScheduleError`] where there is none.
pub fn plan(task: &Task<'_>) -> Result<Schedule, ScheduleError> {
    let end = task.not_before.checked_add(HORIZON).unwrap_or(Timestamp::MAX);
    let hands_s = whole_seconds(task.hands);
    let spans: Vec<OpenSpan> = task
        .hours
        .spans(task.not_before, end)
        .into_iter()
        .filter(|span| span.length().as_secs() >= hands_s)
        .collect();
    let mut search =
        Search { task, spans, hands_s, nodes: HashMap::new(), best: None, alternatives: false };
    let first_pours = search.first_pours();
    if first_pours.is_empty() {
        return Err(ScheduleError::NoTimeToPour { hands: task.hands });
    }
    // The plans that pour each layer as early as it may be bound those that
    // wait for a better hour.
    for alternatives in [false, true] {
        search.alternatives = alternatives;
        for first in &first_pours {
            if search.node(&[0])?.fits {
                search.extend(*first, &mut vec![0], &mut vec![Joint::First])?;
            }
        }
    }
    match search.best.take() {
        Some(best) => search.write_out(&best),
        None => Err(ScheduleError::TooHot),
    }
}

struct Search<'a> {
    task: &'a Task<'a>,
    spans: Vec<OpenSpan>,
    hands_s: i64,
    nodes: HashMap<Vec<i64>, Rc<Node>>,
    best: Option<Candidate>,
    /// Whether moments other than the earliest are tried.
    alternatives: bool,
}

/// The model after pours at given seconds from the first.
struct Node {
    /// Right after the last pour.
    fresh: Stack,
    /// Once the last surface has set.
    set: Stack,
    opens_s: i64,
    closes_s: i64,
    /// No layer passes the limit.
    fits: bool,
    /// When all is hard, once it has been asked.
    hard_s: OnceCell<i64>,
}

#[derive(Clone)]
struct Candidate {
    first: i64,
    times_s: Vec<i64>,
    joints: Vec<Joint>,
    sanded: usize,
    hard_at: i64,
    peak_k: f64,
}

impl Search<'_> {
    fn first_pours(&self) -> Vec<i64> {
        let earliest = self.task.not_before.as_second();
        let mut all = Vec::new();
        for span in self.spans.iter().take(FIRST_POUR_SPANS) {
            let mut at = up_to_grid(span.from.as_second().max(earliest));
            let last = span.to.as_second() - self.hands_s;
            while at <= last {
                all.push(at);
                at += FIRST_POUR_STEP_S;
            }
        }
        all
    }

    /// The model with pours at these seconds from the first.
    fn node(&mut self, times_s: &[i64]) -> Result<Rc<Node>, ScheduleError> {
        if let Some(node) = self.nodes.get(times_s) {
            return Ok(Rc::clone(node));
        }
        let task = self.task;
        let last = times_s.len() - 1;
        let mut stack = if last == 0 {
            Stack::new(task.resin, task.surroundings.clone(), accuracy())
        } else {
            let mut below = self.node(&times_s[..last])?.fresh.clone();
            below.run(times_s[last] as f64, Goal::Time)?;
            below
        };
        stack.pour(task.layers[last].heat_depth.m(), task.poured.t_k, task.poured.conversion)?;
        let fresh = stack.clone();
        stack.run(times_s[last] as f64 + LAYER_HORIZON_S, Goal::WindowClosed)?;
        let window = stack.top().and_then(|top| Some((top.opens_s?, top.closes_s?)));
        let (opens_s, closes_s) = window.ok_or(ScheduleError::NeverSets)?;
        let peak_k = stack.peak().map_or(0.0, |(peak, _)| peak);
        let node = Rc::new(Node {
            fresh,
            opens_s: opens_s.ceil() as i64,
            closes_s: closes_s.floor() as i64,
            fits: peak_k <= task.limit.k() + LIMIT_SLACK_K,
            set: stack,
            hard_s: OnceCell::new(),
        });
        self.nodes.insert(times_s.to_vec(), Rc::clone(&node));
        Ok(node)
    }

    /// Tries all ways in which this can go on after the pours so far.
    fn extend(
        &mut self,
        first: i64,
        times_s: &mut Vec<i64>,
        joints: &mut Vec<Joint>,
    ) -> Result<(), ScheduleError> {
        let node = self.node(times_s)?;
        // Nothing is hard before the last surface has set.
        if self.hopeless(first + node.closes_s, joints) {
            return Ok(());
        }
        if times_s.len() == self.task.layers.len() {
            return self.finish(first, times_s, joints, &node);
        }
        let moments = self.moments_in_window(first, &node);
        match self.earliest_that_fits(first, &moments, times_s)? {
            Some(earliest) => {
                for at in self.worth_trying(&moments[earliest..]) {
                    self.follow(first, at, Joint::WetOnTacky, times_s, joints)?;
                }
            }
            None => {
                let (at, joint) = self.after_cure(first, &node)?;
                self.follow(first, at, joint, times_s, joints)?;
            }
        }
        Ok(())
    }

    /// Pours the next layer then and goes on, unless some layer gets too hot.
    fn follow(
        &mut self,
        first: i64,
        at: i64,
        joint: Joint,
        times_s: &mut Vec<i64>,
        joints: &mut Vec<Joint>,
    ) -> Result<(), ScheduleError> {
        times_s.push(at - first);
        joints.push(joint);
        let followed = match self.node(times_s)?.fits {
            true => self.extend(first, times_s, joints),
            false => Ok(()),
        };
        times_s.pop();
        joints.pop();
        followed
    }

    /// Whether the best plan so far cannot be beaten by one with these joints
    /// that is not hard before `at`.
    fn hopeless(&self, at: i64, joints: &[Joint]) -> bool {
        self.best.as_ref().is_some_and(|best| {
            let sanded = sanded(joints);
            sanded > best.sanded || sanded == best.sanded && at >= best.hard_at
        })
    }

    /// The quarter hours inside both the window and the hours.
    fn moments_in_window(&self, first: i64, node: &Node) -> Vec<i64> {
        let (opens, closes) = (first + node.opens_s, first + node.closes_s - self.hands_s);
        let mut all: Vec<i64> = Vec::new();
        for span in &self.spans {
            let mut at = up_to_grid(span.from.as_second().max(opens));
            let to = (span.to.as_second() - self.hands_s).min(closes);
            while at <= to {
                all.push(at);
                at += GRID_S;
            }
            if span.from.as_second() > closes {
                break;
            }
        }
        all
    }

    /// The first of the moments at which no layer passes the limit. The layer
    /// below cools while one waits, so a moment that fits is sought by halving.
    fn earliest_that_fits(
        &mut self,
        first: i64,
        moments: &[i64],
        times_s: &mut Vec<i64>,
    ) -> Result<Option<usize>, ScheduleError> {
        let (mut low, mut high) = (0, moments.len());
        while low < high {
            // The very first is tried first, as it mostly fits.
            let middle = if low == 0 && high == moments.len() { 0 } else { (low + high) / 2 };
            times_s.push(moments[middle] - first);
            let fits = self.node(times_s)?.fits;
            times_s.pop();
            if fits {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        Ok((low < moments.len()).then_some(low))
    }

    /// Of the moments that fit: the earliest and, while alternatives are
    /// looked for, the middle and the latest.
    fn worth_trying(&self, fitting: &[i64]) -> Vec<i64> {
        let (Some(&earliest), Some(&latest)) = (fitting.first(), fitting.last()) else {
            return Vec::new();
        };
        if !self.alternatives || self.nodes.len() > RUNS_FOR_ALTERNATIVES {
            return vec![earliest];
        }
        let mut all = vec![earliest, fitting[fitting.len() / 2], latest];
        all.dedup();
        all
    }

    /// The first moment after the layer is hard and has been sanded.
    fn after_cure(&self, first: i64, node: &Node) -> Result<(i64, Joint), ScheduleError> {
        let hard = first + self.hard_s(node)?;
        let sanding_s = whole_seconds(self.task.sanding);
        let no_time = ScheduleError::NoTimeToPour { hands: self.task.hands };
        let sanding = self
            .spans
            .iter()
            .find(|span| span.to.as_second() > hard)
            .map(|span| span.from.as_second().max(hard))
            .ok_or(no_time.clone())?;
        let ready = sanding + sanding_s;
        let at = self
            .spans
            .iter()
            .find_map(|span| {
                let at = up_to_grid(span.from.as_second().max(ready));
                (at <= span.to.as_second() - self.hands_s).then_some(at)
            })
            .ok_or(no_time)?;
        Ok((at, Joint::AfterCure { hard: timestamp(hard), sanding: timestamp(sanding) }))
    }

    fn hard_s(&self, node: &Node) -> Result<i64, ScheduleError> {
        if let Some(hard_s) = node.hard_s.get() {
            return Ok(*hard_s);
        }
        let mut stack = node.set.clone();
        let end_s = stack.time_s() + LAYER_HORIZON_S;
        stack.run(end_s, Goal::Hard)?;
        let hard_s = stack.top().and_then(|top| top.hard_s).ok_or(ScheduleError::NeverSets)?;
        Ok(*node.hard_s.get_or_init(|| hard_s.ceil() as i64))
    }

    fn finish(
        &mut self,
        first: i64,
        times_s: &[i64],
        joints: &[Joint],
        node: &Node,
    ) -> Result<(), ScheduleError> {
        let candidate = Candidate {
            first,
            times_s: times_s.to_vec(),
            joints: joints.to_vec(),
            sanded: sanded(joints),
            hard_at: first + self.hard_s(node)?,
            peak_k: node.set.peak().map_or(0.0, |(peak, _)| peak),
        };
        let rank = |c: &Candidate| (c.sanded, c.hard_at);
        let better = self.best.as_ref().is_none_or(|best| {
            rank(&candidate) < rank(best)
                || rank(&candidate) == rank(best) && candidate.peak_k < best.peak_k
        });
        if better {
            self.best = Some(candidate);
        }
        Ok(())
    }

    /// Runs the best plan once more with temperatures kept, and dates it.
    fn write_out(&self, best: &Candidate) -> Result<Schedule, ScheduleError> {
        let task = self.task;
        let mut run = Stack::new(task.resin, task.surroundings.clone(), accuracy());
        run.record();
        let mut windows = Vec::with_capacity(best.times_s.len());
        for (index, at_s) in best.times_s.iter().enumerate() {
            if index > 0 {
                run.run(*at_s as f64, Goal::Time)?;
            }
            run.pour(task.layers[index].heat_depth.m(), task.poured.t_k, task.poured.conversion)?;
            // The window as it would go on if nothing were poured into it.
            let node = &self.nodes[&best.times_s[..=index]];
            windows.push((node.opens_s, node.closes_s));
        }
        run.run(run.time_s() + LAYER_HORIZON_S, Goal::Hard)?;
        let dated = |s: i64| timestamp(best.first + s);
        let pours = run
            .layers()
            .enumerate()
            .map(|(index, events)| ScheduledPour {
                layer: task.layers[index],
                at: dated(best.times_s[index]),
                joint: best.joints[index],
                opens: dated(windows[index].0),
                closes: dated(windows[index].1),
                peak: Temperature::from_k(events.peak_k),
                peak_at: dated(events.peak_s as i64),
            })
            .collect();
        Ok(Schedule { pours, hard: timestamp(best.hard_at), run, runs: self.nodes.len() })
    }
}

fn accuracy() -> Accuracy {
    Accuracy {
        cells_per_layer: CELLS_PER_LAYER,
        thinnest_cell_m: THINNEST_CELL_M,
        ..Accuracy::default()
    }
}

fn sanded(joints: &[Joint]) -> usize {
    joints.iter().filter(|joint| matches!(joint, Joint::AfterCure { .. })).count()
}

fn up_to_grid(second: i64) -> i64 {
    second.div_euclid(GRID_S) * GRID_S + if second.rem_euclid(GRID_S) > 0 { GRID_S } else { 0 }
}

fn whole_seconds(span: Span) -> i64 {
    span.s().ceil() as i64
}

/// A second of the search as a moment; the search never leaves the calendar.
fn timestamp(second: i64) -> Timestamp {
    Timestamp::from_second(second).unwrap_or(Timestamp::MAX)
}

#[cfg(test)]
mod tests;
