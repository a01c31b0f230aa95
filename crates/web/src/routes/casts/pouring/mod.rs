//! What is done with pour times beside the station's own form: moving one,
//! taking an alternative, applying a change that helps, writing down what
//! happened.
//!
//! - this file: changes of the plan
//! - [`looking`]: fragments that change nothing: previews, alternatives
//! - [`facts`]: what happened

pub(in crate::routes) mod facts;
pub(in crate::routes) mod looking;

use std::sync::Arc;

use axum::extract::{Path, State};
use axum::response::Response;
use fondant_cast::pouring::{as_given, as_taken};
use fondant_cast::{Evaluation, Fix, Offer, Plan, PourTask, Standing, TakenPour, fixes};
use fondant_materials::resin::Resin;
use fondant_pours::{Given, Schedule, ScheduleError, refit};
use fondant_store::StoreError;
use fondant_store::repos::{CastId, CastRecord};
use jiff::Timestamp;

use crate::entries::Entries;
use crate::routes::extract::{Typed, WantsFragment};
use crate::routes::workspace;
use crate::state::Shop;
use crate::{AppState, WebError};

/// A cast, its plan worked out.
struct Worked {
    shop: Shop,
    record: CastRecord,
    evaluation: Arc<Evaluation>,
}

impl Worked {
    async fn read(state: &AppState, cast: i64) -> Result<Self, WebError> {
        let shop = state.shop().await?;
        let record = state.store.cast(shop.id, CastId(cast)).await?;
        let evaluated = state.evaluate(&record.plan, &shop).await?;
        let evaluation =
            evaluated.map_err(|_| WebError::BadForm("the plan contradicts itself".to_owned()))?;
        Ok(Self { shop, record, evaluation })
    }

    fn task(&self) -> Result<&PourTask, WebError> {
        self.evaluation.pour_task.as_ref().ok_or(WebError::NotFound("pour"))
    }

    /// The pours as they are shown: taken or proposed.
    fn given(&self) -> Result<Vec<Given>, WebError> {
        let shown = self.evaluation.pours.as_ref().map_err(|_| WebError::NotFound("pour"))?;
        Ok(self.task()?.taken().unwrap_or_else(|| as_given(shown)))
    }
}

/// The pours with one of them at another time, the later ones taken along.
async fn moved(
    state: &AppState,
    worked: &Worked,
    pour: usize,
    at: Timestamp,
) -> Result<Schedule, WebError> {
    let mut given = worked.given()?;
    let task = worked.task()?.clone();
    let Some(moved) = given.get_mut(pour) else { return Err(WebError::NotFound("pour")) };
    moved.at = at;
    let refitted = state
        .compute(move || -> Result<Schedule, ScheduleError> {
            let ladder = task.ladder_of(&given);
            let followed = refit(&task.task(&ladder), &given, pour)?;
            task.judged(&followed)
        })
        .await?;
    refitted.map_err(|error| WebError::BadForm(error.to_string()))
}

/// The plan with these pours taken, as a new revision.
async fn keep_taken(
    state: &AppState,
    worked: Worked,
    entries: &Entries,
    taken: Vec<TakenPour>,
    fragment: bool,
) -> Result<Response, WebError> {
    let mut plan = worked.record.plan.clone();
    plan.pours.taken = taken;
    keep(state, &worked, entries, plan, fragment).await
}

async fn keep(
    state: &AppState,
    worked: &Worked,
    entries: &Entries,
    plan: Plan,
    fragment: bool,
) -> Result<Response, WebError> {
    // The revision that the page was made of: of a stale page nothing is kept.
    let expected = number(entries, "revision")?;
    state.store.save_plan(worked.shop.id, worked.record.id, expected, &plan, state.now()).await?;
    workspace::shown_anew(state, worked.record.id, "pours", fragment).await
}

fn number<T: std::str::FromStr>(entries: &Entries, name: &str) -> Result<T, WebError> {
    let text = entries.get(name).unwrap_or_default();
    text.parse().map_err(|_| WebError::BadForm(format!("“{text}” is no {name}")))
}

