//! The column that a plan's layers make, each of its own resin and under its own limit.

use std::sync::Arc;

use fondant_heat::{Accuracy, Air, Goal, HeatError, LayerEvents, Poured, Stack, Surroundings};
use jiff::SignedDuration;

use super::error::ScheduleError;
use super::grid::timestamp;
use super::task::Task;
use crate::layers::Layer;

/// How far past the first pour the air is read.
const AIR_HORIZON: SignedDuration = SignedDuration::from_hours(40 * 24);

/// The layers of a plan as they stand, with the limit of each.
#[derive(Debug, Clone)]
pub(crate) struct Column {
    pub(crate) stack: Stack,
    /// The limit of each layer, K, the lowest first.
    limits_k: Arc<[f64]>,
}

impl Column {
    /// An empty form at the hour of the first pour, s since 1970.
    pub(crate) fn empty(task: &Task<'_>, first: i64) -> Result<Self, ScheduleError> {
        let accuracy = Accuracy::coarse().until(&task.stop);
        let stack = Stack::new(task.resin, surroundings(task, first)?, &accuracy);
        Ok(Self { stack, limits_k: Arc::default() })
    }

    /// A layer that has long cured goes in, as cool as the air: nothing limits it.
    pub(crate) fn lay_cured(
        &mut self,
        task: &Task<'_>,
        depth_m: f64,
        of: &Layer,
        cured: Poured,
    ) -> Result<(), HeatError> {
        self.add(task, depth_m, of, (cured, f64::INFINITY))
    }

    /// A layer goes in.
    pub(crate) fn pour(
        &mut self,
        task: &Task<'_>,
        layer: &Layer,
        poured: Poured,
    ) -> Result<(), HeatError> {
        self.add(task, layer.heat_depth.m(), layer, (poured, task.limit_of(layer).k()))
    }

    fn add(
        &mut self,
        task: &Task<'_>,
        depth_m: f64,
        of: &Layer,
        (poured, limit_k): (Poured, f64),
    ) -> Result<(), HeatError> {
        let resin = task.resin_of(of);
        self.stack.pour_of(resin, depth_m, poured.t_k, poured.conversion)?;
        self.limits_k = self.limits_k.iter().copied().chain([limit_k]).collect();
        Ok(())
    }

    /// Follows it to a time, s from the first pour, or to a goal.
    pub(crate) fn run(&mut self, end_s: f64, goal: Goal) -> Result<(), HeatError> {
        self.stack.run(end_s, goal)
    }

    /// How far the layer that is worst off is over its own limit, K; negative where all stay
    /// below.
    pub(crate) fn over_k(&self) -> f64 {
        self.with_limits()
            .map(|(events, limit_k)| events.peak_k - limit_k)
            .fold(f64::NEG_INFINITY, f64::max)
    }

    /// Events of each layer and its limit, K, the lowest first.
    pub(crate) fn with_limits(&self) -> impl Iterator<Item = (&LayerEvents, f64)> {
        self.stack.layers().zip(self.limits_k.iter().copied())
    }
}

/// What a column first poured at `first` stands in.
fn surroundings(task: &Task<'_>, first: i64) -> Result<Surroundings, ScheduleError> {
    let from = timestamp(first);
    let air = match task.air.is_steady() {
        true => Air::Steady(task.air.at(from).temperature.k()),
        false => Air::through(&task.air.sketched(from, from + AIR_HORIZON))?,
    };
    Ok(task.cooling.surroundings(air).with_sides(task.sides.loss_w_m3k))
}
