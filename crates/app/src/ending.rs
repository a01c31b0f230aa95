//! How a cast comes to its end: its record, the faults of its piece, and what they came from.

use std::sync::Arc;

use fondant_bench::Run;
use fondant_finish::work::{StepKind, Work};
use fondant_materials::resin::shelf::{Colour, Lot};
use fondant_quantities::Span;
use fondant_record::at_once::as_poured;
use fondant_record::causes::Cause;
use fondant_record::compare::{Difference, against_like, spreads};
use fondant_record::cost::cost;
use fondant_record::diagnose::{Likely, diagnose};
use fondant_record::end::{CastEnd, Outcome};
use fondant_record::fault::{Fault, FaultKind};
use fondant_record::figures::{Figure, Figures};
use fondant_record::gather::{self, Gathered};
use fondant_record::lessons::Lesson;
use fondant_store::Transaction;
use fondant_store::repos::{CastId, FaultId, FormRecord, Keep, KeptFault, KeptRecord};
use jiff::Timestamp;

use crate::app::App;
use crate::bench::folded;
use crate::casts::open::{Open, open};
use crate::courses::{Lived, lived};
use crate::error::AppError;
use crate::evaluating::Worked;
use crate::events::{Event, tell};
use crate::ledger::LIKE;
use crate::lessons;
use crate::request::Request;
use crate::shelf::items;

/// What the maker says of a cast that has come to its end.
#[derive(Debug, Clone, PartialEq)]
pub struct Told {
    /// How it came to its end.
    pub outcome: Outcome,
    /// Time at which it ended, UTC.
    pub ended_at: Timestamp,
    /// Who worked on it.
    pub people: String,
    /// A remark.
    pub note: String,
    /// Figures that nothing has measured.
    pub figures: Figures,
}

/// A fault with what it may have come from.
#[derive(Debug, Clone, PartialEq)]
pub struct Explained {
    /// The fault.
    pub kept: KeptFault,
    /// Its causes, the likeliest first.
    pub causes: Vec<Likely>,
}

/// What a record shows.
#[derive(Debug, Clone)]
pub struct Ending {
    /// The record that is kept; `None` where the cast has never come to its end.
    pub kept: Option<KeptRecord>,
    /// What is measured, or was when the cast came to its end.
    pub measured: Figures,
    /// Measured figures, replaced by the maker's own where there are any.
    pub figures: Figures,
    /// The faults, with their causes.
    pub faults: Vec<Explained>,
    /// What is unlike in this cast among those of its kind, the largest first.
    pub unlike: Vec<Difference>,
    /// What was promised when the plan was taken last.
    pub forecast: Option<fondant_cast::Forecast>,
    /// What it went through; `None` where nothing was poured.
    pub lived: Option<Lived>,
    /// What it teaches the next one like it.
    pub lessons: Vec<Lesson>,
}

/// The record of a cast, kept or to be kept.
///
/// # Errors
/// [`AppError`].
pub async fn ending(app: &App, open: &Open, worked: &Worked) -> Result<Ending, AppError> {
    let (workshop, cast) = (open.shop.id, open.record.id);
    let read = app.store.read();
    let kept = read.record(workshop, cast).await?;
    let marked = read.faults(workshop, cast).await?;
    let kind = open.record.document.kind().slug();
    let like = read.figures_of_kind(workshop, (kind, [cast, cast], LIKE)).await?;
    let confirmed = read.confirmed_causes(workshop).await?;
    let forecast = read.forecast(workshop, cast).await?;
    let measured = match &kept {
        Some(kept) if !kept.is_open => kept.end.figures.clone(),
        _ => measured(app, open, worked).await?.0,
    };
    let mut figures = measured.clone();
    if let Some(kept) = &kept {
        figures.overlay(&kept.end.told);
    }
    let explained = |kept: KeptFault| {
        let mut figures = figures.clone();
        let layout = &worked.evaluation.measured.layout;
        if let Some(is_near) = kept.fault.is_near_timber(layout) {
            figures.set_flag(Figure::NearTimber, is_near);
        }
        let kind = kept.fault.kind;
        let causes = match kept.cause {
            Some(own) => diagnose(kind, &figures, &confirmed.without(kind, own)),
            None => diagnose(kind, &figures, &confirmed),
        };
        Explained { causes, kept }
    };
    let unlike = against_like(&figures, &spreads(&like));
    let lived = lived(app, open, worked, forecast.as_ref()).await?;
    let faults: Vec<Explained> = marked.into_iter().map(explained).collect();
    let causes: Vec<_> = faults.iter().filter_map(likeliest).collect();
    let lessons = lessons::of(app, open, &figures, &causes).await?;
    Ok(Ending { lessons, kept, measured, figures, faults, unlike, forecast, lived })
}

