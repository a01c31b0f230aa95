//! The rest of a taken plan by what has happened, and touches that cannot be.

use fondant_pours::layers::Layer;
use fondant_pours::simulate::Break;
use fondant_pours::simulate::observe::{Allowed, allowed, rates};
use fondant_pours::{Given, Schedule, ScheduleError, refit};
use jiff::Timestamp;

use super::{Fact, FactRow, happened, standing, touch};
use crate::pours::{EXTRA_LAYERS, Planned, PourTask};

/// The plan with one pour moved and those after it adjusted, by what has happened. A pour that has
/// happened stays where it was.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn moved(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
    (pour, at): (usize, Timestamp),
) -> Result<Schedule, ScheduleError> {
    rest(task, planned, rows, Some((pour, at)), None)
}

/// The plan with the pours that are left adjusted to what has happened: each keeps its hour where
/// that still holds, and none gets one before now.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn fitted(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
    now: Timestamp,
) -> Result<Schedule, ScheduleError> {
    rest(task, planned, rows, None, Some(now))
}

/// The plan with the pours that are left adjusted to what has happened; where they get too hot in their
/// layers, in more of them. A pour that has happened keeps the hour that was planned.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn replanned(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
    now: Timestamp,
) -> Result<Vec<Given>, ScheduleError> {
    let schedule = fitted(task, planned, rows, now)?;
    if is_hot(&schedule)
        && let Some((cooler, schedule)) = over_poured(task, rows, now)
        && !is_hot(&schedule)
    {
        return Ok(cooler.iter().map(|pour| pour.given).collect());
    }
    Ok(as_planned(planned, rows, &schedule))
}

fn is_hot(schedule: &Schedule) -> bool {
    schedule.breaks.iter().any(|broken| matches!(broken, Break::TooHot { .. }))
}

/// What comes over the pours that have happened of a plan that was taken for another form, with its hours:
/// in the fewest layers that stay cool. `None` where none has happened, what is in cannot be part of this
/// form, or the model cannot follow it.
#[must_use]
pub fn over_poured(
    task: &PourTask,
    rows: &[FactRow],
    now: Timestamp,
) -> Option<(Vec<Planned>, Schedule)> {
    let poured = super::poured(rows);
    let mut first = None;
    for more in 0..=EXTRA_LAYERS {
        let planned = task.over_poured(&poured, (now, more))?;
        let layers: Vec<Layer> = planned.iter().map(|pour| pour.given.layer).collect();
        let Ok(task) = &task.beside(&layers) else { continue };
        let Ok(schedule) = fitted(task, &planned, rows, now) else { continue };
        let hours = as_planned(&planned, rows, &schedule);
        let planned: Vec<Planned> =
            planned.iter().zip(hours).map(|(pour, given)| Planned { given, ..*pour }).collect();
        if !is_hot(&schedule) {
            return Some((planned, schedule));
        }
        first = first.or(Some((planned, schedule)));
    }
    first
}

fn rest(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
    moved: Option<(usize, Timestamp)>,
    now: Option<Timestamp>,
) -> Result<Schedule, ScheduleError> {
    let (mut given, touched) = happened(planned, rows);
    let ladder = task.ladder_of(&given);
    let (rates, _) = rates(&task.task(&ladder), &given, &touched)?;
    let last_poured = given.iter().rposition(|pour| pour.is_poured);
    let from = match moved {
        Some((pour, at)) => {
            if let Some(to_come) = given.get_mut(pour).filter(|pour| !pour.is_poured) {
                to_come.at = at;
            }
            Some(pour)
        }
        None => last_poured,
    };
    let task = task.curing_at(&rates);
    let followed = match from {
        Some(from) => {
            let task = task.clone().no_sooner_than(now);
            refit(&task.task(&ladder), &given, from.max(last_poured.unwrap_or_default()))?
        }
        None => given,
    };
    task.judged(&followed)
}

/// The times of a schedule as a plan: a pour that has happened keeps the hour that was planned.
#[must_use]
pub fn as_planned(planned: &[Planned], rows: &[FactRow], schedule: &Schedule) -> Vec<Given> {
    let poured = super::poured(rows);
    let pours = schedule.pours.iter().zip(planned);
    let at = |pour: jiff::Timestamp, planned: &Planned| {
        if poured.contains(&planned.id) { planned.given.at } else { pour }
    };
    pours.map(|(pour, planned)| Given::planned(pour.layer, at(pour.at, planned))).collect()
}

/// Resin that cures this many times faster or slower than the model is less likely than a slip: a
/// bottle differs by some 15 %.
const UNLIKELY_RATIO: f64 = 1.5;

/// A touch that does not fit what is known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Question {
    /// Rate of cure against the model that the touch asks for, the one nearest to 1; an end of the
    /// range of rates where none is enough.
    pub rate: f64,
    /// No rate between half and twice the model's explains it.
    pub is_beyond: bool,
    /// The note that it contradicts and that is further from the model; `None` where the new touch
    /// itself is.
    pub suspect: Option<FactRow>,
}

/// What is wrong with a touch that is about to be written down; `None` where it fits.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the plan.
pub fn question(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
    new: &Fact,
) -> Result<Option<Question>, ScheduleError> {
    let Some(new) = touch(planned, new) else { return Ok(None) };
    let (given, _) = happened(planned, rows);
    let ladder = task.ladder_of(&given);
    let task = task.task(&ladder);
    let asked = allowed(&task, &given, &new)?;
    let rate = asked.nearest();
    if asked.is_beyond || asked.distance() > UNLIKELY_RATIO.ln() {
        return Ok(Some(Question { rate, is_beyond: asked.is_beyond, suspect: None }));
    }
    let mut against: Option<(Allowed, FactRow)> = None;
    for row in standing(rows) {
        let Some(earlier) = touch(planned, &row.fact) else { continue };
        let known = allowed(&task, &given, &earlier)?;
        let is_worse = |(worst, _): &(Allowed, FactRow)| known.distance() > worst.distance();
        if !known.agrees(&asked) && against.as_ref().is_none_or(is_worse) {
            against = Some((known, row));
        }
    }
    Ok(against.map(|(known, row)| Question {
        rate,
        is_beyond: false,
        suspect: (known.distance() > asked.distance()).then_some(row),
    }))
}
