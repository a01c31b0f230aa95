//! The best plan written out: followed once more, and why each pour is not
//! earlier.

use super::course::{Course, LIMIT_SLACK_K, timestamp};
use super::slots::GRID_S;
use super::{Complete, Search};
use crate::schedule::judge::{Given, judge, slots_of};
use crate::schedule::types::{Binding, Proof, Schedule, ScheduleError, Task};

impl Search<'_> {
    /// Runs the best plan once more with temperatures kept, and dates it.
    pub(super) fn write_out(
        &self,
        best: &Complete,
        proof: Proof,
    ) -> Result<Schedule, ScheduleError> {
        let mut level = 0;
        let mut given = Vec::with_capacity(best.path.len());
        for step in &best.path {
            let rung = self.task.ladder.from(level)[step.rung];
            given.push(Given::planned(rung.layer, timestamp(step.at)));
            level = rung.to;
        }
        let mut schedule = judge(self.task, &given)?;
        for (pour, binding) in schedule.pours.iter_mut().zip(bindings(self.task, &given)?) {
            pour.binding = Some(binding);
        }
        Ok(Schedule { proof, runs: self.runs, ..schedule })
    }
}

/// Why each pour is not a quarter of an hour earlier: what that would break.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn bindings(task: &Task<'_>, given: &[Given]) -> Result<Vec<Binding>, ScheduleError> {
    let slots = slots_of(task, given);
    let limit_k = task.limit.k() + LIMIT_SLACK_K;
    let mut all = Vec::with_capacity(given.len());
    let mut before: Option<Course> = None;
    for pour in given {
        let at = pour.at.as_second();
        let earlier = at - GRID_S;
        let work = task.work(&pour.layer).signed();
        let is_open = task.hours.is_open(timestamp(earlier), timestamp(earlier) + work);
        let after_cure = before.as_ref().is_some_and(|b| at + work.as_secs() > b.closes);
        let binding = match &before {
            None if earlier < task.not_before.as_second() => Binding::Begins,
            Some(b) if !after_cure && earlier < b.opens => Binding::Window,
            Some(b)
                if after_cure && {
                    let ready = slots.sanded(b.hard()?.0, task.sanding);
                    ready.is_none_or(|(_, ready)| earlier < ready)
                } =>
            {
                Binding::Sanding
            }
            _ if !is_open => Binding::Hours,
            None if Course::begin(task, &pour.layer, earlier)?.peak_k > limit_k => Binding::Limit,
            Some(b) if b.follow(task, &pour.layer, earlier)?.peak_k > limit_k => Binding::Limit,
            _ => Binding::Later,
        };
        all.push(binding);
        before = Some(match before {
            None => Course::begin(task, &pour.layer, at)?,
            Some(b) => b.follow(task, &pour.layer, at)?,
        });
    }
    Ok(all)
}
