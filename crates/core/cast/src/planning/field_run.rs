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

/// About when all of a task's resin will be hard, s from the first pour: after the last pour as
/// long as the column of the whole depth takes.
#[must_use]
pub fn expected_s(task: &FieldTask, evaluation: &Evaluation) -> f64 {
    let last = task.pours().last().map_or(0.0, |pour| pour.at_s);
    let column = evaluation.heat.whole.as_ref().ok().and_then(|whole| whole.events.hard_s);
    last + column.unwrap_or(USUAL_S)
}

/// Follows a task. `told` hears how much is done, 0…1.
///
/// # Errors
/// What the solver reports, and [`HeatError::Abandoned`].
pub fn follow(
    task: &FieldTask,
    expected_s: f64,
    stop: &Stop,
    told: &dyn Fn(f64),
) -> Result<Field, HeatError> {
    let go_on = || match stop.is_requested() {
        true => ControlFlow::Break(()),
        false => ControlFlow::Continue(()),
    };
    let mut watch = |progress: Progress| {
        told((progress.at_s / expected_s.max(1.0)).min(1.0));
        go_on()
    };
    let mut field = task.field()?;
    field.record();
    for pour in task.pours() {
        if pour.at_s > field.time_s() {
            field.run(pour.at_s, FieldGoal::Time, &mut watch)?;
        }
        task.pour(&mut field, pour)?;
    }
    field.run(field.time_s() + HORIZON_S, FieldGoal::Hard, &mut watch)?;
    Ok(field)
}
