//! The layered heat model as the transition from one pour to the next.

use std::sync::{Arc, OnceLock};

use super::column::Column;
use super::error::ScheduleError;
use super::given::Given;
use super::slots::Slots;
use super::task::Task;
use crate::layers::Layer;
use fondant_heat::sides::Sides;
use fondant_heat::{Goal, Poured};

/// Longest time a layer is simulated, s.
pub(crate) const LAYER_HORIZON_S: f64 = 14.0 * 86_400.0;
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
    /// The layer poured last.
    pub(crate) layer: Layer,
    /// Right after the last pour.
    fresh: Column,
    /// Once the last surface has set.
    set: Column,
    /// The window opens, s since 1970.
    pub(crate) opens: i64,
    /// Closing of the window, Unix time, s.
    pub(crate) closes: i64,
    /// How far the layer that is worst off is over its own limit so far, K.
    pub(crate) over_k: f64,
    hard: OnceLock<Option<(i64, f64)>>,
}

impl Course {
    /// The first pour, into an empty form.
    pub(crate) fn begin(task: &Task<'_>, layer: &Layer, at: i64) -> Result<Self, ScheduleError> {
        Self::pour(task, task.poured_of(layer), Column::empty(task, at)?, layer, (at, at))
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
            return Self::pour(task, poured, Column::empty(task, at)?, &given.layer, (at, at));
        };
        before.pour_on(task, poured, &given.layer, at)
    }

    /// The next pour.
    pub(crate) fn follow(
        &self,
        task: &Task<'_>,
        layer: &Layer,
        at: i64,
    ) -> Result<Self, ScheduleError> {
        self.pour_on(task, task.poured_of(layer), layer, at)
    }

    fn pour_on(
        &self,
        task: &Task<'_>,
        poured: Poured,
        layer: &Layer,
        at: i64,
    ) -> Result<Self, ScheduleError> {
        if self.layer.kind.is_of_cracks() {
            // The form's own column begins with it.
            return Self::pour(task, poured, Column::empty(task, at)?, layer, (at, at));
        }
        let mut column = self.fresh.clone();
        column.run((at - self.first) as f64, Goal::Time)?;
        Self::pour(task, poured, column, layer, (self.first, at))
    }

    /// A pour into a column as it stands.
    pub(crate) fn pour(
        task: &Task<'_>,
        poured: Poured,
        mut column: Column,
        layer: &Layer,
        (first, at): (i64, i64),
    ) -> Result<Self, ScheduleError> {
        column.pour(task, layer, poured)?;
        let fresh = column.clone();
        column.run((at - first) as f64 + LAYER_HORIZON_S, Goal::WindowClosedOnce)?;
        let window = column.stack.top().and_then(|top| Some((top.opens_s?, top.closes_s?)));
        let (opens_s, closes_s) = window.ok_or(ScheduleError::NeverSets)?;
        Ok(Self {
            first,
            poured_s: (at - first) as f64,
            sides: task.sides,
            layer: *layer,
            fresh,
            opens: first + opens_s.ceil() as i64,
            closes: first + closes_s.floor() as i64,
            over_k: column.over_k(),
            set: column,
            hard: OnceLock::new(),
        })
    }

    /// When all is hard, if nothing follows, and how far the layer that is worst off is over its
    /// own limit until then, K; worked out once.
    pub(crate) fn hard(&self) -> Result<(i64, f64), ScheduleError> {
        let found = self.hard.get_or_init(|| {
            let mut column = self.set.clone();
            let end_s = column.stack.time_s() + LAYER_HORIZON_S;
            column.run(end_s, Goal::Hard).ok()?;
            let hard_s = self.sides.hard_s(self.poured_s, column.stack.top()?.hard_s?);
            Some((self.first + hard_s.ceil() as i64, column.over_k()))
        });
        found.ok_or(ScheduleError::NeverSets)
    }

    /// When what was poured last has been prepared for a next layer after its window: beginning
    /// and end of the work. `None` where it cannot be, or the shop is never open long enough.
    pub(crate) fn prepared(
        &self,
        task: &Task<'_>,
        slots: &Slots,
        next: &Layer,
    ) -> Result<Option<(i64, i64)>, ScheduleError> {
        let Some(work) = task.preparation(self.layer.joins(next)) else { return Ok(None) };
        Ok(slots.prepared(self.hard()?.0, work))
    }
}

/// A course that several paths go on from.
pub(crate) type Shared = Arc<Course>;
