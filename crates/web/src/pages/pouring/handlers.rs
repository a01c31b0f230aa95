//! A pour moved, a plan taken or given up, a change that helps applied.

use axum::extract::State;
use axum::response::Response;
use axum_htmx::HxRequest;
use fondant_app::casts::fitting;
use fondant_app::casts::pours::{self, Move};
use fondant_app::jobs::{JobView, plans_by, plans_key};
use fondant_app::records::CastId;
use fondant_app::{App, Key};
use fondant_cast::Standing;
use fondant_cast::planning::STEADY;
use fondant_cast::pours::as_given;
use jiff::Timestamp;

use super::act::{asking, done, number};
use crate::pages::stations::asked::{Looking, Visit};
use crate::pages::stations::pours::UNSTEADY;
use crate::pages::workspace::answer::{Showing, answer};
use crate::paths::casts::{ApplyFix, FitRest, MovePour, Release, Settle, TakePlan};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::units::InUnits;
use crate::words::plans;

type Answer = Result<Response, WebError>;

/// Moves a pour; the plan is then the maker's own.
pub(super) async fn shift(
    path: MovePour,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let at = Timestamp::from_second(number(&entries, "at")?);
    let at = at.map_err(|error| WebError::BadForm(error.to_string()))?;
    let moved = Move { pour: number(&entries, "pour")?, at };
    let outcome = pours::shift(&app, path.cast, expected(&entries)?, moved).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

/// Takes one of the plans that were compared.
pub(super) async fn take(
    path: TakePlan,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let compared = key(&entries, "compared")?;
    let which = (&compared, number(&entries, "which")?);
    let outcome = pours::take(&app, path.cast, expected(&entries)?, which).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

/// Takes the pours as they are shown.
pub(super) async fn settle(
    path: Settle,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let revision = expected(&entries)?;
    if entries.get("sure").is_none()
        && let Some(doubt) = unsteady(&app, path.cast).await?
    {
        let refusals = Refusals::at(UNSTEADY, doubt);
        let showing = Showing::Refused { typed: &entries, refusals: &refusals, marks: &[] };
        return answer(&app, asking(path.cast, is_fragment), showing).await;
    }
    let outcome = pours::settle(&app, path.cast, revision).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

/// What is to be said before pours are taken that often would not hold, or where a comparison of
/// plans that is done suggests others.
async fn unsteady(app: &App, cast: CastId) -> Result<Option<String>, WebError> {
    let visit = Visit::of(app, cast, Looking::default()).await?;
    if visit.worked.evaluation.standing == Standing::Taken {
        return Ok(None);
    }
    // Without pours there is nothing to take, which is told of where they are taken.
    let Ok(held) = pours::held(app, &visit.worked).await else { return Ok(None) };
    let is_shaky = held.held * 100 < STEADY * held.tries;
    let other = suggested(app, &visit).await?;
    let shown = visit.open.shop.shown();
    let doubts = [is_shaky.then(|| plans::unsteady(held, shown)), other];
    let doubts: Vec<String> = doubts.into_iter().flatten().collect();
    Ok((!doubts.is_empty()).then(|| doubts.join(" ")))
}

/// The plan that a comparison suggests, where it is done and that is not the one proposed.
async fn suggested(app: &App, visit: &Visit) -> Result<Option<String>, WebError> {
    let compared = plans_key(&visit.worked)?;
    let JobView::Done(plans) = plans_by(app, visit.open.shop.id, &compared).await? else {
        return Ok(None);
    };
    let Ok(all) = &plans.result else { return Ok(None) };
    let proposed = visit.worked.evaluation.pours.as_ref().map(as_given).unwrap_or_default();
    let (shown, zone) = (visit.open.shop.shown(), visit.open.shop.hours().zone());
    let other = all.iter().find(|plan| plan.is_suggested && plan.given() != proposed);
    Ok(other.map(|plan| plans::suggested(plan, shown, zone)))
}

/// Gives up the plan that was taken.
pub(super) async fn release(
    path: Release,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let outcome = pours::release(&app, path.cast, expected(&entries)?).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

/// Fits the pours to come to what has happened.
pub(super) async fn fit(
    path: FitRest,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let outcome = fitting::fit(&app, path.cast, expected(&entries)?).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

/// Applies a change that helps: to the cast, or to the shop's hours and hands.
pub(super) async fn fix(
    path: ApplyFix,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let offered = key(&entries, "offer")?;
    let outcome = pours::fix(&app, path.cast, expected(&entries)?, &offered).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

fn key(entries: &Entries, name: &str) -> Result<Key, WebError> {
    let key = entries.get(name).and_then(Key::read);
    key.ok_or_else(|| WebError::BadForm(format!("no {name}")))
}
