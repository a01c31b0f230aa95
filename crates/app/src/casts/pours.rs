//! A cast's plan: taken, moved, given up; a change that helps applied.

use fondant_cast::document::PourId;
use fondant_cast::facts::{FactRow, rest};
use fondant_cast::planning::{self, Fix, Offer};
use fondant_cast::pours::{self, Planned, as_given};
use fondant_cast::{Document, PourTask, PourTrouble};
use fondant_pours::layers::LayersError;
use fondant_pours::simulate::{Held, TRIES, robust};
use fondant_pours::{Given, Schedule, ScheduleError, refit};
use fondant_store::repos::{CastId, WorkshopSettings};
use jiff::Timestamp;

use crate::app::App;
use crate::casts::change::change;
use crate::casts::open::{Open, has_begun};
use crate::casts::write::{Act, Changed, Draft, write};
use crate::compute::Key;
use crate::compute::lanes::Lane;
use crate::error::AppError;
use crate::evaluating::Worked;
use crate::jobs::{self, JobView};
use crate::request::Request;
use crate::shop::Shop;

/// A pour to another time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Move {
    /// Which pour of those shown, from 0.
    pub pour: usize,
    /// When it is to go in.
    pub at: Timestamp,
}

/// Takes the pours as they are shown.
///
/// # Errors
/// [`AppError::Stale`], [`AppError::Pours`]; nothing is written then.
pub async fn settle(app: &App, cast: CastId, expected: i32) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), TakeShown).await
}

/// How often the pours as they are shown would hold.
///
/// # Errors
/// [`AppError::Pours`] where there are none.
pub async fn held(app: &App, worked: &Worked) -> Result<Held, AppError> {
    let (given, task) = (shown(worked)?, task(worked)?.clone());
    let tried = app.lanes.beside.run(move |stop| {
        let ladder = task.ladder_of(&given);
        robust(&task.until(stop).task(&ladder), &given, TRIES)
    });
    tried.await
}

struct TakeShown;

impl Act for TakeShown {
    async fn draft(&self, app: &App, open: &Open, _: &[FactRow]) -> Result<Draft, AppError> {
        let worked = open.worked(app).await?;
        taken(app, open, &shown(&worked)?).await
    }
}

/// Takes one of the plans that were compared: those of `compared`, as the page showed them.
///
/// # Errors
/// [`AppError::NotReady`] where they are not worked out, [`AppError::OfferGone`] where there is no
/// such plan; nothing is written then.
pub async fn take(
    app: &App,
    cast: CastId,
    expected: i32,
    (compared, which): (&Key, usize),
) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), TakeCompared { compared, which }).await
}

struct TakeCompared<'a> {
    compared: &'a Key,
    which: usize,
}

impl Act for TakeCompared<'_> {
    async fn draft(&self, app: &App, open: &Open, _: &[FactRow]) -> Result<Draft, AppError> {
        let plans = match jobs::plans_by(app, open.shop.id, self.compared).await? {
            JobView::Done(plans) => plans,
            _ => return Err(AppError::NotReady),
        };
        let all = plans.result.as_ref().map_err(|trouble| AppError::Pours(trouble.clone()))?;
        let chosen = all.get(self.which).ok_or(AppError::OfferGone)?;
        taken(app, open, &chosen.given()).await
    }
}

/// Gives up the plan that was taken.
///
/// # Errors
/// [`AppError::Stale`]; nothing is written then.
pub async fn release(app: &App, cast: CastId, expected: i32) -> Result<Changed, AppError> {
    let edit = |open: &Open| {
        let mut document = open.record.document.clone();
        document.pours.give_up();
        Ok(document)
    };
    change(app, cast, expected, edit).await
}

/// Moves a pour; those after it follow. The plan is then the maker's own.
///
/// # Errors
/// [`AppError::Stale`], [`AppError::Pours`] for a time that the model cannot follow; nothing is
/// written then.
pub async fn shift(
    app: &App,
    cast: CastId,
    expected: i32,
    moved: Move,
) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), moved).await
}

impl Act for Move {
    async fn draft(&self, app: &App, open: &Open, rows: &[FactRow]) -> Result<Draft, AppError> {
        let worked = open.worked(app).await?;
        let planned = in_plan(app, &worked, rows).await?;
        // The hours of an empty form are none for one that is poured into.
        if planned.is_none() && has_begun(&worked, rows) {
            return Err(AppError::NotFound("pour plan"));
        }
        let shown = (&worked, planned.as_deref());
        let schedule = with_move(&app.lanes.pages, shown, rows, *self).await?;
        taken(app, open, &planned_by(planned.as_deref(), rows, &schedule)).await
    }
}

/// The pours that were taken, or those that are proposed over what is in; `None` where none is.
async fn in_plan(
    app: &App,
    worked: &Worked,
    rows: &[FactRow],
) -> Result<Option<Vec<Planned>>, AppError> {
    if worked.evaluation.planned.is_some() {
        return Ok(worked.evaluation.planned.clone());
    }
    let over = app.over_poured(worked, rows).await?;
    Ok(over.as_ref().as_ref().map(|(planned, _)| planned.clone()))
}

/// Times as a plan has them, by a schedule of what happened and what is to come.
fn planned_by(planned: Option<&[Planned]>, rows: &[FactRow], schedule: &Schedule) -> Vec<Given> {
    match planned {
        Some(planned) => rest::as_planned(planned, rows, schedule),
        None => as_given(schedule),
    }
}

