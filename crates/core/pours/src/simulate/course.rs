//! The layered heat model as the transition from one pour to the next.

use std::sync::{Arc, OnceLock};

use jiff::SignedDuration;

use super::error::ScheduleError;
use super::given::Given;
use super::grid::timestamp;
use super::task::Task;
use crate::layers::Layer;
use fondant_heat::sides::Sides;
use fondant_heat::{Accuracy, Air, Goal, Poured, Stack, Surroundings};

/// Longest time a layer is simulated, s.
pub(crate) const LAYER_HORIZON_S: f64 = 14.0 * 86_400.0;
/// How far past the first pour the air is read.
const AIR_HORIZON: SignedDuration = SignedDuration::from_hours(40 * 24);
/// The air is drawn by lines that keep so close to it, K: fewer kinks, at each of
/// which a step of the model has to end.
const SKETCH_K: f64 = 0.1;
/// Peaks may pass the limit by the error of the model's own arithmetic, K.
pub(crate) const LIMIT_SLACK_K: f64 = 0.15;

/// The model right after a pour, and what comes of that pour if nothing
/// follows.
#[derive(Debug)]
pub(crate) struct Course {
    /// The first pour, s since 1970.
    first: i64,
    /// The last, s after it.
    poured_s: f64,
    sides: Sides,
    /// Right after the last pour.
    fresh: Stack,
    /// Once the last surface has set.
    set: Stack,
    /// The window opens, s since 1970.
    pub(crate) opens: i64,
    /// Closing of the window, Unix time, s.
    pub(crate) closes: i64,
    /// The hottest of all layers so far, K.
    pub(crate) peak_k: f64,
    hard: OnceLock<Option<(i64, f64)>>,
}

/// What a column first poured at `first` stands in.
pub(crate) fn surroundings(task: &Task<'_>, first: i64) -> Result<Surroundings, ScheduleError> {
    let from = timestamp(first);
    let air = match task.air.is_steady() {
        true => Air::Steady(task.air.at(from).temperature.k()),
        false => Air::through(&task.air.sketched(from, from + AIR_HORIZON, SKETCH_K))?,
    };
    Ok(task.cooling.surroundings(air).with_sides(task.sides.loss_w_m3k))
}

impl Course {
    /// The first pour, into an empty form.
    pub(crate) fn begin(task: &Task<'_>, layer: &Layer, at: i64) -> Result<Self, ScheduleError> {
        let stack =
            Stack::new(task.resin, surroundings(task, at)?, &Accuracy::coarse().until(&task.stop));
        Self::pour(task, task.poured, stack, layer, (at, at))
    }

    /// A pour of resin that is as the maker found it: the first where nothing
    /// is below.
    pub(crate) fn next(
        before: Option<&Self>,
        task: &Task<'_>,
        given: &Given,
    ) -> Result<Self, ScheduleError> {
        let at = given.at.as_second();
        let poured = given.poured(task);
        let Some(before) = before else {
            let stack = Stack::new(
                task.resin,
                surroundings(task, at)?,
                &Accuracy::coarse().until(&task.stop),
            );
            return Self::pour(task, poured, stack, &given.layer, (at, at));
        };
        let mut stack = before.fresh.clone();
        stack.run((at - before.first) as f64, Goal::Time)?;
        Self::pour(task, poured, stack, &given.layer, (before.first, at))
    }

    /// The next pour.
    pub(crate) fn follow(
        &self,
        task: &Task<'_>,
        layer: &Layer,
        at: i64,
    ) -> Result<Self, ScheduleError> {
        let mut stack = self.fresh.clone();
        stack.run((at - self.first) as f64, Goal::Time)?;
        Self::pour(task, task.poured, stack, layer, (self.first, at))
    }

    /// A pour into a column as it stands.
    pub(crate) fn pour(
        task: &Task<'_>,
        poured: Poured,
        mut stack: Stack,
        layer: &Layer,
        (first, at): (i64, i64),
    ) -> Result<Self, ScheduleError> {
        stack.pour(layer.heat_depth.m(), poured.t_k, poured.conversion)?;
        let fresh = stack.clone();
        stack.run((at - first) as f64 + LAYER_HORIZON_S, Goal::WindowClosedOnce)?;
        let window = stack.top().and_then(|top| Some((top.opens_s?, top.closes_s?)));
        let (opens_s, closes_s) = window.ok_or(ScheduleError::NeverSets)?;
        Ok(Self {
            first,
            poured_s: (at - first) as f64,
            sides: task.sides,
            fresh,
            opens: first + opens_s.ceil() as i64,
            closes: first + closes_s.floor() as i64,
            peak_k: stack.peak().map_or(0.0, |(peak, _)| peak),
            set: stack,
            hard: OnceLock::new(),
        })
    }

    /// When all is hard, if nothing follows, and the hottest until then, K;
    /// worked out once.
    pub(crate) fn hard(&self) -> Result<(i64, f64), ScheduleError> {
        let found = self.hard.get_or_init(|| {
            let mut stack = self.set.clone();
            let end_s = stack.time_s() + LAYER_HORIZON_S;
            stack.run(end_s, Goal::Hard).ok()?;
            let hard_s = self.sides.hard_s(self.poured_s, stack.top()?.hard_s?);
            Some((self.first + hard_s.ceil() as i64, stack.peak()?.0))
        });
        found.ok_or(ScheduleError::NeverSets)
    }
}

/// A course that several paths go on from.
pub(crate) type Shared = Arc<Course>;