fn second(entries: &Entries) -> Result<Timestamp, WebError> {
    Timestamp::from_second(number(entries, "at")?)
        .map_err(|error| WebError::BadForm(error.to_string()))
}

/// Moves a pour; the plan is then the maker's own.
pub(in crate::routes) async fn shift(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let schedule = moved(&state, &worked, number(&entries, "pour")?, second(&entries)?).await?;
    keep_taken(&state, worked, &entries, as_taken(&schedule), fragment).await
}

/// Takes one of the alternatives.
pub(in crate::routes) async fn take(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let which: usize = number(&entries, "which")?;
    let (job, _) = state.pour_jobs.job(cast, &worked.task()?.untaken());
    let schedule = match job.done() {
        Some(Ok(all)) => all.get(which).map(|alternative| alternative.schedule.clone()),
        _ => None,
    };
    // A plan of other inputs than those on the page is never taken.
    let schedule = schedule.ok_or(WebError::NotFound("alternative; compare them again"))?;
    keep_taken(&state, worked, &entries, as_taken(&schedule), fragment).await
}

/// Takes the pours as they are shown.
pub(in crate::routes) async fn settle(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let given = worked.given()?;
    let taken = given.iter().map(|g| TakenPour { at: g.at, to: g.layer.to }).collect();
    keep_taken(&state, worked, &entries, taken, fragment).await
}

/// Gives up the plan that was taken.
pub(in crate::routes) async fn release(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    keep_taken(&state, worked, &entries, Vec::new(), fragment).await
}

/// The changes that would help a cast's pours, by the order in which they are
/// shown: worked out once for a plan in its shop and air.
async fn offers(state: &AppState, worked: &Worked) -> Result<Arc<Vec<Offer>>, WebError> {
    let Worked { shop, record, evaluation } = worked;
    if evaluation.standing == Standing::Taken || !fixes::is_wanted(evaluation) {
        return Ok(Arc::default());
    }
    let key = state.plan_key(&record.plan, shop)?;
    if let Some(kept) = state.kept_offers(&key) {
        return Ok(kept);
    }
    let (plan, site) = (record.plan.clone(), Arc::clone(&shop.site));
    let (evaluation, shelf) = (Arc::clone(evaluation), Arc::clone(&shop.shelf));
    let found = state
        .compute(move || {
            let others: Vec<Resin> =
                shelf.offered().filter(|resin| resin.id != plan.resin).cloned().collect();
            let Ok(own) = shelf.find(&plan.resin) else { return Vec::new() };
            fixes::offers(&plan, &evaluation, &others, own, &site)
        })
        .await?;
    Ok(state.keep_offers(key, found))
}

/// Applies a change that helps: to the plan, or to the shop's hours and hands.
pub(in crate::routes) async fn fix(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let which: usize = number(&entries, "which")?;
    let offers = offers(&state, &worked).await?;
    let offer = offers.get(which).ok_or(WebError::NotFound("change"))?;
    let site = &worked.shop.site;
    let (plan, _) =
        fixes::with(&worked.record.plan, &offer.fix, site).ok_or(WebError::NotFound("change"))?;
    let mut settings = worked.shop.workshop.settings.clone();
    let exception = match &offer.fix {
        Fix::OpenOnce(date, time) => fixes::opened(site, *date, Some(*time), None),
        Fix::StayOnce(date, time) => fixes::opened(site, *date, None, Some(*time)),
        Fix::Hands(hands) => {
            settings.shop.hands = *hands;
            None
        }
        _ => None,
    };
    if let Some(exception) = exception {
        settings.shop.exceptions.retain(|other| other.date != exception.date);
        settings.shop.exceptions.push(exception);
    }
    // A page that is out of date changes nothing, the shop neither.
    let expected: i32 = number(&entries, "revision")?;
    if expected != worked.record.revision {
        let current = worked.record.revision;
        return Err(StoreError::Stale { expected, current }.into());
    }
    if settings != worked.shop.workshop.settings {
        let revision = worked.shop.workshop.revision;
        state.store.save_workshop(worked.shop.id, revision, &settings).await?;
    }
    keep(&state, &worked, &entries, plan, fragment).await
}
