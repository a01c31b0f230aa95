//! What given pour times do in the model, and what they break.

use fondant_heat::{Goal, HeatError};
use fondant_quantities::Temperature;

use super::breaks::Break;
use super::column::Column;
use super::course::{Course, LAYER_HORIZON_S, LIMIT_SLACK_K};
use super::error::ScheduleError;
use super::given::Given;
use super::grid::timestamp;
use super::joint::{joined, slots_of};
use super::schedule::{Joint, Proof, Schedule, ScheduledPour};
use super::task::Task;
use crate::layers::{Joins, Layer, numbered};

/// Follows pours at given times, whatever they break.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow them: nothing is poured, or
/// a surface never sets.
pub fn judge(task: &Task<'_>, given: &[Given]) -> Result<Schedule, ScheduleError> {
    let slots = slots_of(task, given)?;
    let mut breaks = Vec::new();
    let mut pours: Vec<ScheduledPour> = Vec::with_capacity(given.len());
    let mut below: Option<Course> = None;
    let mut followed: Vec<Given> = Vec::with_capacity(given.len());
    for (index, pour) in given.iter().enumerate() {
        let mut pour = *pour;
        let work = task.work(&pour.layer).signed();
        if let Some(before) = followed.last().filter(|before| pour.at <= before.at) {
            breaks.push(Break::OutOfOrder { pour: index });
            // The model goes on as if it came right after.
            pour.at = before.at + jiff::SignedDuration::from_secs(1);
        }
        if !pour.is_poured {
            breaks.extend(untimely(task, index, &pour));
        }
        let joint = match &below {
            None => Joint::First,
            Some(below) => {
                let (joint, broken) = joined(task, &slots, below, index, &pour)?;
                breaks.extend(broken);
                joint
            }
        };
        let joins = below.as_ref().map(|below| below.layer.joins(&pour.layer));
        let course = Course::next(below.as_ref(), task, &pour)?;
        pours.push(ScheduledPour {
            layer: pour.layer,
            at: pour.at,
            done: pour.at + work,
            batches: task.crew.batches(&pour.layer, task.resin_of(&pour.layer).density),
            mixed: task.crew.mixed.of(&pour.layer),
            joint,
            is_never_wet: joins.is_some_and(Joins::is_never_wet),
            binding: None,
            opens: timestamp(course.opens),
            closes: timestamp(course.closes),
            peak: task.limit_of(&pour.layer),
            peak_at: pour.at,
        });
        below = Some(course);
        followed.push(pour);
    }
    finished(task, pours, &followed, breaks)
}

/// What the hour of a pour that is to come breaks.
fn untimely(task: &Task<'_>, index: usize, pour: &Given) -> impl Iterator<Item = Break> {
    let done = pour.at + task.work(&pour.layer).signed();
    let too_soon = (pour.at < task.not_before).then_some(Break::TooSoon { pour: index });
    let closed = (!task.hours.is_open(pour.at, done)).then_some(Break::Closed { pour: index });
    let unfit = task.unfit(&pour.layer, pour.at);
    let unfit = unfit.map(|unfit| Break::UnfitAir { pour: index, unfit });
    [too_soon, closed, unfit].into_iter().flatten()
}

/// The pours with their peaks by the run of all of them, and when all is hard.
fn finished(
    task: &Task<'_>,
    mut pours: Vec<ScheduledPour>,
    followed: &[Given],
    mut breaks: Vec<Break>,
) -> Result<Schedule, ScheduleError> {
    // What fills cracks is a column of its own.
    let cracks = followed.iter().take_while(|pour| pour.layer.kind.is_of_cracks()).count();
    let (own, in_form) = followed.split_at(if cracks < followed.len() { cracks } else { 0 });
    let mut left = pours.iter_mut().enumerate();
    if !own.is_empty() {
        peaks(&recorded(task, own)?, own, &mut left, &mut breaks);
    }
    let run = recorded(task, in_form)?;
    peaks(&run, in_form, &mut left, &mut breaks);
    let first = in_form.first().map_or(task.not_before, |pour| pour.at).as_second();
    let middle_s = run.stack.top().and_then(|top| top.hard_s).ok_or(ScheduleError::NeverSets)?;
    let last = followed.last().map_or(first, |pour| pour.at.as_second());
    let hard_s = task.sides.hard_s((last - first) as f64, middle_s);
    let mut layers: Vec<Layer> = pours.iter().map(|pour| pour.layer).collect();
    numbered(&mut layers);
    for (pour, layer) in pours.iter_mut().zip(layers) {
        pour.layer = layer;
    }
    breaks.sort_by_key(Break::pour);
    Ok(Schedule {
        pours,
        hard: timestamp(first + hard_s.ceil() as i64),
        run: run.stack,
        breaks,
        proof: Proof::Given,
        runs: followed.len(),
    })
}

/// The peaks of the pours of a column, and those that pass their limits.
fn peaks<'a>(
    run: &Column,
    given: &[Given],
    pours: &mut impl Iterator<Item = (usize, &'a mut ScheduledPour)>,
    breaks: &mut Vec<Break>,
) {
    let first = given.first().map_or(0, |pour| pour.at.as_second());
    for ((events, limit_k), (index, pour)) in run.with_limits().zip(pours) {
        pour.peak = Temperature::from_k(events.peak_k);
        pour.peak_at = timestamp(first + events.peak_s as i64);
        if events.peak_k > limit_k + LIMIT_SLACK_K {
            breaks.push(Break::TooHot { pour: index, peak: pour.peak });
        }
    }
}

/// The run of the model with temperatures kept.
fn recorded(task: &Task<'_>, given: &[Given]) -> Result<Column, ScheduleError> {
    let first = given.first().ok_or(HeatError::Empty)?.at.as_second();
    let mut run = Column::empty(task, first)?;
    run.stack.record();
    for (index, pour) in given.iter().enumerate() {
        if index > 0 {
            run.run((pour.at.as_second() - first) as f64, Goal::Time)?;
        }
        run.pour(task, &pour.layer, pour.poured(task))?;
    }
    run.run(run.stack.time_s() + LAYER_HORIZON_S, Goal::Hard)?;
    Ok(run)
}
