//! Why each pour is not earlier.

use super::course::{Course, LIMIT_SLACK_K};
use super::error::ScheduleError;
use super::given::Given;
use super::grid::{GRID_S, timestamp};
use super::joint::slots_of;
use super::schedule::Binding;
use super::task::Task;

/// Why each pour is not a quarter of an hour earlier: what that would break.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn bindings(task: &Task<'_>, given: &[Given]) -> Result<Vec<Binding>, ScheduleError> {
    let slots = slots_of(task, given)?;
    let mut all = Vec::with_capacity(given.len());
    let mut before: Option<Course> = None;
    for pour in given {
        let at = pour.at.as_second();
        let earlier = at - GRID_S;
        let work = task.work(&pour.layer).signed();
        let is_open = task.hours.is_open(timestamp(earlier), timestamp(earlier) + work);
        let finishes = |b: &Course| b.layer.joins(&pour.layer).is_never_wet();
        let after_cure =
            before.as_ref().is_some_and(|b| finishes(b) || at + work.as_secs() > b.closes);
        let binding = match &before {
            None if earlier < task.not_before.as_second() => Binding::Begins,
            Some(b) if !after_cure && earlier < b.opens => Binding::Window,
            Some(b)
                if after_cure && {
                    let ready = b.prepared(task, &slots, &pour.layer)?;
                    ready.is_none_or(|(_, ready)| earlier < ready)
                } =>
            {
                Binding::Sanding
            }
            _ if !is_open => Binding::Hours,
            _ if task.unfit(&pour.layer, timestamp(earlier)).is_some() => Binding::Air,
            None if Course::begin(task, &pour.layer, earlier)?.over_k > LIMIT_SLACK_K => {
                Binding::Limit
            }
            Some(b) if b.follow(task, &pour.layer, earlier)?.over_k > LIMIT_SLACK_K => {
                Binding::Limit
            }
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
