//! Later pours taken along when one is moved.

use jiff::Timestamp;

use super::course::{Course, LIMIT_SLACK_K};
use super::error::ScheduleError;
use super::given::Given;
use super::grid::timestamp;
use super::joint::{joined, slots_of};
use super::slots::Slots;
use super::task::Task;

/// How long after a layer could be prepared the next one is looked for: over a long weekend.
const LOOKED_S: i64 = 4 * 86_400;

/// The pours after one that was moved: each keeps its time where that still
/// holds, else takes the nearest that does, else the first after cure; none
/// before work can begin. One for which there is none stays, to be told of.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn refit(task: &Task<'_>, given: &[Given], moved: usize) -> Result<Vec<Given>, ScheduleError> {
    let slots = slots_of(task, given)?;
    let mut all: Vec<Given> = given.to_vec();
    let mut below: Option<Course> = None;
    for (index, pour) in all.iter_mut().enumerate() {
        if index > moved
            && let Some(below) = &below
            && !holds(task, &slots, below, pour)?
        {
            pour.at = nearest(task, &slots, below, pour)?;
        }
        below = Some(Course::next(below.as_ref(), task, pour)?);
    }
    Ok(all)
}

fn holds(
    task: &Task<'_>,
    slots: &Slots,
    below: &Course,
    given: &Given,
) -> Result<bool, ScheduleError> {
    if given.at < task.not_before {
        return Ok(false);
    }
    let end = given.at + task.work(&given.layer).signed();
    let is_fit = task.hours.is_open(given.at, end) && task.unfit(&given.layer, given.at).is_none();
    if !is_fit || joined(task, slots, below, 0, given)?.1.is_some() {
        return Ok(false);
    }
    let course = Course::next(Some(below), task, given)?;
    Ok(course.over_k <= LIMIT_SLACK_K)
}

fn nearest(
    task: &Task<'_>,
    slots: &Slots,
    below: &Course,
    given: &Given,
) -> Result<Timestamp, ScheduleError> {
    let (aim, from) = (given.at.as_second(), task.not_before.as_second());
    let mut moments: Vec<i64> = slots.moments(below.opens.max(from), below.closes);
    moments.sort_by_key(|at| ((at - aim).abs(), *at));
    for at in moments {
        let tried = Given { at: timestamp(at), ..*given };
        if holds(task, slots, below, &tried)? {
            return Ok(tried.at);
        }
    }
    if let Some((_, ready)) = below.prepared(task, slots, &given.layer)? {
        let ready = ready.max(from);
        for at in slots.moments(ready, ready + LOOKED_S) {
            let tried = Given { at: timestamp(at), ..*given };
            if holds(task, slots, below, &tried)? {
                return Ok(tried.at);
            }
        }
    }
    Ok(given.at)
}