/// The cause of a fault that was confirmed, or the likeliest by what is known of the cast.
fn likeliest(one: &Explained) -> Option<(FaultKind, Cause, bool)> {
    let kind = one.kept.fault.kind;
    let guessed = one.causes.first().filter(|likely| !likely.is_unknown());
    match one.kept.cause {
        Some(cause) => Some((kind, cause, true)),
        None => guessed.map(|likely| (kind, likely.cause, false)),
    }
}

/// What is measured of a cast as it is now, and what it costs.
async fn measured(app: &App, open: &Open, worked: &Worked) -> Result<(Figures, f64), AppError> {
    let (workshop, cast) = (open.shop.id, open.record.id);
    let read = app.store.read();
    let kept = read.runs(workshop, cast).await?;
    let work = Work::of(&read.finish_rows(workshop, cast).await?);
    let finishing = work.took();
    let opened = work.steps.get(&StepKind::Demould).and_then(|step| step.done);
    let lots = items::<Lot>(app, &open.shop).await?.items;
    let colours = items::<Colour>(app, &open.shop).await?.items;
    let forms = read.forms(workshop).await?.all;
    let is_own = |form: &FormRecord| form.booked_by.as_ref().is_some_and(|by| by.cast == cast);
    let is_built = !forms.iter().any(is_own);
    let evaluation = Arc::clone(&worked.evaluation);
    // The air of the plan, which the model runs in.
    let document = worked.inputs.site.in_mean_air(&open.record.document);
    let prices = open.shop.workshop.settings.shop.prices;
    let gathered = app.compute(move |stop| {
        let runs: Vec<Run> = kept.iter().map(folded).collect();
        let poured = as_poured(&evaluation, &runs, stop);
        let evaluation = poured.as_ref().unwrap_or(&evaluation);
        let lots: Vec<(String, Lot)> =
            lots.into_iter().map(|kept| (kept.slug, kept.item)).collect();
        let colours: Vec<Colour> = colours.into_iter().map(|kept| kept.item).collect();
        let from = Gathered {
            document: &document,
            evaluation,
            runs: &runs,
            lots: &lots,
            colours: &colours,
            opened,
        };
        let mut figures = gather::figures(&from, stop);
        figures.set_if(Figure::Finishing, Some(finishing.s()).filter(|took| *took > 0.0));
        let bench = figures.get(Figure::Hours).map_or(Span::ZERO, Span::from_s);
        let cost = cost(&from, &prices, bench + finishing, is_built);
        cost.tell(&mut figures);
        (figures, cost.total().units())
    });
    gathered.await
}

/// What the maker saw of a cast.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Seen {
    /// Revision of the cast.
    pub cast: i32,
    /// Revision of its record, 0 where there was none; `None` where it is to be kept over any.
    pub record: Option<i32>,
}

/// Keeps the record of a cast: it has come to its end.
///
/// # Errors
/// [`AppError::Stale`] where the cast or its record has changed since; nothing is written then.
pub async fn close(app: &App, cast: CastId, seen: Seen, told: Told) -> Result<(), AppError> {
    let open = open(app, cast).await?;
    let planned = open.worked(app).await?;
    let worked = app.happened(&planned, &open.facts(app).await?).await?;
    let (figures, cost) = measured(app, &open, &worked).await?;
    let document = &open.record.document;
    let planned_m3 = worked.evaluation.total().m3();
    let mut end = CastEnd {
        ended_at: told.ended_at,
        outcome: told.outcome,
        kind: document.kind().slug().to_owned(),
        resin: worked.evaluation.resin.name.clone(),
        timber: document.timbers(),
        people: told.people,
        note: told.note,
        volume_m3: planned_m3,
        hours_s: 0.0,
        cost,
        figures,
        told: told.figures,
    };
    let known = end.known();
    end.volume_m3 = known.get(Figure::Volume).unwrap_or(planned_m3);
    let hours = [Figure::Hours, Figure::Finishing].map(|one| known.get(one).unwrap_or_default());
    end.hours_s = hours.iter().sum();
    let (transaction, before) = as_seen(app, &open, seen).await?;
    transaction.keep_record(open.shop.id, cast, (&document.name, &end, before)).await?;
    // It asks nothing of the shop any more: it leaves Today and the calendar, and lets go of its form.
    transaction.keep_cast(open.shop.id, cast, Keep::PutAway, app.now()).await?;
    transaction.release_form(open.shop.id, cast).await?;
    done(transaction, &open).await
}

