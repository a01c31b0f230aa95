//! A section or block followed from its first pour until it is hard.

use std::ops::ControlFlow;

use fondant_heat::HeatError;
use fondant_heat::field::{Field, FieldGoal, Progress};
use fondant_numerics::Stop;

use super::field_task::FieldTask;
use crate::evaluate::Evaluation;

/// Longest time a field is simulated after its last pour, s.
const HORIZON_S: f64 = 10.0 * 86_400.0;
/// Until a column of the whole depth is hard, where the model cannot say, s.
const USUAL_S: f64 = 4.0 * 86_400.0;
/// The search for the deepest pour comes after the run, at about as much again.
const RUN_SHARE: f64 = 0.6;

/// A field that was followed.
#[derive(Debug)]
pub struct FollowedField {
    /// The field.
    pub field: Field,
    /// The deepest single pour here that stays under the limit, m; `None` where none is safe.
    pub deepest_m: Option<f64>,
}

/// About when all of a task's resin will be hard, s from the first pour: after the last pour as
/// long as the column of the whole depth takes.
#[must_use]
pub fn expected_s(task: &FieldTask, evaluation: &Evaluation) -> f64 {
    let last = task.pours().last().map_or(0.0, |pour| pour.at_s);
    let column = evaluation.heat.whole.as_ref().ok().and_then(|whole| whole.events.hard_s);
    last + column.unwrap_or(USUAL_S)
}

/// Follows a task. `column_m` is how deep a column may be poured; `told` hears how much is done,
/// 0…1.
///
/// # Errors
/// What the solver reports, and [`HeatError::Abandoned`].
pub fn follow(
    task: &FieldTask,
    (expected_s, column_m): (f64, f64),
    stop: &Stop,
    told: &dyn Fn(f64),
) -> Result<FollowedField, HeatError> {
    let go_on = || match stop.is_requested() {
        true => ControlFlow::Break(()),
        false => ControlFlow::Continue(()),
    };
    let mut watch = |progress: Progress| {
        told(RUN_SHARE * (progress.at_s / expected_s.max(1.0)).min(1.0));
        go_on()
    };
    let mut field = task.field()?;
    field.record();
    for pour in task.pours() {
        if pour.at_s > field.time_s() {
            field.run(pour.at_s, FieldGoal::Time, &mut watch)?;
        }
        field.pour(pour.to_m, task.poured().t_k, task.poured().conversion)?;
    }
    field.run(field.time_s() + HORIZON_S, FieldGoal::Hard, &mut watch)?;
    let deepest_m = match task.deepest(column_m, &mut |_| go_on()) {
        Err(error @ HeatError::Abandoned { .. }) => return Err(error),
        found => found.ok(),
    };
    Ok(FollowedField { field, deepest_m })
}
