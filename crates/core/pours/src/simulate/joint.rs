//! How a pour joins the one below it.

use jiff::SignedDuration;

use super::breaks::Break;
use super::course::Course;
use super::error::ScheduleError;
use super::given::Given;
use super::grid::timestamp;
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
    let joins = below.layer.joins(&given.layer);
    if !joins.is_never_wet() {
        if below.opens <= at && done <= below.closes {
            return Ok((Joint::WetOnTacky, None));
        }
        if at < below.opens {
            let opens = timestamp(below.opens);
            return Ok((Joint::WetOnTacky, Some(Break::NotSticky { pour, opens })));
        }
    }
    let Some(work) = task.preparation(joins) else {
        let closes = timestamp(below.closes);
        return Ok((Joint::WetOnTacky, Some(Break::CannotBeSanded { pour, closes })));
    };
    let hard = below.hard()?.0;
    let Some((sanding, ready)) = slots.prepared(hard, work) else {
        let joint = Joint::AfterCure { hard: timestamp(hard), sanding: timestamp(hard) };
        return Ok((joint, Some(Break::NeverSanded { pour, takes: work.takes })));
    };
    let joint = Joint::AfterCure { hard: timestamp(hard), sanding: timestamp(sanding) };
    let broken = (at < ready).then(|| Break::Set {
        pour,
        closes: timestamp(below.closes),
        ready: timestamp(ready),
    });
    Ok((joint, broken))
}

/// Latest pour after the earliest time of work. Later ones are typing errors, and would make
/// a calendar without end.
const FARTHEST: SignedDuration = SignedDuration::from_hours(400 * 24);
/// How long after the last pour somebody may still sand.
const SANDED_WITHIN: SignedDuration = SignedDuration::from_hours(21 * 24);

/// Slots from just before the first of given pours on.
///
/// # Errors
/// [`ScheduleError::OutOfReach`] for a pour far from the earliest time of work.
pub(crate) fn slots_of(task: &Task<'_>, given: &[Given]) -> Result<Slots, ScheduleError> {
    let is_far = |pour: &Given| pour.at.duration_since(task.not_before).abs() > FARTHEST;
    if let Some(pour) = given.iter().position(is_far) {
        return Err(ScheduleError::OutOfReach { pour });
    }
    let first = given.iter().map(|pour| pour.at).min().unwrap_or(task.not_before);
    let from = first.min(task.not_before);
    let last = given.iter().map(|pour| pour.at).max().unwrap_or(from);
    let until = last.checked_add(SANDED_WITHIN).unwrap_or(last);
    Ok(Slots::of(task.hours, from, until).in_air(task.air_rules(), task.air))
}
