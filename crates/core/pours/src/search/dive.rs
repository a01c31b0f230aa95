//! A plan to begin from, so that nothing worse is looked at.

use std::ops::Range;

use rayon::prelude::*;

use super::path::{Complete, Cost, Step};
use super::state::Search;
use crate::simulate::course::Course;
use crate::simulate::error::ScheduleError;
use crate::simulate::slots::AFTER_CURE_WITHIN_S;

/// First pours that dives are made from.
const DIVES: usize = 16;

impl Search<'_> {
    /// Pours as early and as deep as may be, from first slots spread over those
    /// allowed: a plan to begin from, so that nothing worse is looked at.
    pub(super) fn dive(&mut self, first: Range<usize>) -> Result<Option<Complete>, ScheduleError> {
        let stride = first.len().div_ceil(DIVES).max(1);
        let starts: Vec<usize> = first.step_by(stride).collect();
        let dived: Vec<Result<Option<Complete>, ScheduleError>> =
            starts.par_iter().map(|slot| self.dive_from(*slot)).collect();
        self.runs += dived.len() * self.task.ladder.top();
        let mut best: Option<Complete> = None;
        for complete in dived {
            match complete {
                Ok(found) => best = best.into_iter().chain(found).min(),
                Err(ScheduleError::NeverSets) => self.never_sets = true,
                Err(error) => return Err(error),
            }
        }
        Ok(best)
    }

    fn dive_from(&self, slot: usize) -> Result<Option<Complete>, ScheduleError> {
        let (task, most_k) = (self.task, self.terms.over_k());
        let inset = self.terms.inset.signed().as_secs();
        let (mut level, mut path, mut spent) = (0, Vec::<Step>::new(), 0);
        let mut course: Option<Course> = None;
        let mut candidates: Vec<usize> = vec![slot];
        while level < task.ladder.top() {
            let mut next = None;
            'deepest: for rung in (0..task.ladder.from(level).len()).rev() {
                let work_s = self.work_s(level, rung);
                for slot in candidates.iter().filter(|slot| self.can_begin(**slot, level, rung)) {
                    let at = self.slots.at(*slot);
                    let layer = self.layer(level, rung);
                    let tried = match &course {
                        None => Course::begin(task, layer, at)?,
                        Some(before) => before.follow(task, layer, at)?,
                    };
                    if tried.over_k <= most_k {
                        next = Some((tried, Step { at, rung }, work_s));
                        break 'deepest;
                    }
                }
            }
            let Some((tried, step, work_s)) = next else { return Ok(None) };
            spent += self.terms.aim.step(&self.slots, step.at + work_s, tried.opens);
            level = task.ladder.from(level)[step.rung].to;
            path.push(step);
            let work_s =
                task.ladder.from(level).iter().map(|r| task.work(&r.layer).signed().as_secs());
            let latest = tried.closes - inset - work_s.max().unwrap_or(0);
            let wet = match task.ladder.joins(level) {
                Some(joins) if joins.is_never_wet() => 0..0,
                _ => self.slots.within(tried.opens + inset, latest),
            };
            candidates = match wet.is_empty() || level == task.ladder.top() {
                false => [wet.start, (wet.start + wet.end) / 2, wet.end - 1].to_vec(),
                true if level == task.ladder.top() => Vec::new(),
                true => {
                    let next = self.layer(level, 0);
                    let Some((_, ready)) = tried.prepared(task, &self.slots, next)? else {
                        return Ok(None);
                    };
                    self.slots.within(ready, ready + AFTER_CURE_WITHIN_S).collect()
                }
            };
            course = Some(tried);
        }
        let Some(course) = course else { return Ok(None) };
        let (hard, over_k) = course.hard()?;
        let cost = Cost { first: spent, hard };
        Ok((over_k <= most_k).then_some(Complete { cost, path }))
    }
}
