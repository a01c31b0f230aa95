//! What given pour times do in the model, and what they break.

use jiff::Timestamp;

use super::search::{Course, LAYER_HORIZON_S, LIMIT_SLACK_K, Slots, surroundings, timestamp};
use super::types::{Joint, Proof, Schedule, ScheduleError, ScheduledPour, Task};
use crate::heat::{Accuracy, Goal, Poured, Stack};
use crate::layers::Layer;
use crate::quantities::Temperature;

/// One pour at a given time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Given {
    /// The layer.
    pub layer: Layer,
    /// When it goes in.
    pub at: Timestamp,
    /// How warm the resin is, where that is known better than by the plan.
    pub resin_at: Option<Temperature>,
}

impl Given {
    /// As the plan has it.
    #[must_use]
    pub const fn planned(layer: Layer, at: Timestamp) -> Self {
        Self { layer, at, resin_at: None }
    }

    /// The resin as it went in, or as it is planned.
    pub(super) fn poured(&self, task: &Task<'_>) -> Poured {
        self.resin_at.map_or(task.poured, |t| Poured { t_k: t.k(), ..task.poured })
    }
}

/// What a given time breaks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Break {
    /// Before work can begin.
    TooSoon {
        /// The pour, from 0.
        pour: usize,
    },
    /// Before the pour below it.
    OutOfOrder {
        /// The pour, from 0.
        pour: usize,
    },
    /// The shop is closed at some time between the first bucket and the last.
    Closed {
        /// The pour, from 0.
        pour: usize,
    },
    /// The layer below is still liquid.
    NotSticky {
        /// The pour, from 0.
        pour: usize,
        /// When it turns sticky.
        opens: Timestamp,
    },
    /// The layer below has set, and is not hard and sanded yet.
    Set {
        /// The pour, from 0.
        pour: usize,
        /// When its window closes.
        closes: Timestamp,
        /// When it is hard and has been sanded.
        ready: Timestamp,
    },
    /// A layer passes the limit.
    TooHot {
        /// The layer, from 0.
        pour: usize,
        /// Its hottest.
        peak: Temperature,
    },
}

impl Break {
    /// The pour that it is told of, from 0.
    #[must_use]
    pub const fn pour(&self) -> usize {
        match self {
            Self::TooSoon { pour }
            | Self::OutOfOrder { pour }
            | Self::Closed { pour }
            | Self::NotSticky { pour, .. }
            | Self::Set { pour, .. }
            | Self::TooHot { pour, .. } => *pour,
        }
    }
}

