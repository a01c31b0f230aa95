//! How a pour joins the one below it.

use super::breaks::Break;
use super::course::{Course, timestamp};
use super::error::ScheduleError;
use super::given::Given;
use super::schedule::Joint;
use super::slots::Slots;
use super::task::Task;

/// How a pour joins what is below, and what it breaks in that.
pub(crate) fn joined(
    task: &Task<'_>,
    slots: &Slots,
    below: &Course,
    pour: usize,
    given: &Given,
) -> Result<(Joint, Option<Break>), ScheduleError> {
    let at = given.at.as_second();
    let done = at + task.work(&given.layer).signed().as_secs();
    if below.opens <= at && done <= below.closes {
        return Ok((Joint::WetOnTacky, None));
    }
    if at < below.opens {
        let opens = timestamp(below.opens);
        return Ok((Joint::WetOnTacky, Some(Break::NotSticky { pour, opens })));
    }
    let hard = below.hard()?.0;
    let (sanding, ready) = slots.sanded(hard, task.sanding).unwrap_or((hard, hard));
    let joint = Joint::AfterCure { hard: timestamp(hard), sanding: timestamp(sanding) };
    let broken = (at < ready).then(|| Break::Set {
        pour,
        closes: timestamp(below.closes),
        ready: timestamp(ready),
    });
    Ok((joint, broken))
}

/// Slots from just before the first of given pours on.
pub(crate) fn slots_of(task: &Task<'_>, given: &[Given]) -> Slots {
    let first = given.iter().map(|pour| pour.at).min().unwrap_or(task.not_before);
    let from = first.min(task.not_before);
    let last = given.iter().map(|pour| pour.at).max().unwrap_or(from);
    Slots::of(task.hours, from, last + jiff::SignedDuration::from_hours(21 * 24))
}