/// Works on a cast again that had come to its end. What was said of it is kept.
///
/// # Errors
/// [`AppError::Stale`] where the cast or its record has changed since; nothing is written then.
pub async fn reopen(app: &App, cast: CastId, seen: Seen) -> Result<(), AppError> {
    let open = open(app, cast).await?;
    let (transaction, _) = as_seen(app, &open, seen).await?;
    transaction.reopen_record(cast).await?;
    transaction.keep_cast(open.shop.id, cast, Keep::Open, app.now()).await?;
    done(transaction, &open).await
}

/// Marks a fault. The same request sent again marks it once.
///
/// # Errors
/// [`AppError`].
pub async fn mark(
    app: &App,
    cast: CastId,
    fault: &Fault,
    request: &Request,
) -> Result<FaultId, AppError> {
    let open = open(app, cast).await?;
    let transaction = held(app, &open, open.record.revision).await?;
    let now = app.now();
    if let Some(before) = request.answered(&transaction, open.shop.id, now).await? {
        return Ok(FaultId(before));
    }
    let id = transaction.add_fault(cast, fault, now).await?;
    request.keep_answer(&transaction, open.shop.id, id.0, now).await?;
    done(transaction, &open).await?;
    Ok(id)
}

/// Takes a fault back that was marked by mistake.
///
/// # Errors
/// [`AppError::NotFound`] where the cast has no such fault.
pub async fn unmark(app: &App, cast: CastId, fault: FaultId) -> Result<(), AppError> {
    let open = open(app, cast).await?;
    let transaction = held(app, &open, open.record.revision).await?;
    transaction.remove_fault(cast, fault).await?;
    done(transaction, &open).await
}

/// Says what a fault came from, or that it is not known after all. The shop's later diagnoses lean on it.
///
/// # Errors
/// [`AppError::NotFound`] where the cast has no such fault, or such a fault no such cause.
pub async fn confirm(
    app: &App,
    cast: CastId,
    (fault, cause): (FaultId, Option<Cause>),
) -> Result<(), AppError> {
    let open = open(app, cast).await?;
    let marked = app.store.read().faults(open.shop.id, cast).await?;
    let kept = marked.iter().find(|kept| kept.id == fault).ok_or(AppError::NotFound("fault"))?;
    let mut causes = fondant_record::causes::rows(kept.fault.kind).map(|row| row.cause);
    let is_known = cause.is_none_or(|cause| causes.any(|one| one == cause));
    is_known.then_some(()).ok_or(AppError::NotFound("cause"))?;
    let transaction = held(app, &open, open.record.revision).await?;
    transaction.confirm_cause(cast, fault, cause).await?;
    done(transaction, &open).await
}

/// A transaction that holds the cast as it was read.
async fn held(app: &App, open: &Open, expected: i32) -> Result<Transaction, AppError> {
    let current = open.record.revision;
    if expected != current {
        return Err(AppError::Stale { expected, current });
    }
    let transaction = app.store.begin().await?;
    transaction.lock_cast_at(open.shop.id, open.record.id, current).await?;
    Ok(transaction)
}

/// The same, with the revision of the record that is there; 0 where there is none.
async fn as_seen(app: &App, open: &Open, seen: Seen) -> Result<(Transaction, i32), AppError> {
    let transaction = held(app, open, seen.cast).await?;
    let kept = transaction.record(open.shop.id, open.record.id).await?;
    let before = kept.map_or(0, |kept| kept.revision);
    if seen.record.is_some_and(|record| record != before) {
        return Err(AppError::Stale { expected: seen.cast, current: open.record.revision });
    }
    Ok((transaction, before))
}

async fn done(transaction: Transaction, open: &Open) -> Result<(), AppError> {
    let (workshop, cast) = (open.shop.id, open.record.id);
    let revision = open.record.revision;
    tell(&transaction, &Event::CastChanged { workshop, cast, revision }).await?;
    Ok(transaction.commit().await?)
}
