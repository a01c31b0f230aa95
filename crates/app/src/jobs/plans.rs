//! Plans compared: the best by different wishes, and how well they hold.

use fondant_cast::planning::alternatives;
use fondant_cast::{Inputs, NotEvaluated, PourTrouble, evaluate};
use fondant_numerics::Stop;
use fondant_pours::ScheduleError;
use fondant_store::repos::{CastId, WorkshopId};

use super::ask::{Asking, JobView, ask, key_of, look};
use super::kind::JobKind;
use super::progress::Progress;
use super::results::ComparedPlans;
use crate::app::App;
use crate::compute::Key;
use crate::error::AppError;
use crate::evaluating::Worked;

/// What is compared does not depend on what is taken.
fn untaken(worked: &Worked) -> Inputs {
    let mut document = worked.inputs.document.clone();
    document.pours.forget();
    worked.inputs.with_document(document)
}

/// By what the plans of a cast as it is now are found.
///
/// # Errors
/// [`AppError::Fault`].
pub fn plans_key(worked: &Worked) -> Result<Key, AppError> {
    key_of(JobKind::Plans, &untaken(worked))
}

/// Asks for the plans of a cast; `again` retries a comparison that has failed.
///
/// # Errors
/// [`AppError`].
pub async fn plans(
    app: &App,
    (workshop, cast): (WorkshopId, CastId),
    worked: &Worked,
    again: bool,
) -> Result<JobView<ComparedPlans>, AppError> {
    let input = untaken(worked);
    let asking = Asking { workshop, cast, kind: JobKind::Plans, input: &input, again };
    ask(app, asking, &app.results.plans).await
}

/// The plans of a comparison, as a page has shown them.
///
/// # Errors
/// [`AppError`].
pub async fn plans_by(
    app: &App,
    workshop: WorkshopId,
    key: &Key,
) -> Result<JobView<ComparedPlans>, AppError> {
    look(app, workshop, key, &app.results.plans).await
}

pub(super) fn done(input: &[u8], stop: &Stop, progress: &Progress) -> Result<Vec<u8>, AppError> {
    let inputs: Inputs = serde_json::from_slice(input).map_err(AppError::fault)?;
    let evaluation = evaluate(&inputs, stop).map_err(|error| match error {
        NotEvaluated::Conflicts(conflicts) => AppError::Conflicts(conflicts),
        NotEvaluated::Abandoned => AppError::TooLong,
    })?;
    let result = match (&evaluation.pour_task, evaluation.pours) {
        (Some(task), _) => alternatives(&task.until(stop), &|share| {
            progress.tell(share);
            !stop.is_requested()
        }),
        (None, Err(trouble)) => Err(trouble),
        (None, Ok(_)) => Err(PourTrouble::Schedule(ScheduleError::NeverSets)),
    };
    serde_json::to_vec(&ComparedPlans { result }).map_err(AppError::fault)
}
