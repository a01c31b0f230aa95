//! A plan that was taken, brought up to what has happened and to the cast as it is now.

use fondant_cast::document::{PourId, TakenPour};
use fondant_cast::facts::{self, FactRow, rest};
use fondant_cast::pours::recoated;
use fondant_store::repos::CastId;

use super::pours::{taken, task};
use crate::app::App;
use crate::casts::open::Open;
use crate::casts::write::{Act, Changed, Draft, write};
use crate::error::AppError;
use crate::evaluating::Worked;
use crate::request::Request;

/// Fits the pours to come to what has happened. A flood coat that the cast has got since its plan was
/// taken joins it, after what is in the form; one that it has no more leaves it. Where more has changed,
/// or the rest gets too hot in its layers, what is in stays, and the rest is split and timed over it.
///
/// # Errors
/// [`AppError::Stale`], [`AppError::Pours`] where the model cannot follow it; nothing is written
/// then.
pub async fn fit(app: &App, cast: CastId, expected: i32) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), Fit).await
}

struct Fit;

impl Act for Fit {
    async fn draft(&self, app: &App, open: &Open, rows: &[FactRow]) -> Result<Draft, AppError> {
        let worked = open.worked(app).await?;
        let Some(planned) = worked.evaluation.planned.clone() else {
            return brought_up(app, open, &worked, rows).await;
        };
        let (task, facts, now) = (task(&worked)?.clone(), rows.to_vec(), worked.proposed_from());
        let fitted = app
            .lanes
            .pages
            .run(move |stop| rest::replanned(&task.until(stop), &planned, &facts, now));
        let given = fitted.await?.map_err(|error| AppError::Pours(error.into()))?;
        taken(app, open, &given).await
    }
}

/// The taken plan brought up to the cast as it is now.
async fn brought_up(
    app: &App,
    open: &Open,
    worked: &Worked,
    rows: &[FactRow],
) -> Result<Draft, AppError> {
    let id = app.store.read().pour_ids(1).await?.pop().unwrap_or(PourId(0));
    let surfaces = worked.evaluation.measured.surfaces();
    let plan = &open.record.document.pours.taken;
    let last = plan.last().map_or(app.now(), |pour| pour.at);
    let new = (id, last.max(app.now()));
    if let Some(plan) = recoated(plan, surfaces, new, &facts::poured(rows)) {
        return recoat(app, open, plan, rows).await;
    }
    let over = app.over_poured(worked, rows).await?;
    let (planned, _) = over.as_ref().as_ref().ok_or(AppError::NotFound("pour plan"))?;
    taken(app, open, &planned.iter().map(|pour| pour.given).collect::<Vec<_>>()).await
}

/// The taken plan with the flood coat that the cast has now.
async fn recoat(
    app: &App,
    open: &Open,
    plan: Vec<TakenPour>,
    rows: &[FactRow],
) -> Result<Draft, AppError> {
    let mut open = open.clone();
    open.record.document.pours.taken = plan;
    let worked = open.worked(app).await?;
    let planned = worked.evaluation.planned.clone().ok_or(AppError::NotFound("pour plan"))?;
    // What follows the last pour in the form is moved along with it: the coat, once the face is finished.
    let in_form = planned.iter().rposition(|pour| !pour.given.layer.kind.is_flood());
    let in_form = in_form.ok_or(AppError::NotFound("pour plan"))?;
    let stays = (in_form, planned[in_form].given.at);
    let (task, facts, kept) = (task(&worked)?.clone(), rows.to_vec(), planned.clone());
    let fitted =
        app.lanes.pages.run(move |stop| rest::moved(&task.until(stop), &planned, &facts, stays));
    let schedule = fitted.await?.map_err(|error| AppError::Pours(error.into()))?;
    taken(app, &open, &rest::as_planned(&kept, rows, &schedule)).await
}