/// How a pour joins what is below, and what it breaks in that.
pub(super) fn joined(
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
pub(super) fn slots_of(task: &Task<'_>, given: &[Given]) -> Slots {
    let first = given.iter().map(|pour| pour.at).min().unwrap_or(task.not_before);
    let from = first.min(task.not_before);
    let last = given.iter().map(|pour| pour.at).max().unwrap_or(from);
    Slots::of(task.hours, from, last + jiff::SignedDuration::from_hours(21 * 24))
}

/// Follows pours at given times, whatever they break.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow them: nothing is poured, or
/// a surface never sets.
pub fn judge(task: &Task<'_>, given: &[Given]) -> Result<Schedule, ScheduleError> {
    let slots = slots_of(task, given);
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
        if pour.at < task.not_before {
            breaks.push(Break::TooSoon { pour: index });
        }
        if !task.hours.is_open(pour.at, pour.at + work) {
            breaks.push(Break::Closed { pour: index });
        }
        let joint = match &below {
            None => Joint::First,
            Some(below) => {
                let (joint, broken) = joined(task, &slots, below, index, &pour)?;
                breaks.extend(broken);
                joint
            }
        };
        let course = Course::next(below.as_ref(), task, &pour)?;
        pours.push(ScheduledPour {
            layer: pour.layer,
            at: pour.at,
            done: pour.at + work,
            batches: task.crew.batches(pour.layer.volume, task.resin.density),
            joint,
            binding: None,
            opens: timestamp(course.opens),
            closes: timestamp(course.closes),
            peak: Temperature::from_k(course.peak_k),
            peak_at: pour.at,
        });
        below = Some(course);
        followed.push(pour);
    }
    let run = recorded(task, &followed)?;
    let first = followed.first().map_or(task.not_before, |pour| pour.at).as_second();
    for (index, (pour, events)) in pours.iter_mut().zip(run.layers()).enumerate() {
        pour.peak = Temperature::from_k(events.peak_k);
        pour.peak_at = timestamp(first + events.peak_s as i64);
        if events.peak_k > task.limit.k() + LIMIT_SLACK_K {
            breaks.push(Break::TooHot { pour: index, peak: pour.peak });
        }
    }
    let middle_s = run.top().and_then(|top| top.hard_s).ok_or(ScheduleError::NeverSets)?;
    let last = followed.last().map_or(first, |pour| pour.at.as_second());
    let hard_s = task.sides.hard_s((last - first) as f64, middle_s);
    let mut layers: Vec<Layer> = pours.iter().map(|pour| pour.layer).collect();
    crate::layers::numbered(&mut layers);
    for (pour, layer) in pours.iter_mut().zip(layers) {
        pour.layer = layer;
    }
    breaks.sort_by_key(Break::pour);
    Ok(Schedule {
        pours,
        hard: timestamp(first + hard_s.ceil() as i64),
        run,
        breaks,
        proof: Proof::Given,
        runs: given.len(),
    })
}

/// The run of the model with temperatures kept.
fn recorded(task: &Task<'_>, given: &[Given]) -> Result<Stack, ScheduleError> {
    let first = given.first().ok_or(crate::heat::HeatError::Empty)?.at.as_second();
    let mut run = Stack::new(task.resin, surroundings(task, first)?, Accuracy::coarse());
    run.record();
    for (index, pour) in given.iter().enumerate() {
        if index > 0 {
            run.run((pour.at.as_second() - first) as f64, Goal::Time)?;
        }
        let poured = pour.poured(task);
        run.pour(pour.layer.heat_depth.m(), poured.t_k, poured.conversion)?;
    }
    run.run(run.time_s() + LAYER_HORIZON_S, Goal::Hard)?;
    Ok(run)
}

/// The pours after one that was moved: each keeps its time where that still
/// holds, else takes the nearest that does, else the first after cure. One for
/// which there is none stays, to be told of.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn refit(task: &Task<'_>, given: &[Given], moved: usize) -> Result<Vec<Given>, ScheduleError> {
    let slots = slots_of(task, given);
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
    let end = given.at + task.work(&given.layer).signed();
    if !task.hours.is_open(given.at, end) || joined(task, slots, below, 0, given)?.1.is_some() {
        return Ok(false);
    }
    let course = Course::next(Some(below), task, given)?;
    Ok(course.peak_k <= task.limit.k() + LIMIT_SLACK_K)
}

fn nearest(
    task: &Task<'_>,
    slots: &Slots,
    below: &Course,
    given: &Given,
) -> Result<Timestamp, ScheduleError> {
    let aim = given.at.as_second();
    let mut moments: Vec<i64> = slots.moments(below.opens, below.closes);
    moments.sort_by_key(|at| ((at - aim).abs(), *at));
    for at in moments {
        let tried = Given { at: timestamp(at), ..*given };
        if holds(task, slots, below, &tried)? {
            return Ok(tried.at);
        }
    }
    let hard = below.hard()?.0;
    if let Some((_, ready)) = slots.sanded(hard, task.sanding) {
        for at in slots.moments(ready, ready + 86_400) {
            let tried = Given { at: timestamp(at), ..*given };
            if holds(task, slots, below, &tried)? {
                return Ok(tried.at);
            }
        }
    }
    Ok(given.at)
}