/// What moving a pour would do.
///
/// # Errors
/// [`AppError::Pours`] for a time that the model cannot follow.
pub async fn try_move(
    app: &App,
    worked: &Worked,
    rows: &[FactRow],
    moved: Move,
) -> Result<Schedule, AppError> {
    let planned = in_plan(app, worked, rows).await?;
    with_move(&app.lanes.beside, (worked, planned.as_deref()), rows, moved).await
}

async fn with_move(
    lane: &Lane,
    (worked, planned): (&Worked, Option<&[Planned]>),
    rows: &[FactRow],
    moved: Move,
) -> Result<Schedule, AppError> {
    let mut given = match planned {
        Some(planned) => planned.iter().map(|pour| pour.given).collect(),
        None => shown(worked)?,
    };
    let pour = given.get_mut(moved.pour).ok_or(AppError::NotFound("pour"))?;
    pour.at = moved.at;
    let task = task(worked)?.clone();
    let (planned, rows) = (planned.map(<[Planned]>::to_vec), rows.to_vec());
    let refitted = lane.run(move |stop| {
        let task = task.until(stop);
        match planned {
            Some(planned) => rest::moved(&task, &planned, &rows, (moved.pour, moved.at)),
            None => refitted(&task, &given, moved.pour),
        }
    });
    refitted.await?.map_err(|error| AppError::Pours(error.into()))
}

/// Given pours with those after `pour` moved along with it.
pub(crate) fn refitted(
    task: &PourTask,
    given: &[Given],
    pour: usize,
) -> Result<Schedule, ScheduleError> {
    let ladder = task.ladder_of(given);
    let followed = refit(&task.task(&ladder), given, pour)?;
    task.judged(&followed)
}

/// Applies a change that helps, to the cast, or to the shop's hours and hands together with it.
///
/// # Errors
/// [`AppError::OfferGone`] where the change is not the one that was shown; nothing is written then.
pub async fn fix(app: &App, cast: CastId, expected: i32, shown: &Key) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), ApplyOffer { shown }).await
}

struct ApplyOffer<'a> {
    shown: &'a Key,
}

impl Act for ApplyOffer<'_> {
    async fn draft(&self, app: &App, open: &Open, _: &[FactRow]) -> Result<Draft, AppError> {
        let worked = open.worked(app).await?;
        let offers = app.offers(&open.shop, &worked).await?;
        let offer = find_offer(&offers, self.shown)?;
        let site = open.shop.site();
        let changed = planning::with(&open.record.document, &offer.fix, site);
        let document = changed.ok_or(AppError::OfferGone)?.document;
        let settings = settings_with(&open.shop, &offer.fix);
        Ok(Draft { settings, ..Draft::document(document) })
    }
}

/// By what a change is known on a page.
///
/// # Errors
/// [`AppError::Fault`].
pub fn offer_key(offer: &Offer) -> Result<Key, AppError> {
    Key::of(&offer.fix)
}

fn find_offer<'a>(offers: &'a [Offer], shown: &Key) -> Result<&'a Offer, AppError> {
    let is_shown = |offer: &&Offer| offer_key(offer).is_ok_and(|key| key == *shown);
    offers.iter().find(is_shown).ok_or(AppError::OfferGone)
}

/// The settings with a change that is the shop's; `None` where it is the cast's alone.
fn settings_with(shop: &Shop, fix: &Fix) -> Option<WorkshopSettings> {
    let mut settings = shop.workshop.settings.clone();
    let hours = shop.hours();
    let exception = match fix {
        Fix::OpenOnce(date, time) => planning::opened(hours, *date, Some(*time), None),
        Fix::StayOnce(date, time) => planning::opened(hours, *date, None, Some(*time)),
        Fix::Hands(hands) => {
            settings.shop.hands = *hands;
            return Some(settings);
        }
        Fix::Begin(_) | Fix::Heat(_) | Fix::Dry(_) | Fix::Layers(_) | Fix::Resin(..) => None,
    }?;
    settings.shop.exceptions.retain(|other| other.date != exception.date);
    settings.shop.exceptions.push(exception);
    Some(settings)
}

pub(super) fn task(worked: &Worked) -> Result<&PourTask, AppError> {
    let none = || AppError::Pours(PourTrouble::Layers(LayersError::NoneSafe));
    worked.evaluation.pour_task.as_ref().ok_or_else(none)
}

/// The pours as they are shown: taken or proposed.
pub(crate) fn shown(worked: &Worked) -> Result<Vec<Given>, AppError> {
    if let Some(planned) = &worked.evaluation.planned {
        return Ok(planned.iter().map(|pour| pour.given).collect());
    }
    let schedule = worked.evaluation.pours.as_ref();
    Ok(as_given(schedule.map_err(|trouble| AppError::Pours(trouble.clone()))?))
}

/// The cast with these pours taken.
pub(crate) async fn taken(app: &App, open: &Open, given: &[Given]) -> Result<Draft, AppError> {
    let mut document: Document = open.record.document.clone();
    let mut new: Vec<PourId> = app.store.read().pour_ids(given.len()).await?;
    pours::take(&mut document.pours, given, || new.pop().unwrap_or(PourId(0)));
    Ok(Draft::taken(document))
}
